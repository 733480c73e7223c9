package plan

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strings"

	"lugtak/core/fact"
	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
)

// Order is what is to be compiled into one plan.
type Order struct {
	Tasks     []Task
	Pattern   vehicle.Pattern
	Knowledge *Knowledge
	Ways      map[string]string    // way by school, where it is not the default
	Built     map[string]string    // how this very vehicle is built, over its pattern
	Timed     map[string][]float64 // minutes the shop's own jobs took, by owner.step

	OdometerKM int // how far the vehicle has gone, for what is renewed by distance

	Done  []Step             // what was done already, in its order: it stays as it is
	Begun []operation.StepID // what is half done
}

// Knowledge is what plans are made from.
type Knowledge struct {
	Operations []operation.Operation // what may be ordered
	Ways       []operation.Way
	Facts      []operation.FactKind
	Laws       []operation.Law
	Builds     []operation.Build
	Schools    []operation.School
	Driven     []operation.Driven
	Pairs      []operation.Pair // how two work together
}

// Subjects of facts the rest of the program asks for by name.
const (
	VehicleFact   = "vehicle"
	RotationFact  = "rotation"
	AirFact       = "line-air" // what a brake that was opened is bled of
	LinesFact     = "lines"    // and what is pumped through them
	wheelFact     = "wheel"
	springsFact   = "springs"
	soakFact      = "penetrant"
	alignmentFact = "alignment"
	markFact      = "mark" // how high a wing stands over its hub, where a jack lifts to it
)

// Values of those facts.
const (
	atRideHeight fact.Value = "ride height"
	markMet      fact.Value = "met"
	wheelOn      fact.Value = "on"
	onRamps      fact.Value = "on ramps"
	held         fact.Value = "held"
	soaked       fact.Value = "soaked"
	washed       fact.Value = "washed"
	setMoved     fact.Value = "moved"
)

// file is an operation or way, laid out for a place of this vehicle.
type file struct {
	id, title string
	version   int
	axle      string
	corner    vehicle.Corner
	task      bool
	pairs     string
	warnings  []string
	sets      []operation.Setting
	joints    []operation.Joint
	parts     []operation.Part
	drive     []operation.Manoeuvre
	wants     []operation.Want
	when      map[string][]string // what the whole way is for
	again     bool                // the second going of a way that is gone twice
	late      bool
	open      []operation.Step
	close     []operation.Step
	scene     int // the first picture it is shown in, from 1
}

// node is a step on its way into the plan.
type node struct {
	Step
	of    *file
	late  bool             // what it wants at rest is as restored
	close bool             // it closes a way
	done  bool             // already, before this plan was made
	own   []int            // by want, the step that serves it and no other, from 1
	loose []operation.Want // wants that hold only if the plan has what they are about
}

// compiler joins what was ordered into one plan.
type compiler struct {
	Order
	plan    Plan
	ways    map[string]string           // schools, the pattern's traits, and what was answered
	shows   map[operation.StepID]string // what the other side shows for a step
	known   map[string]bool             // of those, what somebody knows
	asked   map[string]bool             // schools and traits that decided something
	kinds   map[string]operation.FactKind
	files   []*file
	joints  map[string]string // owner of each joint, by its id
	local   map[string]string // joint id by owner|corner|key; empty where this vehicle lacks it
	lent    map[string]bool   // of these, those another work opens
	nodes   []node
	at      map[operation.StepID]int
	dropped map[operation.StepID][]operation.StepID
	made    map[fact.Make][]int
	told    map[told]bool
	after   [][2]operation.StepID
	went    map[string][]int // steps of a way gone for a fact, by way and going
	done    map[operation.StepID]*Step
	decides map[string][]operation.StepID // by question, the steps that follow from its answer
	keeps   map[string]bool               // what laws say that only keep a step away
}

