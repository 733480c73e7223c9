package job

import (
	"fmt"
	"slices"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/record"
)

// handles is how a fastener must be for a verb.
var handles = map[operation.Verb]Mark{
	operation.Crack:  Rest,
	operation.Remove: Loose,
	operation.Start:  Out,
}

func (s *State) decideHandle(m Meta, b Handle) (record.Body, error) {
	st, err := s.openStep(m, b.Step)
	if err != nil {
		return nil, err
	}
	if st.Joint == "" || st.Verb == operation.Tighten {
		return nil, refuse(fault.BadChoice, "step", "This step has no fasteners to keep.", "Go back to the bench.")
	}
	if err := s.Ready(st); err != nil {
		return nil, err
	}
	j := s.Plan.Joint(st.Joint)
	if len(b.Letters) == 0 {
		b.Letters = s.Together(st, j)
	}
	if len(b.Letters) == 0 {
		return nil, refuse(fault.Order, "step", "Nothing is left to do here.", "Clear the trouble, or go on.")
	}
	if st.Verb == operation.Crack {
		if err := s.closedBefore(j); err != nil {
			return nil, err
		}
	}
	for _, l := range b.Letters {
		f, err := s.touch(m, FastenerID{j.ID, l})
		if err != nil {
			return nil, err
		}
		if err := s.canHandle(st, j, f); err != nil {
			return nil, err
		}
	}
	if err := s.renewal(st, j, b); err != nil {
		return nil, err
	}
	return record.Handled{
		Step:    string(b.Step),
		Verb:    string(st.Verb),
		Joint:   st.Joint,
		Letters: b.Letters,
		Renewed: b.Renewed,
	}, nil
}

// LeftAt lists the letters a step that handles fasteners of a joint has still to do; those
// in trouble wait.
func (s *State) LeftAt(st *plan.Step, j *plan.Joint) []string {
	var left []string
	for _, l := range j.Letters {
		f := s.Fastener(j.ID, l)
		waits := f.Trouble != "" || st.Verb == operation.Start && f.Waived
		if !slices.Contains(s.Steps[st.ID].Letters, l) && !waits {
			left = append(left, l)
		}
	}
	return left
}

// Together lists the letters that one act of the step covers: all that are left, but of new
// hardware each alone.
func (s *State) Together(st *plan.Step, j *plan.Joint) []string {
	left := s.LeftAt(st, j)
	if st.Verb != operation.Start {
		return left
	}
	old := slices.DeleteFunc(slices.Clone(left), func(l string) bool { return s.AsksNew(j, s.Fastener(j.ID, l)) })
	if len(old) > 0 {
		return old
	}
	return left
}

// AsksNew says that only new hardware may be started here: what is used once, where nobody
// signed for the old, and what goes in the place of one that broke.
func (s *State) AsksNew(j *plan.Joint, f *Fastener) bool {
	return f.GoesInNew || j.Renew && s.Deviation(renewGate(j.ID)) == nil
}

func (s *State) canHandle(st *plan.Step, j *plan.Joint, f *Fastener) error {
	if f.Trouble != "" {
		return refuse(fault.Trouble, "fastener", "There is trouble at "+j.One+" "+f.Letter+".", "Clear it first.")
	}
	seenLoose := st.Verb == operation.Remove && f.Phase == Rest // by a trouble cleared
	neverThere := st.Verb == operation.Start && f.Phase == Rest && !s.opens(j.ID)
	looseAlready := st.Verb == operation.Crack && f.Phase == Loose
	neverOut := st.Verb == operation.Start && f.Phase == Loose && !s.takesOut(j.ID)
	if f.Phase == handles[st.Verb] || seenLoose || neverThere || looseAlready || neverOut {
		return nil
	}
	return refuse(fault.Order, "fastener", fmt.Sprintf("%s %s is “%s” already.", j.One, f.Letter, f.Mark().Words()),
		"Look at the picture and go on with the next.")
}

// takesOut says that a step of the plan takes the joint out.
func (s *State) takesOut(joint string) bool {
	return slices.ContainsFunc(s.Plan.Steps, func(st plan.Step) bool {
		return st.Joint == joint && st.Verb == operation.Remove
	})
}

// renewal asks for new hardware where it is used once: one piece at a time, said by
// the one who holds it.
func (s *State) renewal(st *plan.Step, j *plan.Joint, b Handle) error {
	asks := func(l string) bool { return s.AsksNew(j, s.Fastener(j.ID, l)) }
	i := slices.IndexFunc(b.Letters, asks)
	if st.Verb != operation.Start || i < 0 && !b.Renewed {
		return nil
	}
	switch {
	case b.Renewed: // said of one piece at a time, asked for or not
	case s.Fastener(j.ID, b.Letters[i]).GoesInNew:
		return refuse(fault.Gate, "renewed", fmt.Sprintf("%s %s broke and came out: a new one goes in.", j.One, b.Letters[i]),
			"Take a new one in hand, and say so.")
	default:
		return refuse(fault.Gate, "renewed", "These are used once: new ones go in.",
			"Take new hardware, or have a deviation signed for the old.")
	}
	if len(b.Letters) > 1 {
		return refuse(fault.Gate, "renewed", "New hardware is confirmed piece by piece, by the one who holds it.",
			"Start "+j.One+" "+b.Letters[0]+", keep it, then the next.")
	}
	return nil
}

// reaches is how far a verb takes a fastener.
var reaches = map[operation.Verb]Mark{
	operation.Crack:  Loose,
	operation.Remove: Out,
	operation.Start:  InHand,
}

func (s *State) applyHandled(e Event, b record.Handled) {
	st := s.Steps[operation.StepID(b.Step)]
	if st == nil {
		return
	}
	for _, l := range b.Letters {
		f := s.Fastener(b.Joint, l)
		if f == nil {
			continue
		}
		verb := operation.Verb(b.Verb)
		f.Seq = e.Seq
		f.Phase = reaches[verb]
		f.begin(e.Seq)
		if verb == operation.Start {
			f.Renewed = b.Renewed
			f.GoesInNew = false
		}
		s.handled(e, st, b.Joint, l)
		if verb == operation.Crack {
			s.opensAnew(b.Joint)
		}
	}
	st.Postponed = false
}

// handled notes at a step that one of its fasteners is done with there.
func (s *State) handled(e Event, st *StepState, joint, letter string) {
	if !slices.Contains(st.Letters, letter) {
		st.Letters = append(slices.Clip(st.Letters), letter)
	}
	st.Seq = e.Seq
	st.By = e.By
	st.At = e.At
	st.Done = len(st.Letters) == len(s.Plan.Joint(joint).Letters)
}
