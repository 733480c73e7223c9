package job

import (
	"testing"
	"time"
)

func TestComebacks(t *testing.T) {
	day := func(n int) time.Time { return time.Date(2026, 3, 1, 8, 0, 0, 0, time.UTC).AddDate(0, 0, n) }
	first := Outcome{Job: "1", Vehicle: "v", Tasks: []string{"strut@FL", "link@FL"}, Started: day(0), Signed: day(1)}
	for name, c := range map[string]struct {
		again Outcome
		want  int
	}{
		"the same work, soon": {Outcome{Job: "2", Vehicle: "v", Tasks: []string{"link@FL"}, Started: day(40)}, 1},
		"both of it": {
			Outcome{Job: "2", Vehicle: "v", Tasks: []string{"link@FL", "strut@FL"}, Started: day(40)}, 2,
		},
		"on the last day":            {Outcome{Job: "2", Vehicle: "v", Tasks: []string{"link@FL"}, Started: day(91)}, 1},
		"the day after":              {Outcome{Job: "2", Vehicle: "v", Tasks: []string{"link@FL"}, Started: day(92)}, 0},
		"at the other corner":        {Outcome{Job: "2", Vehicle: "v", Tasks: []string{"link@FR"}, Started: day(40)}, 0},
		"on another vehicle":         {Outcome{Job: "2", Vehicle: "w", Tasks: []string{"link@FL"}, Started: day(40)}, 0},
		"begun before it was signed": {Outcome{Job: "2", Vehicle: "v", Tasks: []string{"link@FL"}, Started: day(0)}, 0},
	} {
		if got := Comebacks([]Outcome{first, c.again}); len(got) != c.want {
			t.Errorf("%s: %d, want %d", name, len(got), c.want)
		}
	}
}
