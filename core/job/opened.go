package job

import (
	"fmt"
	"strings"

	"lugtak/core/plan"
)

// Opened is what a joint took that was opened in a job.
type Opened struct {
	Joint   *plan.Joint
	Minutes float64 // hands on it, where they were timed
	Tool    string  // with which it was tightened last
	Stuck   string  // what was stuck, and what freed it; empty where nothing was
}

// Opened lists what each joint took that was opened, in the order of the plan.
func (s *State) Opened() []Opened {
	minutes := map[string]float64{}
	for _, t := range s.timed() {
		minutes[t.step.Joint] += t.minutes
	}
	var out []Opened
	for i := range s.Plan.Joints {
		j := &s.Plan.Joints[i]
		o := Opened{Joint: j, Minutes: minutes[j.ID]}
		opened := false
		for _, l := range j.Letters {
			f := s.Fastener(j.ID, l)
			opened = opened || f.Phase != Rest
			for _, id := range f.Pulls {
				if p := s.Pulls[id]; p.Counts() {
					o.Tool = p.Tool
				}
			}
		}
		if !opened || !s.opens(j.ID) {
			continue
		}
		o.Stuck = s.stuckAt(j.ID)
		out = append(out, o)
	}
	return out
}

// stuckAt says what was stuck at a joint and what it came to.
func (s *State) stuckAt(joint string) string {
	var says []string
	for _, t := range s.Troubles {
		if t.Joint != joint || t.Code != Stuck && t.Code != Sheared && t.Code != Rounded {
			continue
		}
		word := t.What
		for _, try := range t.Tries {
			if try.Outcome == Freed {
				word += fmt.Sprintf(", freed by %s at the %d. try", try.Rung, len(t.Tries))
			}
		}
		says = append(says, word)
	}
	return strings.Join(says, "; ")
}
