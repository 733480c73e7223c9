package web

import (
	"cmp"
	"html/template"
	"maps"
	"net/url"
	"reflect"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/recipe"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
	"lugtak/draw"
	"lugtak/library"
	"lugtak/shop"
	"lugtak/web/kit"
)

type shelfView struct {
	Patterns   []patternView
	Operations []operationRow
	Faults     []library.Fault
	Problems   []library.Fault // of the file just sent
	Taken      string
	Kind, Text string     // as sent
	Read       *shelfRead // what the file just sent would do
	Second     string
	Fault      *fault.Fault
}

// shelfRead is a file that is sound, as the two who take it read it.
type shelfRead struct {
	Title   string
	Instead bool // of one that is on the Shelf
	Beside  bool // it differs from that one in what is no row, too
	Rows    []shelfRow
}

// shelfRow is a joint with its figure, or a step, beside what stands on the Shelf. Two that read
// alike may differ in what is not written here.
type shelfRow struct {
	Name, Is, Source, Was string
	Same                  bool // in everything
}

// readShelf says what a file would put on the Shelf, what differs first.
func readShelf(lib, next *library.Library, kind, id string) *shelfRead {
	r := &shelfRead{}
	if kind == "pattern" {
		r.pattern(lib, next, id)
	} else {
		r.operation(lib, next, id)
	}
	slices.SortStableFunc(r.Rows, func(a, b shelfRow) int {
		switch {
		case a.Same == b.Same:
			return 0
		case b.Same:
			return -1
		}
		return 1
	})
	return r
}

func (r *shelfRead) pattern(lib, next *library.Library, id string) {
	p, _ := next.Pattern(id)
	old, here := lib.Pattern(id)
	r.Title, r.Instead = p.Name, here
	joints := slices.Concat(slices.Collect(maps.Keys(p.Spec)), slices.Collect(maps.Keys(old.Spec)))
	slices.Sort(joints)
	for _, joint := range slices.Compact(joints) {
		is, was := p.Spec[joint], old.Spec[joint]
		r.Rows = append(r.Rows, shelfRow{joint, figureOf(is), is.Source, figureOf(was), reflect.DeepEqual(is, was)})
	}
	p.Spec, old.Spec = nil, nil
	r.Beside = here && !reflect.DeepEqual(p, old)
}

func (r *shelfRead) operation(lib, next *library.Library, id string) {
	op, _ := next.Operation(id)
	old, here := lib.Operation(id)
	r.Title, r.Instead = op.Title, here
	left := slices.Clone(old.Steps)
	for _, step := range op.Steps {
		row := shelfRow{Name: string(step.ID), Is: step.Title}
		if i := slices.IndexFunc(left, func(x operation.Step) bool { return x.ID == step.ID }); i >= 0 {
			row.Was, row.Same = left[i].Title, reflect.DeepEqual(step, left[i])
			left = slices.Delete(left, i, i+1) // a step of several ways stands once for each
		}
		r.Rows = append(r.Rows, row)
	}
	for _, step := range left {
		r.Rows = append(r.Rows, shelfRow{Name: string(step.ID), Was: step.Title})
	}
	op.Steps, old.Steps = nil, nil
	r.Beside = here && !reflect.DeepEqual(op, old)
}

// figureOf is a joint's figure with its hardware, in one line.
func figureOf(s vehicle.Spec) string {
	if s.Thread == "" && s.Recipe == "" {
		return ""
	}
	says := strings.Join(
		slices.DeleteFunc([]string{s.Thread, s.Class, s.Recipe}, func(x string) bool { return x == "" }), ", ")
	for _, v := range s.Variants {
		says += "; " + v.Sees + ": " + v.Recipe
	}
	return says
}

// operationRow is an operation with the patterns that have it.
type operationRow struct {
	operation.Operation
	Name  string
	On    []string
	Wants []string // what must lie open for it
}

// opensFor lists what an operation wants of the vehicle, each once.
func opensFor(op operation.Operation) []string {
	var out []string
	take := func(wants []operation.Want) {
		for _, w := range wants {
			text := strings.TrimSpace(w.Fact + " " + w.Value)
			if w.Fact != "" && w.Value != plan.AnyValue && !slices.Contains(out, text) {
				out = append(out, text)
			}
		}
	}
	take(op.Wants)
	for _, s := range op.Steps {
		if s.Verb == operation.Remove || s.Verb == operation.Crack {
			take(s.Wants)
		}
	}
	return out
}

type patternView struct {
	vehicle.Pattern
	Joints, Doubts int
}

func (s *Server) shelfPage(c fiber.Ctx) error {
	return s.showShelf(c, 200, shelfView{Taken: c.Query("taken")})
}

func (s *Server) showShelf(c fiber.Ctx, code int, v shelfView) error {
	lib := s.Shop.Library()
	v.Faults = lib.Faults
	for _, op := range lib.Operations {
		row := operationRow{
			Operation: op,
			Name:      unit.Capital(strings.TrimSpace(strings.ReplaceAll(op.Title, "{axle}", ""))),
			Wants:     opensFor(op),
		}
		for _, p := range lib.Patterns {
			if slices.Contains(p.Operations, op.ID) {
				row.On = append(row.On, p.Name)
			}
		}
		v.Operations = append(v.Operations, row)
	}
	for _, p := range lib.Patterns {
		now, err := s.Shop.Pattern(c.Context(), p.ID)
		if err != nil {
			return err
		}
		v.Patterns = append(v.Patterns, patternView{now, len(now.Spec), len(vehicle.Doubts(now))})
	}
	return s.render(c, code, "shelf", "Shelf", v)
}

// addToShelf checks a file and, if it is sound, takes it.
func (s *Server) addToShelf(c fiber.Ctx) error {
	in := kit.Read[struct {
		seconded
		Kind string   `form:"kind"`
		Text string   `form:"text"`
		Take kit.Tick `form:"take"`
	}](c)
	v := shelfView{Kind: in.Kind, Text: in.Text, Second: in.Second}
	next, id, faults := s.Shop.Library().Take(v.Kind, v.Text)
	if len(faults) > 0 {
		v.Problems = faults
		return s.showShelf(c, fiber.StatusUnprocessableEntity, v)
	}
	v.Read = readShelf(s.Shop.Library(), next, v.Kind, id)
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

func peakWords(text string) string {
	r, err := recipe.Parse(text)
	if err != nil || r.Peak() == 0 {
		return ""
	}
	return unit.Torque(r.Peak()).Both()
}

func preloadOf(j *plan.Joint) string {
	r, err := recipe.Parse(j.Recipe)
	f, ok := j.Fastener()
	if err != nil || !ok {
		return ""
	}
	l, err := recipe.Reckon(r, f)
	if err != nil || l.Torque <= 0 {
		return ""
	}
	return preloadWords(l)
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
func (s *Server) correct(c fiber.Ctx) error {
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

// variantView is one kind of hardware with what tells it apart.
type variantView struct {
	vehicle.Variant
	Peak    string
	Picture template.HTML
}

func variantViews(j *plan.Joint) []variantView {
	var out []variantView
	for _, v := range j.Variants {
		out = append(out, variantView{v, peakWords(v.Recipe), draw.Hardware(v)})
	}
	return out
}
