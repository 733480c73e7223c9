package plan

import (
	"cmp"
	"fmt"
	"slices"

	"lugtak/core/fact"
	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/vehicle"
)

// lifecycles gives each step on a joint what its fasteners must be and become, in the
// order of the verbs.
func (c *compiler) lifecycles() error {
	byJoint := map[string][]int{}
	for i := range c.nodes {
		if j := c.nodes[i].Joint; j != "" && c.nodes[i].Verb.OnJoint() {
			byJoint[j] = append(byJoint[j], i)
		}
	}
	for id, steps := range byJoint {
		j := c.joint(id)
		if j == nil { // what was opened is not there by this build or school
			return fault.New(fault.TooLate, "built",
				fmt.Sprintf("“%s” is done, and worked so there is no such joint.", c.says(&c.nodes[steps[0]])),
				"It is too late to work it so.")
		}
		slices.SortStableFunc(steps, func(a, b int) int { return cmp.Compare(c.reach(a, j), c.reach(b, j)) })
		was := fact.Tight
		for k, i := range steps {
			n := &c.nodes[i]
			if err := c.tooLate(steps[:k], n); err != nil {
				return err
			}
			is := c.becomes(n, j)
			at := fact.OfJoint(id)
			if n.done {
				was = is
				continue
			}
			because := ""
			if n.Verb == operation.Remove && was == fact.Cracked && len(j.Letters) > 1 {
				because = crackedFirst
			}
			n.Wants = append(n.Wants, fact.Want{Fact: at, Values: fact.Values{was}, Because: because})
			n.own = append(n.own, 0)
			n.Makes = append(n.Makes, fact.Make{Fact: at, Value: is})
			was = is
		}
	}
	return nil
}

// tooLate refuses a plan whose earlier steps on a joint were passed by: what it asks to be
// broken loose was started long ago.
func (c *compiler) tooLate(before []int, n *node) error {
	if !n.done && !slices.Contains(c.Begun, n.ID) {
		return nil
	}
	for _, i := range before {
		if o := &c.nodes[i]; !o.done && !slices.Contains(c.Begun, o.ID) {
			return fault.New(fault.TooLate, "built",
				fmt.Sprintf("“%s” comes before “%s”, which is done or begun.", c.says(o), c.says(n)),
				"It is too late to work it so.")
		}
	}
	return nil
}

// crackedFirst is why those that come out are cracked before.
const crackedFirst = "every one of a group is broken loose before any comes out"

// becomes is how a step leaves the fasteners of its joint.
func (c *compiler) becomes(n *node, j *Joint) fact.Value {
	switch n.Verb {
	case operation.Crack:
		return fact.Cracked
	case operation.Remove:
		return fact.Out
	case operation.Start:
		if n.Snug {
			return fact.Snug
		}
		return fact.ByHand
	}
	if n.AfterDrive || c.toTheEnd(n, j) {
		return fact.Proved
	}
	return fact.Stage(n.Stages[1])
}

// reach is how far along its fasteners a step comes.
func (c *compiler) reach(i int, j *Joint) int {
	n := &c.nodes[i]
	switch n.Verb {
	case operation.Crack:
		return 0
	case operation.Remove:
		return 1
	case operation.Start:
		return 2
	}
	switch {
	case n.AfterDrive:
		return 100
	case len(n.Stages) == 2:
		return 2 + n.Stages[0]
	}
	return 3 + len(j.Read())
}

// grounded lays the laws out over what this plan touches. What a law asks is wanted by
// every step that brings about what it is about.
func (c *compiler) grounded() {
	c.plan.World.Rest = map[fact.Fact]fact.Value{}
	c.plan.World.End = map[fact.Fact]fact.Values{}
	var touched []fact.Fact
	for i := range c.nodes {
		for _, m := range c.nodes[i].Makes {
			c.plan.World.Rest[m.Fact] = c.rest(m.Fact)
			touched = append(touched, m.Fact)
		}
		for _, w := range c.nodes[i].Wants {
			c.plan.World.Rest[w.Fact] = c.rest(w.Fact)
		}
	}
	slices.SortFunc(touched, fact.Compare)
	touched = slices.Compact(touched)
	for _, f := range touched {
		switch {
		case f.Subject == fact.Fastener:
			c.plan.World.End[f] = fact.Values{fact.Tight, fact.Proved}
		case c.kinds[f.Subject].Stays:
			c.plan.World.End[f] = nil
		}
	}
	c.tended(touched)
	for _, law := range c.Knowledge.Laws {
		for _, on := range touched {
			g := fact.Law{ID: law.ID, Says: law.Says, On: on, Values: fact.ParseValues(law.On.Value), While: law.While}
			if on.Subject != law.On.Fact || !c.comesTrue(g) {
				continue
			}
			for _, f := range touched {
				if f != on {
					g.Must = append(g.Must, c.asks(law, on, f)...)
				}
			}
			if g.Clear = law.Clear == operation.Corner; g.Clear {
				c.clear(g)
			}
			if len(g.Must) > 0 || g.Clear {
				c.plan.World.Laws = append(c.plan.World.Laws, g)
				c.obey(g)
			}
		}
	}
}

