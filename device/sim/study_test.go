package sim_test

import (
	"flag"
	"fmt"
	"maps"
	"math/rand/v2"
	"os"
	"slices"
	"strings"
	"testing"

	"lugtak/core/pull"
	"lugtak/core/recipe"
	"lugtak/device/sim"
)

// kase is one simulated pull with the signature it must get.
type kase struct {
	want   pull.Signature
	second bool // judge the angle stage of the recipe
	fault  sim.Fault
	hand   func(r *rand.Rand, target float64) sim.Hand
	known  bool // the joint's slope is known, as on the bench
}

func to(lo, hi float64) func(*rand.Rand, float64) sim.Hand {
	return func(r *rand.Rand, t float64) sim.Hand {
		return sim.Hand{ToNm: t * (lo + (hi-lo)*r.Float64())}
	}
}

func turn(lo, hi float64) func(*rand.Rand, float64) sim.Hand {
	return func(r *rand.Rand, t float64) sim.Hand { return sim.Hand{TurnDeg: lo + (hi-lo)*r.Float64()} }
}

var kases = []kase{
	{pull.Good, false, sim.Sound, to(0.985, 1.015), true},
	{pull.Low, false, sim.Sound, to(0.75, 0.93), true},
	{pull.High, false, sim.Sound, to(1.07, 1.25), true},
	{pull.Good, true, sim.Sound, turn(87, 93), true},
	{pull.AngleShort, true, sim.Sound, turn(60, 82), true},
	{pull.AngleLong, true, sim.Sound, turn(98, 120), true},
	{pull.CrossThreaded, false, sim.Crossed, to(0.99, 1.01), true},
	{pull.Stripped, false, sim.Strips, to(0.99, 1.01), true},
	{pull.Yielded, false, sim.Yields, to(0.99, 1.01), true},
	{pull.Bottomed, false, sim.Bottoms, to(0.99, 1.01), true},
	{pull.StickSlip, false, sim.Galls, to(0.99, 1.01), true},
	{pull.NoMovement, false, sim.AlreadyTight, to(0.99, 1.01), true},
	{pull.Soft, false, sim.SoftJoint, to(0.985, 1.015), true},
	{pull.UnlikeSiblings, false, sim.OtherGrease, to(0.985, 1.015), true},
}

// play makes one pull of a case: bolt, pace, noise and hand by the seed.
func play(k kase, seed uint64) (s []pull.Sample, stages []recipe.Stage, ex pull.Expect, rate, noise float64) {
	r := rand.New(rand.NewPCG(seed, 77))
	target := []float64{8, 25, 60, 110, 200}[r.IntN(5)]
	slope := target / (20 + 40*r.Float64())
	rec, err := recipe.Parse(fmt.Sprintf("%g Nm + 90°", target))
	if err != nil {
		panic(err)
	}
	stages = rec.Stages[:1]
	standing := 0.0
	if k.second {
		stages, standing = rec.Stages[1:], target
	}
	h := k.hand(r, target)
	h.Rate = []float64{50, 100, 400, 1000, 5000}[r.IntN(5)]
	noise = []float64{0, 0.002, 0.005, 0.01}[r.IntN(4)]
	h.Noise = target * noise
	h.Offset = target * 0.02 * (r.Float64() - 0.5)
	switch r.IntN(5) {
	case 0:
		h.Jerks = 1 + r.IntN(2)
	case 1:
		h.Strokes = 2 + r.IntN(3)
	case 2:
		h.Click = true
	case 3:
		h.Drop = 0.1
	}
	b := sim.NewBolt(k.fault, target, slope, standing, seed)
	for _, x := range b.Play(h) {
		s = append(s, pull.Sample(x))
	}
	ex = pull.Expect{SlopeLow: 0.7 * slope, SlopeHigh: 1.7 * slope}
	for range 4 {
		sl := slope * (0.94 + 0.12*r.Float64())
		ex.Siblings = append(ex.Siblings, pull.Feature{Slope: sl, Turn: target / sl, Peak: target})
	}
	if k.second {
		ex.Siblings = nil
	}
	return s, stages, ex, h.Rate, noise
}

