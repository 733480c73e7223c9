package pull

import (
	"fmt"
	"math"

	"lugtak/core/recipe"
	"lugtak/core/robust"
	"lugtak/core/unit"
)

type finding struct {
	sig      Signature
	message  string
	from, to int
}

// stageResults walks the recipe along the trace: a stage ends where a load
// ended inside its window, or where the trace passed its target.
func (c *curve) stageResults(stages []recipe.Stage) []StageResult {
	out := make([]StageResult, len(stages))
	at, angle := 0, c.p[0].Angle // where the stage in hand begins
	if len(c.bins) > 0 && len(stages) == 1 {
		angle = c.moveStart()
	}
	last := len(c.p) - 1
	lastAngle := math.Inf(-1)
	for _, x := range c.p {
		lastAngle = math.Max(lastAngle, x.Angle)
	}
	for i, s := range stages {
		r := StageResult{Kind: s.Kind, Verdict: "ok"}
		low, high := s.Window()
		final := i == len(stages)-1
		switch s.Kind {
		case recipe.Torque:
			end, peak, end1 := c.loadEnd(at, s, final)
			r.TorqueNm = peak
			r.AngleDeg = end1 - angle
			switch {
			case peak <= 0.02*c.target:
				r.Verdict = "missing"
			case peak < low-tolerance(c.noise):
				r.Verdict = "low"
			case peak > high+tolerance(c.noise):
				r.Verdict = "high"
			}
			at, angle = end, end1
		case recipe.Angle, recipe.NextSlot:
			end, end1, peak := last, lastAngle, c.peak
			if !final {
				end, end1, peak = c.angleEnd(at, angle, s)
			}
			r.AngleDeg, r.TorqueNm = end1-angle, peak
			switch {
			case r.AngleDeg < 1 && low > 2:
				r.Verdict = "missing"
			case r.AngleDeg < low-angleError:
				r.Verdict = "short"
			case r.AngleDeg > high+angleError:
				r.Verdict = "long"
			}
			at, angle = end, end1
		case recipe.BackOff:
			end, turned := c.backed(at)
			r.AngleDeg = turned
			if turned < backOffLeast || (!s.Full && turned < low*0.5) {
				r.Verdict = "missing" // the stages after it are looked for from here
				break
			}
			at, angle = end, c.p[end].Angle
		case recipe.Snug:
		}
		r.TorqueNm, r.AngleDeg = round(r.TorqueNm), round(r.AngleDeg)
		out[i] = r
	}
	return out
}

// angleError is what an angle encoder and the play of a socket leave open.
const angleError = 0.7

// tolerance at the edge of a window: the noise of a median, no more.
func tolerance(noise float64) float64 { return math.Min(0.5, 0.5*noise) }

// moveStart is the angle at which a lone stage's fastener begins to turn under
// load: where it stands before the first load for an angle stage.
func (c *curve) moveStart() float64 {
	return c.bins[0].angle - (c.bins[0].angle - c.p[c.bins[0].from].Angle)
}

// loadEnd finds where a torque stage ended, its peak and the angle there.
func (c *curve) loadEnd(at int, s recipe.Stage, final bool) (end int, peak, angle float64) {
	low, _ := s.Window()
	best := -1
	for k, p := range c.pauses {
		if p.at <= at {
			continue
		}
		best = k
		if !final && p.peak >= low-tolerance(c.noise) {
			break
		}
	}
	if best < 0 {
		return at, 0, c.p[at].Angle
	}
	if final { // several strokes: the last one decides, unless one before was higher
		for k, p := range c.pauses {
			if p.at > at && p.peak > c.pauses[best].peak {
				best = k
			}
		}
	}
	p := c.pauses[best]
	if !final && p.peak > s.Target()*1.02 && s.Kind == recipe.Torque {
		// One stroke through stage and angle: the stage ended at its target.
		for i := at; i <= p.at; i++ {
			if c.p[i].Torque >= s.Target() {
				return i, s.Target(), c.forward(i)
			}
		}
	}
	return p.at, p.peak, p.angle
}

