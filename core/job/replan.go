package job

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"lugtak/core/operation"
	"lugtak/core/schedule"
	"lugtak/core/unit"
)

func (s *State) replan(b Replanned) {
	plan := *s.Plan
	plan.Technicians = b.Technicians
	all := slices.Concat(plan.Steps, b.Steps)
	for _, x := range b.Steps {
		s.Steps[x.ID] = &StepState{}
	}
	for i := range all {
		all[i].Needs = slices.Concat(all[i].Needs, b.Needs[all[i].ID])
	}
	plan.Parts = slices.Concat(plan.Parts, b.Parts)
	plan.Steps = make([]operation.Step, 0, len(all))
	for _, id := range b.Order {
		if i := slices.IndexFunc(all, func(o operation.Step) bool { return o.ID == id }); i >= 0 {
			x := all[i]
			if m, ok := b.Minutes[id]; ok {
				x.Minutes = m
			}
			plan.Steps = append(plan.Steps, x)
		}
	}
	s.Plan = &plan
}

// Minutes reckoned for what a re-planning puts in (common practice; the shop's own
// times take over as soon as there are any).
const (
	extractMinutes = 25
	waitMinutes    = 120 // for a part that is on its way
)

// decideReplan heals the plan: what sheared gets a step to extract it, what waits
// for a part goes late, what is done stays. The order is the best one found for
// what is left.
func (s *State) decideReplan(b Replan) (Body, error) {
	if !s.HasPlan() {
		return nil, refuse("missing", "plan", "Nothing is planned yet.", "Plan the work first.")
	}
	if b.Technicians != 1 && b.Technicians != 2 {
		return nil, refuse("bad_choice", "hands", "One technician or two work on a job.", "Choose one of the two.")
	}
	out := Replanned{Technicians: b.Technicians, Minutes: map[string]float64{}, Needs: map[string][]string{}}
	var why []string
	if b.Slow != "" {
		st := s.Plan.Step(b.Slow)
		switch {
		case st == nil || s.StepDone(b.Slow):
			return nil, refuse("missing", "step", "That step is not open.", "Choose one that is still to do.")
		case !(b.Minutes > 0 && b.Minutes <= 600):
			return nil, refuse("out_of_range", "minutes", "That is no length of a step.", "Write minutes, from 1 to 600.")
		}
		out.Minutes[b.Slow] = b.Minutes
		why = append(why, fmt.Sprintf("“%s” takes %s minutes", st.Title, unit.Number(b.Minutes, 0)))
	}
	out.Order = s.Plan.StepIDs()
	for _, t := range s.OpenTroubles() {
		if x, p, ok := s.extraction(t); ok {
			out.Steps = append(out.Steps, x)
			out.Parts = append(out.Parts, p)
			why = append(why, x.Title)
			for _, o := range s.Plan.Steps { // nothing is put in or tightened round the hole
				if o.Joint == t.Joint && (o.Verb == operation.Start || o.Verb == operation.Tighten) && !s.StepDone(o.ID) {
					out.Needs[o.ID] = append(out.Needs[o.ID], x.ID)
				}
			}
			out.Order = slices.Insert(out.Order, slices.Index(out.Order, t.Step), x.ID) // the vehicle stands as it must there
		}
	}
	late := s.waiting()
	for _, p := range s.Plan.Parts {
		if _, ok := late[p.Key]; ok {
			why = append(why, p.Title+" is "+s.Parts[p.Key])
		}
	}
	if out.Technicians != max(1, s.Plan.Technicians) {
		why = append(why, fmt.Sprintf("%d at work", out.Technicians))
	}
	trial := *s
	trial.Steps = clonePointers(s.Steps)
	trial.replan(out)
	rest, err := trial.remaining(b.Costs, out.Technicians, late)
	if err != nil {
		return nil, err
	}
	out.Order = rest
	if len(why) == 0 {
		why = []string{"the best order for what is left"}
	}
	out.Why = unit.Capital(strings.Join(why, "; "))
	return out, nil
}

