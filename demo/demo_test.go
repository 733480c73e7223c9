package demo

import (
	"context"
	"database/sql"
	"fmt"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/library"
	"lugtak/store"
)

var (
	ctx = context.Background()
	now = time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
)

func shop(t testing.TB) (*store.Store, *library.Library, string) {
	t.Helper()
	lib, err := library.Load("")
	if err != nil {
		t.Fatal(err)
	}
	path := filepath.Join(t.TempDir(), "demo.db")
	s, err := store.Open(ctx, path)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	if err := Fill(ctx, s, lib, now); err != nil {
		t.Fatal(err)
	}
	return s, lib, path
}

func TestFill(t *testing.T) {
	s, lib, path := shop(t)
	st, err := s.Job(ctx, HalfDone)
	if err != nil {
		t.Fatal(err)
	}
	if got := st.Next(); got != "knuckle-1" || st.Current(st.Plan.Step(got)) != "B" {
		t.Errorf("the half-done job stands at %s, fastener %s", got, st.Current(st.Plan.Step(got)))
	}
	if len(st.Owed()) != 15 {
		t.Errorf("%d owed", len(st.Owed()))
	}
	if err := Fill(ctx, s, lib, now); err != nil { // a second time changes nothing
		t.Fatal(err)
	}
	if jobs, _, err := store.Check(ctx, path); err != nil || jobs != 2 {
		t.Errorf("%d jobs, %v", jobs, err)
	}
}

// The whole front hub job, from the first step to the signature.
func TestHubJobToTheSignature(t *testing.T) {
	s, lib, path := shop(t)
	h := Hand{Store: s, Lib: lib, By: "Technician Bel", Now: now}
	if err := h.Work(ctx, Waiting, func(*job.State, *operation.Step) bool { return false }); err != nil {
		t.Fatal(err)
	}
	st, _ := s.Job(ctx, Waiting)
	for _, g := range st.Gates() {
		if !g.Met {
			t.Errorf("open: %s", g.Title)
		}
	}
	if err := h.Do(ctx, Waiting, job.Signed{}); err != nil {
		t.Fatal(err)
	}
	for _, j := range st.Plan.Joints {
		if !strings.Contains(j.ID, ".FR.") {
			t.Errorf("joint %s on a right-hand job", j.ID)
		}
	}
	if _, _, err := store.Check(ctx, path); err != nil {
		t.Error(err)
	}
}

// A pull recorded, against a plain insert with the same durability.
func BenchmarkRecordPull(b *testing.B) {
	b.Run("lugtak", func(b *testing.B) {
		s, lib, _ := shop(b)
		h := Hand{Store: s, Lib: lib, By: "Technician Aro", Now: now}
		st, _ := s.Job(ctx, HalfDone)
		p := h.Pull(st, st.Plan.Step("knuckle-1"))
		p.Keep = false
		b.ResetTimer()
		for range b.N {
			if err := h.Do(ctx, HalfDone, p); err != nil {
				b.Fatal(err)
			}
		}
	})
	b.Run("baseline", func(b *testing.B) {
		db, err := sql.Open("sqlite", "file:"+filepath.Join(b.TempDir(), "plain.db")+"?_pragma=journal_mode(WAL)&_pragma=synchronous(FULL)")
		if err != nil {
			b.Fatal(err)
		}
		defer db.Close()
		db.SetMaxOpenConns(1)
		if _, err := db.Exec(`CREATE TABLE plain (n INTEGER PRIMARY KEY, body TEXT)`); err != nil {
			b.Fatal(err)
		}
		insert, err := db.Prepare(`INSERT INTO plain (body) VALUES (?)`)
		if err != nil {
			b.Fatal(err)
		}
		body := fmt.Sprintf("{%q:%q}", "body", strings.Repeat("x", 600))
		b.ResetTimer()
		for range b.N {
			if _, err := insert.Exec(body); err != nil {
				b.Fatal(err)
			}
		}
	})
}
