package pull

import (
	"fmt"
	"math"

	"lugtak/core/recipe"
	"lugtak/core/robust"
	"lugtak/core/unit"
)

// finding is one thing a trace shows: what, in words, where, and how sure.
type finding struct {
	sig      Signature
	message  string
	from, to int     // points of the track
	sure     float64 // 0.5 is a guess
	refuses  bool    // though its signature is only told
}

// view is all a judgement looks at: first what moved, then the flank of it.
type view struct {
	*motion
	flank
	read   reading
	stages []recipe.Stage
	ex     Expect
	figure float64 // N·m: the highest torque asked for, or reached where none is
	start  int     // point from which the last pull counts
	turned float64 // degrees on since then
}

func look(stages []recipe.Stage, trace []Sample, ex Expect) *view {
	for _, s := range stages {
		ex.Left = ex.Left || s.Left
	}
	tr := newTrack(trace, ex, stages[len(stages)-1].Kind != recipe.Torque)
	v := &view{stages: stages, ex: ex}
	for _, s := range stages {
		if s.Kind == recipe.Torque {
			low, high := window(s, ex)
			v.figure = math.Max(v.figure, math.Max(s.Target(), math.Min(low, high)))
		}
	}
	if v.figure == 0 {
		v.figure = tr.peak
	}
	v.motion = tr.move(v.figure)
	if drag := v.ownDrag(); drag > 0 {
		v.ex.DragNm = drag
		ex.DragNm = drag
		v.figure += drag
	}
	v.read = v.motion.read(stages, ex)
	v.start = v.read.last.from
	c := v.motion.curve(v.start)
	v.flank = *newFlank(c, v.figure)
	if drag, locks := v.locks(v.runDown()); locks && drag > v.base { // the parts meet under the drag
		v.base = drag
		v.flank.find()
	}
	if n := len(c); n > 0 {
		v.turned = c[n-1].deg - c[0].deg
	}
	return v
}

// ownDrag is the drag of a locking nut as its own run-down shows it, N·m, where the recipe
// asks for it and nobody measured it; 0 where the trace does not show it.
func (v *view) ownDrag() float64 {
	asks := false
	for _, s := range v.stages {
		asks = asks || s.PlusDrag
	}
	if !asks || v.ex.DragNm > 0 {
		return 0
	}
	v.flank = *newFlank(v.motion.curve(0), v.figure)
	drag, locks := v.locks(v.runDown())
	if !locks {
		return 0
	}
	return math.Max(0, drag)
}

// torqueLast says that the recipe ends by a torque.
func (v *view) torqueLast() bool { return v.stages[len(v.stages)-1].Kind == recipe.Torque }

// torqueFirst says that there is a torque to be reached at all.
func (v *view) torqueFirst() bool { return v.stages[0].Kind == recipe.Torque }

// signs are asked in this order; each says nothing, or what it sees.
var signs = []func(*view) []finding{
	turnedBack,
	crossed,
	gives,
	bottomed,
	saw,
	stood,
	windows,
	unlike,
}

// find lists what fits, worst first within what each sign gives.
func (v *view) find() []finding {
	var out []finding
	for _, sign := range signs {
		if len(v.c) < 2 && len(out) > 0 {
			break
		}
		out = append(out, sign(v)...)
	}
	return out
}

func (v *view) point(i int) (from, to int) {
	if len(v.c) == 0 {
		return v.start, len(v.p) - 1
	}
	i = min(max(i, 0), len(v.c)-1)
	return v.c[i].from, v.c[i].to
}

