package solid

import "math"

// inside says whether a place lies in a solid: how often a ray leaves it less how often it goes in.
func inside(m *Mesh, p Vec) bool {
	turns := 0
	d := Vec{0.0123, 0.0371, 1} // along no edge of what is drawn by round numbers
	for i := 0; i < len(m.Corners); i += 3 {
		a, b, c := m.Points[m.Corners[i]], m.Points[m.Corners[i+1]], m.Points[m.Corners[i+2]]
		e, f := b.Sub(a), c.Sub(a)
		h := d.Cross(f)
		det := e.Dot(h)
		if math.Abs(det) < 1e-12 {
			continue
		}
		s := p.Sub(a)
		u := s.Dot(h) / det
		if u < 0 || u > 1 {
			continue
		}
		q := s.Cross(e)
		if v := d.Dot(q) / det; v < 0 || u+v > 1 {
			continue
		}
		if f.Dot(q)/det > 0 {
			if det < 0 {
				turns++
			} else {
				turns--
			}
		}
	}
	return turns != 0
}

// bounds are the least and the greatest of each direction.
func bounds(points []Vec) (lo, hi Vec) {
	lo, hi = points[0], points[0]
	for _, p := range points {
		for i := range p {
			lo[i], hi[i] = min(lo[i], p[i]), max(hi[i], p[i])
		}
	}
	return lo, hi
}

// A tool lies deep in a part where it does so by more than a touch or what bites, in every direction; so many
// of its places are tried, and so many of them may.
const (
	deepAt     = 3.0 // mm
	poked      = 80
	mostInside = 0.05
)

// through is the share of a tool or hand that lies deep in a part.
func through(tool, part Item) float64 {
	lo, hi := bounds(part.Mesh.Points)
	deep, all := 0, 0
	for k := 0; k < len(tool.Mesh.Points); k += max(len(tool.Mesh.Points)/poked, 1) {
		all++
		p := part.Pose.within(tool.Pose.Place(tool.Mesh.Points[k]).Sub(part.Pose.At))
		in := true
		for i := range p {
			in = in && p[i] > lo[i]+deepAt && p[i] < hi[i]-deepAt
		}
		for _, off := range []Vec{{}, {deepAt}, {-deepAt}, {0, deepAt}, {0, -deepAt}, {0, 0, deepAt}, {0, 0, -deepAt}} {
			in = in && inside(part.Mesh, p.Add(off))
		}
		if in {
			deep++
		}
	}
	return float64(deep) / float64(all)
}

// clear says that an item passes through none of the parts that are drawn full.
func (st *stage) clear(tool Item) bool {
	for _, it := range st.items {
		if it.solid() && through(tool, it) > mostInside {
			return false
		}
	}
	return true
}

// solid says that nothing passes through an item: it is a part that is drawn full, and no fluid.
func (it Item) solid() bool {
	switch it.Role {
	case Tool, Skin, Ghost, Fluid, Arrow:
		return false
	}
	return true
}
