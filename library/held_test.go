package library

import (
	"errors"
	"slices"
	"strings"
	"testing"

	"lugtak/core/fact"
	"lugtak/core/plan"
)

// Each law of the trade, asked alone, passes the plan as it is made and refuses the one in which a step comes later
// than it may (common practice). What a step wants by itself is left out: it would answer for the law.
var heldByLaw = []struct {
	law, pattern, tasks string // with school=way behind them where the way matters
	late                string // the step that is put off
	behind              string // until after this one
}{
	{"fast-before-weight", "ostrel-c22", "brake-caliper@FL", "caliper.tight.FL", "ground.lower"},
	{"wheel-before-full-weight", "ostrel-c22", "control-arm@FL", "wheel.tight.FL", "ground.down"},
	{"four-stands-until-the-wheels-are-on", "ostrel-c22", "pads-rotors@FL pads-rotors@RL",
		"wheel.start.FL", "level.two-points"},
	{"closed-before-weight", "ostrel-c22", "brake-bleed@FL", "bleeder.tight.FL", "ground.lower"},
	{"closed-before-weight", "ostrel-c22", "brake-caliper@FL", "brake-caliper.hose-tight.FL", "ground.lower"},
	{"closed-before-weight", "lindar-s6", "air-spring@RL", "air-spring.first-air.RL", "ground.lower"},
	{"closed-before-weight", "norrvik-e3", "wheel-stud@FL", "wheel-stud.drawn-in.FL", "ground.lower"},
	{"closed-before-park-brake", "ostrel-c22", "park-cable@RL", "park-travel.set", "park-brake.on"},
	{"closed-before-park-brake", "tessvik-h1", "drum-brakes@RL", "drum.on.RL", "park-brake.on"},
	{"nobody-beneath-a-running-engine", "ostrel-c22", "brake-hose@FL", "held-hard.dry", "ground.lower"},
	{"firm-before-it-moves", "ostrel-c22", "pads-rotors@FL", "pedal.pump", "ground.lower"},
	{"fluid-before-pedal", "ostrel-c22", "brake-bleed@FL", "bleeder.tight.FL", "pedal.pump"},
	{"fluid-before-pedal", "ostrel-c22", "brake-bleed@FL", "reservoir.top-up", "pedal.pump"},
	{"something-to-push-on", "tessvik-h1", "drum-brakes@RL", "drum.on.RL", "pedal.pump"},
	{"something-to-push-on", "ostrel-c22", "brake-caliper@FL", "store.empty", "caliper.crack.FL"},
	{"nobody-on-an-open-brake", "ostrel-c22", "brake-hose@FL", "bled.bled.FL", "held-hard.hold"},
	{"nobody-on-an-open-brake", "ostrel-c22", "brake-caliper@FL", "bleeder.tight.FL", "held-hard.hold"},
	{"one-bleeder-at-a-time", "ostrel-c22", "brake-bleed@FL brake-bleed@FR", "bleeder.tight.FR", "bleeder.crack.FL"},
	{"closed-before-level", "ostrel-c22", "brake-hose@FL", "line.tight.FL", "reservoir.top-up"},
	{"stopped-before-the-jack-goes", "norrvik-e3", "strut-rear@RL", "strut-rear.lower-start.RL", "arm.away.RL"},
	{"brace-off-before-it-swings", "ostrel-c22", "front-hub-unit@FL", "brace.away.FL", "room-lower-joint.back.FL"},
	{"one-side-gear-stays", "ostrel-c22", "drive-axle-plugged@FL drive-axle-plugged@FR",
		"drive-axle-plugged.shaft-in.FL", "drive-axle-plugged.shaft-out.FR"},
	{"tied-until-fast", "ostrel-c22", "strut-front@FL", "strut-foot.tight.FL", "knuckle.untie.FL"},
	{"lead-home-last", "ostrel-c22", "control-arm@FL", "control-arm.bush-start.FL", "lead.clip.FL"},
	{"hose-home-last", "ostrel-c22", "brake-hose@FL", "brake-hose.hose-start.FL", "hose.back.FL"},
	{"shield-last", "ostrel-c22", "tie-rod-inner@FL", "tie-rod-inner.boot-on.FL", "shield.up"},
	{"counted-before-it-moves", "ostrel-c22", "control-arm@FL", "count.count", "ride-ramps.up"},
	{"bar-hangs-free", "ostrel-c22", "stabiliser-link@FL stabiliser-link@FR",
		"stabiliser-link.out.FR", "stabiliser-link.turn-bar.FL"},
	{"shaft-home-before-oil", "ostrel-c22", "drive-axle-plugged@FL", "drive-axle-plugged.shaft-in.FL", "gear-oil.fill"},
	{"hands-out-while-it-runs", "ostrel-c22", "brake-hose@FL", "line.tight.FL", "held-hard.hold"},
	{"nothing-loose-while-it-runs", "ostrel-c22", "brake-caliper@FL", "caliper.tight.FL", "held-hard.hold"},
	{"counted-when-closed", "ostrel-c22", "brake-bleed@FL", "chocks.away", "count.count"},
	{"whole-before-the-road", "ostrel-c22", "brake-bleed@FL", "chocks.away", "drive.drive"},
	{"loaded-on-what-is-fast", "ostrel-c22", "control-arm@FL", "lower-joint.start.FL", "ride-ramps.up"},
	{"bearing-set-before-full-weight", "norrvik-e3", "front-hub-unit@FL", "axle-nut.tight.FL", "ground.down"},
	{"closed-before-the-prop-goes", "tessvik-h1", "brake-hose@FL", "line.tight.FL", "pedal-prop.unprop"},
	{"dry-before-the-wheel", "tessvik-h1", "brake-hose@FL", "held-hard.dry", "wheel.start.FL"},
	{"coil-home-before-its-joint", "caldren-m9", "coil-front@FL", "coil-front.up.FL", "lower-stud.start.FL"},
	{"pressed-before-its-arm-is-parted", "dorvik-u6", "coil-front@FR", "coil-front.press.FR", "lower-stud.out.FR"},
	{"current-off-before-the-bag", "norrvik-e3", "clock-spring", "battery.wait", "clock-spring.bag-off"},
	{"coil-in-before-it-is-let-out", "selmar-r2", "coil-rear@RL", "coil-rear.up.RL", "coil-rear.let-go.RL"},
	{"clamped-before-its-centre-bolt", "halvik-d9", "leaf-spring@RL leaf-work=bolt",
		"leaf-spring.shackle-out.RL", "leaf-spring.pack-clamped.RL"},
	{"whole-before-it-is-mounted", "ostrel-c22", "brake-caliper@FL", "brake-caliper.home.FL", "caliper.start.FL"},
	{"hooked-before-its-clicks", "tessvik-h1", "drum-brakes@RL", "drum.on.RL", "park-travel.set"},
	{"hooked-before-its-clicks", "tessvik-h1", "drum-brakes@RL", "drum-brakes.shoes-on.RL", "park-travel.set"},
	{"propped-while-all-is-closed", "tessvik-h1", "brake-hose@FL", "pedal-prop.prop", "line.cap.FL"},
	{"pressed-before-its-nut", "norrvik-e3", "strut-spring@FL", "strut-spring.press.FL", "strut-spring.apart.FL"},
	{"nut-before-the-spring", "norrvik-e3", "strut-spring@FL", "strut-spring.centre-tight.FL", "strut-spring.let-go.FL"},
	{"spring-home-before-it-goes-up", "norrvik-e3", "strut-spring@FL",
		"strut-spring.let-go.FL", "strut-spring.top-start.FL"},
	{"tied-before-parted", "norrvik-e3", "steering-rack", "wheel-tied.tie", "steering-rack.column-out"},
	{"tied-before-parted", "norrvik-e3", "steering-rack", "battery.wait", "steering-rack.column-out"},
	{"rods-parted-before-the-rack", "norrvik-e3", "steering-rack", "tie-rod-end.out.FR", "steering-rack.rack-out"},
	{"rack-before-its-rods", "norrvik-e3", "steering-rack", "steering-rack.rack-start", "tie-rod-lock.turns-in.FR"},
	{"joined-before-untied", "norrvik-e3", "steering-rack", "steering-rack.column-tight", "wheel-tied.untie"},
	{"joined-before-current", "norrvik-e3", "steering-rack", "steering-rack.column-tight", "battery.tight"},
	{"asleep-before-it-goes-up", "lindar-s6", "air-spring@RL", "asleep.sleep", "ground.raise"},
	{"asleep-while-a-brake-is-apart", "lindar-s6", "pads-rotors@FL", "pads-rotors.pads-in.FL", "asleep.wake"},
	{"held-while-the-leaf-is-out", "brask-t7", "leaf-spring@RL", "leaf-spring.ubolt-start.RL", "leaf-spring.axle-down.RL"},
	{"axle-held-before-its-clamp", "brask-t7", "leaf-spring@RL",
		"leaf-spring.axle-carried.RL", "leaf-spring.ubolt-out.RL"},
	{"chocked-before-the-shaft", "brask-t7", "cross-joint", "chocks.chock", "cross-joint.strap"},
	{"sealed-before-it-is-set", "halvik-d9", "taper-bearing@RL", "taper-bearing.packed.RL", "spindle.gauge.RL"},
	{"marked-before-the-jack", "ostrel-c22", "control-arm@FL ride-height=jack", "mark.taken.FL", "ride-jack.up"},
	{"one-foot-for-one-thing", "norrvik-e3", "front-hub-unit@FL", "pedal.pump", "brake-hold.hold.FL.2"},
	{"looked-through-before-it-comes-down", "ostrel-c22", "front-hub-unit@FL", "wells.look", "ground.lower"},
	{"looked-through-when-closed", "ostrel-c22", "brake-bleed@FL", "wheel.start.FL", "wells.look"},
	{"emptied-while-all-is-closed", "ostrel-c22", "brake-hose@FL", "store.empty", "line.cap.FL"},
}

