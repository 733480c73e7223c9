package sim

import (
	"flag"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"slices"
	"strings"
	"testing"

	"lugtak/core/pull"
	"lugtak/core/recipe"
	"lugtak/core/thread"
)

var (
	write = flag.String("write", "", "write the study to this file, with 200 pulls a kind")
	tune  = flag.Bool("tune", false, "take the seeds the judge may be tuned with, and log what was misread")
)

// Seeds are kept apart: the judge was tuned with the first only.
const (
	tuneSeeds = 1_000_000
	testSeeds = 20_000_000
	apart     = 100_000 // between kinds
)

// studySeeds are three takes of the study, each of at least so many pulls.
var studySeeds = []uint64{500_000_000, 530_000_000, 560_000_000}

const studyPulls = 4096

// What a good judge comes to.
const (
	rightFrom250 = 0.98
	rightAt100   = 0.95
	rightAt50    = 0.95 // right, or not sure
	notSure      = 0.70
	mostRefused  = 0.01 // of good ones
	mostShaken   = 0.05 // of those by a hand that shakes
)

// judge gives the judge what a bench would: half of the time the thread, by and by four
// siblings that were sound, the flex where the angle is read at the grip.
func (sc scene) judge(t testing.TB, seed uint64) pull.Result {
	t.Helper()
	rec, err := recipe.Parse(sc.recipe)
	if err != nil {
		t.Fatal(err)
	}
	var ex pull.Expect
	if sc.thread != "" {
		th, err := thread.Parse(sc.thread)
		if err != nil {
			t.Fatal(err)
		}
		ex.SlopeLow, ex.SlopeHigh = th.SlopeBand("")
	}
	rng := rand.New(rand.NewPCG(seed, 5))
	for range 4 {
		if sc.slope > 0 {
			ex.Siblings = append(ex.Siblings, pull.Feature{Slope: sc.slope * (0.95 + 0.1*rng.Float64())})
		}
	}
	ex.FlexDegPerNm = sc.flex
	var trace []pull.Sample
	for _, x := range sc.play.Readings {
		trace = append(trace, pull.Sample(x))
	}
	res, err := pull.Judge(rec.Stages, trace[:min(len(trace), pull.MaxSamples)], ex)
	if err != nil {
		t.Fatal(err)
	}
	return res
}

// hurts says that the verdict on it would hurt somebody.
func (sc scene) hurts(res pull.Result) bool {
	kept := res.Verdict == pull.Keep
	if sc.unsure {
		return kept && (sc.slope > 0 || res.Sure >= notSure)
	}
	return kept && sc.danger
}

// share is so many of so many.
type share struct{ n, of int }

func (s share) part() float64 { return float64(s.n) / math.Max(1, float64(s.of)) }

// tally is what a study came to.
type tally struct {
	rate    map[float64]share
	kind    map[string]share
	other   map[string]map[pull.Signature]int // what was read instead
	kept    []string                          // dangerous ones
	refused share                             // good ones
	shaken  share                             // and those of them by a hand that shakes
	all     int
}

func study(t *testing.T, n int, takes ...uint64) tally {
	out := tally{
		rate:  map[float64]share{},
		kind:  map[string]share{},
		other: map[string]map[pull.Signature]int{},
	}
	for i := range len(takes) * len(kinds) * n {
		k := i / n % len(kinds)
		seed := takes[i/n/len(kinds)] + uint64(k)*apart + uint64(i%n)
		sc := drawn(k, seed)
		if sc.edge && !sc.unseen && !sc.unsure {
			continue
		}
		res := sc.judge(t, seed)
		out.add(sc, res)
		if sc.hurts(res) {
			out.kept = append(out.kept, fmt.Sprintf("%s, seed %d, %g Hz", sc.name, seed, sc.rate))
		}
		if *tune && string(res.Signature) != sc.want {
			t.Logf("seed %d: %s, %g Hz, %s, wanted %s: %s, sure %.2f: %s", seed, sc.name, sc.rate,
				sc.recipe, sc.want, res.Signature, res.Sure, res.Reasons[0].Message)
		}
	}
	return out
}

