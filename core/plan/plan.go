// Package plan compiles operations for a vehicle: it finds ways to what they want, joins
// what several want, closes everything again and proves the whole. Moving a step and
// learning times are here too.
package plan

import (
	"slices"
	"strings"

	"lugtak/core/fact"
	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/pull"
	"lugtak/core/recipe"
	"lugtak/core/thread"
	"lugtak/core/vehicle"
	"lugtak/core/wrench"
)

// Plan is what was ordered for a vehicle, compiled and frozen into the job with
// the versions of its sources.
type Plan struct {
	Title    string
	Tasks    []Task
	Pattern  string
	Invented bool
	Sources  []string // "operation front-hub-unit 3"
	Warnings []string
	Outline  vehicle.Outline
	Scenes   []Scene
	Joints   []Joint
	Without  []string // titles of joints that such a vehicle was said not to have
	Parts    []operation.Part
	Drive    []operation.Manoeuvre
	Schools  []SchoolUsed
	Builds   []BuildUsed
	Steps    []Step
	World    fact.World // what the steps begin from, and the laws they keep; empty in plans of old

	Free *operation.Draft // what is done that no operation knows; nil where nothing is

	GearOil vehicle.Window // at which the gearbox level is read; zero is any

	Technicians int // the order is made for; none said is one
}

// Position is how the vehicle stands.
type Position string

// The positions.
const (
	Ground   Position = "on its wheels"
	Raised   Position = "raised"
	RideHigh Position = "ride height"
	Touching Position = "tyre touching"
)

// Stands says that a vehicle so placed also stands as wanted: one on its wheels
// is also one whose tyre touches, at ride height.
func (is Position) Stands(wants Position) bool {
	return is == wants || (wants == Touching && is == Ground) || (wants == RideHigh && is == Ground)
}

// Stands says by the facts whether the vehicle stands as wanted; known is false for plans
// of old, which have none.
func (p *Plan) Stands(now fact.State, as Position) (stands, known bool) {
	if p.World.Rest == nil {
		return false, false
	}
	if as == RideHigh && p.World.Is(now, fact.Fact{Subject: springsFact}) == atRideHeight {
		return true, true
	}
	is := p.World.Is(now, fact.Fact{Subject: VehicleFact})
	if as == Touching && is == onRamps { // its weight is on its tyres there too
		return true, true
	}
	return position(is).Stands(as), true
}

// TyreHolds says by the facts that the wheel of a corner is on and carries the vehicle, so that its
// hub does not turn with a wrench.
func (p *Plan) TyreHolds(now fact.State, c vehicle.Corner) bool {
	carries, known := p.Stands(now, Touching)
	return known && carries && p.World.Is(now, fact.Fact{Subject: wheelFact, Place: string(c)}) == wheelOn
}

// Step is one act at one place of this vehicle. Its wants and makes are facts; what stands
// before it follows from them.
type Step struct {
	operation.Step
	Corner   vehicle.Corner
	Owner    string         // operation or way it belongs to
	Scene    int            // picture it is shown in
	Two      operation.Pair // who has hands where, of two
	Low      float64        // minutes, where the shop has timed it
	High     float64
	Timed    int // on how many jobs
	Wants    []fact.Want
	Makes    []fact.Make
	Needs    []operation.StepID
	Position Position // where the vehicle must stand
	MovesTo  Position
	Holds    bool // rotation is held from here
	LetsGo   bool
	Frees    string // the fastener, by joint and letter, whose trouble ends with it
}

// Kind is the step whatever its corner: its owner and its key in the library.
func (s *Step) Kind() string {
	id := string(s.ID)
	if s.Corner != "" {
		id = strings.TrimSuffix(id, "."+string(s.Corner))
	}
	return id
}

// MakesFacts lists the facts the step brings about, by name.
func (s *Step) MakesFacts() []string {
	var out []string
	for _, m := range s.Makes {
		out = append(out, m.Fact.Subject)
	}
	return out
}

// Mirrored says that the step is done on the right, and its left-hand picture turned over.
func (s *Step) Mirrored() bool { return s.Corner != "" && !s.Corner.Left() }

