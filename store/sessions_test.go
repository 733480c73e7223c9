package store

import (
	"slices"
	"testing"
	"time"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/record"
)

// person is somebody who may sign in.
func person(t *testing.T, s *Store, name string, role job.Role) listing.Person {
	t.Helper()
	p, err := s.AddPerson(ctx, name, role, "2401", "test")
	if err != nil {
		t.Fatal(err)
	}
	return p
}

// A session that is used goes on through the day; one left alone ends.
func TestIdleSessionsEnd(t *testing.T) {
	s, _ := open(t)
	p := person(t, s, "Aro", job.Technician)
	used, err := s.SignIn(ctx, p, "iPad", now)
	if err != nil {
		t.Fatal(err)
	}
	left, err := s.SignIn(ctx, p, "Android", now)
	if err != nil {
		t.Fatal(err)
	}
	at := now
	for at.Before(now.Add(10 * time.Hour)) {
		at = at.Add(3 * time.Hour)
		if x, err := s.Session(ctx, used, at); err != nil || x == nil {
			t.Fatalf("the one in use ended at %s: %v", at, err)
		}
	}
	if x, _ := s.Session(ctx, left, at); x != nil {
		t.Error("the one left alone holds")
	}
	rows, err := s.Sessions(ctx, "", at)
	if err != nil || len(rows) != 1 || rows[0].Device != "iPad" {
		t.Errorf("%+v %v", rows, err)
	}
	if x, _ := s.Session(ctx, used, now.Add(sessionLasts+time.Second)); x != nil {
		t.Error("one in use goes on after a long day")
	}
}

// A revoked session ends at once, once, and that it was is sealed.
func TestRevoke(t *testing.T) {
	s, path := open(t)
	p := person(t, s, "Aro", job.Technician)
	cookie, err := s.SignIn(ctx, p, "iPad", now)
	if err != nil {
		t.Fatal(err)
	}
	rows, err := s.Sessions(ctx, p.ID, now)
	if err != nil || len(rows) != 1 {
		t.Fatal(rows, err)
	}
	if err := s.Revoke(ctx, rows[0], "Cass", now); err != nil {
		t.Fatal(err)
	}
	if x, _ := s.Session(ctx, cookie, now); x != nil || s.SessionLives(ctx, rows[0].ID, now) {
		t.Error("it holds")
	}
	if f := fault.As(s.Revoke(ctx, rows[0], "Cass", now)); f == nil {
		t.Error("it was ended twice")
	}
	acts, err := s.ActsBefore(ctx, 0, 1)
	if err != nil || acts[0].Kind != (record.SessionRevoked{}).ActKind() || acts[0].By != "Cass" {
		t.Errorf("%+v %v", acts, err)
	}
	s.Close()
	if r, err := Check(ctx, path); err != nil || !r.OK() {
		t.Errorf("%+v %v", r, err)
	}
}

// A role is changed under seal, ends the sessions of its person, and the last foreman stays one.
func TestSetRole(t *testing.T) {
	s, path := open(t)
	cass := person(t, s, "Cass", job.Foreman)
	aro := person(t, s, "Aro", job.Technician)
	if f := fault.As(s.SetRole(ctx, cass.ID, job.Reader, "Cass")); f == nil || f.Code != "last_foreman" {
		t.Errorf("the last foreman: %v", f)
	}
	if f := fault.As(s.SetRole(ctx, aro.ID, "owner", "Cass")); f == nil || f.Field != "role" {
		t.Errorf("no role: %v", f)
	}
	cookie, err := s.SignIn(ctx, aro, "iPad", now)
	if err != nil {
		t.Fatal(err)
	}
	if err := s.SetRole(ctx, aro.ID, job.Foreman, "Cass"); err != nil {
		t.Fatal(err)
	}
	if x, _ := s.Session(ctx, cookie, now); x != nil {
		t.Error("a session goes on with another role")
	}
	if err := s.SetRole(ctx, cass.ID, job.Reader, "Aro"); err != nil {
		t.Errorf("with another foreman: %v", err)
	}
	s.Close()
	if r, err := Check(ctx, path); err != nil || !r.OK() {
		t.Errorf("%+v %v", r, err)
	}
}

// The PINs that everybody tries first are none.
func TestWeakPINs(t *testing.T) {
	for _, pin := range []string{"", "123", "12a4", "0000", "1111111", "1234", "4321", "2468", "9876543", "1212", "121212",
		"1987", "2024", "1234567890123"} {
		if checkPIN(pin) == nil {
			t.Errorf("%s is taken", pin)
		}
	}
	for _, pin := range []string{"2401", "3712", "5820", "80412", "1213", "194703"} {
		if err := checkPIN(pin); err != nil {
			t.Errorf("%s: %v", pin, err)
		}
	}
}

// Nobody is called so that their records could be a script's.
func TestNobodyIsCalledAScript(t *testing.T) {
	s, _ := open(t)
	for _, name := range []string{"script fleet office", " Script x"} {
		if _, err := s.AddPerson(ctx, name, job.Technician, "2401", "test"); fault.As(err) == nil {
			t.Errorf("%q is taken", name)
		}
	}
	person(t, s, "Scripta", job.Technician)
}

// A token lets in what it was made for, and nothing once it is ended; its secret is not in the file.
func TestScripts(t *testing.T) {
	s, path := open(t)
	secret, err := s.LetScriptIn(ctx, "fleet office", listing.ScopeRead, "Cass", now)
	if err != nil {
		t.Fatal(err)
	}
	x, ok, err := s.ScriptOf(ctx, secret, now)
	if err != nil || !ok || x.Signs() != "script fleet office" || x.Scope.Allows(listing.ScopeWrite) ||
		!x.Scope.Allows(listing.ScopeRead) {
		t.Fatalf("%+v %v %v", x, ok, err)
	}
	for _, bad := range []string{"", "x", secret + "x"} {
		if _, ok, _ := s.ScriptOf(ctx, bad, now); ok {
			t.Errorf("%q is let in", bad)
		}
	}
	for field, try := range map[string]func() error{
		"name":  func() error { _, err := s.LetScriptIn(ctx, "Fleet Office", listing.ScopeRead, "Cass", now); return err },
		"scope": func() error { _, err := s.LetScriptIn(ctx, "other", "all", "Cass", now); return err },
	} {
		if f := fault.As(try()); f == nil || f.Field != field {
			t.Errorf("%s: %v", field, f)
		}
	}
	var stored []string
	if stored, err = s.strings(ctx, `SELECT token FROM script_token UNION SELECT body FROM act`); err != nil ||
		slices.Contains(stored, secret) {
		t.Errorf("%v", err)
	}
	if err := s.KeepScriptOut(ctx, x.ID, "Cass", now); err != nil {
		t.Fatal(err)
	}
	if _, ok, _ := s.ScriptOf(ctx, secret, now); ok || s.ScriptLives(ctx, x.ID) {
		t.Error("it is let in after its end")
	}
	s.Close()
	if r, err := Check(ctx, path); err != nil || !r.OK() {
		t.Errorf("%+v %v", r, err)
	}
}