func (x *tally) add(sc scene, res pull.Result) {
	x.all++
	right := string(res.Signature) == sc.want
	switch {
	case sc.unseen:
		right = res.Verdict != pull.Keep
	case sc.unsure:
		right = !sc.hurts(res)
	case sc.rate == rates[0] && res.Sure < notSure:
		right = true
	}
	r, k := x.rate[sc.rate], x.kind[sc.name]
	r.of++
	k.of++
	if right {
		r.n++
		k.n++
	} else {
		if x.other[sc.name] == nil {
			x.other[sc.name] = map[pull.Signature]int{}
		}
		x.other[sc.name][res.Signature]++
	}
	x.rate[sc.rate] = r
	x.kind[sc.name] = k
	if sc.good {
		refused := &x.refused
		if sc.shaking {
			refused = &x.shaken
		}
		refused.of++
		if res.Verdict != pull.Keep {
			refused.n++
		}
	}
}

// The study: mechanics that know nothing of the judge, seeds it was not tuned with. No
// dangerous pull is kept, hardly a good one refused. With -write it is taken whole and
// put down in docs.
func TestStudy(t *testing.T) {
	n, takes := 20, []uint64{testSeeds}
	switch {
	case *write != "":
		n, takes = studyPulls/len(kinds)+1, studySeeds
	case *tune:
		n, takes = 200, []uint64{tuneSeeds}
	}
	x := study(t, n, takes...)
	for _, r := range rates {
		least := rightFrom250
		switch {
		case r <= 50:
			least = rightAt50
		case r <= 100:
			least = rightAt100
		}
		// A few hundred pulls stray by themselves.
		stray := 2 * math.Sqrt(least*(1-least)/float64(x.rate[r].of))
		if x.rate[r].part() < least-stray {
			t.Errorf("%g Hz: %d of %d right", r, x.rate[r].n, x.rate[r].of)
		}
	}
	if len(x.kept) > 0 {
		t.Errorf("dangerous and kept: %s", strings.Join(x.kept, "; "))
	}
	for _, c := range []struct {
		share
		most float64
	}{{x.refused, mostRefused}, {x.shaken, mostShaken}} {
		if stray := 2 * math.Sqrt(c.most/float64(c.of)); c.part() > c.most+stray {
			t.Errorf("%d of %d good ones refused", c.n, c.of)
		}
	}
	if *write == "" {
		return
	}
	if err := os.WriteFile(*write, []byte(x.text(t, n)), 0o644); err != nil {
		t.Fatal(err)
	}
}

