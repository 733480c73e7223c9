package web

import (
	"github.com/gofiber/fiber/v3"

	"lugtak/core/job"
	"lugtak/pages/office"
)

// mostOutcomes is how many jobs the office looks back on.
const mostOutcomes = 2000

// office shows how the shop does, and where its foreman goes on.
func (s *Server) office(c fiber.Ctx) (err error) {
	ctx, now := c.Context(), s.Shop.Now()
	x := office.Figures{Node: s.ReadOnly}
	if x.Outcomes, err = s.Shop.Outcomes(ctx, office.First(now).Add(-job.ComebackWithin), mostOutcomes); err != nil {
		return err
	}
	if x.Jobs, x.Owed, err = s.Shop.OpenSums(ctx); err != nil {
		return err
	}
	if x.Due, err = s.dues(c); err != nil {
		return err
	}
	if x.Tools, err = s.Shop.Tools(ctx); err != nil {
		return err
	}
	return s.show(c, 200, office.Office(x, now))
}
