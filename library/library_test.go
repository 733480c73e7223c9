package library

import (
	"strings"
	"testing"
	"testing/fstest"

	"lugtak/core/operation"
	"lugtak/core/recipe"
	"lugtak/core/vehicle"
)

func TestEmbeddedLoadsClean(t *testing.T) {
	l := load(nil)
	for _, f := range l.Faults {
		t.Error(f)
	}
	if len(l.Operations) == 0 || len(l.Patterns) != 5 || len(l.Tools) == 0 || len(l.Adapters) == 0 || len(l.Sockets) == 0 || l.Shop.FirstUnit == "" {
		t.Errorf("%d operations, %d patterns, %d tools, shop %+v", len(l.Operations), len(l.Patterns), len(l.Tools), l.Shop)
	}
}

// At least 24 suspects and 45 signs and tests, each with its reason and source,
// and every suspect spoken of by one that is its own.
func TestKnowledgeIsWhole(t *testing.T) {
	k := load(nil).Knowledge
	if len(k.Suspects) < 24 || len(k.Evidence) < 45 {
		t.Errorf("%d suspects, %d signs and tests", len(k.Suspects), len(k.Evidence))
	}
	best := map[string]float64{}
	for _, e := range k.Evidence {
		for s, p := range e.Speaks {
			best[s] = max(best[s], p/e.Leak)
		}
		if e.Reason == "" || e.Source == "" {
			t.Errorf("%s: no reason or source", e.Key)
		}
	}
	for _, s := range k.Suspects {
		if best[s.Key] < 8 {
			t.Errorf("nothing tells the %s from others: %.1f at best", s.Name, best[s.Key])
		}
	}
}

// Every operation of every pattern compiles, opens nothing it does not close,
// and every recipe passes the plausibility check.
func TestEveryOperationCompiles(t *testing.T) {
	l := load(nil)
	for _, p := range l.Patterns {
		for _, id := range p.Operations {
			op, _ := l.Operation(id)
			plan, err := l.Plan(p.ID, id, corner(op))
			if err != nil {
				t.Errorf("%s on %s: %v", id, p.ID, err)
				continue
			}
			for i := range plan.Joints {
				checkJoint(t, p.ID, &plan, &plan.Joints[i])
			}
			at := map[string]int{}
			for i, s := range plan.Steps {
				for _, n := range s.Needs {
					if _, before := at[n]; !before {
						t.Errorf("%s: %s stands before %s, which it needs", id, s.ID, n)
					}
				}
				at[s.ID] = i
			}
		}
	}
}

func checkJoint(t *testing.T, pat string, plan *operation.Plan, j *operation.PlanJoint) {
	t.Helper()
	opened, closed := false, false
	for _, s := range plan.Steps {
		if s.Joint != j.ID {
			continue
		}
		opened = opened || s.Verb == operation.Crack || s.Verb == operation.Remove
		closed = closed || s.Verb == operation.Tighten
	}
	if !opened || !closed {
		t.Errorf("%s: opened %v, closed %v", j.ID, opened, closed)
	}
	if j.Source == "" {
		t.Errorf("%s %s: no source", pat, j.ID)
	}
	f, ok := j.Fastener()
	if !ok {
		t.Errorf("%s %s: thread and class unknown", pat, j.ID)
		return
	}
	ws, err := recipe.Check(recipe.Recipe{Stages: j.Stages()}, f)
	if err != nil {
		t.Error(err)
	}
	for _, w := range ws {
		if w.Code != recipe.Lubricated {
			t.Errorf("%s %s: %s: %s", pat, j.ID, w.Code, w.Message)
		}
	}
}

// Ordering facts of the trade (common practice), on the compiled plan.
func TestFrontHubUnitOrder(t *testing.T) {
	l := load(nil)
	plan, err := l.Plan("ostrel-c22", "front-hub-unit", "FL")
	if err != nil {
		t.Fatal(err)
	}
	at := map[string]int{}
	for i, s := range plan.Steps {
		at[s.ID] = i
	}
	for _, c := range [][2]string{
		{"axle-crack", "raise"}, {"wheel-crack", "raise"}, {"chock", "raise"}, {"spray", "sensor-out"}, {"soak", "knuckle-crack"}, {"knuckle-crack", "knuckle-out"},
		{"axle-push", "joint-out"}, {"sensor-out", "hub-out"}, {"compare", "hub-in"}, {"knuckle-1", "knuckle-2"}, {"axle-tight", "lower"}, {"pedal", "hold"}, {"pedal", "drive"},
		{"lower", "wheel-tight"}, {"drive", "wheel-again"}, {"cotter", "wheel-start"},
	} {
		if at[c[0]] >= at[c[1]] {
			t.Errorf("%s stands at %d, %s at %d", c[0], at[c[0]], c[1], at[c[1]])
		}
	}
	if n := plan.Fasteners(); n != 15 {
		t.Errorf("%d fasteners, want 15", n)
	}
	// The wheel fasteners are owed a third time, after the drive.
	if j := plan.Joint("hub.FL.wheel"); len(j.Stages()) != 3 || j.Says() != "130 Nm ×2, again after the drive" {
		t.Errorf("wheel: %d stages, %q", len(j.Stages()), j.Says())
	}
	if _, err := l.Plan("ostrel-c22", "front-hub-unit", "RL"); err == nil {
		t.Error("a front hub unit was planned on the rear axle")
	}
}

func TestFaultsNameFileLineFieldRemedy(t *testing.T) {
	good, _ := embedded.ReadFile("patterns/ostrel-c22.yaml")
	for _, c := range []struct {
		name, old, new string
		line           int
		says           string
	}{
		{"unit forgotten", "recipe: 8 Nm", "recipe: 8", 27, "N·m"},
		{"unknown field", "renew: true", "renewed: true", 10, "renewed"},
		{"bad choice", "condition: hanging", "condition: in the air", 10, "hanging"},
		{"bad thread", "thread: M24x1.5", "thread: M24x9", 10, "pitch"},
		{"not yaml", "spec:", "spec: [", 0, "YAML"},
	} {
		own := fstest.MapFS{"patterns/ostrel-c22.yaml": {Data: []byte(strings.Replace(string(good), c.old, c.new, 1))}}
		l := load(own)
		if len(l.Faults) == 0 {
			t.Errorf("%s: no fault", c.name)
			continue
		}
		f := l.Faults[0]
		if f.File != "patterns/ostrel-c22.yaml" || f.Remedy == "" || !strings.Contains(f.Error(), c.says) || (c.line > 0 && f.Line != c.line) {
			t.Errorf("%s: %v (line %d), want line %d saying %q", c.name, f, f.Line, c.line, c.says)
		}
		if len(l.Patterns) != 4 || len(l.Operations) == 0 {
			t.Errorf("%s: the broken file stopped others: %d patterns, %d operations", c.name, len(l.Patterns), len(l.Operations))
		}
	}
}

func corner(op operation.Operation) vehicle.Corner {
	if op.Axle == "rear" {
		return "RL"
	}
	return "FL"
}
