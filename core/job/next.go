package job

import (
	"cmp"
	"slices"
	"time"

	"lugtak/core/fact"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/vehicle"
)

// StepDone says that a step is done. Tightening steps are done when their fasteners
// are, so that striking a pull opens them again.
func (s *State) StepDone(id operation.StepID) bool {
	st := s.Plan.Step(id)
	if st == nil {
		return false
	}
	if st.Verb != operation.Tighten {
		return s.Steps[id].Done || st.Verb == operation.Start && s.startedBut(st)
	}
	_, to := s.Span(st)
	for _, l := range s.Plan.Joint(st.Joint).Letters {
		f := s.Fastener(st.Joint, l)
		if !f.Waived && (f.Done <= to && !f.Anew || f.Trouble != "") {
			return false
		}
	}
	return true
}

// startedBut says that all fasteners of a step are started but those that stay out by a
// deviation. Where starting them brings about more, as a wheel that is on by it, one at least was.
func (s *State) startedBut(st *plan.Step) bool {
	started := s.Steps[st.ID].Letters
	more := slices.ContainsFunc(st.Makes, func(m fact.Make) bool { return m.Fact.Subject != fact.Fastener })
	if len(started) == 0 && (more || len(st.Puts)+len(st.Takes) > 0) {
		return false
	}
	left := func(l string) bool { return !slices.Contains(started, l) && !s.Fastener(st.Joint, l).Waived }
	return !slices.ContainsFunc(s.Plan.Joint(st.Joint).Letters, left)
}

// Next is the step to do now: the first open one whose needs are met, those put off
// and those in trouble last. Empty when nothing is left.
func (s *State) Next() operation.StepID {
	return s.next(func(*plan.Step) bool { return false })
}

// next puts off, beside what was put off by hand, what is somebody else's.
func (s *State) next(others func(*plan.Step) bool) operation.StepID {
	var later, stuck operation.StepID
	for i := range s.Plan.Steps {
		st := &s.Plan.Steps[i]
		if s.StepDone(st.ID) {
			continue
		}
		switch err := s.Ready(st); {
		case err != nil || s.blocked(st) || s.stanceFor(st) != "":
			stuck = cmp.Or(stuck, st.ID)
		case s.Steps[st.ID].Postponed || others(st):
			later = cmp.Or(later, st.ID)
		default:
			return st.ID
		}
	}
	if lead := s.leadNow(); lead != nil {
		return lead.ID
	}
	return cmp.Or(later, stuck)
}

// blocked: every fastener left at a step is in trouble.
func (s *State) blocked(st *plan.Step) bool { return st.Joint != "" && s.Current(st) == "" }

// Chain is the next steps after the one at hand, in order.
func (s *State) Chain(after operation.StepID, n int) []*plan.Step {
	var out []*plan.Step
	for i := range s.Plan.Steps {
		st := &s.Plan.Steps[i]
		if st.ID != after && !s.StepDone(st.ID) && len(out) < n && st.Verb != operation.Soak {
			out = append(out, st)
		}
	}
	return out
}

// SoakLeft is how long a soak still runs for the joint's step, zero if none.
func (s *State) SoakLeft(step *plan.Step, now time.Time) time.Duration {
	var left time.Duration
	for _, k := range s.Soaks {
		if slices.Contains(step.Needs, k.Step) && k.End.After(now) {
			left = max(left, k.End.Sub(now))
		}
	}
	return left
}

// Soaking lists the soaks something still waits for, those too that have done their work. One
// whose bolt is free, or whose step was done without it, is over.
func (s *State) Soaking() []Soaking {
	return slices.DeleteFunc(slices.Clone(s.Soaks), func(k Soaking) bool {
		if s.Plan.Step(k.Step) == nil { // of what was tried on something stuck
			return s.Trouble(string(k.Step)) == nil
		}
		return !slices.ContainsFunc(s.Plan.Steps, func(x plan.Step) bool {
			return slices.Contains(x.Needs, k.Step) && !s.StepDone(x.ID)
		})
	})
}

// HeldAt lists the corners whose rotation is held.
func (p *Progress) HeldAt() []vehicle.Corner {
	var out []vehicle.Corner
	for c, held := range p.Held {
		if held {
			out = append(out, c)
		}
	}
	slices.Sort(out)
	return out
}

// SupportsIn counts what was put in and not yet taken out, from the kept steps.
func (s *State) SupportsIn() map[string]int {
	in := map[string]int{}
	for _, st := range s.Plan.Steps {
		if !s.StepDone(st.ID) {
			continue
		}
		times := max(1, s.Steps[st.ID].Times)
		for _, p := range st.Puts {
			in[p] += times
		}
		for _, p := range st.Takes {
			in[p] -= times
		}
	}
	for what, n := range in {
		if n <= 0 {
			delete(in, what)
		}
	}
	return in
}
