package job

import (
	"fmt"
	"slices"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
)

// Some fasteners are opened twice in one job, a bleeder for the piston and once more to bleed: each opening is a joint
// of its own, with its own figure and its own debt.

// anew is the joint by which the fasteners of one are opened once more behind it; nil where they are opened once.
func (s *State) anew(j *plan.Joint) *plan.Joint {
	for i := range s.Plan.Joints {
		o := &s.Plan.Joints[i]
		same := o.Sheet == j.Sheet && o.Corner == j.Corner && o.Opening != j.Opening
		if same && s.stepAt(j.ID, operation.Tighten) < s.stepAt(o.ID, operation.Crack) {
			return o
		}
	}
	return nil
}

// stepAt is where the step with a verb stands in the plan; -1 where there is none.
func (s *State) stepAt(joint string, v operation.Verb) int {
	return slices.IndexFunc(s.Plan.Steps, func(st plan.Step) bool { return st.Joint == joint && st.Verb == v })
}

// opensAnew notes that the fasteners of a joint are opened once more: what counts is how they are closed now.
func (s *State) opensAnew(joint string) {
	for j, f := range s.all() {
		if o := s.anew(j); o == nil || o.ID != joint || f.Anew || f.Phase == Rest {
			continue
		}
		if f.Anew = true; f.Done < f.Stages {
			f.Evidence = "" // nobody comes back to what it lacks
		}
	}
}

// closedBefore refuses to open fasteners once more while they are owed by how they were opened before.
func (s *State) closedBefore(j *plan.Joint) error {
	for i := range s.Plan.Joints {
		o := &s.Plan.Joints[i]
		if s.anew(o) != j {
			continue
		}
		for _, l := range o.Letters {
			if s.Fastener(o.ID, l).Owed() {
				return refuse(fault.Order, "fastener", fmt.Sprintf("%s %s is owed from when it was opened before.", o.One, l),
					"Bring it to its figure first.")
			}
		}
	}
	return nil
}
