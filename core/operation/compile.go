package operation

import (
	"fmt"
	"slices"
	"sort"
	"strconv"
	"strings"

	"lugtak/core/fault"
	"lugtak/core/recipe"
	"lugtak/core/thread"
	"lugtak/core/vehicle"
)

// Plan is an operation compiled for a vehicle and frozen into the job with the
// versions of its sources.
type Plan struct {
	Title    string          `json:"title"`
	Does     []string        `json:"does"` // operations
	Corner   vehicle.Corner  `json:"corner"`
	Pattern  string          `json:"pattern"`
	Invented bool            `json:"invented"`
	Sources  []string        `json:"sources"` // "operation front-hub-unit 3"
	Warnings []string        `json:"warnings"`
	Outline  vehicle.Outline `json:"outline"`
	Picture  Picture         `json:"picture"`
	Joints   []PlanJoint     `json:"joints"`
	Parts    []Part          `json:"parts"`
	Drive    []Manoeuvre     `json:"drive"`
	Steps    []Step          `json:"steps"`
}

// PlanJoint is a joint with what the sheet of this vehicle says of it.
type PlanJoint struct {
	ID string `json:"id"` // "hub.FL.knuckle"
	Joint
	vehicle.Spec
	Letters []string `json:"letters"` // A, B, C; wheel fasteners 1 to 5
	Order   []int    `json:"order"`   // in which they are tightened
}

// Systems of a joint on which a deviation needs a second person.
const (
	Brake    = "brake"
	Steering = "steering"
)

// Compile joins an operation with a pattern's sheet for one corner. It refuses
// what does not fit together with faults that name the operation's own keys.
func Compile(op Operation, pat vehicle.Pattern, corner vehicle.Corner) (Plan, error) {
	if op.Axle != "" && corner.Axle() != op.Axle {
		return Plan{}, fault.New("bad_corner", "corner", op.Title+" is done on the "+op.Axle+" axle.", "Choose a corner of that axle.")
	}
	if !slices.Contains(pat.Operations, op.ID) {
		return Plan{}, fault.New("no_sheet", "operation", pat.Name+" has no sheet for “"+op.Title+"”.", "Add the operation and its joints to the pattern's file.")
	}
	p := Plan{Title: op.Title + ", " + corner.Side(), Does: []string{op.ID}, Corner: corner, Pattern: pat.Name, Invented: pat.Invented, Warnings: op.Warnings,
		Sources: []string{fmt.Sprintf("operation %s, version %d", op.ID, op.Version), fmt.Sprintf("sheet %s, version %d", pat.ID, pat.Version)},
		Outline: pat.Outline, Picture: op.Picture, Drive: op.Drive}
	ids := map[string]string{}
	for _, j := range op.Joints {
		spec, ok := pat.Spec[j.Spec]
		if !ok {
			return Plan{}, fault.New("no_sheet", "operation", "The sheet of "+pat.Name+" lacks the joint "+j.Spec+".", "Add it to the pattern's file, with its source.")
		}
		r, err := recipe.Parse(spec.Recipe)
		if err != nil {
			return Plan{}, fault.In("spec."+j.Spec+".recipe", err)
		}
		n := max(spec.Count, len(j.At), 1)
		pj := PlanJoint{Joint: j, Spec: spec}
		head, tail, _ := strings.Cut(j.Spec, ".")
		_, key, _ := strings.Cut(tail, ".")
		pj.ID = head + "." + string(corner) + "." + key
		ids[j.Key] = pj.ID
		for i := range n {
			if j.Star {
				pj.Letters = append(pj.Letters, strconv.Itoa(i+1))
			} else {
				pj.Letters = append(pj.Letters, string(rune('A'+i)))
			}
		}
		pj.Order = order(n, j.Star)
		pj.Recipe = r.String()
		p.Joints = append(p.Joints, pj)
		if spec.Renew {
			p.Parts = append(p.Parts, Part{Key: pj.ID, Title: spec.Hardware, Count: n, OneUse: true})
		}
	}
	p.Parts = append(append([]Part{}, op.Parts...), p.Parts...)
	steps, err := arrange(op.Steps)
	if err != nil {
		return Plan{}, err
	}
	for _, s := range steps {
		if s.Joint != "" {
			id, ok := ids[s.Joint]
			if !ok {
				return Plan{}, fault.New("bad_step", "steps."+s.ID+".joint", "Step "+s.ID+" names a joint the operation does not have: "+s.Joint+".", "Name one of its joints.")
			}
			s.Joint = id
		}
		s.Title = strings.ReplaceAll(s.Title, "{side}", corner.Side())
		s.How = strings.ReplaceAll(s.How, "{side}", corner.Side())
		p.Steps = append(p.Steps, s)
	}
	return p, nil
}

