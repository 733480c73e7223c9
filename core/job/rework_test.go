package job

import (
	"slices"
	"testing"

	"lugtak/core/fact"
	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/vehicle"
)

// capped is a plan made from facts: a cap, screwed on or clipped as the vehicle is built,
// with a look under it, and a sump looked at by one school or another.
func capped(t *testing.T, built, school string, technicians int) plan.Plan {
	t.Helper()
	off := []operation.Want{{Fact: "cap", Value: "off"}}
	on := []operation.Want{{Fact: "cap", Value: "on"}}
	screwed := map[string][]string{"cap": {"screwed"}}
	clipped := map[string][]string{"cap": {"clipped"}}
	op := operation.Operation{
		ID: "cap", Title: "Cap", Family: "tests", Version: 1, Axle: "front",
		Joints: []operation.Joint{{
			Key: "screws", Spec: "hub.front.cap", Title: "cap screws", One: "cap screw", System: "hub",
			When: screwed, Fasteners: 2,
		}},
		Steps: []operation.Step{
			{ID: "crack", Verb: operation.Crack, Joint: "screws", Title: "crack", Minutes: 1, When: screwed, Wants: on},
			{
				ID: "off", Verb: operation.Remove, Joint: "screws", Title: "cap off", Minutes: 1, When: screwed,
				Makes: map[string]string{"cap": "off"},
			},
			{
				ID: "pull", Verb: operation.Act, Title: "cap pulled", Tool: "pick", Minutes: 1, When: clipped, Wants: on,
				Makes: map[string]string{"cap": "off"},
			},
			{ID: "look", Verb: operation.Act, Title: "look under", Tool: "lamp", Minutes: 1, Wants: off},
			{
				ID: "sump", Verb: operation.Act, Title: "sump", Tool: "lamp", Minutes: 1, Wants: on,
				When: map[string][]string{"sump": {"look", "dip"}},
			},
			{
				ID: "start", Verb: operation.Start, Joint: "screws", Title: "cap on", Minutes: 1, When: screwed, Wants: off,
				Makes: map[string]string{"cap": "on"}, Needs: []operation.StepID{"look"},
			},
			{ID: "tight", Verb: operation.Tighten, Joint: "screws", Title: "cap tight", Minutes: 1, When: screwed},
			{
				ID: "press", Verb: operation.Act, Title: "cap pressed on", Tool: "mallet", Minutes: 1, When: clipped, Wants: off,
				Makes: map[string]string{"cap": "on"}, Needs: []operation.StepID{"look"},
			},
		},
	}
	know := plan.Knowledge{
		Operations: []operation.Operation{op},
		Facts: []operation.FactKind{{
			Fact: "cap", Place: "corner", Rest: "on", Others: []operation.FactValue{{Value: "off"}},
		}},
		Builds: []operation.Build{{
			Key: "cap", Question: "How is the cap held?", Assume: "screwed",
			Answers: []operation.BuildAnswer{{Key: "screwed", Title: "screwed"}, {Key: "clipped", Title: "clipped"}},
		}},
		Schools: []operation.School{{
			Key: "sump", Question: "Sump", Default: "look",
			Ways: []operation.SchoolWay{{Key: "look", Title: "by looking"}, {Key: "dip", Title: "by dipping"}},
		}},
	}
	made, err := plan.Compile(plan.Order{
		Tasks: []plan.Task{{Operation: "cap", Corner: "FL"}},
		Pattern: vehicle.Pattern{ID: "p", Name: "P", Operations: []string{"cap"}, Spec: map[string]vehicle.Spec{
			"hub.front.cap": {Recipe: "9 Nm", Thread: "M6", Class: "8.8", Condition: "any", Source: "invented"},
		}},
		Knowledge: &know,
		Built:     map[string]string{"cap": built},
		Ways:      map[string]string{"sump": school},
	})
	if err != nil {
		t.Fatal(err)
	}
	made.Technicians = technicians
	return made
}

func beginCap(t *testing.T) *bench {
	t.Helper()
	b := &bench{t: t, s: Replay(nil), by: "technician A"}
	b.must(Start{
		Job: "j", Vehicle: vehicle.Vehicle{ID: "v"}, Complaint: "rattle", OdometerKM: 1,
		Plan: capped(t, "screwed", "look", 1),
	})
	return b
}

// A plan is made anew around what is done; what was opened, kept or decided stays.
func TestRework(t *testing.T) {
	why := func(p plan.Plan) Rework { return Rework{Plan: p, Why: "as it turned out"} }
	b := beginCap(t)
	b.refused(Rework{Plan: capped(t, "screwed", "dip", 1)}, fault.Missing, "")
	same := Rework{Plan: capped(t, "screwed", "look", 1), Why: "once more"}
	if e, err := Decide(b.s, b.meta(), same); err != nil || len(e) > 0 {
		t.Errorf("the same plan again: %v, %v", e, err)
	}
	for name, p := range map[string]plan.Plan{
		"another school": capped(t, "screwed", "dip", 1),
		"other hands":    capped(t, "screwed", "look", 2),
		"another build":  capped(t, "clipped", "look", 1),
	} {
		if e, err := Decide(b.s, b.meta(), why(p)); err != nil || len(e) != 1 {
			t.Errorf("%s: %v, %v", name, e, err)
		}
	}
	unsound := capped(t, "screwed", "dip", 1)
	slices.Reverse(unsound.Steps)
	if _, err := Decide(b.s, b.meta(), why(unsound)); err == nil {
		t.Error("a plan that breaks its own wants was taken")
	}

	b.must(Handle{Step: "cap.crack.FL"})
	b.refused(why(capped(t, "clipped", "look", 1)), fault.Order, "“crack” was done and the new plan lacks it")
	lost := capped(t, "screwed", "dip", 1)
	lost.Joints = nil
	b.refused(why(lost), fault.Order, "fastener was opened")
	other := capped(t, "screwed", "dip", 1)
	other.Builds[0].Is = "clipped"
	b.refused(why(other), fault.Order, "“crack” was done for “screwed”")

	if done, begun := b.s.DoneSteps(); len(done) != 1 || done[0].ID != "cap.crack.FL" || len(begun) != 0 {
		t.Errorf("done %v, begun %v", done, begun)
	}
	b.must(why(capped(t, "screwed", "dip", 2)))
	if b.s.Plan.Technicians != 2 || !b.s.StepDone("cap.crack.FL") || b.s.Fastener("hub.FL.cap", "A").Phase != Loose {
		t.Errorf("what was done: %+v", b.s.Fastener("hub.FL.cap", "A"))
	}
	if n := len(b.s.Replans); n != 1 || b.s.Replans[0].Why != "as it turned out" {
		t.Errorf("%+v", b.s.Replans)
	}
}

// A step with some of its fasteners done is begun, and no more forgotten than a done one.
func TestReworkKeepsWhatIsBegun(t *testing.T) {
	b := beginCap(t)
	b.must(Handle{Step: "cap.crack.FL", Letters: []string{"B"}})
	if done, begun := b.s.DoneSteps(); len(done) != 0 || len(begun) != 1 || begun[0] != "cap.crack.FL" {
		t.Errorf("done %v, begun %v", done, begun)
	}
	b.refused(Rework{Plan: capped(t, "clipped", "look", 1), Why: "x"}, fault.Order, "the new plan lacks it")
	b.s.Plan.World = fact.World{}
	b.refused(Rework{Plan: capped(t, "screwed", "dip", 1), Why: "x"}, fault.Order, "before plans knew")
}
