package draw

import (
	"encoding/json"
	"html/template"
	"math"

	"lugtak/core/inspect"
)

// The pictures of what is measured on parts, tyres and shafts.

// drawToe shows the wheel from above, turned by the rod, ten times too far.
func drawToe(in map[string]json.RawMessage) template.HTML {
	deg, mm, err := inspect.Toe(num(in, "turns"), num(in, "pitch_mm"), num(in, "arm_mm"), num(in, "rim_mm"))
	if err != nil {
		return ""
	}
	c := newCanvas(560, 220, "the wheel from above, its toe ten times as large")
	x, y := 180.0, 110.0
	corner := func(dx, dy float64) [2]float64 {
		s, k := math.Sincos(math.Max(-40, math.Min(40, 10*deg)) * math.Pi / 180)
		return [2]float64{x + dx*k - dy*s, y + dx*s + dy*k}
	}
	c.line("grid", x-130, y, x+130, y)
	c.poly("d-metal", true, corner(-95, -26), corner(95, -26), corner(95, 26), corner(-95, 26))
	a, b := corner(0, 0), corner(-60, 70)
	c.line("d-bar", a[0], a[1], b[0], b[1]).line("d-arm", b[0], b[1], b[0], 206)
	c.text("d-text", 340, 90, "start", "%s° at this wheel", Plain(math.Round(deg*1000)/1000)).
		text("d-text", 340, 116, "start", "%s mm at the rim", Plain(math.Round(mm*100)/100))
	return c.html()
}

// drawRing shows old and new ring with their teeth.
func drawRing(in map[string]json.RawMessage) template.HTML {
	o, n := int(num(in, "old_teeth")), int(num(in, "new_teeth"))
	pct, err := inspect.ToneRing(o, n)
	if err != nil {
		return ""
	}
	c := newCanvas(560, 230, "old and new sensor ring")
	ring := func(x float64, teeth int, name string) {
		c.circle("d-face", x, 100, 68)
		for i := range teeth {
			a, b := polar(x, 100, 68, 360*float64(i)/float64(teeth)), polar(x, 100, 80, 360*float64(i)/float64(teeth))
			c.line("d-mark", a[0], a[1], b[0], b[1])
		}
		c.text("d-text", x, 105, "middle", "%d teeth", teeth).text("d-text dim", x, 206, "middle", "%s", name)
	}
	ring(120, o, "old")
	ring(320, n, "new")
	c.text("d-text", 430, 90, "start", "reads %s %%", Plain(math.Round(pct*100)/100)).
		text("d-text dim", 430, 112, "start", "of the true speed's")
	return c.html()
}

// drawTyre shows rim and tyre to scale.
func drawTyre(in map[string]json.RawMessage) template.HTML {
	t, err := inspect.ParseTyre(word(in, "size"))
	if err != nil {
		return ""
	}
	c := newCanvas(560, 250, "tyre and rim to scale, from the side and from the front")
	k := 210 / t.DiameterMM()
	c.circle("d-dark", 120, 120, t.DiameterMM()/2*k).circle("d-face", 120, 120, t.RimMM/2*k)
	c.rect("d-dark", 300, 15, t.WidthMM*k, 210)
	metres := func(v float64) string { return Plain(math.Round(v*1000) / 1000) }
	low, high := t.CircumferenceBand()
	c.text("d-text", 400, 80, "start", "%s mm across", Plain(math.Round(t.DiameterMM()*10)/10))
	c.text("d-text", 400, 106, "start", "%s m a turn", metres(t.CircumferenceM()))
	c.text("d-text dim", 400, 132, "start", "worn %s, hard %s", metres(low), metres(high))
	c.text("d-text dim", 400, 158, "start", "%s mm wide", Plain(math.Round(t.WidthMM)))
	return c.html()
}

// drawOrders puts what turns on one scale of frequency.
func drawOrders(in map[string]json.RawMessage) template.HTML {
	t, err := inspect.ParseTyre(word(in, "tyre"))
	f, v := num(in, "frequency_hz"), num(in, "speed_kmh")
	if err != nil || f <= 0 || v <= 0 {
		return ""
	}
	all := inspect.Orders(t.TurnsPerSecond(v), num(in, "axle_ratio"), num(in, "engine_rpm"))
	top := f * 1.4
	for _, o := range all {
		top = math.Max(top, o.FrequencyHz*1.1)
	}
	c := newCanvas(600, 60+22*float64(len(all)), "what turns, by frequency")
	x := func(hz float64) float64 { return 130 + 440*hz/top }
	c.rect("d-window", x(f*0.95), 10, x(f*1.05)-x(f*0.95), 20+22*float64(len(all)))
	for i, o := range all {
		y := 30 + 22*float64(i)
		c.line("grid", 130, y, 570, y).
			circle("d-dot", x(o.FrequencyHz), y, 5).
			text("d-text", 122, y+5, "end", "%s × %s", o.Source, Plain(o.Order)).
			text("axis", x(o.FrequencyHz)+9, y+4, "start", "%s", Plain(math.Round(o.FrequencyHz*10)/10))
	}
	c.text("d-text", x(f), 52+22*float64(len(all)), "middle", "felt: %s Hz", Plain(f))
	return c.html()
}

