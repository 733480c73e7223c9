package job

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"
	"time"

	"lugtak/core/inspect"
	"lugtak/core/operation"
	"lugtak/core/part"
	"lugtak/core/recipe"
	"lugtak/core/schedule"
	"lugtak/core/thread"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
)

// Matching is a new part held against the old one.
type Matching struct {
	Matched
	By string
	At time.Time
}

// Replanning is a plan healed while the job runs.
type Replanning struct {
	Why string
	By  string
	At  time.Time
}

// The things that happen to a plan once it stands.
type (
	// Matched is a new part held against the old one, taken or refused.
	Matched struct {
		Step        string             `json:"step"`
		Part        string             `json:"part"`
		Title       string             `json:"title"`
		Kind        string             `json:"kind"`
		Old         map[string]float64 `json:"old"`
		New         map[string]float64 `json:"new"`
		Verdict     string             `json:"verdict"`
		Differences []part.Difference  `json:"differences,omitempty"`
		Missing     []string           `json:"missing,omitempty"`
		Accept      bool               `json:"accept"`
		Note        string             `json:"note,omitempty"`
	}
	// Kitted puts a kit's own hardware in place of what the sheet names: another
	// recipe, socket and treatment, with its source.
	Kitted struct {
		Joint     string `json:"joint"`
		Recipe    string `json:"recipe"`
		Socket    string `json:"socket"`
		Treatment string `json:"treatment"`
		Hardware  string `json:"hardware"`
		Source    string `json:"source"`
	}
	// Moved puts a step behind another one, by hand.
	Moved struct {
		Step   string `json:"step"`
		Behind string `json:"behind"` // empty: to the front
	}
	// Replanned is what is left put in order anew; what is done stays as it was.
	Replanned struct {
		Why         string             `json:"why"`
		Technicians int                `json:"technicians"`
		Steps       []operation.Step   `json:"steps,omitempty"` // new ones
		Parts       []operation.Part   `json:"parts,omitempty"`
		Minutes     map[string]float64 `json:"minutes,omitempty"` // of steps that take longer
		Order       []string           `json:"order"`
	}
)

func (Matched) kind() string   { return "matched" }
func (Kitted) kind() string    { return "kitted" }
func (Moved) kind() string     { return "moved" }
func (Replanned) kind() string { return "replanned" }

// Compare is a command: hold a new part against the old one.
type Compare struct {
	Step     string
	Old, New map[string]float64
	Accept   bool
	Note     string
}

// Replan is a command: put what is left in order anew. Slow names a step that
// takes Minutes in all.
type Replan struct {
	Costs       schedule.Costs
	Technicians int
	Slow        string
	Minutes     float64
}

// Match is the last comparison of a part, nil if it was not compared.
func (s *State) Match(key string) *Matching {
	for i := len(s.Matches) - 1; i >= 0; i-- {
		if s.Matches[i].Part == key {
			return &s.Matches[i]
		}
	}
	return nil
}

// Why is why a part was refused, in words.
func (m *Matching) Why() string {
	var out []string
	for _, d := range m.Differences {
		if d.Bars || len(m.Differences) == 1 {
			out = append(out, strings.TrimSuffix(d.Effect, "."))
		}
	}
	if m.Note != "" {
		out = append(out, m.Note)
	}
	return strings.Join(out, "; ")
}

// Worked says that something of the plan was done.
func (s *State) Worked() bool {
	for _, x := range s.Steps {
		if x.Done || len(x.Letters) > 0 {
			return true
		}
	}
	return len(s.Pulls) > 0
}

func (s *State) decidePlan(m Meta, cmd Command) (Body, error) {
	switch b := cmd.(type) {
	case Compare:
		return s.decideCompare(m, b)
	case Kitted:
		return s.decideKit(m, b)
	case Moved:
		if _, err := s.openStep(m, b.Step); err != nil {
			return nil, err
		}
		if s.StepDone(b.Step) || len(s.Steps[b.Step].Letters) > 0 {
			return nil, refuse(CodeOrder, "step", "That step is begun: it stands where it was done.", "Move one that is still to do.")
		}
		if s.StepDone(b.Behind) {
			b.Behind = s.lastDone()
		}
		_, err := s.Plan.Move(b.Step, b.Behind)
		return b, err
	case Replan:
		return s.decideReplan(b)
	}
	return nil, nil
}

func (s *State) lastDone() string {
	last := ""
	for _, x := range s.Plan.Steps {
		if s.StepDone(x.ID) {
			last = x.ID
		}
	}
	return last
}