// asks is what a law wants of one fact.
func (c *compiler) asks(law operation.Law, on, f fact.Fact) []fact.Want {
	if f.Subject != fact.Fastener {
		for _, w := range law.Wants {
			switch {
			case w.Fact == f.Subject && reaches(w.Where, on.Place, f.Place) && c.when(w.When, vehicle.Corner(f.Place)):
				return []fact.Want{{Fact: f, Values: fact.ParseValues(w.Value), Because: law.Says}}
			case w.Fact == everything && !c.kinds[f.Subject].Stays:
				return []fact.Want{{Fact: f, Values: fact.Values{c.rest(f)}, Because: law.Says}}
			}
		}
		return nil
	}
	j := c.joint(f.Place)
	for _, x := range law.Fasteners {
		switch {
		case on.Place != "" && j.Corner != vehicle.Corner(on.Place):
		case len(x.Systems) > 0 && !slices.Contains(x.Systems, j.System):
		case x.Bears && !j.Bears, x.Own && !vehicle.IsOwn(j.Sheet):
		case x.Stops != "" && x.Stops != j.Stops, slices.Contains(x.Not, j.Condition):
		default:
			return []fact.Want{{Fact: f, Values: fact.ParseValues(x.Value), Because: law.Says}}
		}
	}
	return nil
}

// reaches says that a law about one place speaks of another.
func reaches(where operation.Reach, on, at string) bool {
	switch where {
	case operation.Elsewhere:
		return len(at) == 2 && at != on
	case operation.OtherSide:
		return len(on) == 2 && at == string(vehicle.Corner(on).Opposite())
	}
	return on == "" || at == "" || at == on || onAxle(at, on) || onAxle(on, at)
}

// onAxle says that a corner is on an axle.
func onAxle(corner, axle string) bool {
	return len(corner) == 2 && vehicle.Corner(corner).Axle() == axle
}

// everything stands in a law for each fact there is.
const everything = "*"

// obey lets each step that brings about what a law is about want what the law asks; what would break a law that holds
// for as long as it is so waits until it is no longer.
func (c *compiler) obey(law fact.Law) {
	opens := len(law.On.Place) == 2 && !law.Values.Has(c.rest(law.On)) // at a corner: on the way out, not back
	for i := range c.nodes {
		n := &c.nodes[i]
		if law.While && !n.done && law.Undone(n.Makes) {
			c.keepOut(n, law)
		}
		if n.done ||
			!slices.ContainsFunc(n.Makes, func(m fact.Make) bool { return m.Fact == law.On && law.Values.Has(m.Value) }) {
			continue
		}
		for _, w := range law.Must {
			makes := slices.ContainsFunc(n.Makes, func(m fact.Make) bool { return m.Fact == w.Fact })
			if !makes {
				n.Wants = append(n.Wants, w)
				n.own = append(n.own, 0)
			}
		}
		n.late = n.late || !opens
	}
}

// tended lays out what of this plan may not stay so for long, or not alone.
func (c *compiler) tended(touched []fact.Fact) {
	for _, f := range touched {
		all := &c.plan.World.Tended
		for _, v := range c.kinds[f.Subject].Others {
			if v.Minutes == 0 && !v.Attended || len(c.made[fact.Make{Fact: f, Value: v.Value}]) == 0 {
				continue
			}
			alike := func(t fact.Tended) bool {
				return t.Fact == f && t.Minutes == v.Minutes && t.Attended == v.Attended && t.Over == v.Over
			}
			i := slices.IndexFunc(*all, alike)
			if i < 0 {
				*all, i = append(*all, fact.Tended{
					Fact: f, Minutes: v.Minutes, Attended: v.Attended, Over: v.Over,
				}), len(*all)
			}
			(*all)[i].Values = append((*all)[i].Values, v.Value)
		}
	}
}

