package operation

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"

	"lugtak/core/fault"
	"lugtak/core/recipe"
	"lugtak/core/vehicle"
)

// Order is what is to be compiled into one plan.
type Order struct {
	Tasks   []Task
	Pattern vehicle.Pattern
	Known   []Operation // what may be ordered
	Access  []Operation // what several of them open alike
	Places  []Place     // pictures they are shown at
	Schools []School
	Ways    map[string]string    // way by school, where it is not the default
	Timed   map[string][]float64 // minutes the shop's own jobs took, by owner.step
}

// Accesses the rules of the trade call for by themselves.
const (
	soakAccess  = "soak"
	alignAccess = "align"
)

// used is an operation or access at one corner of this vehicle.
type used struct {
	Operation
	corner vehicle.Corner
	task   bool
}

// compiler joins what was ordered into one plan.
type compiler struct {
	Order
	plan    Plan
	ways    map[string]string // schools and the pattern's traits
	asked   map[string]bool   // schools and traits that decided something
	uses    []used
	depth   int                 // of accesses being opened within one another
	joints  map[string]string   // owner of each joint, by its id
	local   map[string]string   // joint id by owner|corner|key; empty where this vehicle lacks it
	dropped map[StepID][]StepID // needs of steps this vehicle or school has not
	steps   []Step
	at      map[StepID]int
	closes  map[StepID]StepID // closing step to the step whose access it closes
	before  [][2]StepID
}

// Compile joins the operations ordered with a pattern's sheet: shared accesses are
// opened once, joints, tools and parts are united, and what the rules of the trade
// demand is put in. It refuses what does not fit together with faults that name
// the library's own keys.
func Compile(o Order) (Plan, error) {
	c := compiler{Order: o, ways: map[string]string{}, asked: map[string]bool{}, joints: map[string]string{}, local: map[string]string{}, dropped: map[StepID][]StepID{}, at: map[StepID]int{}, closes: map[StepID]StepID{}}
	for _, pass := range []func() error{c.choose, c.expand, c.takeJoints, c.soak, c.takeSteps, c.weave} {
		if err := pass(); err != nil {
			return Plan{}, err
		}
	}
	steps, err := arrange(c.steps)
	if err != nil {
		return Plan{}, err
	}
	c.plan.Steps = steps
	for i := range c.plan.Joints {
		if err := c.plan.closed(&c.plan.Joints[i]); err != nil {
			return Plan{}, err
		}
	}
	if err := c.plan.positions(); err != nil {
		return Plan{}, err
	}
	c.finish()
	return c.plan, nil
}

// choose settles the schools: the default, unless the order names another way.
func (c *compiler) choose() error {
	for _, s := range c.Schools {
		c.ways[s.Key] = s.Default
	}
	for _, key := range slices.Sorted(maps.Keys(c.Ways)) {
		i := slices.IndexFunc(c.Schools, func(s School) bool { return s.Key == key })
		if i < 0 {
			return fault.New("bad_choice", "school", "There is no school “"+key+"”.", "Choose one that is listed.")
		}
		if !slices.ContainsFunc(c.Schools[i].Ways, func(w Way) bool { return w.Key == c.Ways[key] }) {
			return fault.New("bad_choice", "school", "“"+c.Ways[key]+"” is no way of “"+c.Schools[i].Question+"”.", "Choose one of: "+wayKeys(c.Schools[i])+".")
		}
		c.ways[key] = c.Ways[key]
	}
	maps.Copy(c.ways, c.Pattern.Traits)
	return nil
}

func wayKeys(s School) string {
	var out []string
	for _, w := range s.Ways {
		out = append(out, w.Key)
	}
	return strings.Join(out, ", ")
}

// when says that all the schools and traits named have one of the ways named.
func (c *compiler) when(w map[string][]string) bool {
	ok := true
	for key, ways := range w {
		c.asked[key] = true
		ok = ok && slices.Contains(ways, c.ways[key])
	}
	return ok
}