// order is the sequence in which n fasteners are tightened: round, or for a
// star every second one across the circle.
func order(n int, star bool) []int {
	out := make([]int, 0, n)
	if !star || n < 4 {
		for i := range n {
			out = append(out, i)
		}
		return out
	}
	if n%2 == 1 { // 1-3-5-2-4
		for i, k := 0, 0; i < n; i, k = i+1, (k+(n-1)/2)%n {
			out = append(out, k)
		}
		return out
	}
	// Across each time; from pair to pair by about a quarter turn, never to the
	// neighbour.
	half := n / 2
	pair := func(i int) int { return i * ((half - 1) / 2) % half }
	if half%2 == 0 {
		pair = func(i int) int { return i/2 + i%2*half/2 }
	}
	for i := range half {
		k := pair(i)
		out = append(out, k, k+half)
	}
	return out
}

// arrange sorts the steps by their needs, keeping the order of the file where
// it is free, with what runs by itself as early as it can be set going.
func arrange(steps []Step) ([]Step, error) {
	at := map[string]int{}
	for i, s := range steps {
		if _, twice := at[s.ID]; twice {
			return nil, fault.New("bad_step", "steps", "Two steps are named "+s.ID+".", "Give each its own name.")
		}
		at[s.ID] = i
	}
	waits := make([]int, len(steps))
	next := make([][]int, len(steps))
	for i, s := range steps {
		for _, n := range s.Needs {
			j, ok := at[n]
			if !ok {
				return nil, fault.New("bad_step", "steps."+s.ID+".needs", "Step "+s.ID+" needs "+n+", which is no step.", "Name a step of this operation.")
			}
			waits[i]++
			next[j] = append(next[j], i)
		}
	}
	var ready []int
	for i := range steps {
		if waits[i] == 0 {
			ready = append(ready, i)
		}
	}
	out := make([]Step, 0, len(steps))
	for len(ready) > 0 {
		sort.Slice(ready, func(a, b int) bool {
			x, y := ready[a], ready[b]
			if sx, sy := steps[x].Verb == Soak, steps[y].Verb == Soak; sx != sy {
				return sx
			}
			return x < y
		})
		i := ready[0]
		ready = ready[1:]
		out = append(out, steps[i])
		for _, j := range next[i] {
			if waits[j]--; waits[j] == 0 {
				ready = append(ready, j)
			}
		}
	}
	if len(out) < len(steps) {
		var stuck []string
		for i, s := range steps {
			if waits[i] > 0 {
				stuck = append(stuck, s.ID)
			}
		}
		return nil, fault.New("bad_step", "steps", "These steps wait for one another in a ring: "+strings.Join(stuck, ", ")+".", "Take one of their needs away.")
	}
	return out, nil
}

// Stages parses the joint's recipe, which Compile has checked. A joint that is
// gone over after the drive owes its last stage once more.
func (j PlanJoint) Stages() []recipe.Stage {
	r, err := recipe.Parse(j.Recipe)
	if err != nil {
		return nil
	}
	if j.Again {
		return append(r.Stages, r.Stages[len(r.Stages)-1])
	}
	return r.Stages
}

// Says is the recipe as people read it.
func (j PlanJoint) Says() string {
	if j.Again {
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
func (p *Plan) Step(id string) *Step {
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