func (s *State) decideCompare(m Meta, b Compare) (Body, error) {
	st, err := s.openStep(m, b.Step)
	if err != nil {
		return nil, err
	}
	i := slices.IndexFunc(s.Plan.Parts, func(p operation.Part) bool { return p.Key == st.Part && p.Kind != "" })
	if st.Verb != operation.Compare || i < 0 {
		return nil, refuse("bad_choice", "step", "Nothing is compared in this step.", "Go to the step that lays new beside old.")
	}
	p := s.Plan.Parts[i]
	r, err := s.Beside(p.Kind, b.Old, b.New)
	if err != nil {
		return nil, err
	}
	b.Note = strings.TrimSpace(b.Note)
	switch {
	case len(b.Note) > 1000:
		return nil, refuse("too_long", "note", "That note is too long.", "Keep it under 1000 characters.")
	case b.Accept && r.Verdict == part.Refused && b.Note == "":
		return nil, refuse("missing", "note", "By its measures this part is refused.", "Refuse it, or write why it goes in all the same.")
	case b.Accept && len(r.Differences) > 0 && b.Note == "":
		return nil, refuse("missing", "note", "New and old differ.", "Write a few words on why that is right, or refuse the part.")
	}
	return Matched{Step: st.ID, Part: p.Key, Title: p.Title, Kind: p.Kind, Old: b.Old, New: b.New, Verdict: r.Verdict, Differences: r.Differences, Missing: r.Missing, Accept: b.Accept, Note: b.Note}, nil
}

// Beside holds a new part against the old one on this vehicle: a rod's length moves
// the toe by its own steering arm and rim.
func (s *State) Beside(kind string, old, new map[string]float64) (part.Result, error) {
	o := s.Plan.Outline
	if o.Arm > 0 && o.Rim > 0 && len(new) > 0 {
		new = maps.Clone(new)
		new["arm_mm"], new["rim_mm"] = o.Arm, o.Rim
	}
	return part.Compare(kind, old, new)
}

func (s *State) decideKit(m Meta, b Kitted) (Body, error) {
	j := s.Plan.Joint(b.Joint)
	if j == nil {
		return nil, refuse("missing", "joint", "The plan has no such joint.", "Choose one from the plan.")
	}
	for _, l := range j.Letters {
		f, err := s.fastener(m, j.ID, l)
		if err != nil {
			return nil, err
		}
		if f.Done > 0 {
			return nil, refuse(CodeOrder, "joint", capital(j.One)+" "+l+" was tightened to the sheet's figure.", "Slacken it first, or strike its pulls.")
		}
	}
	r, err := recipe.Parse(b.Recipe)
	if err != nil {
		return nil, err
	}
	b.Recipe = r.String()
	b.Socket, b.Hardware = strings.TrimSpace(b.Socket), strings.TrimSpace(b.Hardware)
	if err := reason("source", &b.Source); err != nil {
		return nil, err
	}
	if b.Treatment != "" {
		if _, err := thread.Friction(thread.Treatment(b.Treatment)); err != nil {
			return nil, err
		}
	}
	if len(b.Socket) > 40 || len(b.Hardware) > 120 {
		return nil, refuse("too_long", "hardware", "That is too long.", "Name it in a few words.")
	}
	return b, nil
}

func (s *State) applyPlan(e Event) bool {
	switch b := e.Body.(type) {
	case Matched:
		s.Matches = append(slices.Clip(s.Matches), Matching{b, e.By, e.At})
		s.Parts[b.Part] = map[bool]string{true: "have", false: "missing"}[b.Accept]
		if st := s.Steps[b.Step]; st != nil {
			st.Seq = e.Seq
		}
	case Kitted:
		s.respec(b.Joint, e.Seq, func(j *operation.PlanJoint) {
			j.Struck = append(slices.Clip(j.Struck), vehicle.Struck{Recipe: j.Recipe, By: e.By, Why: "the kit's own hardware: " + b.Source})
			j.Recipe, j.Source, j.Variants = b.Recipe, b.Source, nil
			for _, x := range [][2]*string{{&j.Socket, &b.Socket}, {&j.Treatment, &b.Treatment}, {&j.Hardware, &b.Hardware}} {
				if *x[1] != "" {
					*x[0] = *x[1]
				}
			}
		})
		s.Kits[b.Joint] = b
	case Moved:
		if steps, err := s.Plan.Move(b.Step, b.Behind); err == nil {
			s.reorder(steps)
		}
	case Replanned:
		s.Replans = append(slices.Clip(s.Replans), Replanning{b.Why, e.By, e.At})
		s.replan(b)
	default:
		return false
	}
	return true
}

func (s *State) reorder(steps []operation.Step) {
	plan := *s.Plan
	plan.Steps = steps
	s.Plan = &plan
}

