// Package diagnose weighs suspects by signs and tests, says why, and names the
// test to do next.
//
// A hypothesis is one fault, two faults at once, or none. Each answer multiplies
// its odds by how likely that answer is under it (log odds are added), a fault
// more and another cause being joined as independent causes of the same sign.
// Answers of one group speak of one fact: only the one that says most counts.
package diagnose

import (
	"fmt"
	"math"
	"slices"
	"sort"
	"strings"

	"lugtak/core/fault"
)

// Suspect is a possible cause.
type Suspect struct {
	Key        string   `yaml:"key"`
	Name       string   `yaml:"name"`
	System     string   `yaml:"system"`
	Prior      float64  `yaml:"prior"`      // chance on a vehicle that comes with a complaint
	Wears      string   `yaml:"wears"`      // distance, age, salt: what makes it likelier
	Sided      bool     `yaml:"sided"`      // sits at a corner
	Operations []string `yaml:"operations"` // that replace it; the first a vehicle has
	Safety     bool     `yaml:"safety"`     // not to be driven on for long
	Along      []string `yaml:"along"`      // must come along
	While      []string `yaml:"while"`      // may be done while it is open
	SavesMin   float64  `yaml:"saves_min"`
}

// Evidence is a sign that is seen or felt, or a test that is done. Its answer is
// yes or no.
type Evidence struct {
	Key      string             `yaml:"key"`
	Kind     string             `yaml:"kind"`     // sign, test
	Ask      string             `yaml:"ask"`      // the question, as one asks it
	Place    string             `yaml:"place"`    // where on the vehicle
	Position string             `yaml:"position"` // drive, ground, raised, wheels off
	Minutes  float64            `yaml:"minutes"`
	Group    string             `yaml:"group"`
	Leak     float64            `yaml:"leak"`   // chance of a yes where none of the suspects is at fault
	Speaks   map[string]float64 `yaml:"speaks"` // chance of a yes by suspect
	Reason   string             `yaml:"reason"`
	Source   string             `yaml:"source"`
	Side     string             `yaml:"side"`  // left or right: the side a yes points to
	After    string             `yaml:"after"` // asked only once this is answered yes
}

// Knowledge is what the shop knows.
type Knowledge struct {
	Suspects []Suspect
	Evidence []Evidence
}

// History is what is known of the vehicle beforehand. Zero is unknown.
type History struct {
	AgeYears float64
	KM       float64
	Salt     bool
	Renewed  map[string]Renewal // by suspect
}

// Renewal is when a part was last changed.
type Renewal struct {
	Years      float64
	SecondHand bool
}

// Answer is what was seen.
type Answer struct {
	Key string
	Yes bool
}

// Weight is a suspect with its share of suspicion and what speaks for and
// against it.
type Weight struct {
	Suspect
	Chance  float64 // that it is at fault, with others or alone
	Share   float64 // of all suspicion
	Because []string
	Against []string
	Where   string // left or right, where the answers tell
}

// Next is a test worth doing.
type Next struct {
	Evidence
	Bits      float64 // expected gain
	PerMinute float64
	Settles   string // what it would part
}

// Report is what the answers add up to.
type Report struct {
	Suspects []Weight
	Next     []Next
	Healthy  float64  // chance that none of the suspects is at fault
	Open     []string // answers that do not go together, left open and said
}

// Positions in which a vehicle may be asked things, in the order they come.
var Positions = []string{"drive", "ground", "raised", "wheels off"}

// Chances from which a suspect is proposed for work, and taken as found.
const (
	Likely = 0.5
	Sure   = 0.9
)

const (
	leastTest  = 0.5  // minutes: even a question takes a moment
	speaksFrom = 1.6  // odds ratio from which an answer is named for or against
	slip       = 0.02 // one answer in thirty is a slip of eye, ear or tongue
	oddAnswer  = 0.12 // an answer less likely than this under the leading cause is left open
)

func (k *Knowledge) evidence(key string) *Evidence {
	i := slices.IndexFunc(k.Evidence, func(e Evidence) bool { return e.Key == key })
	if i < 0 {
		return nil
	}
	return &k.Evidence[i]
}

// prior is a suspect's chance before any answer: raised by what wears it, lowered
// by a renewal not long ago. What is not known changes nothing.
func (s Suspect) prior(h History) float64 {
	odds := s.Prior / (1 - s.Prior)
	switch s.Wears {
	case "distance":
		if h.KM > 0 {
			odds *= math.Min(2.5, math.Max(0.4, h.KM/120_000))
		}
	case "age":
		if h.AgeYears > 0 {
			odds *= math.Min(2.5, math.Max(0.4, h.AgeYears/8))
		}
	}
	if s.Wears == "salt" && h.Salt {
		odds *= 2
	}
	if r, ok := h.Renewed[s.Key]; ok {
		switch {
		case r.SecondHand:
			odds *= 1.5
		case r.Years < 1:
			odds *= 0.2
		case r.Years < 3:
			odds *= 0.5
		}
	}
	return odds / (1 + odds)
}

