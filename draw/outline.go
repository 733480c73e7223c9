package draw

import (
	"fmt"
	"lugtak/core/job"
	"lugtak/core/vehicle"
	"math"
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

// The room of a tally is 34 by 24.
func (t CornerTally) Left() float64 { return t.X - 17 }
func (t CornerTally) Top() float64  { return t.Y - 12 }
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
	v.Body = fmt.Sprintf(
		"M%.1f,%.1f Q%.1f,%.1f %.1f,%.1f H%.1f Q%.1f,%.1f %.1f,%.1f V%.1f Q%.1f,%.1f %.1f,%.1f H%.1f Q%.1f,%.1f %.1f,%.1f "+
			"Q%.1f,%.1f %.1f,%.1fZ",
		x0,
		y0+0.24*w,
		x0+2,
		y0,
		x0+0.5*nose+6,
		y0,
		x0+l-r,
		x0+l,
		y0,
		x0+l,
		y0+r,
		y0+w-r,
		x0+l,
		y0+w,
		x0+l-r,
		y0+w,
		x0+0.5*nose+6,
		x0+2,
		y0+w,
		x0,
		y0+0.76*w,
		x0-3,
		y0+w/2,
		x0,
		y0+0.24*w,
	)
	g := x0 + nose
	v.Glass = fmt.Sprintf(
		"M%.1f,%.1f Q%.1f,%.1f %.1f,%.1f L%.1f,%.1f Q%.1f,%.1f %.1f,%.1fZ",
		g,
		y0+0.12*w,
		g-7,
		y0+w/2,
		g,
		y0+0.88*w,
		g+0.09*l,
		y0+0.82*w,
		g+0.09*l-4,
		y0+w/2,
		g+0.09*l,
		y0+0.18*w,
	)
	if o.Kind == "pickup" {
		v.Glass += fmt.Sprintf("M%.1f,%.1f V%.1f", x0+0.56*l, y0+2, y0+w-2)
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
