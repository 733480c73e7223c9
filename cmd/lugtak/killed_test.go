package main

import (
	"bytes"
	"context"
	"database/sql"
	"fmt"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	_ "modernc.org/sqlite" // the driver

	"lugtak/core/job"
	"lugtak/core/plan"
	"lugtak/demo"
	"lugtak/demo/files"
	"lugtak/library"
	"lugtak/shop"
)

// kills is how often each command is killed on its way, at moments spread over it.
const kills = 8

// A command that is killed at whatever moment leaves the shop whole, its work done or not done
// at all, and goes through when it is given again.
func TestCommandsSurviveKills(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	shop := filepath.Join(dir, "shop.db")
	fill(t, shop)
	job := filepath.Join(dir, "job.json")
	text, err := exec.Command(binary, "export", "--db", shop, demo.Done).Output()
	if err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(job, text, 0o600); err != nil {
		t.Fatal(err)
	}
	// A shop's own sheet: those of the demo are invented, and taken in by nobody else.
	sheet, err := files.FS.ReadFile("patterns/ostrel-c22.yaml")
	if err != nil {
		t.Fatal(err)
	}
	own := filepath.Join(dir, "library", "patterns")
	if err := os.MkdirAll(own, 0o700); err != nil {
		t.Fatal(err)
	}
	sheet = bytes.Replace(sheet, []byte("invented: true\n"), nil, 1)
	if err := os.WriteFile(filepath.Join(own, "ostrel-c22.yaml"), sheet, 0o600); err != nil {
		t.Fatal(err)
	}
	list := filepath.Join(dir, "fleet.csv")
	rows := "fleet,pattern\n"
	for n := range 1500 {
		rows += fmt.Sprintf("K-%d,ostrel-c22\n", n)
	}
	if err := os.WriteFile(list, []byte(rows), 0o600); err != nil {
		t.Fatal(err)
	}
	run(t, "backup", "--db", shop, filepath.Join(dir, "backup.db"))
	run(t, "export", "--db", shop, "--all", filepath.Join(dir, "folder"))

	for name, c := range map[string]struct {
		begin func(t *testing.T, at string)                   // what is there before, beside a fresh place
		args  func(t *testing.T, at string) []string          // the command
		whole func(t *testing.T, at string) (file, is string) // the file it leaves, and what it then holds
		was   string                                          // what it holds where nothing was done; empty for no file
	}{
		"import of a job": {
			begin: func(t *testing.T, at string) { newShop(t, at+"/new.db") },
			args:  func(t *testing.T, at string) []string { return []string{"import", "--db", at + "/new.db", job} },
			whole: func(t *testing.T, at string) (string, string) {
				return at + "/new.db", count(t, at+"/new.db", `SELECT count(DISTINCT job) FROM event`)
			},
			was: "0",
		},
		"import of a list": {
			begin: func(t *testing.T, at string) { newShop(t, at+"/new.db") },
			args: func(t *testing.T, at string) []string {
				return []string{
					"import", "--db", at + "/new.db", "--library", dir + "/library", "--kind", "vehicles", list,
				}
			},
			whole: func(t *testing.T, at string) (string, string) {
				return at + "/new.db", count(t, at+"/new.db", `SELECT count(*) FROM vehicle`)
			},
			was: "0",
		},
		"backup": {
			begin: func(*testing.T, string) {},
			args:  func(t *testing.T, at string) []string { return []string{"backup", "--db", shop, at + "/copy.db"} },
			whole: func(t *testing.T, at string) (string, string) { return at + "/copy.db", "" },
		},
		"restore": {
			begin: func(t *testing.T, at string) { newShop(t, at+"/new.db") },
			args: func(t *testing.T, at string) []string {
				return []string{"restore", "--db", at + "/new.db", dir + "/backup.db"}
			},
			whole: func(t *testing.T, at string) (string, string) { return at + "/new.db", "" },
		},
		"a folder going out": {
			begin: func(*testing.T, string) {},
			args:  func(t *testing.T, at string) []string { return []string{"export", "--db", shop, "--all", at + "/out"} },
			whole: func(t *testing.T, at string) (string, string) {
				if _, err := os.Stat(at + "/out"); err != nil {
					return "", ""
				}
				if _, err := os.Stat(at + "/again.db"); err != nil {
					run(t, "import", "--db", at+"/again.db", "--all", at+"/out")
				}
				return at + "/again.db", ""
			},
		},
		"a folder coming in": {
			begin: func(*testing.T, string) {},
			args: func(t *testing.T, at string) []string {
				return []string{"import", "--db", at + "/new.db", "--all", dir + "/folder"}
			},
			whole: func(t *testing.T, at string) (string, string) { return at + "/new.db", "" },
		},
		"bringing up to date": {
			begin: func(t *testing.T, at string) { age(t, shop, at+"/old.db") },
			args:  func(t *testing.T, at string) []string { return []string{"rebuild", "--db", at + "/old.db"} },
			whole: func(t *testing.T, at string) (string, string) { return at + "/old.db", "" },
		},
	} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			at := t.TempDir()
			c.begin(t, at)
			began := time.Now()
			run(t, c.args(t, at)...)
			took := time.Since(began)
			_, done := c.whole(t, at)
			cut := 0
			for k := range kills {
				at := t.TempDir()
				c.begin(t, at)
				if killed(t, took*time.Duration(2*k+1)/(2*kills), c.args(t, at)...) {
					cut++
				}
				file, is := c.whole(t, at)
				if _, err := os.Stat(file); file != "" && err == nil {
					run(t, "check", file)
				}
				if is != done && is != c.was {
					t.Errorf("killed at %d of %d it is neither done nor undone: %s", k+1, kills, is)
				}
				if out, err := exec.Command(binary, c.args(t, at)...).CombinedOutput(); err != nil &&
					!strings.Contains(string(out), "exists") {
					t.Errorf("given again after %d of %d: %s", k+1, kills, out)
				}
				if file, is = c.whole(t, at); is != done {
					t.Errorf("given again it is %s, not %s", is, done)
				}
				if file != "" {
					run(t, "check", file)
				}
			}
			if cut == 0 {
				t.Errorf("none of %d was cut short", kills)
			}
		})
	}
}

