// Package recipe reads, prints, explains and checks the tightening notation a
// technician writes on a card: "60 Nm + 90°", "90 Nm; next slot".
package recipe

import (
	"math"
	"slices"
	"strings"

	"lugtak/core/unit"
)

// Kind is what one stage asks of the hands.
type Kind string

// The kinds of stage.
const (
	Torque   Kind = "torque"
	Angle    Kind = "angle"
	BackOff  Kind = "back_off"
	NextSlot Kind = "next_slot"
	Snug     Kind = "snug"
	Unread   Kind = "unread" // nobody knows yet what the maker writes; no notation reads so
)

// Form is how a figure was given.
type Form string

// The forms of a figure.
const (
	Exact     Form = "exact"
	Range     Form = "range"
	Minimum   Form = "minimum"
	Tolerance Form = "tolerance"
	Unequal   Form = "unequal" // a tolerance that is not the same both ways
	About     Form = "about"
)

// Stage is one act of tightening. A and B are the figures as written, in Unit:
// A alone, A to B for a range, A ± B for a tolerance, A + B − C for an unequal one.
type Stage struct {
	Kind Kind
	Form Form
	Unit string // "Nm", "ft-lb", "in-lb", "kgf-m"; "°" for angles
	A, B float64
	C    float64
	Full bool   // back off all the way
	Word string // "snug", "hand" or "contact" for a snug stage

	PlusDrag bool // the measured drag of a locking nut comes on top
	Left     bool // of a left-hand thread: it tightens the other way round

	// Frozen stages were read once, long ago: Low and High are the window they had
	// then, High 0 where anything above Low was accepted.
	Frozen    bool
	Low, High float64
}

// Recipe is the stages in the order they are carried out.
type Recipe struct {
	Stages []Stage
	Notes  []string // words that stood beside the figures, as they were written; not part of what is printed
}

// torqueUnits are the units a canonical recipe is printed in.
var torqueUnits = map[string]unit.Torque{
	"Nm": unit.NewtonMetre, "ft-lb": unit.PoundFoot, "in-lb": unit.PoundInch,
	"kgf-m": unit.KilopondMetre, "kgf-cm": unit.KilopondCentim, "N-cm": unit.NewtonCentim,
}

// Tolerances where a recipe states none: ±4 % on torque is the permitted error
// of a setting tool (ISO 6789-1), ±5° on angle and ±10 % on an approximate
// figure are common practice, as is half as much again above a minimum.
const (
	torqueTolerance  = 0.04
	angleTolerance   = 5.0
	aboutTolerance   = 0.10
	minimumGoodSense = 1.5
)

// figure is a stage's low, target and high as stated, in newton metres or
// degrees; high is +Inf above a minimum.
func (s Stage) figure() (low, target, high float64) {
	k := 1.0
	if u, ok := torqueUnits[s.Unit]; ok {
		k = u.Nm()
	}
	a, b, c := s.A*k, s.B*k, s.C*k
	switch s.Form {
	case Range:
		return a, (a + b) / 2, b
	case Minimum:
		return a, a, math.Inf(1)
	case Tolerance:
		return a - b, a, a + b
	case Unequal:
		return a - c, a, a + b
	case About:
		return a * (1 - aboutTolerance), a, a * (1 + aboutTolerance)
	}
	return a, a, a
}

// HasRoom says that the stage is a torque with a window of its own to aim in: a range, or
// a figure with a tolerance.
func (s Stage) HasRoom() bool {
	return s.Kind == Torque && (s.Form == Range || s.Form == Tolerance || s.Form == Unequal)
}

// Stated is the stage's own figures in newton metres (torque) or degrees
// (angle, back-off): low = target = high where it names one figure, high = 0
// where it names a minimum only.
func (s Stage) Stated() (low, target, high float64) {
	low, target, high = s.figure()
	if math.IsInf(high, 1) {
		high = 0
	}
	return low, target, high
}

// Window is what a pull must lie in to satisfy the stage: the recipe's own
// window, else ±4 % of a torque and ±5° of an angle. Snug, back-off and slot
// stages accept anything from zero up; a slot is at most 60° on.
func (s Stage) Window() (low, high float64) {
	if s.Frozen && s.High == 0 {
		return s.Low, math.Inf(1)
	}
	if s.Frozen {
		return s.Low, s.High
	}
	low, target, high := s.figure()
	switch {
	case s.Kind == NextSlot:
		return 0, 60
	case s.Kind == Snug || s.Kind == BackOff:
		return 0, math.Inf(1)
	case s.Form == Minimum:
		return low, target * minimumGoodSense
	case s.Form == Exact && s.Kind == Torque:
		return target * (1 - torqueTolerance), target * (1 + torqueTolerance)
	case s.Form == Exact:
		return target - angleTolerance, target + angleTolerance
	}
	return low, high
}

