package report_test

import (
	"bytes"
	"compress/zlib"
	"context"
	"encoding/csv"
	"io"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"lugtak/core/job"
	"lugtak/core/plan"
	"lugtak/core/record"
	"lugtak/core/wrench"
	"lugtak/demo"
	"lugtak/demo/files"
	"lugtak/library"
	"lugtak/report"
	"lugtak/shop"
)

// finished is the demo's half-done job worked to its end.
func finished(t *testing.T) *job.State {
	t.Helper()
	ctx, now := context.Background(), time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
	lib, err := library.Load("", files.FS)
	if err != nil {
		t.Fatal(err)
	}
	s, err := shop.Open(ctx, filepath.Join(t.TempDir(), "shop.db"), lib, shop.Options{Demo: true})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	if err := demo.Fill(ctx, s, now); err != nil {
		t.Fatal(err)
	}
	h := demo.Hand{Shop: s, Lib: lib, By: "Technician Bel", Now: now}
	if err := h.Work(ctx, demo.HalfDone, func(*job.State, *plan.Step) bool { return false }); err != nil {
		t.Fatal(err)
	}
	for _, c := range []job.Command{
		job.TakeProposal{Suspect: "ball-joint", Name: "ball joint", Safety: true, Reason: "the owner comes back with it"},
		job.Find{Text: "=2+2 said the driver, \"twice\""},
		job.Sign{},
	} {
		if err := h.Do(ctx, demo.HalfDone, c); err != nil {
			t.Fatal(err)
		}
	}
	st, err := s.Job(ctx, demo.HalfDone)
	if err != nil {
		t.Fatal(err)
	}
	return st
}

// source is what the report of a job is made from, sealed with an invented end.
func source(st *job.State) report.Source {
	return report.Source{
		Shop:  demo.ShopName,
		State: st,
		Hash:  strings.Repeat("ab", 32),
		Key:   "9d41c0f722ba5e18",
		Tools: []wrench.Tool{
			{ID: "w2", Name: "wrench 2", Kind: "click", MaxNm: 200, Calibrated: st.Started.AddDate(0, -3, 0)},
			{ID: "w3", Name: "wrench 3", Kind: "torque-angle", MaxNm: 250, Calibrated: st.Started.AddDate(0, -14, 0)},
		},
	}
}

// The report of three joints, a finding and a drive is three pages at the most, and the same bytes for the same job.
func TestPDF(t *testing.T) {
	st := finished(t)
	var a, b bytes.Buffer
	for _, w := range []*bytes.Buffer{&a, &b} {
		if err := report.PDF(w, source(st)); err != nil {
			t.Fatal(err)
		}
	}
	if !bytes.Equal(a.Bytes(), b.Bytes()) {
		t.Error("two reports of one job differ")
	}
	if n := len(regexp.MustCompile(`/Type /Page\b[^s]`).FindAll(a.Bytes(), -1)); n < 1 || n > 3 {
		t.Errorf("%d pages", n)
	}
	if !bytes.HasPrefix(a.Bytes(), []byte("%PDF-1.")) || a.Len() < 20_000 {
		t.Errorf("%d bytes", a.Len())
	}
}

// Every tool that pulled stands in the report, one too that the crib no longer has.
func TestEveryToolIsNamed(t *testing.T) {
	st := finished(t)
	pulled := map[string]bool{}
	for _, p := range st.Pulls {
		if p.Counts() && p.Tool != "" {
			pulled[p.Tool] = true
		}
	}
	with := source(st)
	with.Tools = with.Tools[:1] // the rest were given away since
	for _, line := range report.New(with).Tools {
		if in := line.Name == with.Tools[0].Name; !pulled[line.Name] || in == (line.State == "not in the crib") {
			t.Errorf("%s pulled: %t, and stands as %s", line.Name, pulled[line.Name], line.State)
		}
		delete(pulled, line.Name)
	}
	if len(pulled) > 0 {
		t.Errorf("left out: %v", pulled)
	}
}

// A job that is nothing but a walk-round has a report too.
func TestPDFWithoutPlan(t *testing.T) {
	at := time.Date(2026, 1, 2, 3, 4, 5, 0, time.UTC)
	st := job.Replay(
		[]job.Event{{ID: "start:x", Job: "x", Seq: 1, At: at, By: "a", Body: record.Started{Complaint: "hum"}}})
	var b bytes.Buffer
	if err := report.PDF(&b, source(st)); err != nil || b.Len() < 5_000 {
		t.Errorf("%d bytes, %v", b.Len(), err)
	}
}

// The paper says its language, and the record goes along with it: whole, as its stream unpacks.
func TestPDFCarriesTheRecord(t *testing.T) {
	src := source(finished(t))
	src.Record = []byte(`{"format":"lugtak-job","job":"x"}`)
	var b bytes.Buffer
	if err := report.PDF(&b, src); err != nil {
		t.Fatal(err)
	}
	_, after, ok := bytes.Cut(b.Bytes(), []byte("/EmbeddedFile"))
	_, after, packed := bytes.Cut(after, []byte("stream\n"))
	if !ok || !packed || !bytes.Contains(b.Bytes(), []byte("/Lang (en)")) {
		t.Fatal("no record, or no language")
	}
	z, err := zlib.NewReader(bytes.NewReader(after))
	if err != nil {
		t.Fatal(err)
	}
	if got, err := io.ReadAll(z); err != nil || !bytes.Equal(got, src.Record) {
		t.Errorf("%q %v", got, err)
	}
}

// RFC 4180: CRLF, quotes doubled, every row as long as the head; a row for every
// pull of every fastener. No cell begins a formula in a spreadsheet.
func TestCSV(t *testing.T) {
	st := finished(t)
	var b bytes.Buffer
	if err := report.CSV(&b, st); err != nil {
		t.Fatal(err)
	}
	text := b.String()
	if strings.Count(text, "\n") != strings.Count(text, "\r\n") {
		t.Error("a line does not end as RFC 4180 wants")
	}
	rows, err := csv.NewReader(strings.NewReader(text)).ReadAll()
	if err != nil {
		t.Fatal(err)
	}
	if len(rows) != 1+len(st.PullOrder) {
		t.Errorf("%d rows, %d pulls", len(rows)-1, len(st.PullOrder))
	}
	for _, r := range rows {
		for _, c := range r {
			if strings.ContainsAny(c[:min(1, len(c))], "=+-@") {
				t.Errorf("a cell begins with %q", c)
			}
		}
	}
}
