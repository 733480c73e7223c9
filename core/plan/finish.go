package plan

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"lugtak/core/fact"
	"lugtak/core/operation"
	"lugtak/core/recipe"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
)

// finish gathers what the plan is made of once its steps stand.
func (c *compiler) finish() {
	p := &c.plan
	p.Tasks = c.Tasks
	p.Pattern = c.Pattern.Name
	p.Invented = c.Pattern.Invented
	p.Outline = c.Pattern.Outline
	p.GearOil = c.Pattern.GearOil
	c.trays()
	c.rounds()
	c.sources()
	c.parts()
	c.scenes()
	for i := range p.Steps {
		if c.done[p.Steps[i].ID] == nil {
			c.dress(&p.Steps[i])
		}
	}
	c.nameSides()
	for _, f := range c.files {
		for _, w := range f.warnings {
			if !slices.Contains(p.Warnings, w) {
				p.Warnings = append(p.Warnings, w)
			}
		}
		for _, m := range f.drive {
			p.Drive = operation.Drives(p.Drive, c.driven(m))
		}
		if other := f.corner.Opposite(); f.task && f.pairs != "" && !slices.Contains(c.Tasks, Task{f.id, other}) {
			p.Warnings = append(p.Warnings, fmt.Sprintf("%s is done on one side only. %s", c.title(f), f.pairs))
		}
	}
	for _, s := range c.Knowledge.Schools {
		if c.asked[s.Key] || c.matters(s.Key) {
			p.Schools = append(p.Schools, SchoolUsed{s, c.ways[s.Key]})
			continue
		}
		if way, wanted := c.Ways[s.Key]; wanted && way != s.Default {
			p.Warnings = append(p.Warnings, "“"+s.Question+"” decides nothing in this plan.")
		}
	}
	for _, b := range c.Knowledge.Builds {
		if c.asked[b.Key] {
			p.Builds = append(p.Builds, BuildUsed{b, c.ways[b.Key], c.known[b.Key], c.decides[b.Key]})
		}
	}
}

// matters says that a school which no step asks for decides something in the plan.
func (c *compiler) matters(school string) bool {
	p := &c.plan
	switch school {
	case SidesSchool:
		return len(p.Corners()) > 1
	case pairsSchool:
		return sided(p.Tasks)
	case aimSchool:
		return slices.ContainsFunc(p.Joints, func(j Joint) bool {
			return slices.ContainsFunc(j.Stages(), recipe.Stage.HasRoom)
		})
	}
	return false
}

// sided says that some task is done at a corner.
func sided(tasks []Task) bool {
	return slices.ContainsFunc(tasks, func(t Task) bool { return t.Corner != "" })
}

// rounds lets a joint owe its round after the drive only where the plan has that round.
func (c *compiler) rounds() {
	for i := range c.plan.Joints {
		j := &c.plan.Joints[i]
		j.AfterDrive = j.AfterDrive && slices.ContainsFunc(c.plan.Steps, func(s Step) bool {
			return s.Joint == j.ID && s.AfterDrive
		})
	}
}

// fill fills a text of the library in: the joint at hand, its tray, what soaks, what moved the wheels, the place.
func (c *compiler) fill(text, joint string, f *file) string {
	if !strings.Contains(text, "{") {
		return text
	}
	tray, one := "", ""
	if j := c.joint(joint); j != nil {
		tray, one = j.Tray, j.One
	}
	r := strings.NewReplacer("{tray}", "tray "+tray, "{one}", one, "{One}", unit.Capital(one),
		"{joints}", c.soaking(f.corner), "{causes}", c.causes())
	return c.side(r.Replace(text), f.corner)
}

// dress fills a step's texts in, and says what follows from its facts: where the vehicle
// stands, who holds what, why it comes when it does.
func (c *compiler) dress(s *Step) {
	at := c.at[s.ID]
	f := c.nodes[at].of
	if j := c.joint(s.Joint); j != nil {
		// The step takes the socket this vehicle's sheet names.
		if s.Tool == "" && j.Socket != "" && s.Verb != operation.Start {
			s.Tool = strings.TrimSpace(j.Socket + " " + driveWords[j.Drive])
		}
	}
	if s.Tool == "" && s.Verb == operation.Start {
		s.Tool = "by hand"
	}
	for _, p := range c.Knowledge.Pairs {
		if s.People > 1 && p.Key == s.Pair {
			s.Two = operation.Pair{One: p.One, Two: p.Two, Words: p.Words}
		}
	}
	for _, t := range []*string{&s.Title, &s.How, &s.Because, &s.Caution, &s.Place} {
		*t = c.fill(*t, s.Joint, f)
	}
	if s.Proves == operation.ProvesAlignment && c.sure() {
		s.Answers = slices.DeleteFunc(slices.Clone(s.Answers), func(x operation.Answer) bool { return x.Opens == "" })
	}
	if shows := c.shows[s.ID]; shows != "" {
		s.How = strings.TrimSpace(s.How + " The other side shows " + shows + ".")
	}
	if s.Part != "" {
		s.Part = partKey(f, s.Part)
	}
	for _, list := range []*[]string{&s.Puts, &s.Takes} { // sided things are counted by side
		own := slices.Clone(*list)
		for i := range own {
			own[i] = c.side(own[i], f.corner)
		}
		*list = own
	}
	s.stand()
	s.Because = cmp.Or(s.Because, c.reason(s))
}

