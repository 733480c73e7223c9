package draw

import (
	"fmt"
	"html/template"
	"math"

	"lugtak/core/inspect"
	"lugtak/core/unit"
)

// Wear draws a measure over the distance: what was measured with its gauge's error, where it leads and how
// surely, and the limit; now is where the odometer stands, in is the unit.
func Wear(points []inspect.Point, l inspect.Limit, now float64, in string) template.HTML {
	if len(points) == 0 {
		return ""
	}
	const left, right, top, foot = 46.0, 430.0, 14.0, 150.0
	f, leads := l.Expect(points, 0)
	from, last := points[0].KM, points[len(points)-1]
	until := math.Max(now, last.KM)
	if span := until - from; leads {
		until = math.Min(math.Max(f.LikelyKM, until+span/4), until+3*math.Max(span, 1000))
	}
	lo, hi := l.Value, l.Value
	for _, p := range points {
		lo, hi = math.Min(lo, p.Value), math.Max(hi, p.Value)
	}
	room := math.Max(0.12*(hi-lo), l.Gauge)
	lo, hi = lo-room, hi+room
	x := func(km float64) float64 { return left + (right-left)*(km-from)/math.Max(until-from, 1) }
	y := func(v float64) float64 { return foot - (foot-top)*(v-lo)/math.Max(hi-lo, 1e-9) }
	says := fmt.Sprintf("%s %s at %s, limit %s", Plain(last.Value), in, unit.Kilometres(last.KM), Plain(l.Value))
	c := newCanvas(440, 176, says)
	c.line("grid", left, foot, right, foot)
	c.line("w-limit", left, y(l.Value), right, y(l.Value))
	if leads {
		end := func(km, v float64) [2]float64 { // on the limit, or where the picture ends
			if km <= until {
				return [2]float64{x(km), y(l.Value)}
			}
			return [2]float64{x(until), y(v + (l.Value-v)*(until-last.KM)/(km-last.KM))}
		}
		at := [2]float64{x(last.KM), y(last.Value)}
		low, high := end(f.LowKM, last.Value), [2]float64{x(until), y(last.Value)}
		if !math.IsInf(f.HighKM, 1) {
			high = end(f.HighKM, last.Value)
		}
		if low[0] < right { // from the limit on it lies along it
			c.poly("w-band", true, at, low, [2]float64{right, y(l.Value)}, high)
		} else {
			c.poly("w-band", true, at, low, high)
		}
		likely := end(f.LikelyKM, last.Value)
		c.line("w-leads", at[0], at[1], likely[0], likely[1])
		if f.LikelyKM <= until {
			c.circle("w-end", likely[0], likely[1], 5)
		}
	}
	c.line("w-now", x(now), top-6, x(now), foot)
	at, end := x(now)+4, "start"
	if x(now) > right-40 {
		at, end = x(now)-4, "end"
	}
	low := foot - 8
	if math.Abs(y(l.Value)-low) < 16 { // not on the limit
		low = y(l.Value) - 9
	}
	c.text("axis", at, low, end, "now")
	var line [][2]float64
	for _, p := range points {
		line = append(line, [2]float64{x(p.KM), y(p.Value)})
		c.line("w-error", x(p.KM), y(p.Value-l.Gauge), x(p.KM), y(p.Value+l.Gauge))
	}
	for i := 1; i < len(line); i++ { // one that grew is another part
		if grew := points[i].Value - points[i-1].Value; grew*toward(l) >= -2*l.Gauge {
			c.line("w-line", line[i-1][0], line[i-1][1], line[i][0], line[i][1])
		}
	}
	for _, p := range line {
		c.circle("w-point", p[0], p[1], 4)
	}
	c.text("w-value", line[0][0], line[0][1]-9, "start", "%s", Plain(points[0].Value))
	if len(points) > 1 {
		c.text("w-value", line[len(line)-1][0]-4, line[len(line)-1][1]-9, "end", "%s", Plain(last.Value))
	}
	c.text("axis", left-6, y(l.Value)+5, "end", "%s", Plain(l.Value))
	c.text("axis", left, foot+18, "start", "%s", unit.Kilometres(from))
	c.text("axis", right, foot+18, "end", "%s", unit.Kilometres(until))
	return c.as("wearchart")
}

// toward is the sense in which a measure comes nearer its limit.
func toward(l inspect.Limit) float64 {
	if l.Least {
		return -1
	}
	return 1
}

// aheadKM is how far the axis of a fleet reaches.
const aheadKM = 60_000

// Ahead draws between which distances ahead a limit is reached, on an axis all vehicles share; past its end it
// is cut.
func Ahead(low, likely, high float64) template.HTML {
	const wide, high0, bar = 300.0, 26.0, 10.0
	x := func(km float64) float64 { return 4 + (wide-8)*math.Max(0, math.Min(km, aheadKM))/aheadKM }
	from, until := unit.Kilometres(math.Max(low, 0)), unit.Kilometres(math.Min(high, 9e5))
	c := newCanvas(wide, high0, from+" to "+until+" ahead")
	for km := 0.0; km <= aheadKM; km += 20_000 {
		c.line("grid", x(km), 2, x(km), high0-2)
	}
	if low < aheadKM {
		c.rect("w-ahead", x(low), (high0-bar)/2, math.Max(3, x(high)-x(low)), bar)
	}
	if likely < aheadKM {
		c.line("w-now", x(likely), 3, x(likely), high0-3)
	}
	return c.as("aheadbar")
}
