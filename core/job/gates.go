package job

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"lugtak/core/operation"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
)

// Gate is a rule that blocks the signature until it is met.
type Gate struct {
	Key       string
	Title     string
	Remedy    string
	Step      string // where it is met
	Met       bool
	Passable  bool // a deviation may pass it over
	Second    bool // that deviation needs a second person
	Deviation *Deviation
}

const debtPrefix = "debt:"

func debtOf(gate string) (string, bool) { return strings.CutPrefix(gate, debtPrefix) }

// Deviation finds the deviation signed for a gate.
func (s *State) Deviation(gate string) *Deviation {
	for i := range s.Deviations {
		if s.Deviations[i].Gate == gate {
			return &s.Deviations[i]
		}
	}
	return nil
}

// Gates lists every gate of the job, the open ones first.
func (s *State) Gates() []Gate {
	var out []Gate
	add := func(g Gate) {
		g.Deviation = s.Deviation(g.Key)
		out = append(out, g)
	}
	if !s.HasPlan() {
		add(Gate{Key: "plan", Title: "Nothing is planned", Remedy: "Finish the walk-round and plan the work, or say why nothing is done.", Passable: true})
	}
	for i := range s.Plan.Joints {
		s.jointGates(&s.Plan.Joints[i], add)
	}
	for _, t := range s.Troubles {
		add(Gate{Key: "trouble:" + t.ID, Title: "Trouble: " + t.What, Remedy: "Clear it at its step.", Step: t.Step, Met: t.Cleared != nil})
	}
	for _, g := range proofs {
		if step := s.proves(g.Key); step != "" {
			g.Step = step
			g.Met = s.Steps[step].Done
			add(g)
		}
	}
	in := s.SupportsIn()
	var what []string
	for k, n := range in {
		what = append(what, fmt.Sprintf("%d × %s", n, k))
	}
	slices.Sort(what)
	g := Gate{Key: "supports", Title: "Supports, hooks and wedges counted out", Remedy: "Take them out and keep the steps that count them.", Met: len(in) == 0 && s.anySupportUsed()}
	if len(what) > 0 {
		g.Title = "Still in: " + strings.Join(what, ", ")
	}
	add(g)
	left, first := 0, ""
	for _, st := range s.Plan.Steps {
		if !s.StepDone(st.ID) && st.Verb != operation.Tighten {
			if left++; first == "" {
				first = st.ID
			}
		}
	}
	g = Gate{Key: "steps", Title: "Every step kept", Remedy: "Go back to the bench and keep them, or say why they were not needed.", Step: first, Met: left == 0, Passable: true, Second: true}
	if left > 0 {
		g.Title = fmt.Sprintf("%d steps not kept", left)
	}
	add(g)
	slices.SortStableFunc(out, func(a, b Gate) int { return b2i(a.closed()) - b2i(b.closed()) })
	return out
}

func (g Gate) closed() bool { return g.Met || g.Deviation != nil }

func b2i(b bool) int {
	if b {
		return 1
	}
	return 0
}

// proofs are gates that one step of the plan meets. A brake without pressure
// and a wheel not looked at again are not passed over.
var proofs = []Gate{
	{Key: "pedal", Title: "Brake pedal pumped hard before moving", Remedy: "Pump until it is high and firm, and keep that step."},
	{Key: "drive", Title: "Road test driven", Remedy: "Drive the manoeuvres and keep the step.", Passable: true, Second: true},
	{Key: "alignment", Title: "Alignment answered", Remedy: "Answer the step; unanswered means yes.", Passable: true, Second: true},
	{Key: "tools", Title: "Tools counted", Remedy: "Count them and keep the step.", Passable: true},
}

func (s *State) proves(key string) string {
	for _, st := range s.Plan.Steps {
		if st.Proves == key {
			return st.ID
		}
	}
	return ""
}

func (s *State) anySupportUsed() bool {
	for _, st := range s.Plan.Steps {
		if len(st.Puts) > 0 && !s.Steps[st.ID].Done {
			return false
		}
	}
	return true
}

func (s *State) jointGates(j *operation.PlanJoint, add func(Gate)) {
	second := slices.Contains(s.Second, j.System)
	step := s.tightenStep(j.ID, false)
	touched, renewed := false, true
	for _, l := range j.Letters {
		f := s.Fasteners[j.ID+"#"+l]
		touched = touched || f.Phase != Rest
		renewed = renewed && (f.Phase == Rest || f.Renewed)
		where := step
		title := fmt.Sprintf("%s %s owed: %s", unit.Capital(j.One), l, f.Mark().Words())
		remedy := "Tighten it to its recipe, " + j.Says() + "."
		if j.Again && f.Done == f.Stages-1 {
			where = s.tightenStep(j.ID, true)
			title, remedy = fmt.Sprintf("%s %s again after the drive", unit.Capital(j.One), l), "Go round once more at the same figure after the road test."
		}
		add(Gate{Key: debtPrefix + f.ID(), Title: title, Remedy: remedy, Step: where, Met: !f.Owed() && (f.Phase != Rest || !s.opens(j.ID)), Passable: f.Trouble == "", Second: second})
	}
	if j.Renew {
		add(Gate{Key: "renew:" + j.ID, Title: unit.Capital(j.Title) + " renewed", Remedy: "Fit new ones: " + j.Hardware + ".", Step: s.startStep(j.ID), Met: touched && renewed, Passable: true, Second: second})
	}
	if j.Source == "" && !s.AsksVariant(j) {
		add(Gate{Key: "source:" + j.ID, Title: "The figure for the " + j.Title + " has no source", Remedy: "Look it up with the maker and correct the sheet.", Passable: true, Second: second})
	}
}

