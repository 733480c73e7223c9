package release

import (
	"fmt"
	"math"
	"slices"

	"lugtak/core/forecast"
	"lugtak/core/unit"
)

// ladder is a seizure while its rungs are rated: how hard it may still sit, what was
// tried, and by how much that has eased it.
type ladder struct {
	kind  Kind
	held  ByGrade // share of each grade, after what was tried in vain
	eased float64 // share by which the next rung meets a lighter hold
	rungs []*rung
	tried []int // times each was, in vain
}

type rung struct {
	Rung
	try  Try
	past float64  // log-odds from the shop's own past, at each grade
	harm float64  // added by what is near or kept
	mind []string // and why
}

func (l *ladder) find(key string) int {
	return slices.IndexFunc(l.rungs, func(r *rung) bool { return r.Key == key })
}

// frees and harms are a rung's chances at each grade, at this point of the ladder.
func (l *ladder) frees(at int) ByGrade {
	var out ByGrade
	r, times := l.rungs[at], float64(l.tried[at])
	untired := math.Pow(again, times*times)
	for g := range out {
		lighter := r.try.Frees[max(0, g-1)]
		p := r.try.Frees[g] + l.eased*(lighter-r.try.Frees[g])
		out[g] = forecast.Moved(p, r.past) * untired
	}
	return out
}

// shift moves a rung at each grade so that its odds over all of them move by some log-odds. It is found by halves,
// between none and mostShift of that.
func (l *ladder) shift(at int, by float64) {
	r := l.rungs[at]
	want := forecast.Moved(l.over(l.frees(at)), by)
	from, to := 0.0, mostShift*by
	for range 40 {
		r.past = (from + to) / 2
		if (l.over(l.frees(at)) < want) == (by > 0) {
			from = r.past
		} else {
			to = r.past
		}
	}
}

// mostShift bounds how much further each grade moves than all together: what never frees at a grade does not move.
const mostShift = 3

func (l *ladder) harms(at int) ByGrade {
	var out ByGrade
	r := l.rungs[at]
	for g := range out {
		lighter := r.try.Harms[max(0, g-1)]
		out[g] = r.try.Harms[g] + l.eased*(lighter-r.try.Harms[g]) + r.harm
	}
	return out
}

// over is the chance over all grades, by their shares.
func (l *ladder) over(p ByGrade) float64 {
	sum, all := 0.0, 0.0
	for g := range p {
		sum += l.held[g] * p[g]
		all += l.held[g]
	}
	if all == 0 {
		return 0
	}
	return sum / all
}

// failed goes on after a try that neither freed it nor broke it.
func (l *ladder) failed(at int) {
	free, harm := l.frees(at), l.harms(at)
	for g := range l.held {
		l.held[g] *= max(0, 1-free[g]-harm[g])
	}
	if l.tried[at] == 0 {
		l.eased = 1 - (1-l.eased)*(1-l.rungs[at].Eases)
	}
	l.tried[at]++
}

func (l *ladder) clone() *ladder {
	n := *l
	n.tried = slices.Clone(l.tried)
	return &n
}

// climb rates every rung as things stand and puts those allowed in the order of the
// least expected minutes.
func (l *ladder) climb(near, keep map[string]bool, minutes float64) Ladder {
	rated := make([]Rated, len(l.rungs))
	var order []int
	var refused []Rated
	for i, r := range l.rungs {
		rated[i] = Rated{
			Rung:    r.Rung,
			Odds:    l.over(l.frees(i)),
			Risk:    l.over(l.harms(i)),
			Times:   l.tried[i],
			Mind:    r.mind,
			GivesUp: r.try.GivesUp,
			Refused: r.refused(near, keep, minutes),
		}
		if rated[i].Refused != "" {
			refused = append(refused, rated[i])
			continue
		}
		order = append(order, i)
	}
	out := Ladder{Kind: l.kind}
	order, out.Expected = l.best(order)
	t := l.clone()
	for _, i := range order {
		rated[i].Then = Chance{t.over(t.frees(i)), t.over(t.harms(i))}
		out.Rungs = append(out.Rungs, rated[i])
		t.failed(i)
	}
	out.Rungs = append(out.Rungs, refused...)
	return out
}

// refused is why a rung is not to be tried here.
func (r Rung) refused(near, keep map[string]bool, minutes float64) string {
	for _, n := range r.Never {
		if near[n.Near] || keep[n.Keep] {
			return n.Because
		}
	}
	if takes := r.Minutes + r.Waits; minutes > 0 && takes > minutes {
		return fmt.Sprintf("it takes %s minutes and %s are there", unit.Number(takes, 0), unit.Number(minutes, 0))
	}
	return ""
}

// wary is how much riskier a rung is here, and why.
func (r Rung) wary(near, keep map[string]bool) (harm float64, because []string) {
	for _, w := range r.Wary {
		if near[w.Near] || keep[w.Keep] {
			harm += w.Harm
			because = append(because, w.Because)
		}
	}
	return harm, because
}

// Stranded is what it costs when the whole ladder failed, minutes beyond what breaking
// costs: the part is cut off and the day planned anew (common practice).
const Stranded = 45

// cost is the expected minutes of rungs tried in this order until one frees it. What
// breaks ends the ladder and costs its own minutes. A soak costs the minutes of hands
// alone: other steps go on meanwhile.
func (l *ladder) cost(order []int) float64 {
	t := l.clone()
	sum, still := 0.0, 1.0
	for _, i := range order {
		r := t.rungs[i]
		free, harm := t.over(t.frees(i)), t.over(t.harms(i))
		sum += still * (t.minutes(r) + harm*t.kind.BreakMin)
		still *= max(0, 1-free-harm)
		t.failed(i)
	}
	return sum + still*(l.kind.BreakMin+Stranded)
}

// minutes of a rung are those of hands, and of what is lost where it gives up the part.
func (l *ladder) minutes(r *rung) float64 {
	if r.try.GivesUp {
		return r.Minutes + l.kind.GiveUp
	}
	return r.Minutes
}

// best is the order of the least expected minutes: by what each rung frees for its cost,
// then each rung moved wherever that is better still, until nothing is. What stands behind
// the rung that gives up the part is no longer worth its minutes.
func (l *ladder) best(rungs []int) ([]int, float64) {
	order := l.greedy(rungs)
	cost := l.cost(order)
	for better := true; better; {
		better = false
		for from := range order {
			for to := range order {
				trial := slices.Delete(slices.Clone(order), from, from+1)
				trial = slices.Insert(trial, to, order[from])
				if c := l.cost(trial); c < cost-1e-9 {
					order, cost, better = trial, c, true
				}
			}
		}
	}
	return order, cost
}

// greedy takes, each time, the rung that frees most for what it costs.
func (l *ladder) greedy(rungs []int) []int {
	t := l.clone()
	left := slices.Clone(rungs)
	var order []int
	for len(left) > 0 {
		best, most := 0, -1.0
		for n, i := range left {
			worth := t.over(t.frees(i)) / (t.minutes(t.rungs[i]) + t.over(t.harms(i))*t.kind.BreakMin)
			if worth > most {
				best, most = n, worth
			}
		}
		order = append(order, left[best])
		t.failed(left[best])
		left = slices.Delete(left, best, best+1)
	}
	return order
}
