package job

import (
	"slices"
	"time"

	"lugtak/core/fault"
	"lugtak/core/plan"
	"lugtak/core/recipe"
	"lugtak/core/record"
	"lugtak/core/vehicle"
)

// What becomes of a job's figures where the sheet has another one meanwhile.

// Figure is a figure of the job that was struck on the sheet.
type Figure struct {
	record.FigureStruck
	By       string
	At       time.Time
	Answered *record.FigureAnswered
}

// Uses lists the joints of the plan whose figure comes from a joint of a sheet and
// has not been replaced in the job.
func (p *Planning) Uses(sheet string) []string {
	var out []string
	for _, j := range p.Plan.Joints {
		_, kit := p.Kits[j.ID]
		if j.Sheet == sheet && !kit {
			out = append(out, j.ID)
		}
	}
	return out
}

// Figure finds what was struck last at a joint, of the hardware in hand; nil where nothing was.
func (p *Planning) Figure(joint string) *Figure {
	for i := len(p.Figures) - 1; i >= 0; i-- {
		f := &p.Figures[i]
		if f.Joint == joint && (f.Variant == "" || f.Variant == p.Variants[joint]) {
			return f
		}
	}
	return nil
}

// StruckFigure is what was struck at a joint and waits for an answer; nil where nothing does.
func (s *State) StruckFigure(joint string) *Figure {
	f := s.Figure(joint)
	if f == nil || f.Answered != nil || s.Plan.Joint(joint) == nil {
		return nil
	}
	return f
}

func (s *State) decideStrikeFigure(_ Meta, b StrikeFigure) (record.Body, error) {
	j := s.Plan.Joint(b.Joint)
	if j == nil {
		return nil, refuse(fault.Missing, "joint", "The plan has no such joint.", "Choose one from the plan.")
	}
	c := b.Correction
	r, err := recipe.Parse(c.Recipe)
	if err != nil {
		return nil, err
	}
	was := vehicle.Figure{Recipe: j.Recipe, Source: j.Source}
	if c.Variant != "" && c.Variant != s.Variants[j.ID] {
		i := slices.IndexFunc(j.Variants, func(v vehicle.Variant) bool { return v.Key == c.Variant })
		if i < 0 {
			return nil, nil // this vehicle carries no such hardware
		}
		was = vehicle.Figure{Recipe: j.Variants[i].Recipe, Source: j.Variants[i].Source}
	}
	if r.String() == was.Recipe && c.Source == was.Source {
		return nil, nil
	}
	return record.FigureStruck{
		Joint:   j.ID,
		Was:     was.Recipe,
		Recipe:  r.String(),
		Stages:  toStages(r.Stages),
		Source:  c.Source,
		Why:     c.Why,
		Act:     b.Act,
		Variant: c.Variant,
	}, nil
}

func (s *State) applyFigureStruck(e Event, b record.FigureStruck) {
	s.Figures = append(s.Figures, Figure{FigureStruck: b, By: e.By, At: e.At})
}

func (s *State) decideAnswerFigure(_ Meta, b AnswerFigure) (record.Body, error) {
	if s.StruckFigure(b.Joint) == nil {
		return nil, refuse(fault.Order, "joint", "No figure of this joint waits for an answer.", "Nothing to do.")
	}
	if !b.Take {
		if err := reason("reason", &b.Reason); err != nil {
			return nil, err
		}
	}
	return record.FigureAnswered(b), nil
}

// applyFigureAnswered puts the new figure into the plan. A fastener tightened to the
// old one is owed again; unless the new one only asks for more of the same torque, it
// is slackened first.
func (s *State) applyFigureAnswered(e Event, b record.FigureAnswered) {
	f := s.Figure(b.Joint)
	if f == nil {
		return
	}
	f.Answered = &b
	if !b.Take {
		return
	}
	if f.Variant != "" {
		s.respec(b.Joint, e.Seq, func(j *plan.Joint) {
			j.Variants = slices.Clone(j.Variants)
			for i := range j.Variants {
				if v := &j.Variants[i]; v.Key == f.Variant {
					v.Recipe = f.Recipe
					v.Stages = fromStages(f.Stages)
					v.Source = f.Source
				}
			}
		})
	}
	delete(s.Treated, b.Joint)
	old := s.stages[b.Joint]
	s.respec(b.Joint, e.Seq, func(j *plan.Joint) {
		struck := vehicle.Struck{Recipe: j.Recipe, By: e.By, Why: f.Why}
		j.Struck = append(slices.Clip(j.Struck), struck)
		j.Recipe = f.Recipe
		j.Spec.Stages = fromStages(f.Stages)
		j.Source = f.Source
		if f.Variant == "" {
			j.Variants = nil
		}
	})
	s.owedAnew(b.Joint, !risesFrom(old, s.stages[b.Joint]), e.Seq)
}

// risesFrom says that a joint tightened by the old stages can be taken on to the new
// ones: one torque each, and the new one is higher.
func risesFrom(old, next []recipe.Stage) bool {
	single := func(stages []recipe.Stage) bool {
		for _, st := range stages {
			if st.Kind != recipe.Torque || st.Target() != stages[0].Target() {
				return false
			}
		}
		return len(stages) > 0
	}
	return single(old) && single(next) && next[0].Target() > old[0].Target()
}

// keepFigures leaves the job's own figures in a plan made anew where the sheet has another one
// meanwhile: what was tightened to it stays what it was, and whether the job takes the new one
// is asked by its gate, not answered by planning.
func (s *State) keepFigures(next *plan.Plan) {
	next.Joints = slices.Clone(next.Joints)
	for i := range next.Joints {
		j := &next.Joints[i]
		was := s.Plan.Joint(j.ID)
		_, kit := s.Kits[j.ID]
		_, treated := s.Treated[j.ID]
		if kit || treated { // laid over the new plan again
			continue
		}
		if was == nil || was.Recipe == j.Recipe && len(was.Variants) == 0 {
			continue
		}
		asked := slices.ContainsFunc(s.Figures, func(f Figure) bool {
			return f.Joint == j.ID && (f.Answered == nil || !f.Answered.Take)
		})
		begun := slices.ContainsFunc(was.Letters, func(l string) bool { return s.Fastener(j.ID, l).Done > 0 })
		if !asked && !begun {
			continue
		}
		j.Recipe = was.Recipe
		j.Spec.Stages = was.Spec.Stages
		j.Source = was.Source
		j.Struck = was.Struck
		j.Variants = was.Variants
	}
}
