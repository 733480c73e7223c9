package web

import (
	"bytes"
	"context"
	"errors"
	"io"
	"log/slog"
	"net/http"
	"net/url"
	"strings"
	"testing"
	"time"

	"lugtak/core/listing"
	"lugtak/demo"
)

// A calendar subscribes by an address that is its secret: it reads what is due and nothing else, its address stands in
// no log, and kept out it is no more. No other token opens it.
func TestACalendarSubscribes(t *testing.T) {
	var log bytes.Buffer
	before := slog.Default()
	slog.SetDefault(slog.New(slog.NewTextHandler(&log, nil)))
	defer slog.SetDefault(before)
	s, addr, _, _ := serve(t, Config{Access: true})
	client := signedIn(t, addr, demo.People[2])
	get := func(path string) (int, string, string) {
		t.Helper()
		res, err := http.Get("http://" + addr + path)
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		text, _ := io.ReadAll(res.Body)
		return res.StatusCode, res.Header.Get("Content-Type"), string(text)
	}
	form := url.Values{"do": {"let-in"}, "name": {"the wall"}, "scope": {"calendar"}, "_csrf": {csrfOf(t, client, addr)}}
	res, err := client.PostForm("http://"+addr+"/scripts", form)
	if err != nil {
		t.Fatal(err)
	}
	page, _ := io.ReadAll(res.Body)
	res.Body.Close()
	_, rest, found := strings.Cut(string(page), "http://"+addr+calendarPath)
	secret, _, _ := strings.Cut(rest, ".ics")
	if !found || len(secret) < 20 {
		t.Fatalf("no address is shown: %s", page)
	}
	if code, kind, text := get(calendarPath + secret + ".ics"); code != 200 || !strings.HasPrefix(kind, "text/calendar") ||
		!strings.Contains(text, "BEGIN:VCALENDAR") {
		t.Errorf("%d %s %s", code, kind, text)
	}
	x := script{t, addr, secret}
	if res := x.call("GET", "/jobs", "", nil); res.StatusCode != http.StatusForbidden {
		t.Errorf("a calendar reads jobs: %d", res.StatusCode)
	}
	reader := newScript(t, s, addr, "reads", listing.ScopeRead)
	if code, _, _ := get(calendarPath + reader.secret + ".ics"); code != http.StatusNotFound {
		t.Errorf("another token opens it: %d", code)
	}
	if res := reader.call("GET", "/due.ics", "", nil); res.StatusCode != http.StatusOK {
		t.Errorf("a script reads what is due: %d", res.StatusCode)
	}
	all, err := s.Shop.Scripts(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	for _, x := range all {
		if x.Scope == listing.ScopeCalendar {
			if err := s.Shop.KeepScriptOut(t.Context(), x.ID, "test", s.Shop.Now()); err != nil {
				t.Fatal(err)
			}
		}
	}
	if code, _, _ := get(calendarPath + secret + ".ics"); code != http.StatusNotFound {
		t.Errorf("kept out it still answers: %d", code)
	}
	if strings.Contains(log.String(), secret) {
		t.Error("its address stands in the log")
	}
}

// A script that asks a page is told where its calls are, and is not led to where people sign in; who is asked to wait
// is told for how long.
func TestWhoIsNotLetIn(t *testing.T) {
	s, addr, _, _ := serve(t, Config{})
	x := newScript(t, s, addr, "reads", listing.ScopeRead)
	req, err := http.NewRequest(http.MethodGet, "http://"+addr+"/due.ics", nil)
	if err != nil {
		t.Fatal(err)
	}
	req.Header.Set("Authorization", "Bearer "+x.secret)
	res, err := http.DefaultClient.Do(req)
	if err != nil {
		t.Fatal(err)
	}
	text, _ := io.ReadAll(res.Body)
	res.Body.Close()
	if res.StatusCode != http.StatusUnauthorized || res.Header.Get("WWW-Authenticate") == "" ||
		!strings.Contains(string(text), "/api/v1") {
		t.Errorf("%d %v", res.StatusCode, res.Header)
	}
	wait := ""
	for range 8 {
		res, err := http.PostForm("http://"+addr+"/signin", url.Values{"name": {"Technician Aro"}, "pin": {"0000"}})
		if err != nil {
			t.Fatal(err)
		}
		res.Body.Close()
		if res.StatusCode == http.StatusTooManyRequests {
			wait = res.Header.Get("Retry-After")
		}
	}
	if wait == "" || wait == "0" {
		t.Errorf("who guesses is told to wait for %q", wait)
	}
}

// A hook is tried from the page, and what it answered stands there.
func TestAHookIsTried(t *testing.T) {
	var tried int
	answer := errors.New("it answered 503")
	s, addr, _, _ := serve(t, Config{TryHook: func(context.Context, listing.Hook, time.Time) error {
		tried++
		return answer
	}})
	client := signedIn(t, addr, demo.People[2])
	if _, err := s.Shop.AddHook(t.Context(), "http://127.0.0.1:9/told", nil, "test", s.Shop.Now()); err != nil {
		t.Fatal(err)
	}
	all, err := s.Shop.Hooks(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	form := url.Values{"do": {"try-hook"}, "which": {all[0].ID}, "_csrf": {csrfOf(t, client, addr)}}
	for _, says := range []string{"it answered 503", "took it"} {
		res, err := client.PostForm("http://"+addr+"/scripts", form)
		if err != nil {
			t.Fatal(err)
		}
		text, _ := io.ReadAll(res.Body)
		res.Body.Close()
		if !strings.Contains(string(text), says) {
			t.Errorf("%d, it does not say %q", res.StatusCode, says)
		}
		answer = nil
	}
	if tried != 2 {
		t.Errorf("tried %d times", tried)
	}
}
