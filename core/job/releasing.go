package job

import (
	"cmp"
	"math"
	"slices"
	"strings"
	"time"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/pull"
	"lugtak/core/record"
	"lugtak/core/release"
)

// Try is one try to free what is stuck, as it was recorded.
type Try struct {
	record.ReleaseTried
	By string
	At time.Time
}

// ByLibrary are the odds the library alone gave; those that were shown, in a journal of old.
func (t Try) ByLibrary() float64 { return cmp.Or(t.Plain, t.Odds) }

// Outcomes of a try.
const (
	Freed = "freed"
	Held  = "held"
	Broke = "broke"
)

// TryRelease is the command that records one try to free what a trouble says is stuck.
// Became says what it turned into where something broke.
type TryRelease struct {
	Know    *release.Knowledge `json:"-"`
	Past    release.Past       `json:"-"` // the shop's own
	Trouble string
	Seizure string
	Near    []string
	Keep    []string
	Kept    bool // what of it is kept was said, even if it is nothing
	Rung    string
	Outcome string
	Became  TroubleCode
}

// Seized says that a trouble is one a ladder of tries is for.
func (t Trouble) Seized() bool {
	return slices.Contains(worsens, t.Code)
}

// Case is a seizure of this trouble as it stands, with what was tried in vain.
func (t Trouble) Case(kind string, near, keep []string, past release.Past) release.Case {
	c := release.Case{Kind: kind, Near: near, Keep: keep, Past: past}
	for _, x := range t.Tries {
		if x.Outcome == Held {
			c.Tried = append(c.Tried, x.Rung)
		}
	}
	return c
}

// AsksKept says that a rung would hurt what may be kept, and that nobody was asked of it at a try before.
func (t Trouble) AsksKept(l *release.Ladder, rung *release.Rated) bool {
	spoils := func(r *release.Rated) bool { return r != nil && len(r.Spoils()) > 0 }
	return spoils(rung) && !slices.ContainsFunc(t.Tries, func(x Try) bool { return spoils(l.Find(x.Rung)) })
}

// Met is what the plan knows of a seizure before anybody has looked closer.
func (s *State) Met(t *Trouble) release.Met {
	m := release.Met{Of: release.OfPart, Trouble: string(t.Code)}
	if step := s.Plan.Step(t.Step); step != nil {
		m.Makes = step.MakesFacts()
		places := []string{"", operation.Under}
		if step.Corner != "" {
			places = []string{"", string(step.Corner), step.Corner.Axle()}
		}
		for f, value := range s.Facts {
			if slices.Contains(places, f.Place) {
				m.Facts = append(m.Facts, f.Subject+" "+string(value))
			}
		}
	}
	if j := s.Plan.Joint(t.Joint); j != nil {
		m.Of = release.OfFastener
		m.Treatment = j.Treatment
		m.Drive = j.Drive
		m.System = j.System
	}
	return m
}

func (s *State) decideRelease(_ Meta, b TryRelease) (record.Body, error) {
	t := s.Trouble(b.Trouble)
	if t == nil || !t.Seized() {
		return nil, refuse(fault.Missing, "trouble", "Nothing is stuck there any more.", "Look at the step again.")
	}
	at := t.Case(b.Seizure, b.Near, b.Keep, b.Past)
	ladder, err := b.Know.Climb(at)
	if err != nil {
		return nil, err
	}
	at.Past = nil
	plain, err := b.Know.Climb(at)
	if err != nil {
		return nil, err
	}
	rung := ladder.Find(b.Rung)
	if rung == nil {
		return nil, refuse(fault.Missing, "rung", "It is not said what was tried.", "Choose one of the ladder.")
	}
	if rung.Refused != "" {
		return nil, refuse(fault.BadChoice, "rung", "Not here: "+rung.Refused+".",
			"Try another, or say first that it is not near or need not be kept.")
	}
	if !b.Kept && b.Outcome != Broke && t.AsksKept(&ladder, rung) { // what broke is told whatever was asked
		return nil, refuse(fault.Missing, "kept", "It is not said what of this is kept: "+
			strings.Join(rung.Spoils(), ", ")+".", "Say it first, or that nothing of it is.")
	}
	if err := b.outcome(t); err != nil {
		return nil, err
	}
	e := record.ReleaseTried{
		Trouble: b.Trouble,
		Seizure: ladder.Kind.Name,
		Near:    b.Near,
		Keep:    b.Keep,
		Rung:    rung.Key,
		Name:    rung.Name,
		Odds:    math.Round(1000*rung.Odds) / 1000,
		Plain:   math.Round(1000*plain.Find(b.Rung).Odds) / 1000,
		Outcome: b.Outcome,
		Became:  string(b.Became),
	}
	if b.Outcome == Held {
		e.WaitsMin = rung.Waits
	}
	return e, nil
}

