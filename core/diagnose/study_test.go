package diagnose_test

import (
	"flag"
	"fmt"
	"math/rand/v2"
	"os"
	"slices"
	"testing"

	"lugtak/core/diagnose"
)

var write = flag.String("write", "", "write the study to this file, with 500 vehicles")

// patient is a simulated vehicle: its faults answer a question each by their own
// chance, jittered, since no workshop knows it to the digit, and one answer in
// twenty is simply wrong.
type patient struct {
	faults []string
	rng    *rand.Rand
}

func (p patient) answer(e diagnose.Evidence) bool {
	no := 1 - e.Leak
	for _, f := range p.faults {
		if q, ok := e.Speaks[f]; ok {
			no *= 1 - min(0.98, max(0.01, q+0.12*(2*p.rng.Float64()-1)))
		}
	}
	yes := p.rng.Float64() > no
	if p.rng.Float64() < 0.05 {
		return !yes
	}
	return yes
}

// Minutes to bring the vehicle from one position to the next, common practice.
var moves = map[string]float64{"drive": 0, "ground": 1, "raised": 5, "wheels off": 8}

const (
	sure   = 0.85 // the leading suspect is taken at this chance
	budget = 75.0 // minutes of tests
)

// builds are what a vehicle may be built with, where suspects depend on it: each of the study is one vehicle, and both
// ways ask only of what it has.
var builds = []struct {
	key     string
	answers []string
}{
	{"driven", []string{"front", "rear", "all"}},
	{"front-corner", []string{"strut-corner", "wishbone-corner", "solid-corner"}},
	{"rear-axle", []string{"beam", "strut", "links", "solid"}},
	{"rear-brake", []string{"disc", "hat", "drum"}},
	{"self-moving", []string{"no", "yes"}},
}

// built draws a vehicle.
func built(rng *rand.Rand) map[string]string {
	out := map[string]string{}
	for _, b := range builds {
		out[b.key] = b.answers[rng.IntN(len(b.answers))]
	}
	return out
}

// draw takes a fault as often as it is met.
func draw(k *diagnose.Knowledge, rng *rand.Rand) string {
	sum := 0.0
	for _, s := range k.Suspects {
		sum += s.Prior
	}
	at := sum * rng.Float64()
	for _, s := range k.Suspects {
		if at -= s.Prior; at <= 0 {
			return s.Key
		}
	}
	return k.Suspects[0].Key
}

// complaint is what the driver brings: of the signs that show, two in three.
func complaint(k *diagnose.Knowledge, p patient) []diagnose.Answer {
	var out []diagnose.Answer
	for _, e := range k.Evidence {
		if e.Kind == "sign" && e.Speaks[p.faults[0]] > e.Leak && p.answer(e) && p.rng.Float64() < 0.67 {
			out = append(out, diagnose.Answer{Key: e.Key, Yes: true})
		}
	}
	return out
}

// walk asks until it is sure or out of time; order picks the next question.
func walk(
	k *diagnose.Knowledge,
	p patient,
	order func(r diagnose.Report, at int) *diagnose.Evidence,
) (report diagnose.Report, minutes float64) {
	given := complaint(k, p)
	at := 0
	report, _ = k.Weigh(given, diagnose.History{})
	for n := 0; n < 60 && report.Suspects[0].Chance < sure; n++ {
		e := order(report, at)
		if e == nil {
			break
		}
		if slices.ContainsFunc(given, func(a diagnose.Answer) bool { return a.Key == e.Key }) {
			continue
		}
		to := slices.Index(diagnose.Positions, e.Position)
		for ; at < to; at++ {
			minutes += moves[diagnose.Positions[at+1]]
		}
		at = to
		minutes += max(e.Minutes, 0.5)
		given = append(given, diagnose.Answer{Key: e.Key, Yes: p.answer(*e)})
		report, _ = k.Weigh(given, diagnose.History{})
		if report.Suspects[0].Chance >= sure || minutes > budget {
			break
		}
	}
	return report, minutes
}

