package draw

import (
	"fmt"
	"math"
	"strings"
)

// Plot is a torque–angle trace with its window.
type Plot struct {
	Line               string
	W, H               float64
	Ticks, Marks       []Tick
	BandY, BandH       float64
	BandText           string
	X0, X1, Y0, Y1     float64 // the drawing's frame
	AngleMax, TorqueMx float64
	TopX, TopY         float64
	Beside, BesideText string // the curve of a sibling, and what it is called
}

// Tick is a figure on an axis.
type Tick struct {
	At   float64
	Text string
}

// Trace draws samples into a frame of 540 by 132, over those of a sibling. Without samples it is the empty frame
// that the live trace grows into.
func Trace(samples, beside [][3]float64, low, high, target float64, torque bool) Plot {
	p := Plot{W: 540, H: 132, X0: 40, X1: 516, Y0: 106, Y1: 8}
	amax, tmax := 120.0, math.Max(target*1.3, 10)
	if !torque {
		tmax = 60
	}
	for _, curve := range [][][3]float64{samples, beside} {
		for _, s := range curve {
			amax, tmax = math.Max(amax, (s[1]-curve[0][1])*1.04), math.Max(tmax, s[2]*1.08)
		}
	}
	p.AngleMax, p.TorqueMx = nice(amax), nice(tmax)
	x := func(a float64) float64 { return p.X0 + (p.X1-p.X0)*a/p.AngleMax }
	y := func(m float64) float64 { return p.Y0 + (p.Y1-p.Y0)*m/p.TorqueMx }
	for i := range 5 {
		p.Ticks = append(p.Ticks, Tick{y(p.TorqueMx * float64(i) / 4), fmt.Sprintf("%.0f", p.TorqueMx*float64(i)/4)})
		p.Marks = append(p.Marks, Tick{x(p.AngleMax * float64(i) / 4), fmt.Sprintf("%.0f°", p.AngleMax*float64(i)/4)})
	}
	if torque {
		p.BandY, p.BandH = y(high), math.Max(2, y(low)-y(high))
		p.BandText = fmt.Sprintf("window %.1f–%.1f N·m", low, high)
	}
	p.Line, p.TopX, p.TopY = polyline(samples, x, y)
	p.Beside, _, _ = polyline(beside, x, y)
	return p
}

// polyline is the points of a curve from where it begins, and the highest of them.
func polyline(samples [][3]float64, x, y func(float64) float64) (points string, topX, topY float64) {
	topY = math.Inf(1)
	step := max(1, len(samples)/600)
	var b strings.Builder
	for i := 0; i < len(samples); i += step {
		s := samples[i]
		px, py := x(math.Max(0, s[1]-samples[0][1])), y(math.Max(0, s[2]))
		fmt.Fprintf(&b, "%.1f,%.1f ", px, py)
		if py < topY {
			topX, topY = px, py
		}
	}
	return strings.TrimSpace(b.String()), topX, math.Min(topY, y(0))
}

// nice rounds up to a figure an axis may end on.
func nice(v float64) float64 {
	k := math.Pow(10, math.Floor(math.Log10(v)))
	for _, m := range []float64{1, 1.2, 1.6, 2, 2.4, 3.2, 4, 6, 8, 10} {
		if v <= m*k {
			return m * k
		}
	}
	return v
}
