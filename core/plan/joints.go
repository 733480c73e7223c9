package plan

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/recipe"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
)

// takeJoints looks every joint of a file up in the sheet.
func (c *compiler) takeJoints(f *file) error {
	c.besides(f)
	for _, j := range f.joints {
		key := f.key(j.Key)
		if _, other := c.local[key]; !other {
			c.local[key] = "" // unless by another build of the same place
		}
		if !c.when(j.When, f.corner) {
			continue
		}
		name := c.side(j.Spec, f.corner)
		if c.Pattern.Absent[name] {
			if title := c.side(j.Title, f.corner); !slices.Contains(c.plan.Without, title) {
				c.plan.Without = append(c.plan.Without, title)
			}
			continue
		}
		spec, ok := c.Pattern.Spec[name]
		_, more := vehicle.BesideOf(name)
		more = more || vehicle.IsOwn(name)
		if c.Pattern.Open || more {
			spec = j.Usual.Over(spec)
		} else if !ok && j.Optional {
			continue
		} else if !ok {
			return fault.New(fault.NoSheet, "operation", "The sheet of "+c.Pattern.Name+" lacks the joint "+name+".",
				"Add it to the pattern's file, with its source.")
		}
		if !spec.Unread() || !c.Pattern.Open && !more {
			r, err := recipe.Parse(spec.Recipe)
			switch {
			case err == nil:
				spec.Recipe = r.String()
			case c.Pattern.Open: // read once and doubted by now: it is asked again
				spec.Recipe, spec.Note = "", ""
			default:
				return fault.In("spec."+name+".recipe", err)
			}
		}
		pj := Joint{ID: name, Sheet: name, Joint: j, Spec: spec, Corner: f.corner}
		if f.corner != "" {
			head, tail, _ := strings.Cut(name, ".")
			_, last, _ := strings.Cut(tail, ".")
			pj.ID = head + "." + string(f.corner) + "." + last
		}
		if c.yields(f, j, pj.ID) {
			c.local[key], c.lent[key] = pj.ID, true
			continue
		}
		if j.Opening != "" {
			pj.ID += "_" + j.Opening
		}
		if owner, twice := c.joints[pj.ID]; twice {
			return fault.New(fault.Conflict, "operation", "“"+f.title+"” and “"+owner+"” both open the "+j.Title+".",
				"Order one of them, or let both want what one way makes.")
		}
		c.joints[pj.ID], c.local[key] = f.title, pj.ID
		n := max(cmp.Or(spec.Count, j.Fasteners), 1)
		for i := range n {
			if j.Star {
				pj.Letters = append(pj.Letters, strconv.Itoa(i+1))
			} else {
				pj.Letters = append(pj.Letters, string(rune('A'+i)))
			}
		}
		pj.Order = order(n, j.Star)
		c.nameJoint(&pj, f)
		for _, way := range slices.Sorted(maps.Keys(j.By)) {
			school, is, _ := strings.Cut(way, "=")
			c.asked[school] = true
			if c.ways[school] == is {
				pj.Condition, pj.Held = j.By[way], false
			}
		}
		c.plan.Joints = append(c.plan.Joints, pj)
	}
	return nil
}

// nameJoint says the joint's name for its side.
func (c *compiler) nameJoint(j *Joint, f *file) {
	for _, build := range slices.Sorted(maps.Keys(j.Named)) {
		key, is, _ := strings.Cut(build, "=")
		c.asked[key] = true
		if c.ways[key] == is {
			j.Title = j.Named[build]
			j.One = j.Named[build]
		}
	}
	for _, t := range []*string{&j.Title, &j.One, &j.Points} {
		*t = c.side(*t, f.corner)
	}
}

// trays gives every joint its own tray, numbered by corner.
func (c *compiler) trays() {
	count := map[vehicle.Corner]int{}
	for i := range c.plan.Joints {
		j := &c.plan.Joints[i]
		count[j.Corner]++
		j.Tray = strings.TrimSpace(fmt.Sprintf("%s %d", j.Corner, count[j.Corner]))
	}
}

func (c *compiler) joint(id string) *Joint {
	if id == "" {
		return nil
	}
	return c.plan.Joint(id)
}

