package pull

import (
	"fmt"
	"math"

	"lugtak/core/unit"
)

// MostDrag is the most a sound locking nut takes to turn before the parts meet, as a share of the figure: a
// quarter (ISO 2320, from memory) and what a wrench may err. A crossed thread takes more.
const MostDrag = 0.32

// What else a thread takes to turn before the parts meet, as shares of the figure: a locking nut is even; a crossed
// thread rises, or is uneven.
const (
	freeDrag   = 0.14
	unevenDrag = 0.10
	evenDrag   = 0.055
	risingDrag = 0.055 // over the end of the run-down
	lockDrag   = 0.07  // less is no locking nut
	evenDeg    = 90.0  // degrees at the end over which a locking nut drags evenly
	wholeRun   = 0.9
	mostBite   = 0.27  // of the figure: a quarter, and what a wrench may err, of an insert that was free before
	easeDrag   = 0.045 // and by how much it may ease before
	runDeg     = 40.0  // degrees over which a run-down says something
	fouledTurn = 2.6   // times the turn the flank alone takes
)

// crossed: the turn before the flank was spent at a torque that rises, is uneven, or is
// more than any locking nut has.
func crossed(v *view) []finding {
	if !v.torqueFirst() || len(v.c) < 4 {
		return nil
	}
	run := v.runDown()
	if f, ok := v.fouled(run); ok {
		return f
	}
	// Where the torque is reached without any flank, the whole climb is looked at.
	low, high := v.firstAbove(0.15*v.figure), v.firstAbove(0.8*v.figure)
	if low < 0 || high < 0 {
		return nil
	}
	climb := v.c[low : high+1]
	turn := v.c[high].deg - v.c[low].deg
	alone := 0.65 * v.figure / math.Max(v.slope, 1e-6)
	before := v.c[min(high, max(low, v.from))].deg - v.c[low].deg
	slow := before > 70 && turn > fouledTurn*alone
	if turn > longClimb && wavers(climb) {
		slow = true
	}
	if !slow || v.dragsEvenly(run) {
		return nil
	}
	from, _ := v.point(low)
	_, to := v.point(high)
	return []finding{{CrossThreaded, fmt.Sprintf("It took %s° to climb from %s to %s: the thread is "+
		"crossed or fouled. Take it out and look at both threads.",
		unit.Number(turn, 0), unit.Torque(round(v.c[low].nm)), unit.Torque(round(v.c[high].nm))), from, to, 0.9, false}}
}

// A climb that is no steel joint's.
const (
	longClimb   = 90.0 // degrees from a seventh to four fifths of the figure (common practice: 10 to 60)
	leastParts  = 5    // a climb is cut into at least so many, and at most
	mostParts   = 10
	pointsAPart = 5
	waverLow    = 0.35 // a part this much less steep than one after it: it wavers
)

// wavers says that a climb comes in waves: steep again after it was flat, as a jammed
// thread is. A joint that is soft, or gives, is not.
func wavers(c []point) bool {
	parts := min(mostParts, len(c)/pointsAPart)
	if parts < leastParts {
		return false
	}
	n := len(c) / parts
	slopes := make([]float64, parts)
	most := 0.0
	for k := range slopes {
		slopes[k] = line(c[k*n : min(len(c), (k+1)*n+1)])
		most = math.Max(most, slopes[k])
	}
	flattest := math.Inf(1)
	for _, s := range slopes {
		if s > 0.5*most && flattest < waverLow*s {
			return true
		}
		flattest = math.Min(flattest, s)
	}
	return false
}

// fouled looks at the run-down by itself.
func (v *view) fouled(run []point) ([]finding, bool) {
	if len(run) < 5 || run[len(run)-1].deg-run[0].deg < runDeg {
		return nil, false
	}
	low, mid, high := spreadOf(run)
	drag := v.ex.DragNm
	tooMuch := MostDrag * v.figure
	if drag > 0 {
		tooMuch = 1.5*drag + 0.08*v.figure
	}
	scatter := 3 * v.noise
	uneven := high-low > unevenDrag*v.figure+scatter && high > freeDrag*v.figure
	if _, locks := v.locks(run); mid <= tooMuch && (!uneven || locks) {
		return nil, false
	}
	if _, teeth := v.teeth(); teeth >= sawTeeth {
		return nil, false
	}
	from, to := run[0].from, run[len(run)-1].to
	return []finding{{CrossThreaded, fmt.Sprintf("It took %s to %s to turn before the parts met, "+
		"rising or uneven: the thread is crossed or fouled. Take it out and look at both threads.",
		unit.Torque(round(low)), unit.Torque(round(high))), from, to, 0.95, false}}, true
}

// dragsEvenly says that a locking nut drags: enough to be taken for a climb.
func (v *view) dragsEvenly(run []point) bool {
	drag, locks := v.locks(run)
	return locks && drag > lockDrag*v.figure
}

// locks says that a run-down ends as a locking nut's does, and at which torque: it may run free and then bite, but it
// never eases by much, and drags evenly to its end, by no more than one has.
func (v *view) locks(run []point) (drag float64, ok bool) {
	if len(run) < 5 {
		return 0, false
	}
	scatter := 2.6 * v.noise // from the tenth to the nine tenths
	end := run[len(run)-1].deg
	even := func(tail []point) bool {
		low, _, high := spreadOf(append([]point(nil), tail...))
		rise := math.Abs(line(tail)) * (end - tail[0].deg)
		return high-low < evenDrag*v.figure+scatter && rise < risingDrag*v.figure+scatter/2
	}
	need := math.Min(evenDeg, wholeRun*(end-run[0].deg)) // a short run-down is even as a whole
	from := len(run)
	for i := len(run) - leastPoints; i >= 0; i-- {
		if end-run[i].deg >= need {
			if !even(run[i:]) {
				break
			}
			from = i
		}
	}
	if from == len(run) {
		return 0, false
	}
	_, drag, _ = spreadOf(append([]point(nil), run[from:]...))
	most := MostDrag
	if first, _, _ := spreadOf(append([]point(nil), run[:1+len(run)/leastPoints]...)); first < lockDrag*v.figure {
		most = mostBite // it bit on the way
	}
	if drag > most*v.figure {
		return drag, false
	}
	highest, eased := 0.0, false
	for _, p := range run[:from] {
		highest = math.Max(highest, p.nm)
		eases := highest-p.nm > easeDrag*v.figure+scatter
		if eases && eased || p.nm > drag+evenDrag*v.figure+scatter { // one reading: the tool takes hold anew
			return drag, false
		}
		eased = eases
	}
	return drag, true
}
