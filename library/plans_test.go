package library

import (
	"slices"
	"strings"
	"testing"

	"lugtak/core/fact"
	"lugtak/core/fault"
	"lugtak/core/inspect"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/vehicle"
)

// What is measured by a form of its own, and what is drawn of it, goes by its key.
func TestMeasuresGoByTheirKeys(t *testing.T) {
	for _, key := range []string{inspect.RotorRunOutKey, inspect.HubRunOutKey} {
		if _, ok := whole(t).Limits.Measure(key); !ok {
			t.Errorf("there is no limit %q", key)
		}
	}
}

// Whoever stands at the brake is needed elsewhere too: between hold and let go there is only
// what the hold is for, and the knuckle is fast by then.
func TestHoldIsShort(t *testing.T) {
	l := whole(t)
	holds := 0
	for _, p := range l.Patterns {
		for _, task := range l.Offers(p) {
			for _, way := range []string{"air", "locked"} {
				ask := Ask{
					Tasks: []plan.Task{task, {Operation: "strut-front", Corner: "FL"}},
					Ways:  map[string]string{"hub-nut": way},
					Built: map[string]string{"shaft-room": "strut"},
				}
				made, err := plan.Compile(l.order(p, ask))
				if err != nil || !slices.ContainsFunc(made.Steps, isHold) {
					continue // not offered together, a sheet that lacks a joint of that build, or nothing to hold
				}
				if made, err = l.Compile(p, ask); err != nil {
					t.Fatal(err)
				}
				held := false
				open := map[string]bool{} // joints that stop the knuckle
				for _, s := range made.Steps {
					if j := made.Joint(s.Joint); j != nil && j.Stops == "knuckle" {
						open[j.ID] = s.Verb != operation.Tighten
					}
					switch id := string(s.ID); {
					case isHold(s):
						held = true
						holds++
						for id, is := range open {
							if is && made.Joint(id).Corner == s.Corner {
								t.Errorf("%s %v: %s with %s open", p.ID, task, s.ID, id)
							}
						}
					case strings.Contains(id, "-hold.let-go"):
						held = false
					case held && s.Verb != operation.Crack && s.Verb != operation.Tighten:
						t.Errorf("%s %v: %s while somebody holds", p.ID, task, s.ID)
					}
				}
			}
		}
	}
	if holds < 20 {
		t.Errorf("%d holds seen", holds)
	}
}

// A nut that is tightened with the wheel on the ground needs nobody to hold its rotation: the tyre does. Up in the air
// it
// does.
func TestTheGroundHoldsTheWheel(t *testing.T) {
	l := whole(t)
	i := slices.IndexFunc(l.Patterns, func(p vehicle.Pattern) bool { return p.ID == "ostrel-c22" })
	for way, held := range map[string]bool{"ground": false, "air": true, "locked": true} {
		ask := Ask{
			Tasks: []plan.Task{{Operation: "front-hub-unit", Corner: "FL"}},
			Ways:  map[string]string{"hub-nut": way},
		}
		made, err := l.Compile(l.Patterns[i], ask)
		if err != nil {
			t.Fatal(err)
		}
		j := made.Joint("hub.FL.axle")
		if j == nil || j.Held != held || (j.Condition == vehicle.OnGround) == held {
			t.Errorf("%s: held %v, tightened %q", way, j.Held, j.Condition)
		}
	}
}

// isHold finds the step in which somebody holds a shaft or disc for another.
func isHold(s plan.Step) bool { return strings.Contains(string(s.ID), "-hold.hold") }

// A bar is judged once, with the links of both sides out; where one side is ordered, the other
// link is on and it is not judged (common practice).
func TestBarIsJudgedWithBothLinksOut(t *testing.T) {
	l := whole(t)
	left := plan.Task{Operation: "stabiliser-link", Corner: "FL"}
	right := plan.Task{Operation: "stabiliser-link", Corner: "FR"}
	for _, c := range []struct {
		tasks  []plan.Task
		judged int
	}{{[]plan.Task{left}, 0}, {[]plan.Task{left, right}, 1}, {[]plan.Task{right, left}, 1}} {
		for _, p := range l.Patterns {
			if !slices.Contains(l.Offers(p), left) {
				continue
			}
			made := l.ordered(t, p, nil, c.tasks...)
			out, judged := 0, 0
			for _, s := range made.Steps {
				switch operation.StepID(strings.TrimSuffix(strings.TrimSuffix(string(s.ID), ".FL"), ".FR")) {
				case "stabiliser-link.out":
					out++
				case "stabiliser-link.fit":
					out--
				case "stabiliser-link.turn-bar":
					judged++
					if out != 2 {
						t.Errorf("%s %v: judged with %d links out", p.ID, c.tasks, out)
					}
				}
			}
			if judged != c.judged {
				t.Errorf("%s %v: judged %d times", p.ID, c.tasks, judged)
			}
		}
	}
}