// expand lists every operation and access the tasks need, each once a corner,
// the outermost first.
func (c *compiler) expand() error {
	if len(c.Tasks) == 0 {
		return fault.New("missing", "operation", "Nothing is ordered.", "Choose what is to be replaced.")
	}
	for i, t := range c.Tasks {
		op, ok := find(c.Known, t.Operation)
		switch {
		case !ok:
			return fault.New("missing", "operation", "The library has no operation “"+t.Operation+"”.", "Choose one that is listed.")
		case slices.Contains(c.Tasks[:i], t):
			return fault.New("bad_choice", "operation", op.Title+" is ordered twice at the same place.", "Take one away.")
		case op.Axle == Under && t.Corner != "":
			return fault.New("bad_corner", "corner", op.Title+" is done in the middle of the vehicle, at no corner.", "Leave the corner out.")
		case op.Axle != Under && t.Corner == "":
			return fault.New("bad_corner", "corner", op.Title+" is done at a corner.", "Choose a corner of the "+op.Axle+" axle.")
		case op.Axle != Under && op.Axle != "any" && t.Corner.Axle() != op.Axle:
			return fault.New("bad_corner", "corner", op.Title+" is done on the "+op.Axle+" axle.", "Choose a corner of that axle.")
		case !slices.Contains(c.Pattern.Operations, op.ID):
			return fault.New("no_sheet", "operation", c.Pattern.Name+" has no sheet for “"+op.Title+"”.", "Add the operation and its joints to the pattern's file.")
		}
		if err := c.use(op, t.Corner, true); err != nil {
			return err
		}
	}
	for _, u := range c.uses {
		if len(u.Sets) > 0 {
			return c.useNamed(alignAccess, "")
		}
	}
	return nil
}

func find(all []Operation, id string) (Operation, bool) {
	i := slices.IndexFunc(all, func(o Operation) bool { return o.ID == id })
	if i < 0 {
		return Operation{}, false
	}
	return all[i], true
}

func (c *compiler) useNamed(id string, corner vehicle.Corner) error {
	op, ok := find(c.Access, id)
	if !ok {
		return fault.New("missing", "uses", "The library has no access “"+id+"”.", "Add its file to library/access, or use another.")
	}
	return c.use(op, corner, false)
}

func (c *compiler) use(op Operation, corner vehicle.Corner, task bool) error {
	if op.Axle == Under {
		corner = ""
	}
	if slices.ContainsFunc(c.uses, func(u used) bool { return u.ID == op.ID && u.corner == corner }) {
		return nil
	}
	if c.depth++; c.depth > maxDepth {
		return fault.New("bad_step", "uses", "The accesses use one another in a ring.", "Take one of them away.")
	}
	defer func() { c.depth-- }()
	for _, id := range op.Uses {
		if err := c.useNamed(id, corner); err != nil {
			return err
		}
	}
	c.uses = append(c.uses, used{op, corner, task})
	return nil
}

// maxDepth is more than any access lies behind others.
const maxDepth = 30

// takeJoints looks every joint up in the sheet.
func (c *compiler) takeJoints() error {
	p := &c.plan
	p.Pattern, p.Invented, p.Outline, p.Tasks = c.Pattern.Name, c.Pattern.Invented, c.Pattern.Outline, c.Tasks
	trays := map[vehicle.Corner]int{}
	for _, u := range c.uses {
		for _, j := range u.Joints {
			key := u.ID + "|" + string(u.corner) + "|" + j.Key
			c.local[key] = ""
			if !c.when(j.When) {
				continue
			}
			name := c.side(j.Spec, u.corner)
			spec, ok := c.Pattern.Spec[name]
			if !ok && j.Optional {
				continue
			}
			if !ok {
				return fault.New("no_sheet", "operation", "The sheet of "+c.Pattern.Name+" lacks the joint "+name+".", "Add it to the pattern's file, with its source.")
			}
			r, err := recipe.Parse(spec.Recipe)
			if err != nil {
				return fault.In("spec."+name+".recipe", err)
			}
			pj := PlanJoint{ID: name, Sheet: name, Joint: j, Spec: spec, Corner: u.corner}
			if u.corner != "" {
				head, tail, _ := strings.Cut(name, ".")
				_, last, _ := strings.Cut(tail, ".")
				pj.ID = head + "." + string(u.corner) + "." + last
			}
			if owner, twice := c.joints[pj.ID]; twice {
				return fault.New("conflict", "operation", "“"+u.Title+"” and “"+owner+"” both open the "+j.Title+".", "Order one of them, or let both use one access for it.")
			}
			c.joints[pj.ID], c.local[key] = u.Title, pj.ID
			n := max(spec.Count, len(j.At), 1)
			for i := range n {
				if j.Star {
					pj.Letters = append(pj.Letters, strconv.Itoa(i+1))
				} else {
					pj.Letters = append(pj.Letters, string(rune('A'+i)))
				}
			}
			pj.Order = order(n, j.Star)
			pj.At = places(j.At, n)
			pj.Spec.Recipe = r.String()
			pj.Title, pj.Points = c.side(j.Title, u.corner), c.side(j.Points, u.corner)
			for way, condition := range j.By {
				school, is, _ := strings.Cut(way, "=")
				c.asked[school] = true
				if c.ways[school] == is {
					pj.Condition, pj.Held = condition, false
				}
			}
			trays[u.corner]++
			pj.Tray = strings.TrimSpace(fmt.Sprintf("%s %d", u.corner, trays[u.corner]))
			p.Joints = append(p.Joints, pj)
		}
	}
	return nil
}

