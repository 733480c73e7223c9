package web

import (
	"fmt"
	"io"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"lugtak/core/plan"
	"lugtak/core/unit"
	"lugtak/demo"
	"lugtak/device"
	"lugtak/device/sim"
	"lugtak/pages/fleet"
	"lugtak/shop"
)

// One's own PIN is changed with the old one, and ends one's sessions.
func TestOwnPIN(t *testing.T) {
	addr, _, client := served(t)
	base := "http://" + addr
	_, page := get(t, client, base+"/pin")
	token := regexp.MustCompile(`name="_csrf" value="([^"]+)"`).FindStringSubmatch(page)[1]
	change := func(old, pin string) int {
		res, err := client.PostForm(base+"/pin", url.Values{"_csrf": {token}, "pin": {old}, "newpin": {pin}})
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		return res.StatusCode
	}
	if code := change("0000", "8264"); code != http.StatusUnprocessableEntity {
		t.Errorf("with a wrong one: %d", code)
	}
	if code := change("2401", "12"); code != http.StatusUnprocessableEntity {
		t.Errorf("to one that is too short: %d", code)
	}
	if code := change("2401", "8264"); code != http.StatusSeeOther {
		t.Errorf("changed: %d", code)
	}
	if res, _ := get(t, client, base+"/pin"); res.StatusCode == http.StatusOK &&
		!strings.Contains(res.Request.URL.Path, "signin") {
		t.Error("the session outlives its PIN")
	}
}

// The crib leads to the stand-in of a wrench that is wired, and to none that nobody plays.
func TestOnlyAWiredWrenchIsPlayed(t *testing.T) {
	for links, rack := range map[int]device.Rack{0: nil, 2: sim.NewRack()} {
		_, addr, _, client := serve(t, Config{}, shop.Options{Devices: rack})
		_, page := get(t, client, "http://"+addr+"/crib")
		if n := strings.Count(page, `href="/wrench/`); n != links {
			t.Errorf("%d links to stand-ins, want %d", n, links)
		}
	}
}

// A vehicle's past and what a tool has tightened are told from the journals.
func TestHistoryAndRecall(t *testing.T) {
	addr, _, client := served(t)
	base := "http://" + addr
	for path, want := range map[string][]string{
		"/vehicles/demo-p2": {
			"Hub unit on the solid front axle, right", unit.Kilometres(58_310), "signed by Technician Bel", "Wheel nuts again",
		},
		"/crib/w2/recall": {"Tightened with wrench 2", "P-2", "4 unit bolts", "8 wheel nuts", "it has left"},
	} {
		res, page := get(t, client, base+path)
		if res.StatusCode != 200 {
			t.Errorf("%s: %d", path, res.StatusCode)
		}
		for _, w := range want {
			if !strings.Contains(page, w) {
				t.Errorf("%s lacks %q", path, w)
			}
		}
	}
	for words, found := range map[string]bool{"WRENCH 2": true, "rumble": true, "hub unit": true, "Bel": true,
		"gearbox": false} {
		_, page := get(t, client, base+"/vehicles/demo-p2?q="+url.QueryEscape(words))
		if got := strings.Contains(page, "Hub unit on the solid front axle, right</a>"); got != found {
			t.Errorf("%q finds the job: %v", words, got)
		}
	}
	if res, _ := get(t, client, base+"/vehicles/none"); res.StatusCode != 404 {
		t.Errorf("a vehicle that is none: %d", res.StatusCode)
	}
}

// What another shop did is typed in, weighs on the next walk-round, and what is wrong in it is
// said beside what was typed.
func TestWorkDoneElsewhere(t *testing.T) {
	h := atWork(t, nil)
	post := func(form url.Values) (int, string) {
		form.Set("_csrf", h.token)
		form.Set("id", strings.ReplaceAll(form.Get("day")+form.Get("what"), " ", "-"))
		res, err := h.client.PostForm("http://"+h.addr+"/vehicles/demo-a3/outside", form)
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		body, _ := io.ReadAll(res.Body)
		return res.StatusCode, string(body)
	}
	share := func() float64 {
		st, err := h.s.Shop.Job(t.Context(), demo.Complaint)
		if err != nil {
			t.Fatal(err)
		}
		w, err := h.s.Shop.Weigh(t.Context(), st)
		if err != nil {
			t.Fatal(err)
		}
		for _, x := range w.Report.Suspects {
			if x.Key == "hub-bearing" {
				return x.Share
			}
		}
		return 0
	}
	before := share()
	code, body := post(url.Values{"day": {"soon"}, "what": {"hub bearing renewed"}, "where": {"the owner"}})
	if code != http.StatusUnprocessableEntity || !strings.Contains(body, "That is no day.") ||
		!strings.Contains(body, "hub bearing renewed") {
		t.Errorf("a day that is none: %d", code)
	}
	code, _ = post(
		url.Values{
			"day":      {"2026-06-02"},
			"what":     {"hub bearing renewed"},
			"where":    {"the owner"},
			"part":     {"hub-bearing"},
			"odometer": {"58000"},
		},
	)
	if code != http.StatusSeeOther {
		t.Fatalf("kept: %d", code)
	}
	_, page := get(t, h.client, "http://"+h.addr+"/vehicles/demo-a3")
	for _, want := range []string{"hub bearing renewed", "58\u202f000 km", "typed in by Technician Aro"} {
		if !strings.Contains(page, want) {
			t.Errorf("the history lacks %q", want)
		}
	}
	if after := share(); after >= before {
		t.Errorf("a bearing renewed half a year ago is as much suspected as before: %.3f, %.3f", before, after)
	}
}

