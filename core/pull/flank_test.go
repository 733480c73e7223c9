package pull

import (
	"math"
	"testing"
)

// kinked is a curve of straight pieces, a point every half degree.
func kinked(corners ...[2]float64) []point {
	var out []point
	for i := 1; i < len(corners); i++ {
		from, to := corners[i-1], corners[i]
		n := int(math.Round((to[0] - from[0]) / 0.5))
		for k := range n {
			u := float64(k) / float64(n)
			at := len(out)
			out = append(out, point{from[0] + u*(to[0]-from[0]), from[1] + u*(to[1]-from[1]), at, at})
		}
	}
	last := corners[len(corners)-1]
	return append(out, point{last[0], last[1], len(out), len(out)})
}

func about(t *testing.T, what string, got, want, tol float64) {
	t.Helper()
	if math.IsNaN(got) || math.Abs(got-want) > tol {
		t.Errorf("%s: %.3f, want %.3f", what, got, want)
	}
}

// A sound joint by hand: run down at 2 to 100°, then 1.5 N·m a degree to 60.
func TestFlankOfASoundJoint(t *testing.T) {
	top := 100 + 58/1.5
	f := newFlank(kinked([2]float64{0, 2}, [2]float64{100, 2}, [2]float64{top, 60}), 60)
	about(t, "base", f.base, 2, 0.01)
	about(t, "slope", f.slope, 1.5, 0.01)
	about(t, "snug", f.snug, 100, 0.6)
	about(t, "where the flank begins", f.c[f.from].deg, 100+0.08*58/1.5, 1)
	about(t, "peak", f.peak, 60, 0.01)
	about(t, "rise", f.riseDeg(), 0.85*58/1.5, 1)
	about(t, "upper slope", f.topSlope(), 1.5, 0.01)
	run := f.runDown()
	about(t, "end of the run-down", run[len(run)-1].deg, f.c[f.from].deg-0.15*58/1.5, 1)
	if _, ok := f.weakens(); ok {
		t.Error("a straight flank weakens")
	}
	low, mid, high := spreadOf(append([]point(nil), run...))
	about(t, "lowest", low, 2, 0.01)
	about(t, "middle", mid, 2, 0.01)
	about(t, "highest", high, 2, 0.01)
}

// A shank that yields at 45: 0.2 N·m a degree from there.
func TestFlankThatYields(t *testing.T) {
	knee := 50 + 43/2.0
	end := knee + 15/0.2
	f := newFlank(kinked([2]float64{0, 2}, [2]float64{50, 2}, [2]float64{knee, 45}, [2]float64{end, 60}), 60)
	about(t, "slope", f.slope, 2, 0.02)
	w, ok := f.weakens()
	if !ok {
		t.Fatal("it does not weaken")
	}
	about(t, "where it gives", f.c[w.from].deg, knee, 3)
	about(t, "torque there", w.at, 45, 3)
	about(t, "turn", w.deg, end-knee, 3)
	about(t, "slope since", w.slope, 0.2, 0.02)
	about(t, "fell", w.fell, 0, 1)
	if w.to != len(f.c)-1 {
		t.Errorf("to %d of %d", w.to, len(f.c))
	}
}

// Threads that shear: 40 falls to 20 in 40°.
func TestFlankThatFalls(t *testing.T) {
	f := newFlank(kinked([2]float64{0, 1}, [2]float64{60, 1}, [2]float64{79.5, 40}, [2]float64{119.5, 20}), 60)
	w, ok := f.weakens()
	if !ok {
		t.Fatal("it does not weaken")
	}
	about(t, "slope since", w.slope, -0.5, 0.05)
	about(t, "fell", w.fell, 20, 1)
	about(t, "peak", f.peak, 40, 0.01)
}

// A locking nut drags at 12 until the flank; a jammed thread climbs to it.
func TestFlankBehindDragAndJam(t *testing.T) {
	drag := newFlank(kinked([2]float64{0, 12}, [2]float64{200, 12}, [2]float64{224, 60}), 60)
	about(t, "base", drag.base, 12, 0.01)
	about(t, "snug", drag.snug, 200, 0.6)
	about(t, "rise above the drag", drag.riseDeg(), 0.85*24, 1)
	jam := newFlank(kinked([2]float64{0, 1}, [2]float64{200, 31}, [2]float64{214.5, 60}), 60)
	about(t, "slope", jam.slope, 2, 0.05)
	about(t, "where the flank begins", jam.c[jam.from].deg, 192, 12)
	low, mid, high := spreadOf(append([]point(nil), jam.runDown()...))
	if !(low < 5 && mid > 10 && mid < 20 && high > 20) {
		t.Errorf("%.1f %.1f %.1f", low, mid, high)
	}
}

