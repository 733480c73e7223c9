package solid

import (
	"fmt"
	"math"
	"slices"
	"strings"
)

// stage is a scene set up: items where they stand, found by their names.
type stage struct {
	items  []Item
	parts  map[string]*Part
	placed map[string]int
}

// roleOf is what a part is by what it is made of.
func roleOf(stuff string) Role {
	switch stuff {
	case "rubber":
		return Rubber
	case "lining", "wood":
		return Lining
	case "fluid":
		return Fluid
	case "tool":
		return Tool
	case "skin":
		return Skin
	}
	return Plain
}

// set puts a scene up; on the left the vehicle's parts are mirrored, tools and hands are not.
func set(s Scene, parts map[string]*Part, a *Album, left bool) (*stage, error) {
	corner, err := a.parts(&s)
	if err != nil {
		return nil, err
	}
	solidOf := map[string]string{}
	var names []string
	for _, n := range corner {
		name, of, other := strings.Cut(n, "=")
		if !other {
			of = name
		}
		names, solidOf[name] = append(names, name), of
	}
	for _, n := range slices.Concat(s.Plain, s.Hand) { // parts that this corner lacks are brought along
		if !slices.Contains(names, n) && !strings.HasSuffix(n, "*") {
			names, solidOf[n] = append(names, n), n
		}
	}
	st := &stage{parts: map[string]*Part{}, placed: map[string]int{}}
	for _, n := range names {
		p, ok := parts[solidOf[n]]
		if !ok {
			return nil, fmt.Errorf("there is no solid %q", solidOf[n])
		}
		if left {
			p = p.mirrored()
		}
		st.parts[n] = p
		role, there := s.role(n, p.Stuff)
		if _, twice := st.placed[n]; there && !twice {
			st.put(p, n, role, Still, s)
		}
	}
	for _, m := range s.Moves {
		if err := st.move(m); err != nil {
			return nil, err
		}
	}
	for _, u := range s.Uses {
		if err := st.use(u, parts, s); err != nil {
			return nil, err
		}
	}
	return st, nil
}

// role is what a part is in this scene, and whether it is there at all.
func (s *Scene) role(name, stuff string) (Role, bool) {
	switch {
	case named(s.Hand, name):
		return Hand, true
	case named(s.Gone, name):
		return Ghost, false
	case named(s.Plain, name):
		return roleOf(stuff), true
	case s.Ghost != nil && !named(s.Ghost, name):
		return Ghost, false
	}
	return Ghost, true
}

func (st *stage) put(p *Part, as string, role Role, at Pose, s Scene) {
	st.placed[as] = len(st.items)
	cut := named(s.CutOf, as) || len(s.CutOf) == 0 && len(s.Cuts) > 0
	st.items = append(st.items, Item{Name: as, Mesh: p.Mesh(), Pose: at, Role: role, Cut: cut})
	st.parts[as] = p
}

func (st *stage) move(m Move) error {
	by := Still
	if m.Out {
		f, err := st.frame(m.At)
		if err != nil {
			return err
		}
		part, _, _ := strings.Cut(m.At, ".")
		long, _ := st.items[st.placed[part]].span(f.Axis.Unit())
		m.Along, m.MM = f.Axis, halfOut*long
	}
	if m.Scale != 0 {
		from, err := st.frame(m.At)
		if err != nil {
			return err
		}
		to, err := st.frame(m.To)
		if err != nil {
			return err
		}
		by = stretched(from.At, to.At, m.Scale)
	}
	if m.Turn != 0 {
		f, err := st.frame(m.At)
		if err != nil {
			return err
		}
		by = Turn(m.Along, m.Turn)
		by.At = f.At.Sub(by.Dir(f.At))
	}
	by.At = by.At.Add(m.Along.Unit().Mul(m.MM))
	for n, i := range st.placed {
		if named(m.What, n) {
			st.items[i].Pose = by.Of(st.items[i].Pose)
		}
	}
	return nil
}

func (st *stage) use(u Use, parts map[string]*Part, s Scene) error {
	p, ok := parts[u.Is]
	if !ok {
		return fmt.Errorf("there is no tool %q", u.Is)
	}
	at := Still
	switch {
	case u.On == "" && u.left: // it sits where it was modelled, as a part does
		p = p.mirrored()
	case u.left:
		u = u.across(p.mesh)
	}
	if u.On != "" {
		f, err := st.frame(u.On)
		if err != nil {
			return err
		}
		if u.Up.Len() > 0 {
			f.Up = u.Up
		}
		at = f.Pose().Of(Turn(Vec{1, 0, 0}, u.Turn))
	}
	at.At = at.Place(u.Off)
	role := roleOf(p.Stuff)
	switch u.Role {
	case "ghost":
		role = Ghost
	case "plain":
		role = Plain
	case "hand":
		role = Hand
	}
	st.put(p, u.name(), role, at, s)
	return nil
}

