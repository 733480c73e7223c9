package web

import (
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"

	"lugtak/core/listing"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/demo"
)

// A program takes in a model nobody entered, brings a figure, plans a job and reads what it still needs; each call
// again is harmless, another content under its id a conflict.
func TestAScriptFillsASheet(t *testing.T) {
	s, addr, _, _ := serve(t, Config{})
	x := newScript(t, s, addr, "catalogue", listing.ScopeWrite)
	type answer map[string]any
	var got answer
	send := func(want int, method, path, body string) answer {
		t.Helper()
		got = answer{}
		if res := x.call(method, path, body, &got); res.StatusCode != want {
			t.Fatalf("%s %s: %d, want %d: %v", method, path, res.StatusCode, want, got)
		}
		return got
	}
	const sheet = `{"id":"own-van","name":"Yard van","outline":{"kind":"van"},"driven":"front",` +
		`"built":{"front-corner":"strut-corner","rear-axle":"beam"}}`
	send(http.StatusCreated, "POST", "/sheets", sheet)
	send(http.StatusOK, "POST", "/sheets", sheet)
	send(http.StatusConflict, "POST", "/sheets", strings.Replace(sheet, "Yard van", "Other van", 1))
	send(http.StatusUnprocessableEntity, "POST", "/sheets", `{"id":"own-2","name":"X","outline":{"kind":"boat"}}`)
	send(http.StatusUnprocessableEntity, "POST", "/sheets", `{"id":"own-3","name":"X","built":{"driven":"sideways"}}`)

	state := func(joint string) string {
		t.Helper()
		for _, j := range send(http.StatusOK, "GET", "/sheets/own-van", "")["joints"].([]any) {
			if j := j.(map[string]any); j["joint"] == joint {
				return fmt.Sprint(j["state"], " ", j["recipe"])
			}
		}
		return "no such joint"
	}
	if got := state("hub.front.knuckle"); got != "unknown <nil>" {
		t.Error(got)
	}
	if got := state("steering.front.upperstud"); got != "no such joint" {
		t.Errorf("a strut corner has an upper ball joint: %s", got)
	}
	const reading = `{"id":"read-1","joint":"hub.front.knuckle","recipe":"60 Nm, then a quarter turn","source":"book"}`
	send(http.StatusCreated, "POST", "/sheets/own-van/readings", reading)
	send(http.StatusOK, "POST", "/sheets/own-van/readings", reading)
	send(http.StatusConflict, "POST", "/sheets/own-van/readings", strings.Replace(reading, "60", "61", 1))
	if got := state("hub.front.knuckle"); got != "read 60 Nm + 90°" {
		t.Error(got)
	}
	for bad, field := range map[string]string{
		`{"id":"b1","joint":"hub.front.knuckle","recipe":"60 Nm + 1/4","source":"book"}`:                      "recipe",
		`{"id":"b2","joint":"hub.front.knuckle","recipe":"60","source":"book"}`:                               "recipe",
		`{"id":"b3","joint":"hub.front.knuckle","recipe":"60 Nm","source":""}`:                                "source",
		`{"id":"b4","joint":"hub.front.moon","recipe":"60 Nm","source":"book"}`:                               "joint",
		`{"id":"b5","joint":"hub.front.wheel","recipe":"900 Nm","thread":"M8","class":"8.8","source":"book"}`: "recipe",
		`{"id":"b6","joint":"hub.front.wheel","recipe":"110 Nm","condition":"flying","source":"book"}`:        "condition",
		`{"id":"b7","joint":"hub.front.wheel","recipe":"110 Nm","count":99,"source":"book"}`:                  "count",
		`{"id":"","joint":"hub.front.wheel","recipe":"110 Nm","source":"book"}`:                               "id",
	} {
		p := send(http.StatusUnprocessableEntity, "POST", "/sheets/own-van/readings", bad)
		if p["field"] != field || p["remedy"] == "" {
			t.Errorf("%s: %v", bad, p)
		}
	}
	other := newScript(t, s, addr, "other", listing.ScopeWrite)
	second := strings.Replace(reading, "read-1", "read-2", 1)
	if res := other.call("POST", "/sheets/own-van/readings", second, nil); res.StatusCode != http.StatusCreated {
		t.Fatal(res.Status)
	}
	if got := state("hub.front.knuckle"); got != "read 60 Nm + 90°" {
		t.Errorf("two programs are a person: %s", got)
	}

	const car = `{"id":"v-own","fleet":"H-31","plate":"","vin":"","sheet":"own-van"}`
	send(http.StatusCreated, "POST", "/vehicles", car)
	send(http.StatusOK, "POST", "/vehicles", car)
	ops := fmt.Sprint(send(http.StatusOK, "GET", "/vehicles/v-own/operations", "")["items"])
	if !strings.Contains(ops, "front-hub-unit@FL") || strings.Contains(ops, "upper-ball-joint") {
		t.Error(ops)
	}
	id := uuid.NewString()
	send(http.StatusCreated, "POST", "/jobs", `{"id":"`+id+`","vehicle":"v-own","complaint":"hum","odometer_km":10}`)
	send(http.StatusUnprocessableEntity, "POST", "/jobs/"+id+"/order", `{"id":"o0","operations":["front-hub-unit@XX"]}`)
	const order = `{"id":"order-1","operations":["front-hub-unit@FL"],"built":{"axle-nut":"castle"}}`
	send(http.StatusOK, "POST", "/jobs/"+id+"/order", order)
	send(http.StatusOK, "POST", "/jobs/"+id+"/order", order)
	figures := send(http.StatusOK, "GET", "/jobs/"+id+"/figures", "")["items"].([]any)
	states := map[string]string{}
	for _, f := range figures {
		f := f.(map[string]any)
		states[fmt.Sprint(f["joint"])] = fmt.Sprint(f["state"])
	}
	if states["hub.front.knuckle"] != "read" || states["hub.front.axle"] != "unknown" || figures[len(figures)-1] == nil {
		t.Errorf("%v", states)
	}
	st, err := s.Shop.Job(t.Context(), id)
	knuckle := st.Plan.Joint("hub.FL.knuckle")
	if err != nil || knuckle.Recipe != "60 Nm + 90°" || !st.WantsReader(knuckle) {
		t.Errorf("%v", err)
	}

	reader := newScript(t, s, addr, "reader", listing.ScopeRead)
	for path, kind := range map[string]string{
		"ledger.csv": "text/csv", "report.pdf": "application/pdf", "report.html": "text/html",
	} {
		res := reader.call("GET", "/jobs/"+id+"/"+path, "", nil)
		if res.StatusCode != http.StatusOK || !strings.HasPrefix(res.Header.Get("Content-Type"), kind) {
			t.Errorf("%s: %d %s", path, res.StatusCode, res.Header.Get("Content-Type"))
		}
	}
	if res := reader.call("POST", "/sheets", `{}`, nil); res.StatusCode != http.StatusForbidden {
		t.Errorf("a token to read writes: %d", res.StatusCode)
	}
}

