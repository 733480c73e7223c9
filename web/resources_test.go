package web

import (
	"bufio"
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/demo"
)

// script is a program with a token.
type script struct {
	t            *testing.T
	addr, secret string
}

func newScript(t *testing.T, s *Server, addr, name string, scope listing.Scope) script {
	t.Helper()
	secret, err := s.Shop.LetScriptIn(t.Context(), name, scope, "test", time.Now())
	if err != nil {
		t.Fatal(err)
	}
	return script{t, addr, secret}
}

// call asks and reads the answer into a value; header holds names and values in turn.
func (x script) call(method, path, body string, into any, header ...string) *http.Response {
	x.t.Helper()
	req, err := http.NewRequest(method, "http://"+x.addr+"/api/v1"+path, strings.NewReader(body))
	if err != nil {
		x.t.Fatal(err)
	}
	req.Header.Set("Authorization", "Bearer "+x.secret)
	for i := 0; i+1 < len(header); i += 2 {
		req.Header.Set(header[i], header[i+1])
	}
	res, err := http.DefaultClient.Do(req)
	if err != nil {
		x.t.Fatal(err)
	}
	data, err := io.ReadAll(res.Body)
	res.Body.Close()
	if err != nil {
		x.t.Fatal(err)
	}
	if into != nil && json.Unmarshal(data, into) != nil {
		x.t.Fatalf("%s %s: %d %s", method, path, res.StatusCode, data)
	}
	return res
}

// paged follows a list to its end and gives the ids of all its items.
func (x script) paged(path, field string) []string {
	x.t.Helper()
	var out []string
	after := ""
	for range 10_000 {
		var p struct {
			Items []map[string]any
			Next  string
		}
		x.call("GET", path+"&after="+after, "", &p)
		for _, item := range p.Items {
			out = append(out, fmt.Sprint(item[field]))
		}
		if p.Next == "" {
			return out
		}
		after = strings.ReplaceAll(p.Next, "+", "%2B")
	}
	x.t.Fatal(path + " does not end")
	return nil
}

// A list read in small pages is the whole list, nothing twice.
func TestPagesAreTheWholeList(t *testing.T) {
	s, addr, _, _ := serve(t, Config{})
	x := newScript(t, s, addr, "reader", listing.ScopeRead)
	for _, c := range []struct{ path, field string }{
		{"/vehicles", "id"}, {"/jobs", "id"}, {"/jobs?state=open", "id"}, {"/follow-ups", "title"},
		{"/events", "n"}, {"/jobs/" + demo.HalfDone + "/events", "seq"},
	} {
		join := "?"
		if strings.Contains(c.path, "?") {
			join = "&"
		}
		small, large := x.paged(c.path+join+"limit=3", c.field), x.paged(c.path+join+"limit=200", c.field)
		if len(small) == 0 || !slices.Equal(small, large) {
			t.Errorf("%s: %d in pages of 3, %d in pages of 200", c.path, len(small), len(large))
		}
		if once := slices.Compact(slices.Sorted(slices.Values(small))); c.field != "title" && len(once) != len(small) {
			t.Errorf("%s: something stands there twice", c.path)
		}
	}
	var p map[string]any
	for _, bad := range []string{"/jobs?limit=0", "/jobs?limit=x", "/jobs?after=x", "/jobs?state=done", "/events?after=-1",
		"/follow-ups?after=x"} {
		if res := x.call("GET", bad, "", &p); res.StatusCode != 422 || p["remedy"] == "" || p["field"] == nil {
			t.Errorf("%s: %d %v", bad, res.StatusCode, p)
		}
	}
}

