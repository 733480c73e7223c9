package schedule

import "testing"

// A worked example by hand: a soak of ten minutes runs under two steps of four,
// so the step that needs it waits for two.
func TestLay(t *testing.T) {
	tl := Lay([]Step{
		{ID: "spray", Minutes: 1, Hands: true, Tool: "can"},
		{ID: "soak", Minutes: 10, Needs: []string{"spray"}},
		{ID: "a", Minutes: 4, Hands: true, Tool: "ratchet", Position: "raised"},
		{ID: "b", Minutes: 3, Hands: true},
		{ID: "open", Minutes: 2, Hands: true, Tool: "bar", Needs: []string{"soak"}},
	}, 0.5)
	want := map[string][2]float64{"spray": {0, 1}, "soak": {1, 11}, "a": {1.5, 5.5}, "b": {5.5, 8.5}, "open": {11, 13}}
	for _, s := range tl.Slots {
		if w := want[s.ID]; s.Start != w[0] || s.End != w[1] {
			t.Errorf("%s: %v to %v, want %v", s.ID, s.Start, s.End, w)
		}
	}
	if tl.Makespan != 13 || tl.ToolChanges != 2 || tl.Raises != 1 {
		t.Errorf("makespan %v, %d tool changes, %d raises", tl.Makespan, tl.ToolChanges, tl.Raises)
	}
}