// angleEnd finds where an angle stage ended: the load's end nearest its target.
func (c *curve) angleEnd(at int, from float64, s recipe.Stage) (end int, angle, peak float64) {
	end, angle = at, from
	miss := math.Inf(1)
	for _, p := range c.pauses {
		if p.at <= at {
			continue
		}
		if d := math.Abs(p.angle - from - s.Target()); d < miss {
			miss, end, angle, peak = d, p.at, p.angle, p.peak
		}
	}
	return end, angle, peak
}

// backOffLeast is more than a socket's play and a bar's wind-up, degrees.
const backOffLeast = 5

// backed finds the next turn backwards and how far it went.
func (c *curve) backed(at int) (end int, turned float64) {
	top := c.p[at].Angle
	lo, end := top, at
	for i := at; i < len(c.p); i++ {
		a := c.p[i].Angle
		switch {
		case top-lo > backOffLeast && a > lo+backOffLeast:
			return end, top - lo
		case top-lo <= backOffLeast && a > top:
			top, lo, end = a, a, i
		case a < lo:
			lo, end = a, i
		}
	}
	return end, math.Max(0, top-lo)
}

// signatures lists everything that fits.
func (c *curve) signatures(stages []recipe.Stage, res []StageResult, ex Expect) []finding {
	var out []finding
	add := func(sig Signature, from, to int, format string, args ...any) {
		out = append(out, finding{sig, fmt.Sprintf(format, args...), from, to})
	}
	torqueOnly := stages[len(stages)-1].Kind == recipe.Torque
	angleOnly := stages[0].Kind != recipe.Torque
	low, _ := stages[len(stages)-1].Window()

	if still := c.stoodStill(); still && torqueOnly && c.peak >= 0.5*low {
		if !ex.Repeat {
			add(NoMovement, 0, c.peakAt, "The torque rose to %s without the fastener turning: it was tight already. That shows it is at least there, not that it was tightened.", unit.Torque(c.peak))
		}
	} else if !angleOnly {
		if from, to, level, ok := c.crossThreaded(); ok {
			add(CrossThreaded, from, to, "It took about %s to turn long before the parts met: the thread is crossed or fouled. Take it out and look at both threads.", unit.Torque(round(level)))
		}
		if ex.SlopeHigh > 0 && c.slope > 1.6*ex.SlopeHigh || c.bottoms(ex) {
			add(Bottomed, c.snugAt, c.peakAt, "The torque rose in %s° after the run-down, far steeper than this joint does: the bolt stands on the bottom of its hole and the parts are not clamped.", unit.Number(c.riseDeg(), 0))
		}
	}
	slips, slipFrom, slipTo := c.slips()
	from, to, what := c.weakens(stages, res, low, torqueOnly)
	if what == Yielded && slips >= sawTeeth {
		what = "" // a saw has no slope to speak of
	}
	switch what {
	case Stripped:
		add(Stripped, from, to, "The torque stopped rising while the fastener went on turning: the thread gives way. Renew bolt and thread.")
	case Yielded:
		add(Yielded, from, to, "The slope fell below half of its elastic value before the target: the bolt is being stretched for good. Renew it and look at the figure and the grease.")
	}
	if slips >= sawTeeth {
		add(StickSlip, slipFrom, slipTo, "The torque went up and down like a saw %d times while turning: the faces or threads gall. Take it out, clean, treat as specified.", slips)
	}
	for i, r := range res {
		lo, hi := stages[i].Window()
		switch r.Verdict {
		case "low":
			add(Low, c.snugAt, c.peakAt, "Stage %d reached %s, the window begins at %s.", i+1, unit.Torque(r.TorqueNm), unit.Torque(round(lo)))
		case "high":
			add(High, c.snugAt, c.peakAt, "Stage %d reached %s, the window ends at %s.", i+1, unit.Torque(r.TorqueNm), unit.Torque(round(hi)))
		case "short", "missing":
			sig := AngleShort
			if r.Kind == recipe.Torque {
				sig = Low
			}
			add(sig, c.snugAt, len(c.p)-1, "Stage %d turned %s°, the window begins at %s°.", i+1, unit.Number(r.AngleDeg, 1), unit.Number(lo, 1))
		case "long":
			add(AngleLong, c.snugAt, len(c.p)-1, "Stage %d turned %s°, the window ends at %s°.", i+1, unit.Number(r.AngleDeg, 1), unit.Number(hi, 1))
		}
	}
	return c.compare(out, ex, angleOnly)
}

