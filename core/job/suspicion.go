package job

import (
	"slices"
	"strings"

	"lugtak/core/plan"
	"lugtak/core/record"
)

// Suspicion is what was said of a suspect when its renewal was decided, and whether a drive has shown that it was the
// fault.
type Suspicion struct {
	Suspect, Name string
	Chance        float64 // as it was said, 0 to 1
	Plain         float64 // by the library alone
	Was           bool
}

// provesSuspicion holds what was said of a suspect against a drive. It counts where nobody can read the drive another
// way: nothing else was renewed, and what was felt on the road before was driven for again; and where it was said
// beforehand. Only the first such drive counts: the next suspect is chosen by its failure.
func (s *State) provesSuspicion(drive record.RoadTested) {
	gone, asked := true, false
	for _, f := range drive.Felt {
		switch {
		case !strings.HasPrefix(f.Do, feltBefore):
		case f.Found == FeltSound || f.Found == FeltWrong:
			asked, gone = true, gone && f.Found == FeltSound
		default: // to be watched, or not driven: neither gone nor there
			return
		}
	}
	if p := s.suspected(); asked && p != nil && s.Suspicion == nil {
		s.Suspicion = &Suspicion{p.Suspect, p.Name, p.Chance, p.Plain, gone}
	}
}

// suspected is the one suspect all work of the plan renews; nil where there is none, or nothing was said of it before
// the work began.
func (s *State) suspected() *Proposal {
	var one *Proposal
	for i := range s.Walk.Proposals {
		p := &s.Walk.Proposals[i]
		switch {
		case !p.Accept:
		case one != nil:
			return nil
		default:
			one = p
		}
	}
	other := func(t plan.Task) bool { return !slices.Contains(one.Work, t.Operation) }
	if one == nil || one.Chance == 0 || one.begun || len(s.Plan.Tasks) == 0 || slices.ContainsFunc(s.Plan.Tasks, other) {
		return nil
	}
	return one
}