// Compile joins the operations ordered with a pattern's sheet. For every want that is
// not so by itself it takes a way, once for all who want it; it closes what is open, and
// proves the order. Faults name the library's own keys: the step, what it wants, and the
// law or the step that stands against it.
func Compile(o Order) (Plan, error) {
	c := compiler{
		Order:   o,
		ways:    map[string]string{},
		known:   map[string]bool{},
		asked:   map[string]bool{},
		kinds:   map[string]operation.FactKind{},
		joints:  map[string]string{},
		local:   map[string]string{},
		lent:    map[string]bool{},
		at:      map[operation.StepID]int{},
		dropped: map[operation.StepID][]operation.StepID{},
		made:    map[fact.Make][]int{},
		told:    map[told]bool{},
		went:    map[string][]int{},
		done:    map[operation.StepID]*Step{},
		decides: map[string][]operation.StepID{},
		shows:   map[operation.StepID]string{},
		keeps:   map[string]bool{},
	}
	for i := range o.Done {
		c.done[o.Done[i].ID] = &o.Done[i]
	}
	for _, pass := range []func() error{c.choose, c.tasks, c.standing, c.find, c.order} {
		if err := pass(); err != nil {
			return Plan{}, err
		}
	}
	c.finish()
	if err := c.prove(); err != nil {
		return Plan{}, err
	}
	return c.plan, nil
}

// choose settles the schools: the default, unless the order names another way; and how
// the vehicle is built: its own answers, its pattern's traits, what is assumed.
func (c *compiler) choose() error {
	for _, k := range c.Knowledge.Facts {
		c.kinds[k.Fact] = k
	}
	for _, b := range c.Knowledge.Builds {
		c.ways[b.Key] = b.Assume
	}
	for key, is := range c.Pattern.As(c.Built).Traits {
		c.ways[key] = is
		c.known[key] = true
	}
	for _, s := range c.Knowledge.Schools {
		c.ways[s.Key] = s.Default
	}
	for _, key := range slices.Sorted(maps.Keys(c.Ways)) {
		i := slices.IndexFunc(c.Knowledge.Schools, func(s operation.School) bool { return s.Key == key })
		if i < 0 {
			return fault.New(fault.BadChoice, "school", "There is no school “"+key+"”.", "Choose one that is listed.")
		}
		s := c.Knowledge.Schools[i]
		if !slices.ContainsFunc(s.Ways, func(w operation.SchoolWay) bool { return w.Key == c.Ways[key] }) {
			return fault.New(fault.BadChoice, "school", "“"+c.Ways[key]+"” is no way of “"+s.Question+"”.",
				"Choose one of: "+wayKeys(s)+".")
		}
		c.ways[key] = c.Ways[key]
	}
	return Answered(c.Knowledge.Builds, c.Built)
}

// Answered refuses an answer to no question of the build, or one it does not know.
func Answered(builds []operation.Build, built map[string]string) error {
	for _, key := range slices.Sorted(maps.Keys(built)) {
		i := slices.IndexFunc(builds, func(b operation.Build) bool { return b.Key == key })
		if i < 0 {
			return fault.New(fault.BadChoice, "built", "“"+key+"” is no question of how a vehicle is built.",
				"Name one of builds.yaml.")
		}
		b := builds[i]
		known := func(a operation.BuildAnswer) bool { return a.Key == built[key] }
		if len(b.Answers) > 0 && !slices.ContainsFunc(b.Answers, known) {
			return fault.New(fault.BadChoice, "built", "“"+built[key]+"” is no answer to “"+b.Question+"”.",
				"Choose one of those shown.")
		}
	}
	return nil
}

func wayKeys(s operation.School) string {
	var out []string
	for _, w := range s.Ways {
		out = append(out, w.Key)
	}
	return strings.Join(out, ", ")
}

// when says that all the schools and traits named have one of the ways named, and the place at hand is one of those
// named. What is done elsewhere anyhow asks nothing.
func (c *compiler) when(w map[string][]string, corner vehicle.Corner) bool {
	for key, ways := range w {
		if is, ofPlace := c.place(key, corner); ofPlace && !slices.Contains(ways, is) {
			return false
		}
	}
	ok := true
	for key, ways := range w {
		if _, ofPlace := c.place(key, corner); !ofPlace {
			c.asked[key] = true
			ok = ok && slices.Contains(ways, c.ways[key])
		}
	}
	return ok
}

