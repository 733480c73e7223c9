package pull

import (
	"math"
	"testing"

	"lugtak/core/recipe"
)

// Limits met to the last digit: what lies on a limit, and what lies a hair beyond. Figures are powers of two, so that a
// share of one is the share's own digits.

// bare is a view of a curve on which nothing scatters, with a figure of 64 N·m.
func bare(t *testing.T, text string, c []point) *view {
	t.Helper()
	tr := &track{p: make([]Sample, len(c)+1), y: make([]float64, len(c)+1)}
	v := &view{motion: &motion{track: tr, f: make([]float64, len(c)+1)}, stages: stages(t, text), figure: 64}
	v.c, v.flank.peak = c, 64
	return v
}

// level is a curve of so many points over so many degrees at one torque.
func level(n int, deg, nm float64) (out []point) {
	for i := range n {
		out = append(out, point{deg * float64(i) / float64(n-1), nm, i, i})
	}
	return out
}

func TestLimitsOfARunDown(t *testing.T) {
	two := func(low, high float64) []point { // nine at the low, eight at the high
		return append(level(9, 80, low), shifted(level(8, 70, high), 90)...)
	}
	for _, c := range []struct {
		name string
		run  []point
		drag float64
		want bool
	}{
		{"as much as any nut", level(9, 80, 20.48), 0, false},
		{"a hair more", level(9, 80, 20.49), 0, true},
		{"four readings", level(4, 80, 40), 0, false},
		{"five", level(5, 80, 40), 0, true},
		{"over forty degrees", level(9, 40, 40), 0, true},
		{"over a hair less", level(9, 39.9, 40), 0, false},
		{"of a nut that drags eight", level(9, 80, 17.12), 8, false}, // 1.5·8 + 0.08·64
		{"and a hair more", level(9, 80, 17.13), 8, true},
		{"a tenth of the figure apart", two(4, 10.4), 0, false},
		{"and a hair more", two(4, 10.41), 0, true},
		{"apart, and no more than a free thread", two(2, 8.96), 0, false},
		{"and a hair more", two(2, 8.97), 0, true},
	} {
		v := bare(t, "64 Nm", c.run)
		v.ex.DragNm = c.drag
		if _, got := v.fouled(c.run); got != c.want {
			t.Errorf("%s: %v", c.name, got)
		}
	}
	loud := bare(t, "64 Nm", nil) // three of its scatter, and no more, may lie between
	loud.noise = 0.5
	for high, want := range map[float64]bool{11.9: false, 11.91: true} {
		if _, got := loud.fouled(two(4, high)); got != want {
			t.Errorf("7.9 apart and scattering by a half, to %g: %v", high, got)
		}
	}
	for nm, want := range map[float64]bool{4.48: false, 4.49: true} { // 0.07 of the figure
		v := bare(t, "64 Nm", nil)
		if got := v.dragsEvenly(level(9, 120, nm)); got != want {
			t.Errorf("a nut at %g drags enough for a climb: %v", nm, got)
		}
	}
	v := bare(t, "64 Nm", nil)
	if _, locks := v.locks(level(4, 120, 8)); locks {
		t.Error("four readings make a locking nut")
	}
	if drag, locks := v.locks(level(5, 120, 8)); !locks || drag != 8 {
		t.Errorf("five readings at eight make none: %g", drag)
	}
	if _, locks := v.locks(level(9, 120, 20.48)); !locks {
		t.Error("as much as any nut is none")
	}
	// Free over its first quarter, it bit: an insert has no more than 0.27 of the figure.
	for nm, want := range map[float64]bool{17.28: true, 17.29: false} {
		bit := append(level(10, 90, 4.4), shifted(level(30, 290, nm), 100)...)
		if _, locks := v.locks(bit); locks != want {
			t.Errorf("an insert at %g: %v", nm, locks)
		}
		thick := append(level(10, 90, 4.48), shifted(level(30, 290, nm), 100)...) // 0.07 is no free run
		if _, locks := v.locks(thick); !locks {
			t.Errorf("a nut that is not free at first, at %g, is none", nm)
		}
	}
	// Before it is even it may ease by 0.045 of the figure, and by more in one reading alone.
	for _, c := range []struct {
		eased float64
		n     int
		want  bool
	}{{13.53, 10, true}, {13.51, 10, false}, {12, 1, true}, {12, 2, false}} {
		run := append(level(10, 90, 16.4), shifted(level(c.n+1, 90, c.eased)[:c.n], 100)...)
		run = append(append(run, shifted(level(10, 90, 16), 200)...), shifted(level(30, 290, 12), 300)...)
		for i := len(run) - 1; i > len(run)-30; i -= 2 {
			run[i].nm = 14
		}
		if _, locks := v.locks(run); locks != c.want {
			t.Errorf("eased from 16.4 to %g in %d readings: %v", c.eased, c.n, locks)
		}
	}
}

