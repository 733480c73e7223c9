package job

import (
	"cmp"
	"slices"

	"lugtak/core/fault"
	"lugtak/core/plan"
	"lugtak/core/recipe"
	"lugtak/core/record"
	"lugtak/core/thread"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
)

// guarded are the systems where another treatment is the foreman's to decide.
var guarded = []string{plan.Wheel, plan.Brake, plan.Steering}

// Treating reckons another treatment of a joint's threads: the figure that keeps its clamp.
func (p *Planning) Treating(joint, treatment string) (recipe.Treated, error) {
	j := p.Plan.Joint(joint)
	if j == nil {
		return recipe.Treated{}, refuse(fault.Missing, "joint", "The plan has no such joint.",
			"Choose one from the plan.")
	}
	if p.AsksVariant(j) {
		return recipe.Treated{}, refuse(fault.Order, "treatment",
			"Which bolt it is was not said yet, so its figure is not known.",
			"Say at the bench which one is in hand, then choose its treatment.")
	}
	f, ok := j.Fastener()
	if !ok {
		return recipe.Treated{}, refuse(fault.Missing, "joint", "The sheet does not say what the "+j.One+" is.",
			"Thread and class decide the clamp: add them to the sheet, or leave the treatment as it is.")
	}
	return recipe.Treat(recipe.Recipe{Stages: j.Read()}, f, thread.Treatment(treatment))
}

func (s *State) decideTreat(m Meta, b Treat) (record.Body, error) {
	to, err := thread.ParseTreatment(b.Treatment)
	if err != nil || b.Treatment == "" {
		return nil, refuse(fault.BadChoice, "treatment", "That is no treatment.", "Choose one of those listed.")
	}
	b.Treatment = string(to)
	got, err := s.Treating(b.Joint, b.Treatment)
	if err != nil {
		return nil, err
	}
	j := s.Plan.Joint(b.Joint)
	if slices.Contains(guarded, j.System) && m.Role != Foreman {
		return nil, refuse(fault.Forbidden, "treatment",
			"On wheel, brake and steering fasteners another treatment is the foreman's to decide.",
			"Ask the foreman to enter it, or leave the thread as the figure was written for it.")
	}
	if err := s.notTightened(m, j, "treatment", "the figure of the other treatment"); err != nil {
		return nil, err
	}
	if err := reason("reason", &b.Reason); err != nil {
		return nil, err
	}
	return record.Treated{
		Joint:     j.ID,
		Was:       cmp.Or(j.Treatment, string(thread.AsDelivered)),
		WasRecipe: j.Recipe,
		Treatment: b.Treatment,
		Recipe:    got.Recipe.String(),
		Stages:    toStages(got.Recipe.Stages),
		Reason:    b.Reason,
		ClampWasN: [3]float64{got.Was.Low, got.Was.Mid, got.Was.High},
		ClampN:    [3]float64{got.Now.Low, got.Now.Mid, got.Now.High},
	}, nil
}

func (s *State) applyTreated(e Event, b record.Treated) {
	s.treat(b, e.By, e.Seq)
	if was, twice := s.Treated[b.Joint]; twice { // what was written before the first
		b.WasRecipe = was.WasRecipe
	}
	s.Treated[b.Joint] = b
}

// treat puts the other treatment and its figure at the joint; what the sheet said stays
// readable.
func (s *State) treat(b record.Treated, by string, seq int) {
	s.respec(b.Joint, seq, func(j *plan.Joint) {
		why := unit.Capital(b.Treatment) + " instead of " + b.Was + ": " + b.Reason
		old := vehicle.Struck{Recipe: j.Recipe, By: by, Why: why}
		j.Struck = append(slices.Clip(j.Struck), old)
		j.Recipe = b.Recipe
		j.Spec.Stages = fromStages(b.Stages)
		j.Treatment = b.Treatment
		j.Source = "reckoned for " + b.Treatment + " by " + by + ", the clamp kept (VDI 2230)"
		j.Variants = nil
	})
}
