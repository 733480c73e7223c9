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

	Things []thing // what one may have in hand
	Text   string  // as it stands somewhere
	Read   *read   // as what it was read; nil where it was not
}

// thing is one thing in hand, drawn, with what one asks of it.
type thing struct {
	Name    reckon.Thing
	Picture template.HTML
	Asks    []reckon.Calc
	More    []reckon.Calc
}

// read is a text that was understood.
type read struct {
	reckon.Guessed
	To string // where all of it stands
}

// drawnAs are the pictures of the things, by the acts they are taken from.
var drawnAs = map[reckon.Thing]string{
	reckon.Bolt: "stud-look", reckon.Wrench: "rung-bar", reckon.Brake: "rotor-measure",
	reckon.Wheel: "rung-tyre", reckon.Shaft: "shaft-angles", reckon.Vehicle: "four-points",
}

// shownAsks is how many questions stand on a thing's card; the rest unfolds.
const shownAsks = 4

// meant is one reading of a text that was refused, and where it leads.
type meant struct {
	Text string
	To   string
}

// All is the page one comes to: what one has in hand, what one asks of it, and a field that reads what is typed as it
// stands somewhere.
func All(lib *library.Library, text string) kit.Page {
	v := View{Text: strings.TrimSpace(text), Values: map[string]string{}}
	for _, name := range reckon.Things() {
		t := thing{Name: name, Picture: kit.Still(lib, drawnAs[name])}
		for _, c := range reckon.All() {
			switch {
			case c.Of != name:
			case len(t.Asks) < shownAsks:
				t.Asks = append(t.Asks, c)
			default:
				t.More = append(t.More, c)
			}
		}
		v.Things = append(v.Things, t)
	}
	if v.Text != "" {
		if g, ok := reckon.Guess(lib, v.Text); ok {
			q := url.Values{}
			for key, typed := range g.Typed {
				q.Set(key, typed)
			}
			v.Read = &read{g, "/reckoner/" + g.Calc.Name + "?" + q.Encode()}
		}
	}
	return pages.Page("reckoner", "Reckoner", v)
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
	Notes   string // words that stood beside the figures
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
		v.Notes = strings.Join(r.Notes, ", ")
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
