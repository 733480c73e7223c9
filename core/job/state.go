package job

import (
	"maps"
	"slices"
	"time"

	"lugtak/core/operation"
	"lugtak/core/pull"
	"lugtak/core/recipe"
	"lugtak/core/vehicle"
)

// State is what a job's events add up to.
type State struct {
	ID         string
	Seq        int
	Started    time.Time
	StartedBy  string
	Vehicle    vehicle.Vehicle
	Complaint  string
	OdometerKM int
	WhyBack    string
	Plan       *operation.Plan
	Second     []string
	Position   operation.Position
	Held       map[vehicle.Corner]bool // rotation is held
	Steps      map[string]*StepState
	Fasteners  map[string]*Fastener // by joint#letter
	Soaks      []Soaking
	Troubles   []Trouble
	Deviations []Deviation
	Parts      map[string]string
	Variants   map[string]string // by joint, the hardware seen
	Findings   []Finding
	Walk       Walk
	Matches    []Matching
	Kits       map[string]Kitted // by joint, hardware of a kit in place of the sheet's
	Replans    []Replanning
	Pulls      map[string]*PullRecord // by event id
	PullOrder  []string
	Signature  *Signature
	seen       map[string]bool
	stages     map[string][]recipe.Stage // parsed once per job
	Last       time.Time
	LastBy     string
}

// StepState is how far a step is.
type StepState struct {
	Done      bool
	Postponed bool
	Letters   []string // worked so far
	Choice    string
	Note      string
	Turns     float64
	By        string
	At        time.Time
	Seq       int
}

// Mark is how far a fastener is.
type Mark string

// The marks, which are also the forms of the fastener sign.
const (
	Rest      Mark = "rest"
	Loose     Mark = "loose"
	Out       Mark = "out"
	InHand    Mark = "hand"
	SnugMark  Mark = "snug"
	Between   Mark = "stage"
	Proved    Mark = "proved"
	Excused   Mark = "deviation"
	InTrouble Mark = "problem"
)

// Fastener is one bolt or nut.
type Fastener struct {
	Joint   string
	Letter  string
	Phase   Mark // rest, loose, out or hand; what follows is in Done
	Done    int  // stages proved
	Stages  int
	Renewed bool
	Waived  bool // a deviation was signed for it
	Trouble string
	Pulls   []string
	Seq     int // of the last event that touched it
	Since   int // event at which it was last started or slackened
}

// ID names the fastener: "hub.FL.knuckle#A".
func (f *Fastener) ID() string { return f.Joint + "#" + f.Letter }

// Mark is the sign it carries.
func (f *Fastener) Mark() Mark {
	switch {
	case f.Trouble != "":
		return InTrouble
	case f.Phase == Rest:
		return Rest
	case f.Waived:
		return Excused
	case f.Done >= f.Stages:
		return Proved
	case f.Done == 0:
		return f.Phase
	case f.Done == 1 && f.Stages > 2:
		return SnugMark
	}
	return Between
}

// Owed says that the fastener was disturbed and is not yet proved tight.
func (f *Fastener) Owed() bool {
	return f.Phase != Rest && !f.Waived && (f.Done < f.Stages || f.Trouble != "")
}

// Soaking is a soak set going.
type Soaking struct {
	Step  string
	Title string
	Start time.Time
	End   time.Time
}

// Trouble is what went wrong at a step or fastener.
type Trouble struct {
	ID string
	Troubled
	By      string
	At      time.Time
	Cleared *Cleared
}

// Deviation is a gate passed over.
type Deviation struct {
	Deviated
	By string
	At time.Time
}

// Finding is something for the owner.
type Finding struct {
	ID    string
	Text  string
	Photo bool // the journal has it
	By    string
	At    time.Time
}

// PullRecord is a pull in the ledger, without its trace.
type PullRecord struct {
	ID string
	Pulled
	By        string
	At        time.Time
	Seq       int
	StruckWhy string
	StruckBy  string
}

// Signature ends a job.
type Signature struct {
	By   string
	Role string
	At   time.Time
	Note string
}

