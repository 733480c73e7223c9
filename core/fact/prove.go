package fact

import (
	"fmt"
	"maps"
	"slices"
)

// Kind is what a breach is of.
type Kind string

// The kinds of breaches.
const (
	OfWant   Kind = "want"   // what a step needs is not so
	OfLaw    Kind = "law"    // a step brings about what must never be
	OfProof  Kind = "proved" // a proved fastener is disturbed
	OfEnding Kind = "end"    // something is left as it must not stay
)

// Breach is why an order of steps is not sound.
type Breach struct {
	Kind  Kind
	Step  string // empty at the end
	Law   string
	Fact  Fact
	Is    Value
	Wants Values
	Says  string // the reason of the want, or the law
}

func (b *Breach) Error() string {
	switch b.Kind {
	case OfLaw:
		return fmt.Sprintf("%s: %s would be %s. %s", b.Step, b.Fact, b.Is, b.Says)
	case OfProof:
		return fmt.Sprintf("%s: %s is proved and would be disturbed.", b.Step, b.Fact)
	case OfEnding:
		return fmt.Sprintf("%s is left %s.", b.Fact, b.Is)
	default:
		return fmt.Sprintf("%s wants %s %s, it is %s: %s", b.Step, b.Fact, b.Wants, b.Is, b.Says)
	}
}

// Prove walks the steps in their order: every want holds when its step comes, every law
// after it, nothing proved is disturbed, and at the end all is as it may stay. It returns
// nil, or the first *Breach.
func (w *World) Prove(steps []Step) error {
	now := make(State, len(w.Rest))
	for i := range steps {
		if b := w.Take(now, &steps[i]); b != nil {
			return b
		}
	}
	if b := w.Left(now); b != nil {
		return b
	}
	return nil
}

// Take carries one step out on a state, or says what it breaks and leaves the state as
// it is.
func (w *World) Take(now State, s *Step) *Breach {
	if b := w.Lacks(now, s); b != nil {
		return b
	}
	if b := w.Breaks(now, s); b != nil {
		return b
	}
	for _, m := range s.Makes {
		now[m.Fact] = m.Value
	}
	return nil
}

// Lacks is the first want of a step that does not hold, or the proved fastener it would
// disturb; nil where it may come.
func (w *World) Lacks(now State, s *Step) *Breach {
	for _, x := range s.Wants {
		if is := w.Is(now, x.Fact); !x.Values.Has(is) {
			return &Breach{Kind: OfWant, Step: s.ID, Fact: x.Fact, Is: is, Wants: x.Values, Says: x.Because}
		}
	}
	for _, m := range s.Makes {
		if m.Value != Proved && w.Is(now, m.Fact) == Proved {
			return &Breach{Kind: OfProof, Step: s.ID, Fact: m.Fact, Is: Proved}
		}
	}
	return nil
}

// Breaks is the first law that would not hold after a step; nil where all would.
func (w *World) Breaks(now State, s *Step) *Breach {
	after := func(f Fact) Value {
		for i := len(s.Makes) - 1; i >= 0; i-- {
			if s.Makes[i].Fact == f {
				return s.Makes[i].Value
			}
		}
		return w.Is(now, f)
	}
	for i := range w.Laws {
		l := &w.Laws[i]
		is := after(l.On)
		turns := slices.ContainsFunc(s.Makes, func(m Make) bool { return m.Fact == l.On })
		if l.Clear && s.At != "" && !turns && l.Values.Has(is) {
			return &Breach{Kind: OfLaw, Step: s.ID, Law: l.ID, Fact: l.On, Is: is, Says: l.Says}
		}
		if !l.Values.Has(is) || is == w.Is(now, l.On) && !l.While {
			continue
		}
		for _, x := range l.Must {
			if is := after(x.Fact); !x.Values.Has(is) {
				return &Breach{Kind: OfLaw, Step: s.ID, Law: l.ID, Fact: x.Fact, Is: is, Wants: x.Values, Says: l.Says}
			}
		}
	}
	return nil
}

// Left is the first fact that is left as it must not stay; nil where all may.
func (w *World) Left(now State) *Breach {
	for _, f := range slices.SortedFunc(maps.Keys(now), Compare) {
		may, said := w.End[f]
		if said && may == nil || now[f] == w.Rest[f] || may.Has(now[f]) {
			continue
		}
		return &Breach{Kind: OfEnding, Fact: f, Is: now[f], Wants: may}
	}
	return nil
}
