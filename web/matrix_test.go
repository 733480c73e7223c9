package web

import (
	"io"
	"net/http"
	"net/url"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"lugtak/core/listing"
	"lugtak/demo"
)

// asks are those who ask: nobody, each role by its session, and each kind of token.
var asks = []string{"stranger", "reader", "technician", "foreman", "read token", "write token", "ended token"}

// What may be had by whom, written from the design and not from the routes: a route that fits
// none of the lines fails.
var matrix = []struct {
	route   string // method and address, as they are mounted
	let     string // who comes in, by their first letters as in asks
	because string
}{
	{`GET /(static/|pictures/|sw\.js|manifest|signin|nonetwork|healthz)`, "srtfRWe", "before anybody is in"},
	{`GET /calendar/`, "srtfRWe", "its address is its secret: another is that of no calendar"},
	{`POST /signin`, "srtfRWe", "it lets in"},
	{`GET /api/v1/(openapi|schemas)`, "srtfRWe", "it tells how to ask"},
	{`POST /api/v1/calc/`, "srtfRWe", "calculations hold no record"},
	{`GET /api/v1/tools/claim|POST /api/v1/jobs/:job/pulls`, "", "a tool's own token alone"},
	{`POST /api/v1/`, "W", "a token that may write"},
	{`GET /api/v1/`, "rtfRW", "whoever may read"},
	{`(GET|POST) /(people|scripts|acts|imports|shop(/prices)?$)`, "f", "the foreman's office"},
	{`POST /shops`, "f", "whose word counts is the foreman's to say"},
	{`POST /crib(/(sockets|adapters))?$`, "f", "the foreman's"},
	{`POST /crib/:tool/token`, "f", "the foreman's"},
	{`POST /(signout|pin|you|sessions/|reckoner/|practice)`, "rtf", "one's own, and no record"},
	{`POST /`, "tf", "a record"},
	{`GET /`, "rtf", "pages"},
}

// Every route, asked by everybody with an empty form: who is not to come in never does, and
// nobody is kept out who is.
func TestEveryRouteByEveryRole(t *testing.T) {
	s, addr, _, technician := serve(t, Config{})
	ctx := t.Context()
	if _, err := s.Shop.AddPerson(ctx, "Reader Dun", "reader", "7293", "test"); err != nil {
		t.Fatal(err)
	}
	clients := map[string]*http.Client{
		"stranger":   {CheckRedirect: technician.CheckRedirect},
		"reader":     signedIn(t, addr, demo.Person{Name: "Reader Dun", PIN: "7293"}),
		"technician": technician,
		"foreman":    signedIn(t, addr, demo.People[2]),
	}
	bearers := map[string]string{}
	for name, scope := range map[string]listing.Scope{
		"read token": listing.ScopeRead, "write token": listing.ScopeWrite, "ended token": listing.ScopeWrite,
	} {
		secret, err := s.Shop.LetScriptIn(ctx, name, scope, "test", time.Now())
		if err != nil {
			t.Fatal(err)
		}
		bearers[name] = secret
		clients[name] = clients["stranger"]
	}
	scripts, err := s.Shop.Scripts(ctx)
	if err != nil {
		t.Fatal(err)
	}
	for _, x := range scripts {
		if x.Name == "ended token" {
			if err := s.Shop.KeepScriptOut(ctx, x.ID, "test", time.Now()); err != nil {
				t.Fatal(err)
			}
		}
	}
	csrf := map[string]string{}
	for _, who := range []string{"reader", "technician", "foreman"} {
		csrf[who] = csrfOf(t, clients[who], addr)
	}
	used := make([]bool, len(matrix))
	for _, r := range s.App.GetRoutes(true) {
		if r.Method == http.MethodHead || strings.HasSuffix(r.Path, "/live") || strings.HasSuffix(r.Path, "/stream") {
			continue // the same as GET; streams do not end: presence_test and stream_test ask them
		}
		route := r.Method + " " + r.Path
		i := slices.IndexFunc(matrix, func(m struct{ route, let, because string }) bool {
			return regexp.MustCompile("^(" + m.route + ")").MatchString(route)
		})
		if i < 0 {
			t.Errorf("%s: nobody has said who may", route)
			continue
		}
		used[i] = true
		for _, who := range asks {
			if who != "stranger" && who != "ended token" && r.Path == "/signout" {
				continue // it would end what the next asks with
			}
			wants := strings.Contains(matrix[i].let, letterOf(who))
			code, to := ask(t, clients[who], addr, r.Method, filled(r.Path), csrf[who], bearers[who])
			kept := code == 401 || code == 403 || code == 303 && to == "/signin" || code == 302 && to == "/signin"
			if r.Path == "/signin" {
				kept = code == 401 || code == 403
			}
			if kept == wants || code >= 500 {
				t.Errorf("%s by the %s: %d %s; %s", route, who, code, to, matrix[i].because)
			}
		}
	}
	for i, m := range matrix {
		if !used[i] {
			t.Errorf("no route is %s", m.route)
		}
	}
}

