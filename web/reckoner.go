package web

import (
	"encoding/json"
	"errors"
	"html/template"
	"net/url"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/recipe"
	"lugtak/core/unit"
	"lugtak/draw"
	"lugtak/library"
	"lugtak/reckon"
	"lugtak/web/kit"
)

type reckonerView struct {
	All     []reckon.Calc
	Calc    *reckon.Calc
	Fields  []reckon.Field
	Values  map[string]string
	Rows    []reckon.Row
	Drawing template.HTML
	Fault   *fault.Fault
	Meant   []meantView
	Units   []unit.Unit
	Asked   bool
	Signs   [][2]string // names diagnose knows
	Command string      // the same on the command line
}

// reckoner shows every calculator, or one. Its inputs are in the address, so that
// a result can be linked to and printed.
func (s *Server) reckoner(c fiber.Ctx) error {
	v := reckonerView{All: reckon.All(), Values: map[string]string{}, Units: unit.Units()}
	name := c.Params("name")
	if name == "" {
		return s.render(c, 200, "reckoner", "Reckoner", v)
	}
	calc, ok := reckon.Find(name)
	if !ok {
		return fault.New("not_found", "", "There is no such calculator.", "Choose one of the Reckoner.")
	}
	v.Calc, v.Fields = &calc, calc.Fields(s.Shop.Library())
	typed := kit.Typed(c)
	v.Asked = len(c.Request().URI().QueryString()) > 0 || c.Method() == fiber.MethodPost
	for _, f := range v.Fields {
		v.Values[f.Name] = f.Example
		if v.Asked {
			v.Values[f.Name] = typed[f.Name]
		}
	}
	if name == "diagnose" {
		v.Signs = reckon.Signs(s.Shop.Library())
	}
	v.Fault = v.run(s.Shop.Library(), calc)
	return s.render(c, 200, "reckoner", calc.Title, v)
}

// run reckons what the form holds; a value that cannot be used is a fault in
// place, not a failure.
func (v *reckonerView) run(lib *library.Library, calc reckon.Calc) *fault.Fault {
	raw, err := calc.FromForm(func(n string) string { return v.Values[n] })
	if err != nil {
		return fault.As(err)
	}
	if len(raw) < 200 {
		v.Command = "lugtak calc " + calc.Name + " --json '" + string(raw) + "'"
	}
	res, err := reckon.Do(lib, calc.Name, raw)
	var p *reckon.Problem
	if errors.As(err, &p) {
		f := fault.New(p.Code, p.Field, p.Detail, p.Remedy)
		f.Readings = p.Readings
		v.offer(calc.Name, f)
		return f
	} else if err != nil {
		return fault.New("internal", "", "Something broke in here.", "Report it with the inputs.")
	}
	v.Rows = reckon.Rows(res)
	var in map[string]json.RawMessage
	if picture := draw.Reckoner[calc.Name]; picture != nil && json.Unmarshal(raw, &in) == nil {
		v.Drawing = picture(in)
	}
	return nil
}

// meantView is one reading of a text that was refused, and where it leads.
type meantView struct {
	Text string
	To   string
}

// offer makes a way of each reading: the same calculation with that text.
func (v *reckonerView) offer(calc string, f *fault.Fault) {
	for _, text := range f.Readings {
		q := url.Values{}
		for key, was := range v.Values {
			if was != "" {
				q.Set(key, was)
			}
		}
		q.Set(f.Field, text)
		v.Meant = append(v.Meant, meantView{text, "/reckoner/" + calc + "?" + q.Encode()})
	}
}

// notation shows what people write, what it means, and why some of it is refused.
func (s *Server) notation(c fiber.Ctx) error {
	var v notationView
	for _, x := range recipe.Notation() {
		if x.Refused != "" {
			v.Refused = append(v.Refused, x)
			continue
		}
		if n := len(v.Read); n > 0 && v.Read[n-1].Means == x.Means {
			v.Read[n-1].Texts = append(v.Read[n-1].Texts, x.Text)
			continue
		}
		v.Read = append(v.Read, meaningView{x.Means, []string{x.Text}})
	}
	return s.render(c, 200, "notation", "The notation", v)
}

type notationView struct {
	Read    []meaningView
	Refused []recipe.Example
}

// meaningView is one recipe with the texts that mean it.
type meaningView struct {
	Means string
	Texts []string
}

type readingView struct {
	Rows  []reckon.Row
	Fault *fault.Fault
}

// reading says what a recipe means while it is typed, wherever that is.
func (s *Server) reading(c fiber.Ctx) error {
	v := reckonerView{
		Values: map[string]string{
			"text":      c.Query("recipe"),
			"thread":    c.Query("thread"),
			"class":     c.Query("class"),
			"treatment": c.Query("treatment"),
		},
	}
	calc, _ := reckon.Find("recipe")
	f := v.run(s.Shop.Library(), calc)
	return s.render(c, 200, "reading", "Reading", readingView{v.Rows, f})
}
