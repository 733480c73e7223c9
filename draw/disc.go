package draw

import (
	"html/template"
	"math"

	"lugtak/core/inspect"
	"lugtak/core/job"
)

// RunOut draws a disc from its edge, swung out by what the dial gauge read and by its limit, so
// much enlarged that the eye sees it; empty for what is no run-out.
func RunOut(m job.Measurement) template.HTML {
	if m.Key != inspect.RotorRunOutKey && m.Key != inspect.HubRunOutKey || !(m.Limit > 0) {
		return ""
	}
	c := newCanvas(420, 200, "run-out of the disc, enlarged")
	const x, top, bottom = 130.0, 24.0, 176.0
	swung := func(class string, mm float64) {
		by := math.Min(56, 36*mm/m.Limit) // the limit is drawn as 36
		c.line(class, x-by, top, x+by, bottom).line(class, x+by, top, x-by, bottom)
	}
	c.line("d-faint", x, top-8, x, bottom+8)
	swung("d-yield", m.Limit)
	class, words := "d-curve", "d-text"
	if m.Value > m.Limit {
		class, words = "d-curve bad", "d-text bad"
	}
	swung(class, m.Value)
	c.text("d-text", 232, 66, "start", "limit %s mm", Plain(m.Limit))
	c.text(words, 232, 100, "start", "swing %s mm", Plain(m.Value))
	if m.Value > m.Limit {
		remedy := "turn it a hole on"
		if m.Key == inspect.HubRunOutKey {
			remedy = "the face clean, and again"
		}
		c.text("d-text", 232, 134, "start", "%s", remedy)
	}
	return c.html()
}

// Disc draws a rotor from its face with what was read at each point round it, the thinnest
// marked, against its discard thickness; empty for what is no rotor, or read at one point.
func Disc(m job.Measurement) template.HTML {
	if m.Key != inspect.RotorKey || len(m.Readings) < 2 {
		return ""
	}
	c := newCanvas(420, 250, "thickness round the rotor")
	const x, y, outer, hub = 210.0, 125.0, 78.0, 30.0
	c.circle("d-part", x, y, outer)
	c.circle("d-faint", x, y, hub)
	for i, t := range m.Readings {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / float64(len(m.Readings)))
		class, words := "d-dot", "d-text"
		if t == m.Value {
			class, words = "d-dot bad", "d-text bad"
		}
		c.circle(class, x+0.78*outer*sin, y-0.78*outer*cos, 6)
		anchor := "middle"
		switch {
		case sin > 0.3:
			anchor = "start"
		case sin < -0.3:
			anchor = "end"
		}
		c.text(words, x+(outer+14)*sin, y-(outer+14)*cos+5, anchor, "%s", Plain(t))
	}
	c.text("d-text", x, y+5, "middle", "≥ %s", Plain(m.Limit))
	return c.html()
}
