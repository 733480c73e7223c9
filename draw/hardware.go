package draw

import (
	"html/template"
	"lugtak/core/thread"
	"lugtak/core/vehicle"
)

// Hardware draws a bolt from the side: the width of its flange, a captive
// washer where it has one, its head and shank.
func Hardware(v vehicle.Variant) template.HTML {
	c := newCanvas(170, 110, v.Sees)
	k := 3.4
	flange := v.FlangeMM
	if flange == 0 {
		flange = 22
	}
	d := 12.0
	if th, err := thread.Parse(v.Thread); err == nil {
		d = th.D
	}
	w := k * flange
	x := 85.0
	c.rect("d-metal", x-k*d*0.8, 12, 2*k*d*0.8, 26)
	c.rect("d-metal", x-w/2, 38, w, 8)
	y := 46.0
	if v.Washer {
		c.rect("d-washer", x-k*flange*0.62, y+2, k*flange*1.24, 6)
		y += 10
	}
	c.rect("d-metal", x-k*d/2, y, k*d, 100-y)
	for t := y + 14; t < 98; t += 6 {
		c.line("grid", x-k*d/2, t, x+k*d/2, t-3)
	}
	return c.html()
}