// Apply gives the state with one more event. It never refuses: what is in the
// journal happened. The state passed in stays as it was, so readers may share it.
func Apply(s *State, e Event) *State {
	next := s.clone()
	next.apply(e)
	return next
}

// Replay adds up a whole journal.
func Replay(events []Event) *State {
	s := (&State{}).clone()
	for _, e := range events {
		s.apply(e)
	}
	return s
}

func (s *State) clone() *State {
	c := *s
	c.seen, c.Parts, c.Variants = cloneMap(s.seen), cloneMap(s.Parts), cloneMap(s.Variants)
	c.Held, c.Kits = cloneMap(s.Held), cloneMap(s.Kits)
	c.Steps, c.Fasteners, c.Pulls = clonePointers(s.Steps), clonePointers(s.Fasteners), cloneMap(s.Pulls)
	c.Walk.Answers = cloneMap(s.Walk.Answers)
	c.Soaks, c.Troubles = slices.Clone(s.Soaks), slices.Clone(s.Troubles)
	c.Deviations, c.Findings, c.PullOrder = slices.Clip(s.Deviations), slices.Clip(s.Findings), slices.Clip(s.PullOrder)
	return &c
}

func cloneMap[K comparable, V any](m map[K]V) map[K]V {
	c := make(map[K]V, len(m)+1)
	maps.Copy(c, m)
	return c
}

func clonePointers[V any](m map[string]*V) map[string]*V {
	c := make(map[string]*V, len(m)+1)
	all := make([]V, 0, len(m)) // one block for all
	for k, v := range m {
		all = append(all, *v)
		c[k] = &all[len(all)-1]
	}
	return c
}

// ownPull is a pull record that may be changed: a job has many and few change,
// so clone shares them. It is nil for one that is not there.
func (s *State) ownPull(id string) *PullRecord {
	p := s.Pulls[id]
	if p == nil {
		return nil
	}
	own := *p
	s.Pulls[id] = &own
	return &own
}

func (s *State) apply(e Event) {
	s.seen[e.ID] = true
	s.Seq, s.Last, s.LastBy = e.Seq, e.At, e.By
	if s.applyWalk(e) || s.applyPlan(e) {
		return
	}
	switch b := e.Body.(type) {
	case Started:
		s.start(e, b)
	case StepDone:
		st := s.Steps[b.Step]
		*st = StepState{Done: true, Letters: st.Letters, Choice: b.Choice, Note: b.Note, Turns: b.Turns, By: e.By, At: e.At, Seq: e.Seq}
		s.effects(s.Plan.Step(b.Step), e.At)
	case StepUndone:
		s.undo(b, e.Seq)
	case Postponed:
		s.Steps[b.Step].Postponed = true
	case Worked:
		s.work(e, b)
	case Pulled:
		s.pull(e, b)
	case Kept:
		if p := s.ownPull(b.Pull); p != nil && !p.Kept {
			p.Kept = true
			s.count(p, e.Seq)
		}
	case Struck:
		if p := s.ownPull(b.Pull); p != nil {
			p.StruckWhy, p.StruckBy = b.Reason, e.By
			if f := s.Fasteners[p.Joint+"#"+p.Letter]; f != nil {
				f.Seq = e.Seq
				if p.Kept && p.Result.Verdict == pull.Keep {
					f.Done = min(f.Done, p.Stage)
				}
			}
		}
	case Slackened:
		if f := s.Fasteners[b.Joint+"#"+b.Letter]; f != nil {
			f.Phase, f.Done, f.Seq, f.Waived = InHand, 0, e.Seq, false
			f.Renewed, f.Since = b.Renewed, e.Seq
		}
	case Troubled:
		s.Troubles = append(s.Troubles, Trouble{ID: e.ID, Troubled: b, By: e.By, At: e.At})
		if f := s.Fasteners[b.Joint+"#"+b.Letter]; f != nil {
			f.Trouble, f.Seq = e.ID, e.Seq
			if f.Phase == Rest { // touched is touched
				f.Phase = Loose
			}
		}
	case Cleared:
		for i := range s.Troubles {
			t := &s.Troubles[i]
			if t.ID != b.Trouble {
				continue
			}
			c := b
			t.Cleared = &c
			if f := s.Fasteners[t.Joint+"#"+t.Letter]; f != nil {
				f.Trouble, f.Seq = "", e.Seq
				f.Renewed = f.Renewed || b.Renewed
			}
		}
	case Chose:
		s.choose(b, e.Seq)
	case Stocked:
		s.Parts[b.Part] = b.Status
	case Deviated:
		s.Deviations = append(s.Deviations, Deviation{Deviated: b, By: e.By, At: e.At})
		if id, ok := debtOf(b.Gate); ok && s.Fasteners[id] != nil {
			s.Fasteners[id].Waived, s.Fasteners[id].Seq = true, e.Seq
		}
	case Found:
		s.Findings = append(s.Findings, Finding{ID: e.ID, Text: b.Text, Photo: len(b.Photo) > 0, By: e.By, At: e.At})
	case Signed:
		s.Signature = &Signature{By: e.By, Role: b.Role, At: e.At, Note: b.Note}
	case Reopened:
		s.Signature = nil
	}
}

