package draw

import (
	"encoding/json"
	"html/template"
	"math"

	"lugtak/core/pull"
	"lugtak/core/recipe"
	"lugtak/core/thread"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
	"lugtak/core/wrench"
	"lugtak/reckon"
)

// Reckoner are the pictures of the calculators, by their names. Each gets the
// inputs that were given and draws nothing where they do not suffice.
var Reckoner = map[string]func(in map[string]json.RawMessage) template.HTML{
	"wrench-setting":   drawAdapter,
	"guard-band":       drawGuardBand,
	"preload":          drawStretch,
	"tightening":       drawStretch,
	"twist-off":        drawStretch,
	"bearing-pressure": drawFlange,
	"castle-nut":       drawCastleNut,
	"bar-force":        drawBar,
	"socket":           drawSocket,
	"recipe":           drawProtractor,
	"convert":          drawScale,
	"pull":             drawTrace,
	"toe":              drawToe,
	"tone-ring":        drawRing,
	"tyre":             drawTyre,
	"orders":           drawOrders,
	"lash":             drawLash,
	"lining":           drawLining,
	"rotor":            drawRotor,
	"bush":             drawBush,
	"bedding":          drawBedding,
	"cardan":           drawCardan,
	"vin":              drawVIN,
	"schedule":         drawSchedule,
	"joint":            drawJoint,
	"engagement":       drawEngagement,
	"hydraulics":       drawHydraulics,
	"push-rod":         drawPushRod,
	"bearing":          drawBearing,
	"end-play":         drawEndPlay,
	"balance":          drawBalance,
	"toe-angle":        drawToeAngle,
	"camber":           drawCamber,
	"caster":           drawCaster,
}

func num(in map[string]json.RawMessage, name string) float64 {
	var v float64
	json.Unmarshal(in[name], &v)
	return v
}

func word(in map[string]json.RawMessage, name string) string {
	var v string
	json.Unmarshal(in[name], &v)
	return v
}

// drawAdapter lays wrench and adapter out to scale, as one looks down on them.
func drawAdapter(in map[string]json.RawMessage) template.HTML {
	l, a, deg := num(in, "wrench_mm"), num(in, "adapter_mm"), num(in, "adapter_angle_deg")
	set, factor, err := wrench.Setting(num(in, "target_nm"), l, a, deg)
	if err != nil {
		return ""
	}
	c := newCanvas(560, 210, "wrench and adapter to scale")
	k := 440 / (l + a)
	hx, hy := 40.0, 110.0 // the hand
	dx := hx + k*l        // the drive
	s, cs := math.Sincos(deg * math.Pi / 180)
	nx, ny := dx+k*a*cs, hy-k*a*s // the nut
	c.line("d-bar", hx, hy, dx, hy).line("d-arm", dx, hy, nx, ny)
	c.rect("d-grip", hx-20, hy-11, 84, 22).rect("d-drive", dx-10, hy-10, 20, 20)
	c.poly("d-nut", true, hexagon(nx, ny, 17)...)
	c.line("d-dim", hx, hy+42, dx, hy+42).text("d-text", (hx+dx)/2, hy+62, "middle", "L %s mm", Plain(l))
	if a > 0 {
		c.text("d-text hot", (dx+nx)/2+8*s, math.Min(hy, (hy+ny)/2)-22, "middle", "A %s mm, %s°", Plain(a), Plain(deg))
		c.line("d-dim hot", dx, hy+42, dx+k*a*cs, hy+42)
	}
	c.text("d-text", 20, 24, "start", "set %s on the wrench: %s arrive at the nut",
		unit.Torque(math.Round(set*10)/10).Both(), unit.Torque(num(in, "target_nm")))
	c.text("d-text dim", 20, 200, "start", "factor %.3f: the reach to the nut is %s mm",
		factor, Plain(math.Round(l/factor)))
	return c.html()
}