// A server that is killed while somebody signs has the signature or has none, and takes the same
// one again.
func TestSigningSurvivesKills(t *testing.T) {
	t.Parallel()
	shop := filepath.Join(t.TempDir(), "shop.db")
	worked(t, shop, demo.Waiting)
	// sign serves a copy and signs on it; the server is killed after a while, where one is given.
	sign := func(t *testing.T, file string, after time.Duration) (took time.Duration) {
		t.Helper()
		cmd, addr := start(t, "demo", "--young", "--addr", "127.0.0.1:0", "--db", file)
		client, csrf := signIn(t, addr, demo.People[1].Name, demo.People[1].PIN)
		client.CheckRedirect = func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }
		if after > 0 {
			time.AfterFunc(after, func() { cmd.Process.Kill() })
		}
		began := time.Now()
		res, err := client.PostForm(
			"http://"+addr+"/jobs/"+demo.Waiting+"/sign",
			url.Values{"_csrf": {csrf}, "id": {"the-signature"}, "pin": {demo.People[1].PIN}},
		)
		took = time.Since(began)
		if err == nil {
			res.Body.Close()
		}
		if after == 0 && (err != nil || res.StatusCode != http.StatusSeeOther) {
			t.Fatalf("signing: %v %v", res, err)
		}
		cmd.Process.Kill()
		cmd.Wait()
		return took
	}
	signed := func(file string) string {
		return count(t, file, `SELECT count(*) FROM event WHERE job = '`+demo.Waiting+`' AND kind = 'signed'`)
	}
	copied := func() string {
		file := filepath.Join(t.TempDir(), "copy.db")
		run(t, "backup", "--db", shop, file)
		return file
	}
	after := sign(t, copied(), 0)
	undone := 0
	for k := range kills {
		file := copied()
		sign(t, file, after)
		// The kills close in on the moment the signature is kept, from before it and from behind.
		switch n := signed(file); n {
		case "0":
			undone++
			after += after / 4
		case "1":
			after /= 2
		default:
			t.Errorf("killed at %d of %d it is signed %s times", k+1, kills, n)
		}
		run(t, "check", file)
		sign(t, file, 0)
		if n := signed(file); n != "1" {
			t.Errorf("given again after %d of %d it is signed %s times", k+1, kills, n)
		}
		run(t, "check", file)
	}
	if undone == 0 {
		t.Errorf("none of %d was cut short", kills)
	}
	t.Logf("%d of %d before the signature was kept", undone, kills)
}

// worked makes a demo shop's file with a job that wants nothing but its signature.
func worked(t *testing.T, path, id string) {
	t.Helper()
	ctx := context.Background()
	lib, err := library.Load("", files.FS)
	if err != nil {
		t.Fatal(err)
	}
	s, err := shop.Open(ctx, path, lib, shop.Options{Demo: true})
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	now := time.Now().Add(-6 * time.Hour)
	if err := demo.Fill(ctx, s, now); err != nil {
		t.Fatal(err)
	}
	h := demo.Hand{Shop: s, Lib: lib, By: demo.People[1].Name, Now: now}
	if err := h.Work(ctx, id, func(*job.State, *plan.Step) bool { return false }); err != nil {
		t.Fatal(err)
	}
}

// fill makes a demo shop's file.
func fill(t *testing.T, path string) {
	t.Helper()
	cmd, _ := start(t, "demo", "--young", "--db", path, "--addr", "127.0.0.1:0")
	if err := cmd.Process.Signal(os.Interrupt); err != nil {
		t.Fatal(err)
	}
	cmd.Wait()
}

// newShop makes an empty shop's file.
func newShop(t *testing.T, path string) {
	t.Helper()
	cmd := exec.Command(binary, "init", "--db", path, "--name", "Foreman Ull")
	cmd.Stdin = strings.NewReader("4713\n")
	if out, err := cmd.CombinedOutput(); err != nil {
		t.Fatal(string(out))
	}
}

// killed runs a command and kills it after a while; it says whether it was still running.
func killed(t *testing.T, after time.Duration, args ...string) bool {
	t.Helper()
	cmd := exec.Command(binary, args...)
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	time.Sleep(after)
	cmd.Process.Kill()
	return cmd.Wait() != nil
}

func count(t *testing.T, path, query string) string {
	t.Helper()
	db, err := sql.Open("sqlite", path)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	var n string
	if err := db.QueryRow(query).Scan(&n); err != nil {
		t.Fatal(err)
	}
	return n
}

// age makes a file as the release before had it: what the last migration made is taken back.
func age(t *testing.T, from, to string) {
	t.Helper()
	run(t, "backup", "--db", from, to)
	db, err := sql.Open("sqlite", to)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	for _, q := range []string{
		`DELETE FROM goose_db_version WHERE version_id = (SELECT MAX(version_id) FROM goose_db_version)`,
		`DROP TABLE chain_place`, // the newest brings it
	} {
		if _, err := db.Exec(q); err != nil {
			t.Fatal(err)
		}
	}
}
