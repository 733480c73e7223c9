package pull

import (
	"math"
	"slices"
	"testing"
)

// to is a pull drawn from a run-down to 200° on: the flank in so many degrees to a torque, held, let go.
func to(deg, nm float64) []Sample {
	return draw(append([]act{resting, runDown, {200 + deg, nm, 0.8}}, release(200+deg, nm)...)...)
}

func alike(slope, turn float64, n int) []Feature {
	return slices.Repeat([]Feature{{Slope: slope, Turn: turn}}, n)
}

// On the bottom of its hole a bolt rises in 4.5° from a tenth to nineteen twentieths of its height; where the joint or
// its siblings are known, by how much steeper it is than those, and never over more than nine degrees.
func TestWhereABottomIsSaid(t *testing.T) {
	for _, c := range []struct {
		name string
		deg  float64
		ex   Expect
		want bool
	}{
		{"five degrees", 5, Expect{}, true}, // 4.25 of them
		{"six degrees", 6, Expect{}, false}, // 5.1
		{"nothing to speak of", 2, Expect{}, true},
		{"1.9 times what the joint gives", 8, Expect{SlopeLow: 2, SlopeHigh: 3.9}, true}, // 59 / 8 = 7.4
		{"1.3 times what the joint gives", 8, Expect{SlopeLow: 2, SlopeHigh: 5.7}, false},
		{"steeper than the joint, and too long", 13, Expect{SlopeLow: 1, SlopeHigh: 2}, false},
		{"three times its siblings", 8, Expect{Siblings: alike(2.4, 25, 3)}, true},
		{"two and a fifth times its siblings", 8, Expect{Siblings: alike(3.4, 18, 3)}, false},
		{"as its siblings", 5, Expect{Siblings: alike(11.5, 5, 3)}, false},
	} {
		v := look(stages(t, "60 Nm"), to(c.deg, 60), c.ex)
		if got := len(bottomed(v)) > 0; got != c.want {
			t.Errorf("%s: %v (rise %.2f°, slope %.2f)", c.name, got, v.riseDeg(), v.slope)
		}
	}
	short := draw(append([]act{resting, {10, 1, 0.3}, {14, 60, 0.8}}, release(14, 60)...)...)
	if v := look(stages(t, "60 Nm"), short, Expect{}); len(bottomed(v)) > 0 {
		t.Error("a second pull, with ten degrees before it, stands on a bottom")
	}
	weak := look(stages(t, "60 Nm"), to(3, 17), Expect{})
	if len(bottomed(weak)) > 0 {
		t.Error("a third of the figure is no bottom yet")
	}
}

// What gives is told from the hand by how far it went on: six degrees, or a tenth of the flank.
func TestHowFarItHasToGive(t *testing.T) {
	for _, c := range []struct {
		name     string
		deg, nm  float64 // on from 50 N·m at 230°
		recipe   string
		want     Signature
		nothings bool
	}{
		{"four degrees on", 4, 52, "52 Nm", "", true},
		{"ten degrees on, a fifth as steep", 10, 53.3, "53 Nm", Yielded, false},
		{"ten degrees on, and falls by a tenth", 12, 44, "50 Nm", Stripped, false},
		{"ten degrees on, and falls by little", 12, 48.5, "50 Nm", Stripped, false}, // a falling slope
		{"twelve degrees on, hardly rising", 12, 51.5, "51 Nm", Yielded, false},
		{"turned by angle, and gives as it is meant to", 30, 60, "20 Nm + 45°", "", true},
		{"turned by angle, and falls by a third", 30, 33, "20 Nm + 45°", Stripped, false},
		{"turned by angle, and gives before its torque", 60, 56, "60 Nm + 45°", Yielded, false},
	} {
		acts := []act{resting, runDown, {230, 50, 0.8}, {230 + c.deg, c.nm, c.deg / 30}}
		v := look(stages(t, c.recipe), draw(append(acts, release(230+c.deg, c.nm)...)...), Expect{})
		f := gives(v)
		switch {
		case c.nothings && len(f) > 0:
			t.Errorf("%s: %s", c.name, f[0].sig)
		case !c.nothings && (len(f) == 0 || f[0].sig != c.want):
			t.Errorf("%s: %+v", c.name, f)
		}
	}
}

// Teeth of a saw are falls during which the fastener jumped on; a hand that lets go turns nothing, and one that slips
// far lost its grip.
func TestTeethAreCounted(t *testing.T) {
	for _, c := range []struct {
		name       string
		drop, jump float64 // N·m and degrees of each of four
		want       int
	}{
		{"four that gall", 12, 1, 4},
		{"a hand that jerks", 12, 0, 0},
		{"scatter", 1, 0.5, 0},
		{"slips by eight degrees", 12, 8, 0},
		{"all let go", 40, 1, 0},
	} {
		acts := []act{resting, runDown}
		deg, nm := 200.0, 1.0
		for range 4 {
			deg, nm = deg+7, nm+14+c.drop/4
			acts = append(acts, act{deg, nm, 0.4})
			deg, nm = deg+c.jump, nm-c.drop
			acts = append(acts, act{deg, math.Max(nm, 0.5), 0.01})
			nm = math.Max(nm, 0.5)
		}
		acts = append(acts, act{deg + 6, 66, 0.4}, act{deg + 6, 66, 0.1}, act{deg + 6, 0, 0.1}, act{deg + 6, 0, 0.3})
		v := look(stages(t, "66 Nm"), draw(acts...), Expect{})
		if _, n := v.teeth(); n != c.want {
			t.Errorf("%s: %d teeth, want %d", c.name, n, c.want)
		}
	}
}

// The digit of a tool is the least step that all others are multiples of; where most are not, it shows none.
func TestDigitOfATool(t *testing.T) {
	series := func(of ...float64) (out []Sample) {
		for i, nm := range of {
			out = append(out, Sample{T: float64(i), Torque: nm})
		}
		return out
	}
	whole := func(digit float64) (of []float64) {
		for i := range 60 {
			of = append(of, digit*float64(i*i%7+i))
		}
		return of
	}
	uneven := make([]float64, 60)
	for i := range uneven {
		uneven[i] = math.Sqrt(float64(i))
	}
	for _, c := range []struct {
		name string
		s    []Sample
		want float64
	}{
		{"halves", series(whole(0.5)...), 0.5},
		{"wholes", series(whole(1)...), 1},
		{"twentieths", series(whole(0.05)...), 0.05},
		{"none", series(uneven...), 1e-9},
		{"one torque", series(5, 5, 5, 5), 0},
		{"one torque, then another", series(5, 5, 5.2, 5.2), 0.2},
	} {
		about(t, c.name, digitOf(c.s), c.want, 1e-6)
	}
}

// A line through evenly spaced readings is as sure as the textbook says: σ·√(12/n) over their span.
func TestPaceAndItsError(t *testing.T) {
	var s []Sample
	for i := range 11 {
		s = append(s, Sample{T: 0.1 * float64(i), Torque: 3 + 0.7*float64(i)})
	}
	about(t, "pace", pace(s), 7, 1e-9)
	about(t, "of one", pace(s[:1]), 0, 0)
	about(t, "of two", pace(s[:2]), 7, 1e-9)
	about(t, "its error", paceError(0.5, 12, 2), 0.25, 1e-12)
	about(t, "its error over nothing", paceError(0.5, 12, 0), 0.5/1e-9, 1)
}
