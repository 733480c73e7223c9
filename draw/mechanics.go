package draw

import (
	"encoding/json"
	"html/template"
	"math"

	"lugtak/core/brake"
	"lugtak/core/inspect"
	"lugtak/core/thread"
)

// drawJoint lays bolt and parts beside each other as their forces meet: the bolt stretches up one line, the parts are
// pressed up the other, and the load pulls them apart.
func drawJoint(in map[string]json.RawMessage) template.HTML {
	th, err := thread.Parse(word(in, "thread"))
	if err != nil || num(in, "preload_kn") <= 0 {
		return ""
	}
	j := thread.Clamped{
		Thread: th, Grip: num(in, "grip_mm"), Preload: 1000 * num(in, "preload_kn"),
		Load: 1000 * num(in, "load_kn"), Settle: num(in, "settle_um") / 1000,
	}
	r, err := j.Reckon()
	if err != nil {
		return ""
	}
	c := newCanvas(560, 260, "forces of bolt and parts over what they give")
	kept := j.Preload - r.Loss
	stretch, press := kept/r.Bolt, kept/r.Parts
	top := math.Max(r.BoltForce, j.Preload) * 1.1
	a := c.axes(0, 1000*(stretch+press)*1.05, 0, top/1000, "bolt longer, parts shorter, µm", "kN")
	at := func(mm, n float64) [2]float64 { return [2]float64{a.x(1000 * mm), a.y(n / 1000)} }
	meets := at(stretch, kept)
	foot, end := at(0, 0), at(stretch+press, 0)
	c.line("d-bar", foot[0], foot[1], meets[0], meets[1]).line("d-bar-faint", meets[0], meets[1], end[0], end[1])
	grown := r.BoltForce / r.Bolt
	up, low := at(grown, r.BoltForce), at(grown, r.Left)
	c.line("d-bar", meets[0], meets[1], up[0], up[1]).line("d-force", low[0], low[1], up[0], up[1])
	c.text("d-text", up[0]+8, (up[1]+low[1])/2, "start", "load").
		text("d-text dim", foot[0]+70, foot[1]-8, "start", "bolt").text("d-text dim", end[0]-12, end[1]-12, "end", "parts")
	return c.html()
}

// onScale draws a length on a scale with its limits.
func onScale(title string, v, most float64, marks ...scaleMark) template.HTML {
	c := newCanvas(560, 150, title)
	x := func(mm float64) float64 { return 40 + 480*math.Min(1, math.Max(0, mm/most)) }
	c.line("d-bar-faint", x(0), 80, x(most), 80).line("d-bar", x(0), 80, x(v), 80)
	for _, m := range marks {
		c.line("d-force", x(m.at), 50, x(m.at), 110)
		c.text("d-text dim", x(m.at), 42, "middle", "%s %s mm", m.says, Plain(math.Round(100*m.at)/100))
	}
	c.text("d-text", x(v), 132, "middle", "%s mm", Plain(math.Round(100*v)/100))
	return c.html()
}

// scaleMark is a limit on a scale, mm.
type scaleMark struct {
	at   float64
	says string
}

func drawEngagement(in map[string]json.RawMessage) template.HTML {
	th, err := thread.Parse(word(in, "thread"))
	if err != nil {
		return ""
	}
	class, err := thread.ParseClass(word(in, "class"), th)
	if err != nil {
		return ""
	}
	mm, err := th.Engagement(class, num(in, "part_mpa"))
	if err != nil {
		return ""
	}
	return onScale("thread that must be in", mm, math.Max(mm, 2*th.D)*1.1, scaleMark{th.D, "one diameter"})
}

func drawPushRod(in map[string]json.RawMessage) template.HTML {
	v := num(in, "stroke_mm")
	ch, _, err := brake.PushRod(word(in, "chamber"), v, num(in, "pressure_kpa"))
	if err != nil {
		return ""
	}
	return onScale("stroke of the push rod", v, ch.Full*1.05, scaleMark{ch.Limit, "limit"})
}

func drawEndPlay(in map[string]json.RawMessage) template.HTML {
	var readings []float64
	json.Unmarshal(in["readings_mm"], &readings)
	play, _, err := inspect.Play(readings, num(in, "gauge_mm"))
	if err != nil {
		return ""
	}
	low, high := num(in, "low_mm"), num(in, "high_mm")
	var marks []scaleMark
	if low > 0 {
		marks = append(marks, scaleMark{low, "least"})
	}
	if high > 0 {
		marks = append(marks, scaleMark{high, "most"})
	}
	return onScale("end play", play, math.Max(0.05, math.Max(play, high)*1.2), marks...)
}

