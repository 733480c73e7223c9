package draw

import (
	"html/template"
	"math"

	"lugtak/core/inspect"
	"lugtak/core/job"
)

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
