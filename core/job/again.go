package job

import (
	"cmp"
	"maps"
	"slices"

	"lugtak/core/fact"
	"lugtak/core/operation"
	"lugtak/core/plan"
)

// A fastener that is owed anew, as its pull was struck or it was left not measured, may sit on a
// vehicle that was closed and lowered since. How the vehicle stands is then brought about once
// more by the plan's own steps, kept again, and brought back by them.

// again is how a step may be kept once more: one that only changes how the vehicle stands, and
// whose change does not hold any more.
func (s *State) again(st *plan.Step) bool {
	plain := st.Counts == "" && st.Books == "" && st.Part == "" && st.Frees == "" &&
		len(st.Answers)+len(st.Measures) == 0
	changes := slices.Contains([]operation.Verb{operation.Move, operation.Act, operation.Drive}, st.Verb) &&
		st.Joint == "" && plain
	if !changes || !s.Steps[st.ID].Done {
		return false
	}
	return slices.ContainsFunc(st.Makes, func(m fact.Make) bool { return s.Plan.World.Is(s.Facts, m.Fact) != m.Value })
}

// early is a step that moves the vehicle and is still to do, which may come before what it waits
// for: the vehicle is brought there, and back again when its turn comes.
func (s *State) early(st *plan.Step) bool {
	return st.Verb == operation.Move && !s.Steps[st.ID].Done && s.leftBehind()
}

// leftBehind says that something was passed over or taken back, which the vehicle may have to be
// brought back for.
func (s *State) leftBehind() bool {
	return len(s.reopened) > 0 || slices.ContainsFunc(s.Plan.Steps, func(st plan.Step) bool {
		return s.Steps[st.ID].Postponed && !s.StepDone(st.ID)
	})
}

// Again says that the step's key keeps it once more: it is done, and something waits for it.
func (s *State) Again(st *plan.Step) bool {
	lead := s.leadNow()
	return lead != nil && lead.ID == st.ID && s.again(st)
}

// leadNow is the step to be kept once more now; nil where none is.
func (s *State) leadNow() *plan.Step {
	if s.Plan.World.Rest == nil {
		return nil
	}
	for i := range s.Plan.Steps {
		st := &s.Plan.Steps[i]
		if s.StepDone(st.ID) || s.blocked(st) || len(s.waitsFor(st)) > 0 {
			continue
		}
		if first := s.way(st); first != nil {
			return first
		}
	}
	return s.back()
}

// longestWay is as many steps as are kept again to come to one: chocks, up, held, and back.
const longestWay = 8

// way is the first of the steps kept again that lead to one; nil where it lacks nothing, or they
// do not lead there.
func (s *State) way(st *plan.Step) *plan.Step {
	trial := *s
	trial.Facts = maps.Clone(s.Facts)
	var first *plan.Step
	for range longestWay {
		next := trial.reach(st, nil)
		switch next {
		case nil:
			return nil
		case st:
			return first
		}
		proof := trial.proofOf(next)
		if trial.Plan.World.Breaks(trial.Facts, &proof) != nil {
			return nil
		}
		first = cmp.Or(first, next)
		trial.makes(next.ID)
	}
	return nil
}

// cornered says that a step is done over which the vehicle cannot be brought to stand for, as where
// it must not roll with what is loose: it is reached as the vehicle stands.
func (s *State) cornered(st *plan.Step) bool {
	return slices.Contains(s.reopened, st.ID) && s.lacking(st) != nil && s.way(st) == nil
}

// AsItStands is how the vehicle should stand for a step it can no more be brought to stand for:
// the corner is jacked where it is; empty where that is not so.
func (s *State) AsItStands(st *plan.Step) plan.Position {
	if !s.cornered(st) {
		return ""
	}
	return cmp.Or(s.stanceFor(st), st.Position)
}

// reach is what is done first so that a step may come: the step itself where it lacks nothing,
// else one that is kept again on the way there; nil where no way is found. seen are the steps
// that wait for it.
func (s *State) reach(st *plan.Step, seen []operation.StepID) *plan.Step {
	brings := s.lacking(st)
	if brings == nil {
		return st
	}
	return s.maker(brings, append(seen, st.ID))
}

// lacking tells the steps that bring about what a step lacks; nil where it lacks nothing.
func (s *State) lacking(st *plan.Step) (brings func(*plan.Step) bool) {
	proof := s.proofOf(st)
	switch b := s.Plan.World.Lacks(s.Facts, &proof); {
	case b != nil && b.Kind == fact.OfWant:
		return func(x *plan.Step) bool { return makes(x, b.Fact, b.Wants) }
	case b == nil && s.stanceFor(st) != "":
		return func(x *plan.Step) bool { return x.MovesTo.Stands(s.stanceFor(st)) }
	case b == nil && st.Position != "" && !s.stands(st.Position) && !s.raisesAgain(st):
		return func(x *plan.Step) bool { return x.MovesTo.Stands(st.Position) }
	}
	return nil
}