func hexagon(x, y, r float64) [][2]float64 {
	var out [][2]float64
	for i := range 6 {
		out = append(out, polar(x, y, r, float64(60*i)+30))
	}
	return out
}

// drawGuardBand shows the window, the setting and what the tool may be off by.
func drawGuardBand(in map[string]json.RawMessage) template.HTML {
	low, high, acc := num(in, "low_nm"), num(in, "high_nm"), num(in, "accuracy_pct")
	set, ok, _, _, err := wrench.GuardBand(low, high, acc)
	if err != nil {
		return ""
	}
	e := set * acc / 100
	from, to := math.Min(low, set-e), math.Max(high, set+e)
	pad := math.Max((to-from)*0.25, set*0.01)
	c := newCanvas(560, 150, "window and tool error")
	x := func(v float64) float64 { return 30 + 500*(v-from+pad)/(to-from+2*pad) }
	class := "d-good"
	if !ok {
		class = "d-bad"
	}
	c.rect("d-window", x(low), 40, x(high)-x(low), 34).
		text("d-text", x(low), 32, "middle", "%s", Plain(low)).
		text("d-text", x(high), 32, "middle", "%s", Plain(high))
	c.rect(class, x(set-e), 82, x(set+e)-x(set-e), 20).line("d-mark", x(set), 36, x(set), 108)
	c.text("d-text", x(set), 128, "middle", "%s, off by up to %s",
		unit.Torque(math.Round(set*100)/100), unit.Torque(math.Round(e*100)/100))
	return c.html()
}

// drawStretch is preload over torque with the friction band of the treatment,
// and where proof and yield lie.
func drawStretch(in map[string]json.RawMessage) template.HTML {
	th, err := thread.Parse(word(in, "thread"))
	if err != nil {
		return ""
	}
	cl, err := thread.ParseClass(word(in, "class"), th)
	if err != nil {
		return ""
	}
	mu, err := thread.Friction(thread.Treatment(word(in, "treatment")))
	if err != nil {
		return ""
	}
	if f := num(in, "friction"); f >= 0.02 && f <= 0.6 {
		mu = thread.Band{Low: f * 0.8, Mid: f, High: f * 1.25}
	}
	proof, yield := th.StressArea()*cl.Proof/1000, th.StressArea()*cl.Re/1000
	top := math.Max(num(in, "torque_nm")*1.2, 1000*yield*th.TorquePerForce(mu.Mid))
	c := newCanvas(560, 300, "stretch over torque with the friction band")
	a := c.axes(0, top, 0, yield*1.25, "torque, N·m", "preload, kN")
	end := func(m float64) [2]float64 {
		f := th.Preload(top, m) / 1000
		if f > yield*1.25 {
			return a.at(yield*1.25*1000*th.TorquePerForce(m), yield*1.25)
		}
		return a.at(top, f)
	}
	o, lo, hi := a.at(0, 0), end(mu.High), end(mu.Low)
	c.poly("d-band", true, o, hi, a.at(top, math.Min(yield*1.25, th.Preload(top, mu.Low)/1000)), lo)
	e := end(mu.Mid)
	c.line("d-curve", o[0], o[1], e[0], e[1])
	c.line("d-proof", a.x0, a.y(proof), a.x1, a.y(proof)).
		text("d-text", a.x1, a.y(proof)+16, "end", "proof %s kN", Plain(math.Round(proof*10)/10))
	c.line("d-yield", a.x0, a.y(yield), a.x1, a.y(yield)).
		text("d-text bad", a.x1, a.y(yield)-6, "end", "yield %s kN", Plain(math.Round(yield*10)/10))
	c.text("d-text dim", a.x0+8, a.y1+12, "start", "μ %s to %s",
		Plain(math.Round(mu.Low*1000)/1000), Plain(math.Round(mu.High*1000)/1000))
	if m := num(in, "torque_nm"); m > 0 {
		f := th.Preload(m, mu.Mid) / 1000
		c.line("d-mark", a.x(m), a.y0, a.x(m), a.y(math.Min(f, yield*1.25))).
			circle("d-dot", a.x(m), a.y(math.Min(f, yield*1.25)), 5)
	}
	return c.html()
}

