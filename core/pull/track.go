package pull

import (
	"math"

	"lugtak/core/robust"
)

// track is a trace made ready: the turn of the fastener and the torque on it.
type track struct {
	p      []Sample  // thinned, zero and wind-up taken off, the angle unrolled
	y      []float64 // torque without what is over in a few milliseconds
	noise  float64   // scatter of the torque, N·m
	grain  float64   // scatter of the angle, degrees
	rate   float64   // readings a second, as they came
	peak   float64   // the most of y
	flex   float64   // degrees a N·m that were taken off
	zeroed bool      // an offset was proved by a tool at rest
	end    end       // what hides the top; empty where it was seen
}

// thinTo is how many points a judgement needs at most: what decides is slower.
const thinTo = 4000

func newTrack(s []Sample, ex Expect, stretches bool) *track {
	tr := &track{rate: rateOf(s)}
	whole := unroll(s)
	if ex.Left {
		for i := range whole {
			whole[i].Angle = -whole[i].Angle
			whole[i].Torque = -whole[i].Torque
		}
	}
	tr.end = unseen(whole, stretches)
	tr.p = thin(whole)
	tr.noise = scatter(tr.p, func(x Sample) float64 { return x.Torque })
	tr.grain = scatter(tr.p, func(x Sample) float64 { return x.Angle })
	tr.zero()
	tr.y = calm(tr.p)
	for _, v := range tr.y {
		tr.peak = math.Max(tr.peak, v)
	}
	tr.flex = ex.FlexDegPerNm
	if tr.flex == 0 {
		tr.flex = tr.seenFlex()
	}
	for i := range tr.p {
		tr.p[i].Angle -= tr.flex * tr.p[i].Torque
	}
	return tr
}

func rateOf(s []Sample) float64 {
	span := s[len(s)-1].T - s[0].T
	if span <= 0 {
		return 0
	}
	return float64(len(s)-1) / span
}

// Jumps of the angle between two readings that no hand makes, degrees.
const (
	jump     = 90  // beyond this the tool began its count anew
	rollFrom = 300 // and beyond this it rolled over at a full turn
	rollTo   = 420
)

// unroll joins an angle that begins anew, at a full turn or wherever the tool was set
// back to nothing.
func unroll(s []Sample) []Sample {
	out := append([]Sample(nil), s...)
	off := 0.0
	for i := 1; i < len(out); i++ {
		by := s[i].Angle - s[i-1].Angle
		size := math.Abs(by)
		switch {
		case size > rollFrom && size < rollTo:
			off -= math.Copysign(360, by)
		case size > jump:
			off -= by
		}
		out[i].Angle = s[i].Angle + off
	}
	return out
}