// What is not needed is not taken apart (common practice: fewest joints first, a sensor
// drawn only where what it sits in is driven out).
func TestNothingComesApartForNothing(t *testing.T) {
	l := whole(t)
	for _, c := range []struct {
		pattern, tasks string
		built          map[string]string
		not            []string
	}{
		{"ostrel-c22", "front-hub-unit@FL", nil, []string{"tie-rod-end", "strut-foot"}},
		{
			"ostrel-c22", "front-hub-unit@FL", map[string]string{"shaft-room": "lock"},
			[]string{"tie-rod-end", "lower-joint", "strut-foot", "shaft-aside"},
		},
		{"ostrel-c22", "front-hub-unit@FL", map[string]string{"wheel-sensor": "unit"}, []string{"sensor."}},
		{"brask-t7", "solid-axle-hub@FL", nil, []string{"sensor.", "tie-rod-end"}},
		{"ostrel-c22", "strut-front@FL", nil, []string{"sensor."}},
		{"caldren-m9", "upper-ball-joint@FL", nil, []string{"sensor.", "tie-rod"}},
		{"lindar-s6", "lower-ball-joint@FL", nil, []string{"sensor.", "tie-rod"}},
		{"ostrel-c22", "pads-rotors@FL", nil, []string{"rotor.", "bracket.", "caliper."}},
	} {
		task, _ := plan.ParseTask(c.tasks)
		made, err := l.Plan(c.pattern, Ask{Tasks: []plan.Task{task}, Built: c.built})
		if err != nil {
			t.Errorf("%s %s: %v", c.pattern, c.tasks, err)
		}
		for _, s := range made.Steps {
			for _, n := range c.not {
				if strings.HasPrefix(string(s.ID), n) {
					t.Errorf("%s %s %v: %s", c.pattern, c.tasks, c.built, s.ID)
				}
			}
		}
	}
}

// A caliper hangs once, whoever wants it off.
func TestCaliperHangsOnce(t *testing.T) {
	l := whole(t)
	made, err := l.Plan("ostrel-c22", Ask{
		Ways:  map[string]string{"rotors": "always"},
		Tasks: []plan.Task{{Operation: "front-hub-unit", Corner: "FL"}, {Operation: "pads-rotors", Corner: "FL"}},
	})
	if err != nil {
		t.Fatal(err)
	}
	hung := 0
	for _, s := range made.Steps {
		for _, m := range s.Makes {
			if m.Fact.Subject == "caliper" && m.Value == "hung" {
				hung++
			}
		}
	}
	if hung != 1 {
		t.Errorf("hung %d times", hung)
	}
}

// What can hurt is said where it is done (common practice): by the word that must
// stand in the caution of some step of the operation.
func TestCautionsStandWithTheStep(t *testing.T) {
	l := whole(t)
	offers := map[string][]plan.Task{}
	for _, p := range l.Patterns {
		offers[p.ID] = l.Offers(p)
	}
	for op, words := range map[string][]string{
		"strut-front": {"centre nut",
			"falls",
			"chips|rust"}, "strut-rear": {"centre nut",
			"falls",
			"airbag"}, "shock-stem": {"gas",
			"spring"}, "shock-eye": {"gas"},
		"upper-ball-joint": {"bang",
			"spring"}, "upper-ball-joint@caldren-m9": {"spark"}, "lower-ball-joint": {"bang",
			"torsion|spring"}, "pads-rotors@ostrel-c22": {"hose"}, "pads-rotors": {"dust",
			"fade",
			"hot"}, "drive-axle-plugged": {"exhaust",
			"wheels"},
		"crossmember": {"heavy",
			"crush"}, "centre-support": {"heavy"}, "rear-hub-unit": {"heavy",
			"eye protection"}, "front-hub-unit": {"heavy",
			"eye protection"}, "tie-rod-outer": {"bang",
			"slot|bang"}, "idler-arm": {"bang"}, "solid-axle-hub": {"eye protection",
			"weight|pin"},
	} {
		for _, p := range l.Patterns {
			for _, task := range offers[p.ID] {
				if name, pattern, _ := strings.Cut(op, "@"); task.Operation == name && (pattern == "" || pattern == p.ID) {
					made := l.ordered(t, p, nil, task)
					for _, w := range append(words, "stands", "roll") {
						if !cautioned(made, w) {
							t.Errorf("%s on %s: no caution speaks of %s", op, p.ID, w)
						}
					}
				}
			}
		}
	}
}

