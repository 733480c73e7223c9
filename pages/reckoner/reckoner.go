// Package reckoner is the pages of the calculators: each with its inputs in its address, and the notation that
// recipes are written in.
package reckoner

import (
	"embed"
	"encoding/json"
	"errors"
	"html/template"
	"net/url"
	"strings"

	"lugtak/core/fault"
	"lugtak/core/recipe"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
	"lugtak/draw"
	"lugtak/library"
	"lugtak/pages/kit"
	"lugtak/reckon"
)

//go:embed *.html *.css
var files embed.FS

var pages = kit.NewSet(files, nil)

// View is every calculator, or one with what it came to.
type View struct {
	All     []reckon.Calc
	Calc    *reckon.Calc
	Fields  []reckon.Field
	Values  map[string]string
	Rows    []reckon.Row
	Drawing template.HTML
	Fault   *fault.Fault
	Meant   []meant
	Units   []unit.Unit
	Asked   bool
	Signs   [][2]string // names diagnose knows
	Command string      // the same on the command line
}

// meant is one reading of a text that was refused, and where it leads.
type meant struct {
	Text string
	To   string
}

// All is the page that lists the calculators.
func All() kit.Page {
	return pages.Page("reckoner", "Reckoner", View{All: reckon.All(), Values: map[string]string{}, Units: unit.Units()})
}

// One is a calculator with what was typed into it; nothing was asked where typed is nil, and the examples stand
// there.
func One(lib *library.Library, calc reckon.Calc, typed map[string]string) kit.Page {
	v := View{
		All:    reckon.All(),
		Calc:   &calc,
		Fields: calc.Fields(lib),
		Values: map[string]string{},
		Units:  unit.Units(),
		Asked:  typed != nil,
	}
	for _, f := range v.Fields {
		v.Values[f.Name] = f.Example
		if v.Asked {
			v.Values[f.Name] = typed[f.Name]
		}
	}
	if calc.Name == "diagnose" {
		v.Signs = reckon.Signs(lib)
	}
	v.Fault = v.run(lib, calc)
	return pages.Page("reckoner", calc.Title, v)
}

// run reckons what the form holds; a value that cannot be used is a fault in
// place, not a failure.
func (v *View) run(lib *library.Library, calc reckon.Calc) *fault.Fault {
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
		f := fault.New(fault.Code(p.Code), p.Field, p.Detail, p.Remedy)
		f.Readings = p.Readings
		v.offer(calc.Name, f)
		return f
	} else if err != nil {
		return fault.New(fault.Internal, "", "Something broke in here.", "Report it with the inputs.")
	}
	v.Rows = reckon.Rows(res)
	var in map[string]json.RawMessage
	if picture := draw.Reckoner[calc.Name]; picture != nil && json.Unmarshal(raw, &in) == nil {
		v.Drawing = picture(in)
	}
	return nil
}

// offer makes a way of each reading: the same calculation with that text.
func (v *View) offer(calc string, f *fault.Fault) {
	for _, text := range f.Readings {
		q := url.Values{}
		for key, was := range v.Values {
			if was != "" {
				q.Set(key, was)
			}
		}
		q.Set(f.Field, text)
		v.Meant = append(v.Meant, meant{text, "/reckoner/" + calc + "?" + q.Encode()})
	}
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

// readingView is what a recipe means, as it is read back while it is typed.
type readingView struct {
	Says    string
	Explain string
	Bears   string // what it does to the bolt, where that is known
	Warns   []recipe.Warning
	Fault   *fault.Fault
}

// Reading is what a recipe means while it is typed, wherever that is; the spec says of which bolt, as far as is known.
func Reading(spec vehicle.Spec) kit.Page {
	var v readingView
	r, err := recipe.Parse(spec.Recipe)
	if v.Fault = fault.As(err); v.Fault == nil {
		v.Says, v.Explain = r.String(), strings.Join(r.Explain(), " ")
		v.Bears = kit.PreloadWords(spec)
		if f, known := spec.Fastener(); known {
			v.Warns, err = recipe.Check(r, f)
			v.Fault = fault.As(err)
		}
	}
	return pages.Page("reading", "Reading", v)
}

// Notation is what people write, what it means, and why some of it is refused.
func Notation() kit.Page {
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
	return pages.Page("notation", "The notation", v)
}
