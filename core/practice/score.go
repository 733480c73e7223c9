package practice

import (
	"cmp"
	"maps"
	"slices"

	"lugtak/core/fact"
	"lugtak/core/plan"
)

// Score is what a run came to.
type Score struct {
	Of, Met int
	Faults  int             // that would have left with the car
	Misses  []Miss          // the worst harm first, then as they came
	Held    []Consequence   // what could have gone wrong and did not
	Skills  map[string]bool // met or not, by skill
	Late    float64         // minutes over the good time; 0 where it was kept
	Blocked int             // acts that would not come, a minute each
}

// Score adds a run up: everything that could have gone wrong in it, met or missed.
func (r *Run) Score() Score {
	s := Score{Skills: map[string]bool{}, Blocked: r.Blocked, Late: max(0, r.Minutes-r.GoodMin)}
	for _, m := range r.Misses {
		same := func(o Miss) bool { return o.ID == m.ID }
		if i := slices.IndexFunc(s.Misses, same); i >= 0 {
			s.Misses[i].Where += ", " + m.Where
			continue
		}
		s.Misses = append(s.Misses, m)
	}
	slices.SortStableFunc(s.Misses, func(a, b Miss) int {
		return cmp.Compare(slices.Index(harms, a.Harm), slices.Index(harms, b.Harm))
	})
	missed := func(c Consequence) bool {
		return slices.ContainsFunc(r.Misses, func(m Miss) bool { return m.ID == c.ID })
	}
	for _, m := range s.Misses {
		if m.Harm != Time {
			s.Faults++
		}
	}
	for _, c := range r.know.Consequences {
		gone := missed(c)
		if !gone && !r.could(&c) {
			continue
		}
		s.Of++
		was, seen := s.Skills[c.Skill]
		s.Skills[c.Skill] = !gone && (was || !seen)
		if !gone {
			s.Met++
			s.Held = append(s.Held, c)
		}
	}
	return s
}

// could says that a consequence could have come of what was done: an act turned on the fact it
// is about, or met what was hidden.
func (r *Run) could(c *Consequence) bool {
	switch c.Happens {
	case WrongPart:
		return len(r.settled) > 0
	case Sheared:
		return len(r.freed) > 0
	case WrongFigure:
		return slices.ContainsFunc(slices.Collect(maps.Keys(r.Shown)), func(joint string) bool { return r.checked[joint] })
	case WrongSuspect:
		return r.Named != ""
	case BadPull:
		return len(r.stages) > 0
	case LeftOpen:
		return r.Find == nil
	}
	for _, s := range r.window() {
		if !r.done[s.ID] {
			continue
		}
		if c.Undone != "" && c.Undone == s.Kind() {
			return true
		}
		for _, w := range s.Wants {
			b := fact.Breach{Fact: w.Fact, Wants: w.Values}
			if met := r.meets(s, &b); met != nil && met.ID == c.ID && r.turned(w.Fact.Subject) {
				return true
			}
		}
	}
	return false
}

// turned says that some step of the exercise brings a fact about.
func (r *Run) turned(subject string) bool {
	return slices.ContainsFunc(r.window(), func(s *plan.Step) bool { return slices.Contains(s.MakesFacts(), subject) })
}
