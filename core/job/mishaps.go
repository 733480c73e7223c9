package job

import (
	"slices"
	"time"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/record"
)

// Mishaps are what went wrong.
type Mishaps struct {
	Troubles []Trouble
}

// TroubleCode is what went wrong, for the rules.
type TroubleCode string

// What can go wrong.
const (
	Stuck         TroubleCode = "stuck"
	Rounded       TroubleCode = "rounded"
	Sheared       TroubleCode = "sheared"
	ThreadDamaged TroubleCode = "thread_damaged"
	WrongPart     TroubleCode = "wrong_part"
	PartMissing   TroubleCode = "part_missing"
	RingLeft      TroubleCode = "ring_left"
	JointApart    TroubleCode = "joint_apart"
	PistonOut     TroubleCode = "piston_out"
	OtherTrouble  TroubleCode = "other"
	WholeJob      TroubleCode = "job" // nothing goes on until it is cleared
)

// TroubleCodes lists them as a page offers them.
func TroubleCodes() []TroubleCode {
	return []TroubleCode{
		Stuck, Rounded, Sheared, ThreadDamaged, WrongPart, PartMissing, RingLeft, JointApart, PistonOut, OtherTrouble,
		WholeJob,
	}
}

// TroublesAt lists what can go wrong at a step: a head or a thread only where it has a fastener, what stays behind or
// comes apart only where the library says so.
func TroublesAt(rescues []operation.Rescue, st *plan.Step) []TroubleCode {
	made := st.MakesFacts()
	return slices.DeleteFunc(TroubleCodes(), func(c TroubleCode) bool {
		ofFastener := c == Rounded || c == Sheared || c == ThreadDamaged
		return ofFastener && st.Joint == "" || c.inside() && !slices.ContainsFunc(rescues, func(r operation.Rescue) bool {
			happens := slices.ContainsFunc(r.Makes, func(f string) bool { return slices.Contains(made, f) })
			return TroubleCode(r.Trouble) == c && happens
		})
	})
}

var troubleWords = map[TroubleCode]string{
	Stuck:         "stuck",
	Rounded:       "rounded",
	Sheared:       "sheared",
	ThreadDamaged: "thread damaged",
	WrongPart:     "wrong part",
	PartMissing:   "part missing",
	RingLeft:      "a ring stayed in",
	JointApart:    "joint pulled apart",
	PistonOut:     "piston came out",
	OtherTrouble:  "something else",
	WholeJob:      "the whole job stops",
}

// Words says a trouble in the words of the bay.
func (c TroubleCode) Words() string { return troubleWords[c] }

// Trouble is what went wrong at a step or fastener.
type Trouble struct {
	ID     string
	Step   operation.StepID
	Joint  string
	Letter string
	Code   TroubleCode
	What   string
	Note   string
	By     string
	At     time.Time

	Cleared *record.TroubleCleared
	Became  string   // id of the worse one it grew into
	Tries   []Try    // to free it
	Said    []string // before the way out was taken that asks for it
}

// inside says that something stayed behind or came apart, which no fastener is stuck by.
func (c TroubleCode) inside() bool { return c == RingLeft || c == JointApart || c == PistonOut }

// frees names what a step is put in for to end the trouble: its fastener, or the step it stops.
func (t Trouble) frees() string {
	if t.Joint == "" {
		return string(t.Step)
	}
	return FastenerID{t.Joint, t.Letter}.String()
}

// Heals says that the plan takes a way out of it in: what broke, stayed behind or came apart, and a thread that is
// spoilt where something goes in.
func (s *State) Heals(t Trouble) bool {
	st := s.Plan.Step(t.Step)
	goesIn := st != nil && (st.Verb == operation.Start || st.Verb == operation.Tighten)
	return t.Code == Sheared || t.Code.inside() || t.Code == ThreadDamaged && goesIn
}

// Stops says that nothing of the job goes on while it is open.
func (t Trouble) Stops() bool { return t.Code == WholeJob }

// The commands about what went wrong.
type (
	// ReportTrouble stops a step or a fastener.
	ReportTrouble struct {
		Step   operation.StepID
		Letter string
		Code   TroubleCode
		Note   string
	}
	// ClearTrouble ends a trouble.
	ClearTrouble struct {
		Trouble string
		How     string
		Renewed bool
	}
)

func (m Mishaps) clone() Mishaps {
	m.Troubles = slices.Clone(m.Troubles)
	return m
}

// OpenTroubles lists troubles neither cleared nor grown into a worse one.
func (m *Mishaps) OpenTroubles() []Trouble {
	closed := func(t Trouble) bool { return t.Cleared != nil || t.Became != "" }
	return slices.DeleteFunc(slices.Clone(m.Troubles), closed)
}

// Trouble finds an open trouble by the id of its event; nil where there is none.
func (m *Mishaps) Trouble(id string) *Trouble {
	for _, t := range m.OpenTroubles() {
		if t.ID == id {
			return &t
		}
	}
	return nil
}