// Each want says why, by itself or by its fact, wherever it is not plain to anybody.
func TestWantsHaveTheirReason(t *testing.T) {
	l := whole(t)
	silent := map[string]int{}
	for _, p := range l.Patterns {
		for _, task := range l.Offers(p) {
			for _, s := range l.ordered(t, p, nil, task).Steps {
				for _, w := range s.Wants {
					away := !w.Values.Has(l.rest(w.Fact.Subject))
					plain := w.Fact.Subject == "vehicle" || w.Fact.Subject == "fastener"
					turns := slices.ContainsFunc(s.Step.Wants, func(x operation.Want) bool { return x.Fact == w.Fact.Subject })
					if away && !plain && !turns && w.Because == "" {
						silent[w.Fact.Subject]++
					}
				}
			}
		}
	}
	for subject := range silent {
		t.Errorf("%s is wanted away from its rest, and nobody says why", subject)
	}
}

func (l *Library) rest(subject string) (v fact.Value) {
	for _, k := range l.Facts {
		if k.Fact == subject {
			return k.Rest
		}
	}
	return v
}

// How a vehicle is built decides what is opened at all: pads leave a fixed caliper where it
// is, a caliper on pins has no bracket, a bolt through rubbers is one nut and not two.
func TestBuildDecidesWhatIsOpened(t *testing.T) {
	l := whole(t)
	for _, c := range []struct {
		pattern, op string
		corner      vehicle.Corner
		built       map[string]string
		joints      string
	}{
		{"caldren-m9", "pads-rotors", "FL", nil, "brake.FL.bleeder brake.FL.bleeder_vent hub.FL.wheel"},
		{"caldren-m9", "pads-rotors", "FL", map[string]string{"caliper": "bracket"},
			"brake.FL.bleeder brake.FL.bleeder_vent brake.FL.slide hub.FL.wheel"},
		{"lindar-s6", "pads-rotors", "FL", nil, "brake.FL.bleeder brake.FL.bleeder_vent brake.FL.slide hub.FL.wheel"},
		{"caldren-m9", "stabiliser-link", "FL", nil, "hub.FL.wheel suspension.FL.linkbolt"},
		{"caldren-m9", "stabiliser-link", "FL", map[string]string{"link": "studs"},
			"hub.FL.wheel suspension.FL.linkbar suspension.FL.linktop"},
	} {
		p, _ := l.Pattern(c.pattern)
		made, err := plan.Compile(l.order(p, Ask{Tasks: []plan.Task{{Operation: c.op, Corner: c.corner}}, Built: c.built}))
		if err != nil {
			t.Errorf("%s %s: %v", c.pattern, c.op, err)
			continue
		}
		var joints []string
		for _, j := range made.Joints {
			joints = append(joints, j.ID)
		}
		slices.Sort(joints)
		if is := strings.Join(joints, " "); is != c.joints {
			t.Errorf("%s %s %v opens %s, not %s", c.pattern, c.op, c.built, is, c.joints)
		}
	}
	brask, _ := l.Pattern("brask-t7")
	captive, err := plan.Compile(l.order(brask, Ask{
		Tasks: []plan.Task{{Operation: "solid-axle-hub", Corner: "FL"}},
		Built: map[string]string{"rotor": "captive"},
	}))
	if err != nil {
		t.Fatal(err)
	}
	last := -1
	for _, id := range []string{
		"caliper.hang", "solid-axle-hub.drive-out", "solid-axle-hub.captive-crack", "solid-axle-hub.captive-out",
		"solid-axle-hub.captive-start", "solid-axle-hub.captive-tight", "solid-axle-hub.unit-in",
		"solid-axle-hub.unit-1", "caliper.start",
	} {
		at := slices.IndexFunc(captive.Steps, func(s plan.Step) bool { return string(s.ID) == id+".FL" })
		if at <= last {
			t.Errorf("a captive rotor: %s stands at %d, behind %d", id, at, last)
		}
		last = at
	}
	_, err = plan.Compile(l.order(brask, Ask{
		Tasks: []plan.Task{{Operation: "pads-rotors", Corner: "FL"}},
		Ways:  map[string]string{"rotors": "always"},
		Built: map[string]string{"rotor": "captive"},
	}))
	if f := fault.As(err); f == nil || !strings.Contains(f.Remedy, "Order “Hub unit on the solid front axle”") {
		t.Errorf("new captive rotors without their hubs: %v", err)
	}
	if slices.ContainsFunc(captive.Steps, func(s plan.Step) bool { return s.Owner == "rotor" }) {
		t.Error("a captive rotor is drawn off its hub outward")
	}
	p, _ := l.Pattern("caldren-m9")
	idler := l.ordered(t, p, nil, plan.Task{Operation: "idler-arm"})
	for _, j := range idler.Joints {
		if j.Key == "frame" && len(j.Letters) != 4 {
			t.Errorf("an idler of four bolts has %v", j.Letters)
		}
	}
}

