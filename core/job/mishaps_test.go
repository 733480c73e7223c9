package job

import (
	"reflect"
	"slices"
	"testing"
	"time"

	"lugtak/core/fact"
	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/record"
	"lugtak/core/vehicle"
)

// What stayed behind or came apart is looked after by a step of its own before the one it stops, in one of several
// ways; a thread spoilt where something goes in likewise, one spoilt on the way out is freed first.
func TestWhatStaysInside(t *testing.T) {
	ways := []operation.Rescue{
		{Trouble: "ring_left", Makes: []string{"fastener"}, Way: "cut", Title: "Ring split", Minutes: 15},
		{Trouble: "ring_left", Makes: []string{"fastener"}, Way: "weld", Title: "Ring shrunk", Minutes: 20,
			Asks: []string{"earth on the part"}},
		{Trouble: "piston_out", Makes: []string{"piston"}, Way: "seals", Title: "New seals", Minutes: 35},
		{Trouble: "thread_damaged", Way: "chase", Title: "Thread of the {one} chased", Minutes: 8},
	}
	b := beginRods(t)
	off := b.s.Plan.Step("rod.out.FL")
	if !slices.Contains(TroublesAt(ways, off), RingLeft) || slices.Contains(TroublesAt(ways, off), PistonOut) {
		t.Errorf("at %s: %v, it makes %v", off.ID, TroublesAt(ways, off), off.MakesFacts())
	}
	b.must(Handle{Step: "rod.crack.FL"})
	b.must(ReportTrouble{Step: "rod.crack.FR", Code: Sheared}) // and nobody says which
	b.must(Replan{Rescues: []operation.Rescue{{Trouble: "sheared", Title: "Extract the {one}", Minutes: 9}},
		Technicians: 1})
	if at(b.s.Plan, "extract.rod.crack.FR") >= 0 {
		t.Error("a fastener nobody named is extracted")
	}
	b.must(ClearTrouble{Trouble: b.s.OpenTroubles()[0].ID, How: "it was another"})
	b.must(KeepStep{Step: "rod.off.FL", Turns: 18})
	b.must(ReportTrouble{Step: "rod.out.FL", Letter: "A", Code: RingLeft}) // of the step, whichever was touched
	b.refused(Handle{Step: "rod.out.FL"}, fault.Trouble, "a ring stayed in")
	b.must(Replan{Rescues: ways, Technicians: 1})
	put := operation.StepID("extract.rod.out.FL")
	if at(b.s.Plan, put) < 0 || at(b.s.Plan, put) > at(b.s.Plan, "rod.out.FL") {
		t.Fatalf("%s is not put in before: %v", put, b.s.Plan.StepIDs())
	}
	if len(b.s.Plan.Parts) != len(rods(t).Parts) {
		t.Errorf("a part is ordered for what is no fastener: %v", b.s.Plan.Parts)
	}
	if got := b.s.WaysOut(ways, b.s.Plan.Step(put)); len(got) != 2 {
		t.Errorf("ways out: %v", got)
	}
	b.refused(ChooseRescue{Step: put, Way: "weld", Rescues: ways}, fault.Missing, "not said: earth on the part")
	b.must(ChooseRescue{Step: put, Way: "weld", Said: []string{"earth on the part"}, Rescues: ways})
	if got := b.s.OpenTroubles()[0].Said; !slices.Equal(got, []string{"earth on the part"}) {
		t.Errorf("said before the weld: %q", got)
	}
	b.must(KeepStep{Step: put})
	if left := b.s.OpenTroubles(); len(left) != 0 {
		t.Errorf("still open: %v", left)
	}

	b.must(ReportTrouble{Step: "rod.out.FL", Letter: "A", Code: ThreadDamaged})
	if b.s.Heals(b.s.OpenTroubles()[0]) {
		t.Error("a thread spoilt on the way out is chased before it is out")
	}
	b.must(ClearTrouble{Trouble: b.s.OpenTroubles()[0].ID, How: "came with the bar"})
	b.must(Handle{Step: "rod.out.FL"})
	b.must(alike("rod.compare.FL", "tie rod"))
	b.must(KeepStep{Step: "rod.compare.FL"})
	b.must(ReportTrouble{Step: "rod.start.FL", Letter: "A", Code: ThreadDamaged})
	b.must(Replan{Rescues: ways, Technicians: 1})
	chased := operation.StepID("extract.steering.FL.locknut.A")
	b.refused(Handle{Step: "rod.start.FL", Renewed: true}, fault.Order, "chased")
	b.must(KeepStep{Step: chased})
	b.must(Handle{Step: "rod.start.FL", Renewed: true})

	again := Replay(readBack(t, b.journal))
	if !reflect.DeepEqual(again.Plan, b.s.Plan) || len(again.OpenTroubles()) != 0 {
		t.Error("read back from its journal it is another")
	}
}

