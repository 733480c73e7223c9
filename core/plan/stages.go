package plan

import "lugtak/core/operation"

// Stage is a stretch of the work one can name: from a step up to before another, by their
// numbers from 0.
type Stage struct {
	Name     string
	From, To int
}

// Stages cuts the plan where the work turns: opened up, freed, taken out, compared,
// fitted, tightened, closed, at ride height, driven, gone over again. One that this plan
// has not is left out.
func (p *Plan) Stages() []Stage {
	begins := []struct {
		name string
		is   func(*Step) bool
	}{
		{"free", func(s *Step) bool { return s.Verb == operation.Soak || p.inTheAir(s, operation.Crack) }},
		{"out", func(s *Step) bool { return p.inTheAir(s, operation.Remove) && p.cracks(s.Joint) }},
		{"compare", func(s *Step) bool { return s.Verb == operation.Compare }},
		{"fit", func(s *Step) bool { return p.inTheAir(s, operation.Start) }},
		{"tighten", func(s *Step) bool { return p.inTheAir(s, operation.Tighten) }},
		{"close", func(s *Step) bool { return p.onWheel(s, operation.Start) || s.MovesTo == Touching }},
		{"ride height", func(s *Step) bool { return s.MovesTo == RideHigh }},
		{"drive", func(s *Step) bool { return s.Verb == operation.Drive }},
		{"again", func(s *Step) bool { return s.AfterDrive }},
	}
	out := []Stage{{Name: "open up"}}
	next := 0
	for i := range p.Steps {
		for k := next; k < len(begins); k++ {
			if !begins[k].is(&p.Steps[i]) {
				continue
			}
			if i > 0 {
				out = append(out, Stage{Name: begins[k].name, From: i})
			} else {
				out[0].Name = begins[k].name
			}
			next = k + 1
			break
		}
	}
	for i := range out {
		out[i].To = len(p.Steps)
		if i+1 < len(out) {
			out[i].To = out[i+1].From
		}
	}
	return out
}

// inTheAir says that a step does something to a joint behind the wheel.
func (p *Plan) inTheAir(s *Step, v operation.Verb) bool {
	j := p.Joint(s.Joint)
	return s.Verb == v && j != nil && j.System != Wheel && j.System != "body" && s.Position != Ground && !s.AfterDrive
}

func (p *Plan) onWheel(s *Step, v operation.Verb) bool {
	j := p.Joint(s.Joint)
	return s.Verb == v && j != nil && j.System == Wheel
}
