package web

import (
	"encoding/json"
	"errors"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/reckon"
	"lugtak/web/api"
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
	out, err := reckon.Run(s.Shop.Library(), c.Params("name"), c.Body())
	var p *reckon.Problem
	if errors.As(err, &p) {
		return sendProblem(c, p)
	} else if err != nil {
		return err
	}
	c.Set("Content-Type", "application/json")
	return c.Send(out)
}

// noCall answers what no call of the API is: an address that is none, or one that is asked
// another way.
func (s *Server) noCall(c fiber.Ctx) error {
	var allowed []string
	for _, r := range s.App.GetRoutes(true) {
		asked := fiber.RoutePatternMatch(c.Path(), r.Path)
		if asked && strings.HasPrefix(r.Path, "/api/") && r.Method != fiber.MethodHead {
			allowed = append(allowed, r.Method)
		}
	}
	if len(allowed) == 0 {
		return fault.New(fault.NotFound, "", "There is no such call.", "Look at /api/v1/openapi.json.")
	}
	c.Set(fiber.HeaderAllow, strings.Join(allowed, ", "))
	return fault.New(fault.BadMethod, "", "This is asked by "+strings.Join(allowed, " or ")+".",
		"Look at /api/v1/openapi.json.")
}

// OpenAPI is the OpenAPI text of every call.
func OpenAPI(version string) ([]byte, error) {
	return reckon.OpenAPI(version, slices.Concat(toolCalls, api.Calls())...)
}

func (s *Server) openAPI(c fiber.Ctx) error {
	text, err := OpenAPI(s.Version)
	if err != nil {
		return err
	}
	c.Set("Content-Type", "application/json")
	return c.Send(text)
}

// schema is the JSON Schema of a file of the library or of an event's body.
func (s *Server) schema(c fiber.Ctx) error {
	x, err := reckon.Schema(c.Params("kind"))
	if err != nil {
		return fault.New(fault.NotFound, "kind", err.Error(), "Take the kind of an event, or of a file of the library.")
	}
	return c.JSON(x, "application/schema+json")
}

func sendProblem(c fiber.Ctx, p *reckon.Problem) error {
	text, err := json.Marshal(p)
	if err != nil {
		return err
	}
	c.Set("Content-Type", "application/problem+json")
	return c.Status(p.Status).Send(text)
}
