package job

import (
	"maps"
	"slices"
	"strings"
	"time"

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
		Why         string              `json:"why"`
		Technicians int                 `json:"technicians"`
		Steps       []operation.Step    `json:"steps,omitempty"` // new ones
		Needs       map[string][]string `json:"needs,omitempty"` // of old ones, on the new
		Parts       []operation.Part    `json:"parts,omitempty"`
		Minutes     map[string]float64  `json:"minutes,omitempty"` // of steps that take longer
		Order       []string            `json:"order"`
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

// Worked says that something of the plan was done or met with: a fastener in trouble
// was touched.
func (s *State) Worked() bool {
	for _, x := range s.Steps {
		if x.Done || len(x.Letters) > 0 {
			return true
		}
	}
	return len(s.Pulls)+len(s.Troubles) > 0
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
		if b.Behind == "" || s.StepDone(b.Behind) {
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
	p, ok := s.Plan.Compared(st)
	if !ok {
		return nil, refuse("bad_choice", "step", "Nothing is compared in this step.", "Go to the step that lays new beside old.")
	}
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
	case b.Accept && len(r.Missing) > 0 && b.Note == "":
		return nil, refuse("missing", "note", "Not all that decides was measured on both: "+strings.Join(r.Missing, ", ")+".", "Measure it, or write how else you know that the part is right.")
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
			return nil, refuse(CodeOrder, "joint", unit.Capital(j.One)+" "+l+" was tightened to the sheet's figure.", "Slacken it first, or strike its pulls.")
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
		s.fit(b, e.By, e.Seq)
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

// fit puts a kit's hardware at its joint; what the sheet said stays readable.
func (s *State) fit(b Kitted, by string, seq int) {
	s.respec(b.Joint, seq, func(j *operation.PlanJoint) {
		j.Struck = append(slices.Clip(j.Struck), vehicle.Struck{Recipe: j.Recipe, By: by, Why: "the kit's own hardware: " + b.Source})
		j.Recipe, j.Source, j.Variants = b.Recipe, b.Source, nil
		for _, x := range [][2]*string{{&j.Socket, &b.Socket}, {&j.Treatment, &b.Treatment}, {&j.Hardware, &b.Hardware}} {
			if *x[1] != "" {
				*x[0] = *x[1]
			}
		}
	})
}

func (s *State) reorder(steps []operation.Step) {
	plan := *s.Plan
	plan.Steps = steps
	s.Plan = &plan
}
