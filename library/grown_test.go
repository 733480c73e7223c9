package library

import (
	"maps"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/vehicle"
)

// sheets are empty sheets of vehicles built every which way: each answer of what carries and drives their wheels,
// and the rest by chance.
func sheets(l *Library, seed uint64) []vehicle.Sheet {
	rnd := rand.New(rand.NewPCG(seed, 1))
	all := []map[string]string{{}}
	for _, b := range l.Builds {
		var next []map[string]string
		for _, built := range all {
			if !slices.Contains([]string{"driven", "front-corner", "rear-axle"}, b.Key) {
				built[b.Key] = b.Answers[rnd.IntN(len(b.Answers))].Key
				next = append(next, built)
				continue
			}
			for _, a := range b.Answers {
				x := maps.Clone(built)
				x[b.Key] = a.Key
				next = append(next, x)
			}
		}
		all = next
	}
	out := make([]vehicle.Sheet, len(all))
	for i, built := range all {
		out[i] = vehicle.Sheet{ID: "own", Name: "A model nobody entered", Outline: "car", Built: built}
	}
	return out
}

// Whatever vehicle comes in, what is offered for it compiles and is proved with no figure known, and every
// bolt it opens asks for one.
func TestEmptySheetsCompile(t *testing.T) {
	l := dressed()
	for _, s := range sheets(l, 7) {
		p := l.Grown(s)
		offers := l.Offers(p)
		for _, op := range l.Operations {
			offered := slices.ContainsFunc(offers, func(o plan.Task) bool { return o.Operation == op.ID })
			if slices.Contains(p.Operations, op.ID) != offered {
				t.Errorf("%v: %s fits %v, offered %v", s.Built, op.ID, !offered, offered)
			}
		}
		for _, task := range offers {
			made, err := plan.Compile(l.order(p, Ask{Tasks: []plan.Task{task}}))
			if err != nil {
				t.Fatalf("%v: %s: %v", s.Built, task, err)
			}
			if err := made.Prove(); err != nil {
				t.Errorf("%v: %s: %v", s.Built, task, err)
			}
			for _, j := range made.Joints {
				if !j.Unread() || len(j.Stages()) == 0 {
					t.Errorf("%s: %s has a figure nobody read: %q", task, j.ID, j.Recipe)
				}
			}
		}
	}
}

// By the trade: a solid axle has no strut, a front-wheel drive no centre support; a strut no wishbone's joint.
func TestOffersFollowTheBuild(t *testing.T) {
	l := dressed()
	tests := []struct {
		built map[string]string
		has   []string
		not   []string
	}{
		{map[string]string{"driven": "front", "front-corner": "strut-corner", "rear-axle": "beam"},
			[]string{"strut-front", "drive-axle-plugged", "control-arm", "shock-eye", "pads-rotors"},
			[]string{"upper-ball-joint", "centre-support", "solid-axle-hub", "strut-rear"}},
		{map[string]string{"driven": "rear", "front-corner": "wishbone-corner", "rear-axle": "solid"},
			[]string{"upper-ball-joint", "shock-stem", "centre-support", "idler-arm"},
			[]string{"strut-front", "drive-axle-plugged", "rear-hub-unit", "front-hub-unit"}},
		{map[string]string{"driven": "all", "front-corner": "solid-corner", "rear-axle": "solid"},
			[]string{"solid-axle-hub", "tie-rod-outer", "centre-support"},
			[]string{"strut-front", "drive-axle-flanged", "tie-rod-inner"}},
		{nil, []string{"strut-front", "upper-ball-joint", "solid-axle-hub"}, nil}, // nothing seen bars nothing
	}
	for _, x := range tests {
		p := l.Grown(vehicle.Sheet{Outline: "car", Built: x.built})
		for _, op := range x.has {
			if !slices.Contains(p.Operations, op) {
				t.Errorf("%v lacks %s", x.built, op)
			}
		}
		for _, op := range x.not {
			if slices.Contains(p.Operations, op) {
				t.Errorf("%v has %s", x.built, op)
			}
		}
	}
}

// What an operation fits is asked of somebody, with such an answer.
func TestFitsAreAsked(t *testing.T) {
	l := dressed()
	for _, op := range l.Operations {
		for key, answers := range op.Fits {
			key = strings.ReplaceAll(key, "{axle}", "rear")
			i := slices.IndexFunc(l.Builds, func(b operation.Build) bool { return b.Key == key })
			if i < 0 {
				t.Errorf("%s fits by %s, which nobody asks", op.ID, key)
				continue
			}
			for _, a := range answers {
				if !slices.ContainsFunc(l.Builds[i].Answers, func(x operation.BuildAnswer) bool { return x.Key == a }) {
					t.Errorf("%s: %s is no answer to %s", op.ID, a, key)
				}
			}
		}
	}
}

