package pull

import (
	"math"
	"slices"

	"lugtak/core/robust"
)

// Whether the end of a pull was seen comes before what it was: of a top that nobody saw nothing can be said.

// end is a stretch of the recording in which its top may be hidden.
type end struct {
	says     string
	from, to float64 // s
	gives    bool    // or the bolt gives: both look so
}

// What hides a top. Shares are of the greatest reading (common practice: a torque is read to about two parts in a
// hundred).
const (
	hidden     = 0.02 // a rise this large is not missed
	limitDeg   = 0.8  // of turn at the greatest reading: less is the hand
	approach   = 1.5  // times that turn, over which it rose before
	leastTurn  = 1.5  // degrees over which a rise is taken at the least
	gapTimes   = 6.0  // times the usual time between two readings
	gapLeast   = 0.025
	between    = 0.04 // of the greatest reading, between two of a slow tool: as much as a window has
	scatters   = 4.0  // standard deviations a reading strays at most
	nearTop    = 0.8  // of the greatest reading: a gap below it hides no top
	endsAt     = 0.95 // of the greatest reading: a recording that ends there ends at its top
	endsOver   = 0.12 // s: over which it still rises, unless it shows that it was held
	endsRising = 0.04 // of the greatest reading a second: a hand that feels its way to the figure pulls so
	leastEnd   = 4    // readings
	stillTimes = 15   // equal greatest readings in a row, where
	stillElse  = 5    // are the most anywhere else: a sensor that scatters shows no more
)

// unseen says what hides the top of a recording; empty where it was seen. Torque and angle are those of the tool,
// tightening positive; stretches says that the bolt may be turned on past what it bears.
func unseen(s []Sample, stretches bool) end {
	top := 0
	for i := range s {
		if s[i].Torque > s[top].Torque {
			top = i
		}
	}
	digit := digitOf(s)
	noise := scatter(s, func(x Sample) float64 { return x.Torque })
	grain := scatter(s, func(x Sample) float64 { return x.Angle })
	missed := math.Max(hidden*s[top].Torque, 3*noise)
	for _, look := range []func() (end, bool){
		func() (end, bool) { return stillAtLimit(s, top) },
		func() (end, bool) { return atLimit(s, top, digit, grain, missed+digit, stretches) },
		func() (end, bool) {
			if stretches { // as it is meant to
				return end{}, false
			}
			e, flat := atLimit(s, top, scatters*noise, grain, missed+scatters*noise, false)
			if flat {
				e.gives = true
				e.says = "The torque stood still while the fastener went on: a sensor at its limit, or a bolt that gives. " +
					"Slacken " +
					"it, look at the bolt, and pull with a tool that reads higher."
			}
			return e, flat
		},
		func() (end, bool) { return gapAtTop(s, top, noise, grain, missed) },
		func() (end, bool) { return cutOnRise(s, top, noise) },
	} {
		if e, found := look(); found {
			return e
		}
	}
	return end{}
}

// digitOf is the least step between two readings where the tool shows digits, else next to nothing.
func digitOf(s []Sample) float64 {
	steps := make([]float64, 0, len(s))
	for i := 1; i < len(s); i++ {
		if step := math.Abs(s[i].Torque - s[i-1].Torque); step > 1e-9 {
			steps = append(steps, step)
		}
	}
	if len(steps) == 0 {
		return 0
	}
	slices.Sort(steps)
	least := steps[0]
	whole := 0
	for _, step := range steps {
		if n := step / least; math.Abs(n-math.Round(n)) < 0.02 {
			whole++
		}
	}
	if float64(whole) < 0.95*float64(len(steps)) || steps[len(steps)*9/10] > 50*least {
		return 1e-9
	}
	return least
}

// stillAtLimit: a sensor that scatters everywhere else shows one greatest figure again and again.
func stillAtLimit(s []Sample, top int) (end, bool) {
	run, longest, still, last := 0, 0, 0, 0
	for i := range s {
		if i == 0 || s[i].Torque != s[i-1].Torque {
			run = 0
		}
		run++
		switch {
		case s[i].Torque < s[top].Torque:
			still = max(still, run)
		case run > longest:
			longest, last = run, i
		}
	}
	if longest < stillTimes || still > stillElse {
		return end{}, false
	}
	return end{
		"The sensor stood at its limit: nobody knows the torque. Slacken it and pull with a tool that reads higher.",
		s[last+1-longest].T, s[last].T, false,
	}, true
}

// atLimit: several greatest readings, equal to a band, while the fastener turned on, at the end of a rise that would
// have gone on.
// A bolt that stretches rose little before, too.
func atLimit(s []Sample, top int, band, grain, missed float64, stretches bool) (end, bool) {
	greatest := s[top].Torque
	at := func(i int) bool { return s[i].Torque >= greatest-1.01*band }
	for i := 0; i < len(s); i++ {
		if !at(i) {
			continue
		}
		from, to := i, i
		for i < len(s) && (s[i].T-s[to].T <= overshoot || i-to <= leastEnd) { // scatter takes single ones below it
			if at(i) {
				to = i
			}
			i++
		}
		if e, stood := stoodAtLimit(s, from, to, grain, missed, stretches); stood {
			return e, true
		}
	}
	return end{}, false
}

