package operation

import "lugtak/core/schedule"

// Problem is the plan as the scheduler takes it. A step that asks for a position
// comes after the move that brings the vehicle there and before the next move.
func (p *Plan) Problem(toolChange float64, technicians int) schedule.Problem {
	out := schedule.Problem{Costs: schedule.Costs{Tool: toolChange}, Technicians: technicians}
	moved := ""        // the last move
	var since []string // steps that hold the vehicle where it is
	for _, s := range p.Steps {
		x := schedule.Step{ID: s.ID, Minutes: s.Minutes, Hands: s.Hands(), Tool: s.NeedsTool(), Needs: append([]string{}, s.Needs...)}
		if s.MovesTo != "" {
			x.Needs = append(x.Needs, since...)
			since = nil
		}
		if (s.Position != "" || s.MovesTo != "") && moved != "" {
			x.Needs = append(x.Needs, moved)
		}
		if s.Position != "" {
			since = append(since, s.ID)
		}
		if s.MovesTo != "" {
			moved, since = s.ID, []string{s.ID}
		}
		out.Steps = append(out.Steps, x)
	}
	return out
}
