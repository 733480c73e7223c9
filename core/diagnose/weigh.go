package diagnose

import (
	"fmt"
	"iter"
	"math"
	"slices"
)

// item is an answer with its evidence by number.
type item struct {
	n      int
	yes    bool
	corner Corner
}

// hypothesis is a set of at most two faults, and where they may sit.
type hypothesis struct {
	a, b  int // indices of suspects, -1 for none
	log   float64
	where [2]corners // of a and of b, once the answers are joined
}

// faults are the suspects of a hypothesis with their place in it.
func (h hypothesis) faults() iter.Seq2[int, int] {
	return func(yield func(int, int) bool) {
		for n, s := range [2]int{h.a, h.b} {
			if s >= 0 && !yield(n, s) {
				return
			}
		}
	}
}

// corners is the weight of each corner; the last is a suspect that sits at none.
type corners [5]float64

const nowhere = 4

func (c *corners) add(o corners, times float64) {
	for i := range c {
		c[i] += times * o[i]
	}
}

// A corner is named from here.
const (
	namedFrom = 0.6
	sidedFrom = 0.68
)

// says names the corner, else the side.
func (c corners) says(s Suspect) string {
	total := 0.0
	for _, w := range c[:nowhere] {
		total += w
	}
	if total <= 0 || !s.Sided {
		return ""
	}
	side := map[string]float64{}
	for i, w := range c[:nowhere] {
		if w/total >= namedFrom {
			return string(Corners[i])
		}
		side[Corners[i].Side()] += w / total
	}
	for _, name := range []string{"left", "right"} {
		if side[name] >= sidedFrom {
			return name
		}
	}
	return ""
}

// each is the share of every corner, together one where it is told that it is at one.
func (c corners) each() []float64 {
	total := 0.0
	for _, w := range c {
		total += w
	}
	out := make([]float64, nowhere)
	for i := range out {
		if total > 0 {
			out[i] = c[i] / total
		}
	}
	return out
}

// table holds, for each sign and suspect, the chance that the suspect does not
// cause it, so that sets of faults are joined without looking anything up.
type table struct {
	k  *Knowledge
	no [][]float64 // by evidence and suspect; 1 where it says nothing of it

	said corners // how much likelier each is by the words of the complaint
}

func (k *Knowledge) table() table {
	t := table{k: k, no: make([][]float64, len(k.Evidence))}
	for i, e := range k.Evidence {
		t.no[i] = make([]float64, len(k.Suspects))
		for j, s := range k.Suspects {
			t.no[i][j] = 1
			if p, ok := e.Speaks[s.Key]; ok {
				t.no[i][j] = 1 - p
			}
		}
	}
	return t
}

// joined is the chance that none of the faults and nothing else causes a sign. A fault
// that makes the sign rarer than chance rules.
func joined(leak, slip float64, no ...float64) float64 {
	out := 1 - leak
	for _, n := range no {
		switch {
		case n == 1:
		case n > 1-leak:
			return slip + (1-2*slip)*(1-n)
		default:
			out *= n
		}
	}
	return slip + (1-2*slip)*(1-out)
}

// chanceAt is the leak and the slip of an answer: what may happen by chance somewhere
// happens at one corner in a quarter of the cases.
func (t table) chanceAt(x item) (leak, slips float64) {
	leak, slips = t.k.Evidence[x.n].Leak, slip
	if x.corner != "" {
		share := float64(len(Corners))
		return leak / share, slips / share
	}
	return leak, slips
}

// anywhere is the chance of a yes to sign i under a set of faults, wherever they sit.
func (t table) anywhere(i int, h hypothesis) float64 {
	leak := t.k.Evidence[i].Leak
	no := [2]float64{1, 1}
	for n, s := range h.faults() {
		no[n] = t.no[i][s]
	}
	return joined(leak, slip, no[0], no[1])
}

// How much more and less a fault causes a sign that points to a side, on that side and
// on the other: the mean is what the library says.
const (
	thatSide  = 1.65
	otherSide = 0.35
)

// at is the chance that a fault at a corner does not cause a sign there.
func (t table) at(x item, s int, c int) float64 {
	no := t.no[x.n][s]
	if c == nowhere {
		return no
	}
	e := &t.k.Evidence[x.n]
	if x.corner != "" && x.corner != Corners[c] {
		return 1
	}
	if e.Side == "" || no > 1-e.Leak {
		return no
	}
	p := 1 - no
	if e.Side == Corners[c].Side() {
		return 1 - math.Min(0.97, p*thatSide)
	}
	return 1 - p*otherSide
}

// local says that an answer tells corners apart.
func (t table) local(x item) bool { return x.corner != "" || t.k.Evidence[x.n].Side != "" }

// sits are the corners a suspect may sit at.
func (t table) sits(s int) []int {
	switch {
	case s < 0:
		return []int{nowhere}
	case t.k.Suspects[s].Sided:
		return []int{0, 1, 2, 3}
	}
	return []int{nowhere}
}

// join puts the answers into each hypothesis: those that tell no corner once, the others
// over every corner its faults may sit at.
func (t table) join(hyps []hypothesis, items []item) {
	for i := range hyps {
		h := &hyps[i]
		for _, x := range items {
			if t.local(x) {
				continue
			}
			h.log += math.Log(answered(t.anywhere(x.n, *h), x.yes))
		}
		h.log += math.Log(t.overCorners(h, items))
	}
}

func answered(yes float64, says bool) float64 {
	if says {
		return yes
	}
	return 1 - yes
}

