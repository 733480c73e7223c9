package pull

import (
	"math"
	"slices"
	"testing"
)

// What a straight flank can hide is told, and where siblings show it refused. Traces drawn by hand, of a fastener at
// 60 N·m; bounds are common practice.
func TestDoubts(t *testing.T) {
	flank := func(deg float64) []Sample {
		return draw(append([]act{resting, runDown, {200 + deg, 60, 0.8}}, release(200+deg, 60)...)...)
	}
	rising := func(nms float64) []Sample { // it stops on the rise, that many N·m a second before
		return draw(resting, runDown, act{228, 60 - nms/2, 0.8}, act{230, 60, 0.5})
	}
	held := draw(resting, runDown, act{230, 60, 0.8}, act{230, 60, 0.4})
	gone := draw(resting, runDown, act{230, 57, 0.8}, act{231, 60, 1.2}, act{231, 25, 0.4}, act{231, 0, 0.2},
		act{231, 0, 0.2})
	kept := draw(resting, runDown, act{230, 60, 0.6}, act{230, 60, 1.4}, act{230, 25, 0.4}, act{230, 0, 0.2},
		act{230, 0, 0.2})
	held2 := draw(resting, runDown, act{230, 61.5, 0.8}, act{230, 61.5, 0.4}, act{230, 0, 0.2}, act{230, 0, 0.2})
	scattered := func(s []Sample, most float64) []Sample { // by three digits, and cut off where the sensor ends
		i := 0
		return bent(s, func(x Sample) Sample {
			i++
			x.Torque = math.Min(most, math.Round(10*x.Torque+float64(i*i%7)-3)/10)
			return x
		})
	}
	saw := func(depth float64) []Sample {
		acts := []act{resting, runDown, {222, 45, 0.6}}
		for k := range 6 {
			at := 222 + 1.3*float64(k)
			acts = append(acts, act{at + 0.3, 45 + 2.5*float64(k) + depth, 0.1}, act{at + 1.3, 47.5 + 2.5*float64(k), 0.015})
		}
		return draw(append(append(acts, act{230, 60, 0.1}), release(230, 60)...)...)
	}
	alike := func(slope, turn float64) Expect {
		f := Feature{Slope: slope, Turn: turn, Peak: 60}
		return Expect{Siblings: []Feature{f, f}}
	}
	for _, c := range []struct {
		name   string
		trace  []Sample
		ex     Expect
		kept   bool
		unsure bool
	}{
		{"as stiff as its thread in a common joint", flank(30), Expect{SlopeLow: 1, SlopeHigh: 1.9}, true, false},
		{"a quarter stiffer: a short grip, or friction", flank(30), Expect{SlopeLow: 1, SlopeHigh: 1.6}, true, true},
		{"a quarter stiffer, and so are its siblings",
			flank(30), Expect{SlopeLow: 1, SlopeHigh: 1.6, Siblings: alike(2, 30).Siblings}, true, false},
		{"steeper than its siblings by a third, after half of their turn", flank(30), alike(1.45, 60), false, false},
		{"steeper by a third, after two thirds of it", flank(30), alike(1.45, 44), true, false},

		{"held until the recording stops", held, Expect{}, true, false},
		{"still rising by a fiftieth a second", rising(1.2), Expect{}, true, false},
		{"still rising by a twentieth a second", rising(3), Expect{}, false, true},
		{"still rising by a sixth a second", rising(10), Expect{}, false, true},

		{"let go behind a gap that began on the rise", slices.Delete(slices.Clone(gone), 560, 700), Expect{}, false, true},
		{"a gap on the rise, and its top behind it", slices.Delete(slices.Clone(gone), 380, 520), Expect{}, true, false},
		{"let go behind a gap that began while it held", slices.Delete(slices.Clone(kept), 560, 700), Expect{}, true, false},

		{"held by a sensor that scatters", scattered(held2, 1000), Expect{}, true, false},
		{"one figure again and again by a sensor that scatters", scattered(held2, 60), Expect{}, false, true},

		{"a saw by a thirtieth of the figure: any oiled thread's", saw(2), Expect{}, true, false},
		{"a saw by a tenth", saw(6), Expect{}, false, false},
	} {
		res, err := Judge(stages(t, "60 Nm"), c.trace, c.ex)
		if err != nil {
			t.Errorf("%s: %v", c.name, err)
			continue
		}
		if kept := res.Verdict == Keep; kept != c.kept || (res.Sure < 0.7) != c.unsure {
			t.Errorf("%s: %s, %s, sure %.2f: %+v", c.name, res.Signature, res.Verdict, res.Sure, res.Reasons)
		}
	}
}

// A slow tool shows one low reading where it takes hold anew: no thread eases by it. Several are one that does.
func TestATakenHoldIsNoEasing(t *testing.T) {
	trace := func(low int) []Sample {
		var out []Sample
		at := func(deg, nm float64) {
			out = append(out, Sample{T: float64(len(out)) * 0.02, Angle: deg, Torque: nm})
		}
		for range 10 {
			at(0, 0)
		}
		for deg := 6.0; deg <= 600; deg += 6 {
			nm := 18.0
			if deg < 240 {
				nm = 0.1
			} else if deg < 400 {
				nm = 18 * (deg - 240) / 160
			}
			if deg == 312 { // let go, and taken hold of anew
				for range 6 {
					at(deg, 0)
				}
			}
			if deg >= 318 && deg < 318+6*float64(low) {
				nm = 1
			}
			at(deg, nm)
		}
		for nm := 18.0; nm < 100; nm += 4 {
			at(600+(nm-18)/3, nm)
		}
		for range 6 {
			at(627, 100)
		}
		for range 10 {
			at(627, 0)
		}
		return out
	}
	for low, want := range map[int]Signature{0: Good, 1: Good, 3: CrossThreaded} {
		res, err := Judge(stages(t, "95–105 Nm"), trace(low), Expect{})
		if err != nil || res.Signature != want {
			t.Errorf("%d low readings: %s, %v: %+v", low, res.Signature, err, res.Reasons)
		}
	}
}
