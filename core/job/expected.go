package job

import (
	"lugtak/core/claim"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/recipe"
	"lugtak/core/wrench"
)

// Hands is who works ahead, and the wrench they have for a stage.
type Hands struct {
	By     string
	Choose func(st *State, j *plan.Joint, stage int) (wrench.Choice, bool) // one that clicks
}

// Expected is the act that the one key of the step at hand would keep, by which a page can
// be drawn before the act is done: nil where only the person knows it, or where it must be
// measured or read from a tool first.
func (s *State) Expected(step *plan.Step, h Hands) Command {
	switch step.Verb {
	case operation.Crack, operation.Remove:
		return Handle{Step: step.ID}
	case operation.Start:
		j := s.Plan.Joint(step.Joint)
		letter := s.Current(step)
		if letter == "" || !s.AsksNew(j, s.Fastener(j.ID, letter)) {
			return Handle{Step: step.ID}
		}
		return Handle{Step: step.ID, Letters: []string{letter}, Renewed: true}
	case operation.Tighten:
		return s.expectedPull(step, h)
	}
	switch {
	case len(step.Measures) > 0, s.laidBeside(step) != nil, step.Counts != "":
		return nil
	case s.driven(step) != nil, s.booked(step) != nil, s.pumped(step, 0) != nil, s.AsksOil(step):
		return nil
	}
	keep := KeepStep{Step: step.ID}
	if len(step.Answers) > 0 {
		keep.Choice = step.Answers[0].Key
	}
	return keep
}

// expectedPull is the next act of a tightening without a tool that reports by itself.
func (s *State) expectedPull(step *plan.Step, h Hands) Command {
	j, letter := s.Plan.Joint(step.Joint), s.Current(step)
	f := s.Fastener(j.ID, letter)
	if f == nil || s.AsksVariant(j) {
		return nil
	}
	stage := s.Stages(j.ID)[f.Done]
	set, stated := s.Set(h.By, j.ID, f.Done)
	switch stage.Kind {
	case recipe.Torque:
		c, ok := h.Choose(s, j, f.Done)
		switch {
		case !ok || stage.PlusDrag:
			return nil
		case !stated || set.Tool != c.Tool.ID:
			return SetWrench{Step: step.ID, Joint: j.ID, Letter: letter, Tool: c.Tool, ToolID: c.Tool.ID, SetNm: c.SetNm}
		}
		on := claim.Claim{ID: "ahead", Tool: c.Tool.ID, Job: s.ID, Joint: j.ID, Letter: letter, By: h.By, At: s.Last}
		if len(s.Round(step)) > 1 {
			on.Letter = "" // it is in hand for all
			return ClickRound{Step: step.ID, Joint: j.ID, Tool: c.Tool, Claim: on}
		}
		return Click{Step: step.ID, Joint: j.ID, Letter: letter, Claim: on}
	case recipe.Angle:
		if !stated {
			return SetWrench{Step: step.ID, Joint: j.ID, Letter: letter}
		}
		return Turn{Step: step.ID, Joint: j.ID, Letter: letter, Means: ByMark}
	case recipe.NextSlot:
		return nil
	}
	return Turn{Step: step.ID, Joint: j.ID, Letter: letter}
}
