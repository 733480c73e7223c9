package web

import (
	"math"
	"net/url"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"lugtak/core/job"
)

// A pull that was kept stands on the page until the next fastener comes, with what was read of it and its sibling's
// curve; one that is not counted, or was struck, does not.
func TestAVerdictStands(t *testing.T) {
	h := atWork(t, nil)
	send := func(letter string, nm float64) (*job.Pull, string) {
		t.Helper()
		h.must("claim", on(letter, "tool", "w3"))
		h.must("trace", on(letter, "tool", "w3", "csv", trace(nm)))
		p := last(h.state())
		page, _ := h.bench("?pull=" + p.ID)
		return p, page
	}
	if _, page := send("B", 48); strings.Contains(page, "B is kept") || !strings.Contains(page, "not counted") {
		t.Error("a low pull stands as kept")
	}
	b, page := send("B", 60)
	read := 0.0 // by hand, from what was sent
	for _, line := range strings.Split(strings.TrimSpace(trace(60)), "\n")[1:] {
		nm, err := strconv.ParseFloat(strings.Split(line, ",")[2], 64)
		if err != nil {
			t.Fatal(err)
		}
		read = max(read, nm)
	}
	figure := regexp.MustCompile(`<b>([\d.]+)</b> <span>N·m <small>([\d.]+) ft·lb`).FindStringSubmatch(page)
	if len(figure) != 3 {
		t.Fatal("no figure in both units")
	}
	nm, _ := strconv.ParseFloat(figure[1], 64)
	ft, _ := strconv.ParseFloat(figure[2], 64)
	if math.Abs(nm-read) > 0.3 || math.Abs(ft-nm/1.3558179483) > 0.05 { // one reading may be noise
		t.Errorf("it stands at %v N·m and %v ft·lb, sent were %.2f", nm, ft, read)
	}
	for _, words := range []string{
		"B is kept", "in 57.6–62.4 N·m",
		"did not turn back", "To C", `data-counts="2500"`,
	} {
		if !strings.Contains(page, words) {
			t.Errorf("B does not say %q", words)
		}
	}
	if strings.Contains(page, `class="beside"`) {
		t.Error("nothing stands beside the first")
	}
	_, page = send("C", 60)
	for _, words := range []string{"C is kept", `class="beside"`, "B went like this"} {
		if !strings.Contains(page, words) {
			t.Errorf("C does not say %q", words)
		}
	}
	if strings.Contains(page, "rose like") {
		t.Error("with one other nothing was compared")
	}
	c := last(h.state())
	h.must("slacken", on("C", "reason", "to see its washer"))
	if page, _ := h.bench("?pull=" + c.ID); strings.Contains(page, "C is kept") {
		t.Error("what was slackened since stands as kept")
	}
	h.must("strike", url.Values{"pull": {b.ID}, "reason": {"the socket was not down"}})
	if page, _ := h.bench("?pull=" + b.ID); strings.Contains(page, "B is kept") {
		t.Error("what was struck stands as kept")
	}
}
