package job

import (
	"math"
	"slices"
	"strings"
	"time"

	"lugtak/core/inspect"
	"lugtak/core/plan"
	"lugtak/core/thread"
	"lugtak/core/vehicle"
)

// RodTurns is what was counted on one tie rod.
type RodTurns struct {
	Corner  vehicle.Corner
	Out, In float64 // turns; In is 0 until the end is on again
	ToeMM   float64 // what the difference does at the rim, where the vehicle's arm is known
	ToeDeg  float64
	ToeSure float64 // one standard error of counts and lengths
	Known   bool    // the toe could be reckoned
}

// Turns lists the tie rods whose turns were counted, by side. What was counted out
// and not in again moves the toe of that wheel.
func (s *State) Turns() []RodTurns {
	var out []RodTurns
	for _, x := range s.Plan.Steps {
		if x.Counts != "out" || !s.Steps[x.ID].Done {
			continue
		}
		t := RodTurns{Corner: x.Corner, Out: s.Steps[x.ID].Turns}
		for _, y := range s.Plan.Steps {
			if y.Counts == "in" && y.Corner == x.Corner && s.Steps[y.ID].Done {
				t.In = s.Steps[y.ID].Turns
			}
		}
		pitch := s.rodPitch(x.Corner)
		if t.In > 0 && pitch > 0 && s.Plan.Outline.Arm > 0 {
			arm, rim := s.Plan.Outline.Arm, s.Plan.Outline.Rim
			deg, sure, err := inspect.ToeChange(t.Out, t.In, s.longer(x.Corner), pitch, arm, rim)
			if err == nil {
				t.ToeDeg, t.ToeSure, t.Known = deg, sure, true
				t.ToeMM = rim * math.Sin(deg*math.Pi/180)
			}
		}
		out = append(out, t)
	}
	return out
}

// rodPitch is the pitch of a corner's tie rod, mm; 0 where no sheet says it.
func (s *State) rodPitch(c vehicle.Corner) float64 {
	for _, j := range s.Plan.Joints {
		if th, err := thread.Parse(j.Thread); err == nil && j.Corner == c && strings.HasSuffix(j.ID, ".locknut") {
			return th.P
		}
	}
	return 0
}

// StartTurns is where a corner's new rod end is set before the alignment: the turns that were counted off, and as many
// more as it is longer than the old one, in quarters. Both are 0 where none were counted.
func (s *State) StartTurns(c vehicle.Corner) (off, start float64) {
	off = s.turnsOut(c)
	if pitch := s.rodPitch(c); off > 0 && pitch > 0 {
		return off, math.Round(4*(off+s.longer(c)/pitch)) / 4
	}
	return off, off
}

// longer is how much longer a corner's new rod end is than its old one, mm; 0 where it was not
// laid beside it.
func (s *State) longer(c vehicle.Corner) float64 {
	for _, p := range s.Plan.Parts {
		m := s.Match(p.Key)
		if p.Kind != "tie rod" || m == nil || !m.Accept || !strings.HasSuffix(p.Key, "."+string(c)) {
			continue
		}
		if old, now := m.Old["length_mm"], m.New["length_mm"]; old > 0 && now > 0 {
			return now - old
		}
	}
	return 0
}

// turnsOut is what was counted off a corner's tie rod, 0 if nothing was.
func (s *State) turnsOut(c vehicle.Corner) float64 {
	for _, t := range s.Turns() {
		if t.Corner == c {
			return t.Out
		}
	}
	return 0
}

// Tray is what lies in one tray: out of one joint on one side.
type Tray struct {
	Name     string
	Joint    *plan.Joint
	Out, In  int // fasteners that came out, and that went back or were replaced
	Standing bool
}

// Trays lists the trays of the job, in the order of the plan's joints. Standing is
// one that still holds something.
func (s *State) Trays() []Tray {
	var out []Tray
	for i := range s.Plan.Joints {
		j := &s.Plan.Joints[i]
		t := Tray{Name: j.Tray, Joint: j}
		for _, l := range j.Letters {
			switch f := s.Fastener(j.ID, l); {
			case f.Phase == Out:
				t.Out++
			case f.Phase == InHand:
				t.Out++
				t.In++
			}
		}
		t.Standing = t.Out > t.In
		out = append(out, t)
	}
	return out
}

// Took is how long each step took, in minutes, by owner.step: from what the same
// person kept before it to what they kept of it last. A step that took four times
// its minutes was broken off, and is left out, as is one kept with the one before.
func (s *State) Took() map[string][]float64 {
	out := map[string][]float64{}
	for _, t := range s.timed() {
		name := strings.TrimSuffix(string(t.step.ID), "."+string(t.step.Corner))
		out[name] = append(out[name], t.minutes)
	}
	return out
}

// timed is a step that was timed.
type timed struct {
	step    *plan.Step
	minutes float64
}

// timed lists the steps that were timed, in the order they were kept.
func (s *State) timed() []timed {
	type kept struct {
		step *plan.Step
		by   string
		at   time.Time
	}
	var all []kept
	for i := range s.Plan.Steps {
		x := &s.Plan.Steps[i]
		st := s.Steps[x.ID]
		k := kept{x, st.By, st.At}
		for _, id := range s.PullOrder {
			if p := s.Pulls[id]; p.Step == x.ID && p.At.After(k.at) {
				k.by, k.at = p.By, p.At
			}
		}
		if !k.at.IsZero() && x.Hands() {
			all = append(all, k)
		}
	}
	slices.SortStableFunc(all, func(a, b kept) int { return a.at.Compare(b.at) })
	last := map[string]time.Time{}
	var out []timed
	for _, k := range all {
		before, ok := last[k.by]
		last[k.by] = k.at
		m := k.at.Sub(before).Minutes()
		if ok && m > 0.1 && m < 4*k.step.Minutes {
			out = append(out, timed{k.step, m})
		}
	}
	return out
}
