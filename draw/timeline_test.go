package draw

import (
	"testing"
	"time"

	"lugtak/core/job"
	"lugtak/core/schedule"
	"lugtak/demo"
)

// A tool that both technicians want has a row of its own, and is in one hand at a time; one
// technician alone contests nothing.
func TestContestedToolsAreInOneHand(t *testing.T) {
	now := time.Date(2026, 11, 24, 12, 0, 0, 0, time.UTC)
	costs := schedule.Costs{Tool: 0.6, Walk: 0.4}
	for technicians, contested := range map[int]bool{1: false, 2: true} {
		st := states(t)[demo.Struts]
		m := job.Meta{ID: "hands", By: "Aro", Role: job.Technician, At: now}
		events, err := job.Decide(st, m, job.Replan{Costs: costs, Technicians: technicians})
		if err != nil {
			t.Fatal(err)
		}
		st = job.Apply(st, events[0])
		sol, err := st.Plan.Clock(costs)
		if err != nil {
			t.Fatal(err)
		}
		v := Timeline(st, sol)
		if (len(v.Holds) > 0) != contested {
			t.Fatalf("%d technicians: %d holds", technicians, len(v.Holds))
		}
		both := map[float64]map[int]bool{}
		for i, a := range v.Holds {
			if both[a.Y] == nil {
				both[a.Y] = map[int]bool{}
			}
			both[a.Y][a.Who] = true
			if a.Y < v.Bars[0].Y || a.Y+a.H > v.Foot {
				t.Errorf("%q lies at %.0f, the rows end at %.0f", a.Full, a.Y, v.Foot)
			}
			for _, b := range v.Holds[i+1:] {
				if a.Y == b.Y && a.X < b.X+b.W && b.X < a.X+a.W {
					t.Errorf("in two hands: %q and %q", a.Full, b.Full)
				}
			}
		}
		for y, by := range both {
			if len(by) < 2 {
				t.Errorf("the row at %.0f is contested by %v", y, by)
			}
		}
	}
}
