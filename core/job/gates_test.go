package job

import (
	"slices"
	"strings"
	"testing"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/vehicle"
)

// A bolt that free work named counts as one a life hangs on, whatever part it was said to belong to.
func TestWhatALifeHangsOn(t *testing.T) {
	s := State{Intake: Intake{House: House{Critical: []string{"brake"}}}}
	for sheet, want := range map[string]bool{
		"brake.front.hose": true, "body.rear.exhaust": false, "body.rear.own_bracket_bolt": true,
	} {
		system, _, _ := strings.Cut(sheet, ".")
		if j := (plan.Joint{Joint: operation.Joint{System: system}, Sheet: sheet}); s.Critical(&j) != want {
			t.Errorf("%s: %v", sheet, !want)
		}
	}
}

// Each gate leads to the step that meets it, and stands open until it is met.
func TestGatesLeadToTheirStep(t *testing.T) {
	b := begin(t)
	stands := func(key string, step operation.StepID, met bool) {
		t.Helper()
		g := b.gate(key)
		if g == nil || g.Step != step || g.Met != met || g.Remedy == "" {
			t.Errorf("%s: %+v; want step %s, met %v", key, g, step, met)
		}
	}
	debt := string(GateDebt) + ":" + wheel + "#1"
	stands(debt, "wheel1", false) // the plan opens it, so it counts before it is touched
	stands(renewGate(knuckle), "boltin", false)
	stands("steps", "soak", false) // what has to wait is planned first
	stands("pedal", "pedal", false)
	if g := b.gate("steps"); !strings.HasPrefix(g.Title, "16 steps") {
		t.Errorf("of 22 steps six are met fastener by fastener: %s", g.Title)
	}
	b.step("crack")
	stands("steps", "soak", false)
	if g := b.gate("steps"); !strings.HasPrefix(g.Title, "15 steps") {
		t.Errorf("after one: %s", g.Title)
	}
	stands("supports", "", false)
	if g := b.gate("supports"); strings.HasPrefix(g.Title, "Still in") {
		t.Errorf("nothing was put in: %s", g.Title)
	}
	b.step("raise", "off")
	if g := b.gate("supports"); g.Title != "Still in: 1 × axle stand" {
		t.Errorf("%s", g.Title)
	}
	b.step(toTheWheel[3:8]...)
	b.must(Handle{Step: "boltin", Letters: []string{"A"}, Renewed: true})
	stands(renewGate(knuckle), "boltin", false) // two of three are still out
	b.step("boltin")
	stands(renewGate(knuckle), "boltin", true)
	b.step(toTheWheel[9:]...)
	b.step("lower")
	if g := b.gate("supports"); !g.Met {
		t.Errorf("%+v", g)
	}
	stands(debt, "wheel1", false)
	b.step("wheel1")
	stands(debt, "again", false)
	if g := b.gate(debt); !strings.HasSuffix(g.Title, "again after the drive") {
		t.Errorf("%s", g.Title)
	}
	b.step("drive", "again")
	stands(debt, "", true)
	stands("steps", "", true)
	if g := b.gate("steps"); g.Title != "Every step kept" {
		t.Errorf("%s", g.Title)
	}
}

// A fastener the plan never opens is no debt while nobody touches it.
func TestWhatThePlanOpens(t *testing.T) {
	b := begin(t)
	s := b.own()
	debt := string(GateDebt) + ":" + bracket + "#A"
	if b.gate(debt).Met {
		t.Error("the plan takes the bracket off")
	}
	s.Plan.Steps = slices.DeleteFunc(s.Plan.Steps, func(st plan.Step) bool { return st.ID == "bracketout" })
	if !b.gate(debt).Met {
		t.Error("a bracket that is only fitted was never opened")
	}
	if s.opens("hub.FL.nowhere") {
		t.Error("opens a joint there is not")
	}
}

func TestGatesOfTheFigure(t *testing.T) {
	b := begin(t)
	s := b.own()
	if b.gate("source:"+bracket) != nil {
		t.Error("a figure with a source is asked for one")
	}
	j := s.Plan.Joint(bracket)
	j.Source = ""
	if g := b.gate("source:" + bracket); g == nil || !g.Second || !g.Passable || g.Met {
		t.Errorf("%+v", g)
	}
	j.Variants = []vehicle.Variant{{Key: "flange"}} // which hardware it is comes first
	if b.gate("source:"+bracket) != nil {
		t.Error("asked for the source of a figure nobody knows yet")
	}
	if b.gate("source:"+wheel) != nil || b.gate("alignment") != nil {
		t.Error("a gate stands where its step does not")
	}
}

// A deviation is for an open gate that may be passed over; a colleague signs where the
// shop asks for one, and is not written down where it does not.
func TestWhatADeviationPassesOver(t *testing.T) {
	b := begin(t)
	b.refused(Deviate{Gate: "no such", Reason: "in a hurry"}, fault.Missing, "no such gate")
	debt := string(GateDebt) + ":" + wheel + "#1"
	m := b.meta()
	m.Second = "technician B"
	if err := b.do(m, Deviate{Gate: debt, Reason: "key lost"}); err != nil {
		t.Fatal(err)
	}
	if d := b.s.Deviation(debt); d.Second != "" {
		t.Errorf("%+v", d)
	}
	b.refused(Deviate{Gate: debt, Reason: "key lost"}, fault.Order, "not open")
	b.step("soak")
	b.must(Deviate{Gate: renewGate(knuckle), Reason: "none to be had"}) // touches no fastener
	b.must(ReportTrouble{Step: "wheel1", Letter: "2", Code: Rounded})
	b.refused(Deviate{Gate: string(GateDebt) + ":" + wheel + "#2", Reason: "it is round"}, fault.Gate, "No signature")
	if g := b.gate("trouble:" + b.s.Troubles[0].ID); g == nil || g.Step != "wheel1" {
		t.Errorf("%+v", g)
	}
}

// Where a life hangs on a joint, a click alone is control without check; a shop may
// ask for more.
func TestControlWithoutCheck(t *testing.T) {
	b := begin(t)
	b.s = b.s.clone()
	b.s.House.Critical = []string{"brake", "wheel"}
	b.step("bracketout", "bracketin", "bracket1")
	j := b.s.Plan.Joint(bracket)
	f := b.s.Fastener(bracket, "A")
	if !b.s.Critical(j) || !b.s.Unchecked(j, f) {
		t.Error("a click on a brake bolt is checked by nothing")
	}
	gate := func() *Gate {
		all := b.s.Gates()
		i := slices.IndexFunc(all, func(g Gate) bool { return g.Key == "check:"+f.String() })
		if i < 0 {
			return nil
		}
		return &all[i]
	}
	if gate() != nil {
		t.Error("the shop did not ask for a check")
	}
	b.s.House.Demand = []string{"brake"}
	if g := gate(); g == nil || g.Met || !g.Passable || !g.Second || g.Remedy == "" {
		t.Errorf("%+v", g)
	}
	b.must(Slacken{Joint: bracket, Letter: "A", Reason: "to be traced"})
	b.must(b.traced("bracket1", 115))
	if g := gate(); g != nil || b.s.Unchecked(j, b.s.Fastener(bracket, "A")) {
		t.Errorf("traced: %+v", g)
	}
	b.step("boltout", "boltin", "bolt1")
	if k := b.s.Plan.Joint(knuckle); b.s.Unchecked(k, b.s.Fastener(knuckle, "A")) {
		t.Error("no life hangs on that joint here")
	}
}
