package practice

import (
	"cmp"
	"fmt"
	"hash/fnv"
	"slices"

	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/recipe"
)

// What is laid out to choose from, and what a step asks for.

// window are the steps that are practised, in the order of the plan.
func (r *Run) window() []*plan.Step {
	var out []*plan.Step
	in := r.From == ""
	for i := range r.Plan.Steps {
		s := &r.Plan.Steps[i]
		in = in || s.ID == r.From
		if in {
			out = append(out, s)
		}
		if s.ID == r.Until {
			break
		}
	}
	return out
}

// Ahead is how many acts are laid out to choose from.
const ahead = 5

// Offer lays out acts to choose from: the next of the plan among others that come later, in an
// order that tells nothing. Empty when all is done.
func (r *Run) Offer() []*plan.Step {
	var open []*plan.Step
	for _, s := range r.window() {
		if !r.done[s.ID] {
			open = append(open, s)
		}
	}
	if len(open) == 0 {
		return nil
	}
	byLot := func(a, b *plan.Step) int { return cmp.Compare(r.lot(a.ID), r.lot(b.ID)) }
	others := slices.Clone(open[1:min(len(open), 2*ahead-1)])
	slices.SortFunc(others, byLot)
	out := append([]*plan.Step{open[0]}, others[:min(len(others), ahead-1)]...)
	slices.SortFunc(out, byLot)
	return out
}

// Next is what the plan does next; nil when all is done.
func (r *Run) Next() *plan.Step {
	for _, s := range r.window() {
		if !r.done[s.ID] {
			return s
		}
	}
	return nil
}

func (r *Run) lot(id operation.StepID) uint64 {
	h := fnv.New64a()
	fmt.Fprint(h, r.Seed, id)
	return h.Sum64()
}

// Asks is what a step asks for before it is done: a part judged, a bar pulled, a pull; empty
// where hands alone do it.
func (r *Run) Asks(s *plan.Step) string {
	switch s.Verb {
	case operation.Compare:
		if r.Box(s.Part) != nil && r.settled[s.Part] == "" {
			return Judge
		}
	case operation.Crack:
		if r.Stuck(s) != nil {
			return Bar
		}
	case operation.Tighten:
		if letter, _ := r.Turn(s); letter != "" && !s.AfterDrive {
			return Pull
		}
	}
	return ""
}

// Stuck is the fastener of a step that sits fast; nil where none does any more.
func (r *Run) Stuck(s *plan.Step) *Seized {
	j := r.Plan.Joint(s.Joint)
	if j == nil {
		return nil
	}
	for _, l := range j.Letters {
		if x, fast := r.Fast[At(j.ID, l)]; fast && !r.freed[At(j.ID, l)] {
			return &x
		}
	}
	return nil
}

// pulledBy is how many of a joint's fasteners are pulled by the one who practises; the others
// follow by the same hand.
const pulledBy = 2

// Turn is the fastener of a step whose turn it is, with the stage it is at; empty when all are
// tight. What is not pulled to a figure goes along by hand.
func (r *Run) Turn(s *plan.Step) (letter string, stage int) {
	j := r.Plan.Joint(s.Joint)
	if j == nil {
		return "", 0
	}
	stages := j.Read()
	for _, l := range j.Letters[:min(pulledBy, len(j.Letters))] {
		for k := r.stages[At(j.ID, l)]; k < len(stages); k++ {
			if stages[k].Kind == recipe.Torque || stages[k].Kind == recipe.Angle {
				return l, k
			}
		}
	}
	return "", 0
}

// Recipe is what the sheet in the bay says of a joint: wrong, where it was copied wrong and
// nobody has held it against the second source.
func (r *Run) Recipe(j *plan.Joint) string {
	if shown, wrong := r.Shown[j.ID]; wrong && !r.checked[j.ID] {
		return shown
	}
	return j.Recipe
}

// Dangers are what an act would do to people as the car stands: shown whatever the level.
func (r *Run) Dangers(s *plan.Step) []string { return r.warns(s, People) }

// Advice is what an act would do to the car.
func (r *Run) Advice(s *plan.Step) []string { return r.warns(s, Vehicle) }

func (r *Run) warns(s *plan.Step, h Harm) []string {
	var out []string
	for _, b := range r.against(s) {
		if c := r.meets(s, b); c != nil && c.Harm == h && !slices.Contains(out, c.Law) {
			out = append(out, c.Law)
		}
	}
	return out
}
