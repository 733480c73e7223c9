package practice_test

import (
	"slices"
	"strings"
	"sync"
	"testing"

	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/practice"
	"lugtak/core/pull"
	"lugtak/demo/files"
	"lugtak/library"
)

func begin(t *testing.T, l *library.Library, id string, seed uint64) *practice.Run {
	t.Helper()
	x, ok := l.Exercise(id)
	if !ok {
		t.Fatalf("there is no exercise %s", id)
	}
	return practice.Begin(x, planned(t, l, x), l.PracticeRules(x), seed)
}

var plans sync.Map

// planned is the plan of an exercise, compiled once.
func planned(t *testing.T, l *library.Library, x *practice.Exercise) plan.Plan {
	t.Helper()
	if p, ok := plans.Load(x.ID); ok {
		return p.(plan.Plan)
	}
	p, err := l.PracticePlan(x)
	if err != nil {
		t.Fatal(err)
	}
	plans.Store(x.ID, p)
	return p
}

func load(t *testing.T) *library.Library {
	t.Helper()
	l, err := library.Load("", files.FS)
	if err != nil || len(l.Faults) > 0 {
		t.Fatalf("%v %v", err, l.Faults)
	}
	return l
}

func do(t *testing.T, r *practice.Run, a practice.Act) {
	t.Helper()
	if err := r.Do(a); err != nil {
		t.Fatalf("%s %+v: %v", r.ID, a, err)
	}
}

var good = &practice.Reading{PeakNm: 100, Verdict: pull.Keep, Signature: pull.Good, Says: "Good."}

// careful does a step as a good technician would: looks first, refuses what is wrong, stays
// under what the bolt bears, climbs the ladder, renews what is bad.
func careful(t *testing.T, r *practice.Run, s *plan.Step) {
	t.Helper()
	switch r.Asks(s) {
	case practice.Judge:
		do(t, r, practice.Act{Do: practice.Look, Step: s.ID})
		choice := practice.Accept
		if !strings.Contains(r.Said, "no difference") {
			choice = practice.RefuseIt
		}
		do(t, r, practice.Act{Do: practice.Judge, Step: s.ID, Choice: choice})
	case practice.Bar:
		if let := 0.9 * r.Yields(s); let > 0 {
			do(t, r, practice.Act{Do: practice.Bar, Step: s.ID, Let: let})
		}
		if r.Asks(s) == practice.Bar {
			l, err := r.Ladder(s)
			if err != nil {
				t.Fatal(err)
			}
			do(t, r, practice.Act{Do: practice.Free, Step: s.ID, Choice: l.Rungs[0].Key})
		}
	case practice.Pull:
		do(t, r, practice.Act{Do: practice.Look, Step: s.ID})
		for r.Asks(s) == practice.Pull {
			letter, _ := r.Turn(s)
			read := *good
			if r.Plays[practice.At(s.Joint, letter)] != "" {
				read = practice.Reading{PeakNm: 40, Verdict: pull.Reject, Signature: pull.Stripped, Says: "It strips."}
			}
			do(t, r, practice.Act{Do: practice.Pull, Step: s.ID, Letter: letter, Reading: &read})
			if r.Bad != nil {
				do(t, r, practice.Act{Do: practice.After, Step: s.ID, Choice: practice.RenewIt})
			}
		}
	default:
		do(t, r, practice.Act{Do: practice.DoStep, Step: s.ID})
	}
}

// A careful hand in the plan's order meets everything in every exercise, whatever is hidden;
// only the ladder's own risk may break a bolt.
func TestACarefulHandMissesNothing(t *testing.T) {
	l := load(t)
	if len(l.Exercises) != 9 {
		t.Fatalf("%d exercises", len(l.Exercises))
	}
	for i := range l.Exercises {
		x := &l.Exercises[i]
		for seed := range uint64(12) {
			r := begin(t, l, x.ID, seed)
			if x.Find != nil {
				find(t, r)
			}
			for n := 0; r.Next() != nil && x.Find == nil; n++ {
				if n > 300 {
					t.Fatalf("%s %d: no end at %s: %s", x.ID, seed, r.Next().ID, r.Said)
				}
				if !slices.Contains(r.Offer(), r.Next()) {
					t.Fatalf("%s: what comes next is not laid out", x.ID)
				}
				careful(t, r, r.Next())
			}
			if x.Find == nil {
				do(t, r, practice.Act{Do: practice.Leave})
			}
			s := r.Score()
			sheared := slices.Contains(ids(s.Misses), "sheared")
			if s.Late > 0 && !sheared {
				t.Errorf("%s %d: %.0f minutes of a good %.0f", x.ID, seed, r.Minutes, x.GoodMin)
			}
			for _, m := range s.Misses {
				if m.ID != "sheared" {
					t.Errorf("%s %d: missed %s: %s", x.ID, seed, m.Title, m.Where)
				}
			}
			if s.Of < 2 && x.Find == nil || s.Blocked > 0 {
				t.Errorf("%s %d: %d of %d met, %d would not come", x.ID, seed, s.Met, s.Of, s.Blocked)
			}
		}
	}
}

