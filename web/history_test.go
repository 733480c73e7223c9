package web

import (
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"
)

// One's own PIN is changed with the old one, and ends one's sessions.
func TestOwnPIN(t *testing.T) {
	addr, _, client := shop(t)
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
	if code := change("0000", "8642"); code != http.StatusUnprocessableEntity {
		t.Errorf("with a wrong one: %d", code)
	}
	if code := change("2401", "12"); code != http.StatusUnprocessableEntity {
		t.Errorf("to one that is too short: %d", code)
	}
	if code := change("2401", "8642"); code != http.StatusSeeOther {
		t.Errorf("changed: %d", code)
	}
	if res, _ := get(t, client, base+"/pin"); res.StatusCode == http.StatusOK && !strings.Contains(res.Request.URL.Path, "signin") {
		t.Error("the session outlives its PIN")
	}
}

// A vehicle's past and what a tool has tightened are told from the journals.
func TestHistoryAndRecall(t *testing.T) {
	addr, _, client := shop(t)
	base := "http://" + addr
	for path, want := range map[string][]string{
		"/vehicles/demo-p2": {"Hub unit on the solid front axle, right", "58310 km", "signed by Technician Bel", "Wheel nuts again"},
		"/crib/w2/recall":   {"Tightened with wrench 2", "P-2", "4 unit bolts", "8 wheel nuts", "it has left"},
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
	if res, _ := get(t, client, base+"/vehicles/none"); res.StatusCode != 404 {
		t.Errorf("a vehicle that is none: %d", res.StatusCode)
	}
}