func (s *State) start(e Event, b Started) {
	s.ID, s.Started, s.StartedBy = e.Job, e.At, e.By
	s.Vehicle, s.Complaint, s.OdometerKM, s.Second, s.WhyBack = b.Vehicle, b.Complaint, b.OdometerKM, b.Second, b.WhyBack
	s.Position = operation.Ground
	s.setPlan(b.Plan)
}

// setPlan lays the plan out as steps and fasteners not yet touched.
func (s *State) setPlan(plan operation.Plan) {
	s.Plan = &plan
	clear(s.Steps)
	clear(s.Fasteners)
	s.stages = map[string][]recipe.Stage{}
	for _, st := range plan.Steps {
		s.Steps[st.ID] = &StepState{}
	}
	for i := range plan.Joints {
		j := &plan.Joints[i]
		s.stages[j.ID] = j.Stages()
		for _, l := range j.Letters {
			s.Fasteners[j.ID+"#"+l] = &Fastener{Joint: j.ID, Letter: l, Phase: Rest, Stages: len(s.stages[j.ID])}
		}
	}
	// A plan made anew still has the hardware that was seen and the kits in hand.
	for joint, variant := range s.Variants {
		if plan.Joint(joint) == nil {
			delete(s.Variants, joint)
			continue
		}
		s.choose(Chose{Joint: joint, Variant: variant}, s.Seq)
	}
	for joint, kit := range s.Kits {
		if plan.Joint(joint) == nil {
			delete(s.Kits, joint)
			continue
		}
		s.fit(kit, s.LastBy, s.Seq)
	}
}

// choose puts the hardware seen into the plan. Plan and stages are shared between
// states and copied before they change.
func (s *State) choose(b Chose, seq int) {
	s.respec(b.Joint, seq, func(j *operation.PlanJoint) {
		for _, v := range j.Variants {
			if v.Key == b.Variant {
				j.Spec = j.Spec.Of(v)
			}
		}
	})
	s.Variants[b.Joint] = b.Variant
}

// respec gives a joint other hardware.
func (s *State) respec(joint string, seq int, change func(*operation.PlanJoint)) {
	plan := *s.Plan
	plan.Joints = slices.Clone(plan.Joints)
	s.Plan, s.stages = &plan, maps.Clone(s.stages)
	j := plan.Joint(joint)
	change(j)
	s.stages[j.ID] = j.Stages()
	for _, l := range j.Letters {
		f := s.Fasteners[j.ID+"#"+l]
		f.Stages, f.Seq = len(s.stages[j.ID]), seq
	}
}

// effects are what a kept step changes on the vehicle.
func (s *State) effects(st *operation.Step, at time.Time) {
	if st.MovesTo != "" {
		s.Position = st.MovesTo
		clear(s.Held) // whoever held it has let go by then
	}
	if st.Holds {
		s.Held[st.Corner] = true
	}
	if st.LetsGo {
		s.Held[st.Corner] = false
	}
	if st.Verb == operation.Soak {
		s.Soaks = append(s.Soaks, Soaking{Step: st.ID, Title: st.Title, Start: at, End: at.Add(time.Duration(st.Minutes * float64(time.Minute)))})
	}
}

