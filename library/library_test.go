package library

import (
	"strings"
	"testing"
	"testing/fstest"
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

func TestFaultsNameFileLineFieldRemedy(t *testing.T) {
	good, _ := embedded.ReadFile("patterns/ostrel-c22.yaml")
	for _, c := range []struct {
		name, old, new string
		line           int
		says           string
	}{
		{"unit forgotten", `recipe: "8 Nm"`, "recipe: 8", 13, "N·m"},
		{"unknown field", "renew: true", "renewed: true", 16, "renewed"},
		{"bad choice", "condition: hanging", "condition: in the air", 27, "hanging"},
		{"bad thread", "thread: M24x1.5", "thread: M24x9", 27, "pitch"},
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
