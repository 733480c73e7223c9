package job

import (
	"time"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/record"
)

// How quick a hand was: a second tap is none of its acts, and one kept sooner than hands are is told.

// Hasty is an act that was kept quicker than hands are.
type Hasty struct {
	Step  operation.StepID
	By    string
	At    time.Time
	Took  time.Duration
	Least time.Duration // that it takes
}

// guard is how long after an act another one by the same person is taken for the
// second tap of a nervous finger (common practice with touch screens).
const guard = 700 * time.Millisecond

// byHand says that a command stands for an act of the hands at the vehicle.
func byHand(cmd Command) bool {
	switch cmd.(type) {
	case KeepStep, RoadTest, Handle, SetWrench, Click, ClickRound, Turn, LeaveUnmeasured:
		return true
	}
	return false
}

// pace swallows a second tap: the act it would keep was not seen yet.
func (s *State) pace(m Meta, cmd Command) error {
	last, acted := s.lastAct[m.By]
	gap := m.At.Sub(last)
	if !byHand(cmd) || !acted || gap < 0 || gap >= guard {
		return nil
	}
	return refuse(fault.TooQuick, "", "That was a second tap: nothing was kept by it.",
		"Look at the step that stands here now, do it, then keep it.")
}

// quickest is the share of its reckoned minutes below which no hand is done with an
// act, and quickestPull the least a fastener takes under a wrench (common practice).
const (
	quickest     = 0.08
	quickestPull = 1500 * time.Millisecond
)

// acted notes when a person did something, and whether hands could have.
func (s *State) acted(e Event) {
	step, least := operation.StepID(""), time.Duration(0)
	switch b := e.Body.(type) {
	case record.StepKept:
		step = operation.StepID(b.Step)
		least = s.leastFor(step, 1)
	case record.RoadTested:
		step = operation.StepID(b.Step)
		least = s.leastFor(step, 1)
	case record.Handled:
		step = operation.StepID(b.Step)
		least = s.leastFor(step, s.shareOf(b))
	case record.Pulled:
		step = operation.StepID(b.Step)
		if !b.Together { // of those the time is asked before
			least = quickestPull
		}
	case record.WrenchSet:
		step = operation.StepID(b.Step)
	default:
		return
	}
	last, before := s.lastAct[e.By]
	took := e.At.Sub(last)
	if before && took >= 0 && took < least {
		s.Hasty = append(s.Hasty, Hasty{Step: step, By: e.By, At: e.At, Took: took, Least: least})
	}
	s.lastAct[e.By] = e.At
}

// LastHand is who did something to the vehicle last; before any work who answered or measured last, or who began
// the job.
func (s *State) LastHand() string {
	who, last := s.StartedBy, time.Time{}
	take := func(by string, at time.Time) {
		if at.After(last) || at.Equal(last) && by < who {
			who, last = by, at
		}
	}
	for by, at := range s.lastAct {
		take(by, at)
	}
	if len(s.lastAct) > 0 {
		return who
	}
	for _, g := range s.Walk.Given {
		take(g.By, g.At)
	}
	for _, m := range s.Walk.Measured {
		take(m.By, m.At)
	}
	return who
}

func (s *State) leastFor(step operation.StepID, share float64) time.Duration {
	st := s.Plan.Step(step)
	if st == nil || !st.Hands() {
		return 0
	}
	return time.Duration(quickest * share * st.Minutes * float64(time.Minute))
}

// shareOf is how much of its step an act on some fasteners is.
func (s *State) shareOf(b record.Handled) float64 {
	j := s.Plan.Joint(b.Joint)
	if j == nil {
		return 1
	}
	return float64(len(b.Letters)) / float64(len(j.Letters))
}
