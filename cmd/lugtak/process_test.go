package main

import (
	"bufio"
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"lugtak/core/plan"
	"lugtak/reckon"
)

var binary string

func TestMain(m *testing.M) {
	dir, err := os.MkdirTemp("", "lugtak-process-")
	if err != nil {
		panic(err)
	}
	binary = filepath.Join(dir, "lugtak")
	if out, err := exec.Command("go", "build", "-o", binary, ".").CombinedOutput(); err != nil {
		panic(string(out))
	}
	code := m.Run()
	os.RemoveAll(dir)
	os.Exit(code)
}

// start runs the server and waits for the address it prints.
func start(t *testing.T, args ...string) (*exec.Cmd, string) {
	t.Helper()
	cmd := exec.Command(binary, args...)
	out, err := cmd.StdoutPipe()
	if err != nil {
		t.Fatal(err)
	}
	cmd.Stderr = os.Stderr
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	r := bufio.NewReader(out)
	line, err := r.ReadString('\n')
	if err != nil {
		t.Fatalf("no address: %v", err)
	}
	go io.Copy(io.Discard, r)
	_, addr, _ := strings.Cut(strings.TrimSpace(line), "://")
	return cmd, addr
}

func run(t *testing.T, args ...string) string {
	t.Helper()
	out, err := exec.Command(binary, args...).CombinedOutput()
	if err != nil {
		t.Fatalf("lugtak %s: %v\n%s", strings.Join(args, " "), err, out)
	}
	return string(out)
}

var tokenForm = regexp.MustCompile(`name="_csrf" value="([^"]+)"`)

// signIn gives a client with a person's session and the token its writes need.
func signIn(t *testing.T, addr, name, pin string) (*http.Client, string) {
	t.Helper()
	jar, _ := cookiejar.New(nil)
	c := &http.Client{Jar: jar, Timeout: 10 * time.Second}
	res, err := c.PostForm("http://"+addr+"/signin", url.Values{"name": {name}, "pin": {pin}})
	if err != nil {
		t.Fatal(err)
	}
	page, _ := io.ReadAll(res.Body)
	res.Body.Close()
	m := tokenForm.FindSubmatch(page)
	if m == nil {
		t.Fatalf("not signed in: %d", res.StatusCode)
	}
	return c, string(m[1])
}

// hand is one person with one tool that sends by itself.
type hand struct {
	name        string
	addr        string
	client      *http.Client
	csrf, token string
}

const bolt = "front-hub-unit.knuckle-1.FL"

// errDown is what a hand meets while the server is down.
var errDown = errors.New("the server is down")

// claim takes the tool for the bolt and asks it what it was taken for.
func (h *hand) claim() (string, error) {
	form := url.Values{"_csrf": {h.csrf}, "step": {bolt}, "joint": {"hub.FL.knuckle"}, "letter": {"B"}, "tool": {"w3"}}
	res, err := h.client.PostForm("http://"+h.addr+"/jobs/demo-half-done/claim", form)
	if err != nil {
		return "", errDown
	}
	io.Copy(io.Discard, res.Body)
	res.Body.Close()
	var k struct{ Claim, By string }
	_, err = h.api(http.MethodGet, "/api/v1/tools/claim", nil, &k)
	if k.By != h.name {
		return "", err // the tool has gone to the other hand meanwhile
	}
	return k.Claim, err
}

func (h *hand) api(method, path string, in, out any) (int, error) {
	body, _ := json.Marshal(in)
	req, err := http.NewRequest(method, "http://"+h.addr+path, bytes.NewReader(body))
	if err != nil {
		return 0, err
	}
	req.Header.Set("Authorization", "Bearer "+h.token)
	res, err := http.DefaultClient.Do(req)
	if err != nil {
		return 0, errDown
	}
	defer res.Body.Close()
	if json.NewDecoder(res.Body).Decode(out) != nil {
		return res.StatusCode, errDown // it was killed while it answered
	}
	return res.StatusCode, nil
}

// pull sends one low pull under an id until it is acknowledged: it pays nothing, so
// that one fastener takes them all. Where the claim has ended, by a kill or by another
// hand, the tool is taken anew.
func (h *hand) pull(t *testing.T, id string, stop <-chan struct{}) bool {
	claim := ""
	for {
		select {
		case <-stop:
			return false
		default:
		}
		var answer struct{ Verdict string }
		in := map[string]any{"id": id, "claim": claim, "peak_nm": 50, "turn_deg": 12}
		code, err := h.api(http.MethodPost, "/api/v1/jobs/demo-half-done/pulls", in, &answer)
		switch {
		case err == nil && (code == http.StatusCreated || code == http.StatusOK):
			return true
		case err == nil && code != http.StatusConflict:
			t.Errorf("%s: status %d", id, code)
			return false
		case err == nil:
			if claim, err = h.claim(); err != nil {
				time.Sleep(20 * time.Millisecond)
			}
		default:
			time.Sleep(20 * time.Millisecond)
		}
	}
}

