package pull

import (
	"math"

	"gonum.org/v1/gonum/stat/distuv"

	"lugtak/core/recipe"
	"lugtak/core/robust"
)

// A flank of few readings, of a joint that is stiff, is also what a bolt on the bottom of
// its hole shows.
const (
	fewReadings = 5
	stiffDeg    = 2.2 * bottomDeg
)

// blind says that the flank was too quick for the readings to tell.
func (v *view) blind() bool {
	if !v.torqueFirst() || len(v.c) < 2 || v.turned < bottomTravel {
		return false
	}
	n := 0
	height := v.flank.peak - v.base
	for _, p := range v.c[v.from:] {
		if p.nm > v.base+0.1*height && p.nm < v.base+0.95*height {
			n++
		}
	}
	return n < fewReadings && v.riseDeg() < stiffDeg
}

// How much a trace must hold to be sure of: readings a second, and readings on the
// flank.
const (
	fullRate   = 75.0
	fullFlank  = 12
	slowSure   = 0.85
	sparseSure = 0.6
)

// sure is how likely the verdict is right, from what the trace can tell: how far the
// figures lie from the edges of their windows, how dense the readings are.
func (v *view) sure(f finding) float64 {
	s := f.sure
	if !v.zeroed {
		s = math.Min(s, 0.9)
	}
	if v.rate < fullRate {
		s *= slowSure
	}
	onFlank := 0
	for i := v.start; i < len(v.p); i++ {
		if v.y[i] > v.base+0.1*(v.flank.peak-v.base) && v.y[i] <= v.flank.peak {
			onFlank++
		}
	}
	if onFlank < fullFlank {
		s = math.Min(s, sparseSure)
	}
	for i, r := range v.read.res {
		s = math.Min(s, v.edgeSure(v.stages[i], r))
	}
	return math.Round(100*s) / 100
}

// edgeSure is how sure it is that a figure lies on the side of the edge it is said to.
func (v *view) edgeSure(s recipe.Stage, r StageResult) float64 {
	low, high := window(s, v.ex)
	var value, blur float64
	switch s.Kind {
	case recipe.Torque:
		value = r.TorqueNm
		// The peak falls between two readings.
		blur = math.Hypot(v.noise, 0.3*v.climbs()) + 0.002*value
		low -= v.edge()
		high += v.edge()
	case recipe.Angle:
		value = r.AngleDeg
		blur = math.Hypot(v.grain, 0.3*v.paces()) + 0.3
		low -= angleError
		high += angleError
	default:
		return 1
	}
	near := math.Abs(value - low)
	if !math.IsInf(high, 1) {
		near = math.Min(near, math.Abs(high-value))
	}
	return distuv.UnitNormal.CDF(near / math.Max(blur, 1e-9))
}

// climbs is N·m from one reading to the next near the top, paces degrees.
func (v *view) climbs() float64 {
	return v.steps(func(i int) float64 { return v.p[i].Torque - v.p[i-1].Torque })
}

func (v *view) paces() float64 { return v.steps(func(i int) float64 { return v.f[i] - v.f[i-1] }) }

func (v *view) steps(of func(int) float64) float64 {
	var d []float64
	for i := max(1, v.start); i < len(v.p); i++ {
		if v.y[i] > 0.7*v.flank.peak && v.f[i] > v.f[i-1] {
			d = append(d, math.Abs(of(i)))
		}
	}
	return robust.Median(d)
}