// The fleet is found by number and plate, a page at a time, with what is due of each.
func TestFleetAndLabels(t *testing.T) {
	addr, _, client := served(t)
	base := "http://" + addr
	_, page := get(t, client, base+"/fleet")
	for _, want := range []string{"Q-14", "P-2", "Wheel nuts again", "58\u202f310 km"} {
		if !strings.Contains(page, want) {
			t.Errorf("the fleet lacks %q", want)
		}
	}
	if _, page = get(t, client, base+"/fleet?q=tq+3302"); !strings.Contains(page, "P-2") ||
		strings.Contains(page, "Q-14") {
		t.Error("a plate finds more than its vehicle, or not that")
	}
	if _, page = get(t, client, base+"/jobs/"+demo.Done+"/label"); !strings.Contains(page, "Wheel nuts again") ||
		!strings.Contains(page, "58\u202f410 km") {
		t.Error("the label lacks what is due, or when")
	}
	if res, _ := get(t, client, base+"/jobs/"+demo.HalfDone+"/label"); res.StatusCode != http.StatusNotFound {
		t.Errorf("a label of an open job: %d", res.StatusCode)
	}
}

// One field finds vehicles and jobs; what is typed is text, never markup and never a query.
func TestSearchPage(t *testing.T) {
	addr, _, client := served(t)
	for words, want := range map[string]string{
		"tq 3302":        "/vehicles/demo-p2",
		"chafed":         "/jobs/demo-half-done/ledger",
		"Technician Bel": "/jobs/demo-complaint/ledger",
		"q14":            "/jobs/demo-half-done/bench", // below the vehicle
		`"<b>x`:          "own words speak of all of that.",
	} {
		res, page := get(t, client, "http://"+addr+"/search?q="+url.QueryEscape(words))
		if res.StatusCode != http.StatusOK || !strings.Contains(page, want) || strings.Contains(page, "<b>x") {
			t.Errorf("%q: %d, lacks %q", words, res.StatusCode, want)
		}
	}
	if _, page := get(t, client, "http://"+addr+"/search?q=chafed"); !strings.Contains(page, "<mark>chafed</mark>") {
		t.Error("what was found is not marked")
	}
}

// A vehicle that was here often shows its jobs a page at a time, and is searched whole.
func TestHistoryPages(t *testing.T) {
	h := atWork(t, nil)
	hand := demo.Hand{Shop: h.s.Shop, Lib: h.s.Shop.Library(), By: demo.People[0].Name, Now: h.clock()}
	is, err := h.s.Shop.Vehicle(t.Context(), "demo-p2")
	if err != nil {
		t.Fatal(err)
	}
	for n := range fleet.HistoryPage {
		task := plan.Task{Operation: "solid-axle-hub", Corner: "FL"}
		if err := hand.Start(t.Context(), fmt.Sprint("again-", n), is, "rattles", 60_000+n, task); err != nil {
			t.Fatal(err)
		}
	}
	old := `href="/jobs/` + demo.Done + `/ledger">`
	for query, want := range map[string]struct {
		jobs int
		old  bool
	}{
		"": {fleet.HistoryPage, false}, "?page=2": {1, true}, "?q=rattles": {fleet.HistoryPage, false},
		"?q=rumble":        {1, true},
		"?q=rumble&page=7": {1, true}, "?q=gearbox": {0, false},
	} {
		_, page := get(t, h.client, "http://"+h.addr+"/vehicles/demo-p2"+query)
		if n := strings.Count(page, `class="past"`); n != want.jobs || strings.Contains(page, old) != want.old {
			t.Errorf("%q shows %d jobs, the old one %v; want %+v", query, n, !want.old, want)
		}
		if !strings.Contains(page, "13 jobs in this shop") ||
			!strings.Contains(page, unit.Kilometres(60_011)+" when it was here last") {
			t.Errorf("%q does not tell of all", query)
		}
	}
}
