package web

import (
	"github.com/gofiber/fiber/v3"

	"lugtak/core/job"
	"lugtak/web/kit"
)

// record has the shop decide and write one command for the job of the request.
func (s *Server) record(c fiber.Ctx, cmd job.Command) ([]job.Event, error) {
	return s.recordAs(c, kit.Meta(c, s.Shop.Now()), cmd)
}

func (s *Server) recordAs(c fiber.Ctx, m job.Meta, cmd job.Command) ([]job.Event, error) {
	_, events, err := s.Shop.Record(c.Context(), c.Params("job"), m, cmd)
	return events, err
}
