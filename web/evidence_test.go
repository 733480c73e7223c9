package web

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"sync"
	"testing"
	"time"

	"lugtak/core/job"
	"lugtak/core/plan"
	"lugtak/core/pull"
	"lugtak/core/vehicle"
	"lugtak/demo"
	"lugtak/device"
	"lugtak/device/sim"
	"lugtak/shop"
)

// hands are at work on a job of the demo, the half-done one unless said, with a clock that
// goes on with each act.
type hands struct {
	job    string
	t      *testing.T
	s      *Server
	addr   string
	client *http.Client
	token  string

	mu  sync.Mutex
	now time.Time
	n   int
}

const (
	knuckle     = "hub.FL.knuckle"
	knuckleStep = "front-hub-unit.knuckle-1.FL"
)

func atWork(t *testing.T, rack device.Rack) *hands {
	t.Helper()
	h := &hands{job: demo.HalfDone, t: t, now: time.Now()}
	h.s, h.addr, _, h.client = serve(t, Config{}, shop.Options{Now: h.clock, Devices: rack})
	h.token = token(t, h.client, h.addr)
	return h
}

func (h *hands) clock() time.Time {
	h.mu.Lock()
	defer h.mu.Unlock()
	return h.now
}

func (h *hands) wait(d time.Duration) {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.now = h.now.Add(d)
}

func token(t *testing.T, c *http.Client, addr string) string {
	t.Helper()
	_, body := get(t, c, "http://"+addr+"/jobs/new")
	return regexp.MustCompile(`name="_csrf" value="([^"]+)"`).FindStringSubmatch(body)[1]
}

// as is the same shop in the hands of another person.
func (h *hands) as(p demo.Person) *hands {
	o := &hands{
		job:    h.job,
		t:      h.t,
		s:      h.s,
		addr:   h.addr,
		client: signedIn(h.t, h.addr, p),
		now:    h.now,
		n:      1000 * (h.n + 1),
	}
	o.token = token(h.t, o.client, o.addr)
	return o
}

// startedUpTo is a job of its own, worked cleanly up to a kind of step.
func (h *hands) startedUpTo(kind string, tasks ...plan.Task) *plan.Step {
	h.t.Helper()
	h.job = "own"
	hand := demo.Hand{Shop: h.s.Shop, Lib: h.s.Shop.Library(), By: demo.People[0].Name, Now: h.clock()}
	v := vehicle.Vehicle{ID: "own", Fleet: "X-1", Pattern: "ostrel-c22", Name: "Ostrel C22 van"}
	if _, err := h.s.Shop.AddVehicle(h.t.Context(), v); err != nil {
		h.t.Fatal(err)
	}
	if err := hand.Start(h.t.Context(), h.job, v, "squeals", 80_000, tasks...); err != nil {
		h.t.Fatal(err)
	}
	at := func(_ *job.State, s *plan.Step) bool { return s.Kind() == kind }
	if err := hand.Work(h.t.Context(), h.job, at); err != nil {
		h.t.Fatal(err)
	}
	h.mu.Lock()
	h.now = hand.Now
	h.mu.Unlock()
	st := h.state()
	return st.Plan.Step(st.Next())
}

// post sends one form of the job, a moment after the last, and gives the status with
// what the page answers.
func (h *hands) post(do string, form url.Values) (int, string) {
	h.t.Helper()
	h.wait(3 * time.Second)
	return h.postNow(do, form)
}

func (h *hands) postNow(do string, form url.Values) (int, string) {
	h.t.Helper()
	h.n++
	form.Set("_csrf", h.token)
	if form.Get("id") == "" {
		form.Set("id", fmt.Sprintf("act-%d", h.n))
	}
	res, err := h.client.PostForm("http://"+h.addr+"/jobs/"+h.job+"/"+do, form)
	if err != nil {
		h.t.Fatal(err)
	}
	defer res.Body.Close()
	body, _ := io.ReadAll(res.Body)
	return res.StatusCode, string(body)
}

// must is post that has to be taken.
func (h *hands) must(do string, form url.Values) {
	h.t.Helper()
	if code, body := h.post(do, form); code != http.StatusSeeOther {
		h.t.Fatalf("%s: %d %s", do, code, said(body))
	}
}