// across is a use on the left of the vehicle. A tool is not mirrored, so that of its handle and of what else
// stands out of it only one can point as on the right: it is the one that reaches farther.
func (u Use) across(m *Mesh) Use {
	var lo, hi Vec
	for _, p := range m.Points {
		for k := range p {
			lo[k], hi[k] = math.Min(lo[k], p[k]), math.Max(hi[k], p[k])
		}
	}
	if math.Abs(lo[1]+hi[1]) > math.Abs(lo[2]+hi[2]) {
		u.Turn, u.Off[2] = 180-u.Turn, -u.Off[2]
	} else {
		u.Turn, u.Off[1] = -u.Turn, -u.Off[1]
	}
	return u
}

// frame is a place of a part as it stands, named part.frame; a name alone is where its head is, or where a tool
// works.
func (st *stage) frame(name string) (Frame, error) {
	part, key, ok := strings.Cut(name, ".")
	if !ok {
		key = "head"
	}
	i, there := st.placed[part]
	if !there {
		return Frame{}, fmt.Errorf("%q is not in the scene", part)
	}
	f, known := st.parts[part].Frames[key]
	if !known && key != "head" && key != "work" {
		return Frame{}, fmt.Errorf("%q has no place %q", part, key)
	}
	if !known {
		f = Frame{Axis: Vec{1, 0, 0}}
	}
	return f.in(st.items[i].Pose), nil
}

// fit moves and scales a camera until what is to be seen fills the picture.
func (st *stage) fit(cam Camera, w, h int, s Scene) Camera {
	cam.W, cam.H = w, h
	lo, hi := [2]float64{math.Inf(1), math.Inf(1)}, [2]float64{math.Inf(-1), math.Inf(-1)}
	for _, it := range st.items {
		if len(s.Fit) > 0 && !named(s.Fit, it.Name) || len(s.Fit) == 0 && it.Role == Ghost {
			continue
		}
		for _, p := range it.Mesh.Points {
			q := it.Pose.Place(p)
			for k, v := range [2]float64{q.Dot(cam.Right), q.Dot(cam.Up)} {
				lo[k], hi[k] = math.Min(lo[k], v), math.Max(hi[k], v)
			}
		}
	}
	zoom := s.Zoom
	if zoom == 0 {
		zoom = 0.9
	}
	cam.Scale = zoom * math.Min(float64(w)/(hi[0]-lo[0]), float64(h)/(hi[1]-lo[1]))
	cam.Middle = cam.Right.Mul((lo[0] + hi[0]) / 2).Add(cam.Up.Mul((lo[1] + hi[1]) / 2))
	if len(s.Shift) == 2 {
		cam.Middle = cam.Middle.Sub(cam.Right.Mul(s.Shift[0] / cam.Scale)).Add(cam.Up.Mul(s.Shift[1] / cam.Scale))
	}
	return cam
}

// seen is how much of an item is not hidden by parts, tools and hands left out, and how many pixels it has by itself.
func (st *stage) seen(name string, cam Camera, cuts []Plane) (share float64, pixels int) {
	var own, all []Item
	for i, it := range st.items {
		if i == st.placed[name] {
			own = append(own, it)
		} else if it.Role == Tool || it.Role == Skin || it.Role == Arrow {
			continue
		}
		all = append(all, it)
	}
	count := func(items []Item) int {
		n := 0
		for _, id := range Solve(items, cam, cuts, 1).Item {
			if id > 0 && items[id-1].Name == name {
				n++
			}
		}
		return n
	}
	pixels = count(own)
	return float64(count(all)) / math.Max(1, float64(pixels)), pixels
}

// The picture in which standing places are tried, and from how many pixels on a part is large enough in it.
const (
	trialW, trialH = 300, 210
	largeEnough    = 200.0
)

// stand is where one looks from: as the scene says, else where most is seen of what is in hand; the first of equals.
func (st *stage) stand(s Scene) []float64 {
	if len(s.From) == 2 {
		return s.From
	}
	best, out := -1.0, []float64{45, 20}
	for _, at := range Stands {
		cam := st.fit(Look(at.Azimuth, at.Elevation), trialW, trialH, s)
		least := 1.0
		for _, it := range st.items {
			if it.Role == Hand {
				share, pixels := st.seen(it.Name, cam, s.Cuts)
				least = math.Min(least, share*math.Sqrt(math.Min(1, float64(pixels)/largeEnough)))
			}
		}
		if least > best {
			best, out = least, []float64{at.Azimuth, at.Elevation}
		}
	}
	return out
}