// handsAt signs two technicians in and gives them the tool's token.
func handsAt(t *testing.T, addr string) []*hand {
	t.Helper()
	cass, csrf := signIn(t, addr, "Foreman Cass", "5820")
	res, err := cass.PostForm("http://"+addr+"/crib/w3/token", url.Values{"_csrf": {csrf}})
	if err != nil {
		t.Fatal(err)
	}
	page, _ := io.ReadAll(res.Body)
	res.Body.Close()
	secret := string(regexp.MustCompile(`class="secret">([^<]+)<`).FindSubmatch(page)[1])
	var out []*hand
	for _, p := range [][2]string{{"Technician Aro", "2401"}, {"Technician Bel", "3712"}} {
		h := &hand{name: p[0], addr: addr, token: secret}
		h.client, h.csrf = signIn(t, addr, p[0], p[1])
		out = append(out, h)
	}
	return out
}

// Pulls are sent by one tool that goes from hand to hand while the server is killed at
// random moments and started again. Every acknowledged pull is there once, under the
// name of the one who had the tool.
func TestPullsSurviveKills(t *testing.T) {
	t.Parallel()
	const pulls = 160
	db := filepath.Join(t.TempDir(), "shop.db")
	cmd, addr := start(t, "demo", "--young", "--addr", "127.0.0.1:0", "--db", db)
	hands := handsAt(t, addr)

	var next, acknowledged atomic.Int64
	var wg sync.WaitGroup
	var by sync.Map // name by id
	stop := make(chan struct{})
	for _, h := range hands {
		wg.Go(func() {
			for n := next.Add(1); n <= pulls; n = next.Add(1) {
				id := fmt.Sprintf("pull-%d", n)
				if !h.pull(t, id, stop) {
					return
				}
				by.Store(id, h.name)
				acknowledged.Add(1)
				time.Sleep(time.Duration(rand.IntN(60)) * time.Millisecond)
			}
		})
	}
	done := make(chan struct{})
	go func() { wg.Wait(); close(done) }()
	kills := 0
	deadline := time.After(4 * time.Minute)
	seen := int64(0) // acknowledged when the server was last started
	for running := true; running; {
		select {
		case <-done:
			running = false
		case <-deadline:
			close(stop)
			t.Fatal("the pulls do not end")
		case <-time.After(time.Duration(20+rand.IntN(300)) * time.Millisecond):
			// However slow the machine, each life of the server does something.
			if next.Load() < pulls && acknowledged.Load() > seen && kills < 12 {
				cmd.Process.Kill()
				cmd.Wait()
				kills++
				cmd, _ = start(t, "demo", "--young", "--addr", addr, "--db", db)
				seen = acknowledged.Load()
			}
		}
	}
	cmd.Process.Signal(syscall.SIGTERM)
	if err := cmd.Wait(); err != nil {
		t.Errorf("SIGTERM: %v", err)
	}
	if kills < 3 {
		t.Errorf("only %d kills", kills)
	}
	var file struct {
		Events []struct{ ID, Kind, By string }
	}
	if err := json.Unmarshal([]byte(run(t, "export", "--db", db, "demo-half-done")), &file); err != nil {
		t.Fatal(err)
	}
	there := map[string]int{}
	for _, e := range file.Events {
		if !strings.HasPrefix(e.ID, "pull-") || e.Kind != "pulled" {
			continue
		}
		there[e.ID]++
		if name, ok := by.Load(e.ID); ok && name != e.By {
			t.Errorf("%s was pulled by %s and is signed by %s", e.ID, name, e.By)
		}
	}
	for n := 1; n <= pulls; n++ {
		if id := fmt.Sprintf("pull-%d", n); there[id] != 1 {
			t.Errorf("%s is there %d times", id, there[id])
		}
	}
	if got := run(t, "check", db); !strings.Contains(got, "ok:") {
		t.Error(got)
	}
	t.Logf("%d kills, %d acknowledged", kills, acknowledged.Load())
}