// Proof is the step as a proof takes it.
func (s *Step) Proof() fact.Step {
	return fact.Step{ID: string(s.ID), At: s.hands(), Wants: s.Wants, Makes: s.Makes}
}

// hands is the corner one's hands are at; empty elsewhere, on the bench too.
func (s *Step) hands() string {
	if s.Place == bench {
		return ""
	}
	return string(s.Corner)
}

// Reached is the step as one proves it whose fastener was tightened once already: what had
// to lie open for it may be closed by now, and the hand finds its own way; how the vehicle
// stands and who holds it still counts.
func (s *Step) Reached() fact.Step {
	out := fact.Step{ID: string(s.ID), Makes: s.Makes}
	for _, w := range s.Wants {
		switch w.Fact.Subject {
		case VehicleFact, springsFact, RotationFact, fact.Fastener:
			if w.Values.Has(fact.Value(Touching)) { // its weight is on its tyres on ramps too
				w.Values = append(slices.Clip(w.Values), onRamps)
			}
			out.Wants = append(out.Wants, w)
		}
	}
	return out
}

// Prove walks the steps as they stand. A plan of old has no facts to prove by.
func (p *Plan) Prove() error {
	steps := make([]fact.Step, len(p.Steps))
	for i := range p.Steps {
		steps[i] = p.Steps[i].Proof()
	}
	return p.World.Prove(steps)
}

// Task is one operation at one corner; what is done under the middle of the
// vehicle has no corner.
type Task struct {
	Operation string
	Corner    vehicle.Corner
}

// String writes a task as front-hub-unit@FL.
func (t Task) String() string {
	if t.Corner == "" {
		return t.Operation
	}
	return t.Operation + "@" + string(t.Corner)
}

// ParseTask reads a task as String writes it.
func ParseTask(text string) (Task, error) {
	op, corner, has := strings.Cut(strings.TrimSpace(text), "@")
	t := Task{Operation: op}
	if op == "" || len(op) > 60 {
		return t, fault.New(fault.Missing, "operation", "No operation is named.", "Write it as front-hub-unit@FL.")
	}
	if !has {
		return t, nil
	}
	c, err := vehicle.ParseCorner(corner)
	t.Corner = c
	return t, err
}

// Scene is the picture of a task, with the joints to be seen in it.
type Scene struct {
	Like   string // how the corner is built, by the answers of builds.yaml
	Corner vehicle.Corner
	Joints []string
}

// SchoolUsed is a school that matters to the plan, and the way that was taken.
type SchoolUsed struct {
	operation.School
	Way string
}

// Way is the way taken of a school, "" where the school decides nothing in the plan.
func (p *Plan) Way(school string) string {
	for _, s := range p.Schools {
		if s.Key == school {
			return s.Way
		}
	}
	return ""
}

// Aim is where in a window the plan wants torques set.
func (p *Plan) Aim() wrench.School {
	return wrench.School(p.Way(aimSchool))
}

// BuildUsed is a question of how the vehicle is built that matters to the plan. Where
// nobody answered it yet the plan is made for what is assumed.
type BuildUsed struct {
	operation.Build
	Is      string
	Known   bool
	Decides []operation.StepID // what would be otherwise by another answer
}

// Answer is what was taken for an answer, in words.
func (b BuildUsed) Answer() string {
	for _, a := range b.Answers {
		if a.Key == b.Is {
			return a.Title
		}
	}
	return b.Is
}

// Joint is a joint with what the sheet of this vehicle says of it.
type Joint struct {
	ID string // "hub.FL.knuckle"
	operation.Joint
	vehicle.Spec
	Sheet   string // its key in the pattern's sheet
	Corner  vehicle.Corner
	Tray    string   // "FL 2": side and number, never shared
	Letters []string // A, B, C; wheel fasteners 1 to 5
	Order   []int    // in which they are tightened
}

// MakesOf says that a step brings something about of a fact.
func (s *Step) MakesOf(subject string) bool {
	return slices.ContainsFunc(s.Makes, func(m fact.Make) bool { return m.Fact.Subject == subject })
}

// Systems of a joint that rules speak of.
const (
	Brake    = "brake"
	Steering = "steering"
	Wheel    = "wheel"
)