// compare holds a pull against what the joint or its siblings show.
func (c *curve) compare(out []finding, ex Expect, angleOnly bool) []finding {
	if len(out) > 0 || c.stoodStill() {
		return out
	}
	last := len(c.p) - 1
	if !angleOnly && ex.SlopeLow > 0 && c.slope < 0.5*ex.SlopeLow {
		return append(out, finding{Soft, "The torque rises far more gently than this joint should: paint, gasket, rubber or a wrong washer is being squeezed.", c.snugAt, last})
	}
	if len(ex.Siblings) < 2 {
		return out
	}
	pick := func(f func(Feature) float64) (mid, spread float64) {
		v := make([]float64, len(ex.Siblings))
		for i, s := range ex.Siblings {
			v[i] = f(s)
		}
		mid = robust.Median(v)
		for i := range v {
			v[i] = math.Abs(v[i] - mid)
		}
		return mid, math.Max(robust.Normal*robust.Median(v), 0.06*math.Abs(mid))
	}
	slope, sSpread := pick(func(f Feature) float64 { return f.Slope })
	turn, tSpread := pick(func(f Feature) float64 { return f.Turn })
	switch {
	case !angleOnly && slope > 0 && c.slope < 0.5*slope:
		return append(out, finding{Soft, fmt.Sprintf("The slope is %.0f %% of its siblings': something soft is being squeezed.", 100*c.slope/slope), c.snugAt, last})
	case slope > 0 && math.Abs(c.slope-slope) > 4*sSpread, turn > 0 && math.Abs(c.turn()-turn) > 4*tSpread:
		return append(out, finding{UnlikeSiblings, fmt.Sprintf("Inside every window, yet unlike its siblings: slope %.2f against %.2f N·m per degree, turn %.0f° against %.0f°. Look at grease, washer and grade.", c.slope, slope, c.turn(), turn), c.snugAt, last})
	}
	return out
}

// stoodStill: the fastener hardly turned while the torque rose.
func (c *curve) stoodStill() bool {
	return c.riseDeg() < 2.5 && c.bins[len(c.bins)-1].angle-c.bins[0].angle < 6
}

// riseDeg is the turn between a tenth above the run-down torque and the peak.
func (c *curve) riseDeg() float64 {
	var from, to float64
	found := false
	for _, b := range c.bins {
		if !found && b.torque > c.base+0.10*(c.peak-c.base) {
			from, found = b.angle, true
		}
		if b.torque >= 0.97*c.peak {
			to = b.angle
			break
		}
	}
	return math.Max(0, to-from)
}

// bottoms: the target came within a few degrees of the run-down.
func (c *curve) bottoms(ex Expect) bool {
	if c.bins[len(c.bins)-1].angle-c.bins[0].angle < 10 {
		return false
	}
	var slopes []float64
	for _, s := range ex.Siblings {
		slopes = append(slopes, s.Slope)
	}
	if len(slopes) >= 2 {
		return c.slope > 2.5*robust.Median(slopes)
	}
	return c.riseDeg() < 6
}

// crossThreaded: a good part of the turn before the flank was spent at a torque
// far above run-down, uneven or rising.
func (c *curve) crossThreaded() (from, to int, level float64, ok bool) {
	lo, hi := 0.14*c.target, 0.80*c.target
	if len(c.bins) < 2 {
		return 0, 0, 0, false
	}
	// Short windows: the flank behind a crossed thread is short.
	win := min(c.window(), max(4, int(12/math.Max(0.5, c.bins[1].angle-c.bins[0].angle))))
	steep, flank := 0.0, len(c.bins)
	for i := 0; i+win < len(c.bins); i++ {
		steep = math.Max(steep, line(c.bins[i:i+win+1]))
	}
	for i := 0; i+win < len(c.bins); i++ {
		if line(c.bins[i:i+win+1]) > 0.6*steep {
			flank = i + win
		}
	}
	var inside float64
	var v []float64
	first, lastBin := -1, 0
	for i := 1; i < flank; i++ { // what is slow behind the flank is no run-down
		b := c.bins[i]
		if b.torque >= 0.97*c.peak {
			break
		}
		if b.torque < lo || b.torque > hi {
			continue
		}
		if first < 0 {
			first = i
		}
		lastBin = i
		inside += b.angle - c.bins[i-1].angle
		v = append(v, b.torque)
	}
	if first < 0 || steep <= 0 {
		return 0, 0, 0, false
	}
	straight := (hi - lo) / steep // what the flank alone would take
	if inside < 70 || inside < 2.2*straight {
		return 0, 0, 0, false
	}
	return c.bins[first].from, c.bins[lastBin].to, robust.Median(v), true
}

