package pull

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"
)

// A pull whose end was not seen is never kept: a sensor at its limit, a gap where the peak was, a recording that stops
// on the way up. Where the top was seen, whatever else is missing, it is. Traces drawn by hand; common practice of
// reading them.
func TestTheEndIsSeen(t *testing.T) {
	past := func(deg float64) []Sample { // 60 at 230°, then on to as many degrees at 2 N·m each
		top := 60 + 2*deg
		return draw(append([]act{resting, runDown, {230 + deg, top, 0.8 + deg/35}}, release(230+deg, top)...)...)
	}
	atMost := func(s []Sample, limit float64) []Sample {
		return bent(s, func(x Sample) Sample { x.Torque = math.Min(x.Torque, limit); return x })
	}
	shaken := func(s []Sample, nm, digit float64) []Sample {
		rng := rand.New(rand.NewPCG(5, 8))
		return bent(s, func(x Sample) Sample {
			x.Torque = math.Round((x.Torque+nm*rng.NormFloat64())/digit) * digit
			return x
		})
	}
	without := func(s []Sample, hides func(Sample) bool) []Sample {
		return slices.DeleteFunc(slices.Clone(s), hides)
	}
	everyTenth := func(s []Sample) []Sample { // twenty readings a second
		var out []Sample
		for i := 3; i < len(s); i += 10 {
			out = append(out, s[i])
		}
		return out
	}
	quick := draw(append([]act{{0, 0, 0.4}, {200, 1, 2}, {234, 68, 0.8}}, act{234, 0, 0.05}, act{234, 0, 1})...)
	slow := draw(append([]act{{0, 0, 0.4}, {200, 1, 2}, {230, 60, 0.8}, {230, 60, 0.3}}, act{230, 0, 0.05},
		act{230, 0, 1})...)
	until := func(s []Sample, nm float64) []Sample {
		return s[:slices.IndexFunc(s, func(x Sample) bool { return x.Torque >= nm })+1]
	}
	high := func(x Sample) bool { return x.Torque > 59 }
	second := func(x Sample) bool { return x.T > 1.45 && x.T < 1.6 } // half way up
	plateau := append([]act{resting, runDown, {230, 60, 0.8}, {260, 118, 0.8}, {320, 124, 2}}, release(320, 124)...)
	for _, c := range []struct {
		name, recipe string
		trace        []Sample
		seen         bool
	}{
		{"seen", "60 Nm", past(0), true},
		{"seen, in digits of half a newton metre", "60 Nm", shaken(past(0), 0.1, 0.5), true},
		{"seen, in whole newton metres", "60 Nm", shaken(past(0), 0.3, 1), true},
		{"at its limit over 2 degrees", "60 Nm", atMost(past(2), 60), false},
		{"at its limit over 3 degrees", "60 Nm", atMost(past(3), 60), false},
		{"at its limit over 4 degrees", "60 Nm", atMost(past(4), 60.5), false},
		{"at its limit over 5 degrees", "60 Nm", atMost(past(5), 60), false},
		{"at its limit over 10 degrees", "60 Nm", atMost(past(10), 61), false},
		{"at its limit, in digits", "60 Nm", atMost(shaken(past(4), 0.3, 0.5), 60), false},
		{"at its limit, with scatter in the last digit", "60 Nm", shaken(atMost(past(5), 60), 0.05, 0.2), false},
		{"at its limit, and scatter behind it", "60 Nm", shaken(atMost(past(3), 60), 0.2, 0.01), false},
		{"at its limit, and much scatter behind it", "60 Nm", shaken(atMost(past(4), 60), 0.5, 0.01), false},
		{"seen, with much scatter", "60 Nm", shaken(past(0), 0.5, 0.01), true},
		{"let go between two readings of a slow tool", "60 Nm", everyTenth(quick), false},
		{"held before a slow tool lets go", "60 Nm", everyTenth(slow), true},
		{"at its limit after an angle", "30 Nm + 90°", atMost(draw(append([]act{resting, runDown, {215, 30, 0.4},
			{305, 210, 2.4}}, release(305, 210)...)...), 190), false},
		{"a bolt that stretches, in whole newton metres", "60 Nm + 90°", shaken(draw(plateau...), 0.2, 1), true},
		{"a gap at the peak", "60 Nm", without(past(8), high), false},
		{"a gap from the rise into the release", "60 Nm", without(past(0), func(x Sample) bool {
			return x.T > 1.9 && x.T < 2.35
		}), false},
		{"a gap half way up", "60 Nm", without(past(0), second), true},
		{"a gap while it is held", "60 Nm", without(past(0), func(x Sample) bool { return x.T > 2.03 && x.T < 2.17 }), true},
		{"stops on the rise", "60 Nm", until(past(0), 59), false},
		{"stops on the rise of more", "60 Nm", until(past(10), 60), false},
		{"stops while it is held", "60 Nm", slices.Clone(past(0)[:436]), true},
	} {
		res, err := Judge(stages(t, c.recipe), c.trace, Expect{})
		if err != nil {
			t.Errorf("%s: %v", c.name, err)
			continue
		}
		if kept := res.Verdict == Keep; kept != c.seen || !c.seen && res.Sure > 0.6 {
			t.Errorf("%s: %s, %s, sure %g: %+v", c.name, res.Signature, res.Verdict, res.Sure, res.Reasons)
		}
	}
}