// Stages are those of the joint's recipe. A joint that is
// gone over after the drive owes its last stage once more.
func (j Joint) Stages() []recipe.Stage {
	stages := j.Read()
	if len(stages) == 0 {
		stages = []recipe.Stage{{Kind: recipe.Unread}} // owed all the same
	}
	if j.AfterDrive && len(stages) > 0 {
		return append(slices.Clone(stages), stages[len(stages)-1])
	}
	return stages
}

// LeftHand says that by its recipe the joint has a left-hand thread: it tightens the other way round.
func (j Joint) LeftHand() bool {
	return slices.ContainsFunc(j.Read(), func(s recipe.Stage) bool { return s.Left })
}

// Says is the recipe as people read it.
func (j Joint) Says() string {
	says := j.Recipe
	switch {
	case len(j.Differs) > 0:
		says = "readings differ"
	case j.Unread():
		says = "no figure yet"
	}
	if j.AfterDrive {
		says += ", again after the drive"
	}
	return says
}

// slopeUnknown is the elastic slope taken where the sheet does not tell what the bolt
// is, N·m per degree (common practice for M10 to M12).
const slopeUnknown = 1.5

// Slope is the elastic slope a pull on the joint shows at mid friction, N·m per degree. The thread
// and what is on it tell it, of whatever class the fastener is.
func (j Joint) Slope() float64 {
	th, err := thread.Parse(j.Thread)
	if err != nil {
		return slopeUnknown
	}
	mu, err := thread.Friction(thread.Treatment(j.Treatment))
	if err != nil {
		return slopeUnknown
	}
	return th.Stiffness().Mid * th.P / 360 * th.TorquePerForce(mu.Mid)
}

// Expect is what the judge may compare the pull of one stage with, of the stages the joint is
// tightened by: how it rises where it is clamped first, and whether it was there before.
func (j Joint) Expect(stages []recipe.Stage, n int) pull.Expect {
	var ex pull.Expect
	again := n > 0 && stages[n-1] == stages[n]
	ex.Repeat = again || n > 1 && j.AfterDrive
	if th, err := thread.Parse(j.Thread); err == nil && stages[n].Kind == recipe.Torque && n == 0 {
		ex.SlopeLow, ex.SlopeHigh = th.SlopeBand(thread.Treatment(j.Treatment))
	}
	return ex
}

// Joint finds a joint of the plan by its id.
func (p *Plan) Joint(id string) *Joint {
	for i := range p.Joints {
		if p.Joints[i].ID == id {
			return &p.Joints[i]
		}
	}
	return nil
}

// Step finds a step by its id.
func (p *Plan) Step(id operation.StepID) *Step {
	for i := range p.Steps {
		if p.Steps[i].ID == id {
			return &p.Steps[i]
		}
	}
	return nil
}

// Fasteners counts what the plan opens.
func (p *Plan) Fasteners() int {
	n := 0
	for _, j := range p.Joints {
		n += len(j.Letters)
	}
	return n
}

// StepIDs names the steps in their order.
func (p *Plan) StepIDs() []operation.StepID {
	out := make([]operation.StepID, len(p.Steps))
	for i, s := range p.Steps {
		out[i] = s.ID
	}
	return out
}

// Compared is the part a step lays beside the old one; ok is false where it compares
// none that is measured.
func (p *Plan) Compared(s *Step) (part operation.Part, ok bool) {
	if s == nil || s.Verb != operation.Compare {
		return operation.Part{}, false
	}
	for _, x := range p.Parts {
		if x.Key == s.Part && x.Kind != "" {
			return x, true
		}
	}
	return operation.Part{}, false
}

// Does says that the plan carries out an operation.
func (p *Plan) Does(op string) bool {
	for _, t := range p.Tasks {
		if t.Operation == op {
			return true
		}
	}
	return false
}

// Corners the plan works at, each once; one that is empty is the middle.
func (p *Plan) Corners() []vehicle.Corner {
	var out []vehicle.Corner
	for _, t := range p.Tasks {
		if !slices.Contains(out, t.Corner) {
			out = append(out, t.Corner)
		}
	}
	return out
}