// turnedBack: after the last stage the fastener came back, or the tool ended behind it.
func turnedBack(v *view) []finding {
	last := len(v.p) - 1
	if v.read.after {
		b := v.backs[len(v.backs)-1]
		return []finding{{TurnedBack, fmt.Sprintf("It was turned back %s° after it was tightened: "+
			"what it held is gone. Slacken it and tighten anew; a castle nut only ever goes on to "+
			"its slot.",
			unit.Number(b.deg, 0)), b.at, last, 0.98, false}}
	}
	if n := len(v.strokes); n > 0 && v.lastOff < -backDeg-2 {
		return []finding{{TurnedBack, fmt.Sprintf("At the end the tool stands %s° behind where it "+
			"pulled, without a load: if the fastener came back with it, what it held is gone. "+
			"Slacken it and tighten anew.",
			unit.Number(-v.lastOff, 0)), v.strokes[n-1].to, last, 0.6, false}}
	}
	return nil
}

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
	highest := 0.0
	for _, p := range run[:from] {
		highest = math.Max(highest, p.nm)
		if highest-p.nm > easeDrag*v.figure+scatter || p.nm > drag+evenDrag*v.figure+scatter {
			return drag, false
		}
	}
	return drag, true
}

func (v *view) firstAbove(nm float64) int {
	for i, p := range v.c {
		if p.nm >= nm {
			return i
		}
	}
	return -1
}

// What gives way, in degrees and shares.
const (
	givesDeg  = 6.0  // less is the hand
	fellShare = 0.08 // of the peak, while it went on turning
	lostShare = 0.20 // of the peak, on a bolt that was meant to stretch
)

// gives: past the flank the torque rose far less, or fell, while the fastener went on.
func gives(v *view) []finding {
	if v.end.says != "" && !v.end.gives || v.slope <= 0 || len(v.c) < 8 || v.flank.peak < MostDrag*v.figure {
		return nil
	}
	w, ok := v.weakens()
	if !ok || w.deg < math.Max(givesDeg, 0.1*(v.peak-v.base)/v.slope) {
		return nil
	}
	if _, teeth := v.teeth(); teeth >= sawTeeth && w.fell < lostShare*v.flank.peak {
		return nil
	}
	from, _ := v.point(w.from)
	_, to := v.point(w.to)
	top := v.flank.peak
	sheared := finding{Stripped, "The torque fell while the fastener went on turning: the thread " +
		"gives way. Renew bolt and thread.", from, to, 0.95, false}
	stretched := finding{Yielded, "The slope fell below half of its elastic value before the figure " +
		"was reached: the bolt is being stretched for good. Renew it and look at the figure " +
		"and the grease.", from, to, 0.92, false}
	if !v.torqueLast() || !v.torqueFirst() {
		// Bolts turned by angle are meant to stretch, once their torque is reached.
		snug := 0.0
		if v.torqueFirst() {
			snug, _ = window(v.stages[0], v.ex)
		}
		switch {
		case w.fell > lostShare*top:
			return []finding{sheared}
		case snug > 0 && w.at < 0.9*snug:
			return []finding{stretched}
		}
		return nil
	}
	if w.fell > fellShare*top+3*v.noise || w.slope < -0.03*v.slope {
		return []finding{sheared}
	}
	return []finding{stretched}
}

// A bolt that stands on the bottom of its hole is only twisted: some twenty times as
// stiff as a joint that is clamped.
const (
	bottomDeg      = 4.5 // from the foot of the flank to its top
	bottomTravel   = 15  // degrees it must have run down, so that it is no second pull
	bottomSteeper  = 1.6 // times the stiffest this joint should be
	bottomSiblings = 2.5 // times what its siblings show
)

// bottomed: after the run-down the torque rose far steeper than a clamped joint does.
func bottomed(v *view) []finding {
	if !v.torqueFirst() || len(v.c) < 2 {
		return nil
	}
	run := v.c[min(v.from, len(v.c)-1)].deg - v.c[0].deg
	rise := v.riseDeg()
	slope := math.Max(v.slope, v.topSlope())
	steep := rise < bottomDeg
	if v.ex.SlopeHigh > 0 {
		steep = slope > bottomSteeper*v.ex.SlopeHigh && rise < 2*bottomDeg
	}
	if mid := v.siblings(func(f Feature) float64 { return f.Slope }); mid > 0 {
		steep = slope > bottomSiblings*mid && rise < 2*bottomDeg
	}
	if !steep || run < bottomTravel || v.flank.peak < 0.3*v.figure {
		return nil
	}
	from, to := v.c[v.from].from, v.c[len(v.c)-1].to
	return []finding{{Bottomed, fmt.Sprintf("The torque rose in %s° after the run-down, far steeper "+
		"than this joint does: the bolt stands on the bottom of its hole and the parts are not "+
		"clamped.",
		unit.Number(rise, 1)), from, to, 0.93, false}}
}

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

