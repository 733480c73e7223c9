// Package forecast holds chances that were said against what happened: is what was called eight in ten true eight
// times in ten, and by how much do a shop's own cases move what is said next.
package forecast

import (
	"cmp"
	"math"
	"slices"
	"strings"
)

// Bands are the equal parts of 0 to 1 that chances are told apart by.
const Bands = 5

// Tally counts cases whose chance was said, over one band or many.
type Tally struct {
	N, Happened int
	Said        float64 // sum of the chances
	Spread      float64 // sum of p·(1−p): the variance of Happened where what was said is right
}

// Case is a tally of one case, whose chance was said, 0 to 1.
func Case(chance float64, happened bool) Tally {
	t := Tally{N: 1, Said: chance, Spread: chance * (1 - chance)}
	if happened {
		t.Happened = 1
	}
	return t
}

// Add counts the cases of another tally in.
func (t *Tally) Add(o Tally) {
	t.N += o.N
	t.Happened += o.Happened
	t.Said += o.Said
	t.Spread += o.Spread
}

// MeanSaid and Share are the chance said on the average, and how often it happened; 0 without cases.
func (t Tally) MeanSaid() float64 { return t.over(t.Said) }

// Share is how often it happened, 0 to 1.
func (t Tally) Share() float64 { return t.over(float64(t.Happened)) }

func (t Tally) over(sum float64) float64 {
	if t.N == 0 {
		return 0
	}
	return sum / float64(t.N)
}

// z95 is the 97.5 % point of the normal distribution.
const z95 = 1.959964

// Interval is where the true share lies with 95 %: the score interval of Wilson (1927), which holds for few cases
// too. Without cases it is anywhere.
func (t Tally) Interval() (low, high float64) {
	if t.N == 0 {
		return 0, 1
	}
	n, p := float64(t.N), t.Share()
	middle := p + z95*z95/(2*n)
	half := z95 * math.Sqrt(p*(1-p)/n+z95*z95/(4*n*n))
	all := 1 + z95*z95/n
	return max(0, (middle-half)/all), min(1, (middle+half)/all)
}

// Said are cases of one kind whose chance was told within one band.
type Said struct {
	Kind, Of string // of seizure and its rung; of a suspect its key alone
	Band     int    // of Bands, from the least
	Tally
}

// ByBand sorts cases into what they were of and the bands of their chances.
type ByBand map[of]Tally

type of struct {
	kind, of string
	band     int
}

// Count takes in one case.
func (b ByBand) Count(kind, what string, chance float64, happened bool) {
	at := of{kind, what, min(int(chance*Bands), Bands-1)}
	t := b[at]
	t.Add(Case(chance, happened))
	b[at] = t
}

// Said lists the cases by kind, what they were of, and band.
func (b ByBand) Said() []Said {
	var out []Said
	for at, t := range b {
		out = append(out, Said{at.kind, at.of, at.band, t})
	}
	slices.SortFunc(out, func(a, b Said) int {
		return cmp.Or(strings.Compare(a.Kind, b.Kind), strings.Compare(a.Of, b.Of), a.Band-b.Band)
	})
	return out
}

// Verdict is what a tally says of the chances that were told.
type Verdict string

// What it may say. Few stands where so few cases tell nothing, Fits where chance alone explains the difference.
const (
	Few     Verdict = "too few to tell"
	Fits    Verdict = "as said"
	Less    Verdict = "less often than said"
	Oftener Verdict = "more often than said"
)

// few is the least variance under which the sum of cases is taken as normal (common practice: n·p·q of 5; half of it
// serves here, since only a word hangs on it).
const few = 2.5

// Verdict holds what happened against the sum of the chances, in standard deviations of it (Spiegelhalter 1986, for
// one weight).
func (t Tally) Verdict() Verdict {
	if t.Spread < few {
		return Few
	}
	switch z := (float64(t.Happened) - t.Said) / math.Sqrt(t.Spread); {
	case z < -z95:
		return Less
	case z > z95:
		return Oftener
	}
	return Fits
}

// weight is how many cases the library's chances are worth against a shop's own.
const weight = 8

// Shift is by what log-odds a shop's own cases move what the library says of the next; 0 where there are none. The
// tally holds what the library alone said of them: what was told moved by them, and would chase itself.
//
// The share is drawn toward what was said as by a beta prior of weight cases. Where chances differed from case to case
// one shift of all their odds moves the mean less than it does each: the ratio of the variances makes up for that, to
// the first order.
func (t Tally) Shift() float64 {
	said := t.MeanSaid()
	if t.N == 0 || said <= 0 || said >= 1 || t.Spread <= 0 {
		return 0
	}
	n := float64(t.N)
	share := (float64(t.Happened) + weight*said) / (n + weight)
	return (logit(share) - logit(said)) * min(2, said*(1-said)/(t.Spread/n))
}

// Next is what the library's mean chance of such cases has become by them.
func (t Tally) Next() float64 { return Moved(t.MeanSaid(), t.Shift()) }

// Moved is a chance with its log-odds shifted; what is never and what is certain stay so.
func Moved(chance, shift float64) float64 {
	if chance <= 0 || chance >= 1 {
		return chance
	}
	return 1 / (1 + math.Exp(-logit(chance)-shift))
}

func logit(p float64) float64 { return math.Log(p / (1 - p)) }