// A form sent twice, as by a double tap, takes in one vehicle and one model, and leads to the same page.
func TestAVehicleComesInOnce(t *testing.T) {
	h := atWork(t, nil)
	for name, form := range map[string]url.Values{
		"own":   {"fleet": {"T-1"}, "name": {"Yard van"}, "outline": {"van"}, "built-driven": {"front"}},
		"known": {"fleet": {"T-2"}, "sheet": {"ostrel-c22"}},
	} {
		form.Set("_csrf", h.token)
		form.Set("id", uuid.NewString())
		var led []string
		for range 2 {
			res, err := h.client.PostForm("http://"+h.addr+"/vehicles/new", form)
			if err != nil {
				t.Fatal(err)
			}
			res.Body.Close()
			led = append(led, res.Header.Get("Location"))
		}
		if led[0] == "" || led[0] != led[1] {
			t.Errorf("%s: led to %q", name, led)
		}
		some, _, err := h.s.Shop.FindVehicles(t.Context(), form.Get("fleet"), 0, 9)
		if err != nil || len(some) != 1 {
			t.Errorf("%s: %d vehicles, %v", name, len(some), err)
		}
		form.Set("fleet", form.Get("fleet")+"b") // something else under the same id
		res, err := h.client.PostForm("http://"+h.addr+"/vehicles/new", form)
		if err != nil {
			t.Fatal(err)
		}
		res.Body.Close()
		if res.StatusCode == http.StatusSeeOther {
			t.Errorf("%s: another vehicle under the same id was taken", name)
		}
	}
}

