package job

import (
	"slices"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/record"
)

func (s *State) decideUndo(m Meta, b UndoStep) (record.Body, error) {
	st, err := s.openStep(m, b.Step)
	if err != nil {
		return nil, err
	}
	switch {
	case st.MovesTo != "":
		return nil, refuse(fault.Order, "step", "A vehicle that was moved is not unmoved by a record.",
			"Move it, and keep the step that does.")
	case st.Verb == operation.Tighten:
		return nil, refuse(fault.Order, "step", "Pulls are struck one by one.", "Strike the wrong pull in the ledger.")
	case !s.Steps[b.Step].Done:
		return nil, refuse(fault.Order, "step", "That step is not kept.", "Nothing to take back.")
	case st.Frees != "":
		return nil, refuse(fault.Order, "step", "What was freed is free.", "Note what is wrong as a finding.")
	}
	for _, other := range s.Plan.Steps {
		begun := s.StepDone(other.ID) || len(s.Steps[other.ID].Letters) > 0
		if begun && slices.Contains(other.Needs, b.Step) {
			return nil, refuse(fault.Order, "step", "“"+other.Title+"” was done after it and rests on it.",
				"Take that back first, or note the correction as a finding.")
		}
	}
	if err := reason("reason", &b.Reason); err != nil {
		return nil, err
	}
	return record.StepUndone{Step: string(b.Step), Reason: b.Reason}, nil
}

// undoes is what taking a step back makes of its fasteners.
var undoes = map[operation.Verb]struct{ from, to Mark }{
	operation.Crack:  {Loose, Rest},
	operation.Remove: {Out, Loose},
	operation.Start:  {InHand, Out},
}

func (s *State) applyUndone(e Event, b record.StepUndone) {
	st, state := s.Plan.Step(operation.StepID(b.Step)), s.Steps[operation.StepID(b.Step)]
	if st == nil {
		return
	}
	back := undoes[st.Verb]
	for _, l := range state.Letters {
		f := s.Fastener(st.Joint, l)
		if f != nil && f.Phase == back.from && f.Done == 0 {
			f.Phase = back.to
			f.Seq = e.Seq
		}
	}
	if st.Holds {
		s.Held[st.Corner] = false
	}
	if st.LetsGo {
		s.Held[st.Corner] = true
	}
	s.Soaks = slices.DeleteFunc(s.Soaks, func(k Soaking) bool { return k.Step == st.ID })
	s.Fluids = slices.DeleteFunc(slices.Clone(s.Fluids), func(f Booked) bool { return f.Step == b.Step })
	if st.Verb == operation.Drive {
		s.Suspicion = nil
	}
	s.stepsSeq = e.Seq
	out := slices.DeleteFunc(slices.Clone(state.Letters), func(l string) bool {
		f := s.Fastener(st.Joint, l)
		return f == nil || !f.GoesInNew // what came out in pieces does not go back
	})
	*state = StepState{Seq: e.Seq, Letters: out}
}
