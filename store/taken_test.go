package store

import (
	"testing"

	"lugtak/core/inspect"
	"lugtak/core/job"
)

// What was measured is listed with how far the vehicle had gone, as the journals have it, also
// after the lists were made anew.
func TestTaken(t *testing.T) {
	s, _ := open(t)
	start(t, s, "1")
	l := inspect.Limit{
		Key:    "lining",
		Name:   "lining",
		Unit:   "mm",
		Value:  3,
		Least:  true,
		Gauge:  0.1,
		Source: "common practice",
	}
	keep(t, s, "1", "m1", job.Measure{Limit: l, Value: 7.5, Corner: "FL"})
	keep(t, s, "1", "m2", job.Measure{Limit: l, Value: 9, Corner: "FR", Simulated: true})
	st, err := s.Job(ctx, "1")
	if err != nil {
		t.Fatal(err)
	}
	listed := func() {
		t.Helper()
		all, err := s.Taken(ctx, st.Vehicle.ID, 300)
		if err != nil || len(all) != 1 || all[0].Value != 7.5 || all[0].Corner != "FL" || all[0].KM != st.OdometerKM {
			t.Errorf("%+v %v", all, err)
		}
		r, ok, err := s.LastRow(ctx, st.Vehicle.ID)
		if err != nil || !ok || r.ID != "1" || r.KM != st.OdometerKM {
			t.Errorf("%+v %v %v", r, ok, err)
		}
	}
	listed()
	if err := s.Rebuild(ctx, func(int, int) {}); err != nil {
		t.Fatal(err)
	}
	listed()
	if _, ok, err := s.LastRow(ctx, "none"); ok || err != nil {
		t.Errorf("a vehicle that was never here: %v %v", ok, err)
	}
}
