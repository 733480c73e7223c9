package practice

import (
	"cmp"
	"slices"
)

// Past is a run that has ended: which exercise it was, and its skills, met or not.
type Past struct {
	Exercise string
	Skills   map[string]bool
}

// Skilled is one skill with the last goes at it, the newest last.
type Skilled struct {
	Skill string
	Last  []bool
}

// lastGoes are as many goes at a skill as say how somebody does at it now.
const lastGoes = 5

// Weak says that more of the last goes were missed than met.
func (s Skilled) Weak() bool { return s.missed()*2 > len(s.Last) }

func (s Skilled) missed() int {
	n := 0
	for _, met := range s.Last {
		if !met {
			n++
		}
	}
	return n
}

// Skills are those somebody has been at, the weakest first, by the share that was missed; past
// has the newest first.
func Skills(past []Past) []Skilled {
	var out []Skilled
	for _, r := range past {
		for skill, met := range r.Skills {
			i := slices.IndexFunc(out, func(x Skilled) bool { return x.Skill == skill })
			if i < 0 {
				out = append(out, Skilled{Skill: skill})
				i = len(out) - 1
			}
			if len(out[i].Last) < lastGoes {
				out[i].Last = append([]bool{met}, out[i].Last...)
			}
		}
	}
	slices.SortFunc(out, func(a, b Skilled) int {
		return cmp.Or(b.missed()*len(a.Last)-a.missed()*len(b.Last), cmp.Compare(a.Skill, b.Skill))
	})
	return out
}

// Repeat is the exercise that trains the weakest skill: the shortest in which it has counted;
// empty where none is weak.
func Repeat(past []Past, good func(exercise string) (minutes float64, ok bool)) string {
	skills := Skills(past)
	if len(skills) == 0 || !skills[0].Weak() {
		return ""
	}
	best, least := "", 0.0
	for _, r := range past {
		minutes, ok := good(r.Exercise)
		if _, counts := r.Skills[skills[0].Skill]; ok && counts && (best == "" || minutes < least) {
			best, least = r.Exercise, minutes
		}
	}
	return best
}