// A piston that came out drew air, whatever was said of it: nobody signs before that wheel was bled since.
func TestBledSinceItsPistonCameOut(t *testing.T) {
	bleeds := func(id operation.StepID, corner vehicle.Corner, subject string) plan.Step {
		return plan.Step{
			Step: operation.Step{ID: id}, Corner: corner, Makes: []fact.Make{{Fact: fact.Fact{Subject: subject}, Value: "none"}},
		}
	}
	for _, c := range []struct {
		about string
		by    operation.StepID
		later time.Duration
		met   bool
	}{
		{"not at all", "", 0, false},
		{"bled since", "bled.FL", time.Hour, true},
		{"flushed since", "flush.FL", time.Hour, true},
		{"bled before it came out", "bled.FL", -time.Hour, false},
		{"bled at the other wheel", "bled.FR", time.Hour, false},
		{"pumped only", "pump", time.Hour, false},
	} {
		p := plan.Plan{Steps: []plan.Step{
			{Step: operation.Step{ID: "pads.FL"}, Corner: "FL"},
			bleeds("bled.FL", "FL", plan.AirFact), bleeds("flush.FL", "FL", plan.LinesFact),
			bleeds("bled.FR", "FR", plan.AirFact), bleeds("pump", "", "pedal"),
		}}
		s := &State{}
		s.Plan, s.Steps = &p, map[operation.StepID]*StepState{}
		s.Troubles = []Trouble{{
			ID: "1", Step: "pads.FL", Code: PistonOut, At: morning, Cleared: &record.TroubleCleared{How: "pushed back in"},
		}}
		for _, x := range p.Steps {
			s.Steps[x.ID] = &StepState{}
		}
		if c.by != "" {
			s.Steps[c.by] = &StepState{Done: true, At: morning.Add(c.later)}
		}
		got := bledAfter(s)
		if len(got) != 1 || got[0].Met != c.met || got[0].Passable {
			t.Errorf("%s: %+v", c.about, got)
		}
	}
}

// What came out before its turn, drilled or cut, leaves what its own step would have waited for before those behind it.
func TestOutBeforeItsTurn(t *testing.T) {
	b := beginRods(t)
	start := b.s.Plan.Step("rod.start.FL")
	start.Needs = []operation.StepID{"rod.out.FL"}
	b.must(ReportTrouble{Step: "rod.crack.FL", Letter: "A", Code: Sheared})
	b.must(Replan{Rescues: []operation.Rescue{{Trouble: "sheared", Title: "Extract the {one}", Minutes: 9}},
		Technicians: 1})
	b.must(KeepStep{Step: "extract.steering.FL.locknut.A"})
	if !b.s.StepDone("rod.out.FL") || b.s.StepDone("rod.off.FL") {
		t.Fatal("the stub is drilled out, the end is still on")
	}
	b.refused(Handle{Step: "rod.start.FL", Renewed: true}, fault.Order, "Before this: “end off, left”")
	b.must(Replan{Technicians: 2})
	if at(b.s.Plan, "rod.off.FL") > at(b.s.Plan, "rod.start.FL") {
		t.Errorf("planned anew the end comes off behind its nut: %v", b.s.Plan.StepIDs())
	}
}

// Two that broke do not wait for each other, where each comes out only behind what the other one held; and no way out
// that asks something is taken by itself.
func TestTwoThatBroke(t *testing.T) {
	b := beginRods(t)
	for end, other := range map[operation.StepID]operation.StepID{"FL": "FR", "FR": "FL"} {
		out := b.s.Plan.Step("rod.out." + end)
		out.Needs = append(out.Needs, "rod.crack."+other)
	}
	b.must(ReportTrouble{Step: "rod.crack.FL", Letter: "A", Code: Sheared})
	b.must(ReportTrouble{Step: "rod.crack.FR", Letter: "A", Code: Sheared})
	b.must(Replan{Technicians: 1, Rescues: []operation.Rescue{
		{Trouble: "sheared", Way: "weld", Title: "Nut welded on", Minutes: 1, Asks: []string{"earth on the part"}},
		{Trouble: "sheared", Way: "extractor", Title: "Extract the {one}", Minutes: 9},
	}})
	for _, end := range []operation.StepID{"FL", "FR"} {
		id := "extract.steering." + end + ".locknut.A"
		if x := b.s.Plan.Step(id); x == nil || x.Title != "Extract the lock nut "+string(end)+" A" {
			t.Fatalf("%s: %+v", id, x)
		}
		b.must(KeepStep{Step: id})
	}
}

// Drilled out is out: what had to be so before the fastener comes out is so before its stub does, but for what waits
// for the step it broke at.
func TestExtractedWhenItMayComeOut(t *testing.T) {
	rescues := []operation.Rescue{{Trouble: "sheared", Title: "Extract the {one}", Minutes: 9}}
	for _, c := range []struct {
		out, crack []operation.StepID // what the end's own step needs beside
		want       []operation.StepID
	}{
		{nil, nil, nil},
		{[]operation.StepID{"rod.sweep"}, nil, []operation.StepID{"rod.sweep"}},
		{nil, []operation.StepID{"rod.sweep"}, []operation.StepID{"rod.sweep"}},
		{[]operation.StepID{"rod.off.FR"}, nil, []operation.StepID{"rod.off.FR"}},
	} {
		b := beginRods(t)
		out, crack := b.s.Plan.Step("rod.out.FL"), b.s.Plan.Step("rod.crack.FL")
		out.Needs = append(slices.Clone(out.Needs), c.out...) // it needs the end off, which waits for the crack
		crack.Needs = c.crack
		b.must(ReportTrouble{Step: "rod.crack.FL", Letter: "A", Code: Sheared})
		b.must(Replan{Rescues: rescues, Technicians: 1})
		x := b.s.Plan.Step("extract.steering.FL.locknut.A")
		if !slices.Equal(x.Needs, c.want) {
			t.Errorf("%v: it waits for %v", c, x.Needs)
		}
		if len(c.want) > 0 && at(b.s.Plan, c.want[0]) > at(b.s.Plan, x.ID) {
			t.Errorf("%v: %v", c, b.s.Plan.StepIDs())
		}
	}
}