// Freeze gives the stage with the window it has today, for the journal.
func (s Stage) Freeze() Stage {
	if s.Frozen {
		return s
	}
	s.Low, s.High = s.Window()
	if math.IsInf(s.High, 1) {
		s.High = 0
	}
	s.Frozen = true
	return s
}

// WithDrag is a stage whose figure comes on top of a nut's drag, once that is measured:
// N·m.
func (s Stage) WithDrag(nm float64) Stage {
	if !s.PlusDrag {
		return s
	}
	k := 1.0
	if u, ok := torqueUnits[s.Unit]; ok {
		k = u.Nm()
	}
	s = s.Freeze()
	s.PlusDrag = false
	s.A += nm / k
	s.Low += nm
	if s.Form == Range {
		s.B += nm / k
	}
	if s.High > 0 {
		s.High += nm
	}
	return s
}

// HasFigure says that the stage asks for something that is measured: a torque, an
// angle, a slot.
func (s Stage) HasFigure() bool {
	return s.Kind == Torque || s.Kind == Angle || s.Kind == NextSlot
}

// Target is the figure aimed at: newton metres or degrees.
func (s Stage) Target() float64 {
	_, t, _ := s.figure()
	return t
}

// Peak is the highest torque in N·m the recipe states, 0 if it states none.
func (r Recipe) Peak() unit.Torque {
	var peak float64
	for _, s := range r.Stages {
		if s.Kind == Torque {
			_, t, h := s.Stated()
			peak = math.Max(peak, math.Max(t, h))
		}
	}
	return unit.Torque(peak)
}

// measured says that some stage has a figure to tighten to.
func (r Recipe) measured() bool {
	return slices.ContainsFunc(r.Stages, func(s Stage) bool { return s.Kind == Torque || s.Kind == Angle })
}

// String prints the one canonical form; parsing it gives the same recipe.
func (r Recipe) String() string {
	var b strings.Builder
	if len(r.Stages) > 0 && r.Stages[0].Left {
		b.WriteString("left ")
	}
	for i := 0; i < len(r.Stages); i++ {
		s := r.Stages[i]
		if i > 0 {
			switch {
			case s.Kind == Angle && r.Stages[i-1].Kind == Angle:
				b.WriteString(", ")
			case s.Kind == Angle:
				b.WriteString(" ")
			default:
				b.WriteString("; ")
			}
		}
		b.WriteString(s.String())
		n := 1
		for n < mostRounds && s.Kind == Torque && i+1 < len(r.Stages) && r.Stages[i+1] == s {
			n++
			i++
		}
		if n > 1 {
			b.WriteString(" ×" + plain(float64(n)))
		}
	}
	return b.String()
}

// String prints one stage as it stands in a recipe.
func (s Stage) String() string {
	switch s.Kind {
	case Unread:
		return "no figure yet"
	case NextSlot:
		return "next slot"
	case Snug:
		return s.Word
	case BackOff:
		if s.Full {
			return "back off full"
		}
		return "back off " + s.amount()
	case Angle:
		return "+ " + s.amount()
	}
	text := s.amount()
	if low, _, high := s.figure(); high > widest*low && (s.Form == Range || s.Form == Tolerance || s.Form == Unequal) {
		text += " wide"
	}
	if s.PlusDrag {
		text += " + drag"
	}
	return text
}

func (s Stage) amount() string {
	u := " " + s.Unit
	if s.Unit == "°" {
		u = s.Unit
	}
	switch s.Form {
	case Range:
		return plain(s.A) + "–" + plain(s.B) + u
	case Minimum:
		return ">= " + plain(s.A) + u
	case Tolerance:
		return plain(s.A) + " ± " + plain(s.B) + u
	case Unequal:
		return plain(s.A) + " +" + plain(s.B) + "/−" + plain(s.C) + u
	case About:
		return "~" + plain(s.A) + u
	}
	return plain(s.A) + u
}

// plain prints up to nine significant digits, which is more than any card
// bears and what Parse rounds to. A fourth decimal keeps 1.001 apart from 1 001.
func plain(v float64) string {
	s := unit.Number(v, 6)
	if thousandForm.MatchString(s) {
		return s + "0"
	}
	return s
}

// round9 makes a figure one that plain prints and Parse reads without change.
func round9(v float64) float64 { return math.Round(v*1e6) / 1e6 }

// ReachesAngle says that the recipe turns on by angle after a torque.
func (r Recipe) ReachesAngle() bool {
	for _, s := range r.Stages {
		if s.Kind == Angle {
			return true
		}
	}
	return false
}