// Friction that grows while it is pulled makes the torque rise ever faster and leaves half the clamp: beside sound
// siblings, or steeper than the shank allows, it is refused; alone it is at least not sure. Torque from clamp and
// friction by statics, drawn without a line of the judge: lead 0.24 mm, rubbing 1.5 mm, 1.1 kN a degree.
func TestGalledIsNotKeptAsSound(t *testing.T) {
	pulled := func(grown float64) []Sample { // how many times friction grows on the way to 60 N·m
		const lead, rub, perDeg = 0.24e-3, 1.5e-3, 1150.0
		nm := func(f, top float64) float64 { return f * (lead + rub*(1+(grown-1)*f/top)) }
		top := 60 / (lead + rub*grown)
		acts := []act{resting, runDown}
		for k := 1.0; k <= 40; k++ {
			f := top * k / 40
			acts = append(acts, act{200 + f/perDeg, 1 + 59.0/60*nm(f, top), 0.02})
		}
		deg := 200 + top/perDeg
		return draw(append(acts, release(deg, 60)...)...)
	}
	sound, err := Judge(stages(t, "60 Nm"), pulled(1), Expect{})
	if err != nil || sound.Verdict != Keep || sound.Sure < Certain {
		t.Fatalf("a sound one: %s, sure %g, %v", sound.Verdict, sound.Sure, err)
	}
	f := Feature{Slope: sound.SlopeNmD, Turn: sound.TurnDeg, Peak: sound.PeakNm}
	for _, c := range []struct {
		name  string
		grown float64
		ex    Expect
		kept  bool
		sure  bool
	}{
		{"beside two like it", 1, Expect{Siblings: []Feature{f, f}}, true, true},
		{"a little dry, alone", 1.1, Expect{}, true, true},
		{"twice, alone", 2, Expect{}, true, false},
		{"three times, alone", 3, Expect{}, true, false},
		{"twice, beside two sound ones", 2, Expect{Siblings: []Feature{f, f}}, false, false},
		{"three times, beside two sound ones", 3, Expect{Siblings: []Feature{f, f}}, false, false},
		{"steeper than the shank allows", 3, Expect{SlopeLow: 0.5, SlopeHigh: 2.4}, false, false},
		{"as steep as the shank allows", 1, Expect{SlopeLow: 0.5, SlopeHigh: 2.1}, true, true},
	} {
		res, err := Judge(stages(t, "60 Nm"), pulled(c.grown), c.ex)
		if err != nil {
			t.Errorf("%s: %v", c.name, err)
			continue
		}
		if (res.Verdict == Keep) != c.kept && c.sure || !c.kept && res.Verdict == Keep || !c.sure && res.Verdict == Keep &&
			res.Sure >= Certain {
			t.Errorf("%s: %s, %s, sure %g, slope %.2f against %.2f: %+v", c.name, res.Signature, res.Verdict, res.Sure,
				res.SlopeNmD, f.Slope, res.Reasons)
		}
	}
}

// A verdict that refuses is as sure as what it saw: that the readings would not tell one that galls takes nothing from
// it.
func TestRefusalsStaySure(t *testing.T) {
	rising := draw(append([]act{resting, {2, 3, 0.1}, {700, 33, 2}, {714, 60, 0.5}}, release(714, 60)...)...)
	res, err := Judge(stages(t, "60 Nm"), rising, Expect{})
	if err != nil || res.Signature != CrossThreaded || res.Sure < 0.9 {
		t.Errorf("%s, sure %g, %v: %+v", res.Signature, res.Sure, err, res.Reasons)
	}
}

