package job

import (
	"maps"
	"slices"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/record"
)

// DoneSteps are the steps done, in the order they were, and those begun.
func (s *State) DoneSteps() (done []plan.Step, begun []operation.StepID) {
	for _, id := range s.done {
		done = append(done, *s.Plan.Step(id))
	}
	for _, x := range s.Plan.Steps {
		if len(s.Steps[x.ID].Letters) > 0 && !s.StepDone(x.ID) {
			begun = append(begun, x.ID)
		}
	}
	return done, begun
}

// FreeClosing says that the job's free work is being closed: what else has to be opened comes too late.
func (s *State) FreeClosing() bool {
	return s.HasPlan() && s.Plan.Free != nil && slices.ContainsFunc(s.done, func(id operation.StepID) bool {
		return s.Plan.Free.IsWork(id)
	})
}

// CanRework says why a plan made anew would not be taken.
func (s *State) CanRework(p plan.Plan, why string) error {
	if !s.HasPlan() || !s.Begun() {
		return nil
	}
	_, err := s.decideRework(Meta{}, Rework{Plan: p, Why: why})
	return err
}

// Handled says that a fastener of a joint of the sheet was handled in this job.
func (s *State) Handled(sheet string) bool {
	for j, f := range s.all() {
		if j.Sheet == sheet && f.Phase != Rest {
			return true
		}
	}
	return false
}

func (s *State) decideRework(_ Meta, b Rework) (record.Body, error) {
	if err := reason("why", &b.Why); err != nil {
		return nil, err
	}
	if !s.HasPlan() || s.Plan.World.Rest == nil {
		return nil, refuse(fault.Order, "plan", "This plan was made before plans knew what is true of the vehicle.",
			"Put what is left in order anew, or move its steps.")
	}
	for _, x := range s.Plan.Steps {
		touched := s.StepDone(x.ID) || len(s.Steps[x.ID].Letters) > 0
		if touched && b.Plan.Step(x.ID) == nil {
			return nil, refuse(fault.Order, "plan", "“"+x.Title+"” was done and the new plan lacks it.", "Make the plan anew.")
		}
	}
	if err := s.tooLate(b.Plan.Builds); err != nil {
		return nil, err
	}
	for id, f := range s.Fasteners {
		if f.Phase != Rest && b.Plan.Joint(id.Joint) == nil {
			return nil, refuse(fault.Order, "plan", "A fastener was opened that the new plan lacks.", "Make the plan anew.")
		}
	}
	if err := b.Plan.Sound(); err != nil {
		return nil, err
	}
	s.keepFigures(&b.Plan)
	if b.Plan.Technicians == s.Plan.Technicians && slices.Equal(b.Plan.StepIDs(), s.Plan.StepIDs()) &&
		sameWays(s.Plan, &b.Plan) && sameJoints(s.Plan, &b.Plan) {
		return nil, nil
	}
	return record.Reworked{Plan: toPlan(b.Plan), Why: b.Why}, nil
}

// sameWays says that two plans go the same ways, on a vehicle built the same.
func sameWays(a, b *plan.Plan) bool {
	ways := slices.EqualFunc(a.Schools, b.Schools,
		func(x, y plan.SchoolUsed) bool { return x.Key == y.Key && x.Way == y.Way })
	return ways && slices.EqualFunc(a.Builds, b.Builds, func(x, y plan.BuildUsed) bool {
		return x.Key == y.Key && x.Is == y.Is && x.Known == y.Known
	})
}

// sameJoints says that two plans ask the same of the same fasteners.
func sameJoints(a, b *plan.Plan) bool {
	return slices.EqualFunc(a.Joints, b.Joints, func(x, y plan.Joint) bool {
		same := x.ID == y.ID && len(x.Letters) == len(y.Letters) && x.Condition == y.Condition && x.Held == y.Held
		return same && x.Renew == y.Renew && x.Thread == y.Thread && x.Drive == y.Drive && x.Socket == y.Socket
	})
}

// tooLate refuses another answer to how the vehicle is built once something was done that
// followed from the first.
func (s *State) tooLate(now []plan.BuildUsed) error {
	for _, was := range s.Plan.Builds {
		same := func(b plan.BuildUsed) bool { return b.Key == was.Key && b.Is == was.Is }
		if slices.ContainsFunc(now, same) ||
			!slices.ContainsFunc(now, func(b plan.BuildUsed) bool { return b.Key == was.Key }) {
			continue
		}
		for _, id := range was.Decides {
			if x := s.Plan.Step(id); x != nil && (s.StepDone(id) || len(s.Steps[id].Letters) > 0) {
				return refuse(fault.Order, "built", "“"+x.Title+"” was done for “"+was.Answer()+"”.",
					"It is too late for another answer here; note what you see as a finding.")
			}
		}
	}
	return nil
}

// applyReworked lays the new plan under what is done.
func (s *State) applyReworked(e Event, b record.Reworked) {
	was, steps, fasteners := s.Plan, maps.Clone(s.Steps), maps.Clone(s.Fasteners)
	s.setPlan(fromPlan(b.Plan), e.Seq)
	for id, st := range steps {
		if s.Steps[id] != nil {
			s.Steps[id] = st
		}
	}
	for id, f := range fasteners {
		if now := s.Fasteners[id]; now != nil {
			f.Stages, f.ByBolt = now.Stages, now.ByBolt
			s.Fasteners[id] = f
		}
	}
	s.replanned(e, b.Why, was)
}