// What a joint took is offered unasked on the next job of that sheet: from the job that opened it, and in the words
// somebody added; words of the job at hand come back as well, and its own work does not.
func TestLastTimeIsOffered(t *testing.T) {
	h := atWork(t, nil)
	hand := demo.Hand{Shop: h.s.Shop, Lib: h.s.Shop.Library(), By: demo.People[0].Name, Now: h.clock()}
	is, err := h.s.Shop.Vehicle(t.Context(), "demo-p2")
	if err != nil {
		t.Fatal(err)
	}
	task := plan.Task{Operation: "solid-axle-hub", Corner: "FL"}
	if err := hand.Start(t.Context(), "again", is, "rattles", 60_000, task); err != nil {
		t.Fatal(err)
	}
	st, err := h.s.Shop.Job(t.Context(), "again")
	if err != nil {
		t.Fatal(err)
	}
	i := slices.IndexFunc(st.Plan.Steps, func(s plan.Step) bool { return s.Verb == operation.Tighten && !s.AfterDrive })
	step := st.Plan.Steps[i]
	if _, err := h.s.Shop.Tightened(t.Context(), is.Pattern); err != nil { // the lists are brought up to date
		t.Fatal(err)
	}
	bench := func() string {
		_, page := get(t, h.client, "http://"+h.addr+"/jobs/again/bench?step="+string(step.ID))
		return page
	}
	if page := bench(); strings.Count(page, "Last time:") != 1 || !strings.Contains(page, "P-2, ") {
		t.Error("the job before says nothing of it")
	}
	form := url.Values{
		"_csrf": {h.token}, "id": {uuid.NewString()}, "step": {string(step.ID)}, "joint": {step.Joint},
		"socket": {"18 mm"}, "extension": {"125 mm"}, "blocked": {"full lock left"},
	}
	for range 2 {
		res, err := h.client.PostForm("http://"+h.addr+"/jobs/again/access", form)
		if err != nil || res.StatusCode != http.StatusSeeOther {
			t.Fatalf("%v %v", res.Status, err)
		}
		res.Body.Close()
	}
	if page := bench(); !strings.Contains(page, "18 mm, extension 125 mm: full lock left") {
		t.Error("what was said is not there")
	}
	form.Set("id", uuid.NewString())
	form.Set("socket", "18.4")
	res, err := h.client.PostForm("http://"+h.addr+"/jobs/again/access", form)
	if err != nil || res.StatusCode != http.StatusUnprocessableEntity {
		t.Errorf("no such socket: %v %v", res.Status, err)
	}
	seized, err := h.s.Shop.Seized(t.Context())
	if n := seized[st.Plan.Joint(step.Joint).Sheet]; err != nil || n[0] == 0 {
		t.Errorf("nothing is known of how often it was opened: %v %v", seized, err)
	}
}

// What a shop has and decides is kept by a program too: whole lists, each once, what is wrong at its field.
func TestAScriptKeepsTheCrib(t *testing.T) {
	s, addr, _, _ := serve(t, Config{})
	x := newScript(t, s, addr, "wall", listing.ScopeWrite)
	for _, c := range []struct {
		path, body string
		code       int
		field      string
	}{
		{
			"/shop", `{"id":"s1","name":"Quay Yard","first_unit":"ft-lb","currency":"EUR","rate_per_hour":96,"salt":true}`, 200,
			"",
		},
		{
			"/shop", `{"id":"s1","name":"Quay Yard","first_unit":"ft-lb","currency":"EUR","rate_per_hour":96,"salt":true}`, 200,
			"",
		},
		{"/shop", `{"id":"s1","name":"Another","first_unit":"Nm","salt":true}`, 409, "id"},
		{"/shop", `{"id":"s2","name":"Quay Yard","first_unit":"stone","salt":true}`, 422, "first_unit"},
		{"/shop", `{"id":"s3","name":"Quay Yard","first_unit":"Nm","rate_per_hour":-1,"salt":true}`, 422, "rate_per_hour"},
		{"/crib/sockets", `{"id":"k1","sockets":["18 mm, 1/2 square","14 mm twelve-point"]}`, 200, ""},
		{"/crib/sockets", `{"id":"k2","sockets":["18"]}`, 422, "socket"},
		{"/crib/adapters", `{"id":"k3","adapters":[{"name":"foot","length_mm":50}]}`, 200, ""},
		{"/crib/adapters", `{"id":"k4","adapters":[{"name":"","length_mm":50}]}`, 422, "name"},
		{"/crib/prices", `{"id":"k5","prices":[{"part":"hub-unit","price":148.5}]}`, 200, ""},
		{"/crib/prices", `{"id":"k6","prices":[{"part":"moon","price":1}]}`, 422, "part"},
		{
			"/crib/tools", `{"id":"k7","tools":[{"kind":"click","max_nm":200,"step_nm":1,"drive":"1/2","length_mm":420}]}`, 200,
			"",
		},
		{"/crib/tools", `{"id":"k8","tools":[{"kind":"click","max_nm":2,"step_nm":200,"drive":"1/2","length_mm":420}]}`, 422,
			"step_nm"},
		{"/crib/tools", `{"id":"k9","tools":[]}`, 422, "tools"},
	} {
		var got map[string]any
		res := x.call("POST", c.path, c.body, &got)
		if res.StatusCode != c.code || c.field != "" && got["field"] != c.field {
			t.Errorf("%s %s: %d %v", c.path, c.body, res.StatusCode, got)
		}
	}
	var crib struct {
		Tools    []map[string]any `json:"tools"`
		Sockets  []string         `json:"sockets"`
		Adapters []map[string]any `json:"adapters"`
		Prices   []map[string]any `json:"prices"`
	}
	x.call("GET", "/crib", "", &crib)
	hung := slices.ContainsFunc(crib.Tools, func(w map[string]any) bool {
		return w["unfit"] != nil &&
			w["max_nm"] == 200.0
	})
	if !hung || len(crib.Sockets) != 2 || len(crib.Prices) != 1 ||
		len(crib.Adapters) != 1 || crib.Adapters[0]["adapter"] != "a-foot" {
		t.Errorf("%+v", crib)
	}
	var itself map[string]any
	if x.call("GET", "/shop", "", &itself); itself["name"] != "Quay Yard" || itself["first_unit"] != "ft-lb" {
		t.Errorf("%v", itself)
	}
}