// place answers what a "when" asks of the place at hand; ok is false where it asks for a school or a trait.
func (c *compiler) place(key string, corner vehicle.Corner) (is string, ok bool) {
	switch key {
	case operation.AxleKey:
		return corner.Axle(), true
	case operation.SideKey:
		return corner.Side(), true
	case operation.EndsKey:
		return c.ends(), true
	case operation.ClampedKey:
		if slices.ContainsFunc(c.plan.Joints, func(j Joint) bool {
			return j.Corner == corner && j.Condition == vehicle.AtRideHeight
		}) {
			return "yes", true
		}
		return "no", true
	}
	return "", false
}

// ends tells at which ends of the vehicle something is done; what is done in the middle raises the front.
func (c *compiler) ends() string {
	ends := ""
	for _, t := range c.Tasks {
		axle := "front"
		if t.Corner != "" {
			axle = t.Corner.Axle()
		}
		switch {
		case axle == ends:
		case ends == "":
			ends = axle
		default:
			return operation.BothEnds
		}
	}
	return cmp.Or(ends, "front")
}

// lay takes a file's joints and steps into the plan.
func (c *compiler) lay(f *file) error {
	c.files = append(c.files, f)
	if err := c.takeJoints(f); err != nil {
		return err
	}
	own := map[operation.StepID]operation.Step{} // of this file, by name: two ways of a step share one
	for _, s := range slices.Concat(f.open, f.close) {
		own[s.ID] = s
	}
	taken := map[operation.StepID]bool{}
	f.sets = slices.DeleteFunc(slices.Clone(f.sets), func(s operation.Setting) bool { return !c.when(s.When, f.corner) })
	moves := len(f.sets) > 0
	for i, s := range slices.Concat(f.open, f.close) {
		id := c.name(f, s)
		keep := c.when(s.When, f.corner) && (!s.Both || c.onBoth(f))
		if s.Joint != "" {
			joint, ok := c.local[f.key(s.Joint)]
			if !ok {
				return badStep(s.ID, "joint", fmt.Sprintf("Step %s names a joint the file does not have: %s.", s.ID, s.Joint),
					"Name one of its joints.")
			}
			keep = keep && joint != "" && !c.lent[f.key(s.Joint)] && !c.beyond(s, joint)
		}
		var needs []operation.StepID
		for _, n := range s.Needs {
			needed, there := own[n]
			if !there {
				return badStep(s.ID, "needs", fmt.Sprintf("Step %s needs %s, which is no step.", s.ID, n),
					"Name a step of this file. What lies outside it is wanted as a fact.")
			}
			needs = append(needs, c.name(f, needed)) // a shared one has no corner
		}
		if !keep && c.done[id] == nil {
			if _, ok := c.dropped[id]; !ok {
				c.dropped[id] = needs
			}
			continue
		}
		if taken[id] && c.done[id] == nil {
			return badStep(s.ID, "id", fmt.Sprintf("Two steps are named %s.", s.ID),
				"Give each its own name, or its own school.")
		}
		taken[id] = true
		for _, when := range []map[string][]string{s.When, f.when} {
			for _, key := range slices.Sorted(maps.Keys(when)) {
				c.decides[key] = append(c.decides[key], id)
			}
		}
		for _, n := range needs {
			c.after = append(c.after, [2]operation.StepID{n, id})
		}
		if _, there := c.at[id]; there {
			continue // shared
		}
		if was := c.done[id]; was != nil {
			moves = moves && !was.MakesOf(alignmentFact)
			c.put(node{Step: *was, of: f, close: i >= len(f.open) && !f.task, done: true})
			continue
		}
		n := c.step(f, s, id)
		n.close = i >= len(f.open) && !f.task
		n.late = f.late || n.late
		if err := c.facts(&n, s); err != nil {
			return err
		}
		if moves && (s.Verb == operation.Remove || s.Counts != "") {
			n.Makes = append(n.Makes, fact.Make{Fact: fact.Fact{Subject: alignmentFact}, Value: setMoved})
			moves = false
		}
		c.put(n)
	}
	if moves {
		return fault.New(fault.BadStep, "sets", "“"+f.id+"” moves the wheels' setting, and no step of it takes anything out.",
			"Take the setting away, or give it the step that moves it.")
	}
	return nil
}

