package vehicle

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"
	"time"

	"lugtak/core/fault"
	"lugtak/core/recipe"
	"lugtak/core/thread"
	"lugtak/core/unit"
)

// Doubt is something on a sheet that wants a second look. It never blocks.
type Doubt struct {
	Joint   string // key of the sheet
	Code    string
	Message string
}

// Codes of doubts a whole sheet gives rise to; those of recipe.Check come beside.
const (
	NoSource   = "no_source"
	Conflict   = "conflict"
	SameFigure = "same_figure"
	FirstStage = "first_stage_copied"
)

// Doubts reads a pattern's sheet as a careful colleague would: figures without a
// source, sources in conflict, the same figure under two joint names, a first
// stage copied as the whole recipe, and what the bolt itself cannot bear.
func Doubts(p Pattern) []Doubt {
	var out []Doubt
	keys := slices.Sorted(maps.Keys(p.Spec))
	read := map[string]recipe.Recipe{}
	for _, k := range keys {
		if r, err := recipe.Parse(p.Spec[k].Recipe); err == nil {
			read[k] = r
		}
	}
	for i, k := range keys {
		s, r := p.Spec[k], read[k]
		add := func(code, format string, args ...any) {
			out = append(out, Doubt{k, code, fmt.Sprintf(format, args...)})
		}
		if len(s.Differs) > 0 {
			var all []string
			for _, f := range s.Differs {
				all = append(all, f.Recipe+" by "+f.By)
			}
			add(Conflict, "Readings differ: %s. Look at the page together; who misread it reads it again.",
				strings.Join(all, ", "))
		}
		if s.Unread() {
			continue
		}
		if s.Source == "" && len(s.Variants) == 0 {
			add(NoSource, "%s has no source. Look it up with the maker before it is used.", r)
		}
		for _, o := range s.Others {
			if other, err := recipe.Parse(o.Recipe); err == nil && !alike(r, other) {
				add(Conflict,
					"Two sources: %s by %s, %s by %s. Find out which belongs to the hardware fitted, and strike the other.",
					figures(r), orNone(s.Source), figures(other), orNone(o.Source))
			}
		}
		for _, o := range keys[i+1:] {
			if r.Peak() > 0 && near(k, o) && r.String() == read[o].String() {
				add(SameFigure,
					"“%s” stands under %s too. Two joints may share a figure by chance, or one was copied: look at both.",
					r, o)
			}
		}
		for _, o := range keys {
			if n := len(read[o].Stages); o != k && near(k, o) && n > 1 && len(r.Stages) == 1 &&
				r.Stages[0] == read[o].Stages[0] &&
				read[o].Stages[1] != r.Stages[0] {
				add(
					FirstStage,
					"%s is also the first stage of %s (%s). A first stage copied as the whole recipe leaves the joint loose: look "+
						"at the sheet again.",
					r,
					o,
					read[o],
				)
			}
		}
		if f, ok := s.Fastener(); ok {
			ws, _ := recipe.Check(r, f)
			for _, w := range ws {
				add(w.Code, "%s", w.Message)
			}
		}
	}
	return out
}

// Fastener is what the thread core needs to know of one of the joint's bolts; ok is false
// where the sheet does not tell.
func (s Spec) Fastener() (f recipe.Fastener, ok bool) {
	th, err := thread.Parse(s.Thread)
	if err != nil {
		return recipe.Fastener{}, false
	}
	cl, err := thread.ParseClass(s.Class, th)
	return recipe.Fastener{Thread: th, Class: cl, Treatment: thread.Treatment(s.Treatment)}, err == nil
}

// Load is what the joint's figure does to one of its bolts; ok is false where the sheet does not tell which that is,
// or the figure names no torque.
func (s Spec) Load() (l recipe.Load, ok bool) {
	r, err := recipe.Parse(s.Recipe)
	f, known := s.Fastener()
	if err != nil || !known {
		return recipe.Load{}, false
	}
	l, err = recipe.Reckon(r, f)
	return l, err == nil && l.Torque > 0
}

// near: joints of one axle.
func near(a, b string) bool {
	x, y := strings.Split(a, "."), strings.Split(b, ".")
	return len(x) > 1 && len(y) > 1 && x[1] == y[1]
}

// alike: the same stages, their figures within 2.5 %, which forgives rounding on
// another scale.
func alike(a, b recipe.Recipe) bool {
	return slices.EqualFunc(a.Stages, b.Stages, func(x, y recipe.Stage) bool {
		return x.Kind == y.Kind && x.Full == y.Full && math.Abs(x.Target()-y.Target()) <= 0.025*max(x.Target(), y.Target())
	})
}

