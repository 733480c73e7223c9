package kit

import (
	"lugtak/core/job"
	"lugtak/core/pull"
	"testing"
)

// A pull's figure says how it is known: read, set, turned, or not at all.
func TestFigureOfAPull(t *testing.T) {
	for want, p := range map[string]job.Pull{
		"no figure":               {Evidence: pull.NotMeasured},
		"set 60 N·m (44.3 ft·lb)": {Evidence: pull.Clicked, Result: pull.Result{PeakNm: 60}},
		"60.4 N·m (44.5 ft·lb)":   {Evidence: pull.Traced, Result: pull.Result{PeakNm: 60.4}},
		"92.5°":                   {Evidence: pull.Marked, Result: pull.Result{TurnDeg: 92.5}},
	} {
		if got := PulledFigure(&p); got != want {
			t.Errorf("%+v: %q, not %q", p, got, want)
		}
	}
}