// The study: the true fault is first or second, and Lugtak's choice of tests
// needs clearly fewer minutes than a fixed checklist on the same vehicles.
func TestStudy(t *testing.T) {
	n := 40
	if *write != "" {
		n = 500
	}
	known := knowledge(t)
	var mine, fixed [2]struct {
		second, of int
		minutes    float64
	}
	for i := range n {
		rng := rand.New(rand.NewPCG(uint64(i), 0x5e77))
		vehicle := known.Of(built(rng))
		k := &vehicle
		faults := []string{draw(k, rng)}
		if i%3 == 2 {
			if f := draw(k, rng); f != faults[0] {
				faults = append(faults, f)
			}
		}
		smart := func(r diagnose.Report, at int) *diagnose.Evidence {
			var best *diagnose.Evidence
			gain := 0.0
			for j, x := range r.Next {
				to := slices.Index(diagnose.Positions, x.Position)
				if to < at {
					continue // nobody lowers it again for one question
				}
				cost := max(x.Minutes, 0.5)
				for p := at; p < to; p++ {
					cost += moves[diagnose.Positions[p+1]]
				}
				if g := x.Bits / cost; g > gain {
					best, gain = &r.Next[j].Evidence, g
				}
			}
			return best
		}
		next := 0
		list := slices.Clone(k.Evidence)
		slices.SortStableFunc(list, func(a, b diagnose.Evidence) int {
			return slices.Index(diagnose.Positions, a.Position) - slices.Index(diagnose.Positions, b.Position)
		})
		checklist := func(diagnose.Report, int) *diagnose.Evidence {
			if next >= len(list) {
				return nil
			}
			next++
			return &list[next-1]
		}
		for w, order := range []func(diagnose.Report, int) *diagnose.Evidence{smart, checklist} {
			r, m := walk(k, patient{faults, rand.New(rand.NewPCG(uint64(i), 0xab))}, order)
			sum := &mine
			if w == 1 {
				sum = &fixed
			}
			row := &sum[len(faults)-1]
			row.of++
			row.minutes += m
			if slices.Contains(faults, r.Suspects[0].Key) || slices.Contains(faults, r.Suspects[1].Key) {
				row.second++
			}
		}
	}
	all := func(x [2]struct {
		second, of int
		minutes    float64
	}) (share, minutes float64) {
		return float64(
			x[0].second+x[1].second,
		) / float64(x[0].of+x[1].of), (x[0].minutes + x[1].minutes) / float64(x[0].of+x[1].of)
	}
	share, minutes := all(mine)
	fixedShare, fixedMinutes := all(fixed)
	t.Logf("first or second %.1f %%, %.1f min; checklist %.1f %%, %.1f min", 100*share, minutes, 100*fixedShare,
		fixedMinutes)
	if share < 0.7 || minutes > 0.7*fixedMinutes {
		t.Errorf("first or second %.2f, %.1f min against %.1f by the checklist", share, minutes, fixedMinutes)
	}
	if *write == "" {
		return
	}
	text := fmt.Sprintf(`# Study: diagnosis of simulated vehicles

Made by %[1]smake study%[1]s: %[2]d vehicles, each with a build of its own, one in three with two faults. The driver
brings two in three of the signs that show. A fault answers each by its own chance, jittered by up to 0.12, and one
answer in twenty is wrong. Both ways ask until the leading suspect stands at %[3]g %% or %[4]g minutes are gone; moving
the vehicle counts
(to the ground 1, up 5, wheels off 8 minutes). The checklist asks the library's list from top to
bottom, position by position.

| vehicles | | a true fault first or second | minutes of tests |
| --- | --- | --: | --: |
`, "`", n, 100*sure, budget)
	for i, name := range []string{"one fault", "two faults"} {
		for _, x := range []struct {
			who string
			r   struct {
				second, of int
				minutes    float64
			}
		}{{"Lugtak's choice", mine[i]}, {"fixed checklist", fixed[i]}} {
			text += fmt.Sprintf("| %s (%d) | %s | %.1f %% | %.1f |\n", name, x.r.of, x.who,
				100*float64(x.r.second)/float64(x.r.of), x.r.minutes/float64(x.r.of))
		}
	}
	if err := os.WriteFile(*write, []byte(text), 0o644); err != nil {
		t.Fatal(err)
	}
}
