package pull

import (
	"fmt"
	"math"
)

// A sound joint's torque rises in a straight line with the turn. Where friction grows while it is pulled, as on faces
// that gall, it rises ever faster: the figure is reached, the clamp is not.
const (
	bentShare = 1.2 // of the lower slope: more is growing friction, and not the foot of the flank
	bentSure  = 0.6 // how sure such a pull can be without siblings to hold it against
	bentTimes = 4.0 // standard errors

	lowerFrom, lowerTo = 0.25, 0.5 // of the height
	upperFrom, upperTo = 0.7, 0.97
)

// bends says that the flank gets steeper all the way up.
func (v *view) bends() (Reason, bool) {
	if !v.torqueFirst() || !v.torqueLast() || v.turned < standsDeg || v.from >= len(v.c) {
		return Reason{}, false
	}
	lower, upper := v.part(lowerFrom, lowerTo), v.part(upperFrom, upperTo)
	below, above := line(lower), line(upper)
	err := math.Hypot(v.slopeError(lower), v.slopeError(upper))
	if below <= 0 || above < bentShare*below+bentTimes*err {
		return v.cannotTell(below, above, err)
	}
	return Reason{
		Message: fmt.Sprintf("The flank gets steeper on its way up, from %.2f to %.2f N·m per degree: friction may be "+
			"growing, "+
			"and the clamp be less than the torque says. Look at thread, face and grease.", below, above),
		FromS: v.p[lower[0].from].T,
		ToS:   v.p[upper[len(upper)-1].to].T,
	}, true
}

// cannotTell says that friction which doubles on the way would look no other, and no sibling tells.
func (v *view) cannotTell(below, above, err float64) (Reason, bool) {
	if len(v.ex.Siblings) >= LeastSiblings || above+3*err < doubled*below {
		return Reason{}, false
	}
	return Reason{
		Message: "The readings are too few or too unsteady to tell a thread that galls from a sound one.",
		FromS:   v.p[v.start].T,
		ToS:     v.p[len(v.p)-1].T,
	}, true
}

// doubled is how much steeper the flank gets where friction doubles on the way up (statics: lead a sixth of rubbing).
const doubled = 1.3

// shortGrip is how much steeper than the stiffest common joint of its thread a flank may be by a short grip alone.
const shortGrip = 1.15

// steep says that only a very short grip, or friction, or the bottom of a hole makes a flank so steep, and that no
// sibling tells which.
func (v *view) steep() (Reason, bool) {
	if len(v.ex.Siblings) >= LeastSiblings || v.ex.SlopeHigh <= 0 || v.turned < standsDeg || !v.torqueFirst() ||
		math.Min(v.slope, v.chord()) < shortGrip*v.ex.SlopeHigh {
		return Reason{}, false
	}
	return Reason{
		Message: fmt.Sprintf("It rises by %.2f N·m per degree, more than a common joint of this thread: a very short "+
			"grip, or friction that took the clamp. Look at thread, face and the depth of the hole.", v.slope),
		FromS: v.p[v.start].T,
		ToS:   v.p[len(v.p)-1].T,
	}, true
}

// part is the readings of the flank between two shares of its height, up to its top.
func (v *view) part(from, to float64) []point {
	height := v.flank.peak - v.base
	var out []point
	for i := v.c[v.from].from; i <= v.read.last.to && i < len(v.y); i++ {
		if share := (v.y[i] - v.base) / height; share > from && share < to && (len(out) == 0 ||
			v.f[i] >= out[len(out)-1].deg) {
			out = append(out, point{deg: v.f[i], nm: v.y[i], from: i, to: i})
		}
		if v.y[i] >= v.flank.peak {
			break
		}
	}
	return out
}

// slopeError is the standard error of a slope, N·m per degree, from the scatter of torque and angle.
func (v *view) slopeError(c []point) float64 {
	mean := 0.0
	for _, p := range c {
		mean += p.deg / float64(len(c))
	}
	spread := 0.0
	for _, p := range c {
		spread += (p.deg - mean) * (p.deg - mean)
	}
	steps := 1.0 // readings at one digit of the angle say one thing
	for i := 1; i < len(c); i++ {
		if c[i].deg > c[i-1].deg {
			steps++
		}
	}
	if spread == 0 {
		return math.Inf(1)
	}
	return math.Hypot(v.noise, v.slope*v.grain*math.Sqrt(float64(len(c))/steps)) / math.Sqrt(spread)
}
