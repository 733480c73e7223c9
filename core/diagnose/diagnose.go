// Package diagnose weighs suspects by signs and tests, says why, and names the
// test to do next.
//
// A hypothesis is one fault, two faults at once, or none. Each answer multiplies
// its odds by how likely that answer is under it, a fault more and another cause being
// joined as independent causes of the same sign. A fault that sits at a corner answers
// at its own corner; where it sits is weighed with it. Answers of one group speak of one
// fact: only the one that says most counts, and a yes before a no. Two that cannot both
// be are said, and neither counts until one is taken back.
package diagnose

import (
	"fmt"
	"math"
	"slices"
	"sort"
	"strings"

	"lugtak/core/fault"
	"lugtak/core/forecast"
	"lugtak/core/vehicle"
)

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
	Side     string             `yaml:"side"`      // left or right: the side a yes points to
	After    string             `yaml:"after"`     // asked only once this is answered yes
	Corner   bool               `yaml:"corner"`    // is looked at corner by corner
	NotWith  []string           `yaml:"not_with"`  // a yes to these and to it cannot both be
	Words    []string           `yaml:"words"`     // of a complaint that may mean it
	Then     []string           `yaml:"then"`      // what is asked first where a complaint means it
	Finds    string             `yaml:"finds"`     // a yes is no hint, it is the fault itself: this suspect's
	SilentNo bool               `yaml:"silent_no"` // a no may be less than that or more, and speaks for nothing
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
	Said     string             // what is complained of, or what a drive that failed has shown
	Renewed  map[string]Renewal // by suspect
	Past     Past
}

// Past is what a shop's drives said of suspects it renewed, against what the library alone said of them, by suspect.
type Past map[string]forecast.Tally

// Renewal is when a part was last changed.
type Renewal struct {
	Years      float64
	SecondHand bool
	Failed     bool // and a drive since has shown that what was complained of is still there
}

// Corner is where on the vehicle; empty is nowhere said.
type Corner = vehicle.Corner

// Corners lists them.
var Corners = []Corner{"FL", "FR", "RL", "RR"}

// Answer is what was seen, and where. A no without a corner is nowhere.
type Answer struct {
	Key    string
	Yes    bool
	Corner Corner
}

// Weight is a suspect with its share of suspicion and what speaks for and
// against it.
type Weight struct {
	Suspect
	Chance   float64 // that it is at fault, with others or alone; no more than was tested
	Share    float64 // of all suspicion
	Because  []Reason
	Against  []Reason
	Where    string    // a corner, or left or right, where the answers tell
	ByCorner []float64 // its chance at each of Corners, together no more than Chance; nil where it has no place
	Tested   int       // tests that were done and speak for it
}

// Reason is an answer that speaks for a suspect, or against it.
type Reason struct {
	Corner Corner
	Ask    string
	Yes    bool
	Says   string // what a yes means; empty for a no
}

// String says the question with its answer.
func (r Reason) String() string {
	at := ""
	if r.Corner != "" {
		at = string(r.Corner) + ": "
	}
	if r.Yes {
		return at + r.Ask + " Yes: " + r.Says
	}
	return at + r.Ask + " No, and it would be expected."
}

// Next is a test worth doing.
type Next struct {
	Evidence
	Bits      float64 // expected gain
	PerMinute float64
	Settles   string // what it would part
	Said      bool   // a sign that the words of the complaint may mean
}

// Report is what the answers add up to.
type Report struct {
	Suspects []Weight
	Next     []Next
	Healthy  float64  // chance that none of the suspects is at fault
	Open     []string // answers that do not go together, left open and said
	Again    []string // keys of answers that cannot both be: to be asked again
	Clashes  []Clash
	Said     string // where the words of the complaint point: a corner, a side or an axle
}

