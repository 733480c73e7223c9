package web

import (
	"errors"
	"io"
	"strings"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/intake"
	"lugtak/shop"
	"lugtak/web/kit"
)

// importsView is a list from elsewhere: chosen, looked at, taken.
type importsView struct {
	Kinds  []importKind
	Kind   intake.Kind
	Read   *intake.Preview
	Rows   []intake.Row // those of it that are shown
	Text   string
	From   string
	Second string
	Taken  string
	Fault  *fault.Fault
}

// importKind is a kind of list with what it must have.
type importKind struct {
	Kind     intake.Kind
	Name     string
	Required []string
	Others   []string
}

// shownRows are as many rows as a preview shows; all are looked at.
const shownRows = 50

func importKinds() []importKind {
	var out []importKind
	for _, k := range []importKind{
		{Kind: intake.Vehicles, Name: "vehicles, CSV"},
		{Kind: intake.People, Name: "people, CSV"},
		{Kind: intake.Figures, Name: "figures of a sheet, CSV"},
		{Kind: intake.Job, Name: "a job file, JSON"},
	} {
		k.Required, k.Others = intake.Columns(k.Kind)
		out = append(out, k)
	}
	return out
}

func (s *Server) imports(c fiber.Ctx) error {
	return s.showImports(c, 200, importsView{Kind: intake.Vehicles, Taken: c.Query("taken")})
}

func (s *Server) showImports(c fiber.Ctx, code int, v importsView) error {
	if err := foremanOnly(c, "takes lists in"); err != nil {
		return err
	}
	v.Kinds = importKinds()
	if v.Read != nil {
		v.Rows = v.Read.Rows[:min(len(v.Read.Rows), shownRows)]
	}
	return s.render(c, code, "imports", "Take in a list", v)
}

// takeList looks at a list, and takes it once somebody has seen what it would do.
func (s *Server) takeList(c fiber.Ctx) error {
	if err := foremanOnly(c, "takes lists in"); err != nil {
		return err
	}
	in := kit.Read[struct {
		seconded
		Kind intake.Kind `form:"kind"`
		Text string      `form:"text"`
		From string      `form:"from"`
		Take kit.Tick    `form:"take"`
	}](c)
	if in, err := s.Shop.Acted(c.Context(), kit.Meta(c, s.Shop.Now()).ID); err != nil || in { // sent twice
		if err != nil {
			return err
		}
		return kit.See(c, "/imports")
	}
	v := importsView{Kind: in.Kind, Text: in.Text, From: in.From, Second: in.Second}
	if err := v.file(c); err != nil {
		return err
	}
	x := intake.Shop{
		Shop: s.Shop,
		By:   kit.Session(c).Person.Name,
	}
	var err error
	if v.Read, err = x.Read(c.Context(), in.Kind, []byte(v.Text)); err != nil {
		return err
	}
	switch {
	case !v.Read.OK():
		return s.showImports(c, fiber.StatusUnprocessableEntity, v)
	case !bool(in.Take):
		return s.showImports(c, 200, v)
	}
	if v.Read.ByTwo {
		second, err := s.second(c, in.seconded)
		if v.Fault = fault.As(err); v.Fault != nil {
			return s.showImports(c, kit.Status(v.Fault), v)
		} else if err != nil {
			return err
		}
		for i := range v.Read.Figures {
			v.Read.Figures[i].Second = second
		}
	}
	m := kit.Meta(c, s.Shop.Now())
	_, err = x.Take(c.Context(), m.ID, v.Read, []byte(v.Text), shop.Source{By: m.By, From: v.From, At: m.At})
	if v.Fault = fault.As(err); v.Fault != nil {
		return s.showImports(c, kit.Status(v.Fault), v)
	} else if err != nil {
		return err
	}
	return kit.See(c, "/imports?taken="+string(in.Kind))
}

// file puts an uploaded file in the place of what was typed.
func (v *importsView) file(c fiber.Ctx) error {
	f, err := c.FormFile("file")
	if err != nil || f.Size == 0 {
		return nil // none was chosen
	}
	r, err := f.Open()
	if err != nil {
		return err
	}
	data, err := io.ReadAll(io.LimitReader(r, shop.MaxJobFile+1))
	v.Text, v.From = strings.ToValidUTF8(string(data), "\x00"), f.Filename
	return errors.Join(err, r.Close())
}
