package plan_test

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/schedule"
	"lugtak/core/vehicle"
	"lugtak/demo/files"
	"lugtak/library"
)

var costs = schedule.Costs{Tool: 0.6, Walk: 0.4}

func both(ops ...string) (out []plan.Task) {
	for _, op := range ops {
		for _, c := range []vehicle.Corner{"FL", "FR"} {
			out = append(out, plan.Task{Operation: op, Corner: c})
		}
	}
	return out
}

func planned(t testing.TB, ways map[string]string, technicians int, tasks ...plan.Task) plan.Plan {
	t.Helper()
	lib, err := library.Load("", files.FS)
	if err != nil {
		t.Fatal(err)
	}
	made, err := lib.Plan("ostrel-c22", library.Ask{Tasks: tasks, Ways: ways, Technicians: technicians})
	if err != nil {
		t.Fatal(err)
	}
	return made
}

// Put in order the plan keeps its needs and positions and stands near the proved
// bound; a second technician shortens it; together saves tool changes against one
// side after the other.
func TestPlanInOrder(t *testing.T) {
	tasks := both("front-hub-unit", "stabiliser-link")
	clock := func(ways map[string]string, technicians int) schedule.Solution {
		made := planned(t, ways, technicians, tasks...)
		pos := plan.Ground
		done := map[operation.StepID]bool{}
		for _, s := range made.Steps {
			for _, n := range s.Needs {
				if !done[n] {
					t.Errorf("%s before %s", s.ID, n)
				}
			}
			if s.Position != "" && !pos.Stands(s.Position) {
				t.Errorf("%s with the vehicle %s", s.ID, pos)
			}
			if s.MovesTo != "" {
				pos = s.MovesTo
			}
			done[s.ID] = true
		}
		sol, err := made.Clock(costs)
		if err != nil {
			t.Fatal(err)
		}
		// Nobody works under a vehicle that is still going up, with however many hands.
		at := map[string]schedule.Placed{}
		for _, x := range sol.Order {
			at[x.ID] = x
		}
		moved := ""
		for _, s := range made.Steps {
			if s.Position != "" && moved != "" && at[string(s.ID)].Start < at[moved].End-1e-9 {
				t.Errorf("%d technicians: %s begins before %s has ended", technicians, s.ID, moved)
			}
			if s.MovesTo != "" {
				moved = string(s.ID)
			}
		}
		return sol
	}
	one, two, byOne := clock(nil, 1), clock(nil, 2), clock(map[string]string{"sides": "one-by-one"}, 1)
	if one.Makespan > 1.1*one.Bound || two.Makespan > 0.8*one.Makespan {
		t.Errorf("one technician %.1f min (least %.1f), two %.1f", one.Makespan, one.Bound, two.Makespan)
	}
	if byOne.ToolChanges < one.ToolChanges+5 || byOne.Walks >= one.Walks {
		t.Errorf("together %d tool changes and %d walks, one by one %d and %d", one.ToolChanges, one.Walks,
			byOne.ToolChanges, byOne.Walks)
	}
	t.Logf("together %.0f min, %d tool changes; one by one %.0f min, %d; two technicians %.0f min",
		one.Makespan, one.ToolChanges, byOne.Makespan, byOne.ToolChanges, two.Makespan)
}

// A step is moved by hand where the rules allow it, and else the rule is named.
func TestMove(t *testing.T) {
	made := planned(t, nil, 1, both("front-hub-unit")[:1]...)
	for _, c := range []struct {
		step, behind operation.StepID
		says         string
	}{
		{"front-hub-unit.clean.FL", "front-hub-unit.compare.FL", ""},
		{"front-hub-unit.compare.FL", "front-hub-unit.clean.FL", ""},
		{"axle-nut.crack.FL", "ground.raise", "the tyre must hold the hub"},
		{"front-hub-unit.hub-in.FL", "front-hub-unit.hub-out.FL", "wants the hub FL out"},
		{"chocks.chock", "drive.drive", "wants"},
		{"wheel.crack.FL", "", "wants the chocks placed"},
		{"nothing", "", "no such step"},
		{"ground.raise", "ground.raise", "no such step"},
	} {
		steps, err := made.Move(c.step, c.behind)
		if f := fault.As(err); c.says != "" {
			if f == nil || !strings.Contains(f.Detail, c.says) || f.Remedy == "" {
				t.Errorf("%s behind %s: %v", c.step, c.behind, err)
			}
			continue
		}
		if err != nil {
			t.Errorf("%s behind %s: %v", c.step, c.behind, err)
			continue
		}
		i := slices.IndexFunc(steps, func(s plan.Step) bool { return s.ID == c.step })
		if steps[i-1].ID != c.behind || len(steps) != len(made.Steps) {
			t.Errorf("%s stands behind %s", c.step, steps[i-1].ID)
		}
	}
}

// A step may be moved anywhere within its room, and no step but within it.
func TestRoom(t *testing.T) {
	made := planned(t, nil, 1, both("stabiliser-link")...)
	room := made.Room()
	for i, s := range made.Steps {
		for behind := range len(made.Steps) {
			if behind == i || behind == i+1 { // where it stands
				continue
			}
			id := operation.StepID("")
			if behind > 0 {
				id = made.Steps[behind-1].ID
			}
			_, err := made.Move(s.ID, id)
			if inside := behind >= room[i][0] && behind <= room[i][1]; inside && err != nil {
				t.Errorf("%s behind %d is within %v: %v", s.ID, behind, room[i], err)
			}
		}
	}
}