// weakens looks past the steepest part of the flank for a slope that fell.
func (c *curve) weakens(stages []recipe.Stage, res []StageResult, low float64, torqueOnly bool) (from, to int, what Signature) {
	if c.clipped || c.slope <= 0 || len(c.bins) < 12 {
		return 0, 0, ""
	}
	win := c.window()
	steep, first := 0.0, -1
	var weakFrom, weakTo int
	weak := 0.0
	for i := 0; i+win < len(c.bins); i++ {
		b := c.bins[i : i+win+1]
		mid := b[win/2].torque
		k := line(b)
		if mid > 0.30*c.peak && k > steep && first < 0 {
			steep = k
		}
		if steep > 0 && mid > 0.55*c.peak && k < 0.5*math.Max(steep, c.slope) {
			if first < 0 {
				first = i
			}
			weakFrom, weakTo = c.bins[first].from, b[win].to
			weak = b[win].angle - c.bins[first+win/2].angle
		}
	}
	if first < 0 || weak < 8 {
		return 0, 0, ""
	}
	end := c.bins[len(c.bins)-1]
	fell := c.bins[first+win/2].torque - end.torque
	if torqueOnly {
		if c.peak < low && (fell > 0.10*c.peak || weak > 40 || line(c.bins[first:]) < 0.05*c.slope && weak > 20) {
			return weakFrom, weakTo, Stripped
		}
		return weakFrom, weakTo, Yielded
	}
	// A bolt made to be turned by angle reaches yield near the end; one that
	// yields in the first half of the angle is too weak.
	asked := 0.0
	for _, s := range stages {
		if s.Kind == recipe.Angle {
			asked += s.Target()
		}
	}
	if fell > 0.15*c.peak {
		return weakFrom, weakTo, Stripped
	}
	// What it yields beyond the angle is the hand's doing, not the bolt's.
	last := len(stages) - 1
	if beyond := res[last].AngleDeg - stages[last].Target(); stages[last].Kind == recipe.Angle && beyond > 0 {
		weak -= beyond
	}
	if asked > 0 && weak > 0.6*asked {
		return weakFrom, weakTo, Yielded
	}
	return 0, 0, ""
}

// sawTeeth is how many slips make a saw; a hand may slip once or twice.
const sawTeeth = 3

// slips counts drops of torque during which the fastener jumped ahead. A hand
// that jerks lets the torque fall while nothing turns.
func (c *curve) slips() (n, from, to int) {
	least := math.Max(0.035*c.peak, 6*c.noise)
	onFlank := math.Max(0.12*c.peak, 1.3*c.base+0.10*(c.peak-c.base))
	hiAt, loAt, falling := 0, 0, false
	for i := 1; i <= c.peakAt; i++ {
		y := c.p[i].Torque
		if !falling {
			if y > c.p[hiAt].Torque {
				hiAt = i
			} else if c.p[hiAt].Torque-y > least {
				falling, loAt = true, i
			}
			continue
		}
		if y < c.p[loAt].Torque {
			loAt = i
		}
		if y-c.p[loAt].Torque < least {
			continue
		}
		drop := c.p[hiAt].Torque - c.p[loAt].Torque
		if c.forward(loAt)-c.forward(hiAt) > 0.3 && drop < 0.7*c.p[hiAt].Torque && c.p[hiAt].Torque > onFlank {
			if n == 0 {
				from = hiAt
			}
			n++
			to = loAt
		}
		falling, hiAt = false, i
	}
	return n, from, to
}
