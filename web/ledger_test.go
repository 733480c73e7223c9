package web

import (
	"fmt"
	"strings"
	"testing"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/pull"
)

// Several figures are read with point or comma, parted by spaces or semicolons.
func TestFiguresOfOneField(t *testing.T) {
	for text, want := range map[string]string{"": "[]", "46,1 46.5; 46.25": "[46.1 46.5 46.25]", "  46  ": "[46]"} {
		if got, err := figures("lengths", text); err != nil || fmt.Sprint(got) != want {
			t.Errorf("%q: %v, %v", text, got, err)
		}
	}
	if _, err := figures("lengths", "46.1 about"); fault.As(err) == nil || fault.As(err).Field != "lengths" ||
		!strings.Contains(fault.As(err).Detail, "about") {
		t.Errorf("a word among figures: %v", err)
	}
}

// A pull's figure says how it is known: read, set, turned, or not at all.
func TestFigureOfAPull(t *testing.T) {
	for want, p := range map[string]job.Pull{
		"no figure":               {Evidence: pull.NotMeasured},
		"set 60 N·m (44.3 ft·lb)": {Evidence: pull.Clicked, Result: pull.Result{PeakNm: 60}},
		"60.4 N·m (44.5 ft·lb)":   {Evidence: pull.Traced, Result: pull.Result{PeakNm: 60.4}},
		"92.5°":                   {Evidence: pull.Marked, Result: pull.Result{TurnDeg: 92.5}},
	} {
		if got := pulledFigure(&p); got != want {
			t.Errorf("%+v: %q, not %q", p, got, want)
		}
	}
}