// hypothesis is a set of at most two faults.
type hypothesis struct {
	a, b int // indices of suspects, -1 for none
	log  float64
}

// table holds, for each sign and suspect, the chance that the suspect does not
// cause it, so that sets of faults are joined without looking anything up.
type table struct {
	k  *Knowledge
	no [][]float64 // by evidence and suspect; 1 where it says nothing of it
}

func (k *Knowledge) table() table {
	t := table{k, make([][]float64, len(k.Evidence))}
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

// yes is the chance of a yes to sign i under a set of faults: each, and the leak,
// may cause it by itself. A fault that makes the sign rarer than chance rules.
func (t table) yes(i int, h hypothesis) float64 {
	leak := t.k.Evidence[i].Leak
	no := 1 - leak
	for _, s := range [2]int{h.a, h.b} {
		if s < 0 {
			continue
		}
		switch n := t.no[i][s]; {
		case n == 1:
		case n > 1-leak:
			no = n
		default:
			no *= n
		}
	}
	return slip + (1-2*slip)*(1-no)
}

func (k *Knowledge) hypotheses(h History) []hypothesis {
	n := len(k.Suspects)
	out := make([]hypothesis, 0, 1+n+n*(n-1)/2)
	healthy := 0.0
	odds := make([]float64, n)
	for i, s := range k.Suspects {
		p := s.prior(h)
		odds[i] = math.Log(p / (1 - p))
		healthy += math.Log(1 - p)
	}
	out = append(out, hypothesis{-1, -1, healthy})
	for i := range n {
		out = append(out, hypothesis{i, -1, healthy + odds[i]})
		for j := i + 1; j < n; j++ {
			out = append(out, hypothesis{i, j, healthy + odds[i] + odds[j]})
		}
	}
	return out
}

// Weigh reads the answers. It refuses one it does not know and two that
// contradict each other outright; its fault names the key.
func (k *Knowledge) Weigh(answers []Answer, h History) (Report, error) {
	given := map[string]bool{}
	for _, a := range answers {
		if k.evidence(a.Key) == nil {
			return Report{}, fault.New("unknown_sign", a.Key, "No sign or test is named “"+clip(a.Key)+"”.", "List them with lugtak calc diagnose --list.")
		}
		if was, twice := given[a.Key]; twice && was != a.Yes {
			return Report{}, fault.New("two_readings", a.Key, "“"+a.Key+"” is answered yes and no.", "Keep the answer that was looked at last.")
		}
		given[a.Key] = a.Yes
	}
	hyps := k.hypotheses(h)
	t := k.table()
	for _, n := range t.counted(given, hyps) {
		for i := range hyps {
			p := t.yes(n, hyps[i])
			if !given[k.Evidence[n].Key] {
				p = 1 - p
			}
			hyps[i].log += math.Log(p)
		}
	}
	share := posterior(hyps)
	r := Report{Healthy: share[0]}
	chance := make([]float64, len(k.Suspects))
	for i, x := range hyps {
		for _, s := range [2]int{x.a, x.b} {
			if s >= 0 {
				chance[s] += share[i]
			}
		}
	}
	total := 0.0
	for _, c := range chance {
		total += c
	}
	for i, s := range k.Suspects {
		w := Weight{Suspect: s, Chance: chance[i], Share: chance[i] / total, Where: k.side(s, given)}
		w.Because, w.Against = k.words(s, given)
		r.Suspects = append(r.Suspects, w)
	}
	sort.SliceStable(r.Suspects, func(a, b int) bool { return r.Suspects[a].Chance > r.Suspects[b].Chance })
	r.Open = t.open(hyps, share, given)
	r.Next = t.next(hyps, share, chance, given)
	return r, nil
}

func clip(s string) string {
	if r := []rune(strings.ToValidUTF8(s, "?")); len(r) > 40 {
		return string(r[:40]) + "…"
	}
	return s
}

// counted are the answers that count: of each group the one that says most.
func (t table) counted(given map[string]bool, hyps []hypothesis) []int {
	best, spread := map[string]int{}, map[string]float64{}
	var out []int
	for i, e := range t.k.Evidence {
		yes, ok := given[e.Key]
		if !ok {
			continue
		}
		if e.Group == "" {
			out = append(out, i)
			continue
		}
		lo, hi := math.Inf(1), math.Inf(-1)
		for _, h := range hyps {
			p := t.yes(i, h)
			if !yes {
				p = 1 - p
			}
			lo, hi = math.Min(lo, math.Log(p)), math.Max(hi, math.Log(p))
		}
		if _, ok := best[e.Group]; !ok || hi-lo > spread[e.Group] {
			best[e.Group], spread[e.Group] = i, hi-lo
		}
	}
	for _, i := range best {
		out = append(out, i)
	}
	slices.Sort(out) // in the order of the library, so that sums come out the same
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

// words says what speaks for and against a suspect.
func (k *Knowledge) words(s Suspect, given map[string]bool) (because, against []string) {
	for i := range k.Evidence {
		e := &k.Evidence[i]
		yes, ok := given[e.Key]
		if !ok {
			continue
		}
		p, about := e.Speaks[s.Key]
		if !about {
			p = e.Leak
		}
		ratio := p / e.Leak
		if !yes {
			ratio = (1 - p) / (1 - e.Leak)
		}
		switch {
		case ratio >= speaksFrom && yes:
			because = append(because, e.Ask+" Yes: "+e.Reason)
		case about && ratio <= 1/speaksFrom && !yes:
			against = append(against, e.Ask+" No, and it would be expected.")
		case about && ratio <= 1/speaksFrom:
			against = append(against, e.Ask+" Yes: "+e.Reason)
		}
	}
	return because, against
}

// side is where the answers point to, if all that point agree.
func (k *Knowledge) side(s Suspect, given map[string]bool) string {
	side := ""
	for i := range k.Evidence {
		e := &k.Evidence[i]
		if !given[e.Key] || e.Side == "" || !s.Sided || e.Speaks[s.Key] <= e.Leak {
			continue
		}
		if side != "" && side != e.Side {
			return ""
		}
		side = e.Side
	}
	return side
}

// open names answers that even the leading cause makes unlikely.
func (t table) open(hyps []hypothesis, share []float64, given map[string]bool) []string {
	lead := 0
	for i := range share {
		if share[i] > share[lead] {
			lead = i
		}
	}
	var out []string
	k := t.k
	for i := range k.Evidence {
		e := &k.Evidence[i]
		yes, ok := given[e.Key]
		if !ok {
			continue
		}
		p := t.yes(i, hyps[lead])
		answer := "yes"
		if !yes {
			p, answer = 1-p, "no"
		}
		if p < oddAnswer {
			out = append(out, fmt.Sprintf("“%s” was answered %s, which does not go with %s. Look once more, or there is a second cause.", e.Ask, answer, k.name(hyps[lead])))
		}
	}
	return out
}

func (k *Knowledge) name(h hypothesis) string {
	switch {
	case h.a < 0:
		return "a sound vehicle"
	case h.b < 0:
		return "the " + k.Suspects[h.a].Name
	}
	return "the " + k.Suspects[h.a].Name + " and the " + k.Suspects[h.b].Name
}

// next ranks the tests not yet done by expected gain a minute.
func (t table) next(hyps []hypothesis, share, chance []float64, given map[string]bool) []Next {
	k, now := t.k, entropy(share)
	leads := make([]int, len(chance))
	for i := range leads {
		leads[i] = i
	}
	sort.SliceStable(leads, func(a, b int) bool { return chance[leads[a]] > chance[leads[b]] })
	var out []Next
	after, like := make([]float64, len(share)), make([]float64, len(share))
	answered := map[string]bool{}
	for key := range given {
		if e := k.evidence(key); e.Group != "" {
			answered[e.Group] = true
		}
	}
	for i := range k.Evidence {
		e := &k.Evidence[i]
		if _, done := given[e.Key]; done || answered[e.Group] || e.After != "" && !given[e.After] {
			continue
		}
		for j := range hyps {
			like[j] = t.yes(i, hyps[j])
		}
		gain := now
		for _, yes := range []bool{true, false} {
			p := 0.0
			for j := range hyps {
				after[j] = share[j] * like[j]
				if !yes {
					after[j] = share[j] - after[j]
				}
				p += after[j]
			}
			// p·H(after/p), without the division
			gain -= p*math.Log2(p) + entropy(after)
		}
		if gain < 1e-4 {
			continue
		}
		out = append(out, Next{*e, gain, gain / math.Max(e.Minutes, leastTest), k.settles(e, leads)})
	}
	sort.SliceStable(out, func(a, b int) bool { return out[a].PerMinute > out[b].PerMinute })
	return out
}

func entropy(p []float64) float64 {
	h := 0.0
	for _, x := range p {
		if x > 1e-12 {
			h -= x * math.Log2(x)
		}
	}
	return h
}

// settles says which of the leading suspects, by their indices, the test parts.
func (k *Knowledge) settles(e *Evidence, leads []int) string {
	var raise, lower []string
	for _, i := range leads[:min(4, len(leads))] {
		s := k.Suspects[i]
		if p, about := e.Speaks[s.Key]; about && p > e.Leak {
			raise = append(raise, s.Name)
		} else {
			lower = append(lower, s.Name)
		}
	}
	if len(raise) == 0 {
		return "whether it is something else than the " + strings.Join(lower[:min(2, len(lower))], " or the ")
	}
	if len(lower) == 0 {
		return "whether it is the " + strings.Join(raise, " or the ")
	}
	return "the " + strings.Join(raise, " or the ") + " against the " + strings.Join(lower[:min(2, len(lower))], " or the ")
}

// Allowed keeps what can be asked now: position is where the vehicle stands, and
// what needs it further up has to wait. A drive is allowed only on the ground.
func Allowed(next []Next, position string) []Next {
	at := slices.Index(Positions, position)
	if at < 0 {
		return next
	}
	return slices.DeleteFunc(slices.Clone(next), func(n Next) bool {
		p := slices.Index(Positions, n.Position)
		return p > at || p == 0 && at > 1
	})
}
