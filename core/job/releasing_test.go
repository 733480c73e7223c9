package job

import (
	"reflect"
	"slices"
	"strings"
	"testing"
	"time"

	"lugtak/core/fact"
	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/release"
	"lugtak/core/vehicle"
)

// ladder is what the tests know of seizures.
var ladder = release.Knowledge{
	Things: []release.Thing{{Name: "boot"}},
	Rungs: []release.Rung{
		{Key: "penetrant", Name: "penetrant", Minutes: 1, Waits: 15, Eases: 0.3},
		{Key: "shock", Name: "shock", Minutes: 2},
		{Key: "fork", Name: "wedge fork", Minutes: 2, Never: []release.Never{{Keep: "boot", Because: "it tears the boot"}}},
	},
	Kinds: []release.Kind{{
		Name: "rusted thread",
		Held: release.ByGrade{0.4, 0.3, 0.2, 0.1},
		Rungs: []release.Try{
			{Rung: "penetrant", Frees: release.ByGrade{0.2, 0.1}},
			{Rung: "shock", Frees: release.ByGrade{0.6, 0.3, 0.1}, Harms: release.ByGrade{0, 0, 0.01, 0.02}},
			{Rung: "fork", Frees: release.ByGrade{0.9, 0.8, 0.6, 0.3}},
		},
	}},
}

func try(b *bench, rung, outcome string) TryRelease {
	return TryRelease{
		Know:    &ladder,
		Trouble: b.s.OpenTroubles()[0].ID,
		Seizure: "rusted thread",
		Rung:    rung,
		Outcome: outcome,
	}
}

// stuckB begins a job in which knuckle bolt B does not come out.
func stuckB(t *testing.T) *bench {
	b := begin(t)
	b.must(ReportTrouble{Step: "boltout", Letter: "B", Code: Stuck})
	return b
}

// A try in vain stays on record with the odds it had, lowers the next ones, and a soak
// has its clock; the one that frees it ends the trouble.
func TestTriesUntilFree(t *testing.T) {
	b := stuckB(t)
	b.must(try(b, "penetrant", Held))
	b.must(try(b, "shock", Held))
	trouble := b.s.OpenTroubles()[0]
	if len(trouble.Tries) != 2 || trouble.Tries[0].By == "" || trouble.Tries[0].Odds != 0.11 {
		t.Fatalf("tries %+v", trouble.Tries)
	}
	if c := trouble.Case("rusted thread", nil, nil, nil); len(c.Tried) != 2 {
		t.Errorf("tried %v", c.Tried)
	}
	soak := b.s.Soaks[len(b.s.Soaks)-1]
	if soak.Title != "penetrant on knuckle bolt B" || soak.End.Sub(soak.Start) != 15*time.Minute {
		t.Errorf("soak %+v", soak)
	}
	b.must(try(b, "shock", Freed))
	if f := b.s.Fastener("hub.FL.knuckle", "B"); f.Trouble != "" || f.Phase != Loose {
		t.Errorf("freed, and %+v", f)
	}
	if got := b.s.Troubles[0]; got.Cleared == nil || got.Cleared.How != "freed by shock" || len(got.Tries) != 3 {
		t.Errorf("the trouble stays %+v", got)
	}
	again := try(stuckB(t), "shock", Freed)
	again.Trouble = trouble.ID
	b.refused(again, fault.Missing, "Nothing is stuck there")
}

func TestTryRefusals(t *testing.T) {
	b := stuckB(t)
	kept := try(b, "fork", Held)
	kept.Keep = []string{"boot"}
	b.refused(kept, fault.BadChoice, "it tears the boot")
	b.refused(try(b, "prayer", Held), fault.Missing, "not said what was tried")
	b.refused(try(b, "shock", "perhaps"), fault.BadChoice, "what came of it")
	b.refused(try(b, "shock", Broke), fault.BadChoice, "not said what broke")
	grew := try(b, "shock", Held)
	grew.Became = Sheared
	b.refused(grew, fault.BadChoice, "Nothing broke")
	odd := try(b, "shock", Held)
	odd.Seizure = "bewitched"
	b.refused(odd, fault.BadKind, "not known")
	b.must(ReportTrouble{Step: "soak", Code: PartMissing})
	missing := try(b, "shock", Freed)
	missing.Trouble = b.s.OpenTroubles()[1].ID
	b.refused(missing, fault.Missing, "Nothing is stuck there")
}