// extraction is the step a sheared fastener calls for, and the hardware.
func (s *State) extraction(t Trouble) (operation.Step, operation.Part, bool) {
	j, at := s.Plan.Joint(t.Joint), s.Plan.Step(t.Step)
	id := "extract." + t.Joint + "." + t.Letter
	if j == nil || at == nil || !strings.Contains(strings.ToLower(t.What), Sheared) || s.Plan.Step(id) != nil {
		return operation.Step{}, operation.Part{}, false
	}
	name := strings.TrimSpace(j.One + " " + t.Letter)
	x := operation.Step{ID: id, Verb: operation.Act, Title: "Extract the sheared " + name, How: "Drill true to the middle, extractor, or weld a nut on; thread cleaned after.", Place: at.Place, Tool: "extractor", Minutes: extractMinutes,
		Position: at.Position, Corner: j.Corner, Owner: at.Owner, Scene: at.Scene, Needs: slices.Clone(at.Needs), Because: "Before new ones go in: the thread must be whole.",
		Caution: "Face shield. Heat and sparks away from fuel, rubber, airbags."}
	return x, operation.Part{Key: id, Title: name + ", new: " + j.Thread + " " + j.Class, Count: 1, OneUse: true}, true
}

// overrun is when a step at hand has taken so much longer than reckoned that the plan
// should be asked, and beyond which somebody has gone home.
const (
	overrun  = 1.5
	gaveOver = 8 * time.Hour
)

// Overrun is the step at hand and the minutes it has taken, where that is half as long
// again as reckoned; nil where the job keeps its times or is not at work.
func (s *State) Overrun(now time.Time) (*operation.Step, float64) {
	st := s.Plan.Step(s.Next())
	at := now.Sub(s.Last)
	if st == nil || !s.Worked() || s.Signature != nil || at > gaveOver || at.Minutes() < overrun*st.Minutes {
		return nil, 0
	}
	return st, math.Ceil(at.Minutes())
}

// waiting lists the parts that are not there, with the steps that need them.
func (s *State) waiting() map[string][]string {
	out := map[string][]string{}
	for _, p := range s.Plan.Parts {
		if st := s.Parts[p.Key]; st != "missing" && st != "ordered" {
			continue
		}
		for _, x := range s.Plan.Steps {
			if !s.StepDone(x.ID) && (x.Part == p.Key || x.Verb == operation.Start && s.Plan.Joint(x.Joint).Sheet == p.Key) {
				out[p.Key] = append(out[p.Key], x.ID)
			}
		}
	}
	return out
}

// remaining puts the steps not done in the best order, behind those that are.
func (s *State) remaining(costs schedule.Costs, technicians int, late map[string][]string) ([]string, error) {
	p := s.Plan.Problem(costs, technicians)
	var order []string
	gone := map[string]bool{}
	for _, x := range s.Plan.Steps {
		if s.StepDone(x.ID) {
			gone[x.ID] = true
			order = append(order, x.ID)
		}
	}
	p.Steps = slices.DeleteFunc(p.Steps, func(x schedule.Step) bool { return gone[x.ID] })
	for i := range p.Steps {
		x := &p.Steps[i]
		x.Needs = slices.DeleteFunc(x.Needs, func(n string) bool { return gone[n] })
		if done := len(s.Steps[x.ID].Letters); done > 0 {
			if j := s.Plan.Joint(s.Plan.Step(x.ID).Joint); j != nil {
				x.Minutes = math.Max(0.5, x.Minutes*float64(len(j.Letters)-done)/float64(len(j.Letters)))
			}
		}
		for key, steps := range late {
			if slices.Contains(steps, x.ID) {
				x.Needs = append(x.Needs, "wait:"+key)
			}
		}
	}
	for key := range late {
		p.Steps = append(p.Steps, schedule.Step{ID: "wait:" + key, Minutes: waitMinutes})
	}
	if len(p.Steps) == 0 {
		return order, nil
	}
	sol, err := schedule.Solve(p)
	if err != nil {
		return nil, err
	}
	for _, x := range sol.Order {
		if !strings.HasPrefix(x.ID, "wait:") {
			order = append(order, x.ID)
		}
	}
	return order, nil
}
