package library

import (
	"io/fs"
	"lugtak/core/fact"
	"lugtak/demo/files"
	"slices"
	"strings"
	"testing"
	"testing/fstest"
)

// without is a folder but for a part of it.
type without struct {
	fs.FS
	part string
}

func (f without) Open(name string) (fs.File, error) {
	if strings.HasPrefix(name, f.part) {
		return nil, fs.ErrNotExist
	}
	return f.FS.Open(name)
}

// What ships, read as a shop's own folder is: each file against its schema. Its scenes are drawn by the tests of
// solid.
func TestEmbeddedLoadsClean(t *testing.T) {
	l := load(without{embedded, "scenes/"}, files.FS)
	for _, f := range l.Faults {
		t.Error(f)
	}
	if len(l.Operations) == 0 || len(l.Patterns) != 10 || len(l.Tools) == 0 || len(l.Adapters) == 0 ||
		len(l.Sockets) == 0 ||
		l.Shop.FirstUnit == "" {
		t.Errorf("%d operations, %d patterns, %d tools, shop %+v", len(l.Operations), len(l.Patterns), len(l.Tools), l.Shop)
	}
}

// A slip in a shop's own laws repeals none of those that ship, and is told: what is worked by is whole, or the
// shop's own.
func TestASlipRepealsNoLaw(t *testing.T) {
	text, err := embedded.ReadFile("laws.yaml")
	if err != nil {
		t.Fatal(err)
	}
	whole := len(shipped().Laws)
	for name, c := range map[string]struct {
		own    string
		laws   int
		faults bool
	}{
		"as it ships":    {string(text), whole, false},
		"a key misspelt": {strings.Replace(string(text), "says:", "sais:", 1), whole, true},
		"no such fact":   {strings.Replace(string(text), "{fact: pedal,", "{fact: moon,", 1), whole, true},
		"not YAML":       {"- {id: ", whole, true},
		"empty":          {"", whole, true},
		"one of its own": {string(text[:strings.Index(string(text), "- id: wheel-before")]), 1, false},
	} {
		l := load(fstest.MapFS{"laws.yaml": {Data: []byte(c.own)}})
		if len(l.Laws) != c.laws || (len(l.Faults) > 0) != c.faults {
			t.Errorf("%s: %d laws, %v", name, len(l.Laws), l.Faults)
		}
	}
	l := load(fstest.MapFS{"shop.yaml": {Data: []byte("walk_min: slow\n")}})
	if l.Shop.WalkMin == 0 || len(l.Faults) == 0 {
		t.Errorf("a slip in the shop's own file leaves it without one: %+v", l.Shop)
	}
}

// At least 24 suspects and 45 signs and tests, each with its reason and source,
// and every suspect spoken of by one that is its own.
func TestKnowledgeIsWhole(t *testing.T) {
	k := whole(t).Signs
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
	good, _ := files.FS.ReadFile("patterns/ostrel-c22.yaml")
	for _, c := range []struct {
		name, old, new string
		says           string
		line           bool // it names the line it stands on
		stays          bool // the file below is taken in its place
	}{
		{"unit forgotten", `recipe: "8 Nm"`, "recipe: 8", "N·m", true, false},
		{"unknown field", "renew: true", "renewed: true", "renewed", true, true},
		{"bad choice", "condition: hanging", "condition: in the air", "hanging", true, true},
		{"bad thread", "thread: M24x1.5", "thread: M24x9", "pitch", true, false},
		{"not yaml", "spec:", "spec: [", "YAML", false, true},
	} {
		before, after, _ := strings.Cut(string(good), c.old)
		line := 1 + strings.Count(before, "\n")
		own := fstest.MapFS{"patterns/ostrel-c22.yaml": {Data: []byte(before + c.new + after)}}
		l := load(files.FS, own)
		if len(l.Faults) == 0 {
			t.Errorf("%s: no fault", c.name)
			continue
		}
		f := l.Faults[0]
		if f.File != "patterns/ostrel-c22.yaml" || f.Remedy == "" || !strings.Contains(f.Error(), c.says) {
			t.Errorf("%s: %v, want it to say %q", c.name, f, c.says)
		}
		if c.line && f.Line != line {
			t.Errorf("%s: line %d, it stands on %d", c.name, f.Line, line)
		}
		if n := len(l.Patterns); n < 4 || len(l.Operations) == 0 {
			t.Errorf("%s: the broken file stopped others: %d patterns, %d operations", c.name, n, len(l.Operations))
		}
		if _, there := l.Pattern("ostrel-c22"); there != c.stays {
			t.Errorf("%s: the file below is taken: %v", c.name, there)
		}
	}
}

