package job

import (
	"fmt"
	"time"

	"lugtak/core/claim"
	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/recipe"
	"lugtak/core/record"
	"lugtak/core/wrench"
)

// ClickRound says of all that a round of wheel fasteners still lacks that the tool clicked on each, in turn. Each
// becomes an event of its own, marked as stated together.
type ClickRound struct {
	Step  operation.StepID
	Joint string
	Tool  wrench.Tool `json:"-"`
	Claim claim.Claim `json:"-"`
}

// clickTakes is the least a nut takes from one click to the next, all the way round a wheel: twelve seconds for five
// (common practice).
const clickTakes = 2400 * time.Millisecond

// Round is the fasteners that a round of wheel fasteners still lacks at a step, in their order; none where they are
// no such, or nothing of them clicks there.
func (s *State) Round(st *plan.Step) []string {
	j, next := s.Plan.Joint(st.Joint), s.Fastener(st.Joint, s.Current(st))
	if st.Verb != operation.Tighten || next == nil || j.System != plan.Wheel {
		return nil
	}
	if stage := s.stages[j.ID][next.Done]; stage.Kind != recipe.Torque || stage.PlusDrag {
		return nil
	}
	var out []string
	for _, k := range j.Order {
		if f := s.Fastener(j.ID, j.Letters[k]); f.Done == next.Done && f.Trouble == "" && !f.Waived {
			out = append(out, f.Letter)
		}
	}
	return out
}

// RoundTaken is when a person can have clicked on so many fasteners, after what they did last.
func (s *State) RoundTaken(by string, fasteners int) time.Time {
	return s.lastAct[by].Add(time.Duration(fasteners) * clickTakes)
}

func (s *State) decideRound(m Meta, b ClickRound) ([]record.Body, error) {
	st := s.Plan.Step(b.Step)
	var letters []string
	if st != nil && st.Joint == b.Joint {
		letters = s.Round(st)
	}
	switch {
	case len(letters) == 0:
		return nil, refuse(fault.BadChoice, "step", "Nothing here is clicked all round.", "Say it of each fastener.")
	case b.Tool.ID != b.Claim.Tool:
		return nil, claim.Gone()
	case b.Tool.Angle():
		return nil, refuse(fault.Tool, "tool", b.Tool.Name+" sends what it reads: nothing of it is stated together.",
			"Pull, and it records itself.")
	case m.At.Before(s.RoundTaken(m.By, len(letters))):
		return nil, refuse(fault.TooQuick, "", fmt.Sprintf("No hand has clicked on %d of them so soon.", len(letters)),
			"Pull each to its click, then say so.")
	}
	var out []record.Body
	for _, l := range letters {
		body, err := s.decideClick(m, Click{Step: b.Step, Joint: b.Joint, Letter: l, Claim: b.Claim})
		if err != nil {
			return nil, err
		}
		pulled := body.(record.Pulled)
		pulled.Together = len(letters) > 1
		out = append(out, pulled)
	}
	return out, nil
}