func shifted(c []point, by float64) []point {
	for i := range c {
		c[i].deg += by
	}
	return c
}

// A climb without a flank is crossed where it was slow for more than 70° before the flank, and took 2.6 times what the
// flank alone takes: 0.65 of the figure over its slope.
func TestLimitsOfAClimb(t *testing.T) {
	climb := func(deg float64) []point { // from a seventh to four fifths of 64 in so many degrees, no run-down
		return []point{{0, 9.59, 0, 0}, {1, 9.6, 1, 1}, {1 + deg/2, 30, 2, 2}, {1 + deg, 51.2, 3, 3}, {2 + deg, 64, 4, 4}}
	}
	for _, c := range []struct {
		name  string
		deg   float64
		slope float64
		from  int
		want  bool
	}{
		{"70° before its flank", 140, 8, 2, false},
		{"a hair more", 140.2, 8, 2, true},
		{"2.6 times its flank", 160, 0.676, 2, false}, // 0.65·64/0.676 = 61.54; times 2.6 = 160
		{"a hair more", 160, 0.6761, 2, true},
		{"the flank begins at once", 160, 8, 0, false},
	} {
		v := bare(t, "64 Nm", climb(c.deg))
		v.slope, v.flank.from = c.slope, c.from
		if got := len(crossed(v)) > 0; got != c.want {
			t.Errorf("%s: %v", c.name, got)
		}
	}
	short := bare(t, "64 Nm", climb(200)[1:4])
	short.slope, short.flank.from = 8, 1
	if len(crossed(short)) > 0 {
		t.Error("three points make a crossed thread")
	}
	angle := bare(t, "20 Nm + 90°", climb(200))
	angle.stages = angle.stages[1:]
	angle.slope, angle.flank.from = 8, 2
	if len(crossed(angle)) > 0 {
		t.Error("a recipe without a torque has a climb to its figure")
	}
}

func TestLimitsOfABottom(t *testing.T) {
	for _, c := range []struct {
		name      string
		run, rise float64 // degrees; the rise is linear to 64 N·m
		peak      float64
		ex        Expect
		want      bool
	}{
		{"run down by fifteen degrees", 15, 4, 64, Expect{}, true},
		{"by a hair less", 14.99, 4, 64, Expect{}, false},
		{"three tenths of its figure", 20, 4, 19.2, Expect{}, true},
		{"a hair less", 20, 4, 19.19, Expect{}, false},
		{"1.6 times its joint", 20, 4, 64, Expect{SlopeHigh: 10.001}, false},
		{"a hair more", 20, 4, 64, Expect{SlopeHigh: 9.99}, true},
		{"2.5 times its siblings", 20, 4, 64, Expect{Siblings: alike(6.401, 9, 2)}, false},
		{"a hair more", 20, 4, 64, Expect{Siblings: alike(6.39, 9, 2)}, true},
		{"nine degrees of a joint a fifth as steep", 20, 10.5, 64, Expect{SlopeHigh: 1}, true},
		{"more than nine", 20, 10.7, 64, Expect{SlopeHigh: 1}, false},
		{"nine degrees of siblings a fifth as steep", 20, 10.5, 64, Expect{Siblings: alike(1, 40, 2)}, true},
		{"more than nine", 20, 10.7, 64, Expect{Siblings: alike(1, 40, 2)}, false},
	} {
		up := []point{}
		for i := range 65 {
			up = append(up, point{c.run + c.rise*float64(i)/64, c.peak * float64(i) / 64, i, i})
		}
		v := bare(t, "64 Nm", append([]point{{0, 0, 0, 0}}, up...))
		v.ex = c.ex
		v.flank = flank{c: v.c, from: 1, peak: c.peak, slope: c.peak / c.rise}
		if got := len(bottomed(v)) > 0; got != c.want {
			t.Errorf("%s: %v (rise %.3f)", c.name, got, v.riseDeg())
		}
	}
}

