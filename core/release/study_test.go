package release_test

import (
	"flag"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"slices"
	"strings"
	"testing"

	"lugtak/core/release"
)

var write = flag.String("write", "", "write the study to this file, with 2 000 seizures of each kind")

// seizure is one whose truth is known: a bond that work wears down, and what holds the
// part, both in shares of what a sound one would bear. Nothing here knows of grades or
// chances: a try frees when what it brings exceeds the bond, and breaks when it brings
// more than there is strength.
type seizure struct {
	rng      *rand.Rand
	bond     float64
	strength float64
}

// work is what a rung does to a bond, drawn wide: it takes a share of it, and brings a
// load.
type work struct {
	takes [2]float64
	loads [2]float64
}

// worlds is how each rung works on the kinds of the study. Drawn from the mechanics of
// each (a torch opens a joint more than a blow does), not from the library's chances.
var worlds = map[string]map[string]work{
	"rusted thread": {
		"clean":      {takes: [2]float64{0, 0.1}, loads: [2]float64{0.3, 0.45}},
		"penetrant":  {takes: [2]float64{0.05, 0.5}, loads: [2]float64{0.3, 0.45}},
		"shock":      {takes: [2]float64{0.02, 0.3}, loads: [2]float64{0.35, 0.5}},
		"tighten":    {takes: [2]float64{0.02, 0.2}, loads: [2]float64{0.4, 0.55}},
		"six-point":  {takes: [2]float64{0, 0}, loads: [2]float64{0.4, 0.55}},
		"bar":        {takes: [2]float64{0, 0.05}, loads: [2]float64{0.65, 0.95}},
		"impact":     {takes: [2]float64{0.05, 0.3}, loads: [2]float64{0.6, 0.9}},
		"air-hammer": {takes: [2]float64{0.05, 0.35}, loads: [2]float64{0.35, 0.5}},
		"heat":       {takes: [2]float64{0.2, 0.75}, loads: [2]float64{0.5, 0.75}},
	},
	"rusted taper": {
		"penetrant":  {takes: [2]float64{0, 0.05}, loads: [2]float64{0, 0.05}},
		"shock":      {takes: [2]float64{0.02, 0.3}, loads: [2]float64{0.15, 0.45}},
		"press":      {takes: [2]float64{0, 0.1}, loads: [2]float64{0.4, 0.8}},
		"air-hammer": {takes: [2]float64{0.05, 0.25}, loads: [2]float64{0.2, 0.4}},
		"fork":       {takes: [2]float64{0.05, 0.2}, loads: [2]float64{0.6, 0.95}},
		"heat":       {takes: [2]float64{0.2, 0.6}, loads: [2]float64{0.3, 0.5}},
	},
	"rust-welded spigot": {
		"penetrant":    {takes: [2]float64{0, 0.15}, loads: [2]float64{0, 0.05}},
		"shock":        {takes: [2]float64{0.02, 0.2}, loads: [2]float64{0.15, 0.45}},
		"rotate":       {takes: [2]float64{0.05, 0.4}, loads: [2]float64{0.2, 0.4}},
		"press":        {takes: [2]float64{0, 0.1}, loads: [2]float64{0.4, 0.7}},
		"slide-hammer": {takes: [2]float64{0.02, 0.2}, loads: [2]float64{0.4, 0.7}},
		"air-hammer":   {takes: [2]float64{0.05, 0.3}, loads: [2]float64{0.2, 0.45}},
		"sacrificial":  {takes: [2]float64{0.05, 0.2}, loads: [2]float64{0.5, 0.85}},
		"heat":         {takes: [2]float64{0.15, 0.5}, loads: [2]float64{0.3, 0.5}},
	},
}

func (s *seizure) between(r [2]float64) float64 { return r[0] + s.rng.Float64()*(r[1]-r[0]) }

// try works on the seizure once.
func (s *seizure) try(w work) (free, broken bool) {
	s.bond *= 1 - s.between(w.takes)
	load := s.between(w.loads)
	broken = load > s.strength && s.bond > s.strength
	free = !broken && load > s.bond
	return free, broken
}

// ladderOf says which rung comes next, by its key; empty when there is none.
type ladderOf func(tried []string) string

// fixed tries the rungs in a given order, the ones refused left out, each once.
func fixed(order string, c release.Case) ladderOf {
	allowed := map[string]bool{}
	l, _ := know.Climb(c)
	for _, r := range l.Rungs {
		allowed[r.Key] = r.Refused == ""
	}
	return func(tried []string) string {
		for _, key := range strings.Fields(order) {
			if allowed[key] && !slices.Contains(tried, key) {
				return key
			}
		}
		return ""
	}
}

// lugtaks asks for the ladder anew after each try.
func lugtaks(c release.Case) ladderOf {
	return func(tried []string) string {
		c.Tried = tried
		l, _ := know.Climb(c)
		if len(l.Rungs) == 0 || l.Rungs[0].Refused != "" {
			return ""
		}
		return l.Rungs[0].Key
	}
}

// outcome is what a seizure came to.
type outcome struct {
	minutes float64
	broken  bool
	gaveUp  bool
}