// A locking insert bites when the thread has run free, and then drags evenly up to a quarter of the figure; a crossed
// thread is uneven (common practice).
func TestInsertsAndCrossedThreads(t *testing.T) {
	bites := func(over, nm, even float64) []Sample { // after 300° free, over so many degrees, to so many N·m
		meet := 300 + over + even
		last := meet + (60-nm)/2
		return draw(append([]act{resting, {300, 1, 1}, {300 + over, nm, over / 180}, {meet, nm, even / 180}, {last, 60, 0.8}},
			release(last, 60)...)...)
	}
	uneven := func(low, high float64) []Sample {
		acts := []act{resting, {60, 2, 0.3}}
		for k := range 8 {
			nm := low
			if k%2 == 0 {
				nm = high
			}
			acts = append(acts, act{110 + 50*float64(k), nm, 0.3})
		}
		last := 460 + (60-low)/2
		return draw(append(append(acts, act{last, 60, 0.8}), release(last, 60)...)...)
	}
	settled := func(high, nm float64) []Sample { // uneven, and even only at the end
		acts := []act{resting, {100, 2, 0.4}, {180, high, 0.4}, {240, 3, 0.3}, {300, high, 0.3}, {340, nm, 0.3},
			{440, nm, 0.5}}
		last := 440 + (60-nm)/2
		return draw(append(append(acts, act{last, 60, 0.8}), release(last, 60)...)...)
	}
	for _, c := range []struct {
		name  string
		trace []Sample
		ex    Expect
		want  Signature
	}{
		{"over 90°, to 14 %", bites(90, 8.4, 400), Expect{}, Good},
		{"over 90°, to 24 %", bites(90, 14.4, 400), Expect{}, Good},
		{"over 360°, to 14 %", bites(360, 8.4, 400), Expect{}, Good},
		{"over 360°, to 24 %", bites(360, 14.4, 400), Expect{}, Good},
		{"over 360°, to 24 %, the drag known", bites(360, 14.4, 300), Expect{DragNm: 14}, Good},
		{"over 90°, to 18 %, even for 120° only", bites(90, 10.8, 120), Expect{}, Good},
		{"rises all the way to 40 %", bites(360, 24, 20), Expect{}, CrossThreaded},
		{"uneven, 8 to 29 %", uneven(5, 17.4), Expect{}, CrossThreaded},
		{"uneven, 10 to 24 %", uneven(6, 14.4), Expect{}, CrossThreaded},
		{"uneven before an even end", settled(17, 13), Expect{}, CrossThreaded},
	} {
		res, err := Judge(stages(t, "60 Nm"), c.trace, c.ex)
		if err != nil || res.Signature != c.want {
			t.Errorf("%s: %s, %s, %v: %+v", c.name, res.Signature, res.Verdict, err, res.Reasons)
		}
	}
}

// series is readings a hundredth of a second apart, of torques, and of angles that go on by so much each.
func series(turn float64, nm ...float64) (out []Sample) {
	for i, y := range nm {
		out = append(out, Sample{0.01 * float64(i), turn * float64(i), y})
	}
	return out
}

func ramp(from, to float64, n int) (out []float64) {
	for i := range n {
		out = append(out, from+(to-from)*float64(i)/float64(n-1))
	}
	return out
}

// A sensor at its limit shows its greatest figure fifteen times running, and no other more than five times.
func TestLimitsOfAStillSensor(t *testing.T) {
	for _, c := range []struct {
		top, elsewhere int
		want           bool
	}{{15, 5, true}, {14, 5, false}, {15, 6, false}, {20, 1, true}} {
		nm := slices.Concat([]float64{1, 2}, slices.Repeat([]float64{3}, c.elsewhere), []float64{4},
			slices.Repeat([]float64{9}, c.top), []float64{8, 7})
		e, got := stillAtLimit(series(1, nm...), slices.Index(nm, 9))
		if got != c.want {
			t.Errorf("%d times at the top, %d elsewhere: %v", c.top, c.elsewhere, got)
		}
		if got {
			about(t, "from", e.from, 0.01*float64(3+c.elsewhere), 1e-9)
			about(t, "to", e.to, 0.01*float64(2+c.elsewhere+c.top), 1e-9)
		}
	}
}

