package solid

import (
	"math"
	"strings"
)

// An arrow's width in mm at the scale at which a picture shows about 840 mm, and how it is made.
const (
	arrowWide  = 24.0
	arrowThick = 0.34
	arrowHead  = 2.3 // heads are so much longer than wide
	arrowScale = 0.99
	turnDeg    = 270.0
	arrowSteps = 24
)

// arrows adds a scene's arrows: solids too, which hide and are hidden. Which way one turns follows from the
// fastener's axis, not from the picture.
func (st *stage) arrows(s Scene, cam Camera) error {
	wide := arrowWide * arrowScale / cam.Scale
	add := func(m *Mesh, over bool) {
		st.items = append(st.items, Item{Name: "arrow", Mesh: m, Pose: Still, Role: Arrow, Over: over})
	}
	for _, m := range s.Marks {
		switch {
		case m.Arrow != "" || m.Blow != "" && !m.Bare:
			f, err := st.frame(m.Arrow + m.Blow)
			if err != nil {
				return err
			}
			d := f.Axis.Unit()
			if m.Along.Len() > 0 {
				d = m.Along.Unit()
			}
			from := f.At.Add(m.Off).Add(d.Mul(m.From))
			to := from.Add(d.Mul(m.Len))
			if m.Blow != "" { // toward the place that is struck
				from, to = to, from
			}
			add(straight(from, to, wide, cam), true)
		case m.Pull != "":
			grip, err := st.frame(m.Pull)
			if err != nil {
				return err
			}
			f, err := st.frame(m.About)
			if err != nil {
				return err
			}
			d := sense(m.Sense, f.Axis.Unit(), grip.At.Sub(f.At))
			from := grip.At.Add(m.Off).Add(d.Mul(m.From))
			add(straight(from, from.Add(d.Mul(m.Len)), wide, cam), true)
		case m.Turn != "":
			f, err := st.frame(m.Turn)
			if err != nil {
				return err
			}
			if m.Round {
				part, _, _ := strings.Cut(m.Turn, ".")
				_, across := st.items[st.placed[part]].span(f.Axis.Unit())
				m.R = turnRing*across + ringGap
			}
			add(turning(f, m, wide, cam), m.Round)
		}
	}
	return nil
}

// sense is which way a grip goes that turns a fastener: clockwise for one who looks at its head tightens.
func sense(says string, axis, arm Vec) Vec {
	d := arm.across(axis).Cross(axis).Unit()
	if strings.HasPrefix(says, "loosen") != strings.HasSuffix(says, "left") {
		return d.Mul(-1)
	}
	return d
}

// straight is an arrow from one place to another, its flat side to the camera.
func straight(from, to Vec, wide float64, cam Camera) *Mesh {
	way := to.Sub(from)
	face := cam.Along.Mul(-1).across(way.Unit()).Unit()
	var path, faces []Vec
	for i := range arrowSteps + 1 {
		path = append(path, from.Add(way.Mul(float64(i)/arrowSteps)))
		faces = append(faces, face)
	}
	return band(path, faces, wide, wide*arrowThick, math.Min(wide*arrowHead, way.Len()*0.6))
}

// turning is an arrow round a fastener's axis.
func turning(f Frame, m Sign, wide float64, cam Camera) *Mesh {
	axis := f.Axis.Unit()
	u := cam.Along.Mul(-1).across(axis)
	if u.Len() < 0.2 {
		u = cam.Up.across(axis)
	}
	u = u.Unit()
	v := sense(m.Sense, axis, u)
	var path, faces []Vec
	for i := range 61 {
		sin, cos := math.Sincos((turnDeg*float64(i)/60 - turnDeg/2) * math.Pi / 180)
		r := u.Mul(cos).Add(v.Mul(sin))
		path = append(path, f.At.Add(axis.Mul(m.From)).Add(r.Mul(m.R)))
		face := r
		if math.Abs(axis.Dot(cam.Along)) > 0.5 {
			face = axis
		}
		faces = append(faces, face)
	}
	return band(path, faces, wide, wide*0.3, wide*2.4)
}
