package solid

import (
	"fmt"
	"math"
	"slices"
)

// How finely an old part is drawn against the new one, and how far from it: so many pictures of a comparison
// there are.
const (
	scaleStep  = 0.01
	leastScale = 0.5
	mostScale  = 1.6
)

// Measured is a comparison drawn from what was measured: both parts at one scale, the old one, of the first
// pane, longer or shorter than the new one along the field that is scaled. In place of each dimension that was
// measured stands a mark, and fill says what is to be written for it. It is false where that field was not
// measured on both, where they are too far apart for one picture, or where nothing of the part is scaled.
func (s Scene) Measured(old, new map[string]float64, write func(mm float64) string) (out Scene, fill map[string]string,
	ok bool) {
	by := math.Round(old[s.Scaled]/new[s.Scaled]/scaleStep) * scaleStep
	if len(s.Panes) != 2 || s.Scaled == "" || !(by >= leastScale && by <= mostScale) { // nor is what is no number
		return s, nil, false
	}
	out, fill = s, map[string]string{}
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
			m.Says = fmt.Sprintf("mmm-%d-%d", i, k) // as wide as 1200.5 mm
			fill[m.Says] = write(mm)
			if i == 0 && m.Field == s.Scaled {
				p.Moves = append(slices.Clone(s.Moves), Move{What: []string{"*"}, Scale: by, At: m.A, To: m.B})
			}
		}
	}
	return out, fill, true
}

// stretched is the pose that makes everything longer by a factor along the way from one place to another, the
// first of which stays.
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
