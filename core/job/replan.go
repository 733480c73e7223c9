package job

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/record"
	"lugtak/core/schedule"
	"lugtak/core/unit"
)

// Replan is the command that puts what is left in order anew. Slow names a step that
// takes Minutes in all.
type Replan struct {
	Costs       schedule.Costs     `json:"-"`
	Rescues     []operation.Rescue `json:"-"` // what the library has for mishaps
	Technicians int
	Slow        operation.StepID
	Minutes     float64
}

// Minutes of a re-planning (common practice).
const (
	waitMinutes = 120 // for a part that is on its way
	longestStep = 600 // anything beyond is no step
)

func (s *State) applyReplanned(e Event, b record.Replanned) {
	was := s.Plan
	s.replan(b)
	if len(b.Steps) > 0 {
		s.stepsSeq = e.Seq
	}
	s.replanned(e, b.Why, was)
}

// replanned keeps why the plan was made anew, and what that changed.
func (s *State) replanned(e Event, why string, was *plan.Plan) {
	change := plan.Changes(was, s.Plan, s.StepDone)
	s.Replans = append(slices.Clip(s.Replans), Replanning{why, e.By, e.At, change})
}

func (s *State) replan(b record.Replanned) {
	healed := *s.Plan
	healed.Technicians = b.Technicians
	all := slices.Concat(healed.Steps, each(b.Steps, fromStep))
	for _, x := range b.Steps {
		s.Steps[operation.StepID(x.ID)] = &StepState{}
	}
	at := map[string]int{}
	for i := range all {
		all[i].Needs = slices.Concat(all[i].Needs, stepIDs(b.Needs[string(all[i].ID)]))
		at[string(all[i].ID)] = i
	}
	healed.Parts = slices.Concat(healed.Parts, each(b.Parts, fromPart))
	healed.Steps = make([]plan.Step, 0, len(all))
	for _, id := range b.Order {
		i, known := at[id]
		if !known {
			continue
		}
		x := all[i]
		if m, longer := b.Minutes[id]; longer {
			x.Minutes = m
		}
		healed.Steps = append(healed.Steps, x)
	}
	s.Plan = &healed
}

// decideReplan heals the plan: what sheared gets a step to extract it, what waits for
// a part goes late, what is done stays. The order is the best one found for what is
// left.
func (s *State) decideReplan(_ Meta, b Replan) (record.Body, error) {
	if !s.HasPlan() {
		return nil, refuse(fault.Missing, "plan", "Nothing is planned yet.", "Plan the work first.")
	}
	if b.Technicians != 1 && b.Technicians != 2 {
		return nil, refuse(fault.BadChoice, "hands", "One technician or two work on a job.", "Choose one of the two.")
	}
	out := record.Replanned{
		Technicians: b.Technicians,
		Minutes:     map[string]float64{},
		Needs:       map[string][]string{},
		Order:       texts(s.Plan.StepIDs()),
	}
	slower, err := s.slower(b, &out)
	if err != nil {
		return nil, err
	}
	why := slices.Concat(slower, s.extractions(b.Rescues, &out))
	late := s.waiting()
	for _, p := range s.Plan.Parts {
		if _, ok := late[p.Key]; ok {
			why = append(why, fmt.Sprintf("%s is %s", p.Title, s.Parts[p.Key]))
		}
	}
	if out.Technicians != max(1, s.Plan.Technicians) {
		why = append(why, fmt.Sprintf("%d at work", out.Technicians))
	}
	trial := s.clone()
	trial.replan(out)
	if out.Order, err = trial.remaining(b.Costs, out.Technicians, late); err != nil {
		return nil, err
	}
	if len(why) == 0 {
		why = []string{"the best order for what is left"}
	}
	out.Why = unit.Capital(strings.Join(why, "; "))
	return out, nil
}

