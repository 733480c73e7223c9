package device_test

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"lugtak/core/pull"
	"lugtak/core/recipe"
	"lugtak/device"
)

// kase is one simulated pull with the signature it must get.
type kase struct {
	want   pull.Signature
	stage  string
	second bool // judge the angle stage of the recipe
	fault  device.Fault
	hand   func(r *rand.Rand, target float64) device.Hand
	known  bool // the joint's slope is known, as on the bench
}

const target, slope = 60.0, 2.0

func to(lo, hi float64) func(*rand.Rand, float64) device.Hand {
	return func(r *rand.Rand, t float64) device.Hand {
		return device.Hand{ToNm: t * (lo + (hi-lo)*r.Float64())}
	}
}

func turn(lo, hi float64) func(*rand.Rand, float64) device.Hand {
	return func(r *rand.Rand, t float64) device.Hand { return device.Hand{TurnDeg: lo + (hi-lo)*r.Float64()} }
}

var kases = []kase{
	{pull.Good, "60 Nm", false, device.Sound, to(0.985, 1.015), true},
	{pull.Low, "60 Nm", false, device.Sound, to(0.75, 0.93), true},
	{pull.High, "60 Nm", false, device.Sound, to(1.07, 1.25), true},
	{pull.Good, "60 Nm + 90°", true, device.Sound, turn(87, 93), true},
	{pull.AngleShort, "60 Nm + 90°", true, device.Sound, turn(60, 82), true},
	{pull.AngleLong, "60 Nm + 90°", true, device.Sound, turn(98, 120), true},
	{pull.CrossThreaded, "60 Nm", false, device.Crossed, to(0.99, 1.01), true},
	{pull.Stripped, "60 Nm", false, device.Strips, to(0.99, 1.01), true},
	{pull.Yielded, "60 Nm", false, device.Yields, to(0.99, 1.01), true},
	{pull.Bottomed, "60 Nm", false, device.Bottoms, to(0.99, 1.01), true},
	{pull.StickSlip, "60 Nm", false, device.Galls, to(0.99, 1.01), true},
	{pull.NoMovement, "60 Nm", false, device.AlreadyTight, to(0.99, 1.01), true},
	{pull.Soft, "60 Nm", false, device.SoftJoint, to(0.985, 1.015), true},
	{pull.UnlikeSiblings, "60 Nm", false, device.OtherGrease, to(0.985, 1.015), true},
}

func play(k kase, seed uint64) ([]pull.Sample, []recipe.Stage, pull.Expect) {
	r := rand.New(rand.NewPCG(seed, 77))
	rec, err := recipe.Parse(k.stage)
	if err != nil {
		panic(err)
	}
	stages := rec.Stages
	standing := 0.0
	if k.second {
		stages, standing = stages[1:], target
	}
	h := k.hand(r, target)
	h.Rate = []float64{50, 100, 400, 1000, 5000}[r.IntN(5)]
	h.Noise = target * []float64{0, 0.002, 0.005}[r.IntN(3)]
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
	b := device.NewBolt(k.fault, target, slope, standing, seed)
	var s []pull.Sample
	for _, x := range b.Play(h) {
		s = append(s, pull.Sample(x))
	}
	ex := pull.Expect{SlopeLow: 0.7 * slope, SlopeHigh: 1.7 * slope}
	for range 4 {
		sl := slope * (0.94 + 0.12*r.Float64())
		ex.Siblings = append(ex.Siblings, pull.Feature{Slope: sl, Turn: target / sl, Peak: target})
	}
	if k.second {
		ex.Siblings = nil
	}
	return s, stages, ex
}

// Every signature is recognised in the stand-in's pulls.
func TestSignatures(t *testing.T) {
	for i, k := range kases {
		wrong := map[pull.Signature]int{}
		const n = 20
		ok := 0
		example := ""
		for seed := range uint64(n) {
			s, stages, ex := play(k, seed*31+uint64(i))
			res, err := pull.Judge(stages, s, ex)
			if err != nil {
				t.Fatal(err)
			}
			if res.Signature == k.want {
				ok++
				continue
			}
			wrong[res.Signature]++
			example = fmt.Sprintf("seed %d n=%d %+v", seed*31+uint64(i), len(s), res)
		}
		if ok < n*97/100 {
			t.Errorf("%s (%s): %d of %d; instead %v\n%s", k.want, k.stage, ok, n, wrong, example)
		}
	}
}