// What has not changed since is not sent again.
func TestUnchangedIsNotSentAgain(t *testing.T) {
	s, addr, _, _ := serve(t, Config{})
	x := newScript(t, s, addr, "writer", listing.ScopeWrite)
	path := "/jobs/" + demo.HalfDone + "/findings"
	first := x.call("GET", path, "", nil)
	tag := first.Header.Get("ETag")
	if res := x.call("GET", path, "", nil, "If-None-Match", tag); tag == "" || res.StatusCode != http.StatusNotModified {
		t.Errorf("asked with %s: %d", tag, res.StatusCode)
	}
	if res := x.call("POST", path, `{"id":"seen","text":"mirror cracked"}`, nil); res.StatusCode != http.StatusCreated {
		t.Fatal(res.Status)
	}
	if res := x.call("GET", path, "", nil, "If-None-Match", tag); res.StatusCode != http.StatusOK {
		t.Errorf("after a finding: %d", res.StatusCode)
	}
}

// What a script writes stands under a name of its own, once, and never as evidence.
func TestScriptsWriteOnceUnderTheirName(t *testing.T) {
	s, addr, _, _ := serve(t, Config{})
	x := newScript(t, s, addr, "fleet office", listing.ScopeWrite)
	id := "0b6b4c5e-0000-4000-8000-000000000001"
	begin := `{"id":"` + id + `","vehicle":"demo-p2","complaint":"knocks over bumps","odometer_km":190000}`
	var whole struct {
		ID, State string
		Seq       int
	}
	for i, want := range []int{201, 200} {
		if res := x.call("POST", "/jobs", begin, &whole); res.StatusCode != want || whole.ID != id || whole.Seq != 1 {
			t.Fatalf("sent %d times: %d %+v", i+1, res.StatusCode, whole)
		}
	}
	var p struct{ Code, Field, Title, Remedy string }
	other := strings.Replace(begin, "knocks", "squeals", 1)
	if res := x.call("POST", "/jobs", other, &p); res.StatusCode != 409 || p.Title != "In conflict" {
		t.Errorf("the same id for another job: %d %+v", res.StatusCode, p)
	}
	for _, c := range []struct {
		path, body string
		code       int
		field      string
	}{
		{"/jobs", `{"id":"no uuid","vehicle":"demo-p2","complaint":"x","odometer_km":190000}`, 422, "id"},
		{"/jobs", strings.Replace(begin, "demo-p2", "none", 1), 404, "vehicle"},
		{"/jobs", strings.Replace(strings.Replace(begin, "01\"", "02\"", 1), "190000", "5", 1), 422, "odometer_km"},
		{"/jobs", `{`, 400, ""},
		{"/jobs", `{"signed":true}`, 400, ""},
		{"/jobs/" + id + "/findings", `{"id":"f1","text":""}`, 422, "text"},
		{"/jobs/" + id + "/findings", `{"id":"f1","text":"worn","by":"Foreman Cass"}`, 422, "by"},
		{"/vehicles", `{"fleet":"Z-9","plate":"","vin":"","pattern":"none"}`, 422, "pattern"},
		{"/vehicles", `{"fleet":"Z-9","plate":"","vin":"1M8GDM9AXKP042789","pattern":"ostrel-c22"}`, 422, "vin"},
	} {
		p.Field = ""
		if res := x.call("POST", c.path, c.body, &p); res.StatusCode != c.code || p.Field != c.field || p.Remedy == "" {
			t.Errorf("%s %s: %d %+v", c.path, c.body, res.StatusCode, p)
		}
	}
	van := `{"id":"z9","fleet":"Z-9","plate":"ZZ 9","vin":"","pattern":"ostrel-c22","name":"Ostrel C22 van"}`
	for i, want := range []int{201, 200} {
		if res := x.call("POST", "/vehicles", van, nil); res.StatusCode != want {
			t.Errorf("the vehicle sent %d times: %d", i+1, res.StatusCode)
		}
	}
	if res := x.call("POST", "/vehicles", strings.Replace(van, "ZZ 9", "ZZ 8", 1), nil); res.StatusCode != 409 {
		t.Errorf("another vehicle under its id: %d", res.StatusCode)
	}
	if res := x.call("POST", "/vehicles", strings.Replace(van, "z9", "z10", 1), nil); res.StatusCode != 409 {
		t.Errorf("another vehicle of its number: %d", res.StatusCode)
	}
	st, err := s.Shop.Job(t.Context(), id)
	if err != nil || st.LastBy != "script fleet office" {
		t.Errorf("the job stands under %q, %v", st.LastBy, err)
	}
	for _, path := range []string{"/jobs/" + demo.HalfDone + "/sign", "/jobs/" + demo.HalfDone + "/click"} {
		if res := x.call("POST", path, `{}`, nil); res.StatusCode != 404 && res.StatusCode != 405 {
			t.Errorf("%s: %d", path, res.StatusCode)
		}
	}
	if res := x.call("POST", "/jobs/"+demo.HalfDone+"/pulls", `{"id":"p","claim":"c","peak_nm":95}`,
		nil); res.StatusCode != 401 {
		t.Errorf("a pull of a script: %d", res.StatusCode)
	}
}

