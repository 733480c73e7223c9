package store

import (
	"fmt"
	"slices"
	"testing"
	"time"
)

// What a step took is learnt from the newest jobs: where more are on record than are looked at, the old ones go.
func TestTimesAreThoseOfTheNewestJobs(t *testing.T) {
	s, _ := open(t)
	start(t, s, "1")
	if _, err := s.StepTimes(ctx); err != nil { // the lists have followed
		t.Fatal(err)
	}
	for n := range timed + 5 {
		_, err := s.w.ExecContext(ctx, `INSERT INTO step_time (job, step, minutes, signed) VALUES ('1', ?, ?, ?)`,
			"nuts", float64(n), stamp(now.Add(time.Duration(n)*time.Hour)))
		if err != nil {
			t.Fatal(err)
		}
	}
	times, err := s.StepTimes(ctx)
	if err != nil {
		t.Fatal(err)
	}
	got := times["nuts"]
	if len(got) != timed || got[0] != float64(timed+4) || slices.Min(got) != 5 {
		t.Errorf("%d times, the first %v, the least %v", len(got), fmt.Sprint(got[:1]), slices.Min(got))
	}
}

// Lists compare times as text: within a second too.
func TestStampsSortAsTimesDo(t *testing.T) {
	var stamps []string
	for _, after := range []time.Duration{0, 1, 999, time.Millisecond, 500 * time.Millisecond, time.Second, time.Minute} {
		stamps = append(stamps, stamp(now.Add(after)))
		if at, err := time.Parse(time.RFC3339Nano, stamp(now.Add(after))); err != nil || !at.Equal(now.Add(after)) {
			t.Errorf("%s after: %v, %v", after, at, err)
		}
	}
	if !slices.IsSorted(stamps) {
		t.Errorf("%q", stamps)
	}
}