// refused is post that must not be taken, for a reason.
func (h *hands) refused(do string, form url.Values, says string) {
	h.t.Helper()
	before := h.state().Seq
	code, body := h.post(do, form)
	if code < 400 || code >= 500 || !strings.Contains(body, says) {
		h.t.Errorf("%s: %d, %s; want a refusal that says %q", do, code, said(body), says)
	}
	if after := h.state().Seq; after != before {
		h.t.Errorf("%s: a refusal left event %d", do, after)
	}
}

// said is what a page gives as its refusal.
func said(body string) string {
	m := regexp.MustCompile(`(?s)class="(?:fault|refused)[^>]*>(.*?)</div>`).FindStringSubmatch(body)
	if m == nil {
		return ""
	}
	return strings.TrimSpace(m[1])
}

func (h *hands) bench(query string) (string, int) {
	res, body := get(h.t, h.client, "http://"+h.addr+"/jobs/"+h.job+"/bench"+query)
	return body, res.StatusCode
}

func (h *hands) state() *job.State {
	h.t.Helper()
	st, err := h.s.Shop.Job(h.t.Context(), h.job)
	if err != nil {
		h.t.Fatal(err)
	}
	return st
}

// on is a form about one knuckle bolt, with more fields.
func on(letter string, more ...string) url.Values {
	form := url.Values{"step": {knuckleStep}, "stay": {"1"}, "joint": {knuckle}, "letter": {letter}}
	for i := 0; i+1 < len(more); i += 2 {
		form.Set(more[i], more[i+1])
	}
	return form
}

// clickOn is the honest way with a click wrench.
func (h *hands) clickOn(letter string) {
	h.t.Helper()
	h.must("set", on(letter, "tool", "w2", "set", "60"))
	h.must("click", on(letter, "tool", "w2"))
}

// Every way to fill the record without the work.
func TestTheRecordIsNotFilledWithoutTheWork(t *testing.T) {
	h := atWork(t, sim.NewRack())
	h.refused("click", on("B", "tool", "w2"), "not in your hand")
	h.refused("set", on("B", "tool", "w3", "set", "60"), "gives a trace, not a click")
	h.refused("set", on("B", "tool", "w2", "set", ""), "no figure")
	h.refused("set", on("B", "tool", "w2", "set", "60", "other", "600"), "impossible")
	h.refused("trace", on("B", "tool", "w3", "csv", trace(60)), "not taken for this fastener")
	h.refused("turn", on("B", "means", "mark", "mark", "on"), "asks for a torque")
	h.refused("unmeasured", on("B"), "not said why")

	// What somebody else has set is not mine to click with.
	other := h.as(demo.People[1])
	other.must("set", on("B", "tool", "w2", "set", "60"))
	h.refused("click", on("B", "tool", "w2"), "not in your hand")
	h.must("set", on("B", "tool", "w2", "set", "60"))
	other.now = h.now
	other.refused("click", on("B", "tool", "w2"), "not stated")
	h.must("click", on("B", "tool", "w2"))
	if p := last(h.state()); p.By != demo.People[0].Name || p.Evidence != pull.Clicked {
		t.Errorf("%+v", p)
	}

	// A second tap keeps nothing.
	if code, body := h.postNow("click", on("C", "tool", "w2")); code != http.StatusConflict ||
		!strings.Contains(body, "second tap") {
		t.Errorf("three quick taps: %d %s", code, said(body))
	}
}

// A rejected pull blocks its fastener until it is slackened, and renewed where hurt.
func TestARejectedPullBlocks(t *testing.T) {
	h := atWork(t, sim.NewRack())
	h.must("set", on("B", "tool", "w2", "set", "60", "other", "80"))
	h.must("click", on("B", "tool", "w2"))
	if f := h.state().Fastener(knuckle, "B"); f.Done != 0 || f.Blocks != pull.Slacken {
		t.Fatalf("80 on 60: %+v", f)
	}
	h.refused("set", on("B", "tool", "w2", "set", "60"), "Slacken it first")
	h.refused("click", on("B", "tool", "w2"), "Slacken it first")
	body, _ := h.bench("?step=" + knuckleStep + "&f=B")
	if !strings.Contains(body, "rejected") || strings.Contains(body, "It stands at") {
		t.Error("the card of a rejected pull offers what may not follow")
	}
	h.refused("slacken", on("B"), "few words")
	h.must("slacken", on("B", "reason", "the wrench stood at 80"))
	h.must("set", on("B", "tool", "w2", "set", "60"))
	h.must("click", on("B", "tool", "w2"))
	if f := h.state().Fastener(knuckle, "B"); f.Done != 1 || f.Evidence != pull.Clicked {
		t.Errorf("%+v", f)
	}
}