// maker is what is done first on the shortest way to a step that does something and may be kept
// again: one that lacks nothing itself, else one that is reached by others.
func (s *State) maker(does func(*plan.Step) bool, seen []operation.StepID) *plan.Step {
	var far []*plan.Step
	for i := len(s.Plan.Steps) - 1; i >= 0; i-- {
		st := &s.Plan.Steps[i]
		if !does(st) || !s.again(st) && !s.early(st) || slices.Contains(seen, st.ID) {
			continue
		}
		if s.lacking(st) == nil {
			return st
		}
		far = append(far, st)
	}
	for _, st := range far {
		if first := s.reach(st, seen); first != nil {
			return first
		}
	}
	return nil
}

// makes says that a step brings a fact to one of the values.
func makes(st *plan.Step, f fact.Fact, values fact.Values) bool {
	return slices.ContainsFunc(st.Makes, func(m fact.Make) bool { return m.Fact == f && values.Has(m.Value) })
}

// back is the step that brings back what was brought about once more, where all else is done;
// nil where the vehicle stands as it may leave.
func (s *State) back() *plan.Step {
	b := s.leftAway()
	if b == nil {
		return nil
	}
	values := append(fact.Values{s.Plan.World.Rest[b.Fact]}, b.Wants...)
	return s.maker(func(x *plan.Step) bool { return makes(x, b.Fact, values) }, nil)
}

// leftAway is the first fact that is left as it may not stay; nil while steps are still to do.
func (s *State) leftAway() *fact.Breach {
	if s.Plan.World.Rest == nil {
		return nil
	}
	for _, st := range s.Plan.Steps {
		if !s.StepDone(st.ID) {
			return nil
		}
	}
	return s.Plan.World.Left(s.Facts)
}

// proofOf is a step as it is proved now: one that is done over asks less, since what had to lie
// open for it may be closed by now, and what is tight is no hindrance.
func (s *State) proofOf(st *plan.Step) fact.Step {
	switch {
	case slices.Contains(s.reopened, st.ID):
		out := st.Reached()
		tight := func(w fact.Want) bool {
			return w.Fact.Subject == fact.Fastener && s.Plan.World.Is(s.Facts, w.Fact) == fact.Proved
		}
		out.Wants = slices.DeleteFunc(out.Wants, tight) // a neighbour that was to be loose is tight since
		return out
	case s.again(st):
		out := fact.Step{ID: string(st.ID), Makes: st.Makes}
		for _, w := range st.Wants {
			if w.Fact.Subject != fact.Fastener && !(w.Fact.Subject == plan.VehicleFact && s.raisesAgain(st)) {
				out.Wants = append(out.Wants, w)
			}
		}
		return out
	}
	return s.asFound(st.Proof())
}

// asFound lets a step come that wants a fastener cracked where it broke and is out: it cannot be
// put back for that, and the step's own caution stands. One that was signed for as it is counts
// as tight, and is still what it was.
func (s *State) asFound(proof fact.Step) fact.Step {
	var wants []fact.Want // copied where one changes
	for i, w := range proof.Wants {
		var also fact.Value
		switch {
		case w.Fact.Subject != fact.Fastener:
			continue
		case w.Values.Has(fact.Cracked) && s.brokeAt(w.Fact.Place):
			also = fact.Out
		case !w.Values.Has(fact.Proved) && s.waivedAt(w.Fact.Place):
			also = fact.Proved
		default:
			continue
		}
		if wants == nil {
			wants = slices.Clone(proof.Wants)
		}
		wants[i].Values = append(slices.Clip(w.Values), also)
	}
	if wants != nil {
		proof.Wants = wants
	}
	return proof
}

// waivedAt says that a fastener of a joint was signed for as it is.
func (s *State) waivedAt(joint string) bool {
	j := s.Plan.Joint(joint)
	return j != nil && slices.ContainsFunc(j.Letters, func(l string) bool { return s.Fastener(joint, l).Waived })
}

// brokeAt says that a fastener of a joint broke and is out, its place still empty.
func (s *State) brokeAt(joint string) bool {
	j := s.Plan.Joint(joint)
	return j != nil && slices.ContainsFunc(j.Letters, func(l string) bool {
		f := s.Fastener(joint, l)
		return f.GoesInNew && f.Phase == Out
	})
}

// Unheld are the reasons why a fastener was to stay on for a step, where it broke and is out: what
// it was to hold must be held otherwise.
func (s *State) Unheld(st *plan.Step) []string {
	var out []string
	for _, w := range st.Wants {
		if w.Fact.Subject == fact.Fastener && w.Values.Has(fact.Cracked) && w.Because != "" && s.brokeAt(w.Fact.Place) {
			out = append(out, w.Because)
		}
	}
	return out
}

// raisesAgain says that the step lifts the vehicle once more, which it may from any stance.
func (s *State) raisesAgain(st *plan.Step) bool { return st.MovesTo == plan.Raised && s.again(st) }
