package draw

import (
	"fmt"
	"html/template"
	"math"

	"lugtak/core/job"
	"lugtak/core/operation"
)

// Sheet draws a place with the joints of a sheet where they sit; a joint's Spec is its key
// and its One the form of its head.
func Sheet(place operation.Place, joints []operation.Joint) CornerPicture {
	v := CornerPicture{Title: place.Title, W: place.Width, H: place.Height, VW: place.Width, VH: place.Height}
	still := func(p operation.Point) (float64, float64) { return p[0], p[1] }
	v.Shapes = outlines(place.Shapes, still)
	for _, j := range joints {
		for _, at := range j.At {
			h := HeadView{Sign: Sign{j.One, job.Rest}, X: at[0], Y: at[1], R: 1.55 * j.Size, Joint: j.Spec, Name: j.Title}
			h.Left, h.Top, h.Size = h.X-h.R, h.Y-h.R, 2*h.R
			v.Heads = append(v.Heads, h)
		}
	}
	return v
}

// Yield draws the share of yield between two ends of the friction band, with the yield
// line; what is turned on by angle goes beyond it on purpose.
func Yield(low, high float64, angle bool) template.HTML {
	says := fmt.Sprintf("%.0f to %.0f %% of yield", 100*low, 100*high)
	c := newCanvas(132, 20, says)
	x := func(share float64) float64 { return 2 + 100*math.Min(share, 1.28) }
	c.rect("y-rail", x(0), 7, x(1)-x(0), 6)
	c.rect("y-band", x(low), 4, math.Max(4, x(high)-x(low)), 12)
	c.line("y-line", x(1), 0, x(1), 20)
	if angle {
		c.line("y-angle", x(high), 10, 124, 10)
		c.poly("y-band", true, [2]float64{122, 5}, [2]float64{131, 10}, [2]float64{122, 15})
	}
	return c.as("yield")
}