// A page that is looked at writes nothing and takes nothing.
func TestLookingWritesNothing(t *testing.T) {
	h := atWork(t, sim.NewRack())
	before := h.state().Seq
	for _, q := range []string{"", "?step=" + knuckleStep + "&f=B&tool=w3", "?tool=w2", "?panel=unmeasured"} {
		if _, code := h.bench(q); code != http.StatusOK {
			t.Errorf("%s: %d", q, code)
		}
	}
	if after := h.state().Seq; after != before {
		t.Errorf("%d events more", after-before)
	}
	if k, ok := h.s.Shop.Holding("w3"); ok {
		t.Errorf("looking took the wrench: %+v", k)
	}
}

// Who loses a claim is told which tool was taken, and nobody is told what they did themselves.
func TestToldOfATakenTool(t *testing.T) {
	h := atWork(t, sim.NewRack())
	other := h.as(demo.People[1])
	told, leave := h.s.Shop.Hub.Listen("job:" + demo.HalfDone)
	defer leave()
	says := func() string {
		t.Helper()
		for {
			select {
			case m := <-told:
				if m.Event == "claim" {
					return string(m.Data)
				}
			case <-time.After(5 * time.Second):
				t.Fatal("nothing is told")
			}
		}
	}
	h.must("claim", on("B", "tool", "w3"))
	other.must("claim", on("B", "tool", "w3"))
	if got := says(); got != `{"from":"Technician Aro","says":"Technician Bel has taken wrench 3."}` {
		t.Error(got)
	}
	h.must("claim", on("B", "tool", "w4"))
	if got := says(); got != `{"from":"Technician Bel","says":"Technician Aro has taken wrench 4 to that fastener."}` {
		t.Error(got)
	}
	h.must("claim", on("B", "tool", "w3"))
	if got := says(); got != `{}` {
		t.Errorf("told oneself: %s", got)
	}
}

// The pull is signed by who took the tool, not by who looked last.
func TestThePullIsSignedByWhoTookTheTool(t *testing.T) {
	h := atWork(t, sim.NewRack())
	other := h.as(demo.People[1])
	h.must("claim", on("B", "tool", "w3"))
	other.bench("?step=" + knuckleStep + "&f=B&tool=w3")
	if code, body := other.pull("60"); code != http.StatusUnprocessableEntity ||
		!strings.Contains(body, "not taken this wrench") {
		t.Errorf("somebody else pulled on it: %d", code)
	}
	h.pull("60")
	h.ended()
	p := last(h.state())
	if p.By != demo.People[0].Name || !p.Simulated || p.Evidence != pull.Traced || p.Claim == "" {
		t.Errorf("%+v", p)
	}
	if _, ok := h.s.Shop.Holding("w3"); ok {
		t.Error("the claim outlives its pull")
	}
	for _, page := range []string{"ledger", "bench?step=" + knuckleStep + "&f=B", "ledger.csv", "job.json"} {
		_, body := get(t, h.client, "http://"+h.addr+"/jobs/"+demo.HalfDone+"/"+page)
		if page != "bench?step="+knuckleStep+"&f=B" && !strings.Contains(body, "simulated") {
			t.Errorf("%s does not say that it was simulated", page)
		}
	}
}

// A claim ends when its person signs out or is locked out: nothing is recorded under
// that name any more.
func TestNobodyPullsAfterTheEnd(t *testing.T) {
	for name, end := range map[string]func(h *hands){
		"sign-out": func(h *hands) {
			res, err := h.client.PostForm("http://"+h.addr+"/signout", url.Values{"_csrf": {h.token}})
			if err != nil || res.StatusCode != http.StatusSeeOther {
				h.t.Fatal(res.StatusCode, err)
			}
		},
		"lock-out": func(h *hands) {
			cass := h.as(demo.People[2])
			people, _ := h.s.Shop.People(h.t.Context())
			for _, p := range people {
				if p.Name != demo.People[0].Name {
					continue
				}
				form := url.Values{"_csrf": {cass.token}, "do": {"off"}}
				res, err := cass.client.PostForm("http://"+h.addr+"/people/"+p.ID, form)
				if err != nil || res.StatusCode != http.StatusSeeOther {
					h.t.Fatal(res.StatusCode, err)
				}
			}
		},
		"another takes it": func(h *hands) {
			h.as(demo.People[1]).must("claim", on("C", "tool", "w3"))
		},
		"time": func(h *hands) { h.wait(time.Hour) },
	} {
		t.Run(name, func(t *testing.T) {
			h := atWork(t, sim.NewRack())
			h.must("claim", on("B", "tool", "w3"))
			k, _ := h.s.Shop.Holding("w3")
			before := h.state().Seq
			end(h)
			if now, ok := h.s.Shop.Holding("w3"); ok && now.ID == k.ID {
				t.Errorf("%s holds it still", now.By)
			}
			if code, _ := h.pull("60"); code == http.StatusSeeOther && name != "sign-out" && name != "lock-out" {
				t.Errorf("pulled all the same: %d", code)
			}
			if after := h.state().Seq; after != before {
				t.Errorf("%d events more", after-before)
			}
		})
	}
}