// stoodAtLimit looks at one stretch of greatest readings.
func stoodAtLimit(s []Sample, from, to int, grain, missed float64, stretches bool) (end, bool) {
	turn := s[to].Angle - s[from].Angle
	if turn > jump || turn < limitDeg+3*grain || to-from < leastEnd {
		return end{}, false
	}
	before := from
	for before > 0 && s[from].Angle-s[before-1].Angle < math.Max(leastTurn, approach*turn) &&
		s[before-1].Angle <= s[from].Angle+math.Max(limitDeg, 3*grain) {
		before--
	}
	ran := s[from].Angle - s[before].Angle
	rose := (s[from].Torque - s[before].Torque) / math.Max(ran, limitDeg) * turn
	if stretches && (ran < limitDeg || from-before < leastEnd) || rose < missed {
		return end{}, false
	}
	return end{
		"The sensor stood at its limit while the fastener went on: nobody knows the torque. Slacken it and pull with a " +
			"tool that reads higher.",
		s[from].T, s[to].T, false,
	}, true
}

// gapAtTop: readings are missing beside the greatest, for as long as the torque would have taken to rise on.
func gapAtTop(s []Sample, top int, noise, grain, missed float64) (end, bool) {
	waits := make([]float64, 0, len(s))
	for i := 1; i < len(s); i++ {
		waits = append(waits, s[i].T-s[i-1].T)
	}
	usual := robust.Median(slices.Clone(waits))
	for i := 1; i < len(s); i++ {
		wait := waits[i-1]
		if i > 1 && s[i-1].Torque-s[i].Torque > missed && s[i-1].Torque >= s[top].Torque-missed && waits[i-2] > 0 {
			// It was let go between two readings; where it was held before, the last two are alike.
			if rise := (s[i-1].Torque - s[i-2].Torque) / waits[i-2] * wait; rise > between*s[top].Torque+2*noise {
				return end{
					"The tool reads too seldom for so quick a pull: the torque went on between two readings. Slacken it and pull " +
						"again, slower, and hold it for a moment.",
					s[i-1].T, s[i].T, false,
				}, true
			}
		}
		if wait < gapLeast || wait < gapTimes*usual || math.Max(s[i-1].Torque, s[i].Torque) < nearTop*s[top].Torque {
			continue
		}
		higher := false // it was seen to go on rising behind the gap
		for _, x := range s[i:] {
			higher = higher || x.Torque > math.Max(s[i-1].Torque, s[i].Torque)+missed
		}
		from := i - 1
		for from > 0 && (i-from < 2*leastEnd || s[from-1].T > s[i-1].T-3*endsOver) {
			from--
		}
		recent := i - leastEnd
		for recent > from && s[i-1].T-s[recent].T < overshoot {
			recent--
		}
		recent = max(recent, from)
		held := s[recent:i] // where it was held, the last of them show it
		at := pace(held) + 2*paceError(noise, len(held), s[i-1].T-s[recent].T)
		turned := s[i].Angle-s[i-1].Angle > limitDeg+3*grain
		if top < i && at > endsRising*s[top].Torque {
			_, cut := cutOnRise(s[:i], top, noise)
			turned = turned || cut // as far as the hand went on
		}
		if !higher && (turned || math.Min(pace(s[from:i]), at)*wait > missed) {
			return end{
				"Readings are missing where the torque was greatest: how far it went nobody saw. Slacken it and pull again.",
				s[i-1].T, s[i].T, false,
			}, true
		}
	}
	return end{}, false
}

// pace is how fast the torque rises, N·m a second.
func pace(s []Sample) float64 {
	if len(s) < 2 {
		return 0
	}
	at, nm := make([]float64, len(s)), make([]float64, len(s))
	for i, x := range s {
		at[i], nm[i] = x.T, x.Torque
	}
	return fitted(at, nm)
}

// paceError is the standard error of a line through so many evenly spaced readings, N·m a second.
func paceError(noise float64, n int, span float64) float64 {
	return noise * math.Sqrt(12/float64(n)) / math.Max(span, 1e-9)
}

// cutOnRise: the recording ends while the torque still rises.
func cutOnRise(s []Sample, top int, noise float64) (end, bool) {
	last := len(s) - 1
	if s[last].Torque < endsAt*s[top].Torque-3*noise {
		return end{}, false
	}
	from := last
	for _, over := range []float64{endsOver / 3, endsOver, 3 * endsOver} { // held, for longer by a tool that scatters
		from = last
		for from > 0 && (last-from < leastEnd || s[last].T-s[from].T < over) {
			from--
		}
		if over > endsOver && s[last].Angle < s[from].Angle-backDeg { // it reaches back before this stroke
			break
		}
		tail := s[from:]
		err := paceError(noise, len(tail), s[last].T-s[from].T)
		rises, least := pace(tail), endsRising*s[top].Torque
		still := rises+2*err < least || over == endsOver && rises < least/2 // or shows no rise where it might
		if still || s[last].Angle < s[from].Angle-backDeg {
			return end{}, false
		}
	}
	return end{
		"The recording stops while the torque still rises: how far it went nobody saw. Record until after the release; " +
			"slacken it and pull again.",
		s[from].T, s[last].T, false,
	}, true
}
