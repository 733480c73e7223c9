package web

import (
	"errors"
	"io"
	"strings"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/intake"
	"lugtak/pages/office"
	"lugtak/shop"
	"lugtak/web/kit"
)

func (s officeRoom) imports(c fiber.Ctx) error {
	return s.showImports(c, 200, office.Imports{Kind: string(intake.Vehicles), Taken: c.Query("taken")})
}

func (s officeRoom) showImports(c fiber.Ctx, code int, v office.Imports) error {
	pattern := "a-model-of-yours"
	if all := s.Shop.Library().Patterns; len(all) > 0 {
		pattern = all[0].ID
	}
	v.Kinds = importKinds(pattern)
	return s.show(c, code, v.Page())
}

// takeList looks at a list, and takes it once somebody has seen what it would do.
func (s officeRoom) takeList(c fiber.Ctx) error {
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
	v := office.Imports{Kind: string(in.Kind), Text: in.Text, From: in.From, Second: in.Second}
	if err := listOf(c, &v); err != nil {
		return err
	}
	x := intake.Shop{
		Shop: s.Shop,
		By:   kit.Session(c).Person.Name,
	}
	read, err := x.Read(c.Context(), in.Kind, []byte(v.Text))
	if err != nil {
		return err
	}
	v.Read = readOf(read)
	switch {
	case !read.OK():
		return s.showImports(c, fiber.StatusUnprocessableEntity, v)
	case !bool(in.Take):
		return s.showImports(c, 200, v)
	}
	if read.ByTwo {
		second, err := s.second(c, in.seconded)
		if v.Fault = fault.As(err); v.Fault != nil {
			return s.showImports(c, kit.Status(v.Fault), v)
		} else if err != nil {
			return err
		}
		for i := range read.Figures {
			read.Figures[i].Second = second
		}
	}
	m := kit.Meta(c, s.Shop.Now())
	_, err = x.Take(c.Context(), m.ID, read, []byte(v.Text), shop.Source{By: m.By, From: v.From, At: m.At})
	if v.Fault = fault.As(err); v.Fault != nil {
		return s.showImports(c, kit.Status(v.Fault), v)
	} else if err != nil {
		return err
	}
	return kit.See(c, "/imports?taken="+string(in.Kind))
}

// listOf puts an uploaded file in the place of what was typed.
func listOf(c fiber.Ctx, v *office.Imports) error {
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

func importKinds(pattern string) []office.ImportKind {
	out := []office.ImportKind{
		{Kind: string(intake.Vehicles), Name: "vehicles, CSV"},
		{Kind: string(intake.People), Name: "people, CSV"},
		{Kind: string(intake.Figures), Name: "figures of a sheet, CSV"},
		{Kind: string(intake.Tools), Name: "torque tools, CSV"},
		{Kind: string(intake.Sockets), Name: "sockets, CSV: all there are"},
		{Kind: string(intake.Adapters), Name: "adapters, CSV: all there are"},
		{Kind: string(intake.Prices), Name: "prices of parts, CSV: all there are"},
		{Kind: string(intake.Sheet), Name: "a sheet file of another shop, JSON"},
		{Kind: string(intake.Job), Name: "a job file, JSON"},
	}
	for i := range out {
		k := intake.Kind(out[i].Kind)
		out[i].Required, out[i].Others = intake.Columns(k)
		out[i].Example = intake.Example(k, pattern)
	}
	return out
}

// readOf is a list as the page shows it.
func readOf(p *intake.Preview) *office.ImportRead {
	out := &office.ImportRead{Columns: p.Columns, ByTwo: p.ByTwo, Faulty: p.Faulty}
	if p.Job != nil {
		is := office.ImportJob(*p.Job)
		out.Job = &is
	}
	if p.Sheet != nil {
		is := office.ImportSheet(*p.Sheet)
		out.Sheet = &is
	}
	for _, r := range p.Rows {
		out.Rows = append(out.Rows, office.ImportRow(r))
	}
	for _, f := range p.Faults {
		out.Faults = append(out.Faults, office.ImportFault(f))
	}
	return out
}