// thin takes means of equal blocks.
func thin(s []Sample) []Sample {
	n := (len(s) + thinTo - 1) / thinTo
	if n <= 1 {
		return s
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

// scatter is the noise of a figure: from second differences, which a slope does not
// disturb, by their median, which a jerk does not. Digits that are coarser than the
// noise count as an even spread over one of them.
func scatter(p []Sample, of func(Sample) float64) float64 {
	d := make([]float64, 0, len(p))
	digit := math.Inf(1)
	for i := 1; i+1 < len(p); i++ {
		d = append(d, math.Abs(of(p[i-1])-2*of(p[i])+of(p[i+1])))
		if step := math.Abs(of(p[i]) - of(p[i-1])); step > 1e-9 {
			digit = math.Min(digit, step)
		}
	}
	if math.IsInf(digit, 1) {
		digit = 0
	}
	sigma := robust.Normal * robust.Median(d) / math.Sqrt(6)
	return math.Max(sigma, digit/math.Sqrt(12))
}

// A tool at rest: its least time, its most turn, and the most it may be off, as a share
// of the peak. A tool that is further off is no tool to tighten with.
const (
	restSeconds = 0.08
	restDegrees = 0.6
	mostOffset  = 0.06
)

// zero takes off what the tool shows while it is proved to be at rest, still and flat,
// at the start and at the end; in between it drifts evenly. A release that is still
// falling is no rest.
func (tr *track) zero() {
	start, okStart := tr.rest(0, 1)
	end, okEnd := tr.rest(len(tr.p)-1, -1)
	switch {
	case !okStart && !okEnd:
		return
	case !okStart:
		start = end
	case !okEnd:
		end = start
	}
	tr.zeroed = true
	from := tr.p[0].T
	span := tr.p[len(tr.p)-1].T - from
	for i := range tr.p {
		share := 0.0
		if span > 0 {
			share = (tr.p[i].T - from) / span
		}
		tr.p[i].Torque -= start + share*(end-start)
	}
}

// rest is the torque of the longest still and flat stretch from that end of the trace.
func (tr *track) rest(from, step int) (torque float64, ok bool) {
	peak := 0.0
	for _, x := range tr.p {
		peak = math.Max(peak, math.Abs(x.Torque))
	}
	flat := math.Max(6*tr.noise, 0.004*peak)
	turn := math.Max(restDegrees, 6*tr.grain)
	low, high := math.Inf(1), math.Inf(-1)
	var seen []float64
	first := tr.p[from]
	last := first
	for i := from; i >= 0 && i < len(tr.p); i += step {
		x := tr.p[i]
		low = math.Min(low, x.Torque)
		high = math.Max(high, x.Torque)
		if high-low > flat || math.Abs(x.Angle-first.Angle) > turn || math.Abs(x.Torque) > mostOffset*peak+3*tr.noise {
			break
		}
		seen = append(seen, x.Torque)
		last = x
	}
	if len(seen) < 4 || math.Abs(last.T-first.T) < restSeconds {
		return 0, false
	}
	// The last readings before it broke may belong to what came next.
	seen = seen[:len(seen)-len(seen)/5]
	half := len(seen) / 2
	early := robust.Median(append([]float64(nil), seen[:half]...))
	late := robust.Median(append([]float64(nil), seen[half:]...))
	if math.Abs(early-late) > math.Max(2*tr.noise, 0.002*peak) {
		return 0, false
	}
	return robust.Median(seen), true
}

// overshoot is how long a spike lasts that moves nothing, seconds.
const overshoot = 0.020

// calm smooths the torque by medians over the length of a spike.
func calm(p []Sample) []float64 {
	n := len(p)
	out := make([]float64, n)
	dt := (p[n-1].T - p[0].T) / float64(n-1)
	half := 1
	if dt > 0 {
		half = int(math.Min(10, math.Max(1, math.Round(overshoot/2/dt))))
	}
	window := make([]float64, 0, 2*half+1)
	for i := range p {
		window = window[:0]
		for j := max(0, i-half); j <= min(n-1, i+half); j++ {
			window = append(window, p[j].Torque)
		}
		out[i] = robust.Median(window)
	}
	return out
}

// Wind-up that can be seen when a tool lets go, degrees in all: less is lost in the
// digits, more is a fastener coming back.
const (
	leastWindUp = 0.6
	mostWindUp  = 10.0
)

// seenFlex is the wind-up between grip and fastener, degrees a N·m, as a release shows
// it: the torque falls, the fastener stays, and what the angle goes back was the tool.
func (tr *track) seenFlex() float64 {
	var found []float64
	top := 0
	for i := range tr.y {
		if tr.y[i] > tr.y[top] {
			top = i
		}
		if tr.y[i] > 0.08*tr.y[top] || tr.y[top] < 0.3*tr.peak {
			continue
		}
		back := tr.p[top].Angle - tr.p[i].Angle
		fell := tr.y[top] - tr.y[i]
		if back > leastWindUp+4*tr.grain && back < mostWindUp {
			found = append(found, back/fell)
		} else {
			found = append(found, 0)
		}
		top = i
	}
	return robust.Median(found)
}
