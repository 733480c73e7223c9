package plan

import (
	"slices"

	"lugtak/core/operation"
)

// Change is what planning anew did to a plan under way. Every step of the new plan is
// counted once: done, new, earlier, later, or as it stood among those that are left.
type Change struct {
	Done, Stood         int
	New, Earlier, Later []string // titles, in the new order
	Gone                []string // left in the old plan, not in the new one
	Was, Now            float64  // minutes of hands on what is left
}

// Changes holds a plan against the one before it. The steps that stand are the longest
// run that kept its order: the fewest steps are then told to have moved.
func Changes(was, now *Plan, done func(operation.StepID) bool) Change {
	var out Change
	before := map[operation.StepID]int{} // place in the old plan
	for i, s := range was.Steps {
		before[s.ID] = i
		if done(s.ID) {
			continue
		}
		out.Was += s.HandMinutes()
		if now.Step(s.ID) == nil {
			out.Gone = append(out.Gone, s.Title)
		}
	}
	var left []Step
	var places []int
	for _, s := range now.Steps {
		if done(s.ID) {
			out.Done++
			continue
		}
		out.Now += s.HandMinutes()
		place, known := before[s.ID]
		if !known {
			out.New = append(out.New, s.Title)
			continue
		}
		left = append(left, s)
		places = append(places, place)
	}
	out.moved(left, places)
	return out
}

// HandMinutes is how long hands are on the step; a soak works by itself.
func (s *Step) HandMinutes() float64 {
	if !s.Hands() {
		return 0
	}
	return s.Minutes
}

// moved tells the steps that were in the old plan, with their places there, apart.
func (c *Change) moved(left []Step, places []int) {
	stands := longestRun(places)
	sorted := slices.Sorted(slices.Values(places))
	for i, s := range left {
		was, _ := slices.BinarySearch(sorted, places[i])
		switch {
		case stands[i]:
			c.Stood++
		case i < was:
			c.Earlier = append(c.Earlier, s.Title)
		default:
			c.Later = append(c.Later, s.Title)
		}
	}
}

// longestRun marks a longest subsequence that rises.
func longestRun(xs []int) []bool {
	length, from := make([]int, len(xs)), make([]int, len(xs))
	best := -1
	for i, x := range xs {
		length[i], from[i] = 1, -1
		for k := range i {
			if xs[k] < x && length[k] >= length[i] {
				length[i], from[i] = length[k]+1, k
			}
		}
		if best < 0 || length[i] > length[best] {
			best = i
		}
	}
	in := make([]bool, len(xs))
	for ; best >= 0; best = from[best] {
		in[best] = true
	}
	return in
}
