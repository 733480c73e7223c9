package library

import (
	"slices"
	"strings"
	"testing"

	"lugtak/core/plan"
	"lugtak/core/vehicle"
)

// Each law of the trade passes the plan as it is made, and refuses the one in which a step comes later than it may
// (common practice): the move, and words of the law that has to say so.
var heldByLaw = []struct {
	pattern, op string
	corner      vehicle.Corner
	ways        map[string]string
	late        string // the step that is put off
	behind      string // until after this one
	says        string // nothing where a want of the step itself refuses first
}{
	{"tessvik-h1", "drum-brakes", "RL", nil, "drum.on", "pedal.pump", ""},
	{"tessvik-h1", "drum-brakes", "RL", nil, "drum-brakes.springs-on", "drum.on", ""},
	{"tessvik-h1", "drum-brakes", "RL", nil, "drum.on", "park-travel.set", ""},
	{"tessvik-h1", "brake-hose", "FL", nil, "pedal-prop.prop", "line.cap", "propped"},
	{"tessvik-h1", "brake-hose", "FL", nil, "pedal-prop.unprop", "bled.bled", "nothing to push on"},
	{"tessvik-h1", "brake-hose", "FL", nil, "line.tight", "pedal-prop.unprop", "at its figure"},
	{"tessvik-h1", "brake-hose", "FL", nil, "held-hard.dry", "wheel.start", "seen dry"},
	{"ostrel-c22", "brake-caliper", "FL", nil, "brake-caliper.home", "caliper.start", "mounted whole"},
	{"ostrel-c22", "brake-caliper", "FL", nil, "store.empty", "caliper.hang", "nothing to push on"},
	{"ostrel-c22", "brake-caliper", "FL", nil, "brake-caliper.hose-tight", "bled.bled", ""},
	{"norrvik-e3", "strut-spring", "FL", nil, "strut-spring.press", "strut-spring.apart", ""},
	{"norrvik-e3", "strut-spring", "FL", nil, "strut-spring.centre-tight", "strut-spring.let-go", "at its figure"},
	{"norrvik-e3", "strut-spring", "FL", nil, "strut-spring.let-go", "strut-spring.top-start", ""},
	{"brask-t7", "leaf-spring", "RL", nil, "leaf-spring.axle-carried", "leaf-spring.ubolt-out", ""},
	{"brask-t7", "leaf-spring", "RL", nil, "leaf-spring.ubolt-start", "leaf-spring.axle-down", ""},
	{"norrvik-e3", "steering-rack", "", nil, "wheel-tied.tie", "steering-rack.column-out", "tied"},
	{"norrvik-e3", "steering-rack", "", nil, "battery.wait", "steering-rack.column-out", "current off"},
	{"norrvik-e3", "steering-rack", "", nil, "tie-rod-end.out.FR", "steering-rack.rack-out", ""},
	{"norrvik-e3", "steering-rack", "", nil, "steering-rack.column-tight", "wheel-tied.untie", "joined and fast"},
	{"norrvik-e3", "steering-rack", "", nil, "steering-rack.column-tight", "battery.tight", ""},
	{"lindar-s6", "air-spring", "RL", nil, "asleep.sleep", "ground.raise", "sleeps before"},
	{"lindar-s6", "air-spring", "RL", nil, "air-spring.first-air", "ground.lower", "weight"},
	{"halvik-d9", "taper-bearing", "RL", nil, "spindle.gauge", "pedal.pump", ""},
	{"halvik-d9", "taper-bearing", "RL", nil, "taper-bearing.packed", "spindle.gauge", ""},
	{"tessvik-h1", "press-bearing", "FL", nil, "press-bearing.knuckle-on", "sensor.in", ""},
	{"norrvik-e3", "wheel-stud", "FL", nil, "wheel-stud.drawn-in", "ground.lower", ""},
	{"ostrel-c22", "front-hub-unit", "FL", nil, "wells.look", "ground.lower", "looked through"},
}

func TestLawsRefuse(t *testing.T) {
	l := whole(t)
	for _, c := range heldByLaw {
		made, err := l.Plan(c.pattern, Ask{Tasks: []plan.Task{{Operation: c.op, Corner: c.corner}}, Ways: c.ways})
		if err != nil {
			t.Errorf("%s %s: %v", c.pattern, c.op, err)
			continue
		}
		if err := made.Sound(); err != nil {
			t.Errorf("%s %s: as it is made: %v", c.pattern, c.op, err)
		}
		at := func(name string) int {
			return slices.IndexFunc(made.Steps, func(s plan.Step) bool {
				id := string(s.ID)
				return id == name || c.corner != "" && id == name+"."+string(c.corner)
			})
		}
		from, to := at(c.late), at(c.behind)
		if from < 0 || to <= from {
			t.Errorf("%s %s: %s stands at %d, %s at %d", c.pattern, c.op, c.late, from, c.behind, to)
			continue
		}
		step := made.Steps[from]
		q := made
		q.Steps = slices.Insert(slices.Delete(slices.Clone(made.Steps), from, from+1), to, step)
		switch err := q.Sound(); {
		case err == nil:
			t.Errorf("%s %s: %s may come behind %s", c.pattern, c.op, c.late, c.behind)
		case !strings.Contains(err.Error(), c.says):
			t.Errorf("%s %s, %s behind %s: %v; it has to say “%s”", c.pattern, c.op, c.late, c.behind, err, c.says)
		}
	}
}
