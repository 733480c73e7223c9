package plan

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"lugtak/core/operation"
)

// Widening is what may make a job longer: how likely it is, and what it then takes.
type Widening struct {
	What    string
	Odds    float64 // 0 to 1
	Minutes float64
}

// Estimate is how long a job takes in nine cases of ten, and what makes it so wide.
type Estimate struct {
	Low, Likely, High float64 // minutes; the 5th, 50th and 95th of a hundred
	Spread            float64 // of the work itself, one standard deviation
	Widened           []Widening
}

// Expect is what a shop reckons with (its own figures, in shop.yaml).
type Expect struct {
	SeizedOdds float64           // that a joint that seizes does so, where nobody knows of such a joint
	Opened     map[string][2]int // by joint of the sheet, how often it was opened here, and stuck
	SeizedMin  float64
	Late       []Widening // parts that are not there yet
}

// weightOfOdds is how many openings the shop's own figure counts as, against what happened here (common practice).
const weightOfOdds = 8

// seized are the odds that a joint is stuck: what the shop reckons with, moved by its own past; says is that past.
func (e Expect) seized(sheet string) (odds float64, says string) {
	was := e.Opened[sheet]
	if e.SeizedOdds == 0 || was[0] == 0 {
		return e.SeizedOdds, ""
	}
	odds = (weightOfOdds*e.SeizedOdds + float64(was[1])) / (weightOfOdds + float64(was[0]))
	return odds, fmt.Sprintf(" (%d of %d here)", was[1], was[0])
}

// untimed is the spread of a step nobody has timed yet, as a share of its minutes (common
// practice).
const untimed = 0.2

// Spread is one standard deviation of a step's minutes: half of what the shop's own times show, never less than
// half of what is taken for a step nobody has timed.
func (s *Step) Spread() float64 {
	spread := untimed * s.Minutes
	if s.Timed > 0 {
		return math.Max(spread/2, (s.High-s.Low)/2)
	}
	return spread
}

// Reckon estimates a plan whose clock says so many minutes. The steps' own spread adds up
// as independent errors do; what may come between is convolved with it exactly, in whole
// minutes.
func (p *Plan) Reckon(minutes float64, e Expect) Estimate {
	variance := 0.0
	for _, s := range p.Steps {
		variance += s.Spread() * s.Spread()
	}
	out := Estimate{Spread: math.Sqrt(variance)}
	for _, j := range p.Joints {
		odds, says := e.seized(j.Sheet)
		if j.Seizes && odds > 0 && p.cracks(j.ID) {
			out.Widened = append(out.Widened, Widening{j.One + " seized" + says, odds, e.SeizedMin})
		}
	}
	out.Widened = append(out.Widened, e.Late...)
	slices.SortStableFunc(out.Widened, func(a, b Widening) int { return cmp.Compare(b.Odds*b.Minutes, a.Odds*a.Minutes) })
	more := convolve(out.Widened)
	at := func(share float64) float64 {
		low, high := 0.0, minutes+float64(len(more))+8*out.Spread+1
		for range 60 {
			mid := (low + high) / 2
			if below(mid-minutes, more, out.Spread) < share {
				low = mid
			} else {
				high = mid
			}
		}
		return high
	}
	out.Low, out.Likely, out.High = at(0.05), at(0.5), at(0.95)
	return out
}

func (p *Plan) cracks(joint string) bool {
	return slices.ContainsFunc(p.Steps, func(s Step) bool { return s.Joint == joint && s.Verb == operation.Crack })
}

// convolve gives the chance of each number of minutes more.
func convolve(all []Widening) []float64 {
	out := []float64{1}
	for _, w := range all {
		m := int(math.Round(w.Minutes))
		next := make([]float64, len(out)+m)
		for i, share := range out {
			next[i] += share * (1 - w.Odds)
			next[i+m] += share * w.Odds
		}
		out = next
	}
	return out
}

// below is the chance that it takes no more than so many minutes beyond the clock.
func below(t float64, more []float64, spread float64) float64 {
	sum := 0.0
	for m, share := range more {
		z := (t - float64(m)) / math.Max(spread, 1e-9)
		sum += share * (1 + math.Erf(z/math.Sqrt2)) / 2
	}
	return sum
}
