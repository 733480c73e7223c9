package job

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"
	"time"

	"lugtak/core/fact"
	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/record"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
)

// Progress is how far the steps are, and how the vehicle stands.
type Progress struct {
	Position plan.Position
	Held     map[vehicle.Corner]bool // rotation is held
	Steps    map[operation.StepID]*StepState
	Soaks    []Soaking
	Facts    fact.State           // that are no longer at rest; never changed, only replaced
	done     []operation.StepID   // in the order they were done
	reopened []operation.StepID   // done once, and taken back by a pull that was struck
	Hasty    []Hasty              // acts kept quicker than hands are
	lastAct  map[string]time.Time // by person
	stepsSeq int                  // of the last event that brought back a step, or new ones
}

// StepState is how far a step is.
type StepState struct {
	Done      bool
	Times     int // it was kept since it was last taken back
	Postponed bool
	Letters   []string // handled so far
	Choice    string
	Note      string
	Turns     float64
	Strokes   int // of the pedal until it was firm
	TempC     float64
	By        string
	At        time.Time
	Seq       int
}

// Soaking is a soak set going.
type Soaking struct {
	Step  operation.StepID
	Title string
	Start time.Time
	End   time.Time
}

// The commands that carry steps on.
type (
	// KeepStep keeps a step that acts on no fastener.
	KeepStep struct {
		Step   operation.StepID
		Choice string
		Note   string
		Turns  float64
		// Strokes are those of the pedal until it was high and firm, where the step proves it.
		Strokes int
		// TempC is the oil's as its level is read, °C, where the vehicle asks for a window.
		TempC float64
	}
	// UndoStep takes back a step kept by mistake.
	UndoStep struct {
		Step   operation.StepID
		Reason string
	}
	// Postpone puts a step off.
	Postpone struct{ Step operation.StepID }
	// Handle cracks, removes or starts fasteners of a step's joint; without letters
	// all that are left.
	Handle struct {
		Step    operation.StepID
		Letters []string
		Renewed bool
	}
)

func (p Progress) clone() Progress {
	p.Held = cloneMap(p.Held)
	p.Steps = clonePointers(p.Steps)
	p.Soaks = slices.Clone(p.Soaks)
	p.Hasty = slices.Clip(p.Hasty)
	p.done = slices.Clip(p.done)
	p.reopened = slices.Clip(p.reopened)
	p.lastAct = cloneMap(p.lastAct)
	return p
}

// Begun says that something of the plan was done or met with: a fastener in trouble
// was touched.
func (s *State) Begun() bool {
	for _, x := range s.Steps {
		if x.Done || len(x.Letters) > 0 {
			return true
		}
	}
	return len(s.Pulls)+len(s.Troubles) > 0
}

// openStep finds a step that nobody else has touched since the client looked.
func (s *State) openStep(m Meta, id operation.StepID) (*plan.Step, error) {
	st := s.Plan.Step(id)
	if st == nil {
		return nil, refuse(fault.Missing, "step", "The plan has no such step.", "Go back to the bench.")
	}
	return st, s.fresh(m, s.Steps[id].Seq)
}

// waitsFor are the open steps that come before one. Behind a fastener that came out before its turn, drilled or
// cut, it is what its own step would have waited for.
func (s *State) waitsFor(st *plan.Step) []operation.StepID {
	var out []operation.StepID
	for _, n := range st.Needs {
		before := s.Plan.Step(n)
		switch {
		case !s.StepDone(n):
			out = append(out, n)
		case before.Verb == operation.Crack || before.Verb == operation.Remove:
			out = append(out, s.waitsFor(before)...)
		}
	}
	return out
}

// Ready says whether a step may be done now, and if not why.
func (s *State) Ready(st *plan.Step) error {
	var before []string
	for _, n := range s.waitsFor(st) {
		before = append(before, "“"+s.Plan.Step(n).Title+"”")
	}
	if len(before) > 0 && !(s.early(st) && s.leadNow() == st) {
		says := "Before this: " + strings.Join(before, ", ") + ". " + st.Because
		return refuse(fault.Order, "step", trimmed(says), "Do that first, or take up another step.")
	}
	asItStands := s.cornered(st)
	if st.Position != "" && !s.stands(st.Position) && !s.raisesAgain(st) && !asItStands {
		return refuse(fault.Condition, "position",
			fmt.Sprintf("The vehicle is %s; this is done with it %s.", s.Position, st.Position),
			s.wayTo(st.Position))
	}
	if err := s.mayRoll(st); err != nil {
		return err
	}
	if err := s.allowed(st, asItStands); err != nil {
		return err
	}
	for _, t := range s.OpenTroubles() {
		if t.Stops() {
			return refuse(fault.Trouble, "job", "The whole job stands still: "+t.Note+".",
				"Clear that first; it stands on the bench and in the ledger.")
		}
		if t.Step == st.ID && t.Letter == "" {
			return refuse(fault.Trouble, "step", "There is trouble here: "+t.What+".", "Clear it first.")
		}
	}
	return nil
}

