package main

import (
	"bufio"
	"encoding/json"
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
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"lugtak/core/operation"
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
	_, addr, _ := strings.Cut(strings.TrimSpace(line), "http://")
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

// signIn gives a client with a session and the token its writes need.
func signIn(t *testing.T, addr string) (*http.Client, string) {
	t.Helper()
	jar, _ := cookiejar.New(nil)
	c := &http.Client{Jar: jar, Timeout: 10 * time.Second}
	res, err := c.PostForm("http://"+addr+"/signin", url.Values{"name": {"Technician Aro"}, "pin": {"2401"}})
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

// Two hundred pulls are recorded by four hands while the server is killed at
// random moments and started again. A hand repeats what was not acknowledged,
// under the same id, and every acknowledged pull is there once.
func TestPullsSurviveKills(t *testing.T) {
	const pulls, hands = 200, 4
	db := filepath.Join(t.TempDir(), "shop.db")
	cmd, addr := start(t, "demo", "--addr", "127.0.0.1:0", "--db", db)
	client, token := signIn(t, addr)

	var next, acknowledged atomic.Int64
	var wg sync.WaitGroup
	stop := make(chan struct{})
	for range hands {
		wg.Add(1)
		go func() {
			defer wg.Done()
			for {
				n := next.Add(1)
				if n > pulls {
					return
				}
				// A low pull is recorded and pays nothing, so that one fastener takes them all.
				form := url.Values{"_csrf": {token}, "id": {fmt.Sprintf("pull-%d", n)}, "step": {"front-hub-unit.knuckle-1.FL"}, "joint": {"hub.FL.knuckle"}, "letter": {"B"}, "tool": {"w3"}, "set": {"60"}, "reading": {"50"}}
				for {
					res, err := client.PostForm("http://"+addr+"/jobs/demo-half-done/pull", form)
					if err == nil {
						io.Copy(io.Discard, res.Body)
						res.Body.Close()
						if res.StatusCode == http.StatusOK {
							acknowledged.Add(1)
							time.Sleep(time.Duration(rand.IntN(120)) * time.Millisecond)
							break
						}
						t.Errorf("pull %d: status %d", n, res.StatusCode)
						return
					}
					select {
					case <-stop:
						return
					case <-time.After(20 * time.Millisecond):
					}
				}
			}
		}()
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
			if next.Load() < pulls && acknowledged.Load() > seen && kills < 15 {
				cmd.Process.Kill()
				cmd.Wait()
				kills++
				cmd, _ = start(t, "demo", "--addr", addr, "--db", db)
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
		Events []struct{ ID, Kind string }
	}
	if err := json.Unmarshal([]byte(run(t, "export", "--db", db, "demo-half-done")), &file); err != nil {
		t.Fatal(err)
	}
	there := map[string]int{}
	for _, e := range file.Events {
		if strings.HasPrefix(e.ID, "pull-") && e.Kind == "pulled" {
			there[e.ID]++
		}
	}
	for n := 1; n <= pulls; n++ {
		if id := fmt.Sprintf("pull-%d", n); there[id] != 1 {
			t.Errorf("%s is there %d times", id, there[id])
		}
	}
	if got := run(t, "check", db); !strings.HasPrefix(got, "ok:") {
		t.Error(got)
	}
	t.Logf("%d kills, %d acknowledged", kills, acknowledged.Load())
}

// A backup made while pulls are recorded is whole, and a job imported by
// another process while the shop serves does not break the chain.
func TestOtherProcessesBesideTheServer(t *testing.T) {
	dir := t.TempDir()
	db, other := filepath.Join(dir, "shop.db"), filepath.Join(dir, "other.db")
	cmd, addr := start(t, "demo", "--addr", "127.0.0.1:0", "--db", db)
	client, token := signIn(t, addr)
	pull := func(id string) {
		res, err := client.PostForm("http://"+addr+"/jobs/demo-half-done/pull", url.Values{"_csrf": {token}, "id": {id}, "step": {"front-hub-unit.knuckle-1.FL"}, "joint": {"hub.FL.knuckle"}, "letter": {"B"}, "tool": {"w3"}, "set": {"60"}, "reading": {"50"}})
		if err != nil || res.StatusCode != http.StatusOK {
			t.Fatal(id, err)
		}
		res.Body.Close()
	}
	pull("a")
	run(t, "backup", "--db", db, other)
	run(t, "check", other)
	job := filepath.Join(dir, "job.json")
	text := strings.ReplaceAll(run(t, "export", "--db", other, "demo-waiting"), "demo-waiting", "elsewhere")
	if err := os.WriteFile(job, []byte(text), 0o600); err != nil {
		t.Fatal(err)
	}
	if out, err := exec.Command(binary, "import", "--db", db, job).CombinedOutput(); err == nil || !strings.Contains(string(out), "seal") {
		t.Errorf("a file changed by hand is taken: %s", out)
	}
	empty := filepath.Join(dir, "empty.db")
	if err := os.WriteFile(job, []byte(run(t, "export", "--db", db, "demo-waiting")), 0o600); err != nil {
		t.Fatal(err)
	}
	run(t, "import", "--db", empty, job)
	shop, shopAddr := start(t, "serve", "--addr", "127.0.0.1:0", "--db", empty)
	res, err := http.Get("http://" + shopAddr + "/signin")
	if err != nil || res.StatusCode != http.StatusOK {
		t.Fatal(err)
	}
	res.Body.Close()
	half := filepath.Join(dir, "half.json")
	if err := os.WriteFile(half, []byte(run(t, "export", "--db", db, "demo-half-done")), 0o600); err != nil {
		t.Fatal(err)
	}
	run(t, "import", "--db", empty, half)
	pull("b")
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
}

// The command line prints the same object the server sends, and ends with 2.
func TestCalcOverBothDoors(t *testing.T) {
	cmd, addr := start(t, "demo", "--addr", "127.0.0.1:0")
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
		if code := byHand.ProcessState.ExitCode(); (c.status == 200) != (code == 0 && err == nil) || c.status != 200 && code != 2 {
			t.Errorf("%s %s: ended with %d", c.name, c.in, code)
		}
	}
}

// A plan of several operations, by another school, from the command line.
func TestPlanFromTheCommandLine(t *testing.T) {
	out := run(t, "plan", "--vehicle", "caldren-m9", "--operation", "lower-ball-joint@FL", "--operation", "lower-ball-joint@FR", "--operation", "idler-arm", "--school", "taper=blow", "--technicians", "2", "--json")
	var plan operation.Plan
	if err := json.Unmarshal([]byte(out), &plan); err != nil {
		t.Fatal(err)
	}
	taper := plan.Step("tie-rod-end.taper.FR")
	if len(plan.Tasks) != 3 || plan.Technicians != 2 || taper == nil || !strings.Contains(taper.Title, "with a blow") || plan.Raises() != 1 || !plan.Invented {
		t.Errorf("%v, %d technicians, %+v", plan.Tasks, plan.Technicians, taper)
	}
	if text := run(t, "plan", "--vehicle", "ostrel-c22", "--operation", "pads-rotors", "--corner", "RR"); !strings.Contains(text, "proved least") || !strings.Contains(text, "rear right") {
		t.Error(text)
	}
	for _, bad := range [][]string{{"--operation", "crossmember@FL"}, {"--operation", "idler-arm", "--school", "taper=bite"}, {"--operation", "wings"}, {"--operation", "@"}} {
		cmd := exec.Command(binary, append([]string{"plan", "--vehicle", "caldren-m9"}, bad...)...)
		if said, err := cmd.CombinedOutput(); err == nil || len(said) < 20 || strings.Contains(string(said), "panic") {
			t.Errorf("%v: %s", bad, said)
		}
	}
}
