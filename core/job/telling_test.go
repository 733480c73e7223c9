package job

import (
	"reflect"
	"strings"
	"testing"

	"lugtak/core/fault"
	"lugtak/core/record"
)

// What the owner was told stands as it was said; a no says what the owner wants instead.
func TestTellOwner(t *testing.T) {
	b := beginRods(t)
	told := record.OwnerTold{
		LowMin:    120,
		LikelyMin: 150,
		HighMin:   240,
		PriceLow:  300,
		PriceHigh: 460,
		Currency:  "crowns",
	}
	with := func(change func(*record.OwnerTold)) TellOwner {
		o := told
		change(&o)
		return TellOwner{o}
	}
	b.refused(with(func(*record.OwnerTold) {}), fault.Missing, "did not agree")
	b.refused(with(func(o *record.OwnerTold) { o.Said = "  " }), fault.Missing, "did not agree")
	b.refused(with(func(o *record.OwnerTold) { o.Agreed = true; o.LikelyMin = 100 }), fault.BadChoice, "low to high")
	b.refused(with(func(o *record.OwnerTold) { o.Agreed = true; o.HighMin = 149 }), fault.BadChoice, "low to high")
	b.refused(with(func(o *record.OwnerTold) { o.Agreed = true; o.PriceHigh = 299 }), fault.BadChoice, "low to high")
	b.refused(with(func(o *record.OwnerTold) { o.Said = strings.Repeat("x", maxSaid+1) }), fault.TooLong, "more than fits")
	b.must(with(func(o *record.OwnerTold) { o.Agreed = true }))
	b.must(with(func(o *record.OwnerTold) { o.Said = " not the links " }))
	all := b.s.Told
	if len(all) != 2 || !all[0].Agreed || all[1].Agreed || all[1].Said != "not the links" || all[1].HighMin != 240 ||
		all[1].By == "" || all[1].At.IsZero() {
		t.Errorf("%+v", all)
	}
	if again := Replay(readBack(t, b.journal)); !reflect.DeepEqual(again.Told, all) {
		t.Errorf("read back as %+v", again.Told)
	}
	b.s = Replay(nil)
	b.refused(with(func(o *record.OwnerTold) { o.Agreed = true }), fault.Missing, "no such job")
}

// There are several ways out of a sheared bolt; another one may be taken until it is out.
func TestChooseAnotherWayOut(t *testing.T) {
	b := stuckB(t)
	broke := try(b, "shock", Broke)
	broke.Became = Sheared
	b.must(broke)
	b.must(Replan{Rescues: rescues, Technicians: 1})
	const id = "extract.hub.FL.knuckle.B"
	insert := ChooseRescue{Step: id, Way: "insert", Rescues: rescues}
	if ways := b.s.WaysOut(rescues, b.s.Plan.Step(id)); len(ways) != 2 || ways[0].Way != "extractor" {
		t.Fatalf("%+v", ways)
	}
	if ways := b.s.WaysOut(rescues, &b.s.Plan.Steps[0]); ways != nil {
		t.Errorf("a step that frees nothing has ways out: %+v", ways)
	}
	b.refused(ChooseRescue{Step: id, Way: "none", Rescues: rescues}, fault.BadChoice, "no such way")
	b.refused(ChooseRescue{Step: b.s.Plan.Steps[0].ID, Way: "insert", Rescues: rescues}, fault.BadChoice,
		"nothing left to free")
	before := *b.s.Plan.Step(id)
	b.must(insert)
	is := *b.s.Plan.Step(id)
	if is.Title != "Stub of the knuckle bolt B drilled out" || is.Minutes != 45 || is.Tool != "drill" ||
		!reflect.DeepEqual(is.Needs, before.Needs) || is.Frees != before.Frees || is.Position != before.Position {
		t.Errorf("%+v", is)
	}
	if again := Replay(readBack(t, b.journal)); !reflect.DeepEqual(again.Plan, b.s.Plan) {
		t.Error("read back from its journal the plan is another")
	}
	b.must(KeepStep{Step: id})
	b.refused(insert, fault.BadChoice, "nothing left to free")
}
