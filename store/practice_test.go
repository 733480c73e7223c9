package store

import (
	"reflect"
	"testing"

	"lugtak/core/fault"
	"lugtak/core/listing"
	"lugtak/core/practice"
)

// A run is kept act by act, by its owner alone, and by one page at a time.
func TestPracticeRuns(t *testing.T) {
	s, path := open(t)
	id, err := s.BeginPractice(ctx, "p1", "pads", 1<<63+7, now)
	if err != nil {
		t.Fatal(err)
	}
	r, err := s.Practice(ctx, id, "p1")
	if err != nil || r.Exercise != "pads" || r.Seed != 1<<63+7 || len(r.Acts) != 0 || !r.Ended.IsZero() {
		t.Fatalf("%+v %v", r, err)
	}
	if _, err := s.Practice(ctx, id, "p2"); fault.As(err) == nil {
		t.Error("another reads it")
	}
	before := r
	r.Acts = append(r.Acts, practice.Act{Do: practice.Pull, Step: "a", Reading: &practice.Reading{PeakNm: 12}})
	if err := s.Practised(ctx, r); err != nil {
		t.Fatal(err)
	}
	before.Acts = append(before.Acts, practice.Act{Do: practice.Leave})
	if f := fault.As(s.Practised(ctx, before)); f == nil || f.Code != "stale" {
		t.Errorf("a second page writes over the first: %v", f)
	}
	r.Acts = append(r.Acts, practice.Act{Do: practice.Leave})
	r.Ended = now
	r.Score = listing.Score{Met: 3, Of: 4, Faults: 1, Minutes: 12.5, Skills: map[string]bool{"Ride height": false}}
	if err := s.Practised(ctx, r); err != nil {
		t.Fatal(err)
	}
	past, err := s.PracticePast(ctx, "p1")
	if err != nil || len(past) != 1 || !reflect.DeepEqual(past[0].Score, r.Score) ||
		!reflect.DeepEqual(past[0].Acts, r.Acts) {
		t.Errorf("%+v %v", past, err)
	}
	r.Acts = append(r.Acts, practice.Act{Do: practice.Leave})
	if err := s.Practised(ctx, r); fault.As(err) == nil {
		t.Error("a run that has ended goes on")
	}
	rep, err := Check(ctx, path)
	if err != nil || rep.Events != 0 {
		t.Errorf("practice is written to the journals: %+v %v", rep, err)
	}
}