func TestFlankOfLittle(t *testing.T) {
	for name, c := range map[string][]point{
		"nothing":    nil,
		"one point":  {{deg: 1, nm: 5}},
		"two points": {{deg: 1, nm: 5}, {deg: 2, nm: 7}},
		"level":      kinked([2]float64{0, 3}, [2]float64{50, 3}),
	} {
		f := newFlank(c, 60)
		if f.slope < 0 || math.IsNaN(f.slope) || math.IsNaN(f.snug) || math.IsNaN(f.riseDeg()) {
			t.Errorf("%s: %+v", name, f)
		}
		if _, ok := f.weakens(); ok {
			t.Errorf("%s weakens", name)
		}
	}
}

// A thread that jams comes in waves: steep again after it was flat. What gives, or is
// soft, does not.
func TestWavers(t *testing.T) {
	var waves []point
	for i := range 240 {
		deg := float64(i) * 0.5
		waves = append(waves, point{deg: deg, nm: 10 + 0.3*deg + 4*math.Sin(deg/7)})
	}
	for _, c := range []struct {
		name string
		c    []point
		want bool
	}{
		{"waves", waves, true},
		{"straight", kinked([2]float64{0, 10}, [2]float64{120, 50}), false},
		{"steep, then gentle", kinked([2]float64{0, 10}, [2]float64{30, 40}, [2]float64{120, 45}), false},
		{"gentle, then steep", kinked([2]float64{0, 10}, [2]float64{90, 20}, [2]float64{120, 50}), true},
		{"soft, then steep", kinked([2]float64{0, 0}, [2]float64{30, 12}, [2]float64{60, 60}), true},
		{"steep, then gentle for good", kinked([2]float64{0, 0}, [2]float64{30, 48}, [2]float64{60, 60}), false},
		{"flat on the way", kinked([2]float64{0, 0}, [2]float64{20, 20}, [2]float64{40, 24}, [2]float64{60, 44}), true},
		{
			"two fifths as steep on the way",
			kinked([2]float64{0, 0}, [2]float64{18, 18}, [2]float64{42, 27.6}, [2]float64{60, 45.6}), false,
		},
		{
			"flat, and then never half as steep as before",
			kinked([2]float64{0, 0}, [2]float64{12, 48}, [2]float64{36, 48.5}, [2]float64{60, 60}), false,
		},
		{"too few points", waves[:10], false},
	} {
		if got := wavers(c.c); got != c.want {
			t.Errorf("%s: %v", c.name, got)
		}
	}
}

// The zero is taken from a tool at rest, still and flat, and drifts evenly between.
func TestZero(t *testing.T) {
	pullTo := func(torque, offset, drift float64) []Sample {
		out := draw(resting, runDown, act{230, torque, 0.8}, act{230, torque, 0.1}, act{230, 0, 0.2}, act{230, 0, 0.3})
		return bent(out, func(s Sample) Sample { s.Torque += offset + drift*s.T; return s })
	}
	for _, c := range []struct {
		name          string
		offset, drift float64
		want          float64
		zeroed        bool
	}{
		{"none", 0, 0, 60, true},
		{"two too much", 2, 0, 60, true},
		{"two too little", -2, 0, 60, true},
		{"one that drifts", 1, 0.5, 60, true},
		{"a tool no tool is", 12, 0, 72, false},
	} {
		tr := newTrack(pullTo(60, c.offset, c.drift), Expect{}, false)
		about(t, c.name, tr.peak, c.want, 0.2)
		if tr.zeroed != c.zeroed {
			t.Errorf("%s: zeroed %v", c.name, tr.zeroed)
		}
	}
	falling := newTrack(drawFrom(Sample{0, 0, 1}, act{200, 1, 1}, act{230, 60, 0.9}, act{230, 2, 1}), Expect{}, false)
	if falling.zeroed {
		t.Error("a release that falls is taken for a rest")
	}
	about(t, "its peak", falling.peak, 60, 0.5)
}