// A backup made while pulls are recorded is whole, and a job imported by another
// process while the shop serves does not break the chain.
func TestOtherProcessesBesideTheServer(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	db, other := filepath.Join(dir, "shop.db"), filepath.Join(dir, "other.db")
	cmd, addr := start(t, "demo", "--young", "--addr", "127.0.0.1:0", "--db", db)
	aro := handsAt(t, addr)[0]
	stop := make(chan struct{})
	aro.pull(t, "a", stop)
	run(t, "backup", "--db", db, other)
	run(t, "check", other)
	job := filepath.Join(dir, "job.json")
	text := strings.ReplaceAll(run(t, "export", "--db", other, "demo-waiting"), "demo-waiting", "elsewhere")
	if err := os.WriteFile(job, []byte(text), 0o600); err != nil {
		t.Fatal(err)
	}
	out, err := exec.Command(binary, "import", "--db", db, job).CombinedOutput()
	if err == nil || !strings.Contains(string(out), "not signed") {
		t.Errorf("a file changed by hand is taken: %s", out)
	}
	empty := filepath.Join(dir, "empty.db")
	if err := os.WriteFile(job, []byte(run(t, "export", "--db", db, "demo-waiting")), 0o600); err != nil {
		t.Fatal(err)
	}
	run(t, "import", "--db", empty, job)
	shop, shopAddr := start(t, "serve", "--addr", "127.0.0.1:0", "--db", empty)
	half := filepath.Join(dir, "half.json")
	if err := os.WriteFile(half, []byte(run(t, "export", "--db", db, "demo-half-done")), 0o600); err != nil {
		t.Fatal(err)
	}
	run(t, "import", "--db", empty, half, "--by", "Foreman Ull")
	noStandIns(t, empty, shopAddr)
	aro.pull(t, "b", stop)
	run(t, "check", db)
	if got := run(t, "check", empty); !strings.Contains(got, "2 jobs") {
		t.Error(got)
	}
	for _, c := range []*exec.Cmd{cmd, shop} {
		c.Process.Signal(syscall.SIGTERM)
		if err := c.Wait(); err != nil {
			t.Errorf("SIGTERM: %v", err)
		}
	}
	run(t, "rebuild", "--db", empty)
	if got := run(t, "check", empty); !strings.Contains(got, "ok:") {
		t.Error(got)
	}
}

// noStandIns asks a real shop for what stands in for a wrench and a road logger.
func noStandIns(t *testing.T, db, addr string) {
	t.Helper()
	add := exec.Command(binary, "person", "--db", db, "--name", "Foreman Ull", "--role", "foreman")
	add.Stdin = strings.NewReader("4713\n")
	if out, err := add.CombinedOutput(); err != nil {
		t.Fatalf("%v: %s", err, out)
	}
	client, csrf := signIn(t, addr, "Foreman Ull", "4713")
	ask := func(path string) (int, string) {
		res, err := client.Get("http://" + addr + path)
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		body, _ := io.ReadAll(res.Body)
		return res.StatusCode, string(body)
	}
	if code, _ := ask("/wrench/w3"); code != http.StatusNotFound {
		t.Errorf("serve has a stand-in wrench: %d", code)
	}
	if code, body := ask("/practice"); code != http.StatusOK || !strings.Contains(body, "not vehicles") {
		t.Errorf("serve has no practice bay: %d", code)
	}
	for _, page := range []string{"bench?step=" + bolt + "&tool=w3", "walk?place=road", "ledger"} {
		if _, body := ask("/jobs/demo-half-done/" + page); strings.Contains(body, "stand-in") {
			t.Errorf("%s offers a stand-in", page)
		}
	}
	if _, body := ask("/jobs/demo-half-done/ledger"); !strings.Contains(body, "imported by Foreman Ull") ||
		!strings.Contains(body, "not known here") {
		t.Error("the ledger does not say where the job came from")
	}
	form := url.Values{"_csrf": {csrf}, "id": {"road"}, "tyre": {"205/55R16"}, "standin": {"imbalance"}}
	res, err := client.PostForm("http://"+addr+"/jobs/demo-half-done/road", form)
	if err != nil || res.StatusCode != http.StatusUnprocessableEntity {
		t.Errorf("serve drives by itself: %v", err)
	}
	res.Body.Close()
}

