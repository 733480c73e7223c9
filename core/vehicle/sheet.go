package vehicle

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

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
		if s.Source == "" && len(s.Variants) == 0 {
			add(NoSource, "%s has no source. Look it up with the maker before it is used.", r)
		}
		for _, o := range s.Others {
			if other, err := recipe.Parse(o.Recipe); err == nil && !alike(r, other) {
				add(Conflict, "Two sources: %s by %s, %s by %s. Find out which belongs to the hardware fitted, and strike the other.", figures(r), orNone(s.Source), figures(other), orNone(o.Source))
			}
		}
		for _, o := range keys[i+1:] {
			if r.Peak() > 0 && near(k, o) && r.String() == read[o].String() {
				add(SameFigure, "%s stands under %s too. Two joints may share a figure by chance, or one was copied: look at both.", r, o)
			}
		}
		for _, o := range keys {
			if n := len(read[o].Stages); o != k && near(k, o) && n > 1 && len(r.Stages) == 1 && r.Stages[0] == read[o].Stages[0] && read[o].Stages[1] != r.Stages[0] {
				add(FirstStage, "%s is also the first stage of %s (%s). A first stage copied as the whole recipe leaves the joint loose: look at the sheet again.", r, o, read[o])
			}
		}
		if f, ok := s.fastener(); ok {
			ws, _ := recipe.Check(r, f)
			for _, w := range ws {
				add(w.Code, "%s", w.Message)
			}
		}
	}
	return out
}

func (s Spec) fastener() (recipe.Fastener, bool) {
	th, err := thread.Parse(s.Thread)
	if err != nil {
		return recipe.Fastener{}, false
	}
	cl, err := thread.ParseClass(s.Class, th)
	return recipe.Fastener{Thread: th, Class: cl, Treatment: thread.Treatment(s.Treatment)}, err == nil
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
