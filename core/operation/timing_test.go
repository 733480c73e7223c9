package operation_test

import (
	"testing"

	"lugtak/core/schedule"
	"lugtak/library"
)

// The hub job put in order keeps its needs and its positions, and is no longer
// than the order of the file; a second technician shortens it.
func TestPlanInOrder(t *testing.T) {
	lib, err := library.Load("")
	if err != nil {
		t.Fatal(err)
	}
	plan, err := lib.Plan("ostrel-c22", "front-hub-unit", "FL")
	if err != nil {
		t.Fatal(err)
	}
	var spans []float64
	for _, n := range []int{1, 2} {
		p := plan.Problem(0.6, n)
		s, err := schedule.Solve(p)
		if err != nil {
			t.Fatal(err)
		}
		at := map[string]schedule.Placed{}
		for _, x := range s.Order {
			at[x.ID] = x
		}
		for _, st := range plan.Steps {
			for _, need := range st.Needs {
				if at[need].End > at[st.ID].Start+1e-9 {
					t.Errorf("%s before %s", st.ID, need)
				}
			}
			if st.Position == "raised" && st.MovesTo == "" && (at[st.ID].Start < at["raise"].End-1e-9 || at[st.ID].End > at["lower"].Start+1e-9) {
				t.Errorf("%s with the vehicle not raised: %+v", st.ID, at[st.ID])
			}
		}
		if s.Bound > s.Makespan || s.Makespan > 1.1*s.Bound && n == 1 {
			t.Errorf("%d technicians: %.1f min, proved least %.1f", n, s.Makespan, s.Bound)
		}
		spans = append(spans, s.Makespan)
	}
	asListed := schedule.Lay(plan.Problem(0.6, 1).Steps, 0.6)
	if spans[0] > asListed.Makespan+1e-9 || spans[1] >= spans[0] {
		t.Errorf("as listed %.1f, in order %.1f, with two %.1f", asListed.Makespan, spans[0], spans[1])
	}
}
