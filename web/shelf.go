package web

import (
	"cmp"
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/vehicle"
	"lugtak/pages/sheet"
	"lugtak/shop"
	"lugtak/web/kit"
)

// shelfRoom answers for what the shop knows and has: sheets, calculators, tools.
type shelfRoom struct{ *Server }

func (s shelfRoom) routes(at paths) {
	at.get("/reckoner", s.reckoner)
	at.get("/reckoner/reading", s.reading)
	at.get("/reckoner/:name", s.reckoner)
	at.Post("/reckoner/:name", s.reckoner)
	at.get("/crib", s.cribPage)
	at.Post("/crib", s.hangTool)
	at.get("/crib/:tool/recall", s.recall)
	at.get("/crib/:tool/certificate/:act", s.certificate)
	at.Post("/crib/sockets", s.keepSockets)
	at.Post("/crib/adapters", s.keepAdapters)
	at.Post("/crib/:tool", s.logTool)
	at.Post("/crib/:tool/token", s.toolToken)
	at.get("/shelf", s.shelfPage)
	at.Post("/shelf", s.addToShelf)
	at.get("/shelf/:pattern", s.sheet)
	at.Post("/shelf/:pattern", s.correct)
	at.get("/shelf/:pattern/page/:act", s.certificate)
	at.get("/shelf/:pattern/sheet.json", s.sheetOut)
	at.Post("/shelf/:pattern/offer", s.offerSheet)
	at.get("/notation", s.notation)
}

func (s shelfRoom) shelfPage(c fiber.Ctx) error {
	return s.showShelf(c, 200, sheet.Sent{Taken: c.Query("taken")})
}

// showShelf shows the Shelf, with what was sent to it.
func (s shelfRoom) showShelf(c fiber.Ctx, code int, sent sheet.Sent) error {
	lib := s.Shop.Library()
	models, err := s.Shop.Models(c.Context())
	if err != nil {
		return err
	}
	var patterns []vehicle.Pattern
	for _, p := range models {
		now, err := s.Shop.Pattern(c.Context(), p.ID)
		if err != nil {
			return err
		}
		patterns = append(patterns, now)
	}
	return s.show(c, code, sheet.Shelf(lib, patterns, sent))
}

// addToShelf checks a file and, if it is sound, takes it.
func (s shelfRoom) addToShelf(c fiber.Ctx) error {
	in := kit.Read[struct {
		seconded
		Kind string   `form:"kind"`
		Text string   `form:"text"`
		Take kit.Tick `form:"take"`
	}](c)
	v := sheet.Sent{Kind: in.Kind, Text: in.Text, Second: in.Second}
	next, id, faults := s.Shop.Library().Take(v.Kind, v.Text)
	if len(faults) > 0 {
		v.Problems = faults
		return s.showShelf(c, fiber.StatusUnprocessableEntity, v)
	}
	v.Read = sheet.ReadOf(s.Shop.Library(), next, v.Kind, id)
	if !bool(in.Take) {
		return s.showShelf(c, 200, v)
	}
	// Every figure of the sheet is in it: it is read by two as each of them would be.
	second, err := s.second(c, in.seconded)
	if f := fault.As(err); f != nil {
		v.Fault = f
		return s.showShelf(c, kit.Status(f), v)
	} else if err != nil {
		return err
	}
	m := kit.Meta(c, s.Shop.Now())
	f := shop.File{At: m.At, By: m.By, Second: second, Kind: v.Kind, Text: v.Text}
	if err := s.Shop.AddFile(c.Context(), m.ID, f); err != nil {
		return err
	}
	return kit.See(c, "/shelf?taken="+url.QueryEscape(v.Read.Title))
}

// figured is a recipe as it was typed, or as it was said to be meant where it can be read
// in two ways.
type figured struct {
	Recipe string `form:"recipe"`
	Meant  string `form:"meant"`
	Source string `form:"source"`
}

func (x figured) text() string { return cmp.Or(x.Meant, x.Recipe) }

// correct strikes a figure of a sheet and puts another in its place.
func (s shelfRoom) correct(c fiber.Ctx) error {
	p, err := s.Shop.Pattern(c.Context(), c.Params("pattern"))
	if err != nil {
		return err
	}
	in := kit.Read[corrects](c)
	err = s.correctAs(c, p.ID, in)
	if f := fault.As(err); f != nil {
		return s.showSheet(c, kit.Status(f), in.Joint, f)
	} else if err != nil {
		return err
	}
	return kit.See(c, "/shelf/"+p.ID+"#"+strings.ReplaceAll(in.Joint, ".", "-"))
}

// corrects is a form that strikes a figure.
type corrects struct {
	figured
	Joint   string `form:"joint"`
	Variant string `form:"variant"`
	Why     string `form:"why"`
	seconded
}

// correctAs corrects a figure of a sheet under the name of whoever is signed in.
func (s *Server) correctAs(c fiber.Ctx, pattern string, in corrects) error {
	x := vehicle.Correction{
		Pattern: pattern,
		Joint:   in.Joint,
		Variant: in.Variant,
		Recipe:  in.text(),
		Source:  in.Source,
		Why:     in.Why,
		By:      kit.Session(c).Person.Name,
		At:      s.Shop.Now(),
	}
	if in.Second != "" {
		second, err := s.second(c, in.seconded)
		if err != nil {
			return err
		}
		x.Second = second
	}
	return s.Shop.Correct(c.Context(), kit.Meta(c, s.Shop.Now()).ID, []vehicle.Correction{x})
}