// stands says whether the vehicle stands as a step or a joint asks.
func (s *State) stands(as plan.Position) bool {
	if stands, known := s.Plan.Stands(s.Facts, as); known {
		return stands
	}
	return s.Position.Stands(as)
}

// allowed asks the facts: what the step wants is so, and no law stands against what it
// brings about.
func (s *State) allowed(st *plan.Step, asItStands bool) error {
	proof := s.proofOf(st)
	if asItStands {
		proof.Wants = slices.DeleteFunc(slices.Clone(proof.Wants), func(w fact.Want) bool {
			return w.Fact.Subject == plan.VehicleFact ||
				w.Fact.Subject == plan.RotationFact && s.Plan.TyreHolds(s.Facts, st.Corner)
		})
	}
	b := s.Plan.World.Lacks(s.Facts, &proof)
	if b == nil {
		b = s.Plan.World.Breaks(s.Facts, &proof)
	}
	if b == nil {
		return nil
	}
	return s.Plan.Tell(b)
}

// factsAfter brings the facts up to what is done, after an event on one step, or on any where
// none is named.
func (s *State) factsAfter(step operation.StepID) {
	if s.Plan == nil || s.Plan.World.Rest == nil {
		return
	}
	was := slices.Contains(s.done, step)
	if step != "" && was == s.StepDone(step) {
		return
	}
	if step != "" && !was {
		s.Facts = maps.Clone(s.Facts)
		for _, id := range s.doneWith(step) {
			s.done = append(s.done, id)
			s.makes(id)
		}
		return
	}
	s.done = slices.DeleteFunc(slices.Clone(s.done), func(id operation.StepID) bool {
		if s.StepDone(id) {
			return false
		}
		s.reopened = append(s.reopened, id)
		return true
	})
	for _, x := range s.Plan.Steps {
		if s.StepDone(x.ID) && !slices.Contains(s.done, x.ID) {
			s.done = append(s.done, x.ID)
		}
	}
	s.Facts = nil
	for _, id := range s.done {
		s.makes(id)
	}
}

// doneWith is a step that was just done, and behind it those of the same joint that are done by it
// too: a recipe may have got fewer stages than the plan has rounds.
func (s *State) doneWith(step operation.StepID) []operation.StepID {
	out := []operation.StepID{step}
	st := s.Plan.Step(step)
	if st.Verb != operation.Tighten {
		return out
	}
	for _, x := range s.Plan.Steps {
		round := x.Joint == st.Joint && x.Verb == operation.Tighten && x.ID != step
		if round && s.StepDone(x.ID) && !slices.Contains(s.done, x.ID) {
			out = append(out, x.ID)
		}
	}
	return out
}

// makes lets what a step makes be so.
func (s *State) makes(step operation.StepID) {
	st := s.Plan.Step(step)
	if st == nil {
		return
	}
	if s.Facts == nil {
		s.Facts = fact.State{}
	}
	for _, m := range st.Makes {
		s.Facts[m.Fact] = m.Value
	}
}

// mayRoll refuses a move that brings weight on a bearing that is not set. A jack under
// the arm leaves the wheel free.
func (s *State) mayRoll(st *plan.Step) error {
	fromTheAir := st.MovesTo == plan.RideHigh && s.Position != plan.Raised
	if st.MovesTo != plan.Touching && st.MovesTo != plan.Ground && !fromTheAir {
		return nil
	}
	for j, f := range s.all() {
		snug := st.MovesTo == plan.Touching && j.Condition == vehicle.OnGround && f.Done > 0
		if j.Bears && f.Owed() && !snug {
			return refuse(fault.Condition, "position",
				"The "+j.One+" is not set: no weight may roll on a bearing whose "+j.One+" is loose.",
				"Tighten it first, with the rotation held. Then lower.")
		}
	}
	return nil
}

// wayTo names the step that brings the vehicle there.
func (s *State) wayTo(p plan.Position) string {
	for i, st := range s.Plan.Steps {
		if st.MovesTo == p && !s.Steps[st.ID].Done {
			return fmt.Sprintf("Step %d brings it there: “%s”.", i+1, st.Title)
		}
	}
	return "Bring it there first."
}

// maxTurns is more than any tie rod's thread has, and sameTurns how near to its own
// count a number must lie to be no mix-up of the sides.
const (
	maxTurns  = 60
	sameTurns = 3
)

