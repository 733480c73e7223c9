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
	"lugtak/core/thread"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
)

// find takes a way to every want nothing makes, and one back for everything left away
// from its rest, until nothing is missing.
func (c *compiler) find() error {
	for i := 0; i < len(c.nodes); i++ {
		if err := c.serve(i); err != nil {
			return err
		}
		if i < len(c.nodes)-1 {
			continue
		}
		if err := c.soak(); err != nil {
			return err
		}
		if err := c.restore(); err != nil {
			return err
		}
	}
	return nil
}

// standing lays out what was done or begun by a way this plan would not have gone, so that
// it is brought back too.
func (c *compiler) standing() error {
	lay := func(id operation.StepID, owner string, corner vehicle.Corner) error {
		if _, there := c.at[id]; there || !strings.HasPrefix(string(id), owner+".") {
			return nil
		}
		k := slices.IndexFunc(c.Knowledge.Ways, func(w operation.Way) bool { return w.ID == owner })
		if k < 0 {
			return nil
		}
		again := strings.HasSuffix(string(id), secondGoing)
		return c.goes(&c.Knowledge.Ways[k], &file{corner: corner, scene: 1}, again)
	}
	for _, s := range c.Done {
		if err := lay(s.ID, s.Owner, s.Corner); err != nil {
			return err
		}
		if _, there := c.at[s.ID]; !there {
			c.put(node{Step: s, of: c.files[0], done: true})
		}
	}
	for _, id := range c.Begun {
		owner, rest, _ := strings.Cut(string(id), ".")
		_, corner, _ := strings.Cut(rest, ".")
		if err := lay(id, owner, vehicle.Corner(strings.TrimSuffix(corner, secondGoing))); err != nil {
			return err
		}
	}
	return nil
}

// serve finds a way to each want of a step that nothing makes yet.
func (c *compiler) serve(i int) error {
	if c.nodes[i].done {
		return nil
	}
	for k := 0; k < len(c.nodes[i].Wants); k++ {
		w := c.nodes[i].Wants[k]
		if w.Values.Has(c.rest(w.Fact)) || w.Fact.Subject == fact.Fastener {
			continue
		}
		of := c.nodes[i].of
		if len(w.Fact.Place) == 2 && of.corner == "" { // a law's, who is done at no corner
			of = &file{corner: vehicle.Corner(w.Fact.Place), scene: of.scene}
		}
		way, twice := c.wayTo(w, of)
		switch {
		case way == nil && c.isMade(w):
		case way == nil:
			return fault.New(fault.NoWay, "steps."+string(c.nodes[i].ID)+".wants",
				fmt.Sprintf("“%s” wants %s %s, and nothing makes it.", c.says(&c.nodes[i]), w.Fact, w.Values),
				cmp.Or(c.orderedToo(w.Fact, w.Values), "Add a way to it in library/ways, or say how the vehicle is built."))
		case twice:
			again := c.nodes[i].late
			going := way.ID + "|" + w.Fact.Place + "|" + fmt.Sprint(again)
			if _, gone := c.went[going]; !gone {
				if err := c.goes(way, of, again); err != nil {
					return err
				}
			}
			for _, n := range c.went[going] {
				if slices.ContainsFunc(c.nodes[n].Makes,
					func(m fact.Make) bool { return m.Fact == w.Fact && w.Values.Has(m.Value) }) {
					c.nodes[i].own[k] = n + 1
				}
			}
		case !c.isOpened(w):
			if err := c.goes(way, of, false); err != nil {
				return err
			}
		}
	}
	return nil
}

// orderedToo is the remedy where an operation of this vehicle makes what is wanted: nothing
// where none does.
func (c *compiler) orderedToo(f fact.Fact, values fact.Values) string {
	corner := vehicle.Corner(f.Place)
	if f.Place == underneath {
		corner = ""
	}
	for k := range c.Knowledge.Operations {
		op := &c.Knowledge.Operations[k]
		if !c.onSheet(op, corner) {
			continue
		}
		makes := func(s operation.Step) bool {
			return values.Has(fact.Value(s.Makes[f.Subject])) && c.when(s.When, corner)
		}
		if slices.ContainsFunc(op.Steps, makes) {
			return "Order “" + unit.Capital(c.side(op.Title, corner)) + "” there too: it does that on its way."
		}
	}
	return ""
}

// isOpened says that something makes what is wanted on its way out, not on its way back.
func (c *compiler) isOpened(w fact.Want) bool {
	return slices.ContainsFunc(w.Values, func(v fact.Value) bool {
		makers := c.made[fact.Make{Fact: w.Fact, Value: v}]
		return slices.ContainsFunc(makers, func(i int) bool { return !c.nodes[i].close })
	})
}