// stand reads from the facts where the vehicle must stand and what moves.
func (s *Step) stand() {
	for _, w := range s.Wants {
		switch {
		case w.Fact.Subject == springsFact && w.Values.Has(atRideHeight):
			s.Position = RideHigh
		case w.Fact.Subject != VehicleFact || s.Position == RideHigh:
		case len(w.Values) == 1:
			s.Position = position(w.Values[0])
		case w.Values.Has(fact.Value(Touching)):
			s.Position = Touching
		}
	}
	for _, m := range s.Makes {
		switch {
		case m.Fact.Subject == RotationFact:
			s.Holds = m.Value == held
			s.LetsGo = m.Value != held
		case m.Fact.Subject == VehicleFact:
			s.MovesTo = position(m.Value)
		case m.Fact.Subject == springsFact && s.MovesTo == "" && m.Value == atRideHeight:
			s.MovesTo = RideHigh
		case m.Fact.Subject == springsFact && s.MovesTo == "":
			s.MovesTo = Raised // a jack under the arm goes, the stands stay
		}
	}
}

// position is a value of the vehicle's fact as the bench tells it: on ramps it stands at
// ride height.
func position(v fact.Value) Position {
	if v == onRamps {
		return RideHigh
	}
	return Position(v)
}

// reason is why a step stands where it does: its wants, in the words of the library, those
// written for this very step first. What it turns back itself is no reason.
func (c *compiler) reason(s *Step) string {
	var own, plain []string
	for _, w := range s.Wants {
		turns := slices.ContainsFunc(s.Makes, func(m fact.Make) bool { return m.Fact == w.Fact })
		text := sentence(unit.Capital(w.Because))
		stands := w.Fact.Subject == springsFact || w.Fact.Subject == VehicleFact
		switch common := c.common(w); {
		case !stands && c.told[told{s.Owner, s.Corner, text}]: // by an earlier step of the same work
		case w.Because == "" || c.keeps[w.Because] || turns && w.Fact.Subject != fact.Fastener:
		case slices.Contains(own, text) || slices.Contains(plain, text):
		case common && w.Fact.Subject == wheelFact: // plain to anybody
		case common:
			plain = append(plain, text)
		default:
			own = append(own, text)
		}
	}
	if len(own) == 0 {
		own = plain
	}
	own = own[:min(maxReasons, len(own))]
	for _, text := range own {
		c.told[told{s.Owner, s.Corner, text}] = true
	}
	return strings.Join(own, " ")
}

// told is a reason that some work has given at a corner.
type told struct {
	owner  string
	corner vehicle.Corner
	text   string
}

// maxReasons is how many reasons of a step one reads at a glance.
const maxReasons = 2

// common says that a want gives the reason its fact always has.
func (c *compiler) common(w fact.Want) bool {
	kind := c.kinds[w.Fact.Subject]
	for _, v := range w.Values {
		if because, ok := kind.Reason(v); ok && because == w.Because {
			return true
		}
	}
	return w.Fact.Subject == fact.Fastener
}

func sentence(text string) string { return strings.TrimSuffix(text, ".") + "." }

var driveWords = map[string]string{
	"hexagon":      "six-point",
	"twelve-point": "twelve-point",
	"multi-point":  "multi-point",
	"inner":        "inner",
}

// soaking names the joints that soak at a corner.
func (c *compiler) soaking(corner vehicle.Corner) string {
	var out []string
	for i := range c.nodes {
		n := &c.nodes[i]
		j := c.joint(n.Joint)
		if n.Verb == operation.Crack && j != nil && j.Seizes && j.Corner == corner && !c.wantsGround(n) {
			out = append(out, j.Title)
		}
	}
	return strings.Join(out, ", ")
}

// partKey tells left from right, and front from rear, where the part does.
func partKey(f *file, key string) string {
	for _, p := range f.parts {
		switch {
		case p.Key != key || f.corner == "":
		case p.Sided:
			return key + "." + string(f.corner)
		case strings.Contains(p.Title, "{axle}"):
			return key + "." + f.corner.Axle()
		}
	}
	return key
}

// causes says what moved the wheels' setting, sure that something did.
func (c *compiler) causes() string {
	var out []string
	for _, f := range c.files {
		for _, s := range f.sets {
			if text := s.What + ": " + c.side(s.Cause, f.corner); !slices.Contains(out, text) {
				out = append(out, text)
			}
		}
	}
	return strings.Join(out, "; ")
}

func (c *compiler) sure() bool {
	for _, f := range c.files {
		if slices.ContainsFunc(f.sets, func(s operation.Setting) bool { return s.Sure }) {
			return true
		}
	}
	return false
}

