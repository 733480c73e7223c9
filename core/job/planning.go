package job

import (
	"maps"
	"slices"
	"strings"
	"time"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/part"
	"lugtak/core/plan"
	"lugtak/core/recipe"
	"lugtak/core/record"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
)

// Planning is the plan as it stands, with what was found to differ from it.
type Planning struct {
	Plan     *plan.Plan
	Parts    map[string]Stock
	Supplied map[string]Supplied // by part, what was ordered
	Variants map[string]string   // by joint, the hardware seen
	Matches  []Matching
	Kits     map[string]Kit            // by joint, hardware of a kit in place of the sheet's
	Figures  []Figure                  // struck on the sheet while the job was open
	Treated  map[string]record.Treated // by joint, threads treated otherwise than the sheet says
	Replans  []Replanning
	Told     []Told   // the owner, oldest first
	Trials   []Trial  // road tests, oldest first
	Fluids   []Booked // what came out and went in
	Handed   []Handed // corners, or the whole job, that were handed over
	Promised Promised

	Suspicion *Suspicion // what was said of the one suspect that was renewed; nil where no drive has told

	stages map[string][]recipe.Stage // by joint
}

// Stock says whether a part is there.
type Stock string

// The answers.
const (
	Have    Stock = "have"
	Ordered Stock = "ordered"
	Missing Stock = "missing"
)

// Supplied is what a supplier said of a part that was ordered.
type Supplied struct {
	Supplier  string
	Price     float64
	Currency  string
	WaitMin   float64
	Simulated bool
	Due       time.Time // when it is to be at the shop
}

// Matching is a new part held against the old one.
type Matching struct {
	record.Matched
	By string
	At time.Time
}

// Replanning is a plan healed while the job runs.
type Replanning struct {
	Why    string
	By     string
	At     time.Time
	Change plan.Change
}

// The commands that change a plan once it stands.
type (
	// SeeHardware says which hardware a joint carries, where the sheet knows several.
	SeeHardware struct{ Joint, Variant string }
	// StockPart says whether a part is there.
	StockPart struct {
		Part   string
		Status Stock
		From   *Supplied // where it was ordered; nil where nobody said
	}
	// Compare holds a new part against the old one.
	Compare struct {
		Step     operation.StepID
		Old, New map[string]float64
		Accept   bool
		Note     string
	}
	// FitKit puts a kit's own hardware in place of what the sheet names. Said once more as it stands it is a reading
	// of the leaflet: another person's, or later that of somebody who is alone in the shop.
	FitKit struct {
		Joint, Recipe, Socket, Treatment, Hardware, Source string

		Alone bool `json:"-"` // nobody else of the shop could read it
	}
	// Treat has a joint's threads treated otherwise than its figure was written for.
	Treat struct{ Joint, Treatment, Reason string }
	// Rework makes what is left anew, by another school or as the vehicle turned out to be
	// built. What is done stays.
	Rework struct {
		Plan plan.Plan `json:"-"`
		Why  string
	}
	// MoveStep puts a step behind another one; behind none it goes to the front.
	MoveStep struct{ Step, Behind operation.StepID }
	// StrikeFigure tells the job that a figure it uses was struck on the sheet.
	StrikeFigure struct {
		Joint      string
		Correction vehicle.Correction
		Act        string // the correction's id in the shop's journal
	}
	// AnswerFigure takes the new figure into the job, or refuses it with a reason.
	AnswerFigure struct {
		Joint  string
		Take   bool
		Reason string
	}
)

func (p Planning) clone() Planning {
	p.Parts = cloneMap(p.Parts)
	p.Supplied = cloneMap(p.Supplied)
	p.Variants = cloneMap(p.Variants)
	p.Kits = cloneMap(p.Kits)
	p.Figures = slices.Clone(p.Figures)
	p.Treated = cloneMap(p.Treated)
	return p
}

// HasPlan says that the work is planned; before that the job is on its walk-round.
func (p *Planning) HasPlan() bool { return p.Plan != nil && len(p.Plan.Steps) > 0 }

// Title is what the job is called in lists.
func (p *Planning) Title() string {
	if !p.HasPlan() {
		return "Walk-round"
	}
	return p.Plan.Title
}

// Stages are the stages of a joint's recipe.
func (p *Planning) Stages(joint string) []recipe.Stage { return p.stages[joint] }

// AsksVariant says that it is not yet known which hardware a joint carries.
func (p *Planning) AsksVariant(j *plan.Joint) bool {
	return len(j.Variants) > 0 && p.Variants[j.ID] == ""
}

// Match is the last comparison of a part, nil if it was not compared.
func (p *Planning) Match(key string) *Matching {
	for i := len(p.Matches) - 1; i >= 0; i-- {
		if p.Matches[i].Part == key {
			return &p.Matches[i]
		}
	}
	return nil
}

// Why is why a part was refused, in words.
func (m *Matching) Why() string {
	var why []string
	for _, d := range m.Differences {
		if d.Bars || len(m.Differences) == 1 {
			why = append(why, strings.TrimSuffix(d.Effect, "."))
		}
	}
	if m.Note != "" {
		why = append(why, m.Note)
	}
	return strings.Join(why, "; ")
}