// slower notes the step that takes longer than reckoned.
func (s *State) slower(b Replan, out *record.Replanned) ([]string, error) {
	if b.Slow == "" {
		return nil, nil
	}
	st := s.Plan.Step(b.Slow)
	switch {
	case st == nil || s.StepDone(b.Slow):
		return nil, refuse(fault.Missing, "step", "That step is not open.", "Choose one that is still to do.")
	case !(b.Minutes > 0 && b.Minutes <= longestStep):
		return nil, refuse(fault.OutOfRange, "minutes", "That is no length of a step.", "Write minutes, from 1 to 600.")
	}
	out.Minutes[string(b.Slow)] = b.Minutes
	return []string{fmt.Sprintf("“%s” takes %s minutes", st.Title, unit.Number(b.Minutes, 0))}, nil
}

// extractions puts in a step for each trouble the plan has a way out of, with new hardware for a fastener. Nothing is
// put in or tightened round its hole before, and the vehicle stands as it must there.
func (s *State) extractions(rescues []operation.Rescue, out *record.Replanned) []string {
	var why []string
	for _, t := range s.OpenTroubles() {
		x, p, ok := s.extraction(rescues, t)
		if !ok {
			continue
		}
		out.Steps = append(out.Steps, toStep(x))
		if p.Key != "" {
			out.Parts = append(out.Parts, toPart(p))
		}
		why = append(why, x.Title)
		for _, o := range s.Plan.Steps {
			waits := o.ID == t.Step
			if t.Joint != "" {
				waits = o.Joint == t.Joint && (o.Verb == operation.Start || o.Verb == operation.Tighten)
			}
			if waits && !s.StepDone(o.ID) {
				out.Needs[string(o.ID)] = append(out.Needs[string(o.ID)], string(x.ID))
			}
		}
		out.Order = slices.Insert(out.Order, slices.Index(out.Order, string(t.Step)), string(x.ID))
	}
	return why
}

// extraction is the step a trouble calls for, and the hardware where it is a fastener's.
func (s *State) extraction(rescues []operation.Rescue, t Trouble) (plan.Step, operation.Part, bool) {
	j, at := s.Plan.Joint(t.Joint), s.Plan.Step(t.Step)
	id := "extract." + string(t.Step)
	if j != nil {
		id = "extract." + t.Joint + "." + t.Letter
	}
	k := slices.IndexFunc(rescues, func(r operation.Rescue) bool { // what asks is taken by nobody who did not answer
		return TroubleCode(r.Trouble) == t.Code && len(r.Asks) == 0
	})
	if at == nil || k < 0 || !s.Heals(t) || (j == nil) != t.Code.inside() || s.Plan.Step(operation.StepID(id)) != nil {
		return plan.Step{}, operation.Part{}, false
	}
	step := plan.Step{
		Step: operation.Step{
			ID:    operation.StepID(id),
			Verb:  operation.Act,
			Place: at.Place,
		},
		Position: at.Position,
		Frees:    t.frees(),
		Corner:   at.Corner,
		Owner:    at.Owner,
		Scene:    at.Scene,
		Needs:    s.beforeOut(t),
	}
	rescued(&step, rescues[k], s.oneOf(t))
	if j == nil {
		return step, operation.Part{}, true
	}
	step.Corner = j.Corner
	title := s.oneOf(t) + ", new: " + j.Thread + " " + j.Class
	return step, operation.Part{Key: id, Title: title, Count: 1, OneUse: true}, true
}

// beforeOut is what comes before a trouble is put right: what its step needs and, of a fastener that comes out by it,
// what the step needs that takes it out. What waits for the step where a fastener broke cannot come before, this one or
// another, or two that broke would wait for each other; what that in turn needs can. Its own joint is the hole the new
// one goes into.
func (s *State) beforeOut(t Trouble) []operation.StepID {
	needs := s.Plan.Step(t.Step).Needs
	if t.Joint != "" && s.Fastener(t.Joint, t.Letter).Phase != InHand {
		for _, x := range s.Plan.Steps {
			if x.Joint == t.Joint && x.Verb == operation.Remove {
				needs = slices.Concat(needs, x.Needs)
			}
		}
	}
	waits := map[operation.StepID]bool{t.Step: true}
	for _, o := range s.OpenTroubles() {
		if o.Joint != "" && s.Heals(o) {
			waits[o.Step] = true
		}
	}
	for _, x := range s.Plan.Steps { // in the plan's order each stands behind what it needs
		waits[x.ID] = waits[x.ID] || slices.ContainsFunc(x.Needs, func(n operation.StepID) bool { return waits[n] })
	}
	var out []operation.StepID
	seen := map[operation.StepID]bool{}
	var take func(needs []operation.StepID)
	take = func(needs []operation.StepID) {
		for _, n := range needs {
			x := s.Plan.Step(n)
			switch {
			case x == nil || seen[n]:
			case waits[n] || t.Joint != "" && x.Joint == t.Joint:
				seen[n] = true
				take(x.Needs)
			default:
				seen[n] = true
				out = append(out, n)
			}
		}
	}
	take(needs)
	return out
}

