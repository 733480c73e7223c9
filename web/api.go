package web

import (
	"encoding/json"
	"errors"

	"github.com/gofiber/fiber/v3"

	"lugtak/reckon"
)

// A large input waits until others have gone through: what it becomes in memory is several
// times its length.
const inputsAtOnce = reckon.MaxInput + 1<<20

func (s *Server) calc(c fiber.Ctx) error {
	n := int64(min(len(c.Body()), inputsAtOnce))
	if err := s.inputs.Acquire(c.Context(), n); err != nil {
		return err
	}
	defer s.inputs.Release(n)
	out, err := reckon.Run(s.lib(), c.Params("name"), c.Body())
	var p *reckon.Problem
	if errors.As(err, &p) {
		return sendProblem(c, p)
	} else if err != nil {
		return err
	}
	c.Set("Content-Type", "application/json")
	return c.Send(out)
}

func (s *Server) openAPI(c fiber.Ctx) error {
	text, err := reckon.OpenAPI(s.Version, toolCalls...)
	if err != nil {
		return err
	}
	c.Set("Content-Type", "application/json")
	return c.Send(text)
}

func sendProblem(c fiber.Ctx, p *reckon.Problem) error {
	text, err := json.Marshal(p)
	if err != nil {
		return err
	}
	c.Set("Content-Type", "application/problem+json")
	return c.Status(p.Status).Send(text)
}
