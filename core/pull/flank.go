package pull

import (
	"math"

	"gonum.org/v1/gonum/stat"

	"lugtak/core/robust"
)

// flank is the part of a curve on which the clamp grows, and what came before it.
type flank struct {
	c      []point
	base   float64 // N·m to turn it before the parts met
	slope  float64 // N·m per degree where it rises most
	snug   float64 // degrees at which the parts met
	from   int     // point of c at which the flank begins
	to     int     // and at which it is over: the end, or where it gives
	peak   float64
	target float64
}

// Parts of a curve, as shares of its height.
const (
	climb     = 0.18 // height over which the slope is taken
	startsAt  = 0.25 // of the slope: before it, the parts have not met
	weakAt    = 0.45 // of the slope: beyond it, something gives
	footShare = 0.08 // of the height: the foot of the flank

	weakPoints = 6 // points a slope wants to be called weak
)

func newFlank(c []point, target float64) *flank {
	f := &flank{c: c, target: target}
	if len(c) > 0 {
		f.base = f.lowest()
		f.find()
	}
	return f
}

// find looks for the flank above the base.
func (f *flank) find() {
	c := f.c
	f.slope, f.snug, f.peak = 0, 0, 0
	for _, p := range c {
		f.peak = math.Max(f.peak, p.nm)
	}
	f.to = len(c) - 1
	steep := f.steepest()
	f.walkBack(steep)
	f.wholeSlope()
	if f.slope > 0 {
		f.snug = c[steep].deg - (c[steep].nm-f.base)/f.slope
		f.snug = math.Max(f.snug, c[0].deg)
	}
}

// lowest is the torque of the easiest tenth of the turn.
func (f *flank) lowest() float64 {
	v := make([]float64, len(f.c))
	for i, p := range f.c {
		v[i] = p.nm
	}
	robust.Median(v) // sorts
	return math.Max(0, v[len(v)/10])
}

// line is the least-squares slope of torque over turn, 0 where there is none.
func line(c []point) float64 {
	if len(c) < 2 {
		return 0
	}
	deg, nm := make([]float64, len(c)), make([]float64, len(c))
	for i, p := range c {
		deg[i] = p.deg
		nm[i] = p.nm
	}
	return fitted(deg, nm)
}

// fitted is the least-squares slope of y over x, 0 where there is none.
func fitted(x, y []float64) float64 {
	_, slope := stat.LinearRegression(x, y, nil, false)
	if math.IsNaN(slope) || math.IsInf(slope, 0) {
		return 0
	}
	return slope
}

// wholeSlope takes the slope over the better part of the flank, where that is as steep
// as its steepest part: the most of many is too much.
func (f *flank) wholeSlope() {
	height := f.peak - f.base
	var mid []point
	for _, p := range f.c[f.from:] {
		share := (p.nm - f.base) / height
		if share > 0.35 && share < 0.9 {
			mid = append(mid, p)
		}
	}
	if len(mid) < leastPoints {
		return
	}
	if k := line(mid); k > 0.8*f.slope {
		f.slope = k
	}
}

// leastPoints is how many points a slope wants.
const leastPoints = 4

// steepest finds the stretch on which the torque climbs a share of the height in the
// least turn, sets the slope, and gives the point where it begins.
func (f *flank) steepest() int {
	height := f.peak - f.base
	rise := climb * height
	best, at := 0.0, -1
	for i := range f.c {
		if f.c[i].nm < f.base+footShare*height {
			continue
		}
		j := i + leastPoints - 1
		for j < len(f.c) && f.c[j].nm-f.c[i].nm < rise {
			j++
		}
		if j >= len(f.c) {
			break
		}
		if k := line(f.c[i : j+1]); k > best {
			best, at = k, i
		}
	}
	if at < 0 {
		at = max(0, len(f.c)-leastPoints)
		best = math.Max(0, line(f.c[at:]))
	}
	f.slope = best
	return at
}

// window is how many points a local slope is taken over: a share of the flank.
func (f *flank) window() int {
	if len(f.c) < 3 || f.slope <= 0 {
		return 2
	}
	width := (f.c[len(f.c)-1].deg - f.c[0].deg) / float64(len(f.c)-1)
	long := 0.12 * (f.peak - f.base) / f.slope
	return max(3, int(math.Ceil(long/math.Max(width, 0.05))))
}

// walkBack finds where the flank begins: as far back as the way up to its steepest
// part is steep as a whole.
func (f *flank) walkBack(steep int) {
	f.from = steep
	top := f.c[min(steep+leastPoints-1, len(f.c)-1)]
	for i := steep; i > 0; i-- {
		chord := (top.nm - f.c[i].nm) / math.Max(top.deg-f.c[i].deg, 0.05)
		if f.c[i].nm <= f.base+footShare*(f.peak-f.base) || chord < startsAt*f.slope {
			break
		}
		f.from = i
	}
}

// runDown is the curve before the parts met, without the bend at its end.
func (f *flank) runDown() []point {
	bend := 0.0
	if f.slope > 0 {
		bend = 0.15 * (f.peak - f.base) / f.slope
	}
	end := f.from
	for end > 0 && f.c[end].deg > f.c[f.from].deg-bend {
		end--
	}
	return f.c[:end]
}

// riseDeg is the turn from the foot of the flank to its top.
func (f *flank) riseDeg() float64 {
	height := f.peak - f.base
	var from, to float64
	found := false
	for _, p := range f.c {
		if !found && p.nm > f.base+0.1*height {
			from, found = p.deg, true
		}
		if p.nm >= f.base+0.95*height {
			to = p.deg
			break
		}
	}
	rise := math.Max(0, to-from)
	if k := f.topSlope(); k > 0 {
		rise = math.Min(rise, height/k)
	}
	return rise
}

// topSlope is the slope over the upper part of the flank, which few readings show better
// than the foot: that lies between two of them.
func (f *flank) topSlope() float64 {
	var top []point
	for _, p := range f.c[f.from:] {
		if p.nm > f.base+0.3*(f.peak-f.base) {
			top = append(top, p)
		}
	}
	return line(top)
}

// weak is the turn at the end over which the slope stayed far below its best, and what
// the torque did there.
type weak struct {
	from, to int     // points of the curve
	deg      float64 // of turn
	at       float64 // N·m where it began
	slope    float64 // N·m per degree since
	fell     float64 // N·m from the top to the end
}

// weakens finds what gives after the flank.
func (f *flank) weakens() (weak, bool) {
	w := max(f.window(), weakPoints)
	first := -1
	for i := f.from + f.window(); i+w <= len(f.c)-1; i++ {
		low := line(f.c[i:i+w+1]) < weakAt*f.slope && line(f.c[i:]) < weakAt*f.slope
		if low && f.c[i].nm > f.base+0.35*(f.peak-f.base) {
			first = i
			break
		}
	}
	if first < 0 {
		return weak{}, false
	}
	last := len(f.c) - 1
	tail := f.c[max(first, last-w):]
	end := 0.0
	for _, p := range tail {
		end += p.nm / float64(len(tail))
	}
	return weak{
		from:  first,
		to:    last,
		deg:   f.c[last].deg - f.c[first].deg,
		at:    f.c[first].nm,
		slope: line(f.c[first:]),
		fell:  math.Max(0, f.peak-end),
	}, true
}

// spreadOf is the middle, the tenth and the nine tenths of torques.
func spreadOf(c []point) (low, mid, high float64) {
	v := make([]float64, len(c))
	for i, p := range c {
		v[i] = p.nm
	}
	mid = robust.Median(v)
	return v[len(v)/10], mid, v[len(v)*9/10]
}