// The command line prints the same object the server sends, and ends with 2.
func TestCalcOverBothDoors(t *testing.T) {
	t.Parallel()
	cmd, addr := start(t, "demo", "--young", "--addr", "127.0.0.1:0")
	defer func() { cmd.Process.Signal(syscall.SIGTERM); cmd.Wait() }()
	type call struct {
		name, in string
		status   int
	}
	var calls []call
	for _, c := range reckon.All() {
		calls = append(calls, call{c.Name, c.Example, 200})
	}
	for _, c := range append(calls, []call{
		{"recipe", `{"text":"60 kg"}`, 422},
		{"convert", `{"value":`, 400},
		{"nothing", `{}`, 404},
	}...) {
		res, err := http.Post("http://"+addr+"/api/v1/calc/"+c.name, "application/json", strings.NewReader(c.in))
		if err != nil {
			t.Fatal(err)
		}
		overHTTP, _ := io.ReadAll(res.Body)
		res.Body.Close()
		if res.StatusCode != c.status {
			t.Errorf("%s %s: status %d", c.name, c.in, res.StatusCode)
		}
		byHand := exec.Command(binary, "calc", c.name, "--json", "-")
		byHand.Stdin = strings.NewReader(c.in)
		out, err := byHand.Output()
		if strings.TrimSpace(string(out)) != string(overHTTP) {
			t.Errorf("%s %s:\n%s\n%s", c.name, c.in, out, overHTTP)
		}
		if code := byHand.ProcessState.ExitCode(); (c.status == 200) != (code == 0 && err == nil) ||
			c.status != 200 && code != 2 {
			t.Errorf("%s %s: ended with %d", c.name, c.in, code)
		}
	}
}

// proveAgain walks a plan by what was printed and nothing else.
func proveAgain(t *testing.T, p plan.Exported) {
	t.Helper()
	now, touched, raised := map[string]string{}, map[string]bool{}, 0
	for _, f := range p.Facts {
		now[f.Fact] = f.Value
	}
	for _, s := range p.Steps {
		for _, w := range s.Wants {
			if now[w.Fact] != w.Value || len(w.AnyOf) > 0 && !slices.Contains(w.AnyOf, w.Value) || w.Because == "" {
				t.Errorf("%s wants %s %s, it is %s", s.ID, w.Fact, w.Value, now[w.Fact])
			}
		}
		was := map[string]string{}
		for _, m := range s.Makes {
			was[m.Fact] = now[m.Fact]
			now[m.Fact] = m.Value
			touched[m.Fact] = true
			if m.Fact == "vehicle" && m.Value == "raised" {
				raised++
			}
		}
		for _, l := range p.Laws {
			before, made := was[l.Fact]
			if !made || before == now[l.Fact] || !slices.Contains(l.Values, now[l.Fact]) {
				continue
			}
			for _, m := range l.Must {
				if !slices.Contains(m.AnyOf, now[m.Fact]) {
					t.Errorf("%s: %s is %s. %s", s.ID, m.Fact, now[m.Fact], l.Says)
				}
			}
		}
	}
	for _, f := range p.Facts {
		if !f.Free && touched[f.Fact] && now[f.Fact] != f.Value && !slices.Contains(f.End, now[f.Fact]) {
			t.Errorf("%s is left %s", f.Fact, now[f.Fact])
		}
	}
	if raised != 1 || len(p.Steps) < 60 || len(p.Laws) < 5 {
		t.Errorf("raised %d times, %d steps, %d laws", raised, len(p.Steps), len(p.Laws))
	}
}

// A plan of several operations, by another school, from the command line.
func TestPlanFromTheCommandLine(t *testing.T) {
	t.Parallel()
	out := run(t, "plan", "--vehicle", "caldren-m9", "--operation", "lower-ball-joint@FL", "--operation",
		"lower-ball-joint@FR", "--operation", "idler-arm", "--school", "taper=blow", "--technicians", "2",
		"--json")
	var got plan.Exported
	if err := json.Unmarshal([]byte(out), &got); err != nil {
		t.Fatal(err)
	}
	if len(got.Tasks) != 3 || got.Technicians != 2 || !got.Invented || !strings.Contains(out, "with a blow") {
		t.Errorf("%v, %d technicians", got.Tasks, got.Technicians)
	}
	proveAgain(t, got)
	text := run(t, "plan", "--vehicle", "ostrel-c22", "--operation", "pads-rotors", "--corner", "RR")
	for _, want := range []string{"proved least", "rear right", "invented"} {
		if !strings.Contains(text, want) {
			t.Errorf("the plan does not say %q: %s", want, text)
		}
	}
	for _, bad := range [][]string{{"--operation", "crossmember@FL"},
		{"--operation", "idler-arm", "--school", "taper=bite"}, {"--operation", "wings"}, {"--operation", "idler-arm",
			"--built", "idler=square"}, {"--operation", "idler-arm", "--built", "wings=two"}, {"--operation", "@"}} {
		cmd := exec.Command(binary, append([]string{"plan", "--vehicle", "caldren-m9"}, bad...)...)
		if said, err := cmd.CombinedOutput(); err == nil || len(said) < 20 || strings.Contains(string(said), "panic") {
			t.Errorf("%v: %s", bad, said)
		}
	}
}
