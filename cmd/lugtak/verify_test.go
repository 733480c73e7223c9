package main

import (
	"encoding/json"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"lugtak/demo"
	"lugtak/store"
)

// A job file is vouched for by a key somebody named, never by the one it brings along: one that
// was sealed anew throughout holds, and says by its status that nobody vouches for it.
func TestVerifyNamesWhoVouches(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	export := func(name string) (path string, f *store.JobFile) {
		shop := filepath.Join(dir, name+".db")
		fill(t, shop)
		text, err := exec.Command(binary, "export", "--db", shop, demo.Done).Output()
		if err != nil {
			t.Fatal(err)
		}
		path = filepath.Join(dir, name+".json")
		if err := os.WriteFile(path, text, 0o600); err != nil {
			t.Fatal(err)
		}
		if f, _, err = store.ReadJobFile(text); err != nil {
			t.Fatal(err)
		}
		return path, f
	}
	ours, f := export("ours")
	theirs, _ := export("theirs") // the same job, sealed by another key
	bare := filepath.Join(dir, "bare.json")
	without := *f
	without.Key, without.Signature = "", ""
	text, err := json.Marshal(without)
	if err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(bare, text, 0o600); err != nil {
		t.Fatal(err)
	}
	for name, c := range map[string]struct {
		args   []string
		status int
		says   string
	}{
		"our key, whole":             {[]string{ours, "--trust", f.Key}, 0, "ok"},
		"our key by its fingerprint": {[]string{ours, "--trust", f.Fingerprint()}, 0, "ok"},
		"with the paper":             {[]string{ours, f.Hash(), "--trust", f.Key}, 0, "ok"},
		"nobody vouches":             {[]string{ours}, unknownKey, "nobody vouched for"},
		"another key":                {[]string{theirs, "--trust", f.Key}, 1, "another key"},
		"no key":                     {[]string{bare}, unknownKey, "no shop's key"},
		"no key, one is asked":       {[]string{bare, "--trust", f.Key}, 1, "no shop's key"},
		"another paper":              {[]string{ours, "abcd", "--trust", f.Key}, 1, "another hash"},
		"an empty paper":             {[]string{ours, "", "--trust", f.Key}, 1, "another hash"},
	} {
		cmd := exec.Command(binary, append([]string{"verify"}, c.args...)...)
		out, _ := cmd.CombinedOutput()
		if is := cmd.ProcessState.ExitCode(); is != c.status || !strings.Contains(string(out), c.says) {
			t.Errorf("%s: status %d, %s", name, is, out)
		}
	}
}

// A PIN that is refused leaves nothing of a new shop, and the next one makes it.
func TestInitLeavesNothingBehind(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	path := filepath.Join(dir, "shop.db")
	for _, c := range []struct {
		pin   string
		files bool
	}{{"12", false}, {"582014", true}} {
		cmd := exec.Command(binary, "init", "--db", path, "--name", "Foreman Ull")
		cmd.Stdin = strings.NewReader(c.pin + "\n")
		out, err := cmd.CombinedOutput()
		left, bad := os.ReadDir(dir)
		if bad != nil || (err == nil) != c.files || (len(left) > 0) != c.files {
			t.Errorf("with %s: %v, %s, left %v", c.pin, err, out, left)
		}
	}
}
