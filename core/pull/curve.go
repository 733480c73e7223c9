package pull

import (
	"math"
	"sort"

	"gonum.org/v1/gonum/stat"

	"lugtak/core/recipe"
	"lugtak/core/robust"
)

// curve is a trace made ready for judging: fewer points, zero removed, peaks,
// the fastener's own turn, and the elastic flank found.
type curve struct {
	p       []Sample // reduced and zeroed
	bins    []bin    // torque over forward turn, from the last back-off on
	peak    float64
	peakAt  int
	snug    float64 // degrees in p's angle
	snugAt  int
	slope   float64 // of the flank, N·m per degree
	base    float64 // run-down torque
	noise   float64 // scatter of torque, N·m
	clipped bool
	pauses  []pause
	target  float64 // the highest torque asked for, or reached where only angle is
}

// bin is one step of forward turn.
type bin struct {
	angle, torque float64
	from, to      int // points of p
}

// pause is a place where the fastener stood still or the wrench let go.
type pause struct {
	at    int // point of p where the load before it ended
	angle float64
	peak  float64
}

const reduceTo = 4000

// reduce thins a trace by means of equal blocks: what decides is slower than
// a block.
func reduce(s []Sample) []Sample {
	n := (len(s) + reduceTo - 1) / reduceTo
	if n <= 1 {
		return append([]Sample(nil), s...)
	}
	out := make([]Sample, 0, len(s)/n+1)
	for i := 0; i < len(s); i += n {
		j := min(i+n, len(s))
		var m Sample
		for _, x := range s[i:j] {
			m.T += x.T
			m.Angle += x.Angle
			m.Torque += x.Torque
		}
		k := float64(j - i)
		out = append(out, Sample{m.T / k, m.Angle / k, m.Torque / k})
	}
	return out
}

func measure(trace []Sample, stages []recipe.Stage) *curve {
	c := &curve{clipped: clips(trace)}
	c.p = reduce(trace)
	c.noise = scatter(c.p)
	c.zero()
	smooth := medians(c.p)
	for i, v := range smooth {
		if v > c.peak {
			c.peak, c.peakAt = v, i
		}
	}
	for _, s := range stages {
		if s.Kind == recipe.Torque {
			c.target = math.Max(c.target, s.Target())
		}
	}
	if c.target == 0 {
		c.target = c.peak
	}
	c.findPauses(smooth)
	c.bin(smooth)
	c.flank()
	return c
}

// clips: the sensor stood at its limit, the very same highest value, while the
// fastener went on turning.
func clips(s []Sample) bool {
	top, n, from, to := 0.0, 0, 0.0, 0.0
	for _, x := range s {
		switch {
		case x.Torque > top:
			top, n, from, to = x.Torque, 1, x.Angle, x.Angle
		case x.Torque == top:
			n, to = n+1, x.Angle
		}
	}
	return n >= 5 && to-from > 2
}

// scatter is the noise of the torque: from second differences, which a slope
// does not disturb, by their median, which a jerk does not.
func scatter(p []Sample) float64 {
	d := make([]float64, 0, len(p))
	for i := 1; i+1 < len(p); i++ {
		d = append(d, math.Abs(p[i-1].Torque-2*p[i].Torque+p[i+1].Torque))
	}
	return robust.Median(d) / 0.6745 / math.Sqrt(6)
}

// zero takes the wrench's offset off: what it shows while nothing turns, after
// the release or before the start.
func (c *curve) zero() {
	n := len(c.p)
	peak := 0.0
	for _, x := range c.p {
		peak = math.Max(peak, x.Torque)
	}
	idle := func(i, step int) (float64, bool) {
		var v []float64
		a := c.p[i].Angle
		for ; i >= 0 && i < n && len(v) < n/5 && math.Abs(c.p[i].Angle-a) < 0.8 && math.Abs(c.p[i].Torque) < 0.12*peak; i += step {
			v = append(v, c.p[i].Torque)
		}
		return robust.Median(v), len(v) >= 4
	}
	off, ok := idle(n-1, -1)
	if !ok {
		off, ok = idle(0, 1)
	}
	if !ok {
		return
	}
	for i := range c.p {
		c.p[i].Torque -= off
	}
}

// medians smooths the torque over about 20 ms, so that the overshoot of a
// click, which moves nothing, does not count as the peak.
func medians(p []Sample) []float64 {
	n := len(p)
	out := make([]float64, n)
	dt := (p[n-1].T - p[0].T) / float64(n-1)
	half := 1
	if dt > 0 {
		half = int(math.Min(10, math.Max(1, math.Round(0.010/dt))))
	}
	win := make([]float64, 0, 2*half+1)
	for i := range p {
		win = win[:0]
		for j := max(0, i-half); j <= min(n-1, i+half); j++ {
			win = append(win, p[j].Torque)
		}
		out[i] = robust.Median(win)
	}
	return out
}