// Few jobs hardly move the library's figure, many carry it; one that took a day
// for a reason of its own does not.
func TestLearn(t *testing.T) {
	for _, c := range []struct {
		seen      []float64
		min, low  float64
		high      float64
		jobs      int
		tolerance float64
	}{
		{nil, 10, 10, 10, 0, 0},
		{[]float64{20}, 12, 12, 12, 1, 0.01},                   // (4·10 + 20)/5
		{[]float64{18, 20, 22, 20}, 15, 13.52, 16.48, 4, 0.01}, // MAD 1, × 1.4826
		// the median does not see it
		{[]float64{20, 20, 20, 20, 20, 20, 20, 20, 20, 20, 20, 480}, 17.5, 17.5, 17.5, 12, 0.01},
	} {
		got := plan.Learn(10, c.seen)
		if math.Abs(got.Minutes-c.min) > c.tolerance || math.Abs(got.Low-c.low) > c.tolerance ||
			math.Abs(got.High-c.high) > c.tolerance ||
			got.Jobs != c.jobs {
			t.Errorf("%v: %+v", c.seen, got)
		}
	}
}

// Four operations on both sides, compiled and put in order.
func BenchmarkPlan(b *testing.B) {
	lib, err := library.Load("", files.FS)
	if err != nil {
		b.Fatal(err)
	}
	ask := library.Ask{Tasks: both("front-hub-unit", "strut-front", "control-arm", "pads-rotors")}
	var made plan.Plan
	for b.Loop() {
		if made, err = lib.Plan("ostrel-c22", ask); err != nil {
			b.Fatal(err)
		}
	}
	sol, err := made.Clock(lib.Costs())
	if err != nil {
		b.Fatal(err)
	}
	b.ReportMetric(float64(len(made.Steps)), "steps")
	b.ReportMetric(sol.Makespan/sol.Bound, "over-bound")
}

func ExamplePlan_Clock() {
	lib, _ := library.Load("", files.FS)
	made, err := lib.Plan("caldren-m9", library.Ask{Tasks: []plan.Task{{Operation: "crossmember"}}})
	if err != nil {
		fmt.Println(err)
		return
	}
	sol, _ := made.Clock(lib.Costs())
	fmt.Printf("%s: %d steps, raised once: %v, above the least: %v\n", made.Title, len(made.Steps),
		made.Raises() == 1, sol.Makespan >= sol.Bound)
	// Output: Gearbox crossmember and mount: 33 steps, raised once: true, above the least: true
}

// Springs and clips are put back as they lie on the other side: while one side is apart the
// other is whole, unless somebody wants both at once. The rest of the work goes together.
func TestTheOtherSideServesAsModel(t *testing.T) {
	at := func(p plan.Plan, id string, c vehicle.Corner) int {
		return slices.IndexFunc(p.Steps, func(s plan.Step) bool { return string(s.ID) == id+"."+string(c) })
	}
	for _, way := range []string{"", "together", "one-by-one"} {
		ways := map[string]string{}
		if way != "" {
			ways["sides"] = way
		}
		made := planned(t, ways, 1, both("pads-rotors", "stabiliser-link")...)
		if is := made.Way(plan.SidesSchool); way != "" && is != way || way == "" && is != "together" {
			t.Errorf("told %q, it is worked %q", way, is)
		}
		apart := func(one, other vehicle.Corner) bool {
			return at(made, "pads-rotors.pads-out", other) < at(made, "pads-rotors.pads-in", one)
		}
		if got := apart("FL", "FR") && apart("FR", "FL"); got != (way == "together") {
			t.Errorf("told %q, both sides are apart at once: %v", way, got)
		}
		how := made.Steps[at(made, "pads-rotors.pads-in", "FL")].How
		if strings.Contains(how, "The other side shows how springs") == (way == "together") {
			t.Errorf("told %q: %s", way, how)
		}
		// The links of both sides are out before either new one is in, for the bar.
		if way == "" && at(made, "stabiliser-link.out", "FR") > at(made, "stabiliser-link.fit", "FL") {
			t.Error("the rest waits for its other side too")
		}
	}
}

// What has gone its distance beside the work is renewed with it where the shop says so,
// and only what this vehicle has there.
func TestRenewedByDistance(t *testing.T) {
	lib, err := library.Load("", files.FS)
	if err != nil {
		t.Fatal(err)
	}
	under, err := lib.Plan("caldren-m9", library.Ask{
		Tasks:      []plan.Task{{Operation: "idler-arm"}},
		Ways:       map[string]string{"preventive": "distance"},
		OdometerKM: 200_000,
	})
	if err != nil || len(under.Tasks) != 1 {
		t.Errorf("the middle of a vehicle has no corner in hand: %v, %v", under.Tasks, err)
	}
	for _, c := range []struct {
		name, way string
		km        int
		want      string
	}{
		{"on finding", "finding", 90_000, "front-hub-unit@FL"},
		{"by distance", "distance", 90_000, "front-hub-unit@FL stabiliser-link@FL"},
		{"by distance, not gone yet", "distance", 79_000, "front-hub-unit@FL"},
	} {
		made, err := lib.Plan("ostrel-c22", library.Ask{
			Tasks:      both("front-hub-unit")[:1],
			Ways:       map[string]string{"preventive": c.way},
			OdometerKM: c.km,
		})
		if err != nil {
			t.Fatal(err)
		}
		var is []string
		for _, task := range made.Tasks {
			is = append(is, task.String())
		}
		if strings.Join(is, " ") != c.want {
			t.Errorf("%s: %v", c.name, is)
		}
	}
}
