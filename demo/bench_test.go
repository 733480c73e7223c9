package demo

import (
	"database/sql"
	"fmt"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"lugtak/core/job"
	"lugtak/core/plan"
)

// pullStep is where the bench stops to pull.
const pullStep = "front-hub-unit.knuckle-1.FL"

// plainTable is what a pull would be, were it a row and nothing else.
const plainTable = `CREATE TABLE plain
	(n INTEGER PRIMARY KEY, id TEXT NOT NULL UNIQUE, job TEXT NOT NULL, seq INTEGER NOT NULL, at TEXT NOT NULL,
	 body TEXT NOT NULL)`

// Recording a pull (read, judged, sealed, signed, on the disk) against an insert of a
// row of its size into a file with the same pragmas, in turn within one run.
func BenchmarkRecordPull(b *testing.B) {
	s, lib, _ := opened(b)
	h := Hand{Shop: s, Lib: lib, By: People[0].Name, Now: now}
	address := "file:" + filepath.Join(b.TempDir(), "plain.db") +
		"?_pragma=journal_mode(WAL)&_pragma=synchronous(FULL)&_txlock=immediate"
	db, err := sql.Open("sqlite", address)
	if err != nil {
		b.Fatal(err)
	}
	defer db.Close()
	db.SetMaxOpenConns(1)
	if _, err := db.Exec(plainTable); err != nil {
		b.Fatal(err)
	}
	insert, err := db.Prepare(`INSERT INTO plain (id, job, seq, at, body) VALUES (?,?,?,?,?)`)
	if err != nil {
		b.Fatal(err)
	}
	body := strings.Repeat("x", 900)
	var record, plain []time.Duration
	var id string
	var pull job.Trace
	var n int
	turns := []func(){
		func() {
			at := time.Now()
			if err := h.Do(ctx, id, pull); err != nil {
				b.Fatal(err)
			}
			record = append(record, time.Since(at))
		},
		func() {
			at := time.Now()
			if _, err := insert.Exec(fmt.Sprintf("%s/%d", id, n), id, n, now.Format(time.RFC3339Nano), body); err != nil {
				b.Fatal(err)
			}
			plain = append(plain, time.Since(at))
		},
	}
	for ; b.Loop(); n++ {
		if n%60 == 0 { // as many as a job has
			id = fmt.Sprintf("bench-%d", n)
			atThePull(b, &h, id)
		}
		pull = tooLow(b, &h, id)
		turns[n%2]() // the second finds the processor's caches warm: each is it in turn
		turns[1-n%2]()
	}
	b.ReportMetric(middle(record), "record-µs")
	b.ReportMetric(middle(plain), "insert-µs")
	b.ReportMetric(middle(record)/middle(plain), "ratio")
}

// middle is the median in microseconds: one slow write of a busy disk is no measure.
func middle(all []time.Duration) float64 {
	slices.Sort(all)
	return float64(all[len(all)/2].Nanoseconds()) / 1000
}

// atThePull begins a job and works it to where its first bolts are tightened.
func atThePull(b *testing.B, h *Hand, id string) {
	b.Helper()
	if err := h.Start(ctx, id, vehicles[0], "hum", 1000, Hub("FL")); err != nil {
		b.Fatal(err)
	}
	stop := func(_ *job.State, step *plan.Step) bool { return step.ID == pullStep }
	if err := h.Work(ctx, id, stop); err != nil {
		b.Fatal(err)
	}
}

// tooLow is a pull that pays nothing, so that the next one is as good as it.
func tooLow(b *testing.B, h *Hand, id string) job.Trace {
	b.Helper()
	st, err := h.Shop.Job(ctx, id)
	if err != nil {
		b.Fatal(err)
	}
	step := st.Plan.Step(pullStep)
	c, ok := h.trace(st, step, st.Current(step), 0).(job.Trace)
	if !ok {
		b.Fatal("the demo shop has no tool that traces")
	}
	c.Claim.At = h.Now.Add(breath)
	c.Samples = nil
	low, _ := st.Stages(step.Joint)[0].Window()
	c.PeakNm = low * 0.9
	return c
}
