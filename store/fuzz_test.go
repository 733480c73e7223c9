package store

import (
	"strings"
	"testing"

	"lugtak/core/fault"
	"lugtak/core/job"
)

// Nothing anybody sends as a job file breaks the reader, and what it takes it proves.
func FuzzReadJobFile(f *testing.F) {
	s, err := Open(ctx, f.TempDir()+"/shop.db")
	if err != nil {
		f.Fatal(err)
	}
	defer s.Close()
	m := job.Meta{ID: "start", By: "Aro", Role: job.Technician, At: now}
	if _, _, err := s.Record(ctx, "1", m, job.Start{Job: "1", Complaint: "knocks", OdometerKM: 10}); err != nil {
		f.Fatal(err)
	}
	whole, err := s.Journal(ctx, "1")
	if err != nil {
		f.Fatal(err)
	}
	text, err := whole.Text()
	if err != nil {
		f.Fatal(err)
	}
	f.Add(string(text))
	f.Add(strings.Replace(string(text), `"seq":1`, `"seq":2`, 1))
	f.Add(`{"format":"lugtak-job","version":1,"job":"../../x","events":[{}]}`)
	f.Add(`{"format":"lugtak-job","version":2,"job":"1","events":[{"body":{"plan":{"steps":[{}]}},"kind":"started"}]}`)
	f.Fuzz(func(t *testing.T, text string) {
		read, st, err := ReadJobFile([]byte(text))
		if err != nil && fault.As(err) == nil {
			t.Errorf("a fault without a remedy: %v", err)
		}
		if err == nil && (len(read.Events) == 0 || st.Seq != len(read.Events) || !job.GoodID(read.Job)) {
			t.Errorf("taken: %+v", read)
		}
	})
}
