package job

import (
	"testing"
	"time"

	"lugtak/core/record"
)

// A part is waited for by its supplier's word, counted from the last thing that happened; what
// nobody said comes as parts mostly do.
func TestAPartIsWaitedForByItsSuppliersWord(t *testing.T) {
	ordered := time.Date(2026, 11, 26, 9, 0, 0, 0, time.UTC)
	for _, c := range []struct {
		name   string
		said   float64 // minutes
		passed time.Duration
		want   float64
	}{
		{"just ordered", 40, 0, 40},
		{"half an hour later", 40, 30 * time.Minute, 10},
		{"late", 40, 2 * time.Hour, 1},
	} {
		s := (&State{}).clone()
		body := record.PartStocked{Part: "strut", Status: string(Ordered), Supplier: "Quay Parts", WaitMin: c.said}
		s.applyStocked(Event{At: ordered}, body)
		s.Last = ordered.Add(c.passed)
		if got := s.waits("strut", s.Last); got != c.want {
			t.Errorf("%s: %g minutes, want %g", c.name, got, c.want)
		}
		if got := s.waits("other", s.Last); got != waitMinutes {
			t.Errorf("what nobody ordered: %g minutes", got)
		}
		s.applyStocked(Event{At: s.Last}, record.PartStocked{Part: "strut", Status: string(Have)})
		if _, still := s.Supplied["strut"]; still || s.Parts["strut"] != Have {
			t.Error("what has come is still on its way")
		}
	}
}