func (c *compiler) isMade(w fact.Want) bool {
	return slices.ContainsFunc(w.Values,
		func(v fact.Value) bool { return len(c.made[fact.Make{Fact: w.Fact, Value: v}]) > 0 })
}

// wayTo is the way to a want by how the vehicle is built and the school: one made for
// what the plan does anyhow first, then the one with fewest joints, then the quickest. Of
// several values that would do the first named is the one gone for.
func (c *compiler) wayTo(w fact.Want, f *file) (*operation.Way, bool) {
	var best *operation.Way
	better := func(x *operation.Way) bool {
		if best == nil {
			return true
		}
		a, b := slices.Index(w.Values, x.To), slices.Index(w.Values, best.To)
		return a < b || a == b && cost(x) < cost(best)
	}
	for k := range c.Knowledge.Ways {
		x := &c.Knowledge.Ways[k]
		if x.Fact != w.Fact.Subject || !w.Values.Has(x.To) || len(x.Open) == 0 {
			continue
		}
		if w.Fact.Place != "" && (x.Axle == operation.Under) != (w.Fact.Place == underneath) {
			continue
		}
		if !c.when(x.When, f.corner) || !c.given(x, f.corner) {
			continue
		}
		if better(x) {
			best = x
		}
	}
	return best, best != nil && best.Each
}

// jointMinutes is what each joint opened weighs beside the minutes of a way: new
// hardware, a debt, and what may be seized (common practice: fewest joints first).
const jointMinutes = 30

// givenBonus puts a way made for what the plan does anyhow before all others.
const givenBonus = 1000

func cost(w *operation.Way) float64 {
	sum := float64(jointMinutes * len(w.Joints))
	for _, s := range slices.Concat(w.Open, w.Close) {
		sum += s.Minutes
	}
	return sum - float64(givenBonus*len(w.Given))
}

func (c *compiler) given(w *operation.Way, corner vehicle.Corner) bool {
	for subject, value := range w.Given {
		m := fact.Make{Fact: fact.Fact{Subject: subject, Place: string(corner)}, Value: fact.Value(value)}
		if len(c.made[m]) == 0 {
			return false
		}
	}
	return true
}

// goes lays a way out at the place it is wanted.
func (c *compiler) goes(w *operation.Way, by *file, again bool) error {
	f := &file{
		id: w.ID, title: w.Title, version: w.Version, axle: w.Axle, corner: by.corner,
		warnings: w.Warns, sets: w.Sets, joints: w.Joints, parts: w.Parts, wants: w.Wants,
		when: w.When, again: again, late: again, open: w.Open, close: w.Close, scene: by.scene,
	}
	if w.Axle == operation.Under {
		f.corner = ""
	}
	from := len(c.nodes)
	if err := c.lay(f); err != nil {
		return err
	}
	for i := from; i < len(c.nodes); i++ {
		n := &c.nodes[i]
		n.late = n.late || n.close && (!w.Each || again)
		going := w.ID + "|" + string(f.corner) + "|" + fmt.Sprint(again)
		c.went[going] = append(c.went[going], i)
	}
	return nil
}

// restore takes a way back for each fact some step leaves away from its rest and none
// brings back.
func (c *compiler) restore() error {
	back := map[fact.Fact]bool{}
	for m := range c.made {
		back[m.Fact] = back[m.Fact] || m.Value == c.rest(m.Fact)
	}
	for _, f := range slices.SortedFunc(maps.Keys(back), fact.Compare) {
		kind := c.kinds[f.Subject]
		if back[f] || kind.Stays || f.Subject == fact.Fastener {
			continue
		}
		k := slices.IndexFunc(c.Knowledge.Ways, func(w operation.Way) bool {
			return w.Fact == f.Subject && len(w.Open) == 0 && c.when(w.When, "")
		})
		if k < 0 {
			return fault.New(fault.NotClosed, "makes",
				fmt.Sprintf("%s is left away from its rest, and no way brings it back.", f),
				"Add the step that does, or a way that only closes.")
		}
		by := &file{corner: vehicle.Corner(f.Place)}
		for m, steps := range c.made {
			if m.Fact == f && (by.scene == 0 || c.nodes[steps[0]].of.scene < by.scene) {
				by.scene = c.nodes[steps[0]].of.scene
			}
		}
		if err := c.goes(&c.Knowledge.Ways[k], by, false); err != nil {
			return err
		}
	}
	return nil
}