// overCorners is the mean likelihood of the local answers, and leaves in the hypothesis
// where its faults sit.
func (t table) overCorners(h *hypothesis, items []item) float64 {
	as, bs := t.sits(h.a), t.sits(h.b)
	sum, n := 0.0, 0.0
	for _, ca := range as {
		for _, cb := range bs {
			if h.a == h.b && h.a >= 0 && ca == cb {
				continue
			}
			weight := t.said[ca] * t.said[cb]
			like := weight
			for _, x := range items {
				if !t.local(x) {
					continue
				}
				no := [2]float64{1, 1}
				if h.a >= 0 {
					no[0] = t.at(x, h.a, ca)
				}
				if h.b >= 0 {
					no[1] = t.at(x, h.b, cb)
				}
				leak, slips := t.chanceAt(x)
				like *= answered(joined(leak, slips, no[0], no[1]), x.yes)
			}
			h.where[0][ca] += like
			h.where[1][cb] += like
			sum += like
			n += weight
		}
	}
	for i := range h.where {
		for c := range h.where[i] {
			h.where[i][c] /= sum
		}
	}
	return sum / n
}

// hypotheses are none, every fault, every two, and one fault at two corners.
func (k *Knowledge) hypotheses(h History) []hypothesis {
	n := len(k.Suspects)
	out := make([]hypothesis, 0, 1+2*n+n*(n-1)/2)
	healthy := 0.0
	odds := make([]float64, n)
	for i, s := range k.Suspects {
		p := s.prior(h)
		odds[i] = math.Log(p / (1 - p))
		healthy += math.Log(1 - p)
	}
	out = append(out, hypothesis{a: -1, b: -1, log: healthy})
	for i, s := range k.Suspects {
		out = append(out, hypothesis{a: i, b: -1, log: healthy + odds[i]})
		if s.Sided {
			out = append(out, hypothesis{a: i, b: i, log: healthy + odds[i] + math.Log(bothWear)})
		}
		for j := i + 1; j < n; j++ {
			out = append(out, hypothesis{a: i, b: j, log: healthy + odds[i] + odds[j]})
		}
	}
	return out
}

// bothWear is how often a worn part is worn at a second corner too (common practice).
const bothWear = 0.15

// contradictions takes out answers that cannot both be, says so, and names them to be
// asked again.
func (t table) contradictions(items []item) ([]item, Report) {
	var r Report
	k := t.k
	out := map[int]bool{}
	again := func(i, j int, format string, args ...any) {
		for _, x := range [2]int{i, j} {
			out[x] = true
			key := k.Evidence[items[x].n].Key
			if !slices.Contains(r.Again, key) {
				r.Again = append(r.Again, key)
			}
		}
		r.Open = append(r.Open, fmt.Sprintf(format, args...))
		r.Clashes = append(r.Clashes, Clash{k.given(items[j]), k.given(items[i])})
	}
	for i, x := range items {
		e := &k.Evidence[x.n]
		for j, y := range items[:i] {
			o := &k.Evidence[y.n]
			here := x.corner == y.corner || x.corner == "" || y.corner == ""
			switch {
			case e.Key == o.Key && x.yes != y.yes && here:
				again(i, j, "“%s” was answered yes, and no. Look once more: neither counts until one is taken back.", e.Ask)
			case x.yes && y.yes && here && (slices.Contains(e.NotWith, o.Key) || slices.Contains(o.NotWith, e.Key)):
				again(i, j, "“%s” and “%s” cannot both be. Look once more: neither counts until one is taken back.", o.Ask, e.Ask)
			}
		}
	}
	var kept []item
	for i, x := range items {
		if !out[i] {
			kept = append(kept, x)
		}
	}
	return kept, r
}

// given is the answer an item was read from.
func (k *Knowledge) given(x item) Answer { return Answer{k.Evidence[x.n].Key, x.yes, x.corner} }

// counted are the answers that count: of each group the one that says most, a yes before
// a no, at each corner.
func (t table) counted(items []item) []item {
	type fact struct {
		group  string
		corner Corner
	}
	says := func(x item) float64 {
		leak, slips := t.chanceAt(x)
		most := 0.0
		for _, no := range t.no[x.n] {
			p := answered(joined(leak, slips, no), x.yes)
			most = math.Max(most, math.Abs(math.Log(p/answered(joined(leak, slips), x.yes))))
		}
		if x.yes { // the other half of the same fact
			most += 100
		}
		return most
	}
	best := map[fact]item{}
	var out []item
	for _, x := range items {
		group := t.k.Evidence[x.n].Group
		switch {
		case t.k.Evidence[x.n].SilentNo && !x.yes:
			continue
		case group == "":
			out = append(out, x)
			continue
		}
		f := fact{group, x.corner}
		if was, ok := best[f]; !ok || says(x) > says(was) {
			best[f] = x
		}
	}
	for _, x := range items {
		group := t.k.Evidence[x.n].Group
		if was, ok := best[fact{group, x.corner}]; ok && was == x {
			out = append(out, x)
		}
	}
	slices.SortStableFunc(out, func(a, b item) int { return a.n - b.n })
	return out
}

func posterior(hyps []hypothesis) []float64 {
	top := math.Inf(-1)
	for _, h := range hyps {
		top = math.Max(top, h.log)
	}
	sum := 0.0
	out := make([]float64, len(hyps))
	for i, h := range hyps {
		out[i] = math.Exp(h.log - top)
		sum += out[i]
	}
	for i := range out {
		out[i] /= sum
	}
	return out
}
