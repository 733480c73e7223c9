package plan

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/schedule"
)

// Room is where each step could stand while the others keep their places: from, the
// number of the last step it rests on, to the number of the last before one that rests
// on it or on the position it is done in. Numbers count from 1; behind its own number
// it stays where it is.
func (p *Plan) Room() [][2]int {
	q := p.placed(schedule.Costs{}, 1)
	at := make(map[string]int, len(q.Steps))
	for i, s := range q.Steps {
		at[s.ID] = i + 1
	}
	room := make([][2]int, len(q.Steps))
	for i := range room {
		room[i][1] = len(room)
	}
	for i, s := range q.Steps {
		for _, n := range s.Needs {
			k := at[n]
			room[i][0] = max(room[i][0], k)
			room[k-1][1] = min(room[k-1][1], i)
		}
	}
	return room
}

// Put gives the steps with one behind another, or in front where behind is empty. It proves
// nothing. What names no step leaves all as it is.
func (p *Plan) Put(id, behind operation.StepID) []Step {
	at := func(id operation.StepID) int {
		return slices.IndexFunc(p.Steps, func(s Step) bool { return s.ID == id })
	}
	from, to := at(id), at(behind)
	steps := slices.Clone(p.Steps)
	if from < 0 || to < 0 && behind != "" || id == behind {
		return steps
	}
	if from > to {
		to++ // those before it keep their place
	}
	return slices.Insert(slices.Delete(steps, from, from+1), to, p.Steps[from])
}

// Move gives the steps with one of them moved behind another, or to the front. It
// refuses with the rule that stands against it: what the step needs, what needs it,
// or the position the vehicle would be in.
func (p *Plan) Move(id, behind operation.StepID) ([]Step, error) {
	if p.Step(id) == nil || p.Step(behind) == nil && behind != "" || id == behind {
		return nil, fault.New(fault.Missing, "step", "The plan has no such step.", "Choose one from the list.")
	}
	steps := p.Put(id, behind)
	at := make(map[operation.StepID]int, len(steps))
	for i, s := range steps {
		at[s.ID] = i
	}
	q := *p
	q.Steps = steps
	if f := fault.As(q.Sound()); f != nil {
		return nil, f
	}
	for _, s := range steps {
		for _, n := range s.Needs {
			if at[n] <= at[s.ID] {
				continue
			}
			first, second := p.Step(n), p.Step(s.ID)
			why := cmp.Or(first.Because, second.Because)
			says := "“" + first.Title + "” comes before “" + second.Title + "”. " + why
			return nil, fault.New(fault.Order, "step", strings.TrimSpace(says), "Move it no further than that.")
		}
	}
	if f := fault.As(q.positions()); f != nil {
		return nil, fault.New(fault.Order, "step", f.Detail, "Keep it between the moves that bring the vehicle there.")
	}
	return steps, nil
}

// positions walks a plan of old once and refuses a step that comes while the vehicle
// stands otherwise than it asks.
func (p *Plan) positions() error {
	if p.World.Rest != nil {
		return nil // proved by facts
	}
	pos := Ground
	for _, s := range p.Steps {
		if s.Position != "" && !pos.Stands(s.Position) {
			return fault.New(fault.Conflict, "operation",
				fmt.Sprintf("“%s” is done with the vehicle %s, and by then it is %s.", s.Title, s.Position, pos),
				fmt.Sprintf("Give the step a need that brings the vehicle there (%s).", s.ID))
		}
		if s.MovesTo != "" {
			pos = s.MovesTo
		}
	}
	return nil
}
