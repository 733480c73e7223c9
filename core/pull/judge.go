package pull

import (
	"fmt"
	"math"

	"lugtak/core/recipe"
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

// sawTeeth is how many slips make a saw; a hand may slip once or twice.
const sawTeeth = 3

// A tooth of a saw: how deep, and how far the fastener jumped in it.
const (
	toothShare  = 0.06
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
