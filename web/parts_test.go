package web

import (
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"
	"time"

	"lugtak/core/job"
	"lugtak/core/plan"
	"lugtak/device/sim"
	"lugtak/device/supply"
)

// Parts are priced, ordered, and waited for by the supplier's word; one that gives no answer
// leaves the list to be printed.
func TestPartsAreOrdered(t *testing.T) {
	h := atWork(t, nil)
	h.startedUpTo("chocks.chock", plan.Task{Operation: "stabiliser-link", Corner: "FL"},
		plan.Task{Operation: "tie-rod-outer", Corner: "FR"})
	page := func() string {
		_, body := get(t, h.client, "http://"+h.addr+"/jobs/"+h.job+"/parts")
		return body
	}
	if body := page(); !strings.Contains(body, "No supplier is connected") ||
		strings.Contains(body, "Order what is ticked") {
		t.Error("without a supplier something can be ordered")
	}
	h.refused("parts/order", url.Values{"part": {"x"}}, "No supplier is connected.")

	dead := &supply.Client{Called: "Quay Parts", Base: "http://127.0.0.1:1"}
	h.s.Parts = dead
	if body := page(); !strings.Contains(body, "Quay Parts gives no answer.") {
		t.Error("a supplier that is gone is not told")
	}

	h.s.Parts = &supply.Client{
		Called: "Quay Parts",
		Base:   "http://supplier.invalid",
		Played: true,
		HTTP:   &http.Client{Transport: &sim.Supplier{}},
	}
	body := page()
	if !strings.Contains(body, "simulated") {
		t.Error("a stand-in does not say that it is one")
	}
	boxes := regexp.MustCompile(`name="part" value="([^"]+)"`).FindAllStringSubmatch(body, -1)
	if len(boxes) == 0 {
		t.Fatal("nothing can be ordered")
	}
	key := boxes[0][1]
	h.refused("parts/order", url.Values{}, "No part is ticked")
	h.must("parts/order", url.Values{"part": {key}, "id": {"order-1"}})
	h.must("parts/order", url.Values{"part": {key, boxes[1][1]}, "id": {"order-2"}})
	st := h.state()
	from, known := st.Supplied[key]
	if st.Parts[key] != job.Ordered || !known || from.Supplier != "Quay Parts" || from.Price <= 0 || !from.Simulated {
		t.Errorf("ordered: %v %+v", st.Parts[key], from)
	}
	if wait := from.Due.Sub(h.clock()); wait <= 0 || wait > 3*time.Hour {
		t.Errorf("it is due in %v", wait)
	}
	res, csv := get(t, h.client, "http://"+h.addr+"/jobs/"+h.job+"/parts.csv")
	if res.StatusCode != http.StatusOK || !strings.Contains(csv, key) || !strings.Contains(csv, "ordered,Quay Parts,") {
		t.Errorf("as CSV: %d %q", res.StatusCode, csv)
	}
}