// Left not measured, it says so everywhere, with its cause, and is owed a look.
func TestNotMeasuredShowsForEver(t *testing.T) {
	h := atWork(t, nil)
	body, _ := h.bench("?step=" + knuckleStep + "&f=B&panel=unmeasured")
	if !strings.Contains(body, "crow&#39;s-foot") {
		t.Error("the ways that measure are not offered first")
	}
	h.must("unmeasured", on("B", "cause", "no_room", "note", "the strut is in the way"))
	h.clickOn("C")
	angle := func(letter string) url.Values {
		return on(letter, "step", "front-hub-unit.knuckle-2.FL", "means", "mark", "mark", "on")
	}
	h.must("set", angle("A"))
	for _, l := range []string{"A", "B", "C"} { // an angle from a start nobody measured proves nothing
		h.must("turn", angle(l))
	}
	f := h.state().Fastener(knuckle, "B")
	if f.Sign() != job.Unmeasured || !f.LeftUnmeasured() || f.Owed() {
		t.Errorf("%+v", f)
	}
	for _, page := range []string{"ledger", "ledger.csv", "bench?step=drive.drive"} {
		_, body := get(t, h.client, "http://"+h.addr+"/jobs/"+demo.HalfDone+"/"+page)
		if !strings.Contains(body, "no room for a torque wrench") {
			t.Errorf("%s does not say why", page)
		}
	}
	if _, body := get(t, h.client, "http://"+h.addr+"/jobs/"+demo.HalfDone+"/ledger"); !strings.Contains(body,
		"see its mark unbroken") {
		t.Error("no follow-up is owed")
	}
}

// A real tool sends by itself, with its token and under its claim.
func TestAToolSendsByItself(t *testing.T) {
	h := atWork(t, nil) // nothing is connected: the tool speaks for itself
	cass := h.as(demo.People[2])
	res, err := cass.client.PostForm("http://"+h.addr+"/crib/w3/token", url.Values{"_csrf": {cass.token}})
	if err != nil {
		t.Fatal(err)
	}
	page, _ := io.ReadAll(res.Body)
	secret := regexp.MustCompile(`class="secret">([^<]+)<`).FindStringSubmatch(string(page))[1]
	tool := toolClient{t: t, addr: h.addr, secret: secret}

	if code, _ := (toolClient{t: t, addr: h.addr, secret: "guessed"}).claim(); code != http.StatusUnauthorized {
		t.Errorf("a guessed token: %d", code)
	}
	if code, _ := tool.claim(); code != http.StatusNotFound {
		t.Errorf("nobody has taken it: %d", code)
	}
	h.must("claim", on("B", "tool", "w3"))
	code, k := tool.claim()
	if code != http.StatusOK || k.Job != demo.HalfDone || k.Letter != "B" || k.Kind != "torque" || k.TargetNm != 60 ||
		k.HighNm <= 60 {
		t.Fatalf("%d %+v", code, k)
	}
	in := sent{ID: "tool-1", Claim: k.Claim}
	for _, r := range sim.NewBolt(sim.Sound, 60, slope(h.state()), 0, 3).To(60) {
		in.Samples = append(in.Samples, [3]float64{r.T, r.Angle, r.Torque})
	}
	wrong := in
	wrong.Claim = "another"
	if code, _ := tool.send(wrong); code != http.StatusConflict {
		t.Errorf("under no claim: %d", code)
	}
	code, got := tool.send(in)
	if code != http.StatusCreated || got.Verdict != "keep" {
		t.Fatalf("%d %+v", code, got)
	}
	if code, again := tool.send(in); code != http.StatusOK || again.Seq != got.Seq {
		t.Errorf("sent again: %d %+v", code, again)
	}
	in.ID = "tool-2"
	if code, _ := tool.send(in); code != http.StatusConflict {
		t.Errorf("the claim has ended: %d", code)
	}
	p := last(h.state())
	if p.By != demo.People[0].Name || p.Simulated || p.Evidence != pull.Traced || p.Tool != "wrench 3" {
		t.Errorf("%+v", p)
	}
}