// free carries a ladder through on one seizure.
func (s *seizure) free(kind release.Kind, next ladderOf) outcome {
	var out outcome
	var tried []string
	for len(tried) < 25 {
		key := next(tried)
		if key == "" {
			break
		}
		r, _ := know.Rung(key)
		out.minutes += r.Minutes
		if key == "cut" {
			out.gaveUp = true
			out.minutes += kind.GiveUp
			return out
		}
		free, broken := s.try(worlds[kind.Name][key])
		tried = append(tried, key)
		if broken {
			out.broken = true
			out.minutes += kind.BreakMin
			return out
		}
		if free {
			return out
		}
	}
	out.gaveUp = true
	out.minutes += kind.BreakMin + 45
	return out
}

// The two ladders people carry in their heads: gently through everything, and roughly.
var (
	gentle = "clean penetrant shock tighten six-point rotate bar press impact air-hammer fork " +
		"slide-hammer sacrificial heat cut"
	rough = "impact slide-hammer fork bar air-hammer shock press sacrificial heat cut"
)

// often is how often a bay meets what (common practice, from memory).
var often = []struct {
	thing string
	kept  bool
	share float64
}{
	{"brake hose", false, 0.4},
	{"wheel-speed sensor", false, 0.3},
	{"aluminium", false, 0.2},
	{"boot", true, 0.4},
	{"bearing", true, 0.2},
}

func constraints(rng *rand.Rand) (near, keep []string) {
	for _, x := range often {
		if rng.Float64() >= x.share {
			continue
		}
		if x.kept {
			keep = append(keep, x.thing)
		} else {
			near = append(near, x.thing)
		}
	}
	return near, keep
}

type tally struct {
	minutes        float64
	broken, gaveUp int
}

// study frees n seizures of a kind by each ladder, each on a seizure of its own twin.
func study(kind release.Kind, n int, seed uint64) map[string]tally {
	out := map[string]tally{}
	for i := range n {
		draw := rand.New(rand.NewPCG(seed, uint64(i)))
		c := release.Case{Kind: kind.Name}
		c.Near, c.Keep = constraints(draw)
		bond := 0.62 * math.Exp(0.65*draw.NormFloat64())
		strength := min(1.05, max(0.55, 0.9+0.1*draw.NormFloat64()))
		for name, next := range map[string]ladderOf{
			"Lugtak":       lugtaks(c),
			"gentle first": fixed(gentle, c),
			"rough first":  fixed(rough, c),
		} {
			s := seizure{rng: rand.New(rand.NewPCG(seed+1, uint64(i))), bond: bond, strength: strength}
			o := s.free(kind, next)
			t := out[name]
			t.minutes += o.minutes / float64(n)
			if o.broken {
				t.broken++
			}
			if o.gaveUp {
				t.gaveUp++
			}
			out[name] = t
		}
	}
	return out
}

// Over seizures of known truth Lugtak's ladder takes fewer minutes than either fixed one,
// at no kind many more, and breaks less than the rough one.
func TestStudy(t *testing.T) {
	n, seed := 300, uint64(1_000_000)
	if *write != "" {
		n, seed = 2000, 190_000_000 // looked at once, never tuned on
	}
	table := ""
	all := map[string]tally{}
	for _, name := range []string{"rusted thread", "rusted taper", "rust-welded spigot"} {
		kind, err := know.Kind(name)
		if err != nil {
			t.Fatal(err)
		}
		got := study(kind, n, seed)
		for _, way := range []string{"Lugtak", "gentle first", "rough first"} {
			g := got[way]
			share := func(k int) float64 { return 100 * float64(k) / float64(n) }
			table += fmt.Sprintf("| %s | %s | %.1f | %.1f %% | %.1f %% |\n",
				name, way, g.minutes, share(g.broken), share(g.gaveUp))
			sum := all[way]
			sum.minutes += g.minutes
			sum.broken += g.broken
			all[way] = sum
			if got["Lugtak"].minutes > 1.1*g.minutes {
				t.Errorf("%s: %.1f minutes, %s takes %.1f", name, got["Lugtak"].minutes, way, g.minutes)
			}
		}
	}
	for _, way := range []string{"gentle first", "rough first"} {
		if all["Lugtak"].minutes > 0.9*all[way].minutes {
			t.Errorf("over all kinds %.1f minutes, %s takes %.1f", all["Lugtak"].minutes, way, all[way].minutes)
		}
	}
	if all["Lugtak"].broken >= all["rough first"].broken {
		t.Errorf("%d broken over all kinds, the rough ladder breaks %d", all["Lugtak"].broken, all["rough first"].broken)
	}
	t.Log("\n" + table)
	if *write == "" {
		return
	}
	text := fmt.Sprintf(studyText, n, table)
	if err := os.WriteFile(*write, []byte(text), 0o644); err != nil {
		t.Fatal(err)
	}
}

const studyText = `# Study: seizures of known truth

Made by ` + "`make study`" + `: %d seizures of each kind. A seizure is a bond that work wears down and
a part that bears so much; a try frees when its load exceeds the bond, and breaks when it exceeds
the part. That world knows nothing of grades and chances, by which the ladder reckons. Each ladder
meets the same seizures with the same things near and to be kept, and skips what those refuse.
Penetrant has its time, as other steps go on meanwhile.
*Gentle first* goes through every rung from the mildest to the hardest, *rough first* takes what
hits hardest. What breaks, and what is cut off, costs the minutes the library gives for it. The
numbers of the world are drawn from memory of the trade, so the differences count, not the minutes.

| kind | ladder | minutes to freedom | broken | given up |
| --- | --- | --: | --: | --: |
%s`
