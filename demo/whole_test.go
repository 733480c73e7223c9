package demo

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/record"
	"lugtak/core/vehicle"
	"lugtak/library"
	"lugtak/shop"
)

// All that can be ordered for a vehicle on one side, in one job, is worked from the
// first chock to the last gate: every step can be reached, every fastener can be
// tightened in its condition, every support comes out. So by other schools too.
func TestEveryPatternWorkedToTheEnd(t *testing.T) {
	s, lib, _ := opened(t)
	for i, ways := range []map[string]string{nil, {"hub-nut": "ground", "ride-height": "jack", "piston": "closed",
		"taper": "fork", "rotors": "always", "sides": "one-by-one"}} {
		for _, p := range lib.Patterns {
			var tasks []plan.Task
			for _, o := range lib.Offers(p) {
				if i == 0 && !strings.HasSuffix(string(o.Corner), "R") || i == 1 && o.Corner.Axle() == "front" && o.Corner != "" {
					tasks = append(tasks, o)
				}
			}
			id := fmt.Sprint("all-", p.ID, i)
			h := Hand{Shop: s, Lib: lib, By: "Technician Aro", Now: now}
			made, err := lib.Plan(p.ID, library.Ask{Tasks: tasks, Ways: ways})
			if err != nil {
				t.Fatal(err)
			}
			if err := h.record(ctx, id, record.EventID("start:"+id),
				job.Start{Job: id, House: lib.House(), Vehicle: vehicle.Vehicle{ID: id, Fleet: "X", Pattern: p.ID},
					Complaint: "all of it", OdometerKM: 1, Plan: made}); err != nil {
				t.Fatal(err)
			}
			if err := h.Work(ctx, id, func(*job.State, *plan.Step) bool { return false }); err != nil {
				t.Errorf("%s: %v", id, err)
				continue
			}
			end(t, s, id)
		}
	}
}

// end says what still stands before a signature. A figure without a source is a gate
// only the shop can close.
func end(t *testing.T, s *shop.Shop, id string) {
	t.Helper()
	st, err := s.Job(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	if next := st.Next(); next != "" {
		t.Errorf("%s stops at %s: %v", id, next, st.Ready(st.Plan.Step(next)))
	}
	for _, g := range st.Gates() {
		if !g.Met && !strings.HasPrefix(g.Key, "source:") {
			t.Errorf("%s: %s: %s", id, g.Title, g.Remedy)
		}
	}
	for _, tr := range st.Trays() {
		if tr.Standing {
			t.Errorf("%s: tray %s still holds %s", id, tr.Name, tr.Joint.Title)
		}
	}
}

// A bolt that shears in the middle of a job gets its extraction at that place, with
// the vehicle as it stands, and the job goes on to its end.
func TestShearedBoltHeals(t *testing.T) {
	s, lib, _ := opened(t)
	h := Hand{Shop: s, Lib: lib, By: "Technician Bel", Now: now}
	const crack operation.StepID = "front-hub-unit.knuckle-crack.FR"
	if err := h.Work(ctx, Waiting, func(_ *job.State, x *plan.Step) bool { return x.ID == crack }); err != nil {
		t.Fatal(err)
	}
	for _, c := range []job.Command{job.ReportTrouble{Step: crack, Letter: "B", Code: job.Sheared},
		job.Replan{Costs: lib.Costs(), Rescues: lib.Rescues, Technicians: 1}} {
		if err := h.Do(ctx, Waiting, c); err != nil {
			t.Fatal(err)
		}
	}
	st, _ := s.Job(ctx, Waiting)
	x := st.Plan.Step("extract.hub.FR.knuckle.B")
	if x == nil || x.Position != plan.Raised || st.Plan.Raises() != 1 {
		t.Fatalf("%+v", x)
	}
	if err := h.Do(ctx, Waiting, job.KeepStep{Step: x.ID}); err != nil {
		t.Fatal(err)
	}
	if st, _ = s.Job(ctx, Waiting); len(st.OpenTroubles()) != 0 {
		t.Fatalf("extracted, and still in trouble: %+v", st.OpenTroubles())
	}
	if err := h.Work(ctx, Waiting, func(*job.State, *plan.Step) bool { return false }); err != nil {
		t.Fatal(err)
	}
	end(t, s, Waiting)
	took := st.Took()
	if len(took["wheel.crack"])+len(took["penetrant.brush"]) == 0 {
		t.Errorf("nothing was timed: %v", took)
	}
}

// The bolt of an arm that a coil pushes on shears: its stub comes out when the coil is pressed, not before.
func TestLoadedBoltIsDrilledOutUnloaded(t *testing.T) {
	s, lib, _ := opened(t)
	const id, crack = "sheared-arm", operation.StepID("coil-rear.outer-crack.RL")
	made, err := lib.Plan("selmar-r2", library.Ask{Tasks: []plan.Task{{Operation: "coil-rear", Corner: "RL"}}})
	if err != nil {
		t.Fatal(err)
	}
	h := Hand{Shop: s, Lib: lib, By: "Technician Bel", Now: now}
	start := job.Start{Job: id, House: lib.House(), Vehicle: vehicle.Vehicle{ID: id, Fleet: "X", Pattern: "selmar-r2"},
		Complaint: "it sits low", OdometerKM: 1, Plan: made}
	if err := h.record(ctx, id, "start:"+id, start); err != nil {
		t.Fatal(err)
	}
	if err := h.Work(ctx, id, func(_ *job.State, x *plan.Step) bool { return x.ID == crack }); err != nil {
		t.Fatal(err)
	}
	for _, c := range []job.Command{
		job.ReportTrouble{Step: crack, Letter: "A", Code: job.Sheared},
		job.Replan{Costs: lib.Costs(), Rescues: lib.Rescues, Technicians: 1},
	} {
		if err := h.Do(ctx, id, c); err != nil {
			t.Fatal(err)
		}
	}
	st, _ := s.Job(ctx, id)
	ids := st.Plan.StepIDs()
	press, out := slices.Index(ids, "coil-rear.press.RL"), slices.Index(ids, "extract.suspension.RL.armouter.A")
	if out < press {
		t.Fatalf("the stub comes out at %d, the coil is pressed at %d", out, press)
	}
	if err := h.Do(ctx, id, job.KeepStep{Step: "extract.suspension.RL.armouter.A"}); err == nil {
		t.Fatal("the stub is drilled out while the coil pushes")
	}
	if err := h.Work(ctx, id, func(*job.State, *plan.Step) bool { return false }); err != nil {
		t.Fatal(err)
	}
	end(t, s, id)
}
