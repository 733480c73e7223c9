// Package release orders what may free a seized fastener or part: a ladder of rungs,
// each with its odds, minutes and harm, as things stand at this very place.
//
// How hard something sits is not seen; it shows in what was tried in vain. So each kind
// of seizure has four grades of hold with a share of cases each, every rung its chance
// at each grade, and every try that failed shifts the shares (Bayes). What a shop has
// tried before moves a rung's odds toward its own past. Times are minutes, chances 0 to
// 1, torques N·m.
package release

import (
	"slices"
	"strings"

	"lugtak/core/fault"
	"lugtak/core/forecast"
)

// Grades is how many grades of hold there are: light, firm, hard, grown together.
const Grades = 4

// ByGrade is a chance or share at each grade of hold.
type ByGrade [Grades]float64

// Knowledge is what a shop's library says of seizures.
type Knowledge struct {
	Things []Thing `yaml:"things"`
	Rungs  []Rung  `yaml:"rungs"`
	Kinds  []Kind  `yaml:"kinds"`

	Usual []Usual `yaml:"usual"`

	Stop []string `yaml:"stop"` // rules for when to stop, whatever is tried
}

// Thing is what may be near, or is to be kept: its name and how else people call it.
type Thing struct {
	Name string   `yaml:"name"`
	Also []string `yaml:"also"`
}

// Rung is one thing to try.
type Rung struct {
	Key     string   `yaml:"key"`
	Name    string   `yaml:"name"`
	Also    []string `yaml:"also"` // what else people call it
	Do      string   `yaml:"do"`
	Tool    string   `yaml:"tool"`
	Minutes float64  `yaml:"minutes"` // of somebody's hands
	Waits   float64  `yaml:"waits"`   // minutes it then works by itself
	Eases   float64  `yaml:"eases"`   // share by which what comes after meets a lighter hold
	Leaves  string   `yaml:"leaves"`  // the thing that is near once it was tried
	Caution string   `yaml:"caution"`
	Wary    []Wary   `yaml:"wary"`
	Never   []Never  `yaml:"never"`
}

// Spoils lists what may be kept and the rung would hurt, by heat, a blow or a cut.
func (r *Rung) Spoils() []string {
	var out []string
	for _, n := range r.Never {
		out = append(out, n.Keep)
	}
	for _, w := range r.Wary {
		out = append(out, w.Keep)
	}
	slices.Sort(out)
	return slices.DeleteFunc(slices.Compact(out), func(s string) bool { return s == "" })
}

// Wary is what makes a rung riskier: Harm is added to its chance of breaking something.
type Wary struct {
	Near    string  `yaml:"near"`
	Keep    string  `yaml:"keep"`
	Harm    float64 `yaml:"harm"`
	Because string  `yaml:"because"`
}

// Never is what refuses a rung: something near it, or something to be kept.
type Never struct {
	Near    string `yaml:"near"`
	Keep    string `yaml:"keep"`
	Because string `yaml:"because"`
}

// Kind is one kind of seizure.
type Kind struct {
	Name     string   `yaml:"name"`
	Also     []string `yaml:"also"`
	Sees     string   `yaml:"sees"` // how one tells it
	Held     ByGrade  `yaml:"held"` // share of cases at each grade
	BreakMin float64  `yaml:"break_min"`
	GiveUp   float64  `yaml:"give_up_min"` // what giving the part up costs beside its own minutes
	Breaks   string   `yaml:"breaks"`      // what breaks where a try goes wrong
	Near     []string `yaml:"near"`        // always so with this kind
	Of       Of       `yaml:"of"`

	Makes      []string `yaml:"makes"`      // facts a step brings about that meets it
	Treatments []string `yaml:"treatments"` // of the thread that speak for it
	Troubles   []string `yaml:"troubles"`   // codes that speak for it
	Drives     []string `yaml:"drives"`     // of the head that speak for it
	Rungs      []Try    `yaml:"rungs"`      // gentlest first
}

// Try is what a rung does to a kind of seizure.
type Try struct {
	Rung  string  `yaml:"rung"`
	Frees ByGrade `yaml:"frees"`
	Harms ByGrade `yaml:"harms"` // it breaks what is kept, or the fastener
	Do    string  `yaml:"do"`    // in place of the rung's own words

	GivesUp bool `yaml:"gives_up"` // what was to be kept is lost by it: the last resort
}

// Case is a seizure as it stands: what it is, what is round it, what was tried.
type Case struct {
	Kind    string
	Near    []string
	Keep    []string
	Tried   []string // names of rungs, once for each try that did not free it
	Minutes float64  // there are for it; 0 where nobody said
	Past    Past
}

// Past is what the shop's own tries came to, against what the library alone said of them, by kind and rung.
type Past map[Tries]forecast.Tally

// Tries names one rung at one kind of seizure.
type Tries struct{ Kind, Rung string }

// Rated is one rung of the ladder as things stand.
type Rated struct {
	Rung
	Odds    float64  // that the next try frees it
	Risk    float64  // that the next try breaks something
	Then    Chance   // the same at its turn, those before it having failed
	Mind    []string // what makes it riskier here
	Refused string   // why it is not to be tried here
	Times   int      // it was tried
	GivesUp bool     // the last resort
}

// Chance is what a try may come to.
type Chance struct{ Odds, Risk float64 }

// Ladder is what to try, in order; what is refused stands last, each with its reason.
type Ladder struct {
	Kind     Kind
	Rungs    []Rated
	Expected float64 // minutes to freedom, what breaks on the way counted
}