// find tries what settles most until one suspect stands out.
func find(t *testing.T, r *practice.Run) {
	t.Helper()
	for range 30 {
		w, err := r.Weigh()
		if err != nil {
			t.Fatal(err)
		}
		if len(w.Next) == 0 || w.Suspects[0].Share > 0.8 {
			do(t, r, practice.Act{Do: practice.Name, Choice: w.Suspects[0].Key})
			return
		}
		do(t, r, practice.Act{Do: practice.Test, Choice: w.Next[0].Key})
	}
	t.Fatalf("%s: nothing found in thirty tests", r.ID)
}

// skip does all but a few kinds of steps, in the plan's order, then lets it leave.
func skip(t *testing.T, r *practice.Run, kinds ...string) {
	t.Helper()
	for range 300 {
		var s *plan.Step
		for _, o := range r.Plan.Steps {
			if in := r.Plan.Step(o.ID); !r.Done(o.ID) && !slices.Contains(kinds, o.Kind()) && practised(r, o.ID) {
				s = in
				break
			}
		}
		if s == nil {
			break
		}
		careful(t, r, s)
	}
	do(t, r, practice.Act{Do: practice.Leave})
}

// practised says that a step is part of the exercise.
func practised(r *practice.Run, id operation.StepID) bool {
	at := func(id operation.StepID) int {
		return slices.IndexFunc(r.Plan.Steps, func(s plan.Step) bool { return s.ID == id })
	}
	return (r.From == "" || at(id) >= at(r.From)) && (r.Until == "" || at(id) <= at(r.Until))
}

// What a careless hand does is what the trade says it costs.
func TestWhatIsLeftOutIsPaidFor(t *testing.T) {
	l := load(t)
	for _, c := range []struct {
		exercise string
		without  []string
		want     string
		harm     practice.Harm
	}{
		{
			"control-arm", []string{"ride-ramps.up", "ride-ramps.off", "shield.up", "shield.start", "shield.tight"},
			"bush-hanging", practice.Vehicle,
		},
		{"control-arm", []string{"count.count"}, "tool-left", practice.Vehicle},
		{"control-arm", []string{"align.ask"}, "wheel-askew", practice.Vehicle},
		{"control-arm", []string{"wells.look"}, "left-in-a-well", practice.Vehicle},
		{"hose", []string{"line.tight"}, "open-line-pumped", practice.People},
		{"hose", []string{"pedal-prop.unprop"}, "prop-left-in", practice.People},
		{"hose", []string{"held-hard.hold", "held-hard.dry"}, "weeps-behind-the-wheel", practice.People},
		{"pads", []string{"pedal.pump"}, "pedal-to-the-floor", practice.People},
		{"pads", []string{"reservoir.top-up"}, "reservoir-low", practice.People},
		{"wheel", []string{"wheel.again"}, "not-again", practice.People},
		{"knuckle", []string{"axle-nut.tight"}, "bearing-rough", practice.Vehicle},
		{"wheel", []string{"wheel.tight"}, "left-loose", practice.People},
		{"tie-rod", []string{"drive.drive", "wheel.again", "drive.look"}, "not-driven", practice.Vehicle},
	} {
		r := begin(t, l, c.exercise, 3)
		skip(t, r, c.without...)
		i := slices.IndexFunc(r.Misses, func(m practice.Miss) bool { return m.ID == c.want })
		if i < 0 || r.Misses[i].Harm != c.harm {
			t.Errorf("%s without %v: want %s, got %v, last said %q", c.exercise, c.without, c.want, ids(r.Misses), r.Said)
		}
		judged(t, r)
	}
}

// judged holds what a run came to against its misses, counted here: each once, minutes alone are no fault of the car,
// and a skill is met where nothing of it was missed.
func judged(t *testing.T, r *practice.Run) {
	t.Helper()
	s, harm, missed := r.Score(), map[string]practice.Harm{}, map[string]bool{}
	for _, m := range r.Misses {
		harm[m.ID] = m.Harm
		missed[m.Skill] = true
	}
	faults := 0
	for _, h := range harm {
		if h != practice.Time {
			faults++
		}
	}
	if s.Faults != faults || len(s.Misses) != len(harm) || s.Of-s.Met != len(harm) || len(s.Held) != s.Met {
		t.Errorf("%s: %d faults, want %d; %d of %d met, %d held, missed %v", r.ID, s.Faults, faults, s.Met, s.Of, len(s.Held),
			harm)
	}
	for skill, met := range s.Skills {
		if met == missed[skill] {
			t.Errorf("%s: %s met %v, missed %v", r.ID, skill, met, missed[skill])
		}
	}
}

// Nothing could have gone wrong where nothing was done, and nobody is praised for it.
func TestNothingDoneIsNothingMet(t *testing.T) {
	l := load(t)
	for i := range l.Exercises {
		r := begin(t, l, l.Exercises[i].ID, 1)
		if s := r.Score(); s.Met > 1 || s.Faults > 0 { // a job that is looked for is not left open yet
			t.Errorf("%s: %d of %d met before the first act: %+v", r.ID, s.Met, s.Of, s.Held)
		}
	}
}

