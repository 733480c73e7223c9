package job

import (
	"reflect"
	"slices"
	"testing"

	"lugtak/core/fault"
	"lugtak/core/operation"
)

// What stayed behind or came apart is looked after by a step of its own before the one it stops, in one of several
// ways; a thread spoilt where something goes in likewise, one spoilt on the way out is freed first.
func TestWhatStaysInside(t *testing.T) {
	ways := []operation.Rescue{
		{Trouble: "ring_left", Makes: []string{"fastener"}, Way: "cut", Title: "Ring split", Minutes: 15},
		{Trouble: "ring_left", Makes: []string{"fastener"}, Way: "weld", Title: "Ring shrunk", Minutes: 20},
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
	b.must(Replan{Rescues: []operation.Rescue{{Trouble: "sheared", Title: "Extract the {one}", Minutes: 9}}, Technicians: 1})
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
	b.must(ChooseRescue{Step: put, Way: "weld", Rescues: ways})
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