// opens says that a step of the plan disturbs the joint.
func (s *State) opens(joint string) bool {
	return slices.ContainsFunc(s.Plan.Steps, func(st operation.Step) bool {
		return st.Joint == joint && (st.Verb == operation.Crack || st.Verb == operation.Remove)
	})
}

func (s *State) tightenStep(joint string, again bool) string {
	for _, st := range s.Plan.Steps {
		if st.Joint == joint && st.Verb == operation.Tighten && st.Again == again && !s.StepDone(st.ID) {
			return st.ID
		}
	}
	return ""
}

func (s *State) startStep(joint string) string {
	for _, st := range s.Plan.Steps {
		if st.Joint == joint && st.Verb == operation.Start {
			return st.ID
		}
	}
	return ""
}

// StepDone says that a step is done. Tightening steps are done when their
// fasteners are, so that striking a pull opens them again.
func (s *State) StepDone(id string) bool {
	st := s.Plan.Step(id)
	if st == nil {
		return false
	}
	if st.Verb != operation.Tighten {
		return s.Steps[id].Done
	}
	_, to := s.Span(st)
	for _, l := range s.Plan.Joint(st.Joint).Letters {
		if f := s.Fasteners[st.Joint+"#"+l]; !f.Waived && (f.Done <= to || f.Trouble != "") {
			return false
		}
	}
	return true
}

// Next is the step to do now: the first open one whose needs are met, those put
// off and those in trouble last. Empty when nothing is left.
func (s *State) Next() string {
	later, stuck := "", ""
	for i := range s.Plan.Steps {
		st := &s.Plan.Steps[i]
		if s.StepDone(st.ID) {
			continue
		}
		switch err := s.Ready(st); {
		case err != nil || s.blocked(st):
			if stuck == "" {
				stuck = st.ID
			}
		case s.Steps[st.ID].Postponed:
			if later == "" {
				later = st.ID
			}
		default:
			return st.ID
		}
	}
	if later != "" {
		return later
	}
	return stuck
}

// blocked: every fastener left at a step is in trouble.
func (s *State) blocked(st *operation.Step) bool {
	return st.Joint != "" && s.Current(st) == ""
}

// Chain is the next steps after the one at hand, in order.
func (s *State) Chain(after string, n int) []*operation.Step {
	var out []*operation.Step
	for i := range s.Plan.Steps {
		st := &s.Plan.Steps[i]
		if st.ID != after && !s.StepDone(st.ID) && len(out) < n && st.Verb != operation.Soak {
			out = append(out, st)
		}
	}
	return out
}

// Current is the letter of the exact fastener a step is at, empty where it has
// none or all that are left are in trouble.
func (s *State) Current(st *operation.Step) string {
	j := s.Plan.Joint(st.Joint)
	if j == nil {
		return ""
	}
	if st.Verb != operation.Tighten {
		for _, l := range j.Letters {
			if !slices.Contains(s.Steps[st.ID].Letters, l) && s.Fasteners[j.ID+"#"+l].Trouble == "" {
				return l
			}
		}
		return ""
	}
	from, to := s.Span(st)
	for stage := from; stage <= to; stage++ {
		for _, k := range j.Order {
			if f := s.Fasteners[j.ID+"#"+j.Letters[k]]; f.Done <= stage && f.Trouble == "" && !f.Waived {
				return f.Letter
			}
		}
	}
	return ""
}

// SoakLeft is how long a soak still runs for the joint's step, zero if none.
func (s *State) SoakLeft(step *operation.Step, now time.Time) time.Duration {
	var left time.Duration
	for _, k := range s.Soaks {
		if slices.Contains(step.Needs, k.Step) && k.End.After(now) {
			left = max(left, k.End.Sub(now))
		}
	}
	return left
}

// CanPull says whether the step's fastener may be pulled on now, and if not
// why: its turn in the pattern, the vehicle's position, the rotation held.
func (s *State) CanPull(st *operation.Step, letter string) error {
	j := s.Plan.Joint(st.Joint)
	f := s.Fasteners[st.Joint+"#"+letter]
	if j == nil || f == nil {
		return nil
	}
	stage, err := s.stageNext(st, j, f)
	if err != nil {
		return err
	}
	if err := s.conditionMet(j, stage); err != nil {
		return err
	}
	return s.Ready(st)
}

// Pending is the last pull on a fastener that has not paid its stage, nil if
// there is none.
func (s *State) Pending(f *Fastener) *PullRecord {
	if len(f.Pulls) == 0 {
		return nil
	}
	p := s.Pulls[f.Pulls[len(f.Pulls)-1]]
	if p.StruckWhy != "" || p.Stage != f.Done || p.Seq < f.Since {
		return nil
	}
	return p
}

// HeldAt lists the corners whose rotation is held.
func (s *State) HeldAt() []vehicle.Corner {
	var out []vehicle.Corner
	for c, held := range s.Held {
		if held {
			out = append(out, c)
		}
	}
	slices.Sort(out)
	return out
}