// side fills a text of the library in for a corner. Where the work is on both axles a side
// says of which.
func (c *compiler) side(text string, corner vehicle.Corner) string {
	if !strings.Contains(text, "{") || corner == "" {
		return text
	}
	side := corner.Side()
	other := func(t Task) bool { return t.Corner != "" && t.Corner.Axle() != corner.Axle() }
	if slices.ContainsFunc(c.Tasks, other) && !strings.Contains(text, "{axle}") {
		side = corner.Axle() + " " + side
	}
	return strings.ReplaceAll(strings.ReplaceAll(text, "{side}", side), "{axle}", corner.Axle())
}

// says is what a step is called, at its corner.
func (c *compiler) says(n *node) string { return c.fill(n.Title, n.Joint, n.of) }

// yields says that a joint which a work opens under a name of its own is opened, under its plain one, by another
// work at the same place: one bolt is not taken out twice. The steps of the other do it, and what is wanted of
// it is wanted of theirs. Not so where either has begun: the bolt that was closed is opened anew.
func (c *compiler) yields(f *file, j operation.Joint, plain string) bool {
	if !f.task || j.Opening == "" {
		return false
	}
	begun := func(s Step) bool {
		return s.Joint == plain+"_"+j.Opening || s.Joint == plain && s.Verb == operation.Start
	}
	return !slices.ContainsFunc(c.Done, begun) && slices.ContainsFunc(c.Tasks, func(t Task) bool {
		i := slices.IndexFunc(c.Knowledge.Operations, func(o operation.Operation) bool { return o.ID == t.Operation })
		return i >= 0 && t.Operation != f.id && t.Corner == f.corner &&
			slices.ContainsFunc(c.Knowledge.Operations[i].Joints, func(o operation.Joint) bool {
				return o.Opening == "" && o.Spec == j.Spec && c.when(o.When, f.corner)
			})
	})
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

// besides adds to a file the joints that this vehicle has more than the library names: each comes off and goes on
// by the steps of the one it lies beside, and whoever wants that one out wants it out too.
func (c *compiler) besides(f *file) {
	for _, m := range c.Pattern.More {
		i := slices.IndexFunc(f.joints, func(j operation.Joint) bool {
			return c.side(j.Spec, f.corner) == m.Beside && c.when(j.When, f.corner)
		})
		if i < 0 || c.Pattern.Absent[m.Joint] {
			continue
		}
		beside := f.joints[i].Key
		j := f.joints[i]
		j.Key += moreOf(m)
		j.Spec, j.Title, j.One, j.Named = m.Joint, m.Title, m.Title, nil
		j.Points, j.Stack, j.Optional = "", nil, false
		j.Fasteners, j.Spot = 0, (*operation.Point)(m.Spot)
		f.joints = append(slices.Clip(f.joints), j)
		f.open = with(f.open, beside, j)
		f.close = with(f.close, beside, j)
	}
}

// moreOf is what the key of one more has behind that of the one it lies beside.
func moreOf(m vehicle.More) string { return strings.TrimPrefix(m.Joint, m.Beside) }

// with puts behind each step on a joint the same step on another one, and lets whoever wants the first as it should
// be want the second so too.
func with(steps []operation.Step, beside string, j operation.Joint) []operation.Step {
	var out []operation.Step
	for _, s := range steps {
		wants := s.Wants
		for _, w := range wants {
			if w.Joint == beside {
				w.Joint = j.Key
				s.Wants = append(slices.Clip(s.Wants), w)
			}
		}
		out = append(out, s)
		first := len(s.Stages) == 2 && s.Stages[1] != toLast // it is tightened at once, with the last stage of the other
		if s.Joint != beside || !s.Verb.OnJoint() || first {
			continue
		}
		own := s
		own.ID += operation.StepID("-" + j.Key)
		own.Joint, own.Makes, own.Needs = j.Key, nil, nil
		own.How, own.Because = "", ""
		own.Title = unit.Capital(verbWords[s.Verb]+j.Title) + ", {side}"
		if s.Verb == operation.Tighten {
			own.Stages = nil
		}
		out = append(out, own)
	}
	return out
}

// verbWords begin the title of a step that no author wrote.
var verbWords = map[operation.Verb]string{
	operation.Crack:   "break loose: ",
	operation.Remove:  "take out: ",
	operation.Start:   "start by hand: ",
	operation.Tighten: "tighten: ",
}