// toolClient is a small client such as a real tool has.
type toolClient struct {
	t            *testing.T
	addr, secret string
}

func (c toolClient) do(method, path string, in, out any) int {
	c.t.Helper()
	body, _ := json.Marshal(in)
	req, err := http.NewRequest(method, "http://"+c.addr+path, bytes.NewReader(body))
	if err != nil {
		c.t.Fatal(err)
	}
	req.Header.Set("Authorization", "Bearer "+c.secret)
	req.Header.Set("Content-Type", "application/json")
	res, err := http.DefaultClient.Do(req)
	if err != nil {
		c.t.Fatal(err)
	}
	defer res.Body.Close()
	if kind := res.Header.Get("Content-Type"); !strings.Contains(kind, "json") {
		c.t.Errorf("%s answers with %s", path, kind)
	}
	json.NewDecoder(res.Body).Decode(out)
	return res.StatusCode
}

func (c toolClient) claim() (int, asked) {
	var out asked
	return c.do(http.MethodGet, "/api/v1/tools/claim", nil, &out), out
}

func (c toolClient) send(in sent) (int, judged) {
	var out judged
	return c.do(http.MethodPost, "/api/v1/jobs/"+demo.HalfDone+"/pulls", in, &out), out
}

func slope(st *job.State) float64 { return st.Plan.Joint(knuckle).Slope() }

// pull swings the stand-in wrench.
func (h *hands) pull(amount string) (int, string) {
	h.t.Helper()
	form := url.Values{"_csrf": {h.token}, "amount": {amount}, "plays": {"sound"}, "quick": {"50"}}
	res, err := h.client.PostForm("http://"+h.addr+"/wrench/w3/pull", form)
	if err != nil {
		h.t.Fatal(err)
	}
	defer res.Body.Close()
	body, _ := io.ReadAll(res.Body)
	return res.StatusCode, string(body)
}

// ended waits for the end of the pull under way.
func (h *hands) ended() {
	h.t.Helper()
	for range 200 {
		if k, ok := h.s.Shop.Holding("w3"); !ok || !k.Pulling {
			return
		}
		time.Sleep(50 * time.Millisecond)
	}
	h.t.Fatal("the pull does not end")
}

// A server that is told to end lets the wrench finish, and records what it read.
func TestAPullUnderWayOutlivesTheServer(t *testing.T) {
	h := atWork(t, sim.NewRack())
	form := url.Values{"step": {knuckleStep}, "joint": {knuckle}, "letter": {"B"}, "tool": {"w3"}}
	if code, page := h.post("claim", form); code >= http.StatusBadRequest {
		t.Fatalf("%d %.200s", code, page)
	}
	before := len(h.state().PullOrder)
	if code, _ := h.pull("60"); code >= http.StatusBadRequest {
		t.Fatal(code)
	}
	h.s.Shop.End()
	st := h.state()
	if len(st.PullOrder) != before+1 || last(st).By != demo.People[0].Name {
		t.Errorf("%d pulls, before %d", len(st.PullOrder), before)
	}
}

func last(st *job.State) *job.Pull { return st.Pulls[st.PullOrder[len(st.PullOrder)-1]] }

// trace is a file a tool has saved.
func trace(nm float64) string {
	var b strings.Builder
	b.WriteString("t_s,angle_deg,torque_nm\n")
	for _, r := range sim.NewBolt(sim.Sound, nm, 1.5, 0, 3).To(nm) {
		fmt.Fprintf(&b, "%.3f,%.2f,%.2f\n", r.T, r.Angle, r.Torque)
	}
	return b.String()
}

// The wrench that was set stays in hand on a page that comes without its name, as one that is
// refreshed or come back to; one chosen by name goes before it.
func TestTheWrenchInHandStays(t *testing.T) {
	h := atWork(t, nil)
	h.must("set", on("B", "tool", "w2", "set", "60"))
	for query, tool := range map[string]string{"": "w2", "&tool=w3": "w3"} {
		page, _ := h.bench("?step=" + knuckleStep + query)
		if !strings.Contains(page, `value="`+tool+`" selected`) {
			t.Errorf("%q: %s is not in hand", query, tool)
		}
	}
}
