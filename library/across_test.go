package library

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/vehicle"
)

// corners is a vehicle's brakes, engine and stands as somebody sees them who reads what steps say, apart from facts:
// it tells what would hurt at one corner by what is done at another.
type corners struct {
	joints map[string]plan.Joint
	is     map[string]string // of joints: loose, out, hand, tight
	apart  map[string]string // "pads FL", "rotor FL": what lies on the bench
	foot   bool              // somebody stands on the brake
	stands int               // under it
	chocks string            // the end whose wheels are chocked
	runs   bool              // the engine
}

// said tells what a step does to what has no fasteners, by its words.
var said = []struct{ words, what, is string }{
	{"Pads out", "pads", "out"}, {"pads drawn", "pads", "out"},
	{"pads in the bracket", "pads", ""}, {"pads on the knuckle's guides", "pads", ""},
	{"New pads into", "pads", ""}, {"Rotor off", "rotor", "off"}, {"Rotor on", "rotor", ""},
	{"Brake drum off", "drum", "off"}, {"Brake drum on", "drum", ""},
	{"hub and drum drawn", "drum", "off"}, {"Hub straight onto its spindle", "drum", ""},
	{"Shoes and adjuster out", "shoes", "out"}, {"Hold-downs, then return springs", "shoes", ""},
	{"pedal propped", "prop", "in"}, {"Prop out of the pedal", "prop", ""},
	{"both capped at once", "caliper", "on the bench"}, {"Caliper ready for its place", "caliper", ""},
}

// work carries a step out, and says what of it would hurt.
func (v *corners) work(s plan.Step) string {
	held := v.foot
	switch {
	case strings.Contains(s.Title, "someone on the brake"):
		v.foot, held = true, true
	case strings.Contains(s.Title, "Brake let go"):
		v.foot = false
	}
	for _, x := range s.Puts {
		if x == "axle stand" {
			v.stands++
		}
	}
	for _, x := range s.Takes {
		if x == "axle stand" {
			v.stands--
		}
	}
	for _, end := range []string{"front", "rear"} {
		if strings.HasPrefix(s.Title, "Chock a "+end+" wheel") {
			v.chocks = end
		}
	}
	pumps := strings.HasPrefix(s.Title, "Pump") || strings.Contains(s.Title, "bled until") ||
		strings.HasPrefix(s.Title, "Pressure store emptied by the pedal") || strings.HasPrefix(s.Title,
		"Engine running, hard foot")
	switch {
	case strings.Contains(s.Title, "engine left running"), strings.HasPrefix(s.Title, "Engine running"):
		v.runs = true
	case s.Title == "Engine off", strings.HasPrefix(s.Title, "Engine off,"):
		v.runs = false
	}
	if v.runs && s.Corner != "" {
		return "hands at " + string(s.Corner) + " while the engine runs"
	}
	switch s.Verb {
	case operation.Crack:
		v.is[s.Joint] = "loose"
	case operation.Remove:
		v.is[s.Joint] = "out"
	case operation.Start:
		v.is[s.Joint] = "by hand"
	case operation.Tighten:
		v.is[s.Joint] = ""
	}
	off := map[string]int{} // wheels, by end
	for id, is := range v.is {
		if is == "out" && v.joints[id].System == "wheel" {
			off[v.joints[id].Corner.Axle()]++
		}
	}
	switch {
	case off["front"] > 0 && off["rear"] > 0 && v.stands < 4:
		return fmt.Sprintf("wheels off at both ends on %d stands", v.stands)
	case off[v.chocks] > 0 && v.stands < 4:
		return "the chocks stand at the " + v.chocks + ", whose wheels are off"
	}
	for _, x := range said {
		if strings.Contains(s.Title, x.words) {
			v.apart[x.what+" "+string(s.Corner)] = x.is
		}
	}
	if !held && !pumps {
		return ""
	}
	for what, is := range v.apart {
		if is != "" {
			return "a foot on the brake with the " + what + " " + is
		}
	}
	for id, is := range v.is {
		j := v.joints[id]
		bleeds := strings.Contains(j.Title, "bleeder")
		switch {
		case is == "" || j.System != plan.Brake || strings.Contains(j.Title, "screw"):
		case strings.Contains(j.Title, "park brake motor"): // it pulls a cable, no fluid pushes on it
		case bleeds && pumps && s.Corner == j.Corner: // it is the one that is bled
		default:
			return "a foot on the brake with the " + j.Title + " " + is
		}
	}
	return ""
}

func newCorners(made plan.Plan) *corners {
	v := &corners{joints: map[string]plan.Joint{}, is: map[string]string{}, apart: map[string]string{}}
	for _, j := range made.Joints {
		v.joints[j.ID] = j
	}
	return v
}

