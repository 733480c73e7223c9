package schedule

import (
	"testing"

	"lugtak/core/fault"
)

// Worked by hand: a soak runs beside the hands, a change of tool costs its minutes,
// and two technicians share what does not wait for one another.
func TestFollow(t *testing.T) {
	p := Problem{Costs: Costs{Tool: 1}, Technicians: 1, Steps: []Step{
		{ID: "brush", Minutes: 2, Hands: true, Tool: "brush"},
		{ID: "soak", Minutes: 10, Needs: []string{"brush"}},
		{ID: "wheel", Minutes: 3, Hands: true, Tool: "21 mm"},
		{ID: "bolt", Minutes: 4, Hands: true, Tool: "14 mm", Needs: []string{"soak"}},
		{ID: "other", Minutes: 5, Hands: true, Tool: "14 mm"},
	}}
	s, err := Follow(p)
	if err != nil {
		t.Fatal(err)
	}
	// brush 0–2, change, wheel 3–6, change, bolt waits for the soak 12–16, other 16–21.
	if s.Makespan != 21 || s.ToolChanges != 2 || s.Bound > s.Makespan {
		t.Errorf("%+v", s)
	}
	p.Technicians = 2
	if s, err = Follow(p); err != nil || s.Makespan >= 21 {
		t.Errorf("two technicians: %+v %v", s, err)
	}
	p.Steps[0], p.Steps[3] = p.Steps[3], p.Steps[0]
	if f := fault.As(func() error { _, err := Follow(p); return err }()); f == nil || f.Code != "order" {
		t.Errorf("a step before what it needs: %v", f)
	}
}
