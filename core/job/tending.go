package job

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"lugtak/core/fact"
	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
)

// Tending is something that stands open, runs or hangs now, and may not for long or not alone.
type Tending struct {
	fact.Tended
	Is     fact.Value
	Since  time.Time
	Closes operation.StepID // the next step that ends it; empty where none is left
}

// Until is when it has stood so for as long as it may; ok is false where it may stand so for any time.
func (t Tending) Until() (end time.Time, ok bool) {
	return t.Since.Add(time.Duration(t.Minutes * float64(time.Minute))), t.Minutes > 0
}

// Tendings are what somebody has to think of before they turn away, in the order it was opened.
func (s *State) Tendings() []Tending {
	if s.Plan == nil || s.Signature != nil {
		return nil
	}
	var out []Tending
	for _, t := range s.Plan.World.Tended {
		is := s.Plan.World.Is(s.Facts, t.Fact)
		if !t.Values.Has(is) {
			continue
		}
		x := Tending{Tended: t, Is: is}
		was := fact.Value("")
		for _, id := range s.done {
			if v, makes := makesOf(s.Plan.Step(id), t.Fact); makes {
				if t.Values.Has(v) && !t.Values.Has(was) {
					x.Since = s.Steps[id].At
				}
				was = v
			}
		}
		for i := range s.Plan.Steps {
			st := &s.Plan.Steps[i]
			if v, makes := makesOf(st, t.Fact); makes && !t.Values.Has(v) && !s.StepDone(st.ID) {
				x.Closes = st.ID
				break
			}
		}
		out = append(out, x)
	}
	slices.SortStableFunc(out, func(a, b Tending) int { return a.Since.Compare(b.Since) })
	return out
}

// makesOf is what a step makes of a fact.
func makesOf(st *plan.Step, f fact.Fact) (v fact.Value, makes bool) {
	if st == nil {
		return "", false
	}
	for _, m := range st.Makes {
		if m.Fact == f {
			v, makes = m.Value, true
		}
	}
	return v, makes
}

// Says is what stands so, in words: the bleeder FL is open.
func (s *State) Says(t Tending) string { return fmt.Sprintf("%s is %s", s.Plan.Names(t.Fact), t.Is) }

// attended refuses to let go of what nobody leaves.
func (s *State) attended(field string) error {
	var open []string
	closes := ""
	for _, t := range s.Tendings() {
		if !t.Attended {
			continue
		}
		open = append(open, s.Says(t))
		if st := s.Plan.Step(t.Closes); st != nil && closes == "" {
			closes = st.Title
		}
	}
	if len(open) == 0 {
		return nil
	}
	remedy := "End that first."
	if closes != "" {
		remedy = "End that first, by “" + closes + "”."
	}
	return refuse(fault.Attended, field, trimmed(strings.Join(open, ", ")+". Nobody leaves it so."), remedy)
}

// leadsTo says that one step comes before another, or is it.
func (s *State) leadsTo(id, to operation.StepID) bool {
	if id == to {
		return true
	}
	st := s.Plan.Step(to)
	return st != nil && slices.ContainsFunc(st.Needs, func(n operation.StepID) bool {
		return !s.StepDone(n) && s.leadsTo(id, n)
	})
}