func (x tally) text(t *testing.T, n int) string {
	var b strings.Builder
	fmt.Fprintf(&b, `# Study: what the judge makes of simulated pulls

Made by `+"`make study`"+` in three takes, from seeds %v on, %d of each kind, %d pulls in all; no threshold was
tuned with them. Seeds of earlier takes in which a dangerous pull was kept were looked at, and are spent: 50, 70,
90, 150, 200, 230, 260, 300, 330, 360, 400, 430 and 460
million on. The world was written by whoever writes the judge: it shares no code with it, but it is not a
stranger's.

The world they come from (`+"`device/sim`"+`) is mechanics that know nothing of the judge: thread and
head rub apart, parts give and settle, shanks yield and harden, threads shear, jam and gall, a
bolt meets the bottom of its hole and twists, an insert bites late, faces seize as they are pressed; a hand
of limited room, unsteady and late, turns
a handle; a spring winds up between. Drawn wide: M6 to M16, friction 0.10 to 0.16, grips of 1.5
to 4 diameters, 50 to 5000 readings a second, scatter up to 1 %% of the figure, digits of 0.4 %%
and half a degree, offset and drift, angle at the head or at the grip, ratchets, jerks, missing
readings, recordings without a rest before or that end while the tool is let go. Half of the
pulls come with their thread, two fifths with what their siblings showed.

A pull within 2.8 %% and 5.5 %% of the figure, or 3.5° and 6.8° of the angle, is near an edge of
its window (±4 %%, ±5°): nobody can call a verdict on it wrong, and it stands in the curve
below instead.

| played | pulls | right | read instead |
| --- | --: | --: | --- |
`, studySeeds, n, x.all)
	for _, k := range kinds {
		var other []string
		for sig, n := range x.other[k.name] {
			other = append(other, fmt.Sprintf("%s %d", sig, n))
		}
		slices.Sort(other)
		fmt.Fprintf(&b, "| %s | %d | %.1f %% | %s |\n", k.name, x.kind[k.name].of, 100*x.kind[k.name].part(),
			strings.Join(other, ", "))
	}
	b.WriteString("\n| readings a second | pulls | right |\n| --: | --: | --: |\n")
	for _, r := range rates {
		fmt.Fprintf(&b, "| %g | %d | %.1f %% |\n", r, x.rate[r].of, 100*x.rate[r].part())
	}
	fmt.Fprintf(&b, "\nAt 50 a second a verdict that says it is not sure (below %g) counts as right.\n\n", notSure)
	fmt.Fprintf(
		&b,
		"- Dangerous and kept: %d. Dangerous is turned back, crossed, sheared, yielded before its figure, on the\n"+
			"  bottom of its hole, further outside its window than the window is wide on that side, with a top that is not in\n"+
			"  the recording, or seized and either sure of or beside sound siblings.\n",
		len(x.kept),
	)
	fmt.Fprintf(&b, "- Good and refused: %d of %d; by a hand that shakes and lets go, %d of %d.\n", x.refused.n,
		x.refused.of,
		x.shaken.n, x.shaken.of)
	b.WriteString(
		"\n## At the edge of a window\n\nSound pulls to a share of the figure, window ±4 %, 60 pulls each: how many are " +
			"kept.\n\n" +
			"| true share | kept | mean sure |\n| --: | --: | --: |\n",
	)
	for _, e := range edges(t, studySeeds[0]+50*apart, 60) {
		fmt.Fprintf(&b, "| %.2f | %.0f %% | %.2f |\n", e.at, 100*e.kept.part(), e.sure)
	}
	b.WriteString("\nWhat no judge can know stands in [LIMITS.md](LIMITS.md).\n")
	return b.String()
}

// edge is what becomes of pulls to one share of the figure.
type edge struct {
	at   float64
	kept share
	sure float64
}

func edges(t testing.TB, seed uint64, n int) []edge {
	var out []edge
	for pct := 90; pct <= 110; pct++ {
		e := edge{at: float64(pct) / 100}
		for e.kept.of < n {
			seed++
			w := newWorld(seed)
			w.h.Reaction = 0
			w.to(e.at)
			if math.Abs(w.sc.at-e.at) > 0.004 {
				continue
			}
			res := w.sc.judge(t, seed)
			e.kept.of++
			if res.Verdict == pull.Keep {
				e.kept.n++
			}
			e.sure += res.Sure / float64(n)
		}
		out = append(out, e)
	}
	return out
}

// At the edge the verdict goes over from one to the other, and says that it is less
// sure there than far from it.
func TestEdgeIsACurve(t *testing.T) {
	es := edges(t, testSeeds+60*apart, 12)
	sure := map[int]float64{}
	for _, e := range es {
		pct := int(math.Round(100 * e.at))
		sure[pct] = e.sure
		within := pct >= 98 && pct <= 102
		beyond := pct <= 93 || pct >= 107
		if within && e.kept.part() < 0.9 || beyond && e.kept.n > 0 {
			t.Errorf("at %d %%: %d of %d kept", pct, e.kept.n, e.kept.of)
		}
	}
	for _, edge := range []int{96, 104} {
		if sure[edge] > sure[100]-0.1 {
			t.Errorf("at %d %% as sure as in the middle: %.2f, %.2f", edge, sure[edge], sure[100])
		}
	}
}
