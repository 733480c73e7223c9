package plan

import (
	"slices"

	"lugtak/core/fact"
	"lugtak/core/operation"
	"lugtak/core/schedule"
)

// Stay is how long a plan leaves something so that may not stay so for long.
type Stay struct {
	fact.Tended
	From, To operation.StepID // what leaves it so, and what ends it
	Minutes  float64          // from the end of the one to the end of the other
	Longest  operation.StepID // the longest step between
}

// Long says that it stays so for longer than it may.
func (s Stay) Long() bool { return s.Tended.Minutes > 0 && s.Minutes > s.Tended.Minutes+rounding }

// rounding is what a time may be over its limit by reckoning alone, minutes.
const rounding = 1e-6

// Stays are what the plan leaves open, running or hanging for a time, laid out as the clock has it.
func (p *Plan) Stays(sol schedule.Solution) []Stay {
	ends, takes := map[operation.StepID]float64{}, map[operation.StepID]float64{}
	for _, x := range sol.Order {
		ends[operation.StepID(x.ID)] = x.End
		takes[operation.StepID(x.ID)] = x.End - x.Start
	}
	var out []Stay
	for _, t := range p.World.Tended {
		var at *Stay
		for _, s := range p.Steps {
			i := slices.IndexFunc(s.Makes, func(m fact.Make) bool { return m.Fact == t.Fact })
			switch is := i >= 0 && t.Values.Has(s.Makes[max(i, 0)].Value); {
			case i < 0 || is && at != nil:
				if at != nil && takes[s.ID] > takes[at.Longest] {
					at.Longest = s.ID
				}
			case is:
				at = &Stay{Tended: t, From: s.ID}
			case at != nil:
				at.To, at.Minutes = s.ID, ends[s.ID]-ends[at.From]
				out = append(out, *at)
				at = nil
			}
		}
	}
	return out
}

// opens are the steps that leave something so that is tended, and was not before.
func (p *Plan) opens() map[operation.StepID]bool {
	out := map[operation.StepID]bool{}
	for _, t := range p.World.Tended {
		was := false
		for _, s := range p.Steps {
			for _, m := range s.Makes {
				if m.Fact == t.Fact {
					is := t.Values.Has(m.Value)
					out[s.ID] = out[s.ID] || is && !was
					was = is
				}
			}
		}
	}
	return out
}