// A call that is asked another way says how, and one that is none says so, to programs as to
// programs.
func TestCallsAskedAnotherWay(t *testing.T) {
	addr, _, client := served(t)
	for _, x := range []struct {
		method, path string
		code         int
		allow        string
	}{
		{"GET", "/api/v1/calc/convert", 405, "POST"},
		{"DELETE", "/api/v1/vehicles", 405, "GET, POST"},
		{"GET", "/api/v1/nowhere", 404, ""},
		{"POST", "/api/nowhere", 404, ""},
	} {
		req, err := http.NewRequest(x.method, "http://"+addr+x.path, nil)
		if err != nil {
			t.Fatal(err)
		}
		res, err := client.Do(req)
		if err != nil {
			t.Fatal(err)
		}
		body, _ := io.ReadAll(res.Body)
		res.Body.Close()
		if res.StatusCode != x.code || res.Header.Get("Allow") != x.allow ||
			res.Header.Get("Content-Type") != "application/problem+json" || !strings.Contains(string(body), `"title":"`) ||
			strings.Contains(string(body), `"title":""`) {
			t.Errorf("%s %s: %d, Allow %q, %s", x.method, x.path, res.StatusCode, res.Header.Get("Allow"), body)
		}
	}
}

func letterOf(who string) string {
	return map[string]string{
		"stranger": "s", "reader": "r", "technician": "t", "foreman": "f",
		"read token": "R", "write token": "W", "ended token": "e",
	}[who]
}

// filled is a route with something of the demo in it.
func filled(path string) string {
	for param, value := range map[string]string{
		":job": demo.HalfDone, ":vehicle": "demo-p2", ":sheet": "ostrel-c22", ":tool": "w2", ":pattern": "ostrel-c22",
		":name": "convert",
		":file": "lugtak.css", ":event": "none", ":run": "none", ":person": "none", ":session": "none", ":kind": "pulled",
	} {
		path = regexp.MustCompile(param+`\b`).ReplaceAllString(path, value)
	}
	return path
}

func csrfOf(t *testing.T, c *http.Client, addr string) string {
	t.Helper()
	_, body := get(t, c, "http://"+addr+"/you")
	m := regexp.MustCompile(`name="_csrf" value="([^"]+)"`).FindStringSubmatch(body)
	if m == nil {
		t.Fatal("the page of one's own has no form")
	}
	return m[1]
}

func ask(t *testing.T, c *http.Client, addr, method, path, csrf, bearer string) (code int, to string) {
	t.Helper()
	var body io.Reader
	if method != http.MethodGet {
		body = strings.NewReader(url.Values{"_csrf": {csrf}}.Encode())
	}
	req, err := http.NewRequest(method, "http://"+addr+path, body)
	if err != nil {
		t.Fatal(err)
	}
	req.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	if bearer != "" {
		req.Header.Set("Authorization", "Bearer "+bearer)
	}
	res, err := c.Do(req)
	if err != nil {
		t.Fatal(err)
	}
	io.Copy(io.Discard, res.Body)
	res.Body.Close()
	return res.StatusCode, res.Header.Get("Location")
}