// stoodAt: a pull that moved nothing is told from one that moved, and from none at all.
func TestLimitsOfAStandstill(t *testing.T) {
	for _, c := range []struct {
		name    string
		strokes []stroke
		turned  float64
		grain   float64
		ex      Expect
		want    bool
	}{
		{"half its figure", []stroke{{0, 1, 30.72, 1, 0, 1}}, 1, 0, Expect{}, true}, // the window begins at 61.44
		{"a hair less", []stroke{{0, 1, 30.71, 1, 0, 1}}, 1, 0, Expect{}, false},
		{"it went two degrees", []stroke{{0, 1, 40, 1, 0, 1}}, 2, 0, Expect{}, false},
		{"and its strokes did", []stroke{{0, 1, 40, 1, 0, 2}}, 1, 0, Expect{}, false},
		{"by a coarse angle", []stroke{{0, 1, 40, 1, 0, 2.5}}, 1, 0.25, Expect{}, true},
		{"in a second round", []stroke{{0, 1, 64, 1, 0, 1}}, 1, 0, Expect{Repeat: true}, false},
		{"it moved at 0.85 of the peak", []stroke{{0, 1, 54.4, 1, 0, 9}, {1, 1, 64, 1, 9, 9}}, 9, 0, Expect{}, false},
		{"a hair less", []stroke{{0, 1, 54.3, 1, 0, 9}, {1, 1, 64, 1, 9, 9}}, 9, 0, Expect{}, true},
		{"half a degree is none", []stroke{{0, 1, 40, 1, 0, 9}, {1, 1, 64, 1, 9, 9.5}}, 9, 0, Expect{}, true},
		{"more is a turn", []stroke{{0, 1, 40, 1, 0, 9}, {1, 1, 64, 1, 9, 9.51}}, 9, 0, Expect{}, false},
		{"the peak is where the window begins", []stroke{{0, 1, 40, 1, 0, 9}, {1, 1, 61.44, 1, 9, 9}}, 9, 0, Expect{}, false},
	} {
		v := bare(t, "64 Nm", level(3, 9, 30))
		v.strokes, v.turned, v.grain, v.ex = c.strokes, c.turned, c.grain, c.ex
		if got := len(stood(v)) > 0; got != c.want {
			t.Errorf("%s: %v", c.name, got)
		}
	}
	before := bare(t, "64 Nm", level(3, 9, 30)) // what came before the last pull counts no more
	before.start = 2
	before.strokes = []stroke{{0, 1, 64, 1, 0, 40}, {2, 3, 40, 2, 40, 40}}
	if len(stood(before)) != 1 {
		t.Error("a stroke before the last pull counts")
	}
}

func TestLimitsOfATurnBack(t *testing.T) {
	for off, want := range map[float64]bool{-6: false, -6.01: true, 6.01: false} {
		v := bare(t, "64 Nm", level(3, 9, 30))
		v.lastOff = off
		v.strokes = []stroke{{0, 2, 30, 2, 0, 9}, {2, 3, 64, 3, 9, 20}}
		f := turnedBack(v)
		if got := len(f) > 0; got != want {
			t.Errorf("the tool %g° behind: %v", off, got)
		}
		if want && (f[0].from != 3 || f[0].to != 3) {
			t.Errorf("it is shown from %d to %d", f[0].from, f[0].to)
		}
	}
	v := bare(t, "64 Nm", level(3, 9, 30))
	v.lastOff = -20
	if len(turnedBack(v)) > 0 {
		t.Error("nothing was pulled, and it stands behind where it pulled")
	}
	v.read.after = true
	v.backs = []back{{0, 1, 9}, {1, 2, 33}}
	if f := turnedBack(v); len(f) != 1 || f[0].from != 2 || f[0].to != 3 {
		t.Errorf("turned back: %+v", f)
	}
}