// drawFlange shows the ring a head presses on, old beside new.
func drawFlange(in map[string]json.RawMessage) template.HTML {
	d, h, old := num(in, "flange_mm"), num(in, "hole_mm"), num(in, "old_flange_mm")
	if !(d > h && h > 0) {
		return ""
	}
	c := newCanvas(560, 210, "faces under the head, to scale")
	k := 80 / math.Max(d, math.Max(old, 1))
	put := func(x, d float64, name string) {
		c.circle("d-window", x, 100, k*d).
			circle("d-hole", x, 100, k*h).
			text("d-text", x, 202, "middle", "%s, %s mm over %s mm", name, Plain(d), Plain(h))
	}
	if old > h {
		put(140, old, "old")
		put(420, d, "new")
	} else {
		put(280, d, "face")
	}
	return c.html()
}

// drawCastleNut shows the nut from the front with its slots and the hole.
func drawCastleNut(in map[string]json.RawMessage) template.HTML {
	n, hole := int(num(in, "slots")), num(in, "hole_deg")
	adv, err := wrench.CastleNut(n, hole)
	if err != nil {
		return ""
	}
	c := newCanvas(560, 240, "castle nut, its slots and the hole")
	x, y, r := 150.0, 118.0, 82.0
	c.poly("d-nut", true, hexagon(x, y, r*1.12)...).circle("d-face", x, y, r*0.8)
	for i := range n {
		deg := float64(i) * 360 / float64(n)
		a, b := polar(x, y, r*0.45, deg), polar(x, y, r*0.82, deg)
		c.line("d-slot", a[0], a[1], b[0], b[1])
	}
	c.circle("d-hole", x, y, r*0.4)
	for _, turn := range []float64{0, 180} {
		a, b := polar(x, y, r*0.1, hole+turn), polar(x, y, r*0.95, hole+turn)
		c.line("d-pin", a[0], a[1], b[0], b[1])
	}
	c.arc("d-turn", x, y, r*1.24, hole-adv, hole)
	c.text("d-text", 290, 70, "start", "turn on by %s°", Plain(math.Round(adv*10)/10)).
		text("d-text dim", 290, 94, "start", "never back")
	if th, err := thread.Parse(word(in, "thread")); err == nil {
		c.text("d-text", 290, 128, "start", "that draws it in by %s mm", Plain(math.Round(th.AdvancePer(adv)*1000)/1000))
	}
	return c.html()
}

// drawBar shows the pull at the end of a bar.
func drawBar(in map[string]json.RawMessage) template.HTML {
	m, l := num(in, "torque_nm"), num(in, "bar_mm")
	f, err := wrench.BarForce(m, l)
	if err != nil {
		return ""
	}
	c := newCanvas(560, 190, "pull at the end of the bar")
	k := math.Min(440, 60+l*0.35)
	c.line("d-bar", 70, 70, 70+k, 70).poly("d-nut", true, hexagon(70, 70, 20)...)
	down := math.Min(80, 14+f/15)
	c.line("d-force", 70+k, 70, 70+k, 70+down).
		poly("d-head", true, [2]float64{70 + k - 8, 70 + down}, [2]float64{70 + k + 8, 70 + down},
			[2]float64{70 + k, 70 + down + 14})
	c.text("d-text", 70+k-14, 70+down, "end", "%s N, as %s kg hanging on it",
		Plain(math.Round(f)), Plain(math.Round(f/9.80665))).
		text("d-text dim", 70+k/2, 52, "middle", "%s mm", Plain(l))
	if f > 600 {
		c.text("d-text bad", 20, 180, "start",
			"More than one pair of hands gives steadily: a longer bar, and stand beside it.")
	}
	return c.html()
}

