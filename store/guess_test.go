package store

import (
	"encoding/base64"
	"fmt"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"lugtak/core/fault"
	"lugtak/core/job"
)

// here is where the tests ask from.
var here = Asker{Address: "here"}

// Very many guesses at once are counted each, before any is looked at: five are.
func TestGuessesAtOnceAreCounted(t *testing.T) {
	s, _ := open(t)
	if _, err := s.AddPerson(ctx, "Technician Aro", job.Technician, "2401", "test"); err != nil {
		t.Fatal(err)
	}
	var looked, right atomic.Int32
	var all sync.WaitGroup
	for i := range 60 {
		all.Go(func() {
			pin := "0000"
			if i == 59 {
				pin = "2401" // the right one among them
			}
			_, err := s.Prove(ctx, "Technician Aro", pin, here, now)
			switch f := fault.As(err); {
			case err == nil:
				right.Add(1)
			case f != nil && f.Code == "bad_pin":
				looked.Add(1)
			}
		})
	}
	all.Wait()
	if n := looked.Load() + right.Load(); n > 6 {
		t.Errorf("%d of 60 guesses were looked at", n)
	}
}

// A stranger who guesses at a name keeps neither its owner's signature nor, for long, their
// sign-in.
func TestAStrangerLocksNobody(t *testing.T) {
	s, _ := open(t)
	if _, err := s.AddPerson(ctx, "Technician Aro", job.Technician, "2401", "test"); err != nil {
		t.Fatal(err)
	}
	at := now
	for range 40 {
		at = at.Add(20 * time.Minute)
		s.Prove(ctx, "Technician Aro", "0000", Asker{Address: "stranger"}, at)
	}
	if _, err := s.Prove(ctx, "Technician Aro", "2401", Asker{Address: "bay", Person: "their own"}, at); err != nil {
		t.Errorf("who is in cannot sign: %v", err)
	}
	for range 6 {
		s.Prove(ctx, "Technician Aro", "0000", Asker{Address: "stranger"}, at)
	}
	if _, err := s.Prove(ctx, "Technician Aro", "2401", here, at.Add(31*time.Second)); err != nil {
		t.Errorf("half a minute later they cannot sign in elsewhere: %v", err)
	}
}

// Guesses from ever new addresses keep a name waiting, and never where it signs in.
func TestManyAddressesLockNobodyOut(t *testing.T) {
	s, _ := open(t)
	if _, err := s.AddPerson(ctx, "Technician Aro", job.Technician, "2401", "test"); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Prove(ctx, "Technician Aro", "2401", Asker{Address: "bay"}, now); err != nil {
		t.Fatal(err)
	}
	at, held := now, 0
	for i := range 60 {
		_, err := s.Prove(ctx, "Technician Aro", "0000", Asker{Address: fmt.Sprint("stranger ", i)}, at)
		if f := fault.As(err); f != nil && f.Code == "throttled" {
			held++
		}
	}
	if held == 0 {
		t.Error("sixty addresses guess without a wait")
	}
	if _, err := s.Prove(ctx, "Technician Aro", "0000", Asker{Address: "bay"}, at); fault.As(err).Code != "bad_pin" {
		t.Errorf("a wrong one at the bay: %v", err)
	}
	if _, err := s.Prove(ctx, "Technician Aro", "2401", Asker{Address: "bay"}, at); err != nil {
		t.Errorf("locked out of their own bay: %v", err)
	}
}

// Who is in guesses no better at another's PIN by signing in again and again.
func TestNewSessionsGiveNoNewGuesses(t *testing.T) {
	s, _ := open(t)
	p, err := s.AddPerson(ctx, "Technician Aro", job.Technician, "2401", "test")
	if err != nil {
		t.Fatal(err)
	}
	if _, err := s.AddPerson(ctx, "Foreman Cass", job.Foreman, "5820", "test"); err != nil {
		t.Fatal(err)
	}
	looked := 0
	for range 12 {
		if _, err := s.Prove(ctx, "Technician Aro", "2401", here, now); err != nil {
			t.Fatal(err)
		}
		if _, err := s.SignIn(ctx, p, "tablet", now); err != nil {
			t.Fatal(err)
		}
		_, err := s.Prove(ctx, "Foreman Cass", "0000", Asker{Address: "here", Person: p.ID}, now)
		if f := fault.As(err); f != nil && f.Code == "bad_pin" {
			looked++
		}
	}
	if looked > 5 {
		t.Errorf("%d guesses were looked at", looked)
	}
}

// A name nobody has, one that was locked out and one with another PIN take alike: none tells
// by the time it takes which it is.
func TestNoNameTellsByItsTime(t *testing.T) {
	s, _ := open(t)
	p, err := s.AddPerson(ctx, "Technician Dov", job.Technician, "2401", "test")
	if err != nil {
		t.Fatal(err)
	}
	if err := s.SetActive(ctx, p.ID, false, "test"); err != nil {
		t.Fatal(err)
	}
	// Not timed: the stored text decides whether argon2 is asked for anything.
	if !asArgon(nobody) {
		t.Error("a name that is not known asks for no hash")
	}
	if _, err := s.Prove(ctx, "Technician Dov", "2401", here, now); fault.As(err) == nil ||
		fault.As(err).Code != "bad_pin" {
		t.Errorf("locked out, and in: %v", err)
	}
}

// asArgon says that matching against a stored PIN hashes.
func asArgon(stored string) bool {
	parts := strings.Split(stored, "$")
	if len(parts) != 6 {
		return false
	}
	salt, err := base64.RawStdEncoding.DecodeString(parts[4])
	return err == nil && len(salt) == saltLen
}

// What was guessed wrong is forgotten a day later, with the address it came from.
func TestGuessesAreForgotten(t *testing.T) {
	s, _ := open(t)
	if _, err := s.AddPerson(ctx, "Technician Aro", job.Technician, "2401", "test"); err != nil {
		t.Fatal(err)
	}
	rows := func() (n int) {
		t.Helper()
		if err := s.r.QueryRowContext(ctx, `SELECT count(*) FROM guess`).Scan(&n); err != nil {
			t.Fatal(err)
		}
		return n
	}
	for i := range 20 {
		s.Prove(ctx, "Nobody", "0000", Asker{Address: fmt.Sprint("stranger ", i)}, now)
	}
	if rows() < 20 {
		t.Fatalf("%d rows are counted by", rows())
	}
	s.Prove(ctx, "Technician Aro", "2401", here, now.Add(guessesFor+time.Hour))
	if n := rows(); n > 1 { // where Aro is known
		t.Errorf("%d rows are left", n)
	}
}