// Beside holds a new part against the old one on this vehicle: a rod's length moves
// the toe by its own steering arm and rim.
func (p *Planning) Beside(kind string, old, new map[string]float64) (part.Result, error) {
	o := p.Plan.Outline
	if o.Arm > 0 && o.Rim > 0 && len(new) > 0 {
		new = maps.Clone(new)
		new["arm_mm"] = o.Arm
		new["rim_mm"] = o.Rim
	}
	return part.Compare(kind, old, new)
}

// setPlan lays the plan out as steps and fasteners not yet touched. A plan made anew
// still has the hardware that was seen, the kits in hand and the treatment they got.
func (s *State) setPlan(plan plan.Plan, seq int) {
	s.Plan = &plan
	s.stepsSeq = seq
	s.stages = map[string][]recipe.Stage{}
	clear(s.Steps)
	clear(s.Fasteners)
	for _, st := range plan.Steps {
		s.Steps[st.ID] = &StepState{}
	}
	for i := range plan.Joints {
		j := &plan.Joints[i]
		s.stages[j.ID] = j.Stages()
		for _, l := range j.Letters {
			id := FastenerID{j.ID, l}
			s.Fasteners[id] = &Fastener{FastenerID: id, Phase: Rest, Stages: len(s.stages[j.ID]), ByBolt: j.ByBolt}
		}
	}
	for joint, variant := range s.Variants {
		if plan.Joint(joint) == nil {
			delete(s.Variants, joint)
			continue
		}
		s.fitVariant(joint, variant, seq)
	}
	for joint, kit := range s.Kits {
		if plan.Joint(joint) == nil {
			delete(s.Kits, joint)
			continue
		}
		s.fitKit(kit.Kitted, s.LastBy, seq)
	}
	for joint, b := range s.Treated {
		if plan.Joint(joint) == nil {
			delete(s.Treated, joint)
			continue
		}
		s.treat(b, s.LastBy, seq)
	}
}

// respec gives a joint other hardware. Plan and stages are shared between states and
// copied before they change.
func (s *State) respec(joint string, seq int, change func(*plan.Joint)) {
	plan := *s.Plan
	plan.Joints = slices.Clone(plan.Joints)
	s.Plan = &plan
	s.stages = maps.Clone(s.stages)
	j := plan.Joint(joint)
	if j == nil {
		return
	}
	change(j)
	for by, set := range s.Settings {
		if set.Joint == joint { // it was set for another figure
			delete(s.Settings, by)
		}
	}
	s.stages[j.ID] = j.Stages()
	for _, l := range j.Letters {
		f := s.Fastener(j.ID, l)
		f.Stages = len(s.stages[j.ID])
		f.ByBolt = j.ByBolt
		f.Seq = seq
	}
}

// notTightened refuses to change the figure of a joint under a fastener that was
// tightened to it.
func (s *State) notTightened(m Meta, j *plan.Joint, field, to string) error {
	for _, l := range j.Letters {
		f, err := s.touch(m, FastenerID{j.ID, l})
		if err != nil {
			return err
		}
		if f.Done > 0 {
			return refuse(fault.Order, field, unit.Capital(j.One)+" "+l+" was tightened to "+to+".",
				"Slacken it first, or strike its pulls.")
		}
	}
	return nil
}

func (s *State) decideHardware(m Meta, b SeeHardware) (record.Body, error) {
	j := s.Plan.Joint(b.Joint)
	known := func(v vehicle.Variant) bool { return v.Key == b.Variant }
	if j == nil || !slices.ContainsFunc(j.Variants, known) {
		return nil, refuse(fault.BadChoice, "variant", "The sheet knows no such hardware at this joint.",
			"Choose one of those shown; if it is none of them, ask before anything is tightened.")
	}
	if s.Variants[j.ID] == b.Variant {
		return nil, nil
	}
	if err := s.notTightened(m, j, "variant", "the figure of the other kind"); err != nil {
		return nil, err
	}
	return record.HardwareSeen(b), nil
}

func (s *State) applyHardware(e Event, b record.HardwareSeen) {
	delete(s.Treated, b.Joint)
	s.fitVariant(b.Joint, b.Variant, e.Seq)
}

func (s *State) fitVariant(joint, variant string, seq int) {
	s.respec(joint, seq, func(j *plan.Joint) {
		for _, v := range j.Variants {
			if v.Key == variant {
				j.Spec = j.Spec.Of(v)
			}
		}
	})
	s.Variants[joint] = variant
}

func (s *State) decideStock(_ Meta, b StockPart) (record.Body, error) {
	if b.Status != Have && b.Status != Ordered && b.Status != Missing {
		return nil, refuse(fault.BadChoice, "status", "A part is there, ordered or missing.", "Choose one of the three.")
	}
	if !slices.ContainsFunc(s.Plan.Parts, func(p operation.Part) bool { return p.Key == b.Part }) {
		return nil, refuse(fault.Missing, "part", "The plan has no such part.", "Choose one from the plan.")
	}
	e := record.PartStocked{Part: b.Part, Status: string(b.Status)}
	if f := b.From; f != nil && b.Status == Ordered {
		e.Supplier, e.Price, e.Currency = f.Supplier, f.Price, f.Currency
		e.WaitMin, e.Simulated = f.WaitMin, f.Simulated
	}
	return e, nil
}

