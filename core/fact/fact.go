// Package fact holds what is true of a vehicle while it is worked on, what must never
// be, and the proof that an order of steps keeps to it. The proof knows nothing of how
// an order was found.
package fact

import (
	"cmp"
	"slices"
	"strings"

	"lugtak/core/fault"
)

// Fact is one thing that can be so or otherwise, at a place: caliper at FL. The pedal,
// the vehicle's position have no place.
type Fact struct{ Subject, Place string }

// Fastener is the subject of a joint's own fact; its place is the joint's id.
const Fastener = "fastener"

// OfJoint is the fact of a joint's fasteners.
func OfJoint(id string) Fact { return Fact{Fastener, id} }

// String writes a fact as caliper.FL, or pedal.
func (f Fact) String() string {
	if f.Place == "" {
		return f.Subject
	}
	return f.Subject + "." + f.Place
}

// Parse reads a fact as String writes it.
func Parse(text string) (Fact, error) {
	subject, place, at := strings.Cut(text, ".")
	if subject == "" || at && place == "" {
		return Fact{}, fault.New(fault.BadFact, "fact", "“"+text+"” is no fact.", "Write subject.place, as caliper.FL.")
	}
	return Fact{subject, place}, nil
}

// Compare orders facts by subject, then place.
func Compare(a, b Fact) int {
	return cmp.Or(cmp.Compare(a.Subject, b.Subject), cmp.Compare(a.Place, b.Place))
}

// Value is how a fact stands: mounted, hung.
type Value string

// How the fasteners of a joint stand. A stage of a recipe that is not its last is
// Stage(n).
const (
	Tight   Value = "tight" // as found
	Cracked Value = "cracked"
	Out     Value = "out"
	ByHand  Value = "by hand"
	Snug    Value = "snug"
	Proved  Value = "proved"
)

const stagePrefix = "stage "

// Stage is what fasteners reach at stage n of their recipe, from 1 to 9.
func Stage(n int) Value { return stagePrefix + Value('0'+rune(n)) }

// Fast says that a fastener so carries what it joins: at least snug.
func (v Value) Fast() bool {
	return v == Tight || v == Snug || v == Proved || strings.HasPrefix(string(v), stagePrefix)
}

// Values are those that would do. Among them the words fast (at least snug) and on (not
// out) stand for several of a fastener's.
type Values []Value

// The words for several values of a fastener.
const (
	AnyFast Value = "fast"
	AnyOn   Value = "on its thread"
)

// ParseValues reads values parted by a bar: "pushed back | tied aside".
func ParseValues(text string) Values {
	var out Values
	for v := range strings.SplitSeq(text, "|") {
		out = append(out, Value(strings.TrimSpace(v)))
	}
	return out
}

// Has says that a value is among those that would do.
func (vs Values) Has(v Value) bool {
	return slices.ContainsFunc(vs, func(x Value) bool {
		return x == v || x == AnyFast && v.Fast() || x == AnyOn && v != Out
	})
}

// String writes the values as people say them.
func (vs Values) String() string {
	texts := make([]string, len(vs))
	for i, v := range vs {
		texts[i] = string(v)
	}
	return strings.Join(texts, " or ")
}

// Want is what a step needs to be true when it comes, and why.
type Want struct {
	Fact    Fact
	Values  Values
	Because string
}

// Make is what a step leaves true.
type Make struct {
	Fact  Fact
	Value Value
}

// Step is one act as the proof sees it.
type Step struct {
	ID    string
	Wants []Want
	Makes []Make
	At    string // the corner hands are at; empty elsewhere
}

// Law is what must be so whenever something else comes true: when it comes to stand on
// its wheels, the pedal is firm.
type Law struct {
	ID, Says string
	On       Fact
	Values   Values
	Must     []Want
	While    bool // it is asked for as long as On is so, not only when it comes to be
	Clear    bool // for as long as On is so nobody has hands at a corner
}

// Undone says that what a step makes goes against what a law asks.
func (l *Law) Undone(makes []Make) bool {
	return slices.ContainsFunc(l.Must, func(w Want) bool {
		return slices.ContainsFunc(makes, func(m Make) bool { return m.Fact == w.Fact && !w.Values.Has(m.Value) })
	})
}

// Tended is a fact that may not stay so for long, or not alone: an open bleeder.
type Tended struct {
	Fact     Fact
	Values   Values
	Minutes  float64 // at most; 0 is any
	Attended bool    // somebody stays by it
	Over     string  // what is done where it stays so for longer all the same
}

// World is what a proof begins from and ends with.
type World struct {
	Rest   map[Fact]Value  // facts that are not in it are at rest whatever they are
	End    map[Fact]Values // that would do at the end; none is the rest, nil is anything
	Laws   []Law
	Tended []Tended
}

// State is how facts stand that are no longer at rest.
type State map[Fact]Value

// Is how a fact stands.
func (w *World) Is(now State, f Fact) Value {
	if v, ok := now[f]; ok {
		return v
	}
	return w.Rest[f]
}

// Spelled lists the values with the words that stand for several written out.
func (vs Values) Spelled() Values {
	var out Values
	for _, v := range vs {
		switch v {
		case AnyFast:
			out = append(out, fastValues()...)
		case AnyOn:
			out = append(append(out, Cracked, ByHand), fastValues()...)
		default:
			out = append(out, v)
		}
	}
	return out
}

// fastValues are all that are at least snug.
func fastValues() Values {
	out := Values{Tight, Snug}
	for n := 1; n <= maxStages; n++ {
		out = append(out, Stage(n))
	}
	return append(out, Proved)
}

// maxStages is more than any recipe has before its last.
const maxStages = 9