// A flank steeper than a short grip makes it, and shares of a height.
func TestLimitsOfAFlank(t *testing.T) {
	for _, c := range []struct {
		name  string
		slope float64
		ex    Expect
		want  bool
	}{
		{"as steep as a short grip makes it", 2.3, Expect{SlopeHigh: 2}, true},
		{"a hair less", 2.29, Expect{SlopeHigh: 2}, false},
		{"nobody knows the joint", 9, Expect{}, false},
		{"siblings tell", 9, Expect{SlopeHigh: 2, Siblings: alike(9, 9, LeastSiblings)}, false},
		{"one sibling does not", 9, Expect{SlopeHigh: 2, Siblings: alike(9, 9, LeastSiblings-1)}, true},
	} {
		v := bare(t, "64 Nm", level(3, 9, 30)) // of which there is no chord
		v.slope, v.turned, v.ex = c.slope, 9, c.ex
		if _, got := v.steep(); got != c.want {
			t.Errorf("%s: %v", c.name, got)
		}
	}
	v := bare(t, "64 Nm", level(3, 9, 30))
	v.slope, v.turned, v.ex = 9, standsDeg, Expect{SlopeHigh: 2}
	if _, got := v.steep(); !got {
		t.Error("two degrees are no turn")
	}

	// A ramp of 64 readings by one N·m: a share from a quarter to a half is above 16 and below 32, from the base on.
	ramp := bare(t, "64 Nm", nil)
	for i := range 66 {
		ramp.c = append(ramp.c, point{float64(i), float64(i), i, i})
		ramp.y[0] = 0
	}
	ramp.y, ramp.f, ramp.p = make([]float64, 66), make([]float64, 66), make([]Sample, 66)
	for i := range 66 {
		ramp.y[i], ramp.f[i] = float64(i), float64(i)
	}
	ramp.flank = flank{c: ramp.c, peak: 64}
	ramp.read.last.to = 65
	for _, c := range []struct{ base, from, to, first, last float64 }{
		{0, 0.25, 0.5, 17, 31}, {16, 0.25, 0.5, 29, 39}, {0, 0.75, 1.5, 49, 64},
	} {
		ramp.base = c.base
		got := ramp.part(c.from, c.to)
		if len(got) == 0 || got[0].deg != c.first || got[len(got)-1].deg != c.last {
			t.Errorf("from %g to %g above %g: %v", c.from, c.to, c.base, got)
		}
	}
	ramp.base = 0
	if at := ramp.firstAbove(17); at != 17 {
		t.Errorf("17 N·m is reached at %d", at)
	}
	about(t, "its chord", ramp.chord(), 1, 1e-12)
	kink := bare(t, "64 Nm", kinked([2]float64{0, 0}, [2]float64{10, 22.4}, [2]float64{20, 58.88}, [2]float64{30, 64}))
	about(t, "a chord from 0.35 to 0.92 of the height", kink.chord(), (58.88-22.4)/10, 1e-9)
	kink.base = 32
	about(t, "above a base of 32", kink.chord(),
		(kink.c[kink.firstAbove(61.44)].nm-kink.c[kink.firstAbove(43.2)].nm)/
			(kink.c[kink.firstAbove(61.44)].deg-kink.c[kink.firstAbove(43.2)].deg), 1e-9)
	about(t, "turn from where the parts met", (&view{flank: flank{c: kink.c, snug: 12.5}}).fromSnug(), 17.5, 1e-9)
}