// oneOf is the fastener of a trouble as people say it, empty for that of a step.
func (s *State) oneOf(t Trouble) string {
	if j := s.Plan.Joint(t.Joint); j != nil {
		return trimmed(j.One + " " + t.Letter)
	}
	return ""
}

// rescued puts a way out into its step.
func rescued(step *plan.Step, r operation.Rescue, name string) {
	step.Title = strings.ReplaceAll(r.Title, "{one}", name)
	step.How = r.How
	step.Tool = r.Tool
	step.Minutes = r.Minutes
	step.Because = r.Because
	step.Caution = r.Caution
}

// ChooseRescue takes another way out of what broke, where its step is not done yet.
type ChooseRescue struct {
	Step    operation.StepID
	Way     string
	Said    []string           // of what the way asks
	Rescues []operation.Rescue `json:"-"`
}

// WaysOut are the ways there are of doing a step that frees a fastener, the one that is
// taken unless somebody chooses first; none for any other step.
func (s *State) WaysOut(rescues []operation.Rescue, st *plan.Step) []operation.Rescue {
	t := s.troubleOf(st)
	if t == nil {
		return nil
	}
	var out []operation.Rescue
	for _, r := range rescues {
		if TroubleCode(r.Trouble) == t.Code {
			out = append(out, r)
		}
	}
	return out
}

// troubleOf is the open trouble of the fastener a step was put in for; nil for others.
func (s *State) troubleOf(st *plan.Step) *Trouble {
	if st == nil || st.Frees == "" {
		return nil
	}
	for _, t := range s.OpenTroubles() {
		if t.frees() == st.Frees {
			return &t
		}
	}
	return nil
}

func (s *State) decideChooseRescue(_ Meta, b ChooseRescue) (record.Body, error) {
	st := s.Plan.Step(b.Step)
	t := s.troubleOf(st)
	if t == nil || s.StepDone(b.Step) {
		return nil, refuse(fault.BadChoice, "step", "There is nothing left to free by that step.", "Reload the plan.")
	}
	ways := s.WaysOut(b.Rescues, st)
	i := slices.IndexFunc(ways, func(r operation.Rescue) bool { return r.Way == b.Way })
	if i < 0 {
		return nil, refuse(fault.BadChoice, "way", "There is no such way out.", "Choose one of those shown.")
	}
	for _, asked := range ways[i].Asks {
		if !slices.Contains(b.Said, asked) {
			return nil, refuse(fault.Missing, "said", "It is not said: "+asked+".",
				"See to it and say so, or take another way out.")
		}
	}
	step := *st
	rescued(&step, ways[i], s.oneOf(*t))
	return record.RescueChosen{Way: b.Way, Step: toStep(step), Said: ways[i].Asks}, nil
}

func (s *State) applyRescueChosen(_ Event, b record.RescueChosen) {
	step := fromStep(b.Step)
	if t := s.troubleOf(&step); t != nil {
		i := slices.IndexFunc(s.Troubles, func(o Trouble) bool { return o.ID == t.ID })
		s.Troubles[i].Said = b.Said
	}
	healed := *s.Plan
	healed.Steps = slices.Clone(healed.Steps)
	for i := range healed.Steps {
		if healed.Steps[i].ID == step.ID {
			healed.Steps[i] = step
		}
	}
	s.Plan = &healed
}