// What a shop's own suspects and signs speak of has to be there.
func TestSuspectsAndSignsSpeakOfWhatIsThere(t *testing.T) {
	for _, c := range []struct{ file, old, new, says string }{
		{"signs/suspects.yaml", "fits: {rear-brake: [drum]}", "fits: {rear-brakes: [drum]}", "rear-brakes"},
		{"signs/suspects.yaml", "fits: {rear-brake: [drum]}", "fits: {rear-brake: [drums]}", "drums"},
		{"signs/standing.yaml", "then: [cable-drags,", "then: [cable-drag,", "cable-drag"},
		{"signs/standing.yaml", "finds: damper", "finds: dampers", "dampers"},
		{"operations/drum-brakes.yaml", "fits: {rear-brake: [drum]}", "fits: {rear-brake: [drums]}", "drums"},
	} {
		good, err := embedded.ReadFile(c.file)
		if err != nil || !strings.Contains(string(good), c.old) {
			t.Fatalf("%s has no %q (%v)", c.file, c.old, err)
		}
		own := fstest.MapFS{c.file: {Data: []byte(strings.Replace(string(good), c.old, c.new, 1))}}
		l := load(files.FS, own)
		told := func(f Fault) bool { return f.File == c.file && strings.Contains(f.Error(), c.says) && f.Remedy != "" }
		if !slices.ContainsFunc(l.Faults, told) {
			t.Errorf("%s with %q: %v", c.file, c.new, l.Faults)
		}
	}
}

// A file put on the Shelf is checked like any other, replaces the one with its id,
// and leaves the library it was laid over as it was.
func TestTake(t *testing.T) {
	l := load(files.FS)
	text, _ := files.FS.ReadFile("patterns/brask-t7.yaml")
	renamed := "Brask T7 with a crane"
	n, id, faults := l.Take("pattern", strings.Replace(string(text), "Brask T7 plough pickup", renamed, 1))
	if len(faults) > 0 || id != "brask-t7" || len(n.Patterns) != len(l.Patterns) {
		t.Fatalf("%q %v", id, faults)
	}
	if p, _ := n.Pattern(id); p.Name != renamed {
		t.Errorf("the Shelf has %s", p.Name)
	}
	if p, _ := l.Pattern(id); p.Name == renamed {
		t.Error("the library itself was changed")
	}
	op, _ := embedded.ReadFile("operations/crossmember.yaml")
	n, id, faults = l.Take("operation", strings.Replace(string(op), "id: crossmember", "id: rear-crossmember", 1))
	if len(faults) > 0 || len(n.Operations) != len(l.Operations)+1 || id != "rear-crossmember" {
		t.Errorf("%q %v", id, faults)
	}
	for _, c := range []struct{ kind, text, says string }{
		{"spell", "", "neither"}, {"pattern", "", "empty"}, {"pattern", "a: [", "YAML"}, {"pattern", "id: x", "missing"},
		{"operation", string(text), "properties"},
		{"operation", strings.Replace(string(op), "needs: [mount-crack", "needs: [no-such-step", 1), "no step"},
		{"operation", strings.Replace(string(op), "value: on the jack", "value: on the moon", 1), "is never “on the moon”"},
		{"operation", strings.Replace(string(op), "fact: gearbox", "fact: gearcase", 1), "There is no fact “gearcase”"},
		{
			"operation", strings.Replace(string(op), "joint: through, value: out", "joint: thorough, value: out", 1),
			"There is no joint “thorough”",
		},
		{"operation", strings.Replace(string(op), "makes: {member: out}", "makes: {member: away}", 1), "is never “away”"},
		{"pattern", strings.Replace(string(text), "recipe: snug", "recipe: snuggish", 1), "snuggish"},
	} {
		if n, _, faults := l.Take(c.kind, c.text); n != nil || len(faults) == 0 ||
			!strings.Contains(faults[0].Error(), c.says) ||
			faults[0].Remedy == "" {
			t.Errorf("%s %.20q: %v", c.kind, c.text, faults)
		}
	}
}

// In every step for two it is said who has hands where and what is called, on the bench as in the library; one whose
// hands are beneath what a jack or a hoist lifts, in line with a spring or a press, or near what drops is cautioned.
func TestHandsAndLinesOfFire(t *testing.T) {
	l := whole(t)
	danger := []string{
		"arm", "spring", "member", "gearbox", "axle-on", "axle-clamp", "air-spring", "support", "rack", "prop-shaft", "axle",
	}
	tools := []string{"screw press", "hydraulic press", "spring compressor", "long bar", "puller", "slide hammer"}
	for _, p := range l.Patterns {
		for _, s := range l.ordered(t, p, nil, l.Offers(p)...).Steps {
			if s.People > 1 && (s.Two.One == "" || s.Two.Two == "" || len(s.Two.Words) == 0) {
				t.Errorf("%s: %s is done by two, and nobody knows where their hands are", p.ID, s.ID)
			}
			dry := slices.ContainsFunc(s.Wants, func(w fact.Want) bool {
				return w.Fact.Subject == "penetrant" && !w.Values.Has("soaked")
			})
			if slices.Contains([]string{"grinder", "welder", "heater", "rotary cutter"}, s.Tool) && !dry {
				t.Errorf("%s: %s throws sparks where penetrant is wet", p.ID, s.ID)
			}
			moves := slices.ContainsFunc(s.MakesFacts(), func(f string) bool { return slices.Contains(danger, f) })
			if s.Hands() && s.Caution == "" && (moves || slices.Contains(tools, s.Tool)) {
				t.Errorf("%s: %s (%s) has no caution", p.ID, s.ID, s.Title)
			}
		}
	}
}
