package library

import (
	"slices"
	"strings"
	"testing"

	"lugtak/core/operation"
	"lugtak/core/vehicle"
)

// Ordering facts of the trade (common practice), on compiled plans put in the best
// order. Names are without their corner.
func TestOrderOfTheTrade(t *testing.T) {
	l := whole(t)
	for _, c := range []struct {
		pattern, op string
		corner      vehicle.Corner
		before      [][2]string
	}{
		{"ostrel-c22", "front-hub-unit", "FL", [][2]string{
			{"axle-nut.crack", "ground.raise"}, {"wheel.crack", "ground.raise"}, {"ground.chock", "ground.raise"}, // on the ground: what needs the tyre's grip
			{"soak.brush", "front-hub-unit.hub-out"}, {"soak.wait", "front-hub-unit.knuckle-crack"}, {"soak.wait", "tie-rod-end.crack"}, // penetrant early
			{"front-hub-unit.knuckle-crack", "front-hub-unit.knuckle-out"}, {"axle-nut.out", "axle-nut.push"}, {"axle-nut.push", "lower-joint.free"}, {"sensor.out", "front-hub-unit.hub-out"},
			{"front-hub-unit.compare", "front-hub-unit.hub-in"}, {"front-hub-unit.clean", "front-hub-unit.hub-in"}, {"front-hub-unit.knuckle-1", "front-hub-unit.knuckle-2"},
			{"axle-nut.tight", "ground.lower"}, {"caliper.pedal", "ground.lower"}, {"caliper.tight", "axle-nut.hold"}, {"lower-joint.tight", "axle-nut.hold"}, // no weight on an unset bearing
			{"ground.lower", "wheel.tight"}, {"wheel.tight", "ground.down"}, {"ground.count", "ground.drive"}, {"ground.drive", "wheel.again"}, {"tie-rod-end.pin", "wheel.start"}, {"sensor.plug", "wheel.start"}}},
		{"norrvik-e3", "drive-axle-flanged", "FR", [][2]string{
			{"shield.off", "drive-axle-flanged.heat-out"}, {"drive-axle-flanged.heat-out", "drive-axle-flanged.flange-crack"}, {"drive-axle-flanged.clean-bits", "drive-axle-flanged.flange-crack"},
			{"axle-nut.push", "axle-nut.out"}, {"axle-nut.push", "drive-axle-flanged.flange-out"}, {"drive-axle-flanged.compare", "drive-axle-flanged.shaft-in"}, {"drive-axle-flanged.flange-1", "drive-axle-flanged.flange-2"},
			{"drive-axle-flanged.heat-tight", "shield.start"}, {"axle-nut.tight", "ground.lower"}}},
		{"ostrel-c22", "drive-axle-plugged", "FL", [][2]string{
			{"drive-axle-plugged.pan", "drive-axle-plugged.pop"}, {"axle-nut.tie", "drive-axle-plugged.pop"}, {"drive-axle-plugged.spacer", "drive-axle-plugged.shaft-in"}, {"drive-axle-plugged.seal", "drive-axle-plugged.shaft-in"},
			{"gear-oil.plug-out", "gear-oil.fill"}, {"gear-oil.fill", "gear-oil.run"}, {"gear-oil.run", "gear-oil.level"}, {"gear-oil.level", "gear-oil.plug-tight"}, {"axle-nut.tight", "gear-oil.run"}}},
		{"brask-t7", "solid-axle-hub", "FR", [][2]string{
			{"solid-axle-hub.unpin", "solid-axle-hub.shaft-crack"}, {"solid-axle-hub.shaft-crack", "ground.raise"}, {"sensor.out", "solid-axle-hub.drive-out"}, {"solid-axle-hub.unit-crack", "solid-axle-hub.unit-out"},
			{"solid-axle-hub.clean", "solid-axle-hub.unit-in"}, {"solid-axle-hub.shield-on", "solid-axle-hub.unit-in"}, {"solid-axle-hub.shaft-tight", "solid-axle-hub.pin"}, {"solid-axle-hub.shaft-tight", "ground.lower"}}},
		{"ostrel-c22", "strut-front", "FL", [][2]string{
			{"strut-front.mark", "strut-front.through-crack"}, {"strut-front.tie", "strut-front.through-out"}, {"strut-front.hose-out", "strut-front.tie"}, {"strut-front.through-out", "strut-front.top-out"},
			{"strut-front.compare", "strut-front.top-start"}, {"strut-front.through-tight", "strut-front.untie"}, {"ride.up", "strut-front.top-tight"}, {"ride.up", "link-upper.tight"}, {"ground.down", "align.ask"}}},
		{"norrvik-e3", "strut-rear", "RL", [][2]string{
			{"trim.off", "ground.raise"}, {"strut-rear.support", "strut-rear.lower-out"}, {"strut-rear.lower-out", "strut-rear.top-out"}, {"strut-rear.top-tight", "trim.on"}, {"ride.up", "strut-rear.lower-tight"}}},
		{"caldren-m9", "shock-stem", "FL", [][2]string{
			{"shock-stem.arm", "shock-stem.stem-crack"}, {"shock-stem.foot-crack", "shock-stem.stem-out"}, {"shock-stem.prime", "shock-stem.foot-start"}, {"ride.up", "shock-stem.stem-tight"}}},
		{"brask-t7", "shock-eye", "RL", [][2]string{{"shock-eye.axle", "shock-eye.lower-crack"}, {"shock-eye.upper-crack", "shock-eye.lower-out"}, {"shock-eye.prime", "shock-eye.upper-start"}, {"ride.up", "shock-eye.lower-tight"}}},
		{"ostrel-c22", "control-arm", "FL", [][2]string{
			{"control-arm.mark", "ground.raise"}, {"lower-joint.free", "control-arm.bush-out"}, {"control-arm.compare", "control-arm.bush-start"}, {"ride.up", "control-arm.bush-tight"}, {"control-arm.bush-start", "lower-joint.start"}}},
		{"norrvik-e3", "tension-arm", "FL", [][2]string{{"tension-arm.mark", "ground.raise"}, {"tension-arm.ball-press", "tension-arm.ball-out"}, {"ride.up", "tension-arm.bush-tight"}}},
		{"caldren-m9", "upper-ball-joint", "FL", [][2]string{
			{"upper-ball-joint.arm", "upper-ball-joint.stud-crack"}, {"upper-ball-joint.stud-out", "upper-ball-joint.rivets"}, {"upper-ball-joint.fitting", "upper-ball-joint.plate-start"},
			{"upper-ball-joint.stud-tight", "upper-ball-joint.pin"}, {"upper-ball-joint.pin", "upper-ball-joint.arm-away"}, {"upper-ball-joint.arm-away", "wheel.start"}}},
		{"lindar-s6", "upper-ball-joint", "FR", [][2]string{{"upper-ball-joint.plate-crack", "upper-ball-joint.plate-out"}, {"upper-ball-joint.stud-crack", "upper-ball-joint.plate-out"}}},
		{"caldren-m9", "lower-ball-joint", "FL", [][2]string{
			{"tie-rod-end.out", "lower-ball-joint.stud-crack"}, {"lower-ball-joint.carrier-start", "lower-ball-joint.carrier-tight"}, {"lower-ball-joint.stud-tight", "tie-rod-end.start"}, {"lower-ball-joint.pin", "lower-ball-joint.arm-away"}}},
		{"ostrel-c22", "stabiliser-link", "FL", [][2]string{{"link-upper.start", "link-lower.tight"}, {"link-lower.start", "link-upper.tight"}, {"stabiliser-link.compare", "link-upper.start"}, {"ride.up", "link-lower.tight"}}},
		{"ostrel-c22", "tie-rod-outer", "FR", [][2]string{
			{"tie-rod-lock.crack", "tie-rod-end.crack"}, {"tie-rod-end.out", "tie-rod-lock.turns-out"}, {"tie-rod-lock.turns-out", "tie-rod-lock.turns-in"}, {"tie-rod-outer.compare", "tie-rod-lock.turns-in"},
			{"tie-rod-lock.turns-in", "tie-rod-end.start"}, {"tie-rod-end.tight", "tie-rod-lock.tight"}}},
		{"ostrel-c22", "tie-rod-inner", "FL", [][2]string{
			{"tie-rod-inner.which", "tie-rod-end.crack"}, {"tie-rod-inner.boot-off", "tie-rod-inner.inner-crack"}, {"tie-rod-inner.inner-tight", "tie-rod-inner.boot-on"}, {"tie-rod-inner.boot-on", "tie-rod-lock.turns-in"}}},
		{"brask-t7", "idler-arm", "", [][2]string{
			{"idler-arm.lash", "ground.raise"}, {"idler-arm.straight", "idler-arm.stud-crack"}, {"idler-arm.frame-crack", "idler-arm.frame-out"}, {"idler-arm.adjust", "idler-arm.frame-start"}, {"idler-arm.stud-tight", "idler-arm.pin"}, {"ground.down", "idler-arm.lash-after"}}},
		{"ostrel-c22", "pads-rotors", "RL", [][2]string{
			{"pads-rotors.fluid", "ground.raise"}, {"pads-rotors.slide-crack", "caliper.crack"}, {"pads-rotors.bleeder-out", "pads-rotors.piston"}, {"pads-rotors.measure", "rotor.off"}, {"pads-rotors.hub-face", "rotor.on"},
			{"pads-rotors.compare-pads", "pads-rotors.pads-in"}, {"pads-rotors.slide-tight", "caliper.pedal"}, {"pads-rotors.spin", "wheel.start"}, {"caliper.pedal", "ground.lower"}}},
		{"caldren-m9", "centre-support", "", [][2]string{
			{"centre-support.mark", "centre-support.coupling-crack"}, {"centre-support.hold", "centre-support.carrier-out"}, {"centre-support.turn", "centre-support.cut"}, {"centre-support.coupling-tight", "centre-support.carrier-tight"}}},
		{"lindar-s6", "crossmember", "", [][2]string{
			{"crossmember.support", "crossmember.member-crack"}, {"crossmember.through-out", "crossmember.member-out"}, {"crossmember.mount-tight", "crossmember.member-start"}, {"crossmember.unsupport", "crossmember.through-tight"}, {"shield.off", "crossmember.support"}}},
	} {
		plan, err := l.Plan(c.pattern, Ask{Tasks: []operation.Task{{Operation: c.op, Corner: c.corner}}})
		if err != nil {
			t.Errorf("%s %s: %v", c.pattern, c.op, err)
			continue
		}
		place := func(name string) int {
			return slices.IndexFunc(plan.Steps, func(s operation.Step) bool { return string(s.ID) == name || string(s.ID) == name+"."+string(c.corner) })
		}
		for _, b := range c.before {
			switch x, y := place(b[0]), place(b[1]); {
			case x < 0 || y < 0:
				t.Errorf("%s %s: no step %s (%d) or %s (%d)", c.pattern, c.op, b[0], x, b[1], y)
			case x >= y:
				t.Errorf("%s %s: %s stands at %d, %s at %d", c.pattern, c.op, b[0], x, b[1], y)
			}
		}
		check(t, vehicle.Pattern{ID: c.pattern}, plan)
	}
}

