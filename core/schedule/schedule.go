// Package schedule lays steps in time. Times are minutes from the start.
package schedule

import (
	"math"

	"lugtak/core/fault"
)

// Step is what the clock needs to know of a step.
type Step struct {
	ID       string
	Minutes  float64
	Hands    bool
	Tool     string // empty keeps the last one
	Side     string // left, right or both; empty keeps the last one
	Position string // of the vehicle, which has one for all; empty asks for none
	Needs    []string
	People   int      // two hold both technicians, where two work
	Uses     []string // held by one step at a time: a tool by name, the lift
}

// Follow lays the steps in time in the order they stand. Each hands-on step goes to
// the technician who can begin it first; what a change costs and what runs by itself
// are as in Solve, whose lower bound comes with it. A step that stands before what
// it needs is a fault that names it.
func Follow(p Problem) (Solution, error) {
	s, err := newSolver(p)
	if err != nil {
		return Solution{}, err
	}
	st := s.begin()
	bound := st.bound
	for i, x := range p.Steps {
		if !x.Hands {
			continue
		}
		who, from := -1, 0.0
		for k := range st.hands {
			if at, ok := s.start(st, i, k); ok && (who < 0 || at < from) {
				who, from = k, at
			}
		}
		if who < 0 {
			return Solution{}, fault.New(fault.Order, "steps", "The step "+x.ID+" stands before what it needs.",
				"Put it further back.")
		}
		st = s.place(st, i, who, from)
	}
	return s.read(st, math.Min(math.Max(bound, s.clusters()), st.span)), nil
}