// soak lets joints that seize soak before they are cracked in the air, and washes and dries what soaked before it
// goes back with a locker, dry or by angle.
func (c *compiler) soak() error {
	kind, known := c.kinds[soakFact]
	if !known {
		return nil
	}
	_, washes := kind.Reason(washed)
	for i := range c.nodes {
		n := &c.nodes[i]
		j := c.joint(n.Joint)
		if n.done || j == nil || !j.Seizes {
			continue
		}
		at := fact.Fact{Subject: soakFact, Place: soakPlace(n.Corner)}
		want := fact.Want{Fact: at}
		switch {
		case n.Verb == operation.Crack && !c.wantsGround(n):
			want.Values = fact.Values{soaked}
			if washes { // it soaked by then
				want.Values = append(want.Values, washed)
			}
		case n.Verb == operation.Start && washes && j.dryThread() && c.soaks(at):
			want.Values = fact.Values{washed}
		default:
			continue
		}
		if slices.ContainsFunc(n.Wants, func(w fact.Want) bool { return w.Fact == at }) {
			continue
		}
		want.Because, _ = kind.Reason(want.Values[0])
		n.Wants = append(n.Wants, want)
		n.own = append(n.own, 0)
		if err := c.serve(i); err != nil {
			return err
		}
	}
	return nil
}

// washedOut lets the washing of a place wait for the joints that go back clean: a thread is reached when it is out.
func (c *compiler) washedOut() {
	for _, n := range c.nodes {
		at := fact.Fact{Subject: soakFact, Place: soakPlace(n.Corner)}
		clean := func(w fact.Want) bool { return w.Fact == at && slices.Equal(w.Values, fact.Values{washed}) }
		joint := fact.OfJoint(n.Joint)
		out := func(n node) bool { return slices.Contains(n.Makes, fact.Make{Fact: joint, Value: fact.Out}) }
		if n.Joint == "" || !slices.ContainsFunc(n.Wants, clean) || !slices.ContainsFunc(c.nodes, out) {
			continue
		}
		for _, i := range c.made[fact.Make{Fact: at, Value: washed}] {
			if w := &c.nodes[i]; !w.done {
				w.Wants = append(w.Wants, fact.Want{
					Fact: joint, Values: fact.Values{fact.Out}, Because: "its thread is reached when it is out",
				})
				w.own = append(w.own, 0)
			}
		}
	}
}

// soaks says that something in the plan soaks a place.
func (c *compiler) soaks(at fact.Fact) bool {
	return len(c.made[fact.Make{Fact: at, Value: soaked}]) > 0
}

// dryThread says that oil on the threads of a joint spoils what holds it: a locker, a dry figure, an angle. What seals
// by its seat, as a bleeder, has none of them.
func (j *Joint) dryThread() bool {
	tr, err := thread.ParseTreatment(string(j.Treatment))
	wet := tr == thread.Oiled || tr == thread.AntiSeize || tr == thread.Sealant
	return err == nil && !wet && !j.MakerOnly
}

// soakPlace is where joints soak together: at a corner, or under the middle.
func soakPlace(corner vehicle.Corner) string { return cmp.Or(string(corner), underneath) }

// underneath is the place of what is done in the middle of the vehicle.
const underneath = "under"

// rest is how a fact stands before anything is done.
func (c *compiler) rest(f fact.Fact) fact.Value {
	if f.Subject == fact.Fastener {
		return fact.Tight
	}
	return c.kinds[f.Subject].Rest
}

// order brings the steps into an order that serves every want and keeps every law.
func (c *compiler) order() error {
	if err := c.tighten(); err != nil {
		return err
	}
	if err := c.lifecycles(); err != nil {
		return err
	}
	c.washedOut()
	c.grounded()
	g := newNet(len(c.nodes))
	if err := c.plain(g); err != nil {
		return err
	}
	c.doneFirst(g)
	l := newLinker(c.nodes, c.rest)
	open := c.apart(l)
	for f, makers := range l.makers {
		c.restoredLast(g, f, makers)
	}
	done, k := l.search(g, l.links(), open)
	if k != nil {
		return c.conflict(k)
	}
	for _, i := range done.sorted(func(i int) bool { return !c.nodes[i].Hands() }) {
		s := c.nodes[i].Step
		s.Needs = nil
		for _, b := range done.direct(i) {
			s.Needs = append(s.Needs, c.nodes[b].ID)
		}
		c.plan.Steps = append(c.plan.Steps, s)
	}
	return nil
}

// tighten adds the wants that hold only where the plan has what they are about.
func (c *compiler) tighten() error {
	for i := range c.nodes {
		n := &c.nodes[i]
		for _, w := range n.loose {
			want, there, err := c.want(n.of, w)
			if err != nil {
				return badStep(n.ID, "wants", sentence(unit.Capital(err.Error())),
					"Name a fact of facts.yaml, or a joint of the file.")
			}
			if there && (!w.Soft || c.isMade(want)) && !(w.Still && c.undone(want)) {
				n.Wants = append(n.Wants, want)
				n.own = append(n.own, 0)
			}
		}
	}
	return nil
}

