package draw

import (
	"fmt"
	"math"
	"strings"

	"lugtak/core/job"
	"lugtak/core/vehicle"
)

// OutlineView is a vehicle in plan view, nose to the left.
type OutlineView struct {
	Body    string // path
	Glass   string
	W, H    float64
	X0, X1  float64 // of the body: nose and tail
	Y0, Y1  float64 // right side and left
	Wheels  []WheelView
	Tallies []CornerTally
}

// WheelView is one wheel in plan view.
type WheelView struct {
	X, Y, W, H float64
	Work       bool
}

// CornerTally is what is owed at a corner, beside its wheel: its middle.
type CornerTally struct {
	X, Y  float64
	Count int
}

// Left is where the room of a tally, 34 by 24, begins.
func (t CornerTally) Left() float64 { return t.X - 17 }

// Top is the upper edge of that room.
func (t CornerTally) Top() float64 { return t.Y - 12 }

// Base is the line its number stands on.
func (t CornerTally) Base() float64 { return t.Y + 6 }

// The room of a plan view.
const (
	OutlineW = 260.0
	OutlineH = 112.0
)

// Outline draws a plan view to scale: 240 units for six and a half metres.
func Outline(o vehicle.Outline, work []map[vehicle.Corner]int) OutlineView {
	k := 240 / 6500.0
	l, w := o.Length*k, o.Width*k
	v := OutlineView{W: OutlineW, H: OutlineH}
	x0, y0 := (v.W-l)/2, (v.H-w)/2
	v.X0, v.X1, v.Y0, v.Y1 = x0, x0+l, y0, y0+w
	nose := map[string]float64{"car": 0.30, "pickup": 0.26, "van": 0.16, "bus": 0.10, "truck": 0.18}[o.Kind] * l
	r := 0.10 * w
	x1, y1, y := x0+l, y0+w, y0+w/2
	hood := x0 + 0.5*nose + 6 // where the nose is as wide as the rest
	v.Body = new(pen).
		move(x0, y0+0.24*w).bend(x0+2, y0, hood, y0).
		line(x1-r, y0).bend(x1, y0, x1, y0+r).
		line(x1, y1-r).bend(x1, y1, x1-r, y1).
		line(hood, y1).bend(x0+2, y1, x0, y0+0.76*w).
		bend(x0-3, y, x0, y0+0.24*w).closed()
	g, back := x0+nose, x0+nose+0.09*l // the lower and the upper edge of the windscreen
	v.Glass = new(pen).
		move(g, y0+0.12*w).bend(g-7, y, g, y0+0.88*w).
		line(back, y0+0.82*w).bend(back-4, y, back, y0+0.18*w).closed()
	if o.Kind == "pickup" {
		v.Glass += new(pen).move(x0+0.56*l, y0+2).line(x0+0.56*l, y1-2).String()
	}
	front, rear := x0+o.Overhang*k, x0+(o.Overhang+o.Wheelbase)*k
	ww, wh := 25.0, 9.0
	for _, c := range []string{"FL", "FR", "RL", "RR"} {
		x := front
		if c[0] == 'R' {
			x = rear
		}
		y := y0 + w - 4 // nose to the left: the right side lies above
		ty := y0 + w + 1
		if c[1] == 'R' {
			y, ty = y0-wh+4, y0-1
		}
		wv := WheelView{X: x - ww/2, Y: y, W: ww, H: wh}
		for _, corners := range work {
			if n, works := corners[vehicle.Corner(c)]; works {
				wv.Work = true
				v.Tallies = append(v.Tallies, CornerTally{x, ty, n})
			}
		}
		v.Wheels = append(v.Wheels, wv)
	}
	return v
}

// PieEnd is where a wedge of a circle of radius r ends, degrees clockwise from the top.
func PieEnd(r, deg float64) (x, y float64) {
	s, c := math.Sincos(deg * math.Pi / 180)
	return math.Round(100*r*s) / 100, math.Round(-100*r*c) / 100
}

// Sign is a fastener sign to be drawn.
type Sign struct {
	Drive string
	Mark  job.Mark
}

// pen writes the outline of an SVG path.
type pen struct{ strings.Builder }

func (p *pen) move(x, y float64) *pen { return p.write("M%.1f,%.1f", x, y) }
func (p *pen) line(x, y float64) *pen { return p.write(" L%.1f,%.1f", x, y) }

// bend goes to a point by way of another it does not reach.
func (p *pen) bend(byX, byY, x, y float64) *pen {
	return p.write(" Q%.1f,%.1f %.1f,%.1f", byX, byY, x, y)
}

func (p *pen) closed() string { return p.write("Z").String() }

func (p *pen) write(format string, at ...any) *pen {
	fmt.Fprintf(p, format, at...)
	return p
}