// drawSocket shows a head in the nearest sockets, the gap drawn ten times.
func drawSocket(in map[string]json.RawMessage) template.HTML {
	af := num(in, "across_flats_mm")
	found, err := wrench.FindSocket(af)
	if err != nil {
		return ""
	}
	c := newCanvas(560, 190, "the nearest sockets round the head, the gap ten times as wide")
	for i, s := range found[:4] {
		x := 75 + 137*float64(i)
		r := 40.0
		gap := math.Max(-20, math.Min(24, 10*s.ClearanceMM/af*r))
		class := map[string]string{"exact": "d-good", "close": "d-good", "loose": "d-warn"}[s.Verdict]
		if class == "" {
			class = "d-bad"
		}
		c.poly("d-ring "+class, true, hexagon(x, 72, (r+gap)*1.155)...).poly("d-nut", true, hexagon(x, 72, r*1.155)...)
		if gap < 0 {
			c.poly("d-tight", true, hexagon(x, 72, (r+gap)*1.155)...)
		}
		c.text("d-text", x, 150, "middle", "%s", s.Name).text("d-text dim", x, 172, "middle", "%s", s.Verdict)
	}
	return c.html()
}

// drawProtractor shows the turn a recipe asks for behind its torque.
func drawProtractor(in map[string]json.RawMessage) template.HTML {
	r, err := recipe.Parse(word(in, "text"))
	if err != nil || !r.ReachesAngle() {
		return ""
	}
	c := newCanvas(560, 250, "the turn behind the torque")
	x, y, rad := 150.0, 125.0, 92.0
	c.circle("d-face", x, y, rad)
	for d := 0; d < 360; d += 15 {
		in := rad - 8
		if d%90 == 0 {
			in = rad - 16
		}
		a, b := polar(x, y, in, float64(d)), polar(x, y, rad, float64(d))
		c.line("grid", a[0], a[1], b[0], b[1])
	}
	c.poly("d-nut", true, hexagon(x, y, 46)...)
	at, n := 0.0, 0
	for _, s := range r.Stages {
		if s.Kind != recipe.Angle {
			continue
		}
		to := at + s.Target()
		c.arc("d-turn", x, y, 62+9*float64(n), at, math.Min(to, at+359))
		p := polar(x, y, 70+9*float64(n), to)
		c.circle("d-dot", p[0], p[1], 4)
		c.text("d-text", 290, 70+26*float64(n), "start", "%s from %s° on to %s°", s.Short(), Plain(at), Plain(to))
		at, n = to, n+1
	}
	a, b := polar(x, y, 20, 0), polar(x, y, 46, 0)
	c.line("d-mark", a[0], a[1], b[0], b[1])
	return c.html()
}

// drawScale lays the two units side by side.
func drawScale(in map[string]json.RawMessage) template.HTML {
	v, from, to := num(in, "value"), word(in, "from"), word(in, "to")
	out, err := unit.Convert(v, from, to)
	if err != nil || v <= 0 || out <= 0 {
		return ""
	}
	c := newCanvas(560, 120, "two scales side by side")
	top := v * 1.5
	x := func(v float64) float64 { return 20 + 520*v/top }
	c.line("frame", 20, 56, 540, 56)
	for _, t := range ticks(0, top) {
		c.line("grid", x(t), 46, x(t), 56).text("axis", x(t), 40, "middle", "%s", Plain(t))
	}
	for _, t := range ticks(0, out*1.5) {
		p := x(t * v / out)
		c.line("grid", p, 56, p, 66).text("axis", p, 82, "middle", "%s", Plain(t))
	}
	a, _ := unit.Lookup(from)
	b, _ := unit.Lookup(to)
	c.line("d-mark", x(v), 30, x(v), 88).
		text("d-text", 540, 18, "end", "%s", a.Symbol).
		text("d-text", 540, 108, "end", "%s", b.Symbol)
	return c.html()
}