func TestLawsRefuse(t *testing.T) {
	l := whole(t)
	held := map[string]bool{}
	for _, c := range heldByLaw {
		held[c.law] = true
		t.Run(c.law+" "+c.tasks, func(t *testing.T) {
			ask := Ask{Ways: map[string]string{}}
			for name := range strings.FieldsSeq(c.tasks) {
				if school, way, ok := strings.Cut(name, "="); ok {
					ask.Ways[school] = way
					continue
				}
				task, err := plan.ParseTask(name)
				if err != nil {
					t.Fatal(err)
				}
				ask.Tasks = append(ask.Tasks, task)
			}
			made, err := l.Plan(c.pattern, ask)
			if err != nil {
				t.Fatal(err)
			}
			q := alone(made, c.law)
			if len(q.World.Laws) == 0 {
				t.Fatal("the plan does not ask it")
			}
			if err := q.Prove(); err != nil {
				t.Errorf("as it is made: %v", err)
			}
			from, to := stepAt(q, c.late, ""), stepAt(q, c.behind, "")
			if from < 0 || to <= from {
				t.Fatalf("%s stands at %d, %s at %d", c.late, from, c.behind, to)
			}
			late := q.Steps[from]
			q.Steps = slices.Insert(slices.Delete(q.Steps, from, from+1), to, late)
			var b *fact.Breach
			if !errors.As(q.Prove(), &b) || b.Law != c.law {
				t.Errorf("%s may come behind %s", c.late, c.behind)
			}
		})
	}
	for _, law := range l.Laws {
		if !held[law.ID] {
			t.Errorf("law %s refuses no plan here", law.ID)
		}
	}
}

// alone is a plan of which one law is asked and nothing else.
func alone(p plan.Plan, law string) plan.Plan {
	p.Steps = slices.Clone(p.Steps)
	for i := range p.Steps {
		p.Steps[i].Wants = nil
	}
	p.World.Laws = slices.DeleteFunc(slices.Clone(p.World.Laws), func(g fact.Law) bool { return g.ID != law })
	return p
}
