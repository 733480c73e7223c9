package web

import (
	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/pages/sheet"
	"lugtak/web/kit"
)

func (s shelfRoom) sheet(c fiber.Ctx) error { return s.showSheet(c, 200, "", nil) }

func (s shelfRoom) showSheet(c fiber.Ctx, code int, joint string, f *fault.Fault) error {
	p, err := s.Shop.Pattern(c.Context(), c.Params("pattern"))
	if err != nil {
		return err
	}
	var typed map[string]string
	if f != nil {
		typed = kit.Typed(c)
	}
	x := sheet.Shown{Library: s.Shop.Library(), Pattern: p, Joint: joint, Fault: f, Typed: typed}
	if x.Readings, x.Seen, err = s.Shop.Learnt(c.Context(), p.ID); err != nil {
		return err
	}
	if x.Jobs, err = s.Shop.Tightened(c.Context(), p.ID); err != nil {
		return err
	}
	return s.show(c, code, sheet.Page(x))
}