// overrun is when a step at hand has taken so much longer than reckoned that the plan
// should be asked, and beyond gaveOver somebody has gone home.
const (
	overrun  = 1.5
	gaveOver = 8 * time.Hour
)

// Overrun is the step at hand and the minutes it has taken, where that is half as long
// again as reckoned; nil where the job keeps its times or is not at work.
func (s *State) Overrun(now time.Time) (*plan.Step, float64) {
	st := s.Plan.Step(s.Next())
	at := now.Sub(s.Last)
	idle := st == nil || !s.Begun() || s.Signature != nil || at > gaveOver
	if idle || at.Minutes() < overrun*st.Minutes {
		return nil, 0
	}
	return st, math.Ceil(at.Minutes())
}

// waiting lists the parts that are not there, with the steps that need them.
func (s *State) waiting() map[string][]string {
	out := map[string][]string{}
	for _, p := range s.Plan.Parts {
		if st := s.Parts[p.Key]; st != Missing && st != Ordered {
			continue
		}
		for _, x := range s.Plan.Steps {
			startsIt := x.Verb == operation.Start && s.Plan.Joint(x.Joint).Sheet == p.Key
			if !s.StepDone(x.ID) && (x.Part == p.Key || startsIt) {
				out[p.Key] = append(out[p.Key], string(x.ID))
			}
		}
	}
	return out
}

// Needed is the key of the part a step cannot be done without; empty where it needs none.
func (s *State) Needed(id operation.StepID) string {
	st := s.Plan.Step(id)
	if st == nil {
		return ""
	}
	key := st.Part
	if j := s.Plan.Joint(st.Joint); j != nil && st.Verb == operation.Start {
		key = j.Sheet
	}
	for _, p := range s.Plan.Parts {
		if p.Key == key {
			return key
		}
	}
	return ""
}

// waitFor names the waiting for a part among the steps of a schedule.
const waitFor = "wait:"

// remaining puts the steps not done in the best order, behind those that are.
func (s *State) remaining(costs schedule.Costs, technicians int, late map[string][]string) ([]string, error) {
	p := s.Plan.Problem(costs, technicians)
	var order []string
	gone := map[string]bool{}
	for _, x := range s.Plan.Steps {
		if s.StepDone(x.ID) {
			gone[string(x.ID)] = true
			order = append(order, string(x.ID))
		}
	}
	p.Steps = slices.DeleteFunc(p.Steps, func(x schedule.Step) bool { return gone[x.ID] })
	for i := range p.Steps {
		x := &p.Steps[i]
		x.Needs = slices.DeleteFunc(x.Needs, func(n string) bool { return gone[n] })
		if st := s.Plan.Step(operation.StepID(x.ID)); st != nil {
			x.Needs = append(x.Needs, texts(s.waitsFor(st))...)
		}
		x.Minutes = s.minutesLeft(operation.StepID(x.ID), x.Minutes)
		for key, steps := range late {
			if slices.Contains(steps, x.ID) {
				x.Needs = append(x.Needs, waitFor+key)
			}
		}
	}
	waits := map[string]bool{}
	for key := range late {
		wait := schedule.Step{ID: waitFor + key, Minutes: s.waits(key, s.Last)}
		waits[wait.ID] = true
		p.Steps = append(p.Steps, wait)
	}
	if len(p.Steps) == 0 {
		return order, nil
	}
	sol, err := schedule.Solve(p)
	if err != nil {
		return nil, err
	}
	for _, x := range sol.Order {
		if !waits[x.ID] {
			order = append(order, x.ID)
		}
	}
	return order, nil
}

// leastLeft is what a step half done still takes, minutes.
const leastLeft = 0.5

// minutesLeft is what a step still takes when some of its fasteners are done.
func (s *State) minutesLeft(step operation.StepID, minutes float64) float64 {
	done := len(s.Steps[step].Letters)
	j := s.Plan.Joint(s.Plan.Step(step).Joint)
	if done == 0 || j == nil {
		return minutes
	}
	all := float64(len(j.Letters))
	return math.Max(leastLeft, minutes*(all-float64(done))/all)
}