// One bolt more than the library names comes off before what it holds, goes on with the others and is owed like them,
// at every joint of every operation; a joint that is not there is in no plan.
func TestVehiclesThatDiffer(t *testing.T) {
	l := dressed()
	left := map[bool]int{} // how often the work goes on without a joint, and how often nobody knows how
	for n, s := range sheets(l, 11) {
		base := l.Grown(s)
		for i, task := range l.Offers(base) {
			if (i+n)%3 != 0 {
				continue
			}
			was, err := plan.Compile(l.order(base, Ask{Tasks: []plan.Task{task}}))
			if err != nil {
				t.Fatal(err)
			}
			j := was.Joints[(i+n)%len(was.Joints)]
			more := vehicle.Seen{
				Joint: vehicle.MoreKey(j.Sheet, 0), Beside: j.Sheet, Title: "a bolt behind the shield", Count: 2,
			}
			p := base.Learnt(nil, []vehicle.Seen{more})
			made, err := plan.Compile(l.order(p, Ask{Tasks: []plan.Task{task}}))
			if err != nil {
				t.Fatalf("%v %s, one more beside %s: %v", s.Built, task, j.ID, err)
			}
			if err := made.Prove(); err != nil {
				t.Errorf("%s: %v", task, err)
			}
			at := slices.IndexFunc(made.Joints, func(x plan.Joint) bool {
				return x.Sheet == more.Joint && x.Opening == j.Opening
			})
			if at < 0 || len(made.Joints[at].Letters) != 2 || made.Joints[at].System != j.System {
				t.Fatalf("%s beside %s: %d", task, j.ID, at)
			}
			id := made.Joints[at].ID
			for _, verb := range []operation.Verb{operation.Remove, operation.Start, operation.Tighten} {
				if on(made, j.ID, verb) > 0 && on(made, id, verb) == 0 {
					t.Errorf("%s: nothing does %s on %s", task, verb, id)
				}
			}
			without := base.Learnt(nil, []vehicle.Seen{{Joint: j.Sheet, Absent: true}})
			gone, err := plan.Compile(l.order(without, Ask{Tasks: []plan.Task{task}}))
			left[err == nil]++
			if err != nil && strings.Contains(err.Error(), "{") {
				t.Errorf("%s without %s: %v", task, j.ID, err)
			}
			if err == nil && (gone.Joint(j.ID) != nil || gone.Prove() != nil) {
				t.Errorf("%s: %s is not there, and the plan has it", task, j.ID)
			}
		}
	}
	if left[true] < 50 || left[false] < 50 { // a screw may lack; a wheel, or what the work is about, may not
		t.Errorf("without a joint the work goes on %d times, and is refused %d times", left[true], left[false])
	}
}

// on counts the steps of a verb on a joint.
func on(p plan.Plan, joint string, verb operation.Verb) int {
	n := 0
	for _, s := range p.Steps {
		if s.Joint == joint && s.Verb == verb {
			n++
		}
	}
	return n
}

// By the trade: what is bolted on with more bolts than thought comes off when all of them are out, its own file's and
// another's; and none of them is tightened before it is back.
func TestOneMoreHoldsWhatItHolds(t *testing.T) {
	l := dressed()
	base := l.Grown(vehicle.Sheet{ID: "own", Built: map[string]string{"driven": "front", "front-corner": "strut-corner"}})
	for _, beside := range []string{"hub.front.knuckle", "hub.front.axle"} {
		p := base.Learnt(nil, []vehicle.Seen{
			{Joint: vehicle.MoreKey(beside, 0), Beside: beside, Title: "a fourth bolt", Count: 1},
		})
		made, err := l.Compile(p, Ask{Tasks: []plan.Task{{Operation: "front-hub-unit", Corner: "FL"}}})
		if err != nil {
			t.Fatal(err)
		}
		at := map[operation.Verb]int{}
		hub := [2]int{} // out, in
		for i, s := range made.Steps {
			if strings.HasPrefix(s.Joint, "hub.FL.") && strings.HasSuffix(s.Joint, "-more-a") {
				at[s.Verb] = i
			}
			switch s.ID {
			case "front-hub-unit.hub-out.FL":
				hub[0] = i
			case "front-hub-unit.hub-in.FL":
				hub[1] = i
			}
		}
		removed, started, tightened := at[operation.Remove], at[operation.Start], at[operation.Tighten]
		if removed > hub[0] || hub[1] == 0 || started < hub[1] || tightened < started {
			t.Errorf("%s: out at %d, started at %d, tightened at %d; the hub out at %d, in at %d", beside,
				removed, started, tightened, hub[0], hub[1])
		}
	}
}

// What somebody saw of a vehicle decides what is ordered for it, over what its sheet says and where it says nothing.
func TestOrdersFollowWhatWasSeen(t *testing.T) {
	l := dressed()
	for _, c := range []struct {
		sheet, seen string // what brakes the rear wheels
		task        plan.Task
		refused     bool
	}{
		{"", "", plan.Task{Operation: "pads-rotors", Corner: "RL"}, false},
		{"", "", plan.Task{Operation: "drum-brakes", Corner: "RL"}, false},
		{"", "drum", plan.Task{Operation: "pads-rotors", Corner: "RL"}, true},
		{"", "drum", plan.Task{Operation: "pads-rotors", Corner: "FL"}, false},
		{"disc", "drum", plan.Task{Operation: "drum-brakes", Corner: "RR"}, false},
		{"drum", "", plan.Task{Operation: "brake-caliper", Corner: "RL"}, true},
		{"drum", "hat", plan.Task{Operation: "brake-caliper", Corner: "RL"}, false},
	} {
		s := vehicle.Sheet{ID: "own", Name: "A model nobody entered", Outline: "car", Built: map[string]string{}}
		ask := Ask{Tasks: []plan.Task{c.task}, Built: map[string]string{}}
		if c.sheet != "" {
			s.Built["rear-brake"] = c.sheet
		}
		if c.seen != "" {
			ask.Built["rear-brake"] = c.seen
		}
		p := l.Grown(s)
		p.Operations = nil
		for _, op := range l.Operations {
			p.Operations = append(p.Operations, op.ID)
		}
		_, err := plan.Compile(l.order(p, ask))
		f := fault.As(err)
		if refused := f != nil && f.Code == fault.NoSheet; refused != c.refused || err != nil && !refused {
			t.Errorf("sheet %q, seen %q, %s: %v", c.sheet, c.seen, c.task, err)
		}
	}
}