// What breaks at a try becomes the worse trouble, without being cleared between.
func TestBreakingAtATry(t *testing.T) {
	b := stuckB(t)
	broke := try(b, "shock", Broke)
	broke.Became = Sheared
	b.must(broke)
	open := b.s.OpenTroubles()
	if len(open) != 1 || open[0].Code != Sheared || open[0].Letter != "B" || open[0].Note != "at the try with shock" {
		t.Fatalf("open %+v", open)
	}
	if was := b.s.Troubles[0]; was.Became != open[0].ID || was.Cleared != nil {
		t.Errorf("it was %+v", was)
	}
	if f := b.s.Fastener("hub.FL.knuckle", "B"); f.Trouble != open[0].ID {
		t.Errorf("the fastener's trouble is %s", f.Trouble)
	}
	b.must(Replan{Rescues: rescues, Technicians: 1})
	b.must(KeepStep{Step: "extract.hub.FL.knuckle.B"})
	if len(b.s.OpenTroubles()) != 0 || b.s.Fastener("hub.FL.knuckle", "B").Trouble != "" {
		t.Errorf("extracted, and still open: %+v", b.s.OpenTroubles())
	}
	for _, g := range b.s.Gates() {
		if strings.HasPrefix(g.Key, "trouble:") && !g.Met {
			t.Errorf("what grew into a worse trouble still stands before the signature: %s", g.Title)
		}
	}
}

// Stuck, then rounded, then sheared: each may be said over the one before, never the
// other way round.
func TestTroubleGrowsWorse(t *testing.T) {
	b := stuckB(t)
	for _, c := range []struct {
		code TroubleCode
		ok   bool
	}{
		{Stuck, false}, {Rounded, true}, {Stuck, false}, {Rounded, false}, {PartMissing, false}, {Sheared, true},
		{ThreadDamaged, false},
	} {
		say := ReportTrouble{Step: "boltout", Letter: "B", Code: c.code}
		if !c.ok {
			b.refused(say, fault.Trouble, "trouble at this one already")
			continue
		}
		b.must(say)
		if open := b.s.OpenTroubles(); len(open) != 1 || open[0].Code != c.code {
			t.Errorf("after %s open are %+v", c.code, open)
		}
	}
}

// The whole job stands still until it is cleared, whatever step one takes up.
func TestWholeJobStops(t *testing.T) {
	b := begin(t)
	b.refused(ReportTrouble{Step: "crack", Code: WholeJob}, fault.Missing, "not said why")
	b.must(ReportTrouble{Step: "crack", Letter: "2", Code: WholeJob, Note: "the lift leaks"})
	if f := b.s.Fastener("hub.FL.wheel", "2"); f.Trouble != "" {
		t.Error("one fastener stands in trouble for the whole job")
	}
	for _, step := range b.s.Plan.Steps {
		if err := b.s.Ready(b.s.Plan.Step(step.ID)); err == nil {
			t.Errorf("%s goes on", step.ID)
		}
	}
	b.refused(Handle{Step: "crack", Letters: []string{"1"}}, fault.Trouble, "the lift leaks")
	b.must(ClearTrouble{Trouble: b.s.OpenTroubles()[0].ID, How: "moved to bay 2"})
	b.must(Handle{Step: "crack", Letters: []string{"1"}})
}

// What was paid goes with the bolt that broke, however its trouble ends; what was only
// rounded and turned stays as tight as it was said to be.
func TestABrokenOneKeepsNoTorque(t *testing.T) {
	for _, c := range []struct {
		name  string
		code  TroubleCode
		clear func(b *bench, trouble string)
		owed  bool
	}{
		{"sheared, cleared by hand", Sheared, clearedBy("a new one"), true},
		{"stripped, a new thread cut", ThreadDamaged, clearedBy("thread insert"), true},
		{"rounded, a new one put in", Rounded, func(b *bench, id string) {
			b.must(ClearTrouble{Trouble: id, How: "cut off", Renewed: true})
		}, true},
		{"freed on the ladder", Stuck, func(b *bench, _ string) { b.must(try(b, "shock", Freed)) }, true},
		{"extracted by its step", Sheared, func(b *bench, _ string) {
			b.must(Replan{Rescues: rescues, Technicians: 1})
			b.must(KeepStep{Step: "extract.hub.FL.knuckle.B"})
		}, true},
		{"rounded, tight as it is", Rounded, clearedBy("socket hammered on, it stays"), false},
	} {
		t.Run(c.name, func(t *testing.T) {
			b := begin(t)
			b.step("boltout", "boltin")
			for _, round := range []operation.StepID{"bolt1", "bolt2"} {
				for range 3 {
					b.tighten(round, 0)
				}
			}
			bolt := func() *Fastener { return b.s.Fastener("hub.FL.knuckle", "B") }
			if bolt().Owed() {
				t.Fatalf("two rounds, and %+v", bolt())
			}
			b.must(ReportTrouble{Step: "bolt2", Letter: "B", Code: c.code})
			c.clear(b, b.s.OpenTroubles()[0].ID)
			if got := bolt(); got.Owed() != c.owed || got.Trouble != "" {
				t.Errorf("owed %v, want %v: %+v", got.Owed(), c.owed, got)
			}
		})
	}
}