// lineOf reads a stream until a line begins so.
func lineOf(t *testing.T, r *bufio.Reader, begins string) string {
	t.Helper()
	for {
		line, err := r.ReadString('\n')
		if err != nil {
			return ""
		}
		if strings.HasPrefix(line, begins) {
			return strings.TrimSpace(strings.TrimPrefix(line, begins))
		}
	}
}

// A stream takes up where it was left, tells what comes, and ends with the token.
func TestEventStream(t *testing.T) {
	s, addr, _, _ := serve(t, Config{})
	x := newScript(t, s, addr, "watcher", listing.ScopeRead)
	last, err := s.Shop.LastEvent(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	req, err := http.NewRequest("GET", "http://"+addr+"/api/v1/events/stream", nil)
	if err != nil {
		t.Fatal(err)
	}
	req.Header.Set("Authorization", "Bearer "+x.secret)
	req.Header.Set("Last-Event-ID", fmt.Sprint(last-2))
	res, err := http.DefaultClient.Do(req)
	if err != nil {
		t.Fatal(err)
	}
	defer res.Body.Close()
	r := bufio.NewReader(res.Body)
	for n := last - 1; n <= last; n++ {
		if got := lineOf(t, r, "id: "); got != fmt.Sprint(n) {
			t.Fatalf("the stream goes on with %q, not %d", got, n)
		}
	}
	m := job.Meta{ID: "told", By: "Technician Aro", Role: job.Technician, At: time.Now()}
	if _, _, err := s.Shop.Record(t.Context(), demo.HalfDone, m, job.Find{Text: "horn is silent"}); err != nil {
		t.Fatal(err)
	}
	if got := lineOf(t, r, "id: "); got != fmt.Sprint(last+1) {
		t.Fatalf("it told of event %s", got)
	}
	if got := lineOf(t, r, "event: "); got != "found" {
		t.Fatalf("it told of %q", got)
	}
	if got := lineOf(t, r, "data: "); !strings.Contains(got, "horn is silent") {
		t.Error(got)
	}
	scripts, err := s.Shop.Scripts(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	if err := s.Shop.KeepScriptOut(t.Context(), scripts[0].ID, "test", time.Now()); err != nil {
		t.Fatal(err)
	}
	if got := lineOf(t, r, "id: "); got != "" {
		t.Errorf("after its token ended it told of %s", got)
	}
}

// A page's stream ends with its session: who is locked out is told no more.
func TestStreamEndsWithItsSession(t *testing.T) {
	s, addr, _, client := serve(t, Config{})
	res, err := client.Get("http://" + addr + "/jobs/" + demo.HalfDone + "/live")
	if err != nil {
		t.Fatal(err)
	}
	defer res.Body.Close()
	r := bufio.NewReader(res.Body)
	if lineOf(t, r, "event: change") != "" {
		t.Fatal("no first word")
	}
	people, err := s.Shop.People(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	for _, p := range people {
		if p.Name == demo.People[0].Name {
			if err := s.Shop.SetActive(t.Context(), p.ID, false, "test"); err != nil {
				t.Fatal(err)
			}
		}
	}
	s.Shop.Hub.Send("job:"+demo.HalfDone, "change", map[string]int{"seq": 999})
	rest, err := io.ReadAll(r)
	if err != nil || bytes.Contains(rest, []byte("999")) {
		t.Errorf("%v %s", err, rest)
	}
}
