package operation

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"lugtak/core/unit"
	"lugtak/core/vehicle"
)

// finish gathers what the plan is made of once its steps stand.
func (c *compiler) finish() {
	p := &c.plan
	c.sources()
	c.parts()
	c.scenes()
	c.nameSides()
	for _, u := range c.uses {
		for _, w := range u.Warnings {
			if !slices.Contains(p.Warnings, w) {
				p.Warnings = append(p.Warnings, w)
			}
		}
		for _, m := range u.Drive {
			if !slices.Contains(p.Drive, m) {
				p.Drive = append(p.Drive, m)
			}
		}
		if other := u.corner.Opposite(); u.task && u.Pairs != "" && !slices.Contains(c.Tasks, Task{u.ID, other}) {
			p.Warnings = append(p.Warnings, fmt.Sprintf("%s is done on one side only. %s", c.title(u), u.Pairs))
		}
	}
	for _, s := range c.Schools {
		if c.asked[s.Key] || s.Key == SidesSchool && len(p.Corners()) > 1 {
			p.Schools = append(p.Schools, SchoolUsed{s, c.ways[s.Key]})
		}
	}
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
	for _, u := range c.uses {
		kind := "access"
		if u.task {
			kind = "operation"
		}
		if text := fmt.Sprintf("%s %s, version %d", kind, u.ID, u.Version); !slices.Contains(p.Sources, text) {
			p.Sources = append(p.Sources, text)
		}
		if !u.task || slices.ContainsFunc(titles, func(t string) bool { return strings.HasPrefix(t, c.title(u)+",") || t == c.title(u) }) {
			continue
		}
		title := c.title(u)
		switch other := slices.Contains(c.Tasks, Task{u.ID, u.corner.Opposite()}); {
		case u.corner == "":
		case other:
			title += ", both sides"
		default:
			title += ", " + u.corner.Side()
		}
		titles = append(titles, title)
	}
	p.Sources = append(p.Sources, fmt.Sprintf("sheet %s, version %d", c.Pattern.ID, c.Pattern.Version))
	p.Title = strings.Join(titles, " · ")
}

func (c *compiler) title(u used) string {
	return unit.Capital(c.side(u.Title, u.corner))
}

// parts unites what must be at hand: parts first, hardware that is used once, and
// at the end what is used up.
func (c *compiler) parts() {
	p := &c.plan
	var all []Part
	add := func(x Part) {
		if i := slices.IndexFunc(all, func(o Part) bool { return o.Key == x.Key }); i < 0 {
			all = append(all, x)
		} else if !x.Used {
			all[i].Count += x.Count
		}
	}
	for _, u := range c.uses {
		for _, x := range u.Parts {
			if !c.when(x.When) {
				continue
			}
			x.Key, x.Title = partKey(u, x.Key), c.side(x.Title, u.corner)
			if x.Sided && u.corner != "" {
				x.Title += ", " + u.corner.Side()
			}
			add(x)
		}
	}
	for _, j := range p.Joints {
		if j.Renew {
			add(Part{Key: j.Sheet, Title: j.Hardware, Count: len(j.Letters), OneUse: true})
		}
	}
	rank := func(x Part) int {
		switch {
		case x.Used:
			return 2
		case x.OneUse:
			return 1
		}
		return 0
	}
	slices.SortStableFunc(all, func(a, b Part) int { return cmp.Compare(rank(a), rank(b)) })
	p.Parts = all
}

// scenes gives every task its picture. A step of an access is shown in the picture
// of the first task that uses it at its corner.
func (c *compiler) scenes() {
	p := &c.plan
	byOwner := map[string]int{}
	for _, u := range c.uses {
		if !u.task {
			continue
		}
		i := len(p.Scenes)
		pic := c.picture(u)
		pic.Title = c.side(pic.Title, u.corner)
		sc := Scene{Picture: pic, Corner: u.corner}
		for _, id := range c.below(u.Operation) {
			key := id + "|" + string(u.corner)
			if _, ok := byOwner[key]; !ok {
				byOwner[key] = i
			}
			for _, x := range c.uses {
				for _, j := range x.Joints {
					if x.ID == id && x.corner == u.corner {
						if joint := c.local[id+"|"+string(x.corner)+"|"+j.Key]; joint != "" {
							sc.Joints = append(sc.Joints, joint)
						}
					}
				}
			}
		}
		p.Scenes = append(p.Scenes, sc)
	}
	for i := range p.Steps {
		p.Steps[i].Scene = byOwner[p.Steps[i].Owner+"|"+string(p.Steps[i].Corner)]
	}
}

// picture is an operation's own lines over the place it is like.
func (c *compiler) picture(u used) Picture {
	pic := u.Picture
	like := pic.Like
	if like == PatternCorner {
		like = c.ways[u.corner.Axle()+"-corner"]
	}
	for _, p := range c.Places {
		if p.Key == like {
			pic.Width, pic.Height, pic.Shapes = p.Width, p.Height, slices.Concat(p.Shapes, pic.Shapes)
		}
	}
	return pic
}

// below lists an operation and the accesses it uses.
func (c *compiler) below(op Operation) []string {
	out := []string{op.ID, soakAccess}
	for _, id := range op.Uses {
		if a, ok := find(c.Access, id); ok {
			out = append(out, c.below(a)...)
		}
	}
	return out
}