// sawTeeth is how many slips make a saw; a hand may slip once or twice.
const sawTeeth = 3

// A tooth of a saw: how deep, and how far the fastener jumped in it.
const (
	toothShare  = 0.035
	toothDeg    = 0.15
	toothWide   = 4.0 // more is a thread that takes more and less by turns
	toothMost   = 0.7 // of the torque: deeper is a hand that let go
	toothBefore = 6   // readings before it that tell the pace of the hand
	toothPaced  = 2   // and as many of its paces a letting-go may seem to turn
	toothNoise  = 8.0 // times the scatter: less is scatter
)

// teeth counts falls of the torque during which the fastener jumped on. A hand that
// jerks lets the torque fall while nothing turns.
func (v *view) teeth() (first, n int) {
	top := v.start
	for i := v.start; i <= v.read.last.to; i++ {
		if v.y[i] > v.y[top] {
			top = i
		}
	}
	nm := func(i int) float64 { return v.p[i].Torque } // a middle would hide a tooth
	least := math.Max(toothShare*v.flank.peak, toothNoise*v.noise)
	onFlank := v.base + 0.12*(v.flank.peak-v.base)
	hi, lo, falling := v.start, v.start, false
	for i := v.start + 1; i <= top; i++ {
		if !falling {
			switch {
			case nm(i) > nm(hi):
				hi = i
			case nm(hi)-nm(i) > least:
				falling = true
				lo = i
			}
			continue
		}
		if nm(i) < nm(lo) {
			lo = i
		}
		if nm(i)-nm(lo) < least {
			continue
		}
		drop := nm(hi) - nm(lo)
		jump := v.mean(lo, lo+2) - v.mean(hi-2, hi)
		// A slow tool sees the turn of its hand between two readings, too.
		before := max(v.start, hi-toothBefore)
		pace := math.Max(0, v.p[hi].Angle-v.p[before].Angle) / math.Max(1, float64(hi-before))
		abrupt := jump > toothDeg+v.grain+pace*float64(min(lo-hi, toothPaced)) && jump < toothWide
		if abrupt && drop < toothMost*nm(hi) && nm(hi) > onFlank {
			if n == 0 {
				first = hi
			}
			n++
		}
		falling = false
		hi = i
	}
	return first, n
}

// mean is the turn over some points.
func (v *view) mean(from, to int) float64 {
	from = max(0, from)
	to = min(len(v.p)-1, to)
	sum := 0.0
	for _, x := range v.p[from : to+1] {
		sum += x.Angle
	}
	return sum / float64(to-from+1)
}

func saw(v *view) []finding {
	first, n := v.teeth()
	if n < sawTeeth {
		return nil
	}
	return []finding{{StickSlip, fmt.Sprintf("The torque went up and down like a saw %d times while "+
		"turning: the faces or threads gall. Take it out, clean, treat as specified.", n),
		first, v.c[len(v.c)-1].to, math.Min(0.97, 0.7+0.05*float64(n)), false}}
}

// A pull on a fastener that stands.
const (
	stoodShare = 0.5  // of the figure: less is no pull
	movedShare = 0.85 // of the peak at which it must still have moved: friction at rest is no more
)