func (s *State) replan(b Replanned) {
	plan := *s.Plan
	plan.Technicians = b.Technicians
	all := slices.Concat(plan.Steps, b.Steps)
	for _, x := range b.Steps {
		s.Steps[x.ID] = &StepState{}
		for _, before := range x.Before {
			if i := slices.IndexFunc(all, func(o operation.Step) bool { return o.ID == before }); i >= 0 {
				all[i].Needs = append(slices.Clip(all[i].Needs), x.ID)
			}
		}
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
	out := Replanned{Technicians: max(1, b.Technicians), Minutes: map[string]float64{}}
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
	out.Order = ids(s.Plan.Steps)
	for _, t := range s.OpenTroubles() {
		if x, p, ok := s.extraction(t); ok {
			out.Steps = append(out.Steps, x)
			out.Parts = append(out.Parts, p)
			why = append(why, x.Title)
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
	out.Why = capital(strings.Join(why, "; "))
	return out, nil
}

func ids(steps []operation.Step) []string {
	out := make([]string, len(steps))
	for i, s := range steps {
		out[i] = s.ID
	}
	return out
}

// extraction is the step a sheared fastener calls for, and the hardware.
func (s *State) extraction(t Trouble) (operation.Step, operation.Part, bool) {
	j, at := s.Plan.Joint(t.Joint), s.Plan.Step(t.Step)
	id := "extract." + t.Joint + "." + t.Letter
	if j == nil || at == nil || !strings.Contains(strings.ToLower(t.What), "shear") || s.Plan.Step(id) != nil {
		return operation.Step{}, operation.Part{}, false
	}
	name := strings.TrimSpace(j.One + " " + t.Letter)
	x := operation.Step{ID: id, Verb: operation.Act, Title: "Extract the sheared " + name, How: "Drill true to the middle, extractor, or weld a nut on; thread cleaned after.", Place: at.Place, Tool: "extractor", Minutes: extractMinutes,
		Position: at.Position, Corner: j.Corner, Owner: at.Owner, Scene: at.Scene, Needs: slices.Clone(at.Needs), Because: "Before new ones go in: the thread must be whole.",
		Caution: "Face shield. Heat and sparks away from fuel, rubber, airbags."}
	for _, o := range s.Plan.Steps {
		if o.Joint == j.ID && o.Verb == operation.Start {
			x.Before = append(x.Before, o.ID)
		}
	}
	return x, operation.Part{Key: id, Title: name + ", new: " + j.Thread + " " + j.Class, Count: 1, OneUse: true}, true
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

// Turn is what was counted on one tie rod.
type Turn struct {
	Corner  vehicle.Corner
	Out, In float64 // turns; In is 0 until the end is on again
	ToeMM   float64 // what the difference does at the rim, where the vehicle's arm is known
	ToeDeg  float64
	Known   bool // the toe could be reckoned
}

// Turns lists the tie rods whose turns were counted, by side. What was counted out
// and not in again moves the toe of that wheel.
func (s *State) Turns() []Turn {
	var out []Turn
	for _, x := range s.Plan.Steps {
		if x.Counts != "out" || !s.Steps[x.ID].Done {
			continue
		}
		t := Turn{Corner: x.Corner, Out: s.Steps[x.ID].Turns}
		for _, y := range s.Plan.Steps {
			if y.Counts == "in" && y.Corner == x.Corner && s.Steps[y.ID].Done {
				t.In = s.Steps[y.ID].Turns
			}
		}
		pitch := 0.0
		for _, j := range s.Plan.Joints {
			if th, err := thread.Parse(j.Thread); err == nil && j.Corner == x.Corner && strings.HasSuffix(j.ID, ".locknut") {
				pitch = th.P
			}
		}
		if t.In > 0 && pitch > 0 && s.Plan.Outline.Arm > 0 {
			if deg, mm, err := inspect.Toe(t.In-t.Out, pitch, s.Plan.Outline.Arm, s.Plan.Outline.Rim); err == nil {
				t.ToeDeg, t.ToeMM, t.Known = deg, mm, true
			}
		}
		out = append(out, t)
	}
	return out
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
	Joint    *operation.PlanJoint
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
			switch f := s.Fasteners[j.ID+"#"+l]; {
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
	type kept struct {
		step *operation.Step
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
	out := map[string][]float64{}
	for _, k := range all {
		before, ok := last[k.by]
		last[k.by] = k.at
		m := k.at.Sub(before).Minutes()
		if ok && m > 0.1 && m < 4*k.step.Minutes {
			name := strings.TrimSuffix(k.step.ID, "."+string(k.step.Corner))
			out[name] = append(out[name], m)
		}
	}
	return out
}
