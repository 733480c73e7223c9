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