// comesTrue says that the plan brings about what a law is about.
func (c *compiler) comesTrue(law fact.Law) bool {
	return slices.ContainsFunc(law.Values, func(v fact.Value) bool {
		return len(c.made[fact.Make{Fact: law.On,
			Value: v}]) > 0
	})
}

// clear keeps hands from every corner for as long as a law's fact is so.
func (c *compiler) clear(law fact.Law) {
	for i := range c.nodes {
		n := &c.nodes[i]
		if !n.done && n.hands() != "" && !n.MakesOf(law.On.Subject) {
			c.keepOut(n, law)
		}
	}
}

// bench is where steps are done that touch nothing of the vehicle.
const bench = "bench"

// keepOut lets a step wait until what a law is about is no longer so.
func (c *compiler) keepOut(n *node, law fact.Law) {
	var free fact.Values
	kind := c.kinds[law.On.Subject]
	for _, v := range kind.Values() {
		if !law.Values.Has(v) {
			free = append(free, v)
		}
	}
	n.Wants = append(n.Wants, fact.Want{Fact: law.On, Values: free, Because: law.Says})
	n.own = append(n.own, 0)
	c.keeps[law.Says] = true
}

// brings are the wants of a law that hold also where nothing of the plan touches what they are about.
func (c *compiler) brings(n *node) {
	for _, law := range c.Knowledge.Laws {
		for _, m := range n.Makes {
			if m.Fact.Subject != law.On.Fact || !fact.ParseValues(law.On.Value).Has(m.Value) {
				continue
			}
			for _, w := range law.Wants {
				if !w.Brings {
					continue
				}
				at := []vehicle.Corner{n.of.corner}
				if at[0] == "" && c.kinds[w.Fact].Place == operation.Corner { // of every corner, and this is done at none
					at = []vehicle.Corner{"FL", "FR", "RL", "RR"}
				}
				for _, corner := range at {
					of := &file{corner: corner}
					if f, _, err := c.fact(of, w.Fact); err == nil && c.when(w.When, corner) {
						n.Wants = append(n.Wants, fact.Want{Fact: f, Values: fact.ParseValues(w.Value), Because: law.Says})
					}
				}
			}
		}
	}
}

// prove walks the finished plan.
func (c *compiler) prove() error {
	return c.plan.Sound()
}

// Sound proves the plan, and tells a breach in the words of its steps.
func (p *Plan) Sound() error {
	err := p.Prove()
	b, ok := err.(*fact.Breach)
	if !ok {
		return err
	}
	return p.Tell(b)
}

// Tell is a breach as people read it.
func (p *Plan) Tell(b *fact.Breach) error {
	title := b.Step
	if s := p.Step(operation.StepID(b.Step)); s != nil {
		title = s.Title
	}
	what := p.Names(b.Fact)
	switch b.Kind {
	case fact.OfLaw:
		return fault.New(fault.Law, "step", fmt.Sprintf("“%s”: %s would be %s. %s", title, what, b.Is, b.Says),
			"Bring that about first.")
	case fact.OfProof:
		return fault.New(fault.Law, "step", fmt.Sprintf("“%s” would disturb %s, which is proved.", title, what),
			"Put it before what proves it.")
	case fact.OfEnding:
		return fault.New(fault.Law, "steps", fmt.Sprintf("At the end %s is left %s.", what, b.Is), "Add what brings it back.")
	}
	says := ""
	if b.Says != "" {
		says = ": " + b.Says
	}
	return fault.New(fault.Order, "step",
		fmt.Sprintf("“%s” wants %s %s%s. By then it is %s.", title, what, b.Wants, says, b.Is),
		"Bring that about first.")
}

// Names is a fact as people say it.
func (p *Plan) Names(f fact.Fact) string {
	if f.Subject == fact.Fastener {
		if j := p.Joint(f.Place); j != nil {
			return "the " + j.Title
		}
	}
	if f.Place == "" {
		return "the " + f.Subject
	}
	return "the " + f.Subject + " " + f.Place
}
