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
	if got := st.Next(); got != "front-hub-unit.knuckle-1.FL" || st.Current(st.Plan.Step(got)) != "B" {
		t.Errorf("the half-done job stands at %s, fastener %s", got, st.Current(st.Plan.Step(got)))
	}
	if len(st.Owed()) != 15 {
		t.Errorf("%d owed", len(st.Owed()))
	}
	if err := Fill(ctx, s, lib, now); err != nil { // a second time changes nothing
		t.Fatal(err)
	}
	if jobs, _, err := store.Check(ctx, path); err != nil || jobs != 5 {
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

// What a tool has pulled is counted along, and alike after reopening.
func TestToolPulls(t *testing.T) {
	s, lib, path := shop(t)
	before, err := s.ToolPulls(ctx)
	if err != nil {
		t.Fatal(err)
	}
	h := Hand{Store: s, Lib: lib, By: "Technician Bel", Now: now}
	st, _ := s.Job(ctx, HalfDone)
	p := h.Pull(st, st.Plan.Step("front-hub-unit.knuckle-1.FL"))
	if err := h.Do(ctx, HalfDone, p); err != nil {
		t.Fatal(err)
	}
	along, _ := s.ToolPulls(ctx)
	s.Close()
	again, err := store.Open(ctx, path)
	if err != nil {
		t.Fatal(err)
	}
	defer again.Close()
	read, err := again.ToolPulls(ctx)
	if err != nil {
		t.Fatal(err)
	}
	if n := before[p.Tool.Name] + 1; along[p.Tool.Name] != n || read[p.Tool.Name] != n || n < 2 {
		t.Errorf("%d, then %d, after reopening %d", before[p.Tool.Name], along[p.Tool.Name], read[p.Tool.Name])
	}
}

// A pull recorded, against a plain insert of as many bytes under a unique id
// with the same durability, in turn in one run. A job here has sixty pulls, as a long one has.
func BenchmarkRecordPull(b *testing.B) {
	s, lib, _ := shop(b)
	h := Hand{Store: s, Lib: lib, By: "Technician Aro", Now: now}
	db, err := sql.Open("sqlite", "file:"+filepath.Join(b.TempDir(), "plain.db")+"?_pragma=journal_mode(WAL)&_pragma=synchronous(FULL)&_txlock=immediate")
	if err != nil {
		b.Fatal(err)
	}
	defer db.Close()
	db.SetMaxOpenConns(1)
	if _, err := db.Exec(`CREATE TABLE plain (n INTEGER PRIMARY KEY, id TEXT NOT NULL UNIQUE, job TEXT NOT NULL, seq INTEGER NOT NULL, at TEXT NOT NULL, body TEXT NOT NULL)`); err != nil {
		b.Fatal(err)
	}
	insert, err := db.Prepare(`INSERT INTO plain (id, job, seq, at, body) VALUES (?,?,?,?,?)`)
	if err != nil {
		b.Fatal(err)
	}
	body := strings.Repeat("x", 900)
	var record, plain time.Duration
	var id string
	var p job.Pull
	for n := 0; b.Loop(); n++ {
		if n%60 == 0 {
			id = fmt.Sprintf("bench-%d", n)
			if err := h.Start(ctx, id, vehicles[0], "hum", 1000, Hub("FL")); err != nil {
				b.Fatal(err)
			}
			if err := h.Work(ctx, id, func(_ *job.State, step *operation.Step) bool { return step.ID == "front-hub-unit.knuckle-1.FL" }); err != nil {
				b.Fatal(err)
			}
			st, _ := s.Job(ctx, id)
			p = h.Pull(st, st.Plan.Step("front-hub-unit.knuckle-1.FL"))
			p.Keep = false
		}
		at := time.Now()
		if err := h.Do(ctx, id, p); err != nil {
			b.Fatal(err)
		}
		record += time.Since(at)
		at = time.Now()
		if _, err := insert.Exec(fmt.Sprintf("%s/%d", id, n), id, n, now.Format(time.RFC3339Nano), body); err != nil {
			b.Fatal(err)
		}
		plain += time.Since(at)
	}
	b.ReportMetric(float64(record.Microseconds())/float64(b.N), "record-µs")
	b.ReportMetric(float64(plain.Microseconds())/float64(b.N), "insert-µs")
	b.ReportMetric(float64(record)/float64(plain), "ratio")
}
