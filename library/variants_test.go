package library

import (
	"slices"
	"strings"
	"testing"

	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/vehicle"
)

// The ways a vehicle may be built, on a sheet nobody filled in, each with the order that is right for it (common
// practice): what stands before the next comes first; what is behind “not” is in no plan of it.
var variants = []struct {
	built map[string]string
	ways  map[string]string
	task  string
	order []string
	not   []string
}{
	{map[string]string{"shaft-room": "lower-joint", "lower-joint": "carrier", "carrier-holes": "slots"},
		nil, "front-hub-unit@FL", []string{
			"lower-carrier.scribe lower-carrier.crack lower-carrier.out lower-carrier.free front-hub-unit.hub-out",
			"lower-carrier.start lower-carrier.tight ground.lower align.ask",
		}, []string{"lower-joint.", "lower-under."}},
	{map[string]string{"shaft-room": "lower-joint", "lower-joint": "carrier", "carrier-holes": "round"},
		nil, "front-hub-unit@FL", []string{
			"lower-carrier.crack lower-carrier.out lower-carrier.free",
		}, []string{"lower-carrier.scribe", "align."}},
	{map[string]string{"shaft-room": "lower-joint", "lower-joint": "under"}, nil, "front-hub-unit@FL", []string{
		"lead.free lower-under.taper",
		"front-hub-unit.knuckle-crack lower-under.crack lower-under.taper lower-under.out front-hub-unit.hub-out " +
			"front-hub-unit.hub-in lower-under.start lower-under.tight brake-hold.hold.2 axle-nut.tight",
	}, []string{"lower-joint.", "lower-carrier."}},
	{map[string]string{"rack-bar": "round"}, nil, "tie-rod-inner@FL", []string{
		"tie-rod-inner.boot-off tie-rod-inner.rack-held tie-rod-inner.inner-crack tie-rod-inner.inner-out",
	}, nil},
	{map[string]string{"front-hubs": "locking", "front-corner": "solid-corner", "driven": "all"}, nil,
		"solid-axle-hub@FL", []string{
			"chocks.chock hub-lock.off axle-nut.unlock axle-nut.crack ground.raise",
			"axle-nut.tight hub-lock.on drive.drive",
		}, nil},
	{map[string]string{"front-hubs": "fixed", "front-corner": "solid-corner", "driven": "all"}, nil,
		"solid-axle-hub@FL", nil, []string{"hub-lock."}},
	{map[string]string{"lower-carrier": "down", "front-corner": "wishbone-corner"}, nil, "lower-ball-joint@FL", []string{
		"knuckle.tie lower-stud.taper lower-stud.out lower-ball-joint.carrier-out " +
			"lower-ball-joint.carrier-start lower-ball-joint.carrier-tight lower-stud.start knuckle.untie",
	}, nil},
	{map[string]string{"centre-brace": "brace", "driven": "rear"}, nil, "centre-support", []string{
		"centre-support.mark centre-support.brace centre-support.carrier-crack centre-support.carrier-out",
	}, nil},
	{map[string]string{"spindle-lock": "stake", "rear-brake": "drum", "drum-seat": "bearing", "rear-axle": "beam"}, nil,
		"taper-bearing@RL", []string{
			"spindle.cap spindle.crack spindle.off taper-bearing.packed spindle.start spindle.seat spindle.pin spindle.gauge",
		}, nil},
	// A jack lifts to a mark that was taken standing, at the corner whose rubber is clamped, and at no other.
	{nil, map[string]string{"ride-height": "jack"}, "shock-eye@RL", []string{
		"mark.taken ground.raise ride-jack.up shock-eye.lower-tight ride-jack.off",
	}, []string{"mark.taken.FL", "mark.taken.RR"}},
	{nil, map[string]string{"ride-height": "ramps"}, "shock-eye@RL", nil, []string{"mark.", "ride-jack."}},
}

func TestVariants(t *testing.T) {
	l := dressed()
	for _, c := range variants {
		task, err := plan.ParseTask(c.task)
		if err != nil {
			t.Fatal(err)
		}
		p := l.Grown(vehicle.Sheet{ID: "own", Name: "A model nobody entered", Outline: "car", Built: c.built})
		p.Operations = []string{task.Operation}
		made, err := plan.Compile(l.order(p, Ask{Tasks: []plan.Task{task}, Built: c.built, Ways: c.ways}))
		if err != nil {
			t.Errorf("%s %v: %v", c.task, c.built, err)
			continue
		}
		for _, line := range c.order {
			last := -1
			for name := range strings.FieldsSeq(line) {
				at := stepAt(made, name, task.Corner)
				if at <= last {
					t.Errorf("%s %v %v: %s stands at %d, behind %d, in “%s”", c.task, c.built, c.ways, name, at, last, line)
				}
				last = max(last, at)
			}
		}
		for _, s := range made.Steps {
			if slices.ContainsFunc(c.not, func(x string) bool { return strings.HasPrefix(string(s.ID), x) }) {
				t.Errorf("%s %v %v: %s", c.task, c.built, c.ways, s.ID)
			}
		}
	}
}

// A thread that soaked is washed when it is out, not before it is cracked (common practice), whatever else is done.
func TestWashedWhenOut(t *testing.T) {
	l := whole(t)
	for _, p := range l.Patterns {
		for _, tasks := range append([][]plan.Task{l.Offers(p)}, each(l.Offers(p))...) {
			made := l.ordered(t, p, nil, tasks...)
			out, washed := map[string]int{}, map[vehicle.Corner]int{}
			for i, s := range made.Steps {
				if s.Verb == operation.Remove {
					out[s.Joint] = i
				}
				if strings.HasPrefix(string(s.ID), "washed") {
					washed[s.Corner] = i
				}
				clean := false
				for _, w := range s.Wants {
					clean = clean || w.Fact.Subject == "penetrant" && w.Values.Has("washed") && !w.Values.Has("soaked")
				}
				if s.Verb == operation.Start && clean && out[s.Joint] > washed[s.Corner] {
					t.Errorf("%s: %s goes in clean; it was washed at %d and out at %d", p.ID, s.ID, washed[s.Corner], out[s.Joint])
				}
			}
		}
	}
}

// Nothing is soaked that lies under a boot (common practice: penetrant swells rubber and washes out grease).
func TestNothingSoaksUnderABoot(t *testing.T) {
	l := whole(t)
	for _, p := range l.Patterns {
		for _, j := range l.ordered(t, p, nil, l.Offers(p)...).Joints {
			if strings.Contains(j.Title, "inner tie rod") && j.Seizes {
				t.Errorf("%s: %s soaks", p.ID, j.ID)
			}
		}
	}
}

func each(tasks []plan.Task) [][]plan.Task {
	var out [][]plan.Task
	for _, x := range tasks {
		out = append(out, []plan.Task{x})
	}
	return out
}