// side fills a text of the library in for a corner.
func (c *compiler) side(text string, corner vehicle.Corner) string {
	if !strings.Contains(text, "{") || corner == "" {
		return text
	}
	return strings.NewReplacer("{side}", corner.Side(), "{axle}", corner.Axle()).Replace(text)
}

// soak adds the penetrant wherever a joint seizes, at a corner or in the middle.
func (c *compiler) soak() error {
	for _, j := range c.plan.Joints {
		if j.Seizes {
			if err := c.useNamed(soakAccess, j.Corner); err != nil {
				return err
			}
		}
	}
	return nil
}

// takeSteps gives every step its full name, drops those of other schools and of
// joints this vehicle has not, and merges the shared ones.
func (c *compiler) takeSteps() error {
	for _, u := range c.uses {
		own := map[StepID]bool{} // names of this file: two ways of a step share one
		for _, s := range u.Steps {
			own[s.ID] = true
		}
		taken := map[StepID]bool{}
		for _, s := range u.Steps {
			id := name(u, s)
			keep := c.when(s.When)
			if s.Joint != "" {
				joint, ok := c.local[u.ID+"|"+string(u.corner)+"|"+s.Joint]
				if !ok {
					return badStep(s.ID, "joint",
						fmt.Sprintf("Step %s names a joint the operation does not have: %s.", s.ID, s.Joint), "Name one of its joints.")
				}
				keep = keep && joint != ""
				s.Joint = joint
			}
			needs := make([]StepID, 0, len(s.Needs))
			for _, n := range s.Needs {
				if !strings.Contains(string(n), ".") {
					if !own[n.plain()] {
						return badStep(s.ID, "needs",
							fmt.Sprintf("Step %s needs %s, which is no step.", s.ID, n), "Name a step of this operation, or access.step.")
					}
					n = under(u.ID, n)
				}
				needs = append(needs, n.at(u.corner))
			}
			if !keep {
				if _, ok := c.dropped[id]; !ok {
					c.dropped[id] = needs
				}
				continue
			}
			if taken[id] {
				return badStep(s.ID, "id",
					fmt.Sprintf("Two steps are named %s.", s.ID), "Give each its own name, or its own school.")
			}
			taken[id] = true
			if seen := c.Timed[string(under(u.ID, s.ID))]; len(seen) > 0 && s.Verb != Soak {
				t := Learn(s.Minutes, seen)
				s.Minutes, s.Low, s.High, s.Timed = t.Minutes, t.Low, t.High, t.Jobs
			}
			s.ID, s.Needs, s.Owner, s.Corner = id, needs, u.ID, u.corner
			if s.Shared {
				s.Corner = ""
			}
			if s.Closes != "" {
				c.closes[id] = c.ref(u, s.Closes)
			}
			for _, b := range s.Before {
				c.before = append(c.before, [2]StepID{id, c.ref(u, b).at(u.corner)})
			}
			c.dress(u, &s)
			if i, ok := c.at[id]; ok { // shared
				c.steps[i].Needs = append(c.steps[i].Needs, s.Needs...)
				continue
			}
			c.at[id] = len(c.steps)
			c.steps = append(c.steps, s)
		}
	}
	return nil
}