// Friction that doubles on the way makes a flank 1.3 times as steep; what three errors leave open nobody can tell.
func TestLimitsOfDoubt(t *testing.T) {
	for _, c := range []struct {
		below, above, err float64
		siblings          int
		want              bool
	}{
		{2, 2.6, 0, 0, true}, {2, 2.59, 0, 0, false},
		{2, 2.25, 0.125, 0, true}, {2, 2.22, 0.125, 0, false},
		{2, 2.6, 0, LeastSiblings, false}, {2, 2.6, 0, LeastSiblings - 1, true},
	} {
		v := bare(t, "64 Nm", level(3, 9, 30))
		v.ex.Siblings = alike(2, 30, c.siblings)
		if _, got := v.cannotTell(c.below, c.above, c.err); got != c.want {
			t.Errorf("%+v: %v", c, got)
		}
	}
}

// A hand that lets go and takes hold, drawn reading by reading.
func TestTeethReadingByReading(t *testing.T) {
	saw := func(drop, jump, most float64) *view { // three falls of a sawing pull to 64, two readings at each foot
		nm, deg := []float64{0}, []float64{0}
		add := func(to, turn float64) { nm, deg = append(nm, to), append(deg, deg[len(deg)-1]+turn) }
		at := 16.0
		for range 3 {
			for range 8 {
				at += most / 8
				add(at, 0.25)
			}
			at -= drop
			add(at, jump)
			add(at, 0)
			add(at, 0)
		}
		for at < 64 {
			at += 4
			add(math.Min(64, at), 0.25)
		}
		m := still(nm, deg)
		v := &view{motion: m, figure: 64}
		v.flank.peak = 64
		v.read.last.to = len(nm) - 1
		return v
	}
	for _, c := range []struct {
		name             string
		drop, jump, rise float64
		noise            float64
		want             int
	}{
		{"falls of six hundredths", 3.83, 2, 16, 0, 0},
		{"a hair more", 3.85, 2, 16, 0, 3},
		{"scatter of half a N·m: four, no more", 4, 2, 16, 0.5, 0},
		{"a hair more", 4.1, 2, 16, 0.5, 3},
		{"jumps by four degrees, a quarter of them the pace of the hand", 6, 3.76, 16, 0, 0},
		{"a hair less", 6, 3.74, 16, 0, 3},
		{"jumps by what the hand turns in a reading, and 0.15", 6, 0.14, 16, 0, 0},
		{"a hair more", 6, 0.16, 16, 0, 3},
	} {
		v := saw(c.drop, c.jump, c.rise)
		v.noise = c.noise
		if _, n := v.teeth(); n != c.want {
			t.Errorf("%s: %d teeth", c.name, n)
		}
	}
	v := saw(6, 2, 16)
	if first, _ := v.teeth(); first != 8 {
		t.Errorf("the first tooth is at reading %d", first)
	}
	if got := v.mean(7, 9); math.Abs(got-(v.p[7].Angle+v.p[8].Angle+v.p[9].Angle)/3) > 1e-12 {
		t.Errorf("mean of three: %g", got)
	}
}

// A tool that begins its count anew, rolls over, or neither.
func TestLimitsOfACount(t *testing.T) {
	for by, want := range map[float64]float64{
		90: 90, 90.1: 0, 300: 0, 300.1: -59.9, 419.9: 59.9, 420: 0, -90: -90, -90.1: 0, -300.1: 59.9,
	} {
		got := unroll([]Sample{{0, 1000, 0}, {0.01, 1000 + by, 0}})
		about(t, "a step of the angle", got[1].Angle-1000, want, 1e-9)
	}
	for n, want := range map[int]int{
		1: 1, thinTo: thinTo, thinTo + 1: thinTo/2 + 1, 2 * thinTo: thinTo, 2*thinTo + 1: 2667,
	} {
		s := make([]Sample, n)
		for i := range s {
			s[i] = Sample{float64(i), 2 * float64(i), 3 * float64(i)}
		}
		got := thin(s)
		if len(got) != want {
			t.Errorf("%d readings are thinned to %d", n, len(got))
		}
		if last := got[len(got)-1]; last.Angle != 2*last.T || last.Torque != 3*last.T {
			t.Errorf("%d readings end by %+v", n, last)
		}
	}
	about(t, "rate of five in two seconds", rateOf([]Sample{{T: 1}, {T: 1.5}, {T: 2}, {T: 2.5}, {T: 3}}), 2, 1e-12)
	about(t, "rate of one moment", rateOf([]Sample{{T: 1}, {T: 1}}), 0, 0)
}