// Clash is two answers that cannot both be; neither counts until one is taken back.
type Clash struct {
	First, Second Answer
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

// Seen is an answer, and whether it was given before the drive that failed since.
type Seen struct {
	Answer
	Before bool
}

// Standing are the answers that still speak. After a drive that failed, told in the words of who
// drove, those are: what was answered since; what the drive showed again; and of the rest all but
// what was found on a part that was renewed in vain, since that was found on the old one.
func (k *Knowledge) Standing(seen []Seen, showed string, h History) []Answer {
	again := k.Complaint(showed)
	var out []Answer
	for _, x := range seen {
		i := slices.IndexFunc(k.Evidence, func(e Evidence) bool { return e.Key == x.Key })
		old := x.Before && x.Yes && !slices.Contains(again, x.Key)
		if i < 0 || old && k.Evidence[i].ofRenewed(h) {
			continue
		}
		out = append(out, x.Answer)
	}
	return out
}

// Replaced lists the suspects that some work replaces; does says whether an operation is of it.
func (k *Knowledge) Replaced(does func(operation string) bool) []string {
	var out []string
	for _, s := range k.Suspects {
		if slices.ContainsFunc(s.Operations, does) {
			out = append(out, s.Key)
		}
	}
	return out
}

// ofRenewed says that a yes speaks for a suspect that was renewed in vain.
func (e Evidence) ofRenewed(h History) bool {
	for key, r := range h.Renewed {
		if chance, named := e.Speaks[key]; r.Failed && named && chance >= speaksFrom*e.Leak {
			return true
		}
	}
	return false
}

// Bounds on what is told of a vehicle.
const (
	mostYears = 120       // since the first of them
	mostKM    = 5_000_000 // more than any odometer was driven
	maxAsked  = 200
)

func (k *Knowledge) known(h History) error {
	switch {
	case !(h.AgeYears >= 0 && h.AgeYears <= mostYears):
		return fault.New(fault.OutOfRange, "age_years", "No vehicle has that age.", "Give it in years.")
	case !(h.KM >= 0 && h.KM <= mostKM):
		return fault.New(fault.OutOfRange, "distance_km", "No vehicle has gone that far.",
			"Give what the odometer shows, in km.")
	}
	for key, r := range h.Renewed {
		known := slices.ContainsFunc(k.Suspects, func(s Suspect) bool { return s.Key == key })
		switch {
		case !known:
			return fault.New(fault.UnknownPart, "renewed", "“"+clip(key)+"” is none of the suspects.",
				"Name the part as the list of suspects does.")
		case !(r.Years >= 0 && r.Years <= mostYears):
			return fault.New(fault.OutOfRange, "renewed", "The "+key+" was not renewed that long ago.",
				"Give it in years.")
		}
	}
	return nil
}

// read sorts the answers. It refuses one it does not know, and one given both ways.
func (k *Knowledge) read(answers []Answer) ([]item, error) {
	if len(answers) > maxAsked {
		return nil, fault.New(fault.TooLong, "tests", "That is more than anybody asked.", "Send each sign and test once.")
	}
	type place struct {
		key    string
		corner Corner
	}
	given := map[place]bool{}
	var out []item
	for _, a := range answers {
		i := slices.IndexFunc(k.Evidence, func(e Evidence) bool { return e.Key == a.Key })
		if i < 0 {
			return nil, fault.New(fault.UnknownSign, a.Key, "No sign or test is named “"+clip(a.Key)+"”.",
				"List them with lugtak calc diagnose --list.")
		}
		if a.Corner != "" && !slices.Contains(Corners, a.Corner) {
			return nil, fault.New(fault.BadChoice, a.Key, "“"+clip(string(a.Corner))+"” is no corner.",
				"Known are FL, FR, RL, RR; leave it out where it was not looked at corner by corner.")
		}
		at := place{a.Key, a.Corner}
		was, twice := given[at]
		switch {
		case twice && was != a.Yes:
			return nil, fault.New(fault.TwoReadings, a.Key, "“"+a.Key+"” is answered yes and no.",
				"Keep the answer that was looked at last.")
		case twice:
			continue
		}
		given[at] = a.Yes
		out = append(out, item{n: i, yes: a.Yes, corner: a.Corner})
	}
	slices.SortStableFunc(out, func(a, b item) int { return a.n - b.n })
	return out, nil
}

// Weigh reads the answers. Its fault names the key, or what is wrong with the history.
func (k *Knowledge) Weigh(answers []Answer, h History) (Report, error) {
	if err := k.known(h); err != nil {
		return Report{}, err
	}
	items, err := k.read(answers)
	if err != nil {
		return Report{}, err
	}
	t := k.table()
	items, r := t.contradictions(items)
	r.Said = Place(h.Said)
	t.said = said(r.Said)
	hyps := k.hypotheses(h)
	counted := t.counted(items)
	places := make([]corners, len(k.Suspects))
	t.join(hyps, counted)
	share := posterior(hyps)
	r.Healthy = share[0]
	chance := make([]float64, len(k.Suspects))
	for i, x := range hyps {
		for n, s := range x.faults() {
			chance[s] += share[i]
			places[s].add(x.where[n], share[i])
		}
		if x.a >= 0 && x.a == x.b { // one fault, at two corners
			chance[x.a] -= share[i]
		}
	}
	total := 0.0
	for _, c := range chance {
		total += c
	}
	for i, s := range k.Suspects {
		w := Weight{Suspect: s, Chance: chance[i], Share: chance[i] / total, Where: places[i].says(s)}
		if s.Sided {
			w.ByCorner = places[i].each()
		}
		w.Because, w.Against = k.words(s, items)
		w.Tested = k.tested(s, items)
		r.Suspects = append(r.Suspects, w)
	}
	sort.SliceStable(r.Suspects, func(a, b int) bool { return r.Suspects[a].Chance > r.Suspects[b].Chance })
	for i := range r.Suspects {
		w := &r.Suspects[i]
		most := math.Min(w.Chance, mostChance(w.Tested))
		for c := range w.ByCorner {
			w.ByCorner[c] *= most
		}
		w.Chance = most
	}
	r.Open = append(r.Open, t.open(hyps, share, items)...)
	r.Next = k.first(t.next(hyps, share, chance, items, r.Again), h.Said, r.Again)
	return r, nil
}

// Ahead weighs once more with a yes and with a no to a test, to show where each would move the
// suspects of a report. An answer it has already, because it is asked again, is left out. A yes to a test that is done
// corner by corner is taken to be found where the leading suspect is suspected.
func (k *Knowledge) Ahead(r Report, key string, answers []Answer, h History) (yes, no Report, err error) {
	a := Answer{Key: key, Yes: true}
	i := slices.IndexFunc(k.Evidence, func(e Evidence) bool { return e.Key == key })
	if i >= 0 && k.Evidence[i].Corner {
		a.Corner = Corners[0]
		if where := Corner(r.Suspects[0].Where); slices.Contains(Corners, where) {
			a.Corner = where
		}
	}
	rest := slices.DeleteFunc(slices.Clone(answers), func(was Answer) bool { return was.Key == key })
	if yes, err = k.Weigh(append(slices.Clip(rest), a), h); err != nil {
		return yes, no, err
	}
	no, err = k.Weigh(append(slices.Clip(rest), Answer{Key: key}), h)
	return yes, no, err
}

// Chance is that of a suspect; 0 where the report has none of that key.
func (r *Report) Chance(suspect string) float64 {
	for _, w := range r.Suspects {
		if w.Key == suspect {
			return w.Chance
		}
	}
	return 0
}

// mostChance is how sure anybody may be of a suspect by what was tested: what a driver
// tells is no test (common practice).
func mostChance(tests int) float64 {
	switch tests {
	case 0:
		return 0.80
	case 1:
		return 0.95
	}
	return 0.99
}

// telling is the chance of a yes from which a test is one for a suspect.
const telling = 0.4

// tested counts the tests that were done and speak for a suspect.
func (k *Knowledge) tested(s Suspect, items []item) int {
	n := 0
	for _, x := range items {
		e := &k.Evidence[x.n]
		if x.yes && e.Kind == "test" && e.Speaks[s.Key] >= telling {
			n++
		}
	}
	return n
}

func clip(s string) string {
	if r := []rune(strings.ToValidUTF8(s, "?")); len(r) > 40 {
		return string(r[:40]) + "…"
	}
	return s
}

// words says what speaks for and against a suspect.
func (k *Knowledge) words(s Suspect, items []item) (because, against []Reason) {
	for _, x := range items {
		e := &k.Evidence[x.n]
		yes := x.yes
		said := Reason{Corner: x.corner, Ask: e.Ask, Yes: yes}
		if yes {
			said.Says = e.Reason
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
			because = append(because, said)
		case about && ratio <= 1/speaksFrom:
			against = append(against, said)
		}
	}
	return because, against
}

// open names answers that even the leading cause makes unlikely; a sound vehicle leads over all causes together.
func (t table) open(hyps []hypothesis, share []float64, items []item) []string {
	lead := 0
	for i := 1; i < len(share) && share[0] < 0.5; i++ {
		if lead == 0 || share[i] > share[lead] {
			lead = i
		}
	}
	var out []string
	k := t.k
	for _, x := range items {
		e := &k.Evidence[x.n]
		p := t.anywhere(x.n, hyps[lead])
		answer := "yes"
		if !x.yes {
			p, answer = 1-p, "no"
		}
		if p < oddAnswer {
			out = append(
				out,
				fmt.Sprintf(
					"“%s” was answered %s, which does not go with %s. Look once more, or there is a second cause.",
					e.Ask, answer, k.name(hyps[lead])),
			)
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

// next ranks the tests not yet done by expected gain a minute; those that contradicted
// one another come first.
func (t table) next(hyps []hypothesis, share, chance []float64, items []item, again []string) []Next {
	k, now := t.k, entropy(share)
	leads := make([]int, len(chance))
	for i := range leads {
		leads[i] = i
	}
	sort.SliceStable(leads, func(a, b int) bool { return chance[leads[a]] > chance[leads[b]] })
	done, yes, groups := map[string]bool{}, map[string]bool{}, map[string]bool{}
	for _, x := range items {
		e := &k.Evidence[x.n]
		done[e.Key] = true
		yes[e.Key] = yes[e.Key] || x.yes
		groups[e.Group] = groups[e.Group] || x.yes && e.Group != ""
	}
	var out []Next
	after, like := make([]float64, len(share)), make([]float64, len(share))
	for i := range k.Evidence {
		e := &k.Evidence[i]
		asked := slices.Contains(again, e.Key)
		if done[e.Key] || groups[e.Group] || !asked && e.After != "" && !yes[e.After] {
			continue
		}
		for j := range hyps {
			like[j] = t.anywhere(i, hyps[j])
		}
		gain := now
		for _, says := range []bool{true, false} {
			if !says && e.SilentNo {
				gain -= (1 - yesOf(share, like)) * now
				continue
			}
			p := 0.0
			for j := range hyps {
				after[j] = share[j] * like[j]
				if !says {
					after[j] = share[j] - after[j]
				}
				p += after[j]
			}
			// p·H(after/p), without the division
			gain -= p*math.Log2(p) + entropy(after)
		}
		if gain < leastGain && !asked {
			continue
		}
		n := Next{
			Evidence: *e, Bits: gain, PerMinute: gain / math.Max(e.Minutes, leastTest), Settles: k.settles(e, leads),
		}
		if asked {
			n.Settles = "an answer that does not go with another: look once more"
		}
		out = append(out, n)
	}
	sort.SliceStable(out, func(a, b int) bool {
		first, second := slices.Contains(again, out[a].Key), slices.Contains(again, out[b].Key)
		if first != second {
			return first
		}
		return out[a].PerMinute > out[b].PerMinute
	})
	return out
}

// yesOf is the chance of a yes over all hypotheses.
func yesOf(share, like []float64) (p float64) {
	for j := range share {
		p += share[j] * like[j]
	}
	return p
}

// leastGain is the expected gain below which a test tells nothing of these suspects,
// bits.
const leastGain = 1e-4

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
	return "the " + strings.Join(raise, " or the ") + " against the " + strings.Join(lower[:min(2, len(lower))],
		" or the ")
}

// Allowed keeps what can be asked now: position is where the vehicle stands, and what needs it further up has to
// wait. A drive is allowed only on the ground; who said it may be asked anywhere.
func Allowed(next []Next, position string) []Next {
	at := slices.Index(Positions, position)
	if at < 0 {
		return next
	}
	return slices.DeleteFunc(slices.Clone(next), func(n Next) bool {
		p := slices.Index(Positions, n.Position)
		return !n.Said && (p > at || p == 0 && at > 1)
	})
}

// Weighed is what a walk-round has come to: what was answered, what is known of the vehicle and of its parts, and
// the suspects those make.
type Weighed struct {
	Know    Knowledge
	Answers []Answer
	History History
	Report  Report
}