// The torque stood while it turned on by 0.8°, in five readings, where the rise before it would have gone on.
func TestLimitsOfATopThatStood(t *testing.T) {
	for _, c := range []struct {
		name         string
		turn         float64 // degrees a reading
		n            int     // readings at the top, one N·m a reading before it
		grain        float64
		missed       float64
		stretches    bool
		want         bool
		steps, steep int // readings of the rise, N·m each
	}{
		{"five readings, a degree", 0.25, 5, 0, 1, false, true, 30, 1},
		{"four readings", 0.5, 4, 0, 1, false, false, 30, 1},
		{"0.8 degrees", 0.201, 5, 0, 1, false, true, 30, 1},
		{"a hair less", 0.199, 5, 0, 1, false, false, 30, 1},
		{"a coarse angle", 0.25, 5, 0.07, 1, false, false, 30, 1},
		{"less coarse", 0.25, 5, 0.06, 1, false, true, 30, 1},
		{"it would have risen by four", 0.25, 5, 0, 4, false, true, 30, 1}, // a N·m a quarter degree, over one degree
		{"by less than what is missed", 0.25, 5, 0, 4.1, false, false, 30, 1},
		{"a bolt that stretches, and rose before", 0.25, 5, 0, 1, true, true, 30, 1},
		{"a bolt that stretches, by three readings alone", 0.25, 5, 0, 1, true, false, 3, 1},
		{"no bolt turns so far", 30, 5, 0, 1, false, false, 30, 1},
	} {
		nm := append(ramp(10, 10+float64((c.steps-1)*c.steep), c.steps), slices.Repeat([]float64{10 +
			float64((c.steps-1)*c.steep)}, c.n-1)...)
		s := series(c.turn, nm...)
		if _, got := stoodAtLimit(s, c.steps-1, len(s)-1, c.grain, c.missed, c.stretches); got != c.want {
			t.Errorf("%s: %v", c.name, got)
		}
	}
}

// A recording that ends at its top is held against how fast it still rose: a hand that feels its way rises by 0.04 of
// it a second.
func TestLimitsOfACut(t *testing.T) {
	for _, c := range []struct {
		name string
		rise float64 // N·m a second over the last second, to 50
		last float64 // N·m of the last reading, where not 50
		want bool
	}{
		{"as it feels its way", 2.01, 0, true},
		{"slower", 1.99, 0, false},
		{"fast", 40, 0, true},
		{"it fell by a twentieth", 40, 47.49, false},
		{"it fell by less", 40, 49.6, true},
	} {
		nm := ramp(50-c.rise, 50, 101)
		if c.last > 0 {
			nm = append(nm, c.last)
		}
		s := series(0.05, nm...)
		if _, got := cutOnRise(s, 100, 0); got != c.want {
			t.Errorf("%s: %v", c.name, got)
		}
	}
	held := append(ramp(10, 50, 101), slices.Repeat([]float64{50}, 6)...) // the last 0.04 s of it
	if _, got := cutOnRise(series(0.05, held...), 100, 0); got {
		t.Error("six readings of a hold are none")
	}
	if e, got := cutOnRise(series(0.05, held[:103]...), 100, 0); !got || e.to != 1.02 {
		t.Errorf("three readings of a hold are one: %+v", e)
	}
	back := series(0.05, ramp(30, 50, 101)...)
	back[100].Angle -= 4.1 // the fastener came back, and nothing is hidden
	if _, got := cutOnRise(back, 100, 0); got && back[100].Angle < back[96].Angle-backDeg {
		t.Error("a fastener that comes back still rises")
	}
}

// Readings that are missing at the top.
func TestLimitsOfAGap(t *testing.T) {
	for _, c := range []struct {
		name   string
		at     float64 // N·m where it begins, on a rise by a N·m a hundredth of a second to 50
		lasts  float64 // s, times a hundredth
		turned float64
		then   float64 // N·m behind it
		want   bool
	}{
		{"six times the usual time", 45, 6.01, 1, 45, true},
		{"a hair less", 45, 5.99, 1, 45, false},
		{"below four fifths of its top", 39.9, 6.01, 1, 39.9, false},
		{"at four fifths", 40.1, 6.01, 1, 40.1, true},
		{"seen to rise on behind it", 45, 6.01, 1, 60, false},
	} {
		var nm []float64
		for y := 1.0; y <= c.at; y++ {
			nm = append(nm, y)
		}
		nm[len(nm)-1] = c.at
		s := series(0.1, nm...)
		last := s[len(s)-1]
		for k := range 20 {
			at := last.T + 0.01*(c.lasts+float64(k))
			s = append(s, Sample{at, last.Angle + c.turned, c.then})
			if c.then > 50 && k > 2 {
				s[len(s)-1].Torque += float64(k)
			}
		}
		s[0].Torque = 0
		top := 0
		for i := range s {
			if s[i].Torque > s[top].Torque {
				top = i
			}
		}
		if c.name == "below four fifths of its top" || c.name == "at four fifths" {
			s = append(s, series(0, 50)[0]) // the top was seen elsewhere
			s[len(s)-1].T = last.T + 0.01*(c.lasts+20)
			top = len(s) - 1
		}
		_, got := gapAtTop(s, top, 0, 0, 12)
		if got != c.want {
			t.Errorf("%s: %v", c.name, got)
		}
	}
}