func (s *State) decideKeep(m Meta, b KeepStep) (record.Body, error) {
	st, err := s.openStep(m, b.Step)
	if err != nil {
		return nil, err
	}
	if st.Verb.OnJoint() {
		return nil, refuse(fault.BadChoice, "step", "This step is kept fastener by fastener.", "Keep its fasteners.")
	}
	if s.Steps[b.Step].Done && !s.Again(st) {
		return nil, refuse(fault.Order, "step", "That step is kept already.", "Go on with the next.")
	}
	if err := s.Ready(st); err != nil {
		return nil, err
	}
	known := func(a operation.Answer) bool { return a.Key == b.Choice }
	if len(st.Answers) > 0 && !slices.ContainsFunc(st.Answers, known) {
		return nil, refuse(fault.Missing, "choice", "This step asks for an answer.", "Choose one of them.")
	}
	if len(b.Note) > maxText {
		return nil, refuse(fault.TooLong, "note", "That note is too long.", "Keep it under 1000 characters.")
	}
	if err := s.countTurns(st, &b); err != nil {
		return nil, err
	}
	if err := s.laidBeside(st); err != nil {
		return nil, err
	}
	if err := s.driven(st); err != nil {
		return nil, err
	}
	if err := s.booked(st); err != nil {
		return nil, err
	}
	if err := s.pumped(st, b.Strokes); err != nil {
		return nil, err
	}
	if err := s.inWindow(st, b.TempC); err != nil {
		return nil, err
	}
	b.Note = trimmed(b.Note)
	if err := s.measured(st, b.Note); err != nil {
		return nil, err
	}
	kept := record.StepKept{Step: string(b.Step), Choice: b.Choice, Note: b.Note, Turns: b.Turns}
	if t := s.troubleOf(st); t != nil && t.Code == Sheared {
		kept.Freed = st.Frees
	}
	if st.Proves == operation.ProvesPedal {
		kept.Strokes = b.Strokes
	}
	if s.AsksOil(st) {
		kept.TempC = b.TempC
	}
	return kept, nil
}

// laidBeside asks that a new part was measured beside the old one and taken: nobody sees
// by eye that all is alike.
func (s *State) laidBeside(st *plan.Step) error {
	if _, ok := s.Plan.Compared(st); !ok {
		return nil
	}
	match := s.Match(st.Part)
	switch {
	case match == nil:
		return refuse(fault.Missing, "compare", "What decides was not measured on old and new.",
			"Lay them beside each other, and write down the measures that decide.")
	case !match.Accept:
		return refuse(fault.RefusedPart, "step", "The new "+match.Title+" was refused: "+match.Why()+".",
			"Get the right one, lay it beside the old and compare again.")
	}
	return nil
}

// countTurns asks for the turns a step counts, and for those of its own side.
func (s *State) countTurns(st *plan.Step, b *KeepStep) error {
	if st.Counts == "" {
		b.Turns = 0
		return nil
	}
	if !(b.Turns > 0 && b.Turns <= maxTurns) {
		return refuse(fault.Missing, "turns", "The turns are not counted.",
			"Count whole turns and quarters, as 17.25, and write them down for this side.")
	}
	if st.Counts != "in" {
		return nil
	}
	for _, t := range s.Turns() {
		mine := math.Abs(b.Turns-s.turnsOut(st.Corner)) < sameTurns
		if t.Corner != st.Corner && t.Out == b.Turns && !mine {
			return refuse(fault.OtherSide, "turns",
				fmt.Sprintf("%s turns were counted on the %s; this is the %s.",
					unit.Number(t.Out, 2), t.Corner.Side(), st.Corner.Side()),
				"Take the number of this side: left and right are never exchanged.")
		}
	}
	return nil
}

func (s *State) applyKept(e Event, b record.StepKept) {
	st := s.Steps[operation.StepID(b.Step)]
	if st == nil {
		return
	}
	again := st.Done
	*st = StepState{
		Done:    true,
		Times:   st.Times + 1,
		Letters: st.Letters,
		Choice:  b.Choice,
		Note:    b.Note,
		Turns:   b.Turns,
		Strokes: b.Strokes,
		TempC:   b.TempC,
		By:      e.By,
		At:      e.At,
		Seq:     e.Seq,
	}
	done := s.Plan.Step(operation.StepID(b.Step))
	s.effects(done, e.At)
	if again {
		s.done = append(s.done, done.ID)
		s.Facts = maps.Clone(s.Facts)
		s.makes(done.ID)
	}
	s.extracted(e, done, b.Freed != "")
}

// effects are what a kept step changes on the vehicle.
func (p *Progress) effects(st *plan.Step, at time.Time) {
	if st.MovesTo != "" {
		p.Position = st.MovesTo
		clear(p.Held) // whoever held it has let go by then
	}
	if st.Holds {
		p.Held[st.Corner] = true
	}
	if st.LetsGo {
		p.Held[st.Corner] = false
	}
	if st.Verb == operation.Soak {
		end := at.Add(time.Duration(st.Minutes * float64(time.Minute)))
		p.Soaks = append(p.Soaks, Soaking{Step: st.ID, Title: st.Title, Start: at, End: end})
	}
}

func (s *State) decidePostpone(m Meta, b Postpone) (record.Body, error) {
	st, err := s.openStep(m, b.Step)
	if err != nil {
		return nil, err
	}
	for _, t := range s.Tendings() {
		if t.Attended && s.leadsTo(st.ID, t.Closes) {
			return nil, s.attended("step")
		}
	}
	return record.Postponed{Step: string(b.Step)}, nil
}

func (s *State) applyPostponed(_ Event, b record.Postponed) {
	if st := s.Steps[operation.StepID(b.Step)]; st != nil {
		st.Postponed = true
	}
}
