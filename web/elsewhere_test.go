package web

import (
	"context"
	"encoding/base64"
	"errors"
	"fmt"
	"html"
	"io"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/prometheus/client_golang/prometheus/promhttp"

	"lugtak/core/listing"
	"lugtak/core/vehicle"
	"lugtak/demo"
	"lugtak/pages/office"
	"lugtak/report"
	"lugtak/shop"
)

// told is a chain that says what it is told to.
type told struct {
	past    []listing.Elsewhere
	err     error
	upto    int
	trouble string

	strangers []listing.Stranger
}

func (c told) Past(context.Context, string) ([]listing.Elsewhere, error) { return c.past, c.err }
func (c told) Told() (int, string)                                       { return c.upto, c.trouble }
func (c told) Unnamed() []listing.Stranger                               { return c.strangers }
func (c told) Connected() bool                                           { return c.err == nil }

// What other shops did stands on a vehicle's page; a chain that is not reached is told, and not
// taken for a vehicle nobody has worked on.
func TestElsewhere(t *testing.T) {
	past := []listing.Elsewhere{{
		Shop: "Head Office", Job: "j", Title: "Front strut, left", OdometerKM: 81_000, Owed: 2,
		Findings: []string{"boot torn"}, FollowUps: []string{"wheel nuts again"},
	}}
	for name, c := range map[string]struct {
		chain Chain
		says  []string
	}{
		"past": {
			told{past: past},
			[]string{"Head Office", "Front strut, left", "2 fasteners owed", "boot torn", "still owed: wheel nuts again"},
		},
		"none":        {told{}, []string{"No other shop has worked on it."}},
		"not reached": {told{err: errors.New("no servers")}, []string{"The chain is not reached now.", "do not stand here"}},
		"no chain":    {nil, []string{"This shop is in no chain."}},
	} {
		s, addr, _, client := serve(t, Config{Chain: c.chain})
		if _, err := s.Shop.AddVehicle(t.Context(), vehicle.Vehicle{ID: "x", Fleet: "X-1", VIN: "1M8GDM9AXKP042788",
			Pattern: "ostrel-c22"}); err != nil {
			t.Fatal(err)
		}
		_, body := get(t, client, "http://"+addr+"/vehicles/x/elsewhere")
		for _, want := range c.says {
			if !strings.Contains(body, want) {
				t.Errorf("%s: %q is not told", name, want)
			}
		}
		_, page := get(t, client, "http://"+addr+"/vehicles/x")
		if asks := strings.Contains(page, "/vehicles/x/elsewhere"); asks != (c.chain != nil) {
			t.Errorf("%s: the vehicle's page asks: %v", name, asks)
		}
		_, body = get(t, client, "http://"+addr+"/vehicles/demo-p2/elsewhere")
		if c.chain != nil && !strings.Contains(body, "has no VIN") {
			t.Errorf("%s: a vehicle without a VIN was asked for", name)
		}
	}
}

// Whose word counts in the chain is the foreman's to say, by a key compared by its words: those who were heard and are
// not named stand apart, and what cannot be named is said in place and kept as typed.
func TestShopsAreNamed(t *testing.T) {
	key := base64.StdEncoding.EncodeToString([]byte("thirty-two bytes of another shop"))
	other := base64.StdEncoding.EncodeToString([]byte("thirty-two bytes of a third shop"))
	s, addr, _, technician := serve(t, Config{Chain: told{strangers: []listing.Stranger{
		{Key: key, Says: "Head Office <b>", Heard: time.Now()},
	}}})
	cass := signedIn(t, addr, demo.People[2])
	csrf := csrfOf(t, cass, addr)
	at := "http://" + addr + "/shops"
	_, body := get(t, technician, at)
	for _, want := range []string{
		report.KeyWords(s.Shop.KeyPrint()), s.Shop.PublicKey(), "Head Office &lt;b&gt;",
		report.KeyWords(shop.Fingerprint(key)),
		"nothing that others tell is taken",
	} {
		if !strings.Contains(html.UnescapeString(body), html.UnescapeString(want)) {
			t.Errorf("%q does not stand there", want)
		}
	}
	if strings.Contains(body, "Name it") {
		t.Error("a technician is offered to name a shop")
	}
	for _, c := range []struct{ key, name, says string }{
		{"no key", "Head Office", "That is no key of a shop."},
		{s.Shop.PublicKey(), "Head Office", "the key of this shop itself"},
		{key, " ", "The shop has no name."},
		{" " + key + " ", "Head  Office", ""},
		{other, "HEAD office", "Another shop is named Head Office."},
		{key, "Head Office, west", ""},
	} {
		res, err := cass.PostForm(at, url.Values{"_csrf": {csrf}, "key": {c.key}, "shop": {c.name}})
		if err != nil {
			t.Fatal(err)
		}
		text, err := io.ReadAll(res.Body)
		res.Body.Close()
		if err != nil {
			t.Fatal(err)
		}
		page := html.UnescapeString(string(text))
		typed := c.says == "" || strings.Contains(page, `value="`+c.key+`"`)
		if !strings.Contains(page, c.says) || (res.StatusCode < 400) != (c.says == "") || !typed {
			t.Errorf("%s as %q: %d, %.0s", c.key, c.name, res.StatusCode, text)
		}
	}
	_, body = get(t, cass, at)
	if !strings.Contains(body, "Head Office, west") || strings.Contains(body, "Says it is") {
		t.Error("who is named stands among the strangers, or nowhere")
	}
	named := func() string {
		name, _, err := s.Shop.Trusted(t.Context(), key)
		if err != nil {
			t.Fatal(err)
		}
		return name
	}
	if is := named(); is != "Head Office, west" {
		t.Errorf("it is named %q", is)
	}
	// A name may come back that was there before, and may be taken back: what is said last counts.
	for _, c := range []struct{ do, name, want string }{
		{"", "Head Office", "Head Office"}, {"", "Head Office", "Head Office"}, {"unname", "", ""}, {"unname", "", ""},
		{"", "Head Office", "Head Office"},
	} {
		res, err := cass.PostForm(at, url.Values{"_csrf": {csrf}, "do": {c.do}, "key": {key}, "shop": {c.name}})
		if err != nil {
			t.Fatal(err)
		}
		res.Body.Close()
		if is := named(); is != c.want {
			t.Errorf("%s %q: it is named %q", c.do, c.name, is)
		}
	}
}