// findPauses lists the ends of loads: after each the torque fell to less than
// a third of it, as between the strokes of a ratchet or the stages of a recipe.
func (c *curve) findPauses(y []float64) {
	hi, at := 0.0, 0
	loaded := false
	for i, v := range y {
		if v > hi {
			hi, at = v, i
		}
		if hi > 0.10*c.peak {
			loaded = true
		}
		if loaded && v < hi/3 {
			c.pauses = append(c.pauses, pause{at, c.forward(at), hi})
			hi, loaded = v, false
		}
	}
	if loaded {
		c.pauses = append(c.pauses, pause{at, c.forward(at), hi})
	}
}

// forward is the angle at a point with a little averaging.
func (c *curve) forward(i int) float64 {
	lo, hi := max(0, i-2), min(len(c.p)-1, i+2)
	sum := 0.0
	for j := lo; j <= hi; j++ {
		sum += c.p[j].Angle
	}
	return sum / float64(hi-lo+1)
}

// bin lays the torque over the forward turn. Where the wrench lets go and takes
// hold again the angle stands still, and only the upper torque there is the
// fastener's.
func (c *curve) bin(y []float64) {
	start := 0
	lo, hi := math.Inf(1), math.Inf(-1)
	for i, x := range c.p {
		if i > 0 && y[i] < -math.Max(0.05*c.peak, 4*c.noise) { // turned back under load: begin anew
			start, lo, hi = i, math.Inf(1), math.Inf(-1)
		}
		lo, hi = math.Min(lo, x.Angle), math.Max(hi, x.Angle)
	}
	span := hi - lo
	if span < 0.5 {
		span = 0.5
	}
	width := math.Max(0.5, span/500)
	n := int(span/width) + 1
	type cell struct {
		v        []float64
		from, to int
	}
	cells := make([]cell, n)
	// Only where the fastener goes on turning is the torque its own: while a
	// hand lets go, rests or takes hold again the angle lies behind the furthest.
	top, end := math.Inf(-1), start
	for i := start; i < len(c.p); i++ {
		if a := c.forward(i); a > top+0.05 {
			top, end = a, i
		}
	}
	top = math.Inf(-1)
	for i := start; i <= end; i++ {
		a := c.forward(i)
		if a < top-0.2 {
			continue
		}
		top = math.Max(top, a)
		k := min(n-1, max(0, int((a-lo)/width)))
		if len(cells[k].v) == 0 {
			cells[k].from = i
		}
		cells[k].v = append(cells[k].v, y[i])
		cells[k].to = i
	}
	for k := range cells {
		v := cells[k].v
		if len(v) == 0 {
			continue
		}
		sort.Float64s(v)
		c.bins = append(c.bins, bin{lo + (float64(k)+0.5)*width, v[int(0.95*float64(len(v)-1)+0.5)], cells[k].from, cells[k].to})
	}
}

// flank finds the elastic rise: the steepest well-filled stretch between 35 and
// 85 per cent of the peak, and from its foot the snug point.
func (c *curve) flank() {
	b := c.bins
	if len(b) == 0 {
		return
	}
	top := 0
	for i := range b {
		if b[i].torque > b[top].torque {
			top = i
		}
	}
	lo := top
	for lo > 0 && b[lo].torque > 0.35*c.peak {
		lo--
	}
	hi := top
	for hi > lo && b[hi].torque > 0.85*c.peak {
		hi--
	}
	if hi-lo < 3 {
		hi = top
	}
	c.slope = line(b[lo : hi+1])
	var before []float64
	for _, x := range b[:lo] {
		if x.torque < 0.35*c.peak {
			before = append(before, x.torque)
		}
	}
	if len(before) >= 6 {
		sort.Float64s(before)
		c.base = math.Max(0, before[len(before)/3])
	}
	mid := (lo + hi) / 2
	c.snug = b[0].angle
	if c.slope > 0 {
		c.snug = math.Max(b[0].angle, b[mid].angle-(b[mid].torque-c.base)/c.slope)
	}
	for i, x := range b {
		if x.angle >= c.snug {
			c.snugAt = b[i].from
			break
		}
	}
}

// window is how many bins a local slope is taken over: some six degrees, more
// on a long flank, and enough for the rise to stand clear of the noise.
func (c *curve) window() int {
	width := math.Max(0.5, c.bins[1].angle-c.bins[0].angle)
	deg := 6.0
	if c.slope > 0 {
		long := c.peak / c.slope
		deg = math.Min(math.Max(deg, 0.15*long), 15)
		deg = math.Max(deg, math.Min(15*c.noise/c.slope, 0.15*long))
	}
	return max(4, int(math.Ceil(deg/width)))
}

// turn is the degrees from snug to the furthest point.
func (c *curve) turn() float64 {
	if len(c.bins) == 0 {
		return 0
	}
	return math.Max(0, c.bins[len(c.bins)-1].angle-c.snug)
}

// line is the least-squares slope of torque over angle, 0 where there is none.
func line(b []bin) float64 {
	if len(b) < 2 {
		return 0
	}
	angles, torques := make([]float64, len(b)), make([]float64, len(b))
	for i, x := range b {
		angles[i] = x.angle
		torques[i] = x.torque
	}
	_, slope := stat.LinearRegression(angles, torques, nil, false)
	if math.IsNaN(slope) || math.IsInf(slope, 0) {
		return 0
	}
	return slope
}
