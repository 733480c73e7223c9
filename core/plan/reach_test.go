package plan

import (
	"slices"
	"strings"
	"testing"

	"lugtak/core/fact"
	"lugtak/core/operation"
	"lugtak/core/schedule"
)

// both compiles the hub of both sides under one more law, with a lamp that is lit by a way, and a step that runs the
// engine and stops it again.
func both(t *testing.T, law operation.Law) Plan {
	t.Helper()
	o := woven()
	o.Tasks = []Task{{"hub", "FL"}, {"hub", "FR"}}
	k := o.Knowledge
	k.Facts = append(k.Facts,
		operation.FactKind{Fact: "lamp", Place: "whole", Rest: "off", Others: []operation.FactValue{{Value: "lit"}}},
		operation.FactKind{Fact: "engine", Place: "whole", Rest: "off", Others: []operation.FactValue{{Value: "running"}}},
	)
	k.Ways = append(k.Ways, operation.Way{
		ID: "lamp", Title: "lamp", Version: 1, Axle: "under", Fact: "lamp", To: "lit",
		Open: []operation.Step{{ID: "on", Verb: operation.Act, Title: "lamp on", Minutes: 1,
			Makes: map[string]string{"lamp": "lit"}}},
		Close: []operation.Step{{ID: "off", Verb: operation.Act, Title: "lamp off", Minutes: 1,
			Makes: map[string]string{"lamp": "off"}}},
	})
	hub := &k.Operations[0]
	hub.Steps = append(hub.Steps,
		operation.Step{ID: "run", Verb: operation.Act, Title: "run", Minutes: 1, Shared: true,
			Makes: map[string]string{"engine": "running"}},
		operation.Step{ID: "stop", Verb: operation.Act, Title: "stop", Minutes: 1, Shared: true,
			Needs: []operation.StepID{"run"}, Makes: map[string]string{"engine": "off"}},
	)
	if law.ID != "" {
		k.Laws = append(k.Laws, law)
	}
	made, err := Compile(o)
	if err != nil {
		t.Fatal(err)
	}
	return made
}

// place is where a step stands in a plan; -1 where it does not.
func place(p Plan, id string) int {
	return slices.IndexFunc(p.Steps, func(s Step) bool { return string(s.ID) == id })
}

// A law may look at the other side, hold for as long as its fact is so, keep hands from every corner, and have brought
// about what no step touches; each is wanted, and proved of an order nobody compiled.
func TestLawsThatReachOn(t *testing.T) {
	// moved is the plan with a step behind another one, as a hand would put it.
	moved := func(p Plan, id, behind string) Plan {
		s := p.Steps[place(p, id)]
		p.Steps = slices.DeleteFunc(slices.Clone(p.Steps), func(x Step) bool { return x.ID == s.ID })
		p.Steps = slices.Insert(p.Steps, place(p, behind)+1, s)
		return p
	}

	p := both(t, operation.Law{ID: "other", Says: "One hub stays", On: off("hub", "out", ""),
		Wants: []operation.LawWant{{Fact: "hub", Value: "in", Where: operation.OtherSide}}})
	first, second := "FL", "FR"
	if place(p, "hub.out.FR") < place(p, "hub.out.FL") {
		first, second = second, first
	}
	if place(p, "hub.in."+first) > place(p, "hub.out."+second) {
		t.Errorf("both hubs are out at once: %s", sequence(p))
	}
	if q := moved(p, "hub.in."+first, "hub.out."+second); q.Sound() == nil {
		t.Error("both out at once is proved")
	}

	p = both(t, operation.Law{ID: "while", Says: "Held, it stays in", On: off("rotation", "held", ""), While: true,
		Wants: []operation.LawWant{{Fact: "hub", Value: "in"}}})
	if q := moved(p, "hub.out.FL", "brake.hold.FL"); q.Sound() == nil {
		t.Error("the hub comes out while it is held, and that is proved")
	}

	p = both(t, operation.Law{ID: "clear", Says: "Hands out", On: off("engine", "running", ""), Clear: operation.Corner})
	for _, s := range p.Steps[place(p, "hub.run")+1 : place(p, "hub.stop")] {
		if s.Corner != "" && s.Place != bench {
			t.Errorf("%s while the engine runs", s.ID)
		}
	}
	if q := moved(p, "hub.stop", "hub.tight.FL"); place(q, "hub.run") < place(q, "hub.tight.FL") && q.Sound() == nil {
		t.Error("hands at a corner while the engine runs are proved")
	}

	// What was healed into the plan wants nothing of the engine: the law holds it all the same.
	q := moved(moved(p, "hub.run", "hub.in.FL"), "hub.stop", "hub.tight.FL")
	for i := range q.Steps {
		q.Steps[i].Wants = slices.DeleteFunc(slices.Clone(q.Steps[i].Wants), func(w fact.Want) bool {
			return w.Fact.Subject == "engine"
		})
	}
	if q.Sound() == nil {
		t.Error("a step that wants nothing of the engine has hands at a corner while it runs")
	}

	lit := operation.Law{ID: "lit", Says: "One sees it come out", On: off("hub", "out", ""),
		Wants: []operation.LawWant{{Fact: "lamp", Value: "lit"}}}
	if p = both(t, lit); place(p, "lamp.on") >= 0 {
		t.Error("what no step touches is brought about though the law does not say so")
	}
	lit.Wants[0].Brings = true
	if p = both(t, lit); place(p, "lamp.on") < 0 || place(p, "lamp.on") > place(p, "hub.out.FL") {
		t.Errorf("nobody lights the lamp: %s", sequence(p))
	}
	lit.Wants[0].When = map[string][]string{"taper": {"blow"}}
	if p = both(t, lit); place(p, "lamp.on") >= 0 {
		t.Error("the law is not asked here, and the lamp is lit")
	}
}

// What may not stay so for long is drawn together, and the plan says how long it stays so.
func TestStays(t *testing.T) {
	o := woven()
	i := slices.IndexFunc(o.Knowledge.Facts, func(k operation.FactKind) bool { return k.Fact == "hub" })
	o.Knowledge.Facts[i].Others = []operation.FactValue{{Value: "out", Minutes: 1, Attended: true, Over: "a lid on it"}}
	made, err := Compile(o)
	if err != nil {
		t.Fatal(err)
	}
	tended := made.World.Tended
	if len(tended) != 1 || tended[0].Fact != (fact.Fact{Subject: "hub", Place: "FL"}) || !tended[0].Attended {
		t.Fatalf("%+v", tended)
	}
	from, to := place(made, "hub.out.FL"), place(made, "hub.in.FL")
	var between []string
	for _, s := range made.Steps[from+1 : to] {
		between = append(between, string(s.ID))
	}
	sol, err := made.Clock(schedule.Costs{})
	if err != nil {
		t.Fatal(err)
	}
	stays := made.Stays(sol)
	if len(stays) != 1 || stays[0].From != "hub.out.FL" || stays[0].To != "hub.in.FL" || !stays[0].Long() {
		t.Fatalf("%+v", stays)
	}
	if want := float64(len(between) + 1); stays[0].Minutes != want {
		t.Errorf("a minute each for %s and what ends it: %.1f", strings.Join(between, " "), stays[0].Minutes)
	}
}