func clearedBy(how string) func(*bench, string) {
	return func(b *bench, id string) { b.must(ClearTrouble{Trouble: id, How: how}) }
}

// What the plan knows of a seizure: a fastener by its joint, a part by what its step makes.
func TestMet(t *testing.T) {
	b := stuckB(t)
	s := b.own()
	s.Plan.Joint("hub.FL.knuckle").Treatment = "oiled"
	s.Plan.Step("soak").Makes = []fact.Make{{Fact: fact.Fact{Subject: "parted:hub"}}}
	b.must(ReportTrouble{Step: "boltout", Letter: "C", Code: Rounded})
	b.must(ReportTrouble{Step: "soak", Code: Stuck})
	for i, want := range []release.Met{
		{Of: release.OfFastener, Trouble: "stuck", System: "hub", Treatment: "oiled"},
		{Of: release.OfFastener, Trouble: "rounded", System: "hub", Treatment: "oiled"},
		{Of: release.OfPart, Trouble: "stuck", Makes: []string{"parted:hub"}},
	} {
		got := b.s.Met(&b.s.Troubles[i])
		if !reflect.DeepEqual(got, want) {
			t.Errorf("%d: %+v, want %+v", i, got, want)
		}
	}
}

// Before heat, a blow or a cut it is said what is kept, once for a trouble; what broke is told whatever was asked.
func TestWhatIsKeptIsSaid(t *testing.T) {
	know := ladder
	know.Rungs = slices.Clone(ladder.Rungs)
	for i := range know.Rungs {
		if know.Rungs[i].Key == "shock" {
			know.Rungs[i].Never = []release.Never{{Keep: "bearing", Because: "its races are marked"}}
		}
	}
	know.Things = append(slices.Clone(ladder.Things), release.Thing{Name: "bearing"})
	tries := func(b *bench, rung, outcome string, kept bool) TryRelease {
		x := try(b, rung, outcome)
		x.Know, x.Kept = &know, kept
		return x
	}
	b := stuckB(t)
	b.refused(tries(b, "shock", Freed, false), fault.Missing, "bearing")
	b.refused(tries(b, "shock", Held, false), fault.Missing, "what of this is kept")
	b.must(tries(b, "penetrant", Held, false)) // it hurts nothing that is kept
	b.must(tries(b, "shock", Held, true))
	b.must(tries(b, "shock", Freed, false)) // it was said at the try before

	b = stuckB(t)
	broke := tries(b, "shock", Broke, false)
	broke.Became = Sheared
	b.must(broke)
}

// What soaked is wet where it soaked: at its wheel, or under the middle of the vehicle.
func TestWhatIsWetIsNear(t *testing.T) {
	for _, c := range []struct {
		corner vehicle.Corner
		soaked string
		wet    bool
	}{
		{"FL", "FL", true}, {"FL", "FR", false}, {"", "under", true}, {"", "RL", false}, {"RL", "under", false},
	} {
		s := &State{}
		s.Plan = &plan.Plan{Steps: []plan.Step{{Step: operation.Step{ID: "crack"}, Corner: c.corner}}}
		s.Facts = fact.State{{Subject: "penetrant", Place: c.soaked}: "soaked"}
		if got := slices.Contains(s.Met(&Trouble{Step: "crack"}).Facts, "penetrant soaked"); got != c.wet {
			t.Errorf("at %q, soaked at %q: wet %v", c.corner, c.soaked, got)
		}
	}
}
