package web

import (
	"github.com/gofiber/fiber/v3"
	"github.com/google/uuid"

	"lugtak/core/fault"
	"lugtak/core/record"
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
	x := sheet.Shown{
		Library: s.Shop.Library(), Pattern: p, Joint: joint, Fault: f, Typed: typed,
		Chain: s.Chain != nil, Offered: c.Query("offered") != "",
	}
	if x.Readings, x.Seen, err = s.Shop.Learnt(c.Context(), p.ID); err != nil {
		return err
	}
	if x.Elsewhere, err = s.Shop.Elsewhere(c.Context(), p.ID); err != nil {
		return err
	}
	if x.Jobs, err = s.Shop.Tightened(c.Context(), p.ID); err != nil {
		return err
	}
	return s.show(c, code, sheet.Page(x))
}

// sheetOut takes a sheet out as a signed file.
func (s shelfRoom) sheetOut(c fiber.Ctx) error {
	id := record.EventID("sheet-out:" + uuid.NewString())
	text, err := s.Shop.SheetOut(c.Context(), id, c.Params("pattern"), kit.Session(c).Person.Name, false)
	if err != nil {
		return err
	}
	c.Attachment("sheet.json")
	c.Set(fiber.HeaderContentType, fiber.MIMEApplicationJSONCharsetUTF8)
	return c.Send(text)
}

// offerSheet offers a sheet to the other shops of the chain.
func (s shelfRoom) offerSheet(c fiber.Ctx) error {
	m := kit.Meta(c, s.Shop.Now())
	if _, err := s.Shop.SheetOut(c.Context(), m.ID, c.Params("pattern"), m.By, true); err != nil {
		return err
	}
	return kit.See(c, "/shelf/"+c.Params("pattern")+"?offered=1")
}