func (s *State) undo(b StepUndone, seq int) {
	st, state := s.Plan.Step(b.Step), s.Steps[b.Step]
	back := map[operation.Verb][2]Mark{operation.Crack: {Loose, Rest}, operation.Remove: {Out, Loose}, operation.Start: {InHand, Out}}[st.Verb]
	for _, l := range state.Letters {
		if f := s.Fasteners[st.Joint+"#"+l]; f != nil && f.Phase == back[0] && f.Done == 0 {
			f.Phase, f.Seq = back[1], seq
		}
	}
	if st.Holds {
		s.Held[st.Corner] = false
	}
	if st.LetsGo {
		s.Held[st.Corner] = true
	}
	s.Soaks = slices.DeleteFunc(s.Soaks, func(k Soaking) bool { return k.Step == b.Step })
	*state = StepState{Seq: seq}
}

func (s *State) work(e Event, b Worked) {
	st := s.Steps[b.Step]
	for _, l := range b.Letters {
		f := s.Fasteners[b.Joint+"#"+l]
		f.Seq = e.Seq
		switch b.Verb {
		case operation.Crack:
			f.Phase = Loose
		case operation.Remove:
			f.Phase = Out
		case operation.Start:
			f.Phase, f.Renewed, f.Since = InHand, b.Renewed, e.Seq
		}
		f.Done, f.Waived = 0, false
		if !slices.Contains(st.Letters, l) {
			st.Letters = append(slices.Clip(st.Letters), l)
		}
	}
	st.Postponed, st.Seq, st.By, st.At = false, e.Seq, e.By, e.At
	st.Done = len(st.Letters) == len(s.Plan.Joint(b.Joint).Letters)
}

func (s *State) pull(e Event, b Pulled) {
	b.Trace = nil // the journal keeps it
	p := &PullRecord{ID: e.ID, Pulled: b, By: e.By, At: e.At, Seq: e.Seq}
	s.Pulls[e.ID] = p
	s.PullOrder = append(s.PullOrder, e.ID)
	f := s.Fasteners[b.Joint+"#"+b.Letter]
	f.Pulls = append(slices.Clip(f.Pulls), e.ID)
	f.Seq = e.Seq
	if st := s.Steps[b.Step]; st != nil {
		st.Postponed = false
	}
	if b.Kept {
		s.count(p, e.Seq)
	}
}

// count pays a stage with a kept pull that was good, and notes where one that
// went too far leaves the fastener.
func (s *State) count(p *PullRecord, seq int) {
	f := s.Fasteners[p.Joint+"#"+p.Letter]
	f.Seq = seq
	if p.Result.Verdict == pull.Keep && f.Done == p.Stage {
		f.Done++
	}
}

// Stages are the parsed stages of a joint.
func (s *State) Stages(joint string) []recipe.Stage { return s.stages[joint] }

// Owed lists the fasteners owed, in the order of the plan.
func (s *State) Owed() []*Fastener {
	var out []*Fastener
	for _, j := range s.Plan.Joints {
		for _, l := range j.Letters {
			if f := s.Fasteners[j.ID+"#"+l]; f.Owed() {
				out = append(out, f)
			}
		}
	}
	return out
}

// SupportsIn counts what was put in and not yet taken out, from the kept steps.
func (s *State) SupportsIn() map[string]int {
	in := map[string]int{}
	for _, st := range s.Plan.Steps {
		if !s.Steps[st.ID].Done {
			continue
		}
		for _, p := range st.Puts {
			in[p]++
		}
		for _, p := range st.Takes {
			in[p]--
		}
	}
	maps.DeleteFunc(in, func(_ string, n int) bool { return n <= 0 })
	return in
}

// Proves says that a kept step meets the named gate.
func (s *State) Proves(name string) bool {
	for _, st := range s.Plan.Steps {
		if st.Proves == name && s.Steps[st.ID].Done {
			return true
		}
	}
	return false
}

// OpenTroubles lists troubles not cleared.
func (s *State) OpenTroubles() []Trouble {
	var out []Trouble
	for _, t := range s.Troubles {
		if t.Cleared == nil {
			out = append(out, t)
		}
	}
	return out
}