// What can hurt is said where it is done (common practice): by the word that must
// stand in the caution of some step of the operation.
func TestCautionsStandWithTheStep(t *testing.T) {
	l := whole(t)
	for op, words := range map[string][]string{
		"strut-front": {"centre nut", "falls", "chips|rust"}, "strut-rear": {"centre nut", "falls", "airbag"}, "shock-stem": {"gas", "spring"}, "shock-eye": {"gas"},
		"upper-ball-joint": {"bang", "spring"}, "upper-ball-joint@caldren-m9": {"spark"}, "lower-ball-joint": {"bang", "torsion|spring"}, "pads-rotors": {"hose", "dust", "fade", "hot"}, "drive-axle-plugged": {"exhaust", "wheels"},
		"crossmember": {"heavy", "crush"}, "centre-support": {"heavy"}, "front-hub-unit": {"heavy", "eye protection"}, "tie-rod-outer": {"bang", "slot"}, "idler-arm": {"bang"}, "solid-axle-hub": {"eye protection", "weight|pin"},
	} {
		for _, p := range l.Patterns {
			for _, task := range l.Offers(p) {
				if name, pattern, _ := strings.Cut(op, "@"); task.Operation == name && (pattern == "" || pattern == p.ID) {
					plan := l.ordered(t, p, nil, task)
					for _, w := range append(words, "stands", "roll") {
						if !cautioned(plan, w) {
							t.Errorf("%s on %s: no caution speaks of %s", op, p.ID, w)
						}
					}
				}
			}
		}
	}
}

// Where a step's place is not plain from its own joint, because it waits for another
// access or others wait for it, it says why.
func TestOrderHasItsReason(t *testing.T) {
	l := whole(t)
	plain := []string{"ground.", "wheel.", "soak."} // raised, wheel off: plain to anybody
	for _, op := range slices.Concat(l.Operations, l.Access) {
		for _, s := range op.Steps {
			far := len(s.Before) > 0
			for _, n := range s.Needs {
				far = far || strings.Contains(string(n), ".") && !slices.ContainsFunc(plain, func(p string) bool { return strings.HasPrefix(string(n), p) })
			}
			if far && s.Because == "" {
				t.Errorf("%s: %s needs %v, comes before %v, and does not say why", op.ID, s.ID, s.Needs, s.Before)
			}
		}
	}
}
