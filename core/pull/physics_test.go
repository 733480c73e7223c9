package pull

import (
	"math"
	"slices"
	"strings"
	"testing"

	"lugtak/core/recipe"
)

// drawFrom is draw without the resting start: the recording begins in the run-down.
func drawFrom(from Sample, acts ...act) []Sample {
	return draw(append([]act{{from.Angle, from.Torque, 0.005}}, acts...)...)[1:]
}

// bent changes every sample of a trace.
func bent(s []Sample, by func(Sample) Sample) []Sample {
	out := slices.Clone(s)
	for i := range out {
		out[i] = by(out[i])
	}
	return out
}

// What physics asks of a judge, on traces drawn by hand: common practice of reading
// torque–angle traces.
func TestPhysicsOfTraces(t *testing.T) {
	castle := []act{resting, runDown, {245, 90, 1}, {245, 90, 0.1}, {245, 0, 0.2}, {245, 0, 0.2}}
	upTo60 := []act{resting, runDown, {230, 60, 0.8}}
	released := func(a []act, deg float64) []act { return append(slices.Clone(a), release(deg, 0)...) }
	then := func(a []act, b ...act) []act { return append(slices.Clone(a), b...) }
	whole := draw(then(upTo60, release(230, 60)...)...)
	turned := draw(then(upTo60, append([]act{{320, 200, 2}}, release(320, 200)...)...)...)
	saw := []act{resting, runDown, {208, 16, 0.3}}
	for k := 1.0; k <= 6; k++ {
		saw = append(saw, act{208 + 4*k - 0.4, 16 + 7*k, 0.2}, act{208 + 4*k, 8 + 7*k, 0.02})
	}
	saw = append(saw, act{235, 60, 0.2})
	for _, c := range []struct {
		name, recipe string
		trace        []Sample
		ex           Expect
		want         Signature
		stages       string
		left         float64
	}{
		{"66 on 60 without a rest, the release still falling", "60 Nm",
			drawFrom(Sample{0, 0, 1}, act{200, 1, 1}, act{233, 66, 0.9}, act{233, 66, 0.1},
				act{233, 4, 1.2}), Expect{}, High, "high", 0},
		{"60 on 60 likewise", "60 Nm",
			drawFrom(Sample{0, 0, 1}, act{200, 1, 1}, act{230, 60, 0.9}, act{230, 60, 0.1},
				act{230, 4, 1.2}), Expect{}, Good, "ok", 0},
		{
			"a tool that shows 3 at rest", "60 Nm", bent(whole, func(s Sample) Sample { s.Torque += 3; return s }), Expect{},
			Good, "ok", 0,
		},
		{"castle nut turned back 20", "90 Nm; next slot",
			draw(released(then(castle, act{244.5, -45, 0.2}, act{225, -30, 0.5}), 225)...), Expect{}, TurnedBack, "ok ok", 0},
		{"castle nut turned back 45", "90 Nm; next slot",
			draw(released(then(castle, act{244.5, -45, 0.2}, act{200, -20, 0.5}), 200)...), Expect{}, TurnedBack, "ok ok", 0},
		{"turned back by a tool that shows no sign of it", "90 Nm; next slot",
			draw(released(then(castle, act{225, 0, 0.5}), 225)...), Expect{}, TurnedBack, "ok ok", 0},
		{"castle nut on to its slot", "90 Nm; next slot",
			draw(released(then(castle, act{245, 92, 0.4}, act{265, 130, 0.5}), 265)...), Expect{}, Good, "ok ok", 0},
		{"castle nut 80 degrees on", "90 Nm; next slot",
			draw(released(then(castle, act{245, 92, 0.4}, act{325, 160, 0.9}), 325)...), Expect{}, AngleLong, "ok long", 0},
		{
			"drag of 14 %", "60 Nm",
			draw(then([]act{resting, {2, 8.4, 0.1}, {700, 8.4, 2}, {726, 60, 0.8}}, release(726, 60)...)...), Expect{}, Good,
			"ok", 0,
		},
		{
			"drag of 24 %", "60 Nm",
			draw(then([]act{resting, {2, 14.4, 0.1}, {700, 14.4, 2}, {723, 60, 0.8}}, release(723, 60)...)...), Expect{}, Good,
			"ok", 0,
		},
		{
			"drag that comes on top", "48 Nm + drag",
			draw(then([]act{resting, {2, 12, 0.1}, {700, 12, 2}, {724, 60, 0.8}}, release(724, 60)...)...), Expect{DragNm: 12},
			Good, "ok", 0,
		},
		{
			"drag that comes on top, as the run-down shows it", "48 Nm + drag",
			draw(then([]act{resting, {2, 12, 0.1}, {700, 12, 2}, {724, 60, 0.8}}, release(724, 60)...)...), Expect{}, Good, "ok",
			0,
		},
		{
			"the figure alone where drag comes on top", "48 Nm + drag",
			draw(then([]act{resting, {2, 12, 0.1}, {700, 12, 2}, {718, 48, 0.8}}, release(718, 48)...)...), Expect{}, Low, "low",
			0,
		},
		{
			"drag that rises to half", "60 Nm",
			draw(then([]act{resting, {2, 3, 0.1}, {700, 33, 2}, {714, 60, 0.5}}, release(714, 60)...)...), Expect{},
			CrossThreaded, "ok", 0,
		},
		{"two angle stages in one", "42 Nm, +45°, +45°",
			draw(then([]act{resting, runDown, {220, 42, 0.5}, {310, 150, 2}},
				release(310, 150)...)...), Expect{}, Good, "ok ok ok", 0},
		{"two angle stages, 70 of 90", "42 Nm, +45°, +45°",
			draw(then([]act{resting, runDown, {220, 42, 0.5}, {290, 130, 2}},
				release(290, 130)...)...), Expect{}, AngleShort, "ok ok short", 20},
		{"past yield on a short grip", "60 Nm + 90°",
			draw(then(upTo60, append([]act{{245, 150, 0.5}, {320, 168, 1.8}},
				release(320, 168)...)...)...), Expect{}, Good, "ok ok", 0},
		{"yield before the torque of an angle recipe", "60 Nm + 90°",
			draw(then([]act{resting, runDown, {212, 36, 0.4}, {290, 44, 2}, {340, 60, 1}, {430, 75, 2}},
				release(430, 75)...)...), Expect{}, Yielded, "ok ok", 0},
		{"a saw", "60 Nm", draw(then(saw, release(235, 60)...)...), Expect{}, StickSlip, "ok", 0},
		{"the angle rolls over at 360", "60 Nm + 90°",
			bent(turned, func(s Sample) Sample { s.Angle = math.Mod(s.Angle+60, 360); return s }), Expect{}, Good, "ok ok", 0},
		{"the angle is read at the grip", "60 Nm + 90°",
			bent(turned, func(s Sample) Sample { s.Angle += 0.06 * s.Torque; return s }),
			Expect{FlexDegPerNm: 0.06}, Good, "ok ok", 0},
		{"at the grip, and only the release tells", "60 Nm + 90°",
			bent(turned, func(s Sample) Sample { s.Angle += 0.03 * s.Torque; return s }), Expect{}, Good, "ok ok", 0},
		{
			"a left-hand thread", "left 60 Nm", bent(whole, func(s Sample) Sample { return Sample{s.T, -s.Angle, -s.Torque} }),
			Expect{}, Good, "ok", 0,
		},
		{"a second click that moves nothing", "60 Nm",
			draw(then(upTo60, append([]act{{230, 60, 0.1}, {230, 0, 0.2}, {230, 0, 0.3}, {230, 60, 0.5}},
				release(230, 60)...)...)...), Expect{}, Good, "ok", 0},
		{"left low, then pulled without moving", "60 Nm",
			draw(then([]act{resting, runDown, {215, 30, 0.5}, {215, 0, 0.2}, {215, 0, 0.3}, {215.3, 60, 0.5}},
				release(215.3, 60)...)...), Expect{}, NoMovement, "ok", 0},
	} {
		r, err := recipe.Parse(c.recipe)
		if err != nil {
			t.Errorf("%s: %v", c.name, err)
			continue
		}
		res, err := Judge(r.Stages, c.trace, c.ex)
		if err != nil {
			t.Errorf("%s: %v", c.name, err)
			continue
		}
		var got []string
		for _, s := range res.Stages {
			got = append(got, s.Verdict)
		}
		if res.Signature != c.want || strings.Join(got, " ") != c.stages || math.Abs(res.LeftDeg-c.left) > 2 {
			t.Errorf("%s: %s, %v, left %.1f: %+v", c.name, res.Signature, got, res.LeftDeg, res.Reasons)
		}
		if c.want == Good && res.Verdict != Keep {
			t.Errorf("%s: %s: %+v", c.name, res.Verdict, res.Reasons)
		}
		if res.Sure <= 0 || res.Sure > 1 {
			t.Errorf("%s: sure of it to %g", c.name, res.Sure)
		}
	}
}

// What the readings cannot carry is not kept, whatever it looks like.
func TestBlindIsNotKept(t *testing.T) {
	clipped := bent(draw(resting, runDown, act{230, 60, 0.8}, act{250, 100, 0.8}, act{250, 0, 0.2}, act{250, 0, 0.2}),
		func(s Sample) Sample { s.Torque = math.Min(s.Torque, 61); return s })
	quick := draw(resting, runDown, act{207, 60, 0.02}, act{207, 60, 0.1}, act{207, 0, 0.2}, act{207, 0, 0.2})
	for name, trace := range map[string][]Sample{"a sensor at its limit": clipped, "four readings on the flank": quick} {
		res, err := Judge(stages(t, "60 Nm"), trace, Expect{})
		if err != nil || res.Verdict == Keep || res.Sure > 0.6 {
			t.Errorf("%s: %s, %s, sure %g, %v", name, res.Signature, res.Verdict, res.Sure, err)
		}
	}
}
