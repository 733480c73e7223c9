package job

import (
	"slices"

	"lugtak/core/fault"
	"lugtak/core/inspect"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/record"
	"lugtak/core/unit"
)

// measuredAt puts a measurement to its step, and to the corner of that step.
func (s *State) measuredAt(b *Measure) error {
	if b.Step == "" {
		if b.Corner != "" && !slices.Contains(corners, b.Corner) {
			return refuse(fault.BadChoice, "corner", "That is no corner of a vehicle.", "Choose FL, FR, RL or RR.")
		}
		return nil
	}
	st := s.Plan.Step(b.Step)
	if st == nil || !slices.Contains(st.Measures, b.Limit.Key) {
		return refuse(fault.BadChoice, "step", "Nothing of the kind is measured in this step.",
			"Go to the step that asks for it.")
	}
	if b.Limit.OfMark() && !s.stands(st.Position) {
		return refuse(fault.Order, "step", "The vehicle does not stand as this is measured.",
			"Measure it where the step stands in the order; or see to a new one with the foreman.")
	}
	b.Corner = string(st.Corner)
	return nil
}

// LimitAt is a limit as it is at a corner: where it is held beside what was measured before, at its step, the window
// about that; not known where that is not measured.
func (s *State) LimitAt(l inspect.Limit, corner string) inspect.Limit {
	if l.Beside == "" {
		return l
	}
	for i := len(s.Walk.Measured) - 1; i >= 0; i-- {
		if m := s.Walk.Measured[i]; m.Key == l.Beside && m.Corner == corner && m.Step != "" {
			return l.Around(m.Value)
		}
	}
	l.Value = 0
	return l
}

// MeasuredFor is the last measurement of that kind that counts for a step: one taken at
// it, or on the walk-round at the same corner, unless the step wants it anew; nil where
// there is none.
func (s *State) MeasuredFor(st *plan.Step, key string) *Measurement {
	for i := len(s.Walk.Measured) - 1; i >= 0; i-- {
		m := &s.Walk.Measured[i]
		here := operation.StepID(m.Step) == st.ID
		along := m.Step == "" && !st.Anew && m.Corner == string(st.Corner)
		if m.Key == key && (here || along) {
			return m
		}
	}
	return nil
}

// standsAt is how a place stands by its measurements, wherever they were taken: the last one, or
// the one that found it beyond its limit and that no later one has answered. One that is inside
// a laxer limit alone answers nothing. It is nil where nothing was measured.
func (s *State) standsAt(key, corner string) (m *Measurement, beyond bool) {
	for i := range s.Walk.Measured {
		x := &s.Walk.Measured[i]
		if x.Key != key || x.Corner != corner {
			continue
		}
		over, held := x.Verdict == string(inspect.Over) || x.Verdict == string(inspect.Under), x.Value
		if over {
			held = x.Limit // of two that are beyond, the stricter limit stands
		}
		if !beyond || m.allows(held) {
			m, beyond = x, over
		}
	}
	return m, beyond
}

// gauged tells the fasteners that a measure proves by their play whether it does: taken at its step, behind their last
// pull, and inside the strictest limit it was held against.
func (s *State) gauged(b record.Measured) {
	m, beyond := s.standsAt(b.Key, b.Corner)
	inside := b.Step != "" && !beyond && m.Verdict == string(inspect.OK)
	for j, f := range s.all() {
		if j.Play == b.Key && string(j.Corner) == b.Corner {
			f.Gauged = inside && f.Done >= f.Stages
		}
	}
}

// allows says that a value keeps the limit it was measured against.
func (m *Measurement) allows(v float64) bool {
	if m.Least {
		return v >= m.Limit
	}
	return v <= m.Limit && v >= m.Floor
}

// Lacks is the first thing a step asks to be measured that is not, nil where all is.
func (s *State) Lacks(st *plan.Step) error {
	for _, key := range st.Measures {
		if s.MeasuredFor(st, key) == nil {
			return refuse(fault.Missing, key, "The "+inspect.MeasureName(key)+" is not measured.",
				"Write down what the gauge shows.")
		}
	}
	return nil
}

// measured asks that what a step measures was taken, and that what is not inside its
// limit has a word on what is done about it.
func (s *State) measured(st *plan.Step, note string) error {
	if err := s.Lacks(st); err != nil {
		return err
	}
	for _, key := range st.Measures {
		m := s.MeasuredFor(st, key)
		if m.Verdict != string(inspect.OK) && note == "" {
			return refuse(fault.Missing, "note", m.Says,
				"Put it right and measure again, or write a few words on what is done about it.")
		}
	}
	return nil
}

// Line is a measurement in one line, for ledger and report.
func (m Measurement) Line() string {
	s := m.Name + ": " + unit.Number(m.Value, 3) + " " + m.Unit
	if m.Corner != "" {
		s = m.Corner + ", " + s
	}
	if m.Simulated {
		s += ", simulated"
	}
	return s + ". " + m.Says
}