// What was opened stays a joint: another answer to how it is built comes too late then.
func TestAnOpenedJointForbidsAnotherBuild(t *testing.T) {
	l := whole(t)
	p, _ := l.Pattern("caldren-m9")
	tasks := []plan.Task{{Operation: "pads-rotors", Corner: "FL"}}
	made, err := plan.Compile(l.order(p, Ask{Tasks: tasks, Built: map[string]string{"caliper": "bracket"}}))
	if err != nil {
		t.Fatal(err)
	}
	cracked := slices.IndexFunc(made.Steps, func(s plan.Step) bool { return s.ID == "pads-rotors.slide-crack.FL" })
	ask := Ask{Tasks: tasks, Done: made.Steps[:cracked+1], Built: map[string]string{"caliper": "fixed"}}
	if _, err := plan.Compile(l.order(p, ask)); fault.As(err) == nil || fault.As(err).Code != "too_late" {
		t.Errorf("the slide bolts are open and the caliper is fixed: %v", err)
	}
}

// By the trade: the brace is off before the knuckle swings back over the arm, also where a hand moves the step.
func TestTheBraceIsOffBeforeItSwings(t *testing.T) {
	l := whole(t)
	made, err := l.Plan("ostrel-c22", Ask{Tasks: []plan.Task{{Operation: "front-hub-unit", Corner: "FL"}}})
	if err != nil {
		t.Fatal(err)
	}
	at := func(id operation.StepID) int {
		return slices.IndexFunc(made.Steps, func(s plan.Step) bool { return s.ID == id })
	}
	away := made.Steps[at("brace.away.FL")]
	made.Steps = slices.Delete(slices.Clone(made.Steps), at("brace.away.FL"), at("brace.away.FL")+1)
	made.Steps = slices.Insert(made.Steps, at("room-lower-joint.back.FL")+1, away)
	if made.Sound() == nil {
		t.Error("braced, it swings back, and that is proved")
	}
}

// By the trade: a side gear turns away inside when both plug-in shafts are out, so the first is home before the second
// comes out.
func TestOneSideGearStays(t *testing.T) {
	l := whole(t)
	done := 0
	for _, p := range l.Patterns {
		var tasks []plan.Task
		for _, x := range l.Offers(p) {
			if x.Operation == "drive-axle-plugged" {
				tasks = append(tasks, x)
			}
		}
		if len(tasks) != 2 {
			continue
		}
		made, err := l.Plan(p.ID, Ask{Tasks: tasks})
		if err != nil {
			t.Fatal(err)
		}
		out := 0
		for _, s := range made.Steps {
			switch {
			case strings.Contains(string(s.ID), ".shaft-out."):
				out++
				done++
			case strings.Contains(string(s.ID), ".shaft-in."):
				out--
			}
			if out > 1 {
				t.Errorf("%s: %s with the other shaft out", p.ID, s.ID)
			}
		}
	}
	if done < 2 {
		t.Error("no vehicle has two of them")
	}
}