// badStep is a fault in what a file says of one of its steps.
func badStep(id StepID, field, detail, remedy string) error {
	return fault.New("bad_step", fmt.Sprintf("steps.%s.%s", id, field), detail, remedy)
}

// name is a step's full name: "wheel.off.FL", or "ground.raise" for the vehicle.
func name(u used, s Step) StepID {
	if u.corner == "" || s.Shared {
		return under(u.ID, s.ID)
	}
	return under(u.ID, s.ID) + "." + StepID(u.corner)
}

func (c *compiler) ref(u used, n StepID) StepID {
	if !strings.Contains(string(n), ".") {
		return under(u.ID, n)
	}
	return n
}

// dress fills a step's texts in.
func (c *compiler) dress(u used, s *Step) {
	tray, joints := "", []string{}
	if i := slices.IndexFunc(c.plan.Joints, func(j PlanJoint) bool { return j.ID == s.Joint }); i >= 0 {
		j := &c.plan.Joints[i]
		tray = j.Tray
		// The step takes the socket this vehicle's sheet names.
		if s.Tool == "" && j.Socket != "" && s.Verb != Start {
			s.Tool = strings.TrimSpace(j.Socket + " " + driveWords[j.Drive])
		}
	}
	if s.Tool == "" && s.Verb == Start {
		s.Tool = "by hand"
	}
	if strings.Contains(s.Title+s.How, "{joints}") {
		for _, j := range c.plan.Joints {
			if j.Seizes && j.Corner == u.corner {
				joints = append(joints, j.Title)
			}
		}
	}
	for _, t := range []*string{&s.Title, &s.How, &s.Because, &s.Caution, &s.Place} {
		if strings.Contains(*t, "{") {
			r := strings.NewReplacer("{tray}", "tray "+tray, "{joints}", strings.Join(joints, ", "), "{causes}", c.causes())
			*t = c.side(r.Replace(*t), u.corner)
		}
	}
	if s.Proves == "alignment" && c.sure() {
		s.Answers = slices.DeleteFunc(slices.Clone(s.Answers), func(x Answer) bool { return x.Opens == "" })
	}
	if s.Part != "" {
		s.Part = partKey(u, s.Part)
	}
	for _, list := range []*[]string{&s.Puts, &s.Takes} { // sided things are counted by side
		own := slices.Clone(*list)
		for i := range own {
			own[i] = c.side(own[i], u.corner)
		}
		*list = own
	}
}

var driveWords = map[string]string{"hexagon": "six-point", "twelve-point": "twelve-point", "multi-point": "multi-point", "inner": "inner"}

// partKey tells left from right, and front from rear, where the part does.
func partKey(u used, key string) string {
	for _, p := range u.Parts {
		switch {
		case p.Key != key || u.corner == "":
		case p.Sided:
			return key + "." + string(u.corner)
		case strings.Contains(p.Title, "{axle}"):
			return key + "." + u.corner.Axle()
		}
	}
	return key
}

// causes says what moved the wheels' setting, sure that something did.
func (c *compiler) causes() string {
	var out []string
	for _, u := range c.uses {
		for _, s := range u.Sets {
			if text := s.What + ": " + c.side(s.Cause, u.corner); !slices.Contains(out, text) {
				out = append(out, text)
			}
		}
	}
	return strings.Join(out, "; ")
}

func (c *compiler) sure() bool {
	for _, u := range c.uses {
		if slices.ContainsFunc(u.Sets, func(s Setting) bool { return s.Sure }) {
			return true
		}
	}
	return false
}

// places are where the fasteners of a joint are drawn: as the library says, or
// evenly on the circle it shows where this vehicle has another number of them.
func places(at []Point, n int) []Point {
	if len(at) == n || len(at) == 0 {
		return at
	}
	var mid Point
	for _, p := range at {
		mid[0] += p[0] / float64(len(at))
		mid[1] += p[1] / float64(len(at))
	}
	r := math.Hypot(at[0][0]-mid[0], at[0][1]-mid[1])
	if r == 0 {
		r = 14
	}
	out := make([]Point, n)
	for i := range out {
		a := 2 * math.Pi * float64(i) / float64(n)
		out[i] = Point{math.Round(mid[0] + r*math.Sin(a)), math.Round(mid[1] - r*math.Cos(a))}
	}
	return out
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