// A node of the chain makes no record, by a page or by a script, and looks after its own people.
func TestANodeMakesNoRecords(t *testing.T) {
	s, addr, _, _ := serve(t, Config{ReadOnly: true})
	cass := signedIn(t, addr, demo.People[2])
	csrf := csrfOf(t, cass, addr)
	before, err := s.Shop.LastEvent(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	for path, want := range map[string]int{
		"/jobs/" + demo.HalfDone + "/finding": http.StatusForbidden,
		"/jobs/new":                           http.StatusForbidden,
		"/vehicles/new":                       http.StatusForbidden,
		"/imports":                            http.StatusForbidden,
		"/shelf":                              http.StatusForbidden,
		"/people":                             http.StatusUnprocessableEntity, // it is looked at, and lacks a name
		"/scripts":                            http.StatusUnprocessableEntity,
		"/shops":                              http.StatusUnprocessableEntity,
	} {
		res, err := cass.PostForm("http://"+addr+path, url.Values{"_csrf": {csrf}, "id": {"x"}, "text": {"mirror cracked"}})
		if err != nil {
			t.Fatal(err)
		}
		res.Body.Close()
		if res.StatusCode != want {
			t.Errorf("%s: %d, want %d", path, res.StatusCode, want)
		}
	}
	x := newScript(t, s, addr, "writer", listing.ScopeWrite)
	if res := x.call("POST", "/jobs/"+demo.HalfDone+"/findings", `{"id":"f","text":"mirror"}`,
		nil); res.StatusCode != http.StatusForbidden {
		t.Errorf("a script: %d", res.StatusCode)
	}
	if after, err := s.Shop.LastEvent(t.Context()); err != nil || after != before {
		t.Errorf("%d events, there were %d, %v", after, before, err)
	}
}

// Who prefers ft·lb has it large on the bench, and the other beside it.
func TestFirstUnitByChoice(t *testing.T) {
	s, addr, _, client := serve(t, Config{})
	people, err := s.Shop.People(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	large := func() string {
		_, body := get(t, client, "http://"+addr+"/jobs/"+demo.HalfDone+"/bench?step=front-hub-unit.knuckle-1.FL")
		_, rest, _ := strings.Cut(body, `class="figure`)
		return rest[:min(len(rest), 300)]
	}
	if is := large(); !strings.Contains(is, "N·m") || strings.Contains(is, "ft·lb</span>") {
		t.Errorf("by the shop: %s", is)
	}
	for _, p := range people {
		if p.Name == demo.People[0].Name {
			if err := s.Shop.Prefer(t.Context(), p.ID, listing.Prefers{Unit: "ft-lb"}); err != nil {
				t.Fatal(err)
			}
		}
	}
	s.laid = pageCache{}
	if is := large(); !strings.Contains(is, "44.3") || !strings.Contains(is, "ft·lb") {
		t.Errorf("by choice: %s", is)
	}
	if err := s.Shop.Prefer(t.Context(), people[0].ID, listing.Prefers{Look: "pink"}); err == nil {
		t.Error("a look that is none is kept")
	}
}

// The metrics tell what to be woken for, and no name, address or record of anybody.
func TestMetrics(t *testing.T) {
	s, addr, _, client := serve(t, Config{
		Chain: told{err: errors.New("cut off"), upto: 3, trouble: "an older backup",
			strangers: []listing.Stranger{{Key: "x"}}},
		Version: "9.9",
		Keeping: func() office.Keeping {
			return office.Keeping{Copied: time.Unix(1_700_000_000, 0), CertUntil: time.Unix(1_800_000_000, 0), Room: 7e9}
		},
	})
	get(t, client, "http://"+addr+"/jobs/"+demo.HalfDone+"/bench?step=secretword")
	w := httptest.NewRecorder()
	promhttp.HandlerFor(s.Registry(), promhttp.HandlerOpts{}).ServeHTTP(w, httptest.NewRequest("GET", "/metrics", nil))
	body := w.Body.String()
	last, err := s.Shop.LastEvent(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	for _, want := range []string{
		"lugtak_chain_stuck 1", fmt.Sprintf("lugtak_chain_behind_events %d", last-3), `lugtak_build_info{version="9.9"} 1`,
		"lugtak_backup_timestamp_seconds 1.7e+09", "lugtak_certificate_end_timestamp_seconds 1.8e+09",
		"lugtak_disk_free_bytes 7e+09", "lugtak_writable 1", "lugtak_chain_reached 0", "lugtak_open_jobs 4",
		"lugtak_chain_unnamed 1",
		"lugtak_owed_fasteners 14",
		`lugtak_request_seconds_count{method="GET",route="/jobs/:job/bench",status="200"}`,
	} {
		if !strings.Contains(body, want) {
			t.Errorf("%s is not told", want)
		}
	}
	for _, secret := range []string{"secretword", demo.HalfDone, "Technician", "127.0.0.1"} {
		if strings.Contains(body, secret) {
			t.Errorf("%q is given away", secret)
		}
	}
}