// The angle that rolls over, begins anew or is wound up is the fastener's own again.
func TestUnrollAndWindUp(t *testing.T) {
	s := []Sample{
		{0, 350, 0},
		{0.01, 358, 0},
		{0.02, 4, 0},
		{0.03, 12, 0},
		{0.04, 3, 0},
		{0.05, 355, 0},
		{0.06, 100, 0},
		{0.07, 104, 0},
	}
	want := []float64{350, 358, 364, 372, 363, 355, 355, 359}
	// 355 to 100 is 255 back in one reading: no hand turns so, the count began anew.
	for i, x := range unroll(s) {
		about(t, "angle", x.Angle, want[i], 1e-9)
	}
	wound := bent(draw(resting, runDown, act{230, 60, 0.8}, act{230, 60, 0.1}, act{230, 0, 0.3}, act{230, 0, 0.3}),
		func(s Sample) Sample { s.Angle += 0.05 * s.Torque; return s })
	tr := newTrack(wound, Expect{}, false)
	about(t, "flex by the release", tr.flex, 0.05, 0.004)
	about(t, "flex that is known", newTrack(wound, Expect{FlexDegPerNm: 0.02}, false).flex, 0.02, 1e-12)
	head := newTrack(
		draw(resting, runDown, act{230, 60, 0.8}, act{230, 60, 0.1}, act{230, 0, 0.3}, act{230, 0, 0.3}),
		Expect{}, false)
	about(t, "no flex", head.flex, 0, 1e-12)
	left := newTrack(bent(wound, func(s Sample) Sample { return Sample{s.T, -s.Angle, -s.Torque} }), Expect{Left: true},
		false)
	about(t, "a left-hand thread", left.peak, 60, 0.2)
}

// Noise is told from slope, and digits coarser than it count as an even spread.
func TestScatter(t *testing.T) {
	ramp := make([]Sample, 400)
	steps := make([]Sample, 400)
	for i := range ramp {
		ramp[i] = Sample{T: float64(i), Torque: float64(i)}
		steps[i] = Sample{T: float64(i), Torque: math.Floor(float64(i)/10) * 3}
	}
	of := func(s Sample) float64 { return s.Torque }
	about(t, "a ramp in steps of one", scatter(ramp, of), 1/math.Sqrt(12), 1e-9)
	about(t, "digits of three", scatter(steps, of), 3/math.Sqrt(12), 1e-9)
	about(t, "nothing", scatter(make([]Sample, 50), of), 0, 0)
}

// A ratchet swings back without a load and takes up where the fastener was; a fastener
// under a load off comes back.
func TestMotion(t *testing.T) {
	swing := draw(resting, runDown, act{215, 30, 0.5}, act{215, 0, 0.2}, act{175, 0, 0.3}, act{175, 0, 0.1},
		act{176, 30, 0.3}, act{191, 60, 0.6}, act{191, 60, 0.1}, act{191, 0, 0.2}, act{191, 0, 0.3})
	m := newTrack(swing, Expect{}, false).move(60)
	if len(m.strokes) != 2 || len(m.backs) != 0 {
		t.Fatalf("%d strokes, %d back", len(m.strokes), len(m.backs))
	}
	about(t, "first stroke ends", m.strokes[0].ended, 215, 0.5)
	about(t, "second takes up there", m.strokes[1].began, 215, 0.5)
	about(t, "and ends", m.strokes[1].ended, 230.5, 1)
	about(t, "its peak", m.strokes[1].peak, 60, 0.2)
	about(t, "the tool behind it", m.lastOff, 0, 1)

	off := draw(resting, runDown, act{230, 60, 0.8}, act{230, 0, 0.2}, act{230, 0, 0.2}, act{229.5, -40, 0.2},
		act{200, -20, 0.5}, act{200, 0, 0.1}, act{150, 0, 0.4}, act{150, 0, 0.2})
	m = newTrack(off, Expect{}, false).move(60)
	if len(m.backs) != 1 || m.backs[0].before != 1 {
		t.Fatalf("%+v", m.backs)
	}
	about(t, "turned back", m.backs[0].deg, 80, 2)
	nudge := draw(resting, runDown, act{230, 60, 0.8}, act{230, 0, 0.2}, act{230, 0, 0.2}, act{229, -20, 0.2},
		act{229, 0, 0.2}, act{229, 0, 0.3})
	if m = newTrack(nudge, Expect{}, false).move(60); len(m.backs) != 0 {
		t.Errorf("a nudge is a turn back: %+v", m.backs)
	}
}
