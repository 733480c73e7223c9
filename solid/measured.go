package solid

import (
	"fmt"
	"math"
	"slices"
)

// How finely an old part is drawn against the new one, and how far at most: so many pictures of a comparison there are.
const (
	scaleStep  = 0.01
	leastScale = 0.5
	mostScale  = 1.6
)

// Measured is a comparison with what was measured of the old part, its first pane, and of the new: both to one scale, the
// old one longer or shorter along the field that decides. In place of each dimension that was measured stands a mark, and
// fill says what is to be written for it.
func (s Scene) Measured(old, new map[string]float64, write func(mm float64) string) (out Scene, fill map[string]string) {
	out, fill = s, map[string]string{}
	if len(s.Panes) != 2 {
		return out, fill
	}
	out.ToScale = true
	out.Panes = slices.Clone(s.Panes)
	for i, measured := range []map[string]float64{old, new} {
		p := &out.Panes[i]
		p.Marks = slices.Clone(p.Marks)
		for k := range p.Marks {
			m := &p.Marks[k]
			mm, known := measured[m.Field]
			if !known {
				continue
			}
			m.Says = fmt.Sprintf("mm-%d-%d", i, k)
			fill[m.Says] = write(mm)
			is, other := measured[m.Field], new[m.Field]
			if i > 0 || m.Field != s.Scaled || is <= 0 || other <= 0 {
				continue
			}
			by := math.Round(is/other/scaleStep) * scaleStep
			p.Moves = append(slices.Clone(s.Moves), Move{
				What: []string{"*"}, Scale: math.Max(leastScale, math.Min(mostScale, by)), At: m.A, To: m.B,
			})
		}
	}
	return out, fill
}

// stretched is the pose that makes everything longer by a factor along the way from one place to another, the first of
// which stays.
func stretched(from, to Vec, by float64) Pose {
	d := to.Sub(from).Unit()
	out := Pose{}
	for i, axis := range []*Vec{&out.X, &out.Y, &out.Z} {
		var e Vec
		e[i] = 1
		*axis = e.Add(d.Mul((by - 1) * e.Dot(d)))
	}
	out.At = from.Sub(out.Dir(from))
	return out
}