func (s *State) applyStocked(e Event, b record.PartStocked) {
	s.Parts[b.Part] = Stock(b.Status)
	delete(s.Supplied, b.Part)
	if b.Supplier != "" {
		s.Supplied[b.Part] = Supplied{
			Supplier:  b.Supplier,
			Price:     b.Price,
			Currency:  b.Currency,
			WaitMin:   b.WaitMin,
			Simulated: b.Simulated,
			Due:       e.At.Add(time.Duration(b.WaitMin * float64(time.Minute))),
		}
	}
}

// waits is how long a part that is not there is waited for from now on, minutes: by its supplier's word, else as
// parts mostly take.
func (s *State) waits(part string, now time.Time) float64 {
	f, known := s.Supplied[part]
	if !known {
		return waitMinutes
	}
	return max(1, f.Due.Sub(now).Minutes())
}

func (s *State) decideCompare(m Meta, b Compare) (record.Body, error) {
	st, err := s.openStep(m, b.Step)
	if err != nil {
		return nil, err
	}
	p, ok := s.Plan.Compared(st)
	if !ok {
		return nil, refuse(fault.BadChoice, "step", "Nothing is compared in this step.",
			"Go to the step that lays new beside old.")
	}
	r, err := s.Beside(p.Kind, b.Old, b.New)
	if err != nil {
		return nil, err
	}
	b.Note = trimmed(b.Note)
	unexplained := b.Accept && b.Note == ""
	switch {
	case len(b.Note) > maxText:
		return nil, refuse(fault.TooLong, "note", "That note is too long.", "Keep it under 1000 characters.")
	case unexplained && r.Verdict == part.Refused:
		return nil, refuse(fault.Missing, "note", "By its measures this part is refused.",
			"Refuse it, or write why it goes in all the same.")
	case unexplained && len(r.Missing) > 0:
		return nil, refuse(fault.Missing, "note",
			"Not all that decides was measured on both: "+strings.Join(r.Missing, ", ")+".",
			"Measure it, or write how else you know that the part is right.")
	case unexplained && len(r.Differences) > 0:
		return nil, refuse(fault.Missing, "note", "New and old differ.",
			"Write a few words on why that is right, or refuse the part.")
	}
	return record.Matched{
		Step:        string(st.ID),
		Part:        p.Key,
		Title:       p.Title,
		PartKind:    p.Kind,
		Old:         b.Old,
		New:         b.New,
		Verdict:     string(r.Verdict),
		Differences: each(r.Differences, toDifference),
		Missing:     r.Missing,
		Accept:      b.Accept,
		Note:        b.Note,
	}, nil
}

func (s *State) applyMatched(e Event, b record.Matched) {
	s.Matches = append(slices.Clip(s.Matches), Matching{Matched: b, By: e.By, At: e.At})
	s.Parts[b.Part] = Missing
	if b.Accept {
		s.Parts[b.Part] = Have
	}
	if st := s.Steps[operation.StepID(b.Step)]; st != nil {
		st.Seq = e.Seq
	}
}

func (s *State) decideMove(m Meta, b MoveStep) (record.Body, error) {
	if _, err := s.openStep(m, b.Step); err != nil {
		return nil, err
	}
	if s.StepDone(b.Step) || len(s.Steps[b.Step].Letters) > 0 {
		return nil, refuse(fault.Order, "step", "That step is begun: it stands where it was done.",
			"Move one that is still to do.")
	}
	if b.Behind == "" || s.StepDone(b.Behind) {
		b.Behind = s.lastDone()
	}
	steps, err := s.Plan.Move(b.Step, b.Behind)
	if err != nil {
		return nil, err
	}
	return record.Moved{
		Step:   string(b.Step),
		Behind: string(b.Behind),
		Order:  each(steps, func(x plan.Step) string { return string(x.ID) }),
	}, nil
}

func (s *State) lastDone() operation.StepID {
	var last operation.StepID
	for _, x := range s.Plan.Steps {
		if s.StepDone(x.ID) {
			last = x.ID
		}
	}
	return last
}

// applyMoved puts the steps as the event says they stood then. An event of before says only what
// was moved behind what: that it might was asked by the rules of its day, and is not asked again.
func (s *State) applyMoved(_ Event, b record.Moved) {
	moved := *s.Plan
	moved.Steps = slices.Clone(s.Plan.Steps)
	if b.Order == nil {
		moved.Steps = s.Plan.Put(operation.StepID(b.Step), operation.StepID(b.Behind))
	} else {
		place := map[operation.StepID]int{}
		for i, id := range b.Order {
			place[operation.StepID(id)] = i
		}
		slices.SortStableFunc(moved.Steps, func(x, y plan.Step) int { return place[x.ID] - place[y.ID] })
	}
	s.Plan = &moved
}
