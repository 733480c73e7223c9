package inspect

import (
	"math"
	"time"
)

// Point is a measure at a distance.
type Point struct {
	KM    float64
	Value float64
}

// Forecast is at which distance a part that wears evenly reaches its limit.
type Forecast struct {
	LowKM, LikelyKM, HighKM float64 // HighKM is +Inf where the gauge cannot tell whether it wears
}

// nothingMM is what two sums of the same figures may differ by, in the unit of the measure.
const nothingMM = 1e-9

// Expect carries the wear between the first and the last measure of one part on, in a
// straight line, to the limit; the band takes the gauge's error at both ends the worse way and
// the better. Nothing grows back: where a measure is better than the one before by more than
// the gauge's error at both, the part is another, and what came before tells nothing of it. ok
// is false where there are not two distances, or nothing wears. Points stand in order of
// distance.
func (l Limit) Expect(points []Point, gauge float64) (f Forecast, ok bool) {
	if len(points) < 2 || l.Value == 0 {
		return f, false
	}
	if gauge <= 0 {
		gauge = l.Gauge
	}
	sign := 1.0 // toward the limit
	if l.Least {
		sign = -1
	}
	first := 0
	for i := 1; i < len(points); i++ {
		if sign*(points[i].Value-points[i-1].Value) < -2*gauge {
			first = i
		}
	}
	a, b := points[first], points[len(points)-1]
	if b.KM <= a.KM {
		return f, false
	}
	at := func(first, last float64) float64 {
		worn := sign * (last - first)
		if worn <= nothingMM { // a rounding error is no wear
			return math.Inf(1)
		}
		rate := worn / (b.KM - a.KM)
		return b.KM + math.Max(0, sign*(l.Value-last)/rate)
	}
	f = Forecast{
		LowKM:    at(a.Value-sign*gauge, b.Value+sign*gauge),
		LikelyKM: at(a.Value, b.Value),
		HighKM:   at(a.Value+sign*gauge, b.Value-sign*gauge),
	}
	return f, !math.IsInf(f.LikelyKM, 1)
}

// Reading is what an odometer stood at, and when.
type Reading struct {
	KM float64
	At time.Time
}

// DayOf is when a vehicle reaches a distance if it goes on as between two readings; ok is false where it has passed
// it, where the readings tell of no pace, and where it is farther ahead than twice what lies between them.
func DayOf(km float64, first, last Reading) (day time.Time, ok bool) {
	gone, past := last.KM-first.KM, last.At.Sub(first.At)
	ahead := km - last.KM
	if gone <= 0 || past <= 0 || ahead < 0 || ahead > 2*gone {
		return day, false
	}
	return last.At.Add(time.Duration(ahead / gone * float64(past))), true
}