// undone says that what was done has left a fact otherwise than wanted.
func (c *compiler) undone(w fact.Want) bool {
	for _, s := range slices.Backward(c.Done) {
		for _, m := range s.Makes {
			if m.Fact == w.Fact {
				return !w.Values.Has(m.Value)
			}
		}
	}
	return false
}

// doneFirst keeps what was done in its order, before all that is left.
func (c *compiler) doneFirst(g *net) {
	last := -1
	for _, s := range c.Done {
		i := c.at[s.ID]
		if last >= 0 {
			g.add(last, i)
		}
		last = i
	}
	for i := range c.nodes {
		if last >= 0 && !c.nodes[i].done {
			g.add(last, i)
		}
	}
}

// plain orders what no fact stands behind, and the steps of one joint.
func (c *compiler) plain(g *net) error {
	for _, a := range c.after {
		to, ok := c.at[a[1]]
		if !ok {
			continue
		}
		for _, from := range c.past(a[0], 0) {
			if c.nodes[to].done {
				continue
			}
			if from != to && !g.add(from, to) {
				return badStep(c.nodes[to].ID, "needs",
					fmt.Sprintf("These steps wait for one another in a ring: %s, %s.", a[0], a[1]), "Take one of their needs away.")
			}
		}
	}
	return nil
}

// past gives the steps behind a need: one that was dropped passes on what it needed.
func (c *compiler) past(id operation.StepID, depth int) []int {
	if i, ok := c.at[id]; ok {
		return []int{i}
	}
	var out []int
	if depth > len(c.dropped) {
		return nil
	}
	for _, n := range c.dropped[id] {
		out = append(out, c.past(n, depth+1)...)
	}
	return out
}

// restoredLast lets the one step that brings a fact back wait for all that disturb it.
func (c *compiler) restoredLast(g *net, f fact.Fact, makers []maker) {
	last := -1
	for _, m := range makers {
		if m.value != c.rest(f) {
			continue
		}
		if last >= 0 {
			return // brought back more than once, as where the vehicle stands
		}
		last = m.step
	}
	if last < 0 || f.Subject == fact.Fastener {
		return
	}
	for _, m := range makers {
		if m.step != last {
			g.add(m.step, last)
		}
	}
}

// apart keeps what is gone for twice from running into itself, and what can be at one
// corner only from being at two.
func (c *compiler) apart(l *linker) []either {
	var out []either
	type span struct{ from, to int }
	bySubject := map[string][]span{}
	for _, going := range slices.Sorted(maps.Keys(c.went)) {
		steps := c.went[going]
		first := c.nodes[steps[0]].of
		w := slices.IndexFunc(c.Knowledge.Ways, func(w operation.Way) bool { return w.ID == first.id })
		way := &c.Knowledge.Ways[w]
		key := way.Fact
		switch {
		case c.kinds[way.Fact].Alone:
		case way.Each:
			key += "." + string(first.corner)
		default:
			continue
		}
		s := span{-1, -1}
		for _, i := range steps {
			for _, m := range c.nodes[i].Makes {
				switch {
				case m.Fact.Subject != way.Fact:
				case m.Value == c.rest(m.Fact):
					s.to = i
				case s.from < 0:
					s.from = i
				}
			}
		}
		bySubject[key] = append(bySubject[key], s)
	}
	for _, key := range slices.Sorted(maps.Keys(bySubject)) {
		spans := bySubject[key]
		for i, a := range spans {
			for _, b := range spans[:i] {
				out = append(out, either{b.to, a.from, a.to, b.from})
			}
		}
	}
	return out
}

// conflict is a knot in words.
func (c *compiler) conflict(k *knot) error {
	by := &c.nodes[k.by]
	text := fmt.Sprintf("“%s” wants %s %s", c.says(by), c.plan.Names(k.want.Fact), k.want.Values)
	if k.want.Because != "" {
		text += " (" + k.want.Because + ")"
	}
	if k.between != asFound {
		text += fmt.Sprintf(", and “%s” undoes it", c.says(&c.nodes[k.between]))
	} else {
		text += ", and nothing makes it in time"
	}
	remedy := "Let another step make it first, or take the want away (" + strings.TrimSpace(string(by.ID)) + ")."
	if len(c.Done) > 0 {
		remedy = "What was done already stands against it: finish what is begun first, and order this after it."
	}
	return fault.New(fault.Conflict, "steps."+string(by.ID)+".wants", text+".", remedy)
}
