package recipe

import (
	"fmt"
	"strings"

	"lugtak/core/unit"
)

// Explain gives one plain sentence for each stage, both units side by side.
func (r Recipe) Explain() []string {
	var out []string
	for i, s := range r.Stages {
		line := s.Explain()
		if i > 0 && s.Kind == Torque && r.Stages[i-1] == s {
			line = "Go round again at the same figure: " + unit.Torque(s.Target()).Both() + "."
		}
		if i == 0 && s.Left {
			line = "Left-hand thread: it tightens the other way round. " + line
		}
		out = append(out, line)
	}
	return out
}

// Explain says one stage in plain words.
func (s Stage) Explain() string {
	low, target, high := s.Stated()
	lo, hi := unit.Torque(low), unit.Torque(high)
	switch s.Kind {
	case NextSlot:
		return "Turn on, never back, to the next slot that lines up, then fit a new pin."
	case Snug:
		return map[string]string{"snug": "Bring it snug: parts touch and nothing rattles.",
			"hand": "Tighten by hand only.", "contact": "Turn until it touches, no more."}[s.Word]
	case BackOff:
		if s.Full {
			return "Back it off fully, until it turns freely."
		}
		return "Back it off by " + degrees(target) + "."
	case Angle:
		switch s.Form {
		case Range, Tolerance, Unequal:
			return fmt.Sprintf("Mark it, then turn on by %s to %s.", degrees(low), degrees(high))
		case Minimum:
			return "Mark it, then turn on by at least " + degrees(target) + "."
		case About:
			return "Mark it, then turn on by about " + degrees(target) + "."
		}
		return "Mark it, then turn on by " + degrees(target) + "."
	}
	if s.PlusDrag {
		return "Measure what it takes to turn the nut before it seats; tighten to " +
			unit.Torque(target).Both() + " on top of that."
	}
	switch s.Form {
	case Unequal:
		return fmt.Sprintf("Tighten to %s, at least %s and at most %s.", unit.Torque(target).Both(), lo, hi)
	case Range, Tolerance:
		return fmt.Sprintf("Tighten to between %s and %s (%s to %s).", lo, hi, lo.FtLbString(), hi.FtLbString())
	case Minimum:
		return "Tighten to at least " + lo.Both() + "."
	case About:
		return "Tighten to about " + unit.Torque(target).Both() + "."
	}
	return "Tighten to " + unit.Torque(target).Both() + "."
}

// Short is the stage as the bench shows it, in newton metres or degrees.
func (s Stage) Short() string {
	low, target, high := s.Stated()
	switch s.Kind {
	case Unread:
		return s.String()
	case NextSlot:
		return "to the next slot"
	case Snug:
		return s.Word
	case BackOff:
		if s.Full {
			return "back off fully"
		}
		return "back off " + degrees(target)
	case Angle:
		return "+ " + unit.Number(target, 1) + "°"
	}
	switch s.Form {
	case Range, Tolerance:
		return unit.Number(low, 1) + "–" + unit.Torque(high).String()
	case Minimum:
		return "at least " + unit.Torque(low).String()
	}
	return unit.Torque(target).String()
}

func degrees(v float64) string {
	s := unit.Number(v, 1) + "°"
	for _, t := range []struct {
		deg  float64
		name string
	}{{30, "half a flat"}, {45, "an eighth turn"}, {60, "one flat"}, {90, "a quarter turn"}, {180, "half a turn"},
		{360, "one turn"}} {
		if v == t.deg {
			s += " (" + t.name + ")"
		}
	}
	return strings.TrimSpace(s)
}