// drawHydraulics shows master cylinder and piston to one scale, joined by the line.
func drawHydraulics(in map[string]json.RawMessage) template.HTML {
	m, p := num(in, "master_mm"), num(in, "piston_mm")
	bar, clamp, err := brake.Line(num(in, "pedal_n"), num(in, "ratio"), m, p, int(num(in, "pistons")))
	if err != nil {
		return ""
	}
	c := newCanvas(560, 220, "master cylinder and piston to one scale")
	k := math.Min(2, 150/math.Max(m, p))
	c.rect("d-face", 60, 100-m*k/2, 110, m*k).rect("d-face", 390, 100-p*k/2, 70, p*k)
	c.line("d-bar", 170, 100, 390, 100).line("d-force", 20, 100, 60, 100).line("d-force", 460, 100, 510, 100)
	c.text("d-text", 280, 88, "middle", "%s bar", Plain(math.Round(10*bar))).
		text("d-text", 470, 90, "start", "%s kN", Plain(math.Round(clamp/100)/10)).
		text("d-text dim", 115, 200, "middle", "Ø %s mm", Plain(m)).text("d-text dim", 425, 200, "middle", "Ø %s mm",
		Plain(p))
	return c.html()
}

// drawBearing lays the balls between their rings to scale.
func drawBearing(in map[string]json.RawMessage) template.HTML {
	b := inspect.Ball{Balls: int(num(in, "balls")), BallMM: num(in, "ball_mm"), PitchMM: num(in, "pitch_mm"),
		AngleDeg: num(in, "angle_deg")}
	f, err := b.Passes(num(in, "turns_per_s"))
	if err != nil {
		return ""
	}
	c := newCanvas(560, 240, "balls between their rings")
	k := 180 / (b.PitchMM + b.BallMM)
	r := b.PitchMM * k / 2
	c.circle("d-ring-off", 130, 120, r+b.BallMM*k/2).circle("d-ring-off", 130, 120, r-b.BallMM*k/2)
	for i := range b.Balls {
		p := polar(130, 120, r, 360*float64(i)/float64(b.Balls))
		c.circle("d-face", p[0], p[1], b.BallMM*k/2)
	}
	for i, x := range []struct {
		of string
		hz float64
	}{{"outer ring", f.Outer}, {"inner ring", f.Inner}, {"cage", f.Cage}, {"ball", f.Ball}} {
		c.text("d-text", 300, 70+34*float64(i), "start", "%s %s Hz", x.of, Plain(math.Round(10*x.hz)/10))
	}
	return c.html()
}

// drawBalance shows the weight a wheel may be out by, at its rim.
func drawBalance(in map[string]json.RawMessage) template.HTML {
	t, err := inspect.ParseTyre(word(in, "tyre"))
	if err != nil {
		return ""
	}
	k := 190 / t.DiameterMM()
	c := newCanvas(560, 230, "a wheel and where it may be out")
	rim := t.RimMM * k / 2
	c.circle("d-ring-off", 130, 115, 95).circle("d-face", 130, 115, rim)
	p := polar(130, 115, rim, 60)
	c.circle("d-hole", p[0], p[1], 7)
	c.text("d-text dim", 300, 110, "start", "rim of %s mm", Plain(math.Round(t.RimMM)))
	return c.html()
}

// leaning draws a line that leans, three times as far as it does, beside an upright.
func leaning(title, says string, deg float64) template.HTML {
	c := newCanvas(560, 230, title)
	const drawn = 3
	e := polar(200, 200, 170, math.Max(-60, math.Min(60, drawn*deg)))
	c.line("d-bar-faint", 200, 200, 200, 30).line("d-bar", 200, 200, e[0], e[1])
	c.text("d-text", 330, 110, "start", "%s %s°", says, Plain(math.Round(100*deg)/100)).
		text("d-text dim", 330, 140, "start", "drawn three times as far")
	return c.html()
}

func drawCamber(in map[string]json.RawMessage) template.HTML {
	deg, _, err := inspect.Camber(num(in, "one_deg"), num(in, "other_deg"))
	if err != nil {
		return ""
	}
	return leaning("the wheel from the front", "camber", deg)
}

func drawCaster(in map[string]json.RawMessage) template.HTML {
	deg, err := inspect.Caster(num(in, "camber_in_deg"), num(in, "camber_out_deg"), num(in, "steer_deg"))
	if err != nil {
		return ""
	}
	return leaning("the steering axis from the side", "caster", deg)
}

func drawToeAngle(in map[string]json.RawMessage) template.HTML {
	deg := num(in, "toe_deg")
	if _, given := in["toe_deg"]; !given {
		d, err := inspect.ToeAngle(num(in, "toe_mm"), num(in, "rim_mm"))
		if err != nil {
			return ""
		}
		deg = d
	}
	return leaning("the wheel from above", "toe", deg)
}