// WhatIsStuck names the fastener, or the step where a part sits fast.
func (s *State) WhatIsStuck(t *Trouble) string {
	step := s.Plan.Step(t.Step)
	j := s.Plan.Joint(t.Joint)
	if j == nil && step != nil {
		return step.Title
	}
	if j == nil {
		return t.What
	}
	name := j.One
	if len(j.Letters) > 1 {
		name += " " + t.Letter
	}
	if j.Corner == "" {
		return name
	}
	return name + ", " + j.Corner.Axle() + " " + j.Corner.Side()
}

func (s *State) decideTrouble(m Meta, b ReportTrouble) (record.Body, error) {
	st, err := s.openStep(m, b.Step)
	if err != nil {
		return nil, err
	}
	b.Note = trimmed(b.Note)
	switch {
	case b.Code.Words() == "":
		return nil, refuse(fault.Missing, "what", "It is not said what went wrong.", "Choose one of the list.")
	case len(b.Note) > maxText:
		return nil, refuse(fault.TooLong, "note", "That note is too long.", "Keep it under 1000 characters.")
	case b.Code == OtherTrouble && b.Note == "":
		return nil, refuse(fault.Missing, "note", "Something else went wrong, and it is not said what.",
			"Write it in a few words.")
	case b.Code == WholeJob && b.Note == "":
		return nil, refuse(fault.Missing, "note", "The whole job stops, and it is not said why.",
			"Write it in a few words: who comes next must know.")
	}
	e := record.Troubled{Step: string(b.Step), What: b.Code.Words(), Note: b.Note, Code: string(b.Code)}
	if b.Letter == "" || b.Code == WholeJob || b.Code.inside() {
		return e, nil
	}
	e.Joint = st.Joint
	e.Letter = b.Letter
	f, err := s.touch(m, FastenerID{st.Joint, b.Letter})
	if err != nil {
		return nil, err
	}
	if was := s.Trouble(f.Trouble); was != nil {
		if !worse(was.Code, b.Code) {
			return nil, refuse(fault.Trouble, "fastener", "There is trouble at this one already: "+was.What+".",
				"Clear that first, or say what it has become.")
		}
		e.Worse = was.ID
	}
	return e, nil
}

// worsens is what a trouble with a fastener may turn into. What is stuck may round, strip
// or shear under the next try; the other way round it is cleared, not changed.
var worsens = []TroubleCode{Stuck, Rounded, ThreadDamaged, Sheared}

func worse(was, now TroubleCode) bool {
	from, to := slices.Index(worsens, was), slices.Index(worsens, now)
	return from >= 0 && to > from
}

// MayBecome says that a trouble may be said worse.
func (t Trouble) MayBecome(code TroubleCode) bool { return worse(t.Code, code) }

func (s *State) applyTroubled(e Event, b record.Troubled) {
	s.grown(b.Worse, string(e.ID))
	s.Troubles = append(s.Troubles, Trouble{
		ID:     string(e.ID),
		Step:   operation.StepID(b.Step),
		Joint:  b.Joint,
		Letter: b.Letter,
		Code:   TroubleCode(b.Code),
		What:   b.What,
		Note:   b.Note,
		By:     e.By,
		At:     e.At,
	})
	f := s.Fastener(b.Joint, b.Letter)
	if f == nil {
		return
	}
	f.Trouble = string(e.ID)
	f.Seq = e.Seq
	if f.Phase == Rest { // touched is touched
		f.Phase = Loose
	}
}

// grown closes a trouble that has become a worse one.
func (s *State) grown(was, into string) {
	for i := range s.Troubles {
		if was != "" && s.Troubles[i].ID == was {
			s.Troubles[i].Became = into
		}
	}
}

func (s *State) decideClear(_ Meta, b ClearTrouble) (record.Body, error) {
	for _, t := range s.OpenTroubles() {
		if t.ID == b.Trouble {
			if err := reason("how", &b.How); err != nil {
				return nil, err
			}
			f := s.Fastener(t.Joint, t.Letter)
			out := f != nil && t.Code == Sheared
			return record.TroubleCleared{Trouble: b.Trouble, How: b.How, Renewed: b.Renewed, Out: out}, nil
		}
	}
	return nil, refuse(fault.Missing, "trouble", "That trouble is not open.", "Look at the step again.")
}

// applyCleared ends a trouble. What was paid goes with a fastener that broke or was
// renewed: what stands in its place begins at the first stage.
func (s *State) applyCleared(e Event, b record.TroubleCleared) {
	for i := range s.Troubles {
		t := &s.Troubles[i]
		if t.ID != b.Trouble {
			continue
		}
		t.Cleared = &b
		if f := s.Fastener(t.Joint, t.Letter); f != nil {
			f.Trouble = ""
			f.Seq = e.Seq
			f.Renewed = f.Renewed || b.Renewed
			f.GoesInNew = f.GoesInNew || b.Renewed && f.Phase != InHand
			if b.Out && !(b.Renewed && f.Phase == InHand) {
				s.cameOut(e, f)
			} else if b.Renewed || t.Code == Sheared || t.Code == ThreadDamaged {
				f.unpaid(e.Seq)
			}
		}
	}
}
