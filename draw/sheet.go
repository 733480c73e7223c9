package draw

import (
	"fmt"
	"html/template"
	"math"
)

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
