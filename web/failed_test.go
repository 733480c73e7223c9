package web

import (
	"slices"
	"strings"
	"testing"

	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/vehicle"
	"lugtak/demo"
)

// A drive that failed lowers what was renewed for it, and asks next what it showed: the bearing
// that was fitted an hour ago does not stand first again.
func TestAFailedDriveLowersWhatWasRenewed(t *testing.T) {
	s, addr, _, client := serve(t, Config{})
	st := s.Shop
	hand := &demo.Hand{Shop: st, Lib: s.Shop.Library(), By: demo.People[0].Name, Now: s.Shop.Now()}
	fleet, err := st.Vehicles(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	i := slices.IndexFunc(fleet, func(v vehicle.Vehicle) bool { return v.Pattern == "ostrel-c22" })
	const id = "in-vain"
	task := plan.Task{Operation: "front-hub-unit", Corner: "FL"}
	if err := hand.Start(t.Context(), id, fleet[i], "hums", 88_000, task); err != nil {
		t.Fatal(err)
	}
	do := func(c job.Command) {
		t.Helper()
		if err := hand.Do(t.Context(), id, c); err != nil {
			t.Fatal(err)
		}
	}
	for _, sign := range []string{"hum-with-speed", "hum-louder-left-bend", "growl-at-knuckle"} {
		do(job.Answer{Sign: sign, Ask: sign + "?", Yes: true})
	}
	first := func() string {
		t.Helper()
		now, err := st.Job(t.Context(), id)
		if err != nil {
			t.Fatal(err)
		}
		w, err := s.Shop.Weigh(t.Context(), now)
		if err != nil {
			t.Fatal(err)
		}
		return w.Report.Suspects[0].Key
	}
	if was := first(); was != "hub-bearing" {
		t.Fatalf("before the work %s stands first", was)
	}
	drives := func(_ *job.State, x *plan.Step) bool { return x.Verb == operation.Drive }
	if err := hand.Work(t.Context(), id, drives); err != nil {
		t.Fatal(err)
	}
	now, err := st.Job(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	drive := hand.Next(now, now.Plan.Step(now.Next()))[0].(job.RoadTest)
	drive.Felt[0].Found, drive.Felt[0].Note = job.FeltWrong, "hums at 60 as before"
	do(drive)
	if is := first(); is == "hub-bearing" {
		t.Error("what was just fitted stands first again")
	}
	_, page := get(t, client, "http://"+addr+"/jobs/"+id+"/walk")
	next, _, _ := strings.Cut(page, "settles what the drive showed")
	if len(next) == len(page) || !strings.Contains(next[strings.LastIndex(next, "<form"):], "hum-with-speed") &&
		!strings.Contains(next[max(0, len(next)-900):], "Hum or growl") {
		t.Error("the walk-round does not ask next for the hum the drive showed")
	}
	do(job.Answer{Sign: "hum-with-speed", Ask: "hum?", Yes: true})
	do(job.Answer{Sign: "hum-changes-with-surface", Ask: "surface?", Yes: true})
	if is := first(); is != "tyre-noise" {
		t.Errorf("a hum that changes with the surface: %s", is)
	}
}