// A brake is bled the farthest wheel first, one bleeder open at a time, and no pedal is judged
// before the last is shut: common practice.
func TestBledInTheOrderOfTheWheels(t *testing.T) {
	l := whole(t)
	for _, p := range l.Patterns {
		for _, school := range []string{"open", "closed"} {
			var tasks []plan.Task
			for _, c := range []vehicle.Corner{"FL", "FR", "RL", "RR"} {
				tasks = append(tasks, plan.Task{Operation: "brake-bleed", Corner: c})
			}
			made, err := l.Plan(p.ID, Ask{Tasks: tasks, Ways: map[string]string{"piston": school}})
			if err != nil {
				t.Errorf("%s %s: %v", p.ID, school, err)
				continue
			}
			at := func(id string) int {
				return slices.IndexFunc(made.Steps, func(s plan.Step) bool { return string(s.ID) == id })
			}
			last := at("brake-bleed.draw")
			for _, c := range []string{"RR", "RL", "FR", "FL"} {
				for _, act := range []string{"bleeder.open", "brake-bleed.flush", "bleeder.shut", "bleeder.tight"} {
					n := at(act + "." + c)
					if n <= last {
						t.Errorf("%s %s: %s.%s is not in its turn", p.ID, school, act, c)
					}
					last = n
				}
			}
			for _, after := range []string{"reservoir.top-up", "pedal.pump", "ground.lower"} {
				if n := at(after); n <= last {
					t.Errorf("%s %s: %s comes before the last bleeder is shut", p.ID, school, after)
				}
			}
		}
	}
}

// By the trade: the old fluid is drawn from the reservoir before any of it is pushed on, at whichever corners and by
// however many hands.
func TestOldFluidIsDrawnBeforeItIsPushedOn(t *testing.T) {
	l := whole(t)
	for _, tasks := range [][]plan.Task{
		{{Operation: "brake-bleed", Corner: "FL"}},
		{{Operation: "brake-bleed", Corner: "RR"}, {Operation: "brake-bleed", Corner: "FL"}},
		{
			{Operation: "brake-bleed", Corner: "FL"},
			{Operation: "pads-rotors", Corner: "FL"}, {Operation: "pads-rotors", Corner: "FR"},
		},
	} {
		for hands := 1; hands <= 2; hands++ {
			p, err := l.Plan("ostrel-c22", Ask{Tasks: tasks, Technicians: hands})
			if err != nil {
				t.Fatal(err)
			}
			drawn := slices.IndexFunc(p.Steps, func(s plan.Step) bool { return s.ID == "brake-bleed.draw" })
			for i, s := range p.Steps {
				if strings.HasPrefix(string(s.ID), "brake-bleed.flush.") && (drawn < 0 || i < drawn) {
					t.Errorf("%v, %d: %s at %d, drawn at %d", tasks, hands, s.ID, i, drawn)
				}
			}
		}
	}
}

// A rigid axle hangs in the spring of one side while the other side's is out, whatever else is done on the vehicle
// (common practice): the first is closed and let go before the second is carried and opened.
func TestOneLeafSpringAtATime(t *testing.T) {
	l := whole(t)
	for _, pattern := range []string{"brask-t7", "halvik-d9"} {
		p, _ := l.Pattern(pattern)
		made := l.ordered(t, p, nil, l.Offers(p)...)
		first, second := vehicle.Corner("RL"), vehicle.Corner("RR")
		if stepAt(made, "leaf-spring.axle-carried", "RR") < stepAt(made, "leaf-spring.axle-carried", "RL") {
			first, second = second, first
		}
		last := -1
		for _, x := range []struct {
			step   string
			corner vehicle.Corner
		}{
			{"axle-carried", first}, {"ubolt-crack", first}, {"ubolt-start", first}, {"axle-down", first},
			{"axle-carried", second}, {"ubolt-crack", second}, {"ubolt-start", second}, {"axle-down", second},
		} {
			at := stepAt(made, "leaf-spring."+x.step, x.corner)
			if at <= last {
				t.Errorf("%s: %s %s stands at %d, before what it comes after", pattern, x.step, x.corner, at)
			}
			last = at
		}
	}
}