// nameSides lets every joint say its corner where the plan has several: left and
// right are never mixed.
func (c *compiler) nameSides() {
	corners := map[vehicle.Corner]bool{}
	for _, j := range c.plan.Joints {
		corners[j.Corner] = true
	}
	delete(corners, "")
	if len(corners) < 2 {
		return
	}
	for i := range c.plan.Joints {
		if j := &c.plan.Joints[i]; j.Corner != "" {
			j.Title += " " + string(j.Corner)
			j.One += " " + string(j.Corner)
		}
	}
}

// sources names what the plan was made from, and the plan itself.
func (c *compiler) sources() {
	p := &c.plan
	var titles []string
	for _, f := range c.files {
		kind := "way"
		if f.task {
			kind = "operation"
		}
		if text := fmt.Sprintf("%s %s, version %d", kind, f.id, f.version); !slices.Contains(p.Sources, text) {
			p.Sources = append(p.Sources, text)
		}
		named := func(t string) bool { return strings.HasPrefix(t, c.title(f)+",") || t == c.title(f) }
		if !f.task || slices.ContainsFunc(titles, named) {
			continue
		}
		title := c.title(f)
		switch other := slices.Contains(c.Tasks, Task{f.id, f.corner.Opposite()}); {
		case f.corner == "":
		case other:
			title += ", both sides"
		default:
			title += ", " + f.corner.Side()
		}
		titles = append(titles, title)
	}
	p.Sources = append(p.Sources, fmt.Sprintf("sheet %s, version %d", c.Pattern.ID, c.Pattern.Version))
	p.Title = strings.Join(titles, " · ")
}

func (c *compiler) title(f *file) string {
	return unit.Capital(c.side(f.title, f.corner))
}

// parts unites what must be at hand: parts first, hardware that is used once, and
// at the end what is used up.
func (c *compiler) parts() {
	p := &c.plan
	var all []operation.Part
	add := func(x operation.Part) {
		if i := slices.IndexFunc(all, func(o operation.Part) bool { return o.Key == x.Key }); i < 0 {
			all = append(all, x)
		} else if !x.Used {
			all[i].Count += x.Count
		}
	}
	for _, f := range c.files {
		for _, x := range f.parts {
			if !c.when(x.When, f.corner) {
				continue
			}
			x.Key, x.Title = partKey(f, x.Key), c.side(x.Title, f.corner)
			if x.Sided && f.corner != "" {
				x.Title += ", " + f.corner.Side()
			}
			add(x)
		}
	}
	for _, j := range p.Joints {
		if j.Renew {
			add(operation.Part{Key: j.Sheet, Title: cmp.Or(j.Hardware, "new "+j.Title), Count: len(j.Letters), OneUse: true})
		}
	}
	rank := func(x operation.Part) int {
		switch {
		case x.Used:
			return 2
		case x.OneUse:
			return 1
		}
		return 0
	}
	slices.SortStableFunc(all, func(a, b operation.Part) int { return cmp.Compare(rank(a), rank(b)) })
	p.Parts = all
}

// scenes gives every task its picture, with the joints of all that is opened for it. A
// step that serves several is shown in the picture of the first.
func (c *compiler) scenes() {
	p := &c.plan
	shown := map[*file]int{}
	for _, t := range c.files {
		if !t.task {
			continue
		}
		i := len(p.Scenes)
		sc := Scene{Corner: t.corner, Like: c.ways[t.corner.Axle()+"-corner"]}
		for _, f := range c.serving(t) {
			if _, seen := shown[f]; !seen {
				shown[f] = i
			}
			for _, j := range f.joints {
				id := c.local[f.key(j.Key)]
				if id != "" && !slices.Contains(sc.Joints, id) {
					sc.Joints = append(sc.Joints, id)
				}
			}
		}
		p.Scenes = append(p.Scenes, sc)
	}
	for i := range p.Steps {
		f := c.nodes[c.at[p.Steps[i].ID]].of
		scene, seen := shown[f]
		if !seen {
			scene = max(0, f.scene-1)
		}
		p.Steps[i].Scene = scene
	}
}

// serving lists a task and the files of its own corner whose steps make what it wants,
// and what those want.
func (c *compiler) serving(t *file) []*file {
	out := []*file{t}
	for k := 0; k < len(out); k++ {
		for i := range c.nodes {
			if c.nodes[i].of != out[k] {
				continue
			}
			for _, w := range c.nodes[i].Wants {
				for _, v := range w.Values {
					for _, m := range c.made[fact.Make{Fact: w.Fact, Value: v}] {
						f := c.nodes[m].of
						near := f.corner == t.corner || f.corner == ""
						if near && !slices.Contains(out, f) && v != c.rest(w.Fact) {
							out = append(out, f)
						}
					}
				}
			}
		}
	}
	return out
}

// driven is a manoeuvre with how it is driven.
func (c *compiler) driven(m operation.Manoeuvre) operation.Manoeuvre {
	for _, d := range c.Knowledge.Driven {
		if d.Do == m.Do && m.Driving == (operation.Driving{}) {
			m.Driving = d.Driving
		}
	}
	return m
}
