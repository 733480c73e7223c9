package library

import (
	"slices"

	"lugtak/core/fault"
	"lugtak/core/plan"
	"lugtak/core/practice"
	"lugtak/core/vehicle"
)

// Exercise finds an exercise by its id.
func (l *Library) Exercise(id string) (*practice.Exercise, bool) {
	i := slices.IndexFunc(l.Exercises, func(x practice.Exercise) bool { return x.ID == id })
	if i < 0 {
		return nil, false
	}
	return &l.Exercises[i], true
}

// PracticePlan is the work of an exercise, compiled; empty for a walk-round.
func (l *Library) PracticePlan(x *practice.Exercise) (plan.Plan, error) {
	if x.Find != nil {
		return plan.Plan{}, nil
	}
	ask := Ask{Built: x.Built}
	for _, text := range x.Tasks {
		t, err := plan.ParseTask(text)
		if err != nil {
			return plan.Plan{}, err
		}
		ask.Tasks = append(ask.Tasks, t)
	}
	i := slices.IndexFunc(l.Cars, func(p vehicle.Pattern) bool { return p.ID == x.Pattern })
	if i < 0 {
		return plan.Plan{}, fault.New(fault.Missing, "pattern", "There is no practice car “"+x.Pattern+"”.",
			"Name one of practice/cars.")
	}
	return l.Compile(l.Cars[i], ask)
}

// PracticeRules are what the practice car of an exercise behaves by.
func (l *Library) PracticeRules(x *practice.Exercise) *practice.Knowledge {
	signs := l.Signs
	if i := slices.IndexFunc(l.Cars, func(p vehicle.Pattern) bool { return p.ID == x.Pattern }); i >= 0 {
		signs = l.Signs.Of(l.Cars[i].Traits)
	}
	return &practice.Knowledge{Consequences: l.Consequences, Release: &l.Release, Signs: &signs}
}
