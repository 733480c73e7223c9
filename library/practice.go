package library

import (
	"slices"

	"lugtak/core/plan"
	"lugtak/core/practice"
)

// Exercise finds an exercise by its id.
func (l *Library) Exercise(id string) (*practice.Exercise, bool) {
	i := slices.IndexFunc(l.Exercises, func(x practice.Exercise) bool { return x.ID == id })
	if i < 0 {
		return nil, false
	}
	return &l.Exercises[i], true
}

// Practise begins an exercise by a seed, and carries out the acts of a run so far.
func (l *Library) Practise(x *practice.Exercise, seed uint64, acts []practice.Act) (*practice.Run, error) {
	know := &practice.Knowledge{Consequences: l.Consequences, Release: &l.Release, Signs: &l.Signs}
	var made plan.Plan
	if x.Find == nil {
		ask := Ask{Built: x.Built}
		for _, text := range x.Tasks {
			t, err := plan.ParseTask(text)
			if err != nil {
				return nil, err
			}
			ask.Tasks = append(ask.Tasks, t)
		}
		var err error
		if made, err = l.Plan(x.Pattern, ask); err != nil {
			return nil, err
		}
	}
	return practice.Replay(x, made, know, seed, acts), nil
}
