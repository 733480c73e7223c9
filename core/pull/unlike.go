package pull

import (
	"fmt"
	"math"

	"lugtak/core/robust"
)

// siblings is the middle of a feature of the pattern's other fasteners, 0 where there
// are fewer than two.
func (v *view) siblings(of func(Feature) float64) float64 {
	if len(v.ex.Siblings) < LeastSiblings {
		return 0
	}
	var vs []float64
	for _, s := range v.ex.Siblings {
		vs = append(vs, of(s))
	}
	return robust.Median(vs)
}

// Outliers of a pattern.
const (
	softShare    = 0.5  // of the slope it should have
	steepShare   = 1.5  // of its siblings' slope: friction, not clamp
	shankShare   = 1.6  // of the stiffest this thread is in a common joint: no shorter grip gives more (common practice)
	steeperShare = 1.3  // of its siblings' slope, where the flank is bent as well
	lessTurn     = 0.85 // of their turn: it took more torque a degree all the way
	shortTurn    = 0.6  // of its siblings' turn: the clamp is no more than that of theirs
	snugDeg      = 2.0  // degrees the meeting of the parts is uncertain by
	leastSpread  = 0.06 // siblings differ by as much without meaning anything
	outlier      = 4.0  // spreads
)

// unlike holds a pull against what the joint or its siblings show.
func unlike(v *view) []finding {
	if v.turned < standsDeg || !v.torqueFirst() || len(v.c) == 0 {
		return nil
	}
	from, last := v.c[v.from].from, v.c[len(v.c)-1].to
	vouched := v.siblings(func(f Feature) float64 { return f.Slope }) > v.slope/steepShare
	if v.ex.SlopeHigh > 0 && !vouched && math.Min(v.slope, v.chord()) > shankShare*v.ex.SlopeHigh &&
		v.riseDeg() > 2*bottomDeg {
		return []finding{{
			sig: UnlikeSiblings,
			message: fmt.Sprintf("The torque rises by %.2f N·m per degree: the shank of this thread gives no more than %.2f. "+
				"Friction took the rest: slacken it, look at thread and face, pull anew.", v.slope, v.ex.SlopeHigh),
			from: from, to: last, sure: 0.85, refuses: true,
		}}
	}
	// Above what it takes to turn at all.
	height := v.figure - v.base
	low, high := v.firstAbove(v.base+0.15*height), v.firstAbove(v.base+0.8*height)
	gentle := low >= 0 && high >= 0 && v.c[high].deg-v.c[low].deg > longClimb
	if v.ex.SlopeLow > 0 || len(v.ex.Siblings) >= LeastSiblings { // somebody knows better
		gentle = v.slope < softShare*v.ex.SlopeLow
	}
	if gentle {
		return []finding{{Soft, "The torque rises far more gently than this joint should: paint, " +
			"gasket, rubber or a wrong washer is being squeezed.", from, last, 0.9, false}}
	}
	slope := v.siblings(func(f Feature) float64 { return f.Slope })
	turn := v.siblings(func(f Feature) float64 { return f.Turn })
	if slope <= 0 {
		return nil
	}
	spread := func(of func(Feature) float64, mid float64) float64 {
		var d []float64
		for _, s := range v.ex.Siblings {
			d = append(d, math.Abs(of(s)-mid))
		}
		return math.Max(robust.Normal*robust.Median(d), leastSpread*math.Abs(mid))
	}
	turned := v.fromSnug()
	_, bent := v.bends()
	// A short flank in coarse degrees has no slope to swear to.
	coarse := v.slope * (2*v.grain + 0.3) / math.Max(v.riseDeg(), 0.5)
	steeper := "a bolt that galls reaches its figure with half of its clamp. Slacken it, look at thread and face, pull " +
		"anew."
	switch {
	case math.Min(v.slope, v.chord()) > steepShare*slope+2*coarse:
		return []finding{{
			sig: UnlikeSiblings,
			message: fmt.Sprintf("The slope is %.0f %% of its siblings': %s", 100*v.slope/slope,
				steeper),
			from: from, to: last, sure: 0.85, refuses: true,
		}}
	case math.Min(v.slope, v.chord()) > steeperShare*slope+coarse && turned+v.grain < lessTurn*turn && bent:
		return []finding{{
			sig: UnlikeSiblings,
			message: fmt.Sprintf("It gets steeper on its way up, and its slope is %.0f %% of its siblings': %s",
				100*v.slope/slope, steeper),
			from: from, to: last, sure: 0.8, refuses: true,
		}}
	case v.slope > bentShare*slope && turned+2*v.grain+snugDeg < shortTurn*turn:
		return []finding{{
			sig: UnlikeSiblings,
			message: fmt.Sprintf("It reached its figure %.0f° after the parts met, its siblings after %.0f°: the clamp comes "+
				"with the turn. Slacken it, look at thread, face and the depth of the hole, pull anew.", turned, turn),
			from: from, to: last, sure: 0.85, refuses: true,
		}}
	case v.slope < softShare*slope:
		return []finding{{Soft, fmt.Sprintf("The slope is %.0f %% of its siblings': something soft "+
			"is being squeezed.", 100*v.slope/slope), from, last, 0.9, false}}
	case math.Abs(v.slope-slope) > outlier*math.Hypot(coarse, spread(func(f Feature) float64 { return f.Slope }, slope)),
		turn > 0 && math.Abs(turned-turn) > outlier*spread(func(f Feature) float64 { return f.Turn }, turn):
		return []finding{{UnlikeSiblings, fmt.Sprintf("Inside every window, yet unlike its siblings: "+
			"slope %.2f against %.2f N·m per degree, turn %.0f° against %.0f°. Look at grease, "+
			"washer and grade.",
			v.slope, slope, turned, turn), from, last, 0.8, false}}
	}
	return nil
}

// chord is the slope between two heights of the flank, each where it was first reached: a hand that lets go and pulls
// again makes no flank steeper by it.
func (v *view) chord() float64 {
	height := v.flank.peak - v.base
	low, high := v.firstAbove(v.base+chordFrom*height), v.firstAbove(v.base+chordTo*height)
	if low < 0 || high < 0 || v.c[high].deg <= v.c[low].deg {
		return math.Inf(1)
	}
	return (v.c[high].nm - v.c[low].nm) / (v.c[high].deg - v.c[low].deg)
}

// Heights of the flank between which its chord lies.
const (
	chordFrom = 0.35
	chordTo   = 0.92
)

// fromSnug is the degrees from where the parts met to the end.
func (v *view) fromSnug() float64 {
	if len(v.c) == 0 {
		return 0
	}
	return math.Max(0, v.c[len(v.c)-1].deg-v.snug)
}
