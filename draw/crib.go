package draw

import (
	"fmt"
	"html/template"
	"math"
	"time"

	"lugtak/core/unit"
	"lugtak/core/wrench"
)

// RangeBar shows the range of a tool with the fifth that is not to be used.
func RangeBar(t wrench.Tool) template.HTML {
	c := newCanvas(420, 54, fmt.Sprintf("range from %s to %s", unit.Torque(t.Least()), unit.Torque(t.MaxNm)))
	x := func(v float64) float64 { return 10 + 400*v/t.MaxNm }
	c.rect("d-bar-off", x(0), 8, x(t.Least())-x(0), 16).rect("d-bar-on", x(t.Least()), 8, x(t.MaxNm)-x(t.Least()), 16)
	for _, v := range []float64{t.Least(), 0.6 * t.MaxNm, t.MaxNm} {
		anchor := "middle"
		if v == t.MaxNm {
			anchor = "end"
		}
		c.text("axis", x(v), 42, anchor, "%s", unit.Torque(v))
	}
	return c.html()
}

// CalibrationClock is the year since the last calibration, and the cycles used.
func CalibrationClock(t wrench.Tool, now time.Time) template.HTML {
	c := newCanvas(84, 84, "share of the calibration interval used")
	used := now.Sub(t.Calibrated).Hours() / t.Due().Sub(t.Calibrated).Hours()
	cycles := float64(t.Cycles) / wrench.Recalibrate
	c.circle("d-ring-off", 42, 42, 34).circle("d-ring-off", 42, 42, 24)
	ring := func(r, share float64) {
		class := "d-ring-on"
		if share > 0.9 {
			class = "d-ring-due"
		}
		c.arc(class, 42, 42, r, 0, 359.9*math.Min(1, math.Max(0.01, share)))
	}
	ring(34, used)
	ring(24, cycles)
	return c.html()
}

// CheckChart puts the deviations of a calibration against the permitted band.
func CheckChart(points []wrench.CheckPoint) template.HTML {
	c := newCanvas(420, 170, "deviations of the last calibration against the permitted band")
	y := func(pct float64) float64 { return 80 - 9*math.Max(-8, math.Min(8, pct)) }
	c.line("frame", 40, y(0), 410, y(0))
	for i, p := range points {
		x := 110 + 120*float64(i)
		a := wrench.Accuracy(p.SetNm)
		c.rect("d-window", x-50, y(a), 100, y(-a)-y(a))
		c.text("axis", x, 164, "middle", "%s", unit.Torque(p.SetNm))
		c.text("axis", x-47, y(a)-4, "start", "+%s %%", Plain(a))
		for k, d := range p.Deviations() {
			class := "d-dot"
			if math.Abs(d) > a {
				class = "d-dot bad"
			}
			c.circle(class, x-36+18*float64(k), y(d), 4.5)
		}
	}
	return c.html()
}
