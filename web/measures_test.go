package web

import (
	"net/url"
	"strings"
	"testing"

	"lugtak/core/plan"
)

// A rotor that is too thin is no longer kept by a word: the plan and its parts follow what was
// measured, in one act.
func TestARotorVerdictChangesThePlan(t *testing.T) {
	for verdict, c := range map[string]struct{ readings, says, way string }{
		"replace": {"24.9 24.9 25.1", "always renewed", "always"},
		"machine": {"26.40 26.45 26.40", "machined", "machine"},
		"keep":    {"26.40 26.41 26.40", "", "measure"},
	} {
		h := atWork(t, nil)
		step := h.startedUpTo("pads-rotors.measure",
			plan.Task{Operation: "pads-rotors", Corner: "FL"}, plan.Task{Operation: "pads-rotors", Corner: "FR"})
		form := url.Values{
			"step":     {string(step.ID)},
			"stay":     {"1"},
			"readings": {c.readings},
			"new":      {"28"},
			"discard":  {"25"},
		}
		h.must("rotor", form)
		body, _ := h.bench("?step=" + string(step.ID))
		if strings.Contains(body, "Change plan and parts") != (c.says != "") || !strings.Contains(body, c.says) {
			t.Errorf("%s: the page offers no change to %q", verdict, c.says)
		}
		if !strings.Contains(body, "thickness round the rotor") {
			t.Errorf("%s: the disc is not drawn", verdict)
		}
		if c.says == "" {
			continue
		}
		h.must("school", url.Values{"school": {"rotors"}, "way": {c.way}})
		st := h.state()
		if got := st.Plan.Way("rotors"); got != c.way {
			t.Errorf("%s: the plan goes by %q", verdict, got)
		}
		if ordered := st.Plan.Step("pads-rotors.compare-rotor.FL") != nil; ordered != (verdict == "replace") {
			t.Errorf("%s: new rotors in the plan: %v", verdict, ordered)
		}
	}
}
