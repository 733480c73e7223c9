package operation

import (
	"slices"
	"strings"

	"lugtak/core/fault"
	"lugtak/core/recipe"
	"lugtak/core/thread"
	"lugtak/core/vehicle"
)

// Plan is what was ordered for a vehicle, compiled and frozen into the job with
// the versions of its sources.
type Plan struct {
	Title    string          `json:"title"`
	Tasks    []Task          `json:"tasks"`
	Pattern  string          `json:"pattern"`
	Invented bool            `json:"invented"`
	Sources  []string        `json:"sources"` // "operation front-hub-unit 3"
	Warnings []string        `json:"warnings"`
	Outline  vehicle.Outline `json:"outline"`
	Scenes   []Scene         `json:"scenes"`
	Joints   []PlanJoint     `json:"joints"`
	Parts    []Part          `json:"parts"`
	Drive    []Manoeuvre     `json:"drive"`
	Schools  []SchoolUsed    `json:"schools"`
	Steps    []Step          `json:"steps"`

	Technicians int `json:"technicians,omitempty"` // the order is made for; none said is one
}

// Task is one operation at one corner; what is done under the middle of the
// vehicle has no corner.
type Task struct {
	Operation string         `json:"operation"`
	Corner    vehicle.Corner `json:"corner"`
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
		return t, fault.New("missing", "operation", "No operation is named.", "Write it as front-hub-unit@FL.")
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
	Picture
	Corner vehicle.Corner `json:"corner"`
	Joints []string       `json:"joints"`
}

// SchoolUsed is a school that matters to the plan, and the way that was taken.
type SchoolUsed struct {
	School
	Way string `json:"way"`
}

// PlanJoint is a joint with what the sheet of this vehicle says of it.
type PlanJoint struct {
	ID string `json:"id"` // "hub.FL.knuckle"
	Joint
	vehicle.Spec
	Sheet   string         `json:"sheet"` // its key in the pattern's sheet
	Corner  vehicle.Corner `json:"corner"`
	Tray    string         `json:"tray"`    // "FL 2": side and number, never shared
	Letters []string       `json:"letters"` // A, B, C; wheel fasteners 1 to 5
	Order   []int          `json:"order"`   // in which they are tightened
}

// Systems of a joint on which a deviation needs a second person.
const (
	Brake    = "brake"
	Steering = "steering"
)

// Stages are those of the joint's recipe. A joint that is
// gone over after the drive owes its last stage once more.
func (j PlanJoint) Stages() []recipe.Stage {
	stages := j.Read()
	if j.AfterDrive && len(stages) > 0 {
		return append(slices.Clone(stages), stages[len(stages)-1])
	}
	return stages
}

// Says is the recipe as people read it.
func (j PlanJoint) Says() string {
	if j.AfterDrive {
		return j.Recipe + ", again after the drive"
	}
	return j.Recipe
}

// Fastener is what the thread core needs to know of one of the joint's bolts;
// ok is false where the sheet does not tell.
func (j PlanJoint) Fastener() (f recipe.Fastener, ok bool) {
	th, err := thread.Parse(j.Thread)
	if err != nil {
		return f, false
	}
	cl, err := thread.ParseClass(j.Class, th)
	if err != nil {
		return f, false
	}
	return recipe.Fastener{Thread: th, Class: cl, Treatment: thread.Treatment(j.Treatment)}, true
}

// slopeUnknown is the elastic slope taken where the sheet does not tell what the bolt
// is, N·m per degree (common practice for M10 to M12).
const slopeUnknown = 1.5

// Slope is the elastic slope a pull on the joint shows at mid friction, N·m per degree.
func (j PlanJoint) Slope() float64 {
	f, ok := j.Fastener()
	if !ok {
		return slopeUnknown
	}
	mu, err := thread.Friction(f.Treatment)
	if err != nil {
		return slopeUnknown
	}
	return f.Thread.Stiffness().Mid * f.Thread.P / 360 * f.Thread.TorquePerForce(mu.Mid)
}

// Joint finds a joint of the plan by its id.
func (p *Plan) Joint(id string) *PlanJoint {
	for i := range p.Joints {
		if p.Joints[i].ID == id {
			return &p.Joints[i]
		}
	}
	return nil
}

// Step finds a step by its id.
func (p *Plan) Step(id StepID) *Step {
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
func (p *Plan) StepIDs() []StepID {
	out := make([]StepID, len(p.Steps))
	for i, s := range p.Steps {
		out[i] = s.ID
	}
	return out
}

// Compared is the part a step lays beside the old one; ok is false where it compares
// none that is measured.
func (p *Plan) Compared(s *Step) (part Part, ok bool) {
	if s == nil || s.Verb != Compare {
		return Part{}, false
	}
	for _, x := range p.Parts {
		if x.Key == s.Part && x.Kind != "" {
			return x, true
		}
	}
	return Part{}, false
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
