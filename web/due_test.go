package web

import (
	"html"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"lugtak/core/job"
	"lugtak/core/plan"
)

// An alignment comes back with its sheet, held against what was counted on the tie rod; what is
// wrong in it is said in place, and stays typed.
func TestAlignmentSheet(t *testing.T) {
	h := atWork(t, nil)
	h.startedUpTo("none", plan.Task{Operation: "tie-rod-outer", Corner: "FR"})
	st, _, err := h.s.Shop.Record(t.Context(), h.job,
		job.Meta{ID: "sign", By: "Technician Aro", Role: job.Technician, At: h.clock()}, job.Sign{})
	if err != nil {
		t.Fatal(err)
	}
	no := ""
	for _, d := range st.Dues() {
		if d.Aligns() {
			no = string(rune('0' + d.No))
		}
	}
	if no == "" {
		t.Fatalf("no alignment is owed: %+v", st.Dues())
	}
	form := func(sheet string) url.Values {
		return url.Values{"no": {no}, "odometer": {"80010"}, "sheet": {sheet}}
	}
	h.refused("due", form(""), "The alignment has no sheet.")
	h.refused("due", form("FR, tow, 0.3, 0.1"), "is no angle")
	h.refused("due", form("RL, camber, -1, -1"), "The sheet has no toe")
	if _, body := h.post("due", form("FR, tow, 0.3, 0.1")); !strings.Contains(body, "FR, tow, 0.3, 0.1") {
		t.Error("what was typed is lost")
	}
	h.must("due", form("wheel, angle, before, after\nFR, toe, 0.12, 0.08\nFL, toe, 0.08, 0.08"))
	res, page := get(t, h.client, "http://"+h.addr+"/jobs/"+h.job+"/ledger")
	for _, want := range []string{"sheet of 2 angles", "+0.12°", "foretold toe +0.00°", "As foretold."} {
		if res.StatusCode != http.StatusOK || !strings.Contains(html.UnescapeString(page), want) {
			t.Errorf("the ledger lacks %q", want)
		}
	}
}