func (c *compiler) put(n node) {
	at := len(c.nodes)
	c.at[n.ID] = at
	n.own = make([]int, len(n.Wants))
	c.nodes = append(c.nodes, n)
	for _, m := range n.Makes {
		c.made[m] = append(c.made[m], at)
	}
}

// key names a joint or step of a file at its place.
func (f *file) key(name string) string { return f.id + "|" + string(f.corner) + "|" + name }

// secondGoing marks the steps of a way that is gone once more.
const secondGoing = ".2"

// name is a step's full name: "wheel.off.FL", or "ground.raise" for the vehicle.
func (c *compiler) name(f *file, s operation.Step) operation.StepID {
	id := operation.StepID(f.id) + "." + s.ID
	if f.corner != "" && !s.Shared {
		id += "." + operation.StepID(f.corner)
	}
	if f.again {
		id += secondGoing
	}
	return id
}

// badStep is a fault in what a file says of one of its steps.
func badStep(id operation.StepID, field, detail, remedy string) error {
	return fault.New(fault.BadStep, fmt.Sprintf("steps.%s.%s", id, field), detail, remedy)
}

// step is what the library says of a step, with its name and times.
func (c *compiler) step(f *file, s operation.Step, id operation.StepID) node {
	n := node{Step: Step{Step: s, Owner: f.id, Corner: f.corner}, of: f}
	if seen := c.Timed[f.id+"."+string(s.ID)]; len(seen) > 0 && s.Verb != operation.Soak {
		t := Learn(s.Minutes, seen)
		n.Minutes, n.Low, n.High, n.Timed = t.Minutes, t.Low, t.High, t.Jobs
	}
	n.ID = id
	if s.Shared {
		n.Corner = ""
	}
	if s.Joint != "" {
		n.Joint = c.local[f.key(s.Joint)]
	}
	restores := s.Verb == operation.Start || s.Verb == operation.Tighten
	n.late = s.Late || restores && !s.Early
	return n
}

// facts turns what the file wants of a step, and what it wants of every step, into facts
// of this vehicle.
func (c *compiler) facts(n *node, s operation.Step) error {
	said := map[string]bool{}
	stands := c.stands(n)
	for _, w := range stands {
		said[w.Fact] = true
	}
	for _, w := range s.Wants {
		said[w.Fact] = true
	}
	all := slices.Concat(s.Wants, stands)
	// What is done on the bench wants nothing of the vehicle, and what is tightened with
	// the weight on its springs is reached with the wheels on.
	if s.Place != "bench" && len(stands) == 0 {
		for _, w := range n.of.wants {
			if !said[w.Fact] || w.Joint != "" {
				all = append(all, w)
			}
		}
	}
	for _, w := range all {
		if w.Value == AnyValue || !c.when(w.When, n.of.corner) {
			continue
		}
		if w.Soft || w.Still || strings.Contains(w.Joint, ".") {
			n.loose = append(n.loose, w)
			if w.Joint != "" {
				n.loose = append(n.loose, c.moreOf(w)...)
			}
			continue
		}
		want, there, err := c.want(n.of, w)
		if err != nil {
			return badStep(s.ID, "wants", sentence(unit.Capital(err.Error())),
				"Name a fact of facts.yaml, or a joint of the file.")
		}
		if there {
			n.Wants = append(n.Wants, want)
		}
	}
	for _, subject := range slices.Sorted(maps.Keys(s.Makes)) {
		f, _, err := c.fact(n.of, subject)
		if err != nil {
			return badStep(s.ID, "makes", sentence(unit.Capital(err.Error())), "Name a fact of facts.yaml.")
		}
		n.Makes = append(n.Makes, fact.Make{Fact: f, Value: fact.Value(s.Makes[subject])})
	}
	c.brings(n)
	return nil
}

// moreOf is a want of a joint of another file, of whatever this vehicle has beside that.
func (c *compiler) moreOf(w operation.Want) []operation.Want {
	var out []operation.Want
	for _, m := range c.Pattern.More {
		more := w
		more.Joint += moreOf(m)
		out = append(out, more)
	}
	return out
}