func figures(r recipe.Recipe) string {
	if r.Peak() == 0 {
		return r.String()
	}
	return fmt.Sprintf("%s (%s)", r, unit.Torque(r.Peak()).Both())
}

func orNone(s string) string {
	if s == "" {
		return "nobody named"
	}
	return s
}

// Pressure is the mean pressure in MPa of a force in N on a ring between two
// diameters in mm: what a head or washer presses on the part with.
func Pressure(force, outerMM, innerMM float64) float64 {
	return force / (math.Pi / 4 * (outerMM*outerMM - innerMM*innerMM))
}

// Correction is a figure of a sheet replaced by another, with who, why and from
// which source.
type Correction struct {
	Pattern, Joint string
	Variant        string // key of the hardware the figure is of, where the joint may carry several
	Recipe, Source string
	By, Why        string
	Second         string // who read it too, where a life hangs on the joint
	Shop           string // the shop of the chain that struck it; empty for this one
	At             time.Time
}

// Correct checks a correction against the sheet it is for. Its fault names the field. Who may
// correct it, and whether two must read it, is the shop's to ask.
func (p Pattern) Correct(c *Correction) error {
	c.Why, c.Source = strings.TrimSpace(c.Why), strings.TrimSpace(c.Source)
	s, ok := p.Spec[c.Joint]
	if !ok {
		return fault.New(fault.Missing, "joint", "The sheet has no such joint.", "Choose one of the sheet.")
	}
	r, err := recipe.Parse(c.Recipe)
	if err != nil {
		return err
	}
	c.Recipe = r.String()
	was := Figure{Recipe: s.Recipe, Source: s.Source}
	if len(s.Variants) > 0 || c.Variant != "" {
		i := slices.IndexFunc(s.Variants, func(v Variant) bool { return v.Key == c.Variant })
		if i < 0 {
			return fault.New(fault.BadChoice, "variant", "The figure of this joint follows the hardware in hand.",
				"Say of which hardware the figure is.")
		}
		was = Figure{Recipe: s.Variants[i].Recipe, Source: s.Variants[i].Source}
	}
	old, _ := recipe.Parse(was.Recipe)
	switch {
	case c.Source == "":
		return fault.New(fault.Missing, "source", "A figure without a source is no correction.",
			"Name the page or sheet it stands on.")
	case c.Why == "":
		return fault.New(fault.Missing, "why", "It is not said why.", "Write why the old figure was wrong, in a few words.")
	case len(c.Source) > 200 || len(c.Why) > 500:
		return fault.New(fault.TooLong, "why", "That is too long.", "Keep source and reason short.")
	case r.String() == old.String() && c.Source == was.Source:
		return fault.New(fault.BadChoice, "recipe", "That is the figure that stands there.", "Nothing to correct.")
	}
	return nil
}

// With gives the pattern with its corrections: the figure that was replaced is
// struck and stays readable, and the sheet's version rises with each.
func (p Pattern) With(cs []Correction) Pattern {
	if len(cs) == 0 {
		return p
	}
	p.Spec = maps.Clone(p.Spec)
	for _, c := range cs {
		s, ok := p.Spec[c.Joint]
		if !ok {
			continue
		}
		by := c.By
		if c.Second != "" {
			by += " and " + c.Second
		}
		was := s.Recipe
		if c.Variant == "" {
			s.Figured(c.Recipe, s.Stages, c.Source)
		} else {
			i := slices.IndexFunc(s.Variants, func(v Variant) bool { return v.Key == c.Variant })
			if i < 0 {
				continue
			}
			s.Variants = slices.Clone(s.Variants)
			v := &s.Variants[i]
			was, v.Recipe, v.Source = v.Recipe, c.Recipe, c.Source
		}
		s.Struck = append(slices.Clone(s.Struck), Struck{Recipe: was, By: by, Why: c.Why})
		if len(s.Readers)+len(s.Differs) > 0 {
			s.Readers, s.Differs = slices.DeleteFunc([]string{c.By, c.Second}, func(x string) bool { return x == "" }), nil
		}
		// A source that says the same is in conflict no longer.
		s.Others = slices.DeleteFunc(slices.Clone(s.Others), func(o Figure) bool { return o.Source == c.Source })
		p.Spec[c.Joint] = s
		p.Version++
	}
	return p
}

// PressureLimits are limiting pressures under a head in MPa by the part pressed on
// (VDI 2230 part 1 table A9, typical grades, from memory).
var PressureLimits = map[string]float64{"steel": 490, "cast iron": 700, "aluminium": 260}
