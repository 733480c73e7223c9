package web

import (
	"net/url"
	"strings"
	"testing"

	"lugtak/demo"
)

// Every printed tag leads to what it hangs on, scanned or typed.
func TestTagsLead(t *testing.T) {
	addr, _, client := served(t)
	for typed, to := range map[string]string{
		"v.demo-p2": "/vehicles/demo-p2",
		"http://another.name:9000/scan?code=v.demo-p2": "/vehicles/demo-p2",
		"p 2":                                    "/vehicles/demo-p2",
		"t.w2":                                   "/crib#w2",
		"W2":                                     "/crib#w2",
		"y." + demo.HalfDone + ".hub.FL.knuckle": "/jobs/" + demo.HalfDone + "/plan#tray-hub-FL-knuckle",
		"":                                       "",
		"nothing":                                "404",
		"y." + demo.HalfDone:                     "404",
		"y.none.hub":                             "404",
		"v." + strings.Repeat("x", 500):          "404",
	} {
		res, body := get(t, client, "http://"+addr+"/scan?code="+url.QueryEscape(typed))
		switch {
		case to == "404":
			if res.StatusCode != 404 || !strings.Contains(body, "Type what stands below the code") {
				t.Errorf("%q: %d", typed, res.StatusCode)
			}
		case to == "":
			if res.StatusCode != 200 {
				t.Errorf("%q: %d", typed, res.StatusCode)
			}
		case res.StatusCode != 303 || res.Header.Get("Location") != to:
			t.Errorf("%q leads to %d %s, want %s", typed, res.StatusCode, res.Header.Get("Location"), to)
		}
	}
	for _, page := range []string{"/tags", "/tags?of=tools", "/tags?job=" + demo.HalfDone} {
		_, body := get(t, client, "http://"+addr+page)
		if n := strings.Count(body, `class="qr"`); n < 5 {
			t.Errorf("%s has %d codes", page, n)
		}
		for _, part := range strings.Split(body, "<code>")[1:] {
			typed, _, _ := strings.Cut(part, "</code>")
			res, _ := get(t, client, "http://"+addr+"/scan?code="+url.QueryEscape(typed))
			if res.StatusCode != 303 {
				t.Errorf("%s: %q leads nowhere: %d", page, typed, res.StatusCode)
			}
		}
	}
}
