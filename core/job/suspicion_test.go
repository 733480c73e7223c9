package job

import (
	"strings"
	"testing"

	"lugtak/core/fault"
	"lugtak/core/plan"
	"lugtak/core/record"
)

// What was said of a suspect is held against the drive only where the drive can be read one way.
func TestSuspicionIsHeldAgainstTheDrive(t *testing.T) {
	felt := func(before string) RoadTest {
		r := felt2("sound", "sound")
		if before != "" {
			r.Felt = append(r.Felt, record.Felt{Do: "As it was felt before: Does it hum?", Found: before, Note: "as told"})
		}
		return r
	}
	hum := Answer{Sign: "hum", Ask: "Does it hum?", Yes: true, Position: OnTheRoad}
	hub := TakeProposal{Suspect: "hub bearing", Name: "hub bearing", Accept: true, Chance: 0.8, Work: []string{"hub"}}
	untold, tyre, other, left := hub, hub, hub, hub
	untold.Chance = 0
	tyre.Suspect = "tyre"
	other.Work = []string{"tyres"}
	left.Accept, left.Reason = false, "the owner waits"
	work := Command(nil) // the first step is done
	for name, c := range map[string]struct {
		tasks  string
		before []Command
		drives []RoadTest
		want   string
	}{
		"gone":                   {"hub", []Command{hum, hub}, []RoadTest{felt(FeltSound)}, "was"},
		"still there":            {"hub", []Command{hum, hub}, []RoadTest{felt(FeltWrong)}, "was not"},
		"the first drive counts": {"hub", []Command{hum, hub}, []RoadTest{felt(FeltWrong), felt(FeltSound)}, "was not"},
		"not driven for":         {"hub", []Command{hum, hub}, []RoadTest{felt(FeltLeftOut)}, ""},
		"driven for later":       {"hub", []Command{hum, hub}, []RoadTest{felt(FeltLeftOut), felt(FeltSound)}, "was"},
		"less, and watched":      {"hub", []Command{hum, hub}, []RoadTest{felt(FeltWatch)}, ""},
		"nothing felt before":    {"hub", []Command{hub}, []RoadTest{felt("")}, ""},
		"nothing was said":       {"hub", []Command{hum, untold}, []RoadTest{felt(FeltSound)}, ""},
		"two were renewed":       {"hub", []Command{hum, hub, tyre}, []RoadTest{felt(FeltSound)}, ""},
		"one of two was left":    {"hub", []Command{hum, hub, left}, []RoadTest{felt(FeltSound)}, ""},
		"other work beside it":   {"hub arm", []Command{hum, hub}, []RoadTest{felt(FeltSound)}, ""},
		"other work":             {"hub", []Command{hum, other}, []RoadTest{felt(FeltSound)}, ""},
		"free work":              {"", []Command{hum, hub}, []RoadTest{felt(FeltSound)}, ""},
		"said with hindsight":    {"hub", []Command{hum, work, hub}, []RoadTest{felt(FeltSound)}, ""},
		"said again in the work": {"hub", []Command{hum, hub, work, hub}, []RoadTest{felt(FeltSound)}, ""},
	} {
		b := begin(t)
		b.own().Plan.Tasks = nil
		for _, op := range strings.Fields(c.tasks) {
			b.own().Plan.Tasks = append(b.own().Plan.Tasks, plan.Task{Operation: op, Corner: "FL"})
		}
		for _, do := range c.before {
			if do == work {
				b.step(b.s.Next())
				continue
			}
			b.must(do)
		}
		toTheDrive(b)
		for _, drive := range c.drives {
			b.must(drive)
		}
		got := ""
		if s := b.s.Suspicion; s != nil && s.Was {
			got = "was"
		} else if s != nil {
			got = "was not"
		}
		if got != c.want {
			t.Errorf("%s: %q, want %q", name, got, c.want)
		}
		if s := b.s.Suspicion; s != nil && (s.Chance != 0.8 || s.Suspect != "hub bearing") {
			t.Errorf("%s: %+v", name, s)
		}
	}
}

func TestDriveTakenBackProvesNothing(t *testing.T) {
	b := begin(t)
	b.own().Plan.Tasks = []plan.Task{{Operation: "hub"}}
	b.must(Answer{Sign: "hum", Ask: "Does it hum?", Yes: true, Position: OnTheRoad})
	b.must(TakeProposal{Suspect: "hub bearing", Accept: true, Chance: 0.8, Work: []string{"hub"}})
	b.refused(TakeProposal{Suspect: "hub bearing", Accept: true, Chance: 1.2}, fault.OutOfRange, "chance")
	toTheDrive(b)
	drive := felt2("sound", "sound")
	drive.Felt = append(drive.Felt, record.Felt{Do: "As it was felt before: Does it hum?", Found: FeltSound})
	b.must(drive)
	if b.s.Suspicion == nil {
		t.Fatal("nothing held against the drive")
	}
	b.must(UndoStep{Step: "drive", Reason: "the wrong vehicle"})
	if b.s.Suspicion != nil {
		t.Errorf("%+v stands after the drive was taken back", b.s.Suspicion)
	}
}