// drawLash shows the lash on the wheel against what is allowed.
func drawLash(in map[string]json.RawMessage) template.HTML {
	w, v := num(in, "wheel_diameter_mm"), num(in, "lash_mm")
	if !(w >= 250 && w <= 700) || v < 0 {
		return ""
	}
	c := newCanvas(560, 230, "lash along the rim")
	deg := func(mm float64) float64 { return math.Min(170, mm/w*2*180/math.Pi) }
	c.circle("d-ring-off", 150, 115, 90).circle("d-face", 150, 115, 22)
	for _, a := range []float64{90, 210, 330} {
		p, q := polar(150, 115, 22, a), polar(150, 115, 88, a)
		c.line("d-bar", p[0], p[1], q[0], q[1])
	}
	c.arc("d-turn", 150, 115, 90, -deg(v)/2, deg(v)/2)
	c.text("d-text", 290, 110, "start", "%s mm along a rim of %s mm", Plain(v), Plain(w))
	return c.html()
}

// drawLining shows the lining on its shoe.
func drawLining(in map[string]json.RawMessage) template.HTML {
	t := num(in, "thickness_mm")
	if !(t >= 0 && t <= 60) {
		return ""
	}
	c := newCanvas(560, 160, "lining on its back plate, to scale")
	k := math.Min(6, 80/math.Max(t, 4))
	c.rect("d-metal", 60, 110, 300, 24).rect("d-dark", 60, 110-k*t, 300, k*t)
	c.text("d-text", 380, 110-k*t/2+5, "start", "%s mm left", Plain(t))
	return c.html()
}

// drawRotor unrolls the rotor: thickness round it against new and discard.
func drawRotor(in map[string]json.RawMessage) template.HTML {
	var t []float64
	json.Unmarshal(in["thickness_mm"], &t)
	n, d := num(in, "new_mm"), num(in, "discard_mm")
	if len(t) == 0 || !(n > d && d > 0) {
		return ""
	}
	lo := d
	for _, v := range t {
		lo = math.Min(lo, v)
	}
	c := newCanvas(560, 260, "thickness round the rotor")
	a := c.axes(0, float64(len(t)), lo-(n-d)*0.15, n+(n-d)*0.1, "point", "thickness, mm")
	c.line("d-yield", a.x0, a.y(d), a.x1, a.y(d)).text("d-text bad", a.x1, a.y(d)-5, "end", "discard %s", Plain(d))
	c.line("d-proof", a.x0, a.y(n), a.x1, a.y(n)).text("d-text", a.x1, a.y(n)+15, "end", "new %s", Plain(n))
	var pts [][2]float64
	for i, v := range t {
		p := a.at(float64(i)+0.5, v)
		pts = append(pts, p)
		c.circle("d-dot", p[0], p[1], 5)
	}
	c.poly("d-curve", false, pts...)
	return c.html()
}

// drawBush shows the arm hanging and the twist it leaves.
func drawBush(in map[string]json.RawMessage) template.HTML {
	arm, droop := num(in, "arm_mm"), num(in, "droop_mm")
	deg, err := inspect.BushTwist(arm, droop)
	if err != nil {
		return ""
	}
	c := newCanvas(560, 230, "the arm at ride height and hanging")
	x, y, l := 90.0, 90.0, 300.0
	e := polar(x, y, l, 90+deg)
	c.line("d-bar-faint", x, y, x+l, y).
		line("d-bar", x, y, e[0], e[1]).
		circle("d-face", x, y, 20).
		circle("d-hole", x, y, 8)
	c.arc("d-turn", x, y, 70, 90, 90+deg)
	c.text("d-text", x+82, y+30, "start", "%s°", Plain(math.Round(deg*10)/10)).
		text("d-text dim", x+l+10, y+5, "start", "ride height").
		text("d-text dim", e[0]+10, e[1]+5, "start", "hanging")
	return c.html()
}

// drawCardan shows the speed ratio over one turn.
func drawCardan(in map[string]json.RawMessage) template.HTML {
	b := num(in, "angle_deg")
	lo, hi, _, err := inspect.Cardan(b)
	if err != nil || b == 0 {
		return ""
	}
	c := newCanvas(560, 250, "speed of the driven shaft over one turn")
	pad := (hi - lo) * 0.15
	a := c.axes(0, 360, lo-pad, hi+pad, "turn of the driving shaft, °", "ratio")
	cb := math.Cos(b * math.Pi / 180)
	var pts [][2]float64
	for d := 0.0; d <= 360; d += 4 {
		s := math.Sin(d * math.Pi / 180)
		pts = append(pts, a.at(d, cb/(1-s*s*(1-cb*cb))))
	}
	c.poly("d-curve", false, pts...)
	return c.html()
}
