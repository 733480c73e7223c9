package main

import (
	"crypto/x509"
	"encoding/json"
	"errors"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
)

// begun is a new shop's file with its foreman.
func begun(t *testing.T) string {
	t.Helper()
	db := filepath.Join(t.TempDir(), "shop.db")
	made := exec.Command(binary, "init", "--db", db, "--name", "Foreman Ull")
	made.Stdin = strings.NewReader("4713\n")
	if out, err := made.CombinedOutput(); err != nil {
		t.Fatalf("%v: %s", err, out)
	}
	return db
}

// told runs a command and gives what it printed for scripts, with its exit status.
func told(t *testing.T, into any, args ...string) int {
	t.Helper()
	out, err := exec.Command(binary, args...).Output()
	var ended *exec.ExitError
	if err != nil && !errors.As(err, &ended) {
		t.Fatal(err)
	}
	if err := json.Unmarshal(out, into); err != nil {
		t.Fatalf("lugtak %s prints %q: %v", strings.Join(args, " "), out, err)
	}
	if ended != nil {
		return ended.ExitCode()
	}
	return 0
}

// doctored is what lugtak doctor prints.
type doctored struct {
	OK    bool
	Found []ailment
}

func (d doctored) of(what string) string {
	for _, x := range d.Found {
		if x.What == what && x.Remedy != "" {
			return x.Found + " | " + x.Remedy
		}
	}
	return ""
}

// Whatever is wrong with an installation is said at once, each with what to do, and a sound one is called so.
func TestDoctor(t *testing.T) {
	db := begun(t)
	var sound doctored
	if code := told(t, &sound, "doctor", "--json", "--db", db); code != 0 || !sound.OK {
		t.Errorf("a new shop: %d %+v", code, sound)
	}
	if !strings.Contains(sound.of("server"), "lugtak serve") {
		t.Errorf("nobody serves it: %+v", sound)
	}

	lib := t.TempDir()
	if err := os.WriteFile(filepath.Join(lib, "tools.yaml"), []byte("tools: ["), 0o600); err != nil {
		t.Fatal(err)
	}
	if err := os.Chmod(db, 0o644); err != nil {
		t.Fatal(err)
	}
	if err := os.Remove(db + ".key"); err != nil {
		t.Fatal(err)
	}
	wrong := []string{"--db", db, "--library", lib, "--supplier", "foo", "--proxy", "nonsense", "--zone", "Nowhere",
		"--keep", "0", "--chain-node", "--metrics", "here", "--backups", t.TempDir()}
	var ill doctored
	if code := told(t, &ill, append([]string{"doctor", "--json"}, wrong...)...); code != 1 || ill.OK {
		t.Errorf("%d %+v", code, ill)
	}
	for what, says := range map[string]string{
		"--library": "tools.yaml:1", "--supplier": "https://", "--proxy": "nonsense", "--zone": "Lisbon", "--keep": "1 on",
		"--chain-node": "--chain", "--metrics": "HOST:PORT", "shop file": "chmod 600", "key": "backup", "backups": "none in",
	} {
		if got := ill.of(what); !strings.Contains(got, says) {
			t.Errorf("%s: %q, want %q", what, got, says)
		}
	}

	out, err := exec.Command(binary, append([]string{"serve"}, wrong...)...).CombinedOutput()
	if err == nil {
		t.Error("it serves with all that")
	}
	for _, flag := range []string{"--library", "--supplier", "--proxy", "--zone", "--keep", "--chain-node", "--metrics"} {
		if !strings.Contains(string(out), "lugtak: "+flag+": ") {
			t.Errorf("serve does not name %s: %s", flag, out)
		}
	}
	// A certificate that is for no server is told.
	cert, private, _ := certified(t, t.TempDir(), func(c *x509.Certificate) {
		c.IPAddresses, c.ExtKeyUsage = nil, []x509.ExtKeyUsage{x509.ExtKeyUsageClientAuth}
	})
	var nobody doctored
	told(t, &nobody, "doctor", "--json", "--db", db, "--cert", cert, "--key", private)
	if !strings.Contains(nobody.of("certificate"), "serverAuth") {
		t.Errorf("a certificate of no server: %+v", nobody)
	}
	var none doctored
	if code := told(t, &none, "doctor", "--json", "--db", db+"x"); code != 1 || none.of("shop file") == "" {
		t.Errorf("no file: %d %+v", code, none)
	}
}

// A file that is served is neither mended nor rebuilt under its server's hands; the doctor finds the server.
func TestUpkeepWantsTheFileForItself(t *testing.T) {
	db := begun(t)
	cmd, addr := start(t, "serve", "--db", db, "--addr", "127.0.0.1:0")
	for _, args := range [][]string{{"rebuild", "--db", db}, {"mend", "--db", db, "--by", "Ull", "--why", "a try"}} {
		if out, err := exec.Command(binary, args...).CombinedOutput(); err == nil ||
			!strings.Contains(string(out), "is served by another process") {
			t.Errorf("%v: %v %s", args, err, out)
		}
	}
	var x doctored
	told(t, &x, "doctor", "--json", "--db", db, "--addr", addr)
	if x.of("server") != "" {
		t.Errorf("the server at %s is not found: %+v", addr, x)
	}
	told(t, &x, "doctor", "--json", "--db", db, "--addr", "127.0.0.1:1")
	if !strings.Contains(x.of("server"), "none answers") {
		t.Errorf("another address: %+v", x)
	}
	cmd.Process.Signal(syscall.SIGTERM)
	cmd.Wait()
	run(t, "rebuild", "--db", db)
}

// What a check and a restore found is told to scripts as it is to people.
func TestUpkeepForScripts(t *testing.T) {
	db := begun(t)
	copied := filepath.Join(t.TempDir(), "copy.db")
	run(t, "backup", "--db", db, copied)
	var checked struct {
		OK     bool
		Acts   int
		Heads  string
		Faults []string
	}
	code := told(t, &checked, "check", "--json", db)
	if code != 0 || !checked.OK || checked.Acts == 0 || checked.Heads == "" {
		t.Errorf("%d %+v", code, checked)
	}
	var restored struct {
		OK    bool
		Aside string
	}
	code = told(t, &restored, "restore", "--json", "--db", db, copied)
	if code != 0 || !restored.OK || restored.Aside == "" {
		t.Errorf("%d %+v", code, restored)
	}
	text, err := os.ReadFile(db)
	if err != nil {
		t.Fatal(err)
	}
	bad := strings.Replace(string(text), "Foreman Ull", "Foreman Ulf", 1)
	if err := os.WriteFile(db, []byte(bad), 0o600); err != nil {
		t.Fatal(err)
	}
	if code := told(t, &checked, "check", "--json", db); code != 1 || checked.OK || len(checked.Faults) == 0 {
		t.Errorf("a changed file: %d %+v", code, checked)
	}
	var v struct{ Release, Platform string }
	if told(t, &v, "version", "--json"); v.Release != release || v.Platform == "" {
		t.Errorf("%+v", v)
	}
}
