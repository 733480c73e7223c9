package pull

import (
	"math"
	"testing"
)

// Curves of straight pieces, whose shape is known to the last digit: what is read off them is their geometry.

// The slope is taken over the better part of the flank where that is as steep as its steepest part, else there alone.
func TestSlopeOfAKinkedFlank(t *testing.T) {
	for _, c := range []struct {
		name       string
		corners    [][2]float64
		slope, tol float64
	}{
		{"straight", [][2]float64{{0, 2}, {100, 2}, {140, 62}}, 1.5, 1e-9},
		{"its middle nine tenths as steep", [][2]float64{{0, 2}, {100, 2}, {112, 20}, {140.889, 59}, {143, 62}}, 1.35, 0.01},
		{"its middle half as steep", [][2]float64{{0, 2}, {100, 2}, {112, 20}, {160, 56}, {164, 62}}, 1.5, 0.01},
		{"steep at the top alone", [][2]float64{{0, 2}, {100, 2}, {150, 42}, {160, 62}}, 2, 0.02},
		{"one stretch of a fifth", [][2]float64{{0, 0}, {50, 0}, {80, 30}, {86, 42}, {104, 60}}, 2, 0.02},
	} {
		f := newFlank(kinked(c.corners...), 60)
		about(t, c.name, f.slope, c.slope, c.tol)
	}
}

// The flank begins where the way up to its steepest part is a quarter as steep as that, or at its foot.
func TestWhereAFlankBegins(t *testing.T) {
	for _, c := range []struct {
		name    string
		corners [][2]float64
		begins  float64
	}{
		// The chord from a degrees before 100 to the steep part 100–140: (2·k·a) falls under a quarter of the slope.
		{"after a flat run-down", [][2]float64{{0, 2}, {100, 2}, {140, 62}}, 103.5},
		// 0.3 N·m a degree is less than a quarter of 2, and yet the chord to the steep part is not: 0.3a + 2b < 0.5(a+b).
		{"after a gentle bend", [][2]float64{{0, 0}, {60, 0}, {90, 9}, {120, 69}}, 78.5},
		// The easiest tenth ends at 16 N·m; the foot is 0.08 of the 54 above it.
		{"without a run-down", [][2]float64{{0, 10}, {30, 70}}, 5.2},
	} {
		f := newFlank(kinked(c.corners...), 60)
		about(t, c.name, f.c[f.from].deg, c.begins, 0.51)
	}
}

// The rise is from a tenth of the height to nineteen twentieths, and no more than the upper slope makes of the height.
func TestRise(t *testing.T) {
	straight := newFlank(kinked([2]float64{0, 0}, [2]float64{50, 0}, [2]float64{90, 80}), 80)
	about(t, "straight", straight.riseDeg(), 0.85*40, 0.51)
	// A long foot: a tenth is reached at 58, the rest rises at 2 from 90 on. The upper slope says 80/2.
	foot := newFlank(kinked([2]float64{0, 0}, [2]float64{50, 0}, [2]float64{90, 40}, [2]float64{110, 80}), 80)
	about(t, "upper slope of a long foot", foot.topSlope(), line(foot.c[2*74+1:]), 1e-9)
	about(t, "a long foot", foot.riseDeg(), 50, 0.51)
	// With a drag under it, shares are of what lies above the drag.
	drag := newFlank(kinked([2]float64{0, 20}, [2]float64{50, 20}, [2]float64{90, 100}), 100)
	about(t, "above a drag", drag.riseDeg(), 0.85*40, 0.51)
	about(t, "the slope above a drag", drag.topSlope(), 2, 1e-9)
}

// A local slope is taken over an eighth of the flank, in points of its mean width, and never over fewer than three.
func TestWindowOfPoints(t *testing.T) {
	for _, c := range []struct {
		name    string
		corners [][2]float64
		points  int
	}{
		// 0.12 · 60 N·m / 1.5 N·m a degree = 4.8° in points of half a degree
		{"half a degree apart", [][2]float64{{0, 2}, {100, 2}, {140, 62}}, 10},
		// 0.12 · 60 / 0.5 = 14.4°
		{"a gentle flank", [][2]float64{{0, 2}, {100, 2}, {220, 62}}, 29},
		// 0.12 · 60 / 12 = 0.6°
		{"a steep flank", [][2]float64{{0, 2}, {100, 2}, {105, 62}}, 3},
	} {
		f := newFlank(kinked(c.corners...), 60)
		if got := f.window(); got != c.points {
			t.Errorf("%s: %d points, want %d (slope %.3f)", c.name, got, c.points, f.slope)
		}
	}
	if got := (&flank{c: kinked([2]float64{0, 0}, [2]float64{10, 0})}).window(); got != 2 {
		t.Errorf("without a slope: %d points", got)
	}
	if got := (&flank{c: []point{{0, 0, 0, 0}, {1, 5, 1, 1}}, slope: 5, peak: 5}).window(); got != 2 {
		t.Errorf("two points: %d", got)
	}
}

