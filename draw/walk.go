package draw

import (
	"fmt"
	"html/template"
	"math"
	"strings"

	"lugtak/core/job"
)

// MeasureBar draws a measurement to scale against its limit, with the gauge's
// error as a band.
func MeasureBar(m job.Measurement) template.HTML {
	c := newCanvas(420, 64, m.Name+" against its limit")
	// A least thickness is looked at near its limit; anything else from nothing up.
	low, top := 0.0, 1.35*math.Max(m.Limit, math.Max(m.Value, 1e-9))
	from, to := 0.0, m.Limit
	if m.Least {
		room := math.Max(1.5*math.Abs(m.Value-m.Limit), 0.05*m.Limit)
		low = math.Max(0, math.Min(m.Limit, m.Value)-room/2)
		top = math.Max(m.Limit, m.Value) + room/2
		from, to = m.Limit, top
	}
	x := func(v float64) float64 { return 10 + 400*math.Max(0, math.Min(1, (v-low)/(top-low))) }
	if m.Floor > 0 {
		from = m.Floor
		c.line("d-yield", x(from), 8, x(from), 38)
	}
	c.rect("d-window", x(from), 14, x(to)-x(from), 18)
	c.rect(
		"d-gauge",
		x(m.Value-m.Gauge),
		14,
		math.Max(2, x(m.Value+m.Gauge)-x(m.Value-m.Gauge)),
		18,
	)
	c.line("d-yield", x(m.Limit), 8, x(m.Limit), 38).text("axis", x(m.Limit), 56, "middle", "limit %s", Plain(m.Limit))
	c.line("d-mark", x(m.Value), 10, x(m.Value), 36)
	for _, r := range m.Readings {
		c.circle("d-dot", x(r), 23, 3)
	}
	return c.html()
}

// firstOrder is where a spectrum begins to tell: below it lies how the road was driven.
const firstOrder = 8

// Compared draws two recorded drives over one another, by orders of the wheel's turn and to
// one scale: dashed before, drawn out now. It draws nothing where one of them tells nothing.
func Compared(before, now job.Drive) template.HTML {
	most := 0.0
	for _, d := range []job.Drive{before, now} {
		if len(d.Amplitude) < 2*firstOrder || d.Step <= 0 {
			return ""
		}
		for _, a := range d.Amplitude[firstOrder:] {
			most = math.Max(most, a)
		}
	}
	if most == 0 {
		return ""
	}
	loud := func(d job.Drive) float64 { // of what stands out
		top := 0.0
		for _, a := range d.Amplitude[firstOrder:] {
			top = math.Max(top, a)
		}
		return top
	}
	was, is := loud(before), loud(now)
	c := newCanvas(640, 180,
		fmt.Sprintf("vibration by orders before and now: the loudest was %.2f m/s² and is %.2f", was, is))
	span := math.Max(float64(len(before.Amplitude)-1)*before.Step, float64(len(now.Amplitude)-1)*now.Step)
	x := func(order float64) float64 { return 40 + 590*order/span }
	for o := 1.0; o < span; o++ {
		c.line("grid", x(o), 20, x(o), 150).text("axis", x(o), 166, "middle", "%s", Plain(o))
	}
	curve := func(class string, d job.Drive) {
		var pts [][2]float64
		for i := firstOrder / 2; i < len(d.Amplitude); i++ {
			pts = append(pts, [2]float64{x(float64(i) * d.Step), 150 - 125*math.Min(1, d.Amplitude[i]/most)})
		}
		c.poly(class, false, pts...)
	}
	curve("d-curve d-was", before)
	curve("d-curve", now)
	c.text("d-text", 630, 16, "end", "loudest %s m/s² before, %s now", Plain(math.Round(100*was)/100),
		Plain(math.Round(100*is)/100))
	return c.html()
}

// Waterfall draws a recorded drive: the mean order spectrum above, the stretches of
// road below it, dark where they are loud.
func Waterfall(r job.Drive) template.HTML {
	c := newCanvas(640, 300, "vibration by orders of the wheel turn, and stretch by stretch")
	top, n := 0.0, len(r.Amplitude)
	for i := 8; i < n; i++ {
		top = math.Max(top, r.Amplitude[i])
	}
	if top == 0 || n < 16 {
		return ""
	}
	span := float64(n-1) * r.Step
	x := func(order float64) float64 { return 40 + 590*order/span }
	y := func(a float64) float64 { return 130 - 105*math.Min(1, a/top) }
	for o := 1.0; o < span; o++ {
		c.line("grid", x(o), 20, x(o), 280).text("axis", x(o), 296, "middle", "%s", Plain(o))
	}
	var pts [][2]float64
	for i := 4; i < n; i++ {
		pts = append(pts, [2]float64{x(float64(i) * r.Step), y(r.Amplitude[i])})
	}
	c.poly("d-curve", false, pts...)
	for k, p := range r.Peaks {
		name := "something unknown"
		if p.Source != "" {
			name = fmt.Sprintf("%s × %s", p.Source, Plain(p.Order))
		}
		c.circle(
			"d-dot",
			x(p.PerTurn),
			y(p.Amplitude),
			5,
		).text(
			"d-text",
			x(p.PerTurn)+8,
			math.Max(16, y(p.Amplitude)+4+14*float64(k%2)),
			"start",
			"%s",
			name,
		)
	}
	h := 130 / math.Max(1, float64(len(r.Falls)))
	var loud [6]strings.Builder // one path for each loudness: thousands of cells, five elements
	for k, f := range r.Falls {
		for i := 4; i+3 < len(f.Amplitude); i += 4 {
			a := math.Max(math.Max(f.Amplitude[i], f.Amplitude[i+1]), math.Max(f.Amplitude[i+2], f.Amplitude[i+3])) / top
			fmt.Fprintf(
				&loud[int(5*math.Min(1, a))],
				"M%.1f,%.1fh%.1fv%.1fh%.1fz",
				x(float64(i)*r.Step),
				150+h*float64(k),
				590*4*r.Step/span,
				h,
				-590*4*r.Step/span,
			)
		}
	}
	for level := 1; level < len(loud); level++ {
		c.path(fmt.Sprintf("d-loud%d", level), loud[level].String())
	}
	if k := len(r.Falls); k > 0 {
		c.text(
			"axis",
			34,
			160,
			"end",
			"%s",
			Plain(math.Round(r.Falls[0].Speed)),
		).text(
			"axis",
			34,
			280,
			"end",
			"%s",
			Plain(math.Round(r.Falls[k-1].Speed)),
		).text(
			"axis",
			34,
			146,
			"end",
			"km/h",
		)
	}
	return c.html()
}
