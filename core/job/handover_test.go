package job

import (
	"reflect"
	"testing"

	"lugtak/core/fault"
	"lugtak/core/record"
)

// What is in another's hand comes last for whoever gave it, and first for whoever has it.
func TestHandOver(t *testing.T) {
	b := beginRods(t)
	me := b.meta().By
	first := b.s.Plan.Step(b.s.NextFor(me))
	b.refused(HandOver{record.HandedOver{Corner: "RR", To: "Technician Bel"}}, fault.BadChoice, "No step of the plan")
	b.refused(HandOver{record.HandedOver{Corner: "FL", To: " "}}, fault.Missing, "who takes it over")
	corner := b.s.Plan.Corners()[0]
	b.must(HandOver{record.HandedOver{Corner: string(corner), To: "Technician Bel", Note: "mind the boot"}})
	mine, bels := b.s.Plan.Step(b.s.NextFor(me)), b.s.Plan.Step(b.s.NextFor("Technician Bel"))
	if mine.Corner == corner || bels.ID != first.ID && bels.Corner != corner && bels.Corner != "" {
		t.Errorf("%s was handed over: I have %s, Bel %s", corner, mine.ID, bels.ID)
	}
	if h := b.s.HandedAt(mine); h != nil {
		t.Errorf("%s is in %s's hand too", mine.ID, h.To)
	}
	// Only what is Bel's is left: it is done by whoever is there.
	for i := range b.s.Plan.Steps {
		if b.s.Plan.Steps[i].Corner == corner && b.s.HandedAt(&b.s.Plan.Steps[i]).Note != "mind the boot" {
			t.Errorf("%s is not told of", b.s.Plan.Steps[i].ID)
		}
	}
	b.must(HandOver{record.HandedOver{To: "Technician Dov"}}) // the whole job, with what Bel had
	if len(b.s.Handed) != 1 || b.s.NextFor(me) != first.ID {
		t.Errorf("%+v, and next is %s", b.s.Handed, b.s.NextFor(me))
	}
	if again := Replay(readBack(t, b.journal)); !reflect.DeepEqual(again.Handed, b.s.Handed) {
		t.Errorf("read back as %+v", again.Handed)
	}
}