var write = flag.String("write", "", "write the study to this file, with 200 pulls a case")

// The study: every signature is recognised in at least 97 of 100 of the
// stand-in's pulls. The seeds are not those the judge was tuned with. With
// -write it is taken whole and put down in docs.
func TestStudy(t *testing.T) {
	n, first := uint64(25), uint64(9_000_000)
	if *write != "" {
		n, first = 200, 5_000_000
	}
	table := map[pull.Signature]map[pull.Signature]int{}
	byRate, byNoise := map[float64][2]int{}, map[float64][2]int{}
	for i, k := range kases {
		row := table[k.want]
		if row == nil {
			row = map[pull.Signature]int{}
			table[k.want] = row
		}
		for j := range n {
			seed := first + uint64(i)*100_000 + j
			s, stages, ex, rate, noise := play(k, seed)
			res, err := pull.Judge(stages, s, ex)
			if err != nil {
				t.Fatal(err)
			}
			row[res.Signature]++
			right := 0
			if res.Signature == k.want {
				right = 1
			} else {
				t.Logf("seed %d, %g a second, noise %g: %s read as %s", seed, rate, noise, k.want, res.Signature)
			}
			c := byRate[rate]
			byRate[rate] = [2]int{c[0] + right, c[1] + 1}
			c = byNoise[noise]
			byNoise[noise] = [2]int{c[0] + right, c[1] + 1}
		}
	}
	all := 0
	for want, row := range table {
		of := 0
		for _, c := range row {
			of += c
		}
		all += of
		if float64(row[want]) < 0.97*float64(of)-0.5 {
			t.Errorf("%s: %d of %d: %v", want, row[want], of, row)
		}
	}
	if *write == "" {
		return
	}
	var b strings.Builder
	fmt.Fprintf(&b, "# Study: signatures of simulated pulls\n\nMade by `make study` from seeds %d on, which no threshold was tuned with. %d pulls of the\n"+
		"stand-in (`sim.Bolt`, which shares no code with the judge): targets of 8 to 200 N·m, slopes\n"+
		"of a twentieth to a sixtieth of the target a degree, 50 to 5 000 samples a second, noise up to\n"+
		"1 %% of the target, an offset of up to 1 %%, and by turns a jerking hand, ratchet strokes, a click\n"+
		"with overshoot and missing samples. The judge knows the joint's slope band and four siblings.\n\n", first, all)
	b.WriteString("| played | pulls | right | read instead |\n| --- | --: | --: | --- |\n")
	for _, want := range played() {
		row, of := table[want], 0
		var other []string
		for _, sig := range slices.Sorted(maps.Keys(row)) {
			of += row[sig]
			if sig != want {
				other = append(other, fmt.Sprintf("%s %d", sig, row[sig]))
			}
		}
		fmt.Fprintf(&b, "| %s | %d | %.1f %% | %s |\n", want, of, 100*float64(row[want])/float64(of), strings.Join(other, ", "))
	}
	for _, x := range []struct {
		head string
		m    map[float64][2]int
	}{{"samples a second", byRate}, {"noise, share of target", byNoise}} {
		fmt.Fprintf(&b, "\n| %s | pulls | right |\n| --: | --: | --: |\n", x.head)
		for _, k := range slices.Sorted(maps.Keys(x.m)) {
			fmt.Fprintf(&b, "| %g | %d | %.1f %% |\n", k, x.m[k][1], 100*float64(x.m[k][0])/float64(x.m[k][1]))
		}
	}
	if err := os.WriteFile(*write, []byte(b.String()), 0o644); err != nil {
		t.Fatal(err)
	}
}

// played lists the signatures in the order of the cases.
func played() []pull.Signature {
	var out []pull.Signature
	for _, k := range kases {
		if !slices.Contains(out, k.want) {
			out = append(out, k.want)
		}
	}
	return out
}