// stood: the torque rose without the fastener turning. That shows it is at least there.
func stood(v *view) []finding {
	if !v.torqueLast() || v.ex.Repeat || len(v.strokes) == 0 {
		return nil
	}
	low, _ := window(v.stages[len(v.stages)-1], v.ex)
	peak, moved := 0.0, 0.0
	at := v.start
	began, ended := math.Inf(1), math.Inf(-1)
	for _, s := range v.strokes {
		if s.to < v.start {
			continue
		}
		if s.peak > peak {
			peak, at = s.peak, s.at
		}
		began = math.Min(began, s.began)
		ended = math.Max(ended, s.ended)
		if s.ended-s.began > v.standsAt() {
			moved = math.Max(moved, s.peak)
		}
	}
	if peak < stoodShare*low {
		return nil
	}
	turned := ended - began
	switch {
	case v.turned < standsDeg && turned < standsDeg+3*v.grain:
		return []finding{{NoMovement, fmt.Sprintf("The torque rose to %s without the fastener "+
			"turning: it was tight already. That shows it is at least there, not that it was "+
			"tightened.",
			unit.Torque(round(peak))), v.start, at, 0.93, false}}
	case moved < movedShare*peak && peak > low:
		return []finding{{NoMovement, fmt.Sprintf("It last turned at %s; the pull to %s moved "+
			"nothing. Slacken it and pull in one go.",
			unit.Torque(round(moved)), unit.Torque(round(peak))), v.start, at, 0.8, false}}
	}
	return nil
}

// standsAt is the turn that counts as none.
func (v *view) standsAt() float64 { return 0.5 + 3*v.grain }

// windows: a stage outside its window.
func windows(v *view) []finding {
	var out []finding
	from, last := v.start, len(v.p)-1
	for i, r := range v.read.res {
		lo, hi := window(v.stages[i], v.ex)
		say := func(sig Signature, format string, args ...any) {
			out = append(out, finding{sig, fmt.Sprintf(format, args...), from, last, 0.98, false})
		}
		switch r.Verdict {
		case "low":
			say(Low, "Stage %d reached %s, the window begins at %s.", i+1, unit.Torque(r.TorqueNm),
				unit.Torque(round(lo)))
		case "high":
			say(High, "Stage %d reached %s, the window ends at %s.", i+1, unit.Torque(r.TorqueNm),
				unit.Torque(round(hi)))
		case "missing":
			sig := AngleShort
			if r.Kind == recipe.Torque {
				sig = Low
			}
			say(sig, "Stage %d was not done.", i+1)
		case "short":
			say(AngleShort,
				"Stage %d turned %s°, the window begins at %s°. %s° are left to turn from here; do not begin anew.",
				i+1, unit.Number(r.AngleDeg, 1), unit.Number(lo, 1), unit.Number(round(v.read.owed), 0))
		case "long":
			say(AngleLong, "Stage %d turned %s°, the window ends at %s°. The bolt is spent: renew it.", i+1,
				unit.Number(r.AngleDeg, 1), unit.Number(hi, 1))
		}
	}
	return out
}

// Outliers of a pattern.
const (
	softShare   = 0.5  // of the slope it should have
	steepShare  = 1.5  // of its siblings' slope: friction, not clamp
	shankShare  = 1.6  // of the stiffest this thread is in a common joint: no shorter grip gives more (common practice)
	leastSpread = 0.06 // siblings differ by as much without meaning anything
	outlier     = 4.0  // spreads
)

// unlike holds a pull against what the joint or its siblings show.
func unlike(v *view) []finding {
	if v.turned < standsDeg || !v.torqueFirst() || len(v.c) == 0 {
		return nil
	}
	from, last := v.c[v.from].from, v.c[len(v.c)-1].to
	vouched := v.siblings(func(f Feature) float64 { return f.Slope }) > v.slope/steepShare
	if v.ex.SlopeHigh > 0 && !vouched && math.Min(v.slope, v.chord()) > shankShare*v.ex.SlopeHigh && v.riseDeg() > 2*bottomDeg {
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
	// A short flank in coarse degrees has no slope to swear to.
	coarse := v.slope * (2*v.grain + 0.3) / math.Max(v.riseDeg(), 0.5)
	steeper := "a bolt that galls reaches its figure with half of its clamp. Slacken it, look at thread and face, pull anew."
	switch {
	case math.Min(v.slope, v.chord()) > steepShare*slope+2*coarse:
		return []finding{{
			sig: UnlikeSiblings,
			message: fmt.Sprintf("The slope is %.0f %% of its siblings': %s", 100*v.slope/slope,
				steeper),
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