// AnyValue frees a step of what its file wants of every step.
const AnyValue = "any"

// stands is where the sheet has a joint tightened to its end: with the weight on its
// springs, with the tyre touching, with the rotation held; and that one that seizes has
// soaked before it is cracked.
func (c *compiler) stands(n *node) []operation.Want {
	j := c.joint(n.Joint)
	switch {
	case j == nil:
		return nil
	case n.Verb != operation.Tighten || n.AfterDrive || !c.toTheEnd(n, j):
		return nil
	}
	_, springs := c.kinds[springsFact]
	_, stand := c.kinds[VehicleFact]
	switch {
	case j.Condition == vehicle.AtRideHeight && springs:
		wants := []operation.Want{{Fact: springsFact, Value: string(atRideHeight)}}
		if _, marked := c.kinds[markFact]; marked && j.Corner != "" {
			wants = append(wants, operation.Want{Fact: markFact, Value: string(markMet),
				When: map[string][]string{"ride-height": {"jack"}}})
		}
		return wants
	case j.Condition == vehicle.OnGround && stand:
		return []operation.Want{{Fact: VehicleFact, Value: "tyre touching | on its wheels",
			Because: "in the air the wheel turns and sits askew"}}
	}
	return nil
}

// toTheEnd says that a step tightens a joint to the last stage of its recipe.
func (c *compiler) toTheEnd(n *node, j *Joint) bool {
	if len(n.Stages) == 0 {
		return true
	}
	if j.Unread() {
		return n.Stages[1] == toLast
	}
	return n.Stages[1] >= len(j.Read())
}

// beyond says that a step begins at a stage the recipe of its joint has not.
func (c *compiler) beyond(s operation.Step, joint string) bool {
	j := c.joint(joint)
	return j != nil && len(s.Stages) == 2 && !j.Unread() && s.Stages[0] > len(j.Read())
}

// toLast is the stage an authored step ends at where it goes to the end, of however many.
const toLast = 9

func (c *compiler) wantsGround(n *node) bool {
	return slices.ContainsFunc(n.Step.Step.Wants, func(w operation.Want) bool {
		return w.Fact == VehicleFact && w.Value == string(Ground)
	})
}

// fact names a subject at the place of a file.
func (c *compiler) fact(f *file, subject string) (fact.Fact, operation.FactKind, error) {
	k, ok := c.kinds[subject]
	switch {
	case !ok:
		return fact.Fact{}, k, fmt.Errorf("there is no fact “%s”", subject)
	case k.Place == "any":
		return fact.Fact{Subject: subject, Place: soakPlace(f.corner)}, k, nil
	case k.Place == "whole":
		return fact.Fact{Subject: subject}, k, nil
	case k.Place == "axle" && f.corner != "":
		return fact.Fact{Subject: subject, Place: f.corner.Axle()}, k, nil
	case f.corner == "":
		return fact.Fact{}, k, fmt.Errorf("“%s” is so at a corner, and this is done at none", subject)
	}
	return fact.Fact{Subject: subject, Place: string(f.corner)}, k, nil
}

// want is a want of the library at the place of a file; it is not there where the
// vehicle has no such joint.
func (c *compiler) want(f *file, w operation.Want) (out fact.Want, there bool, err error) {
	out = fact.Want{Values: fact.ParseValues(w.Value), Because: c.side(w.Because, f.corner)}
	if w.Joint != "" {
		owner, key, far := strings.Cut(w.Joint, ".")
		if !far {
			owner, key = f.id, w.Joint
		}
		id, known := c.local[owner+"|"+string(f.corner)+"|"+key]
		if !known && !far {
			return out, false, fmt.Errorf("the file has no joint “%s”", key)
		}
		out.Fact = fact.OfJoint(id)
		return out, id != "", nil
	}
	at, kind, err := c.fact(f, w.Fact)
	if err != nil {
		return out, false, err
	}
	out.Fact = at
	for _, v := range out.Values {
		because, ok := kind.Reason(v)
		if !ok {
			return out, false, fmt.Errorf("“%s” is never “%s”", w.Fact, v)
		}
		if out.Because == "" {
			out.Because = because
		}
	}
	return out, true, nil
}