// A bolt that two works open is one bolt (common practice): it is cracked, out, in and tightened once, and what each of
// the two needs it for comes between.
func TestOneBoltIsOpenedOnce(t *testing.T) {
	l := whole(t)
	for _, c := range []struct {
		pattern, tasks string
		order          string
	}{
		{"brask-t7", "leaf-spring@RL shock-eye@RL", "shock-eye.lower-out.RL leaf-spring.ubolt-out.RL " +
			"leaf-spring.leaf-out.RL " +
			"leaf-spring.shackle-start.RL shock-eye.lower-start.RL leaf-spring.axle-down.RL shock-eye.lower-tight.RL"},
		{"ostrel-c22", "brake-caliper@FL brake-hose@FL", "line.cap.FL brake-hose.hose-out.FL brake-caliper.body-out.FL " +
			"brake-caliper.home.FL caliper.tight.FL brake-hose.hose-start.FL brake-hose.end-tight.FL bled.bled.FL"},
		{"brask-t7", "cross-joint centre-support", "centre-support.coupling-out cross-joint.shaft-out cross-joint.shaft-in " +
			"centre-support.carrier-start centre-support.coupling-start centre-support.coupling-tight"},
		{"norrvik-e3", "strut-front@FL strut-spring@FL", "strut-front.top-out.FL strut-spring.press.FL " +
			"strut-spring.let-go.FL " +
			"strut-front.top-start.FL strut-front.top-tight.FL"},
	} {
		var tasks []plan.Task
		for name := range strings.FieldsSeq(c.tasks) {
			task, err := plan.ParseTask(name)
			if err != nil {
				t.Fatal(err)
			}
			tasks = append(tasks, task)
		}
		made, err := l.Plan(c.pattern, Ask{Tasks: tasks})
		if err != nil {
			t.Fatal(err)
		}
		opened := map[string]string{}
		for _, j := range made.Joints {
			at := j.Sheet + string(j.Corner)
			if was := opened[at]; was != "" && !strings.HasSuffix(j.Sheet, "bleeder") { // which is opened for its piston first
				t.Errorf("%s: %s and %s are one bolt", c.tasks, was, j.ID)
			}
			opened[at] = j.ID
		}
		last := -1
		for name := range strings.FieldsSeq(c.order) {
			at := stepAt(made, name, "")
			if at <= last {
				t.Errorf("%s: %s stands at %d, behind %d", c.tasks, name, at, last)
			}
			last = max(last, at)
		}
	}
}

// What was closed before is opened anew where a second work is ordered that needs it out, and what is still open is not
// opened twice.
func TestAClosedBoltIsOpenedAnew(t *testing.T) {
	l := whole(t)
	p, _ := l.Pattern("brask-t7")
	damper, leaf := plan.Task{Operation: "shock-eye", Corner: "RL"}, plan.Task{Operation: "leaf-spring", Corner: "RL"}
	made, err := l.Compile(p, Ask{Tasks: []plan.Task{damper}})
	if err != nil {
		t.Fatal(err)
	}
	for upto, anew := range map[string]bool{
		"shock-eye.upper-crack.RL": false, "shock-eye.lower-out.RL": false, "shock-eye.lower-start.RL": true,
	} {
		next, err := l.Compile(p, Ask{Tasks: []plan.Task{damper, leaf}, Done: made.Steps[:stepAt(made, upto, "")+1]})
		if err != nil {
			t.Errorf("ordered behind %s: %v", upto, err)
			continue
		}
		if got := stepAt(next, "leaf-spring.foot-out.RL", "") >= 0; got != anew {
			t.Errorf("ordered behind %s, the damper's foot is opened anew: %v", upto, got)
		}
		if out := stepAt(next, "leaf-spring.ubolt-out.RL", ""); out < stepAt(next, "shock-eye.lower-out.RL", "") {
			t.Errorf("ordered behind %s, the spring is let go on its damper", upto)
		}
	}
}