func across(made plan.Plan) string {
	v := newCorners(made)
	for _, s := range made.Steps {
		if bad := v.work(s); bad != "" {
			return string(s.ID) + ": " + bad
		}
	}
	return ""
}

// What is done at one corner hurts nobody at another, in every plan of two operations at two corners, of all four,
// and in every order of them that is proved. By the trade: a foot on the brake pushes every piston there is, and a
// bleeder turned down by hand is open; while the engine runs nobody's hands are at a wheel.
func TestPlansAcrossCorners(t *testing.T) {
	l := whole(t)
	rng := rand.New(rand.NewPCG(18, 26))
	proved := 0
	for _, p := range l.Patterns {
		offers := l.Offers(p)
		var all []plan.Plan
		for _, a := range offers {
			for _, b := range offers {
				brakes := []string{"pads-rotors", "brake-bleed", "drum-brakes", "brake-caliper"}
				if brake := slices.Contains(brakes, b.Operation); brake && a.Corner != b.Corner {
					all = append(all, l.ordered(t, p, nil, a, b))
				}
			}
		}
		for _, op := range []string{"pads-rotors", "brake-bleed"} {
			var four []plan.Task
			for _, at := range []vehicle.Corner{"FL", "FR", "RL", "RR"} {
				if x := (plan.Task{Operation: op, Corner: at}); slices.Contains(offers, x) {
					four = append(four, x)
				}
			}
			if len(four) > 0 {
				all = append(all, l.ordered(t, p, nil, four...))
			}
		}
		for k := range 3 { // a third of all there is, at every corner
			var third []plan.Task
			for i := k; i < len(offers); i += 3 {
				third = append(third, offers[i])
			}
			all = append(all, l.ordered(t, p, nil, third...))
		}
		for i, n := 0, len(all); i < n; i += 9 { // and put in order for two who work at once
			two, err := l.Compile(p, Ask{Tasks: all[i].Tasks, Technicians: 2})
			if err != nil {
				t.Errorf("%s %v: %v", p.ID, all[i].Tasks, err)
				continue
			}
			all = append(all, two)
		}
		bad := map[string]bool{}
		for _, made := range all {
			if says := across(made); says != "" {
				bad[fmt.Sprint(p.ID, " ", made.Tasks, " ", says)] = true
				continue
			}
			for range 10 {
				q := made
				q.Steps = slices.Clone(made.Steps)
				i, k := rng.IntN(len(q.Steps)), rng.IntN(len(q.Steps))
				q.Steps[i], q.Steps[k] = q.Steps[k], q.Steps[i]
				if q.Sound() != nil {
					continue
				}
				proved++
				if says := across(q); says != "" {
					bad[fmt.Sprint(p.ID, " ", made.Tasks, " exchanged ", says)] = true
				}
			}
		}
		for says := range bad {
			t.Error(says)
		}
		t.Logf("%s: %d plans, %d of them hurt", p.ID, len(all), len(bad))
	}
	if proved < 50 {
		t.Errorf("%d orders proved", proved)
	}
}

// What may not stay so for long stays no longer: a bleeder is open for a quarter of an hour at most, a jack carries for
// half an hour (from memory, common practice).
func TestNothingStaysOpenTooLong(t *testing.T) {
	l := whole(t)
	all := 0
	for _, p := range l.Patterns {
		offers := l.Offers(p)
		var orders [][]plan.Task
		for _, a := range offers {
			orders = append(orders, []plan.Task{a})
			if b := (plan.Task{Operation: a.Operation, Corner: a.Corner.Opposite()}); a.Corner.Left() &&
				slices.Contains(offers, b) {
				orders = append(orders, []plan.Task{a, b})
			}
		}
		for _, op := range []string{"pads-rotors", "brake-bleed"} {
			var four []plan.Task
			for _, at := range []vehicle.Corner{"FL", "FR", "RL", "RR"} {
				if x := (plan.Task{Operation: op, Corner: at}); slices.Contains(offers, x) {
					four = append(four, x)
				}
			}
			if len(four) > 0 {
				orders = append(orders, four)
			}
		}
		for _, tasks := range orders {
			made, err := l.Compile(p, Ask{Tasks: tasks})
			if err != nil {
				t.Errorf("%s %v: %v", p.ID, tasks, err)
				continue
			}
			sol, err := made.Clock(l.Costs())
			if err != nil {
				t.Fatal(err)
			}
			for _, s := range made.Stays(sol) {
				all++
				if s.Long() && (s.Over == "" || s.Fact.Subject == "bleeder") {
					t.Errorf("%s %v: %s stays so for %.0f of %.0f minutes, from %s to %s, longest %s",
						p.ID, tasks, s.Fact, s.Minutes, s.Tended.Minutes, s.From, s.To, s.Longest)
				}
			}
		}
	}
	if all < 100 {
		t.Errorf("%d times something stays open", all)
	}
}