// How sure: from how dense the readings are, and how far a figure lies from its edge.
func TestLimitsOfSurety(t *testing.T) {
	for _, c := range []struct {
		name   string
		rate   float64
		zeroed bool
		n      int // readings on the flank
		want   float64
	}{
		{"all there", 75, true, 12, 0.98},
		{"a hair slower", 74.9, true, 12, 0.83}, // 0.98·0.85
		{"not zeroed", 75, false, 12, 0.9},
		{"eleven on the flank", 75, true, 11, 0.6},
	} {
		v := bare(t, "64 Nm", level(3, 9, 30))
		v.rate, v.zeroed = c.rate, c.zeroed
		v.p, v.y = make([]Sample, 20), make([]float64, 20)
		for i := range c.n {
			v.y[i] = 64
		}
		v.y[19] = 6.4 // a tenth is not on it yet
		if got := v.sure(finding{sure: 0.98}); got != c.want {
			t.Errorf("%s: %g", c.name, got)
		}
	}
	for _, c := range []struct {
		name string
		nm   float64 // the window is 61.44 to 66.56
		want float64
	}{
		{"on its edge", 61.44, 0.5},
		{"one blur inside", 61.44 / (1 - 0.002), 0.841345},  // Φ(1), tables of the normal distribution
		{"two blurs inside", 61.44 / (1 - 0.004), 0.977250}, // Φ(2)
		{"one blur outside", 61.44 / (1 + 0.002), 0.841345},
		{"one blur under its upper edge", 66.56 / (1 + 0.002), 0.841345},
	} {
		v := bare(t, "64 Nm", level(3, 9, 30))
		about(t, c.name, v.edgeSure(v.stages[0], StageResult{TorqueNm: c.nm}), c.want, 1e-5)
	}
	angle := bare(t, "20 Nm + 90°", level(3, 9, 30))
	angle.stages = angle.stages[1:]
	low, high := window(angle.stages[0], Expect{})
	for deg, want := range map[float64]float64{
		low - 0.7: 0.5, low - 0.4: 0.841345, low - 1: 0.841345, high + 0.7: 0.5, high + 0.1: 0.977250,
	} {
		about(t, "an angle", angle.edgeSure(angle.stages[0], StageResult{AngleDeg: deg}), want, 1e-5)
	}
	if got := angle.edgeSure(recipe.Stage{Kind: recipe.BackOff}, StageResult{}); got != 1 {
		t.Errorf("a turn back has an edge: %g", got)
	}
}

// Too quick a flank: fewer than five readings between a tenth and nineteen twentieths, over less than 9.9°.
func TestLimitsOfBlindness(t *testing.T) {
	for _, c := range []struct {
		name   string
		n      int
		rise   float64
		turned float64
		want   bool
	}{
		{"four readings", 4, 6, 20, true},
		{"five", 5, 6, 20, false},
		{"over ten degrees", 4, 14, 20, false},
		{"a second pull", 4, 6, 14.9, false},
		{"fifteen degrees in all", 4, 6, 15, true},
	} {
		v := bare(t, "64 Nm", []point{{0, 0, 0, 0}, {0.1, 6.4, 1, 1}})
		for i := range c.n {
			u := float64(i+1) / float64(c.n+1)
			v.c = append(v.c, point{c.rise * u, 64 * (0.1 + 0.8*u), i, i})
		}
		v.c = append(v.c, point{c.rise, 60.8, 9, 9}, point{c.rise + 0.1, 64, 9, 9})
		v.flank = flank{c: v.c, peak: 64}
		v.turned = c.turned
		if got := v.blind(); got != c.want {
			t.Errorf("%s: %v (rise %g)", c.name, got, v.riseDeg())
		}
	}
}