// Find finds a rung of the ladder by its key; nil where it has none.
func (l *Ladder) Find(key string) *Rated {
	for i := range l.Rungs {
		if l.Rungs[i].Key == key {
			return &l.Rungs[i]
		}
	}
	return nil
}

// Refuses says that some rung of the ladder minds a thing near it.
func (l *Ladder) Refuses(thing string) bool {
	return l.minds(func(near, _ string) bool { return near == thing })
}

// Spoils says that some rung of the ladder would hurt a thing that is kept.
func (l *Ladder) Spoils(thing string) bool {
	return l.minds(func(_, keep string) bool { return keep == thing })
}

func (l *Ladder) minds(is func(near, keep string) bool) bool {
	for _, r := range l.Rungs {
		for _, n := range r.Never {
			if is(n.Near, n.Keep) {
				return true
			}
		}
		for _, w := range r.Wary {
			if is(w.Near, w.Keep) {
				return true
			}
		}
	}
	return false
}

// again is what is left of a rung's chance once it was tried in vain, and its fourth power
// after two: most of what a blow can do, the first one does, and what did not help twice
// does not help a third time (common practice, the number from memory).
const again = 0.4

// Climb gives the ladder for a case. It refuses words the library does not know, with
// what it knows: something near that is not understood is not passed over.
func (k *Knowledge) Climb(c Case) (Ladder, error) {
	kind, err := k.Kind(c.Kind)
	if err != nil {
		return Ladder{}, err
	}
	near, err := k.things("near", append(slices.Clone(kind.Near), c.Near...))
	if err != nil {
		return Ladder{}, err
	}
	keep, err := k.things("keep", c.Keep)
	if err != nil {
		return Ladder{}, err
	}
	l := ladder{kind: kind, held: kind.Held}
	for _, t := range kind.Rungs {
		r, _ := k.Rung(t.Rung)
		if t.Do != "" {
			r.Do = t.Do
		}
		harm, mind := r.wary(near, keep)
		l.rungs = append(l.rungs, &rung{
			Rung: r,
			try:  t,
			harm: harm,
			mind: mind,
		})
	}
	l.tried = make([]int, len(l.rungs))
	for at, r := range l.rungs {
		l.shift(at, c.Past[Tries{kind.Name, r.Key}].Shift())
	}
	for _, name := range c.Tried {
		r, ok := k.Rung(name)
		if !ok {
			return Ladder{}, unknown(fault.BadRung, "tried", name, k.RungNames())
		}
		if at := l.find(r.Key); at >= 0 { // another kind's rung says nothing of this hold
			l.failed(at)
		}
	}
	return l.climb(near, keep, c.Minutes), nil
}

// Kind finds a kind of seizure by its name or another one people use.
func (k *Knowledge) Kind(name string) (Kind, error) {
	for _, x := range k.Kinds {
		if called(name, x.Name, x.Also) {
			return x, nil
		}
	}
	return Kind{}, unknown(fault.BadKind, "kind", name, names(k.Kinds, func(x Kind) string { return x.Name }))
}

// Slug is the kind's name as it stands in the name of a picture.
func (x Kind) Slug() string { return strings.ReplaceAll(plain(x.Name), " ", "-") }

// RungNames lists the rungs, gentlest first.
func (k *Knowledge) RungNames() []string {
	return names(k.Rungs, func(r Rung) string { return r.Name })
}

// ThingNames lists what may be near or kept.
func (k *Knowledge) ThingNames() []string {
	return names(k.Things, func(t Thing) string { return t.Name })
}

// Rung finds a rung by its key, its name or another one people use.
func (k *Knowledge) Rung(name string) (Rung, bool) {
	for _, r := range k.Rungs {
		if r.Key == name || called(name, r.Name, r.Also) {
			return r, true
		}
	}
	return Rung{}, false
}

// things reads what is near or kept. A word of several is its last known one: "the ball
// joint's boot" is a boot; else any that stands in it.
func (k *Knowledge) things(field string, words []string) (map[string]bool, error) {
	out := map[string]bool{}
	for _, w := range words {
		found := k.alike(w, strings.HasSuffix)
		if found == nil {
			found = k.alike(w, strings.Contains)
		}
		if found == nil {
			return nil, unknown(fault.BadThing, field, w, k.ThingNames())
		}
		for _, name := range found {
			out[name] = true
		}
	}
	return out, nil
}

// alike lists the things whose name, or another of theirs, stands in a word so.
func (k *Knowledge) alike(word string, stands func(whole, part string) bool) []string {
	var out []string
	whole := " " + plain(word) + " "
	for _, t := range k.Things {
		for _, name := range append([]string{t.Name}, t.Also...) {
			if stands(whole, " "+plain(name)+" ") {
				out = append(out, t.Name)
				break
			}
		}
	}
	return out
}

func unknown(code fault.Code, field, word string, known []string) error {
	if len(word) > 40 {
		word = word[:40] + "…"
	}
	return fault.New(code, field, "“"+strings.ToValidUTF8(word, "?")+"” is not known here.",
		"Known are "+strings.Join(known, ", ")+".")
}

func names[T any](list []T, name func(T) string) []string {
	var out []string
	for _, x := range list {
		out = append(out, name(x))
	}
	return out
}

// called says that a word is a name, however its hyphens, commas and capitals stand.
func called(word, name string, also []string) bool {
	w := plain(word)
	for _, n := range append([]string{name}, also...) {
		if plain(n) == w {
			return true
		}
	}
	return false
}

var hyphens = strings.NewReplacer("-", " ", "_", " ", ",", " ", "(", " ", ")", " ")

func plain(s string) string {
	return strings.Join(strings.Fields(strings.ToLower(hyphens.Replace(s))), " ")
}
