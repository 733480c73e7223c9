package library

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"lugtak/core/job"
	"lugtak/core/plan"
	"lugtak/core/vehicle"
	"lugtak/core/wrench"
)

// What is short is told with what stands in for it; what nobody knows is asked, not taken for there.
func TestBoards(t *testing.T) {
	lib, err := Load("")
	if err != nil {
		t.Fatal(err)
	}
	spec := func(socket, drive, recipe string) vehicle.Spec {
		return vehicle.Spec{Socket: socket, Drive: drive, Recipe: recipe, Readers: []string{"Aro"}}
	}
	p := lib.Grown(vehicle.Sheet{ID: "own", Name: "Yard van"})
	p.Spec["hub.front.wheel"] = spec("19 mm", "hexagon", "110 Nm")
	p.Spec["hub.front.knuckle"] = spec("14 mm", "twelve-point", "60 Nm + 90°")
	axle := spec("32 mm", "hexagon", "500 Nm")
	axle.Renew = true // and nobody said what its hardware is called
	p.Spec["hub.front.axle"] = axle
	made, err := lib.Compile(p, Ask{Tasks: []plan.Task{{Operation: "front-hub-unit", Corner: "FL"}}})
	if err != nil {
		t.Fatal(err)
	}
	now := time.Date(2026, 11, 30, 9, 0, 0, 0, time.UTC)
	st := job.Apply(job.Replay(nil), begins(t, made, now))
	day := now.AddDate(0, -1, 0)
	x := Ready{Job: st, Library: lib, Now: now, Tools: []wrench.Tool{{
		ID: "t1", Name: "Click 200", Kind: wrench.KindClick, MaxNm: 200, StepNm: 1, Drive: "1/2", LengthMM: 420,
		Calibrated: day,
	}}}
	says := func(list []Item) string {
		var out []string
		for _, i := range list {
			word := i.Name
			if i.Open {
				word += " ?"
			}
			if i.Lack != "" {
				word += " !"
			}
			out = append(out, word)
		}
		return strings.Join(out, " · ")
	}
	torque := says(x.wrenches())
	for _, want := range []string{"Click 200 · 1/2 square", "angle gauge", "not known yet ? !", "for 500 N·m"} {
		if !strings.Contains(torque, want) {
			t.Errorf("%s lacks %q", torque, want)
		}
	}
	if got := says(x.sockets()); strings.Contains(got, "!") {
		t.Errorf("nobody said which sockets there are, and some lack: %s", got)
	}
	with := *lib
	with.Sockets = []string{"3/4 in", "14 mm, 1/2 square", "32 mm, 3/4 square"}
	x.Library = &with
	got := says(x.sockets())
	for _, want := range []string{"19 mm !", "14 mm twelve-point !", "32 mm · 3/4 square", "size not known yet ?"} {
		if !strings.Contains(got, want) {
			t.Errorf("%s lacks %q", got, want)
		}
	}
	i := slices.IndexFunc(x.sockets(), func(i Item) bool { return i.Name == "19 mm" })
	if lack := x.sockets()[i].Lack; !strings.Contains(lack, "3/4 in stands in") {
		t.Error(lack)
	}
	if shelf := says(x.shelf()); !strings.Contains(shelf, "front hub and bearing unit ×1") ||
		strings.Contains(shelf, " ·  ×") ||
		len(x.shelf()) != len(slices.Compact(slices.Sorted(slices.Values(strings.Split(shelf, " · "))))) {
		t.Error(shelf)
	}
}

func begins(t *testing.T, made plan.Plan, at time.Time) job.Event {
	t.Helper()
	m := job.Meta{ID: "start", By: "Aro", Role: job.Technician, At: at}
	events, err := job.Decide(job.Replay(nil), m, job.Start{
		Job: "j", Vehicle: vehicle.Vehicle{ID: "v", Fleet: "T-1", Pattern: "own"}, Complaint: "hums", OdometerKM: 1,
		Plan: made,
	})
	if err != nil || len(events) != 1 {
		t.Fatal(fmt.Sprint(events, err))
	}
	return events[0]
}