// The run-down ends before the bend: an eighth of the flank before it begins.
func TestRunDownEndsBeforeTheBend(t *testing.T) {
	for _, slope := range []float64{1, 2, 4} {
		f := newFlank(kinked([2]float64{0, 0}, [2]float64{100, 0}, [2]float64{100 + 80/slope, 80}), 80)
		run := f.runDown()
		about(t, "the last of the run-down", run[len(run)-1].deg, f.c[f.from].deg-0.15*80/slope, 0.51)
	}
	if run := (&flank{c: kinked([2]float64{0, 0}, [2]float64{10, 0}), from: 7}).runDown(); len(run) != 7 {
		t.Errorf("without a slope %d points", len(run))
	}
}

// What gives is where the slope falls under half of its best for good, above a third of the height.
func TestWhereItGives(t *testing.T) {
	for _, c := range []struct {
		name      string
		corners   [][2]float64
		from, deg float64 // 0 where nothing gives
		fell      float64
	}{
		{"straight", [][2]float64{{0, 0}, {50, 0}, {90, 80}}, 0, 0, 0},
		{"half as steep from half way", [][2]float64{{0, 0}, {50, 0}, {70, 40}, {110, 80}}, 0, 0, 0},
		{"two fifths as steep from half way", [][2]float64{{0, 0}, {50, 0}, {70, 40}, {120, 80}}, 70, 50, 0.6},
		{"flat at a quarter, then on", [][2]float64{{0, 0}, {50, 0}, {60, 20}, {80, 20}, {110, 80}}, 0, 0, 0},
		{"falls by twenty", [][2]float64{{0, 0}, {50, 0}, {90, 80}, {130, 60}}, 90, 40, 17.5},
	} {
		f := newFlank(kinked(c.corners...), 80)
		w, ok := f.weakens()
		if ok != (c.deg > 0) {
			t.Errorf("%s: gives %v at %.1f", c.name, ok, f.c[w.from].deg)
			continue
		}
		if ok {
			about(t, c.name+", from", f.c[w.from].deg, c.from, 3.1)
			about(t, c.name+", turn", w.deg, c.deg, 3.1)
			about(t, c.name+", fell", w.fell, c.fell, 2)
		}
	}
}

// The slope's error is that of a line through scattered points: σ over the root of the sum of squares of x (textbook),
// with σ of torque and angle together, and points at one digit of the angle counting once.
func TestErrorOfASlope(t *testing.T) {
	points := func(degs ...float64) (out []point) {
		for _, d := range degs {
			out = append(out, point{deg: d})
		}
		return out
	}
	for _, c := range []struct {
		name                string
		at                  []point
		noise, grain, slope float64
		want                float64
	}{
		{"torque alone", points(0, 1, 2, 3, 4), 0.5, 0, 2, 0.5 / math.Sqrt(10)},
		{"angle alone", points(0, 1, 2, 3, 4), 0, 0.25, 2, 0.5 / math.Sqrt(10)},
		{"both", points(10, 11, 12, 13, 14), 0.3, 0.2, 2, 0.5 / math.Sqrt(10)},
		{"wider apart", points(0, 5, 10), 0.5, 0, 2, 0.5 / math.Sqrt(50)},
		{"two at each digit", points(0, 0, 1, 1), 0, 0.25, 2, 0.5 * math.Sqrt(4.0/2) / 1},
	} {
		v := &view{motion: &motion{track: &track{noise: c.noise, grain: c.grain}}}
		v.slope = c.slope
		about(t, c.name, v.slopeError(c.at), c.want, 1e-9)
	}
	v := &view{motion: &motion{track: &track{noise: 1}}}
	if got := v.slopeError(points(3, 3, 3)); !math.IsInf(got, 1) {
		t.Errorf("all at one place: %g", got)
	}
}