// outcome asks that what came of it is said, and what broke is worse than it was.
func (b TryRelease) outcome(t *Trouble) error {
	switch b.Outcome {
	case Freed, Held:
		if b.Became != "" {
			return refuse(fault.BadChoice, "became", "Nothing broke, and yet it became something.", "Say one of the two.")
		}
		return nil
	case Broke:
		if !worse(t.Code, b.Became) {
			return refuse(fault.BadChoice, "became", "It is not said what broke.", "Say sheared, rounded or stripped.")
		}
		return nil
	}
	return refuse(fault.BadChoice, "outcome", "It is not said what came of it.", "Say free, still stuck, or what broke.")
}

func (s *State) applyReleaseTried(e Event, b record.ReleaseTried) {
	for i := range s.Troubles {
		t := &s.Troubles[i]
		if t.ID != b.Trouble {
			continue
		}
		t.Tries = append(t.Tries[:len(t.Tries):len(t.Tries)], Try{b, e.By, e.At})
		switch b.Outcome {
		case Freed:
			s.applyCleared(e, record.TroubleCleared{Trouble: t.ID, How: "freed by " + b.Name})
			if f := s.Fastener(t.Joint, t.Letter); f != nil { // it turned
				f.unpaid(e.Seq)
			}
		case Held:
			s.soakAt(*t, b, e.At)
		case Broke:
			code := TroubleCode(b.Became)
			s.applyTroubled(e, record.Troubled{
				Step:   string(t.Step),
				Joint:  t.Joint,
				Letter: t.Letter,
				What:   code.Words(),
				Note:   "at the try with " + b.Name,
				Code:   b.Became,
				Worse:  t.ID,
			})
		}
		return
	}
}

// soakAt sets the clock going of what works on by itself.
func (s *State) soakAt(t Trouble, b record.ReleaseTried, at time.Time) {
	if b.WaitsMin == 0 {
		return
	}
	title := b.Name
	if j := s.Plan.Joint(t.Joint); j != nil {
		title += " on " + trimmed(j.One+" "+t.Letter)
	}
	end := at.Add(time.Duration(b.WaitsMin * float64(time.Minute)))
	s.Soaks = append(s.Soaks, Soaking{Step: operation.StepID(t.ID), Title: title, Start: at, End: end})
}

// extracted ends the trouble of the fastener that a step was put in for; out says that what
// broke came out by it.
func (s *State) extracted(e Event, st *plan.Step, out bool) {
	if t := s.troubleOf(st); t != nil {
		s.applyCleared(e, record.TroubleCleared{Trouble: t.ID, How: "by the step “" + st.Title + "”", Out: out})
	}
}

// cameOut is a fastener that broke and is out: a new one goes in its place. One that broke under
// the wrench is renewed where it is tightened; any other counts as out wherever the plan still
// loosens it.
func (s *State) cameOut(e Event, f *Fastener) {
	if f.Phase == InHand {
		f.begin(e.Seq)
		f.Blocks = pull.Renew
		return
	}
	f.Phase = Out
	s.opensAnew(f.Joint)
	f.begin(e.Seq)
	f.GoesInNew = true
	for _, x := range s.Plan.Steps {
		if x.Joint != f.Joint || x.Verb != operation.Crack && x.Verb != operation.Remove {
			continue
		}
		if st := s.Steps[x.ID]; !slices.Contains(st.Letters, f.Letter) {
			s.handled(e, st, f.Joint, f.Letter)
		}
	}
}
