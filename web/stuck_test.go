package web

import (
	"net/url"
	"regexp"
	"strings"
	"testing"

	"lugtak/core/job"
	"lugtak/core/plan"
)

// A pull on what is stuck is told as a risk, less where a thin place was seen, and what was said of it stays said.
func TestAPullOnWhatIsStuckIsARisk(t *testing.T) {
	h := atWork(t, nil)
	step := h.startedUpTo("front-hub-unit.knuckle-crack", plan.Task{Operation: "front-hub-unit", Corner: "FL"})
	h.must("trouble", url.Values{"step": {string(step.ID)}, "letter": {"A"}, "what": {string(job.Stuck)}})
	id := h.state().OpenTroubles()[0].ID
	page := func(more string) string {
		_, body := get(t, h.client, "http://"+h.addr+"/jobs/"+h.job+"/release?trouble="+id+more)
		return body
	}
	yields := regexp.MustCompile(`yields near (\d+)`)
	whole := page("")
	thin := page("&waist=8.1&said=1&near=boot&keep=boot")
	a, b := yields.FindStringSubmatch(whole), yields.FindStringSubmatch(thin)
	if a == nil || b == nil || len(b[1]) >= len(a[1]) {
		t.Fatalf("yields near %v, with a thin place near %v", a, b)
	}
	if strings.Contains(whole, "safe") || !strings.Contains(whole, "is a risk") {
		t.Error("a pull is called safe")
	}
	// Turned on by angle it stands near its yield: what it took in the end counts, not its first torque.
	figure := regexp.MustCompile(`That is below the (\d+)`)
	for _, body := range []string{whole, thin} {
		if m := figure.FindStringSubmatch(body); m == nil || len(m[1]) < 3 {
			t.Errorf("it is not said that it yields below what it was tightened to: %v", m)
		}
	}
	// What is kept is asked before heat, a blow or a cut, once; before what hurts nothing it is not.
	for rung, asks := range map[string]bool{"impact": true, "heat": true, "impact&kept=1": false, "bar": false} {
		body := page("&said=1&rung=" + rung)
		if got := strings.Contains(body, "What of this is kept?"); got != asks ||
			strings.Contains(body, `value="freed"`) == asks {
			t.Errorf("before %s it is asked what is kept: %v", rung, got)
		}
	}
	if !strings.Contains(thin, `name="near" value="boot"`) || !strings.Contains(thin, "waist=8.1") {
		t.Error("what was said of it is forgotten")
	}
}