func ids(all []practice.Miss) []string {
	var out []string
	for _, m := range all {
		out = append(out, m.ID)
	}
	return out
}

// A bleeder left shut, a bar that is too strong, a part taken unseen, a figure believed.
func TestWhatIsDoneWrongIsPaidFor(t *testing.T) {
	l := load(t)

	r := begin(t, l, "pads", 1)
	do(t, r, practice.Act{Do: practice.DoStep, Step: "pads-rotors.piston.FL"})
	if !slices.Contains(ids(r.Misses), "old-fluid-back") {
		t.Errorf("piston against a closed bleeder: %v, %q", ids(r.Misses), r.Said)
	}

	crack := operation.StepID("front-hub-unit.knuckle-crack.FL")
	upTo := func(without operation.StepID) *practice.Run {
		r := begin(t, l, "knuckle", 2)
		for _, s := range r.Plan.Steps {
			if s.ID == crack {
				break
			}
			if s.ID != without && !r.Done(s.ID) {
				careful(t, r, r.Plan.Step(s.ID))
			}
		}
		return r
	}
	r = upTo("penetrant.wait.FL") // dry, it holds more than an M12 of class 10.9 bears
	do(t, r, practice.Act{Do: practice.Bar, Step: crack, Let: 250})
	if got := ids(r.Misses); !slices.Equal(got, []string{"dry-thread", "sheared"}) {
		t.Errorf("a bar of 250 N·m on a dry thread: %v, %q", got, r.Said)
	}
	r = upTo("")
	do(t, r, practice.Act{Do: practice.Bar, Step: crack, Let: 110})
	if len(r.Misses) > 0 || !strings.Contains(r.Said, "came at 105 N·m") {
		t.Errorf("a bar of 110 N·m after the soak: %v, %q", ids(r.Misses), r.Said)
	}

	r = begin(t, l, "control-arm", 0)
	for seed := uint64(1); !r.Wrong["control-arm.FL"]; seed++ {
		r = begin(t, l, "control-arm", seed)
	}
	do(t, r, practice.Act{Do: practice.Judge, Step: "control-arm.compare.FL", Choice: practice.Accept})
	if got := ids(r.Misses); !slices.Equal(got, []string{"wrong-part"}) {
		t.Errorf("a right-hand arm taken on the left: %v", got)
	}

	r = begin(t, l, "figure", 0)
	for seed := uint64(1); r.Shown["suspension.FL.strutbolt"] == ""; seed++ {
		r = begin(t, l, "figure", seed)
	}
	s := r.Plan.Step("strut-foot.tight.FL")
	for r.Asks(s) == practice.Pull {
		letter, _ := r.Turn(s)
		do(t, r, practice.Act{Do: practice.Pull, Step: s.ID, Letter: letter, Reading: good})
	}
	if got := ids(r.Misses); !slices.Contains(got, "wrong-figure") {
		t.Errorf("a figure that was copied wrong is believed: %v", got)
	}
}

// What hands cannot do is said, costs a minute and is no fault.
func TestWhatHandsCannotDo(t *testing.T) {
	l := load(t)
	r := begin(t, l, "pads", 1)
	do(t, r, practice.Act{Do: practice.DoStep, Step: "wheel.start.FL"})
	do(t, r, practice.Act{Do: practice.DoStep, Step: "pads-rotors.slide-start.FL"})
	if r.Done("pads-rotors.slide-start.FL") || r.Blocked == 0 || !strings.HasPrefix(r.Said, "It will not come") {
		t.Errorf("a caliper goes on without its pads: %q", r.Said)
	}
	if err := r.Do(practice.Act{Do: practice.DoStep, Step: "chocks.chock"}); err == nil {
		t.Error("what was done before the exercise is done again")
	}
}

// A run is its exercise, its seed and its acts.
func TestReplay(t *testing.T) {
	l := load(t)
	r := begin(t, l, "knuckle", 7)
	for range 6 {
		careful(t, r, r.Next())
	}
	again := practice.Replay(r.Exercise, r.Plan, l.PracticeRules(r.Exercise), 7, r.Acts)
	if again.Minutes != r.Minutes || again.Said != r.Said || len(again.Misses) != len(r.Misses) ||
		again.Next().ID != r.Next().ID {
		t.Errorf("%v %q, again %v %q", r.Minutes, r.Said, again.Minutes, again.Said)
	}
	other := begin(t, l, "wheel", 1)
	same := 0
	for seed := range uint64(20) {
		if len(begin(t, l, "wheel", seed).Plays) == len(other.Plays) {
			same++
		}
	}
	if same == 20 {
		t.Error("the seed hides the same each time")
	}
}

// Each level has its danger shown: what hurts people is told whatever the level.
func TestDangerIsToldBeforeItIsDone(t *testing.T) {
	l := load(t)
	r := begin(t, l, "pads", 1)
	s := r.Plan.Step("ground.lower")
	if got := r.Dangers(s); len(got) == 0 {
		t.Error("it is lowered with its wheels off, and nothing is said")
	}
}
