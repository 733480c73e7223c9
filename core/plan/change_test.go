package plan

import (
	"fmt"
	"strings"
	"testing"

	"lugtak/core/operation"
)

// laid is a plan of one-minute steps named by letters; a small letter only soaks.
func laid(order string) *Plan {
	var p Plan
	for _, r := range order {
		s := Step{}
		s.ID, s.Title, s.Minutes, s.Verb = operation.StepID(r), string(r), 1, operation.Act
		if strings.ToLower(string(r)) == string(r) {
			s.Verb = operation.Soak
		}
		p.Steps = append(p.Steps, s)
	}
	return &p
}

func TestChanges(t *testing.T) {
	tests := []struct{ was, now, done, want string }{
		{"ABC", "ABC", "", "0 done, 3 stood, new [], earlier [], later [], gone [], 3 to 3"},
		{"ABCD", "ABXYCD", "A", "1 done, 3 stood, new [X Y], earlier [], later [], gone [], 3 to 5"},
		{"ABCDEF", "AECDFB", "A", "1 done, 3 stood, new [], earlier [E], later [B], gone [], 5 to 5"},
		{"ABCDEF", "AEFBCD", "A", "1 done, 3 stood, new [], earlier [E F], later [], gone [], 5 to 5"},
		{"ABCDEF", "ACDEFB", "A", "1 done, 4 stood, new [], earlier [], later [B], gone [], 5 to 5"},
		{"ABCD", "AXD", "A", "1 done, 1 stood, new [X], earlier [], later [], gone [B C], 3 to 2"},
		{"ABsCD", "ABCDs", "AB", "2 done, 2 stood, new [], earlier [], later [s], gone [], 2 to 2"},
		{"", "AB", "", "0 done, 0 stood, new [A B], earlier [], later [], gone [], 0 to 2"},
	}
	for _, x := range tests {
		now := laid(x.now)
		c := Changes(laid(x.was), now, func(id operation.StepID) bool { return strings.Contains(x.done, string(id)) })
		got := fmt.Sprintf("%d done, %d stood, new %v, earlier %v, later %v, gone %v, %g to %g",
			c.Done, c.Stood, c.New, c.Earlier, c.Later, c.Gone, c.Was, c.Now)
		if got != x.want {
			t.Errorf("%s to %s: %s, want %s", x.was, x.now, got, x.want)
		}
		if n := c.Done + c.Stood + len(c.New) + len(c.Earlier) + len(c.Later); n != len(now.Steps) {
			t.Errorf("%s to %s: %d steps counted of %d", x.was, x.now, n, len(now.Steps))
		}
	}
}