// drawTrace draws a trace given as CSV, with the window of its first torque.
func drawTrace(in map[string]json.RawMessage) template.HTML {
	s, err := pull.ReadCSV(word(in, "csv"))
	if err != nil {
		return ""
	}
	amin, amax, top := s[0].Angle, s[0].Angle+1, 1.0
	for _, x := range s {
		amin, amax, top = math.Min(amin, x.Angle), math.Max(amax, x.Angle), math.Max(top, x.Torque)
	}
	c := newCanvas(560, 300, "torque over angle")
	a := c.axes(amin, amax, 0, top*1.15, "angle, °", "torque, N·m")
	if r, err := recipe.Parse(word(in, "recipe")); err == nil {
		for _, st := range r.Stages {
			if lo, hi := st.Window(); st.Kind == recipe.Torque && lo < top*1.15 {
				c.rect("d-window", a.x0, a.y(math.Min(hi, top*1.15)), a.x1-a.x0, a.y(lo)-a.y(math.Min(hi, top*1.15)))
			}
		}
	}
	step := max(1, len(s)/1500)
	var pts [][2]float64
	for i := 0; i < len(s); i += step {
		pts = append(pts, a.at(s[i].Angle, math.Max(0, s[i].Torque)))
	}
	c.poly("d-curve", false, pts...)
	return c.html()
}

// drawVIN sets the characters apart and marks the ninth.
func drawVIN(in map[string]json.RawMessage) template.HTML {
	text := []rune(word(in, "vin"))
	v := vehicle.InspectVIN(word(in, "vin"))
	c := newCanvas(600, 90, "the places of the number")
	for i, r := range text[:min(len(text), 20)] {
		class := "d-face"
		if i == 8 {
			class = "d-window"
		}
		if i >= 17 || r == 'I' || r == 'O' || r == 'Q' {
			class = "d-warn"
		}
		c.rect(class, 6+29*float64(i), 20, 27, 34).
			text("d-text", 19.5+29*float64(i), 43, "middle", "%c", r).
			text("axis", 19.5+29*float64(i), 72, "middle", "%d", i+1)
	}
	if v.CheckDigit != "" {
		c.text("axis", 6, 12, "start", "place 9 by the North American check: %s", v.CheckDigit)
	}
	return c.html()
}

// drawSchedule lays the order found on a line of time for each technician.
func drawSchedule(in map[string]json.RawMessage) template.HTML {
	raw, err := json.Marshal(in)
	if err != nil {
		return ""
	}
	out, err := reckon.Run(nil, "schedule", raw)
	if err != nil {
		return ""
	}
	var s struct {
		Order []struct {
			ID         string  `json:"id"`
			Technician int     `json:"technician"`
			Start      float64 `json:"start_min"`
			End        float64 `json:"end_min"`
		} `json:"order"`
		Makespan float64 `json:"makespan_min"`
	}
	if json.Unmarshal(out, &s) != nil || s.Makespan <= 0 {
		return ""
	}
	c := newCanvas(620, 190, "the order in time")
	x := func(t float64) float64 { return 80 + 520*t/s.Makespan }
	for i, name := range []string{"by itself", "first", "second"} {
		c.text("axis", 72, []float64{148, 40, 92}[i]+5, "end", "%s", name)
	}
	for _, t := range ticks(0, s.Makespan) {
		c.line("grid", x(t), 12, x(t), 168).text("axis", x(t), 184, "middle", "%s", Plain(t))
	}
	for _, p := range s.Order[:min(len(s.Order), 200)] {
		y := []float64{130, 22, 74}[p.Technician]
		class := "d-metal"
		if p.Technician == 0 {
			class = "d-band"
		}
		c.rect(class, x(p.Start), y, x(p.End)-x(p.Start), 36)
		if w := x(p.End) - x(p.Start); w > 9*float64(len(p.ID)) {
			c.text("d-text", x(p.Start)+w/2, y+23, "middle", "%s", p.ID)
		}
	}
	return c.html()
}
