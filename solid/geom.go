// Package solid draws scenes of parts and tools as line and tone: solids in millimetres, X outboard, Y forward,
// Z up, the middle of the hub at 0. A fastener or a place of work is a frame, a scene says what is there and
// what is done with it, and every pixel knows the part it shows, so that tests can ask whether a picture says
// what it should.
package solid

import "math"

// Vec is a place or a direction, in millimetres.
type Vec [3]float64

// Add is the sum of two.
func (a Vec) Add(b Vec) Vec { return Vec{a[0] + b[0], a[1] + b[1], a[2] + b[2]} }

// Sub is the way from b to a.
func (a Vec) Sub(b Vec) Vec { return Vec{a[0] - b[0], a[1] - b[1], a[2] - b[2]} }

// Mul is a vector k times as long.
func (a Vec) Mul(k float64) Vec { return Vec{a[0] * k, a[1] * k, a[2] * k} }

// Dot is the scalar product.
func (a Vec) Dot(b Vec) float64 { return a[0]*b[0] + a[1]*b[1] + a[2]*b[2] }

// Len is the length.
func (a Vec) Len() float64 { return math.Sqrt(a.Dot(a)) }

// Cross is the vector product.
func (a Vec) Cross(b Vec) Vec {
	return Vec{a[1]*b[2] - a[2]*b[1], a[2]*b[0] - a[0]*b[2], a[0]*b[1] - a[1]*b[0]}
}

// Unit is the same direction at length 1; a vector of no length stays.
func (a Vec) Unit() Vec {
	if l := a.Len(); l > 1e-12 {
		return a.Mul(1 / l)
	}
	return a
}

// across is what of a vector lies across a direction of length 1.
func (a Vec) across(d Vec) Vec { return a.Sub(d.Mul(a.Dot(d))) }

// mirrored is the same place on the other side of the vehicle.
func (a Vec) mirrored() Vec { return Vec{-a[0], a[1], a[2]} }

// Pose is where a solid is put: where its axes point, and its origin.
type Pose struct{ X, Y, Z, At Vec }

// Still is the pose of what is not moved.
var Still = Pose{X: Vec{1, 0, 0}, Y: Vec{0, 1, 0}, Z: Vec{0, 0, 1}}

// Dir turns a direction.
func (m Pose) Dir(v Vec) Vec { return m.X.Mul(v[0]).Add(m.Y.Mul(v[1])).Add(m.Z.Mul(v[2])) }

// within is a direction as what is turned so sees it; its axes are square and of unit length.
func (m Pose) within(v Vec) Vec { return Vec{v.Dot(m.X), v.Dot(m.Y), v.Dot(m.Z)} }

// Place moves a place.
func (m Pose) Place(v Vec) Vec { return m.Dir(v).Add(m.At) }

// Of is first n, then m.
func (m Pose) Of(n Pose) Pose { return Pose{m.Dir(n.X), m.Dir(n.Y), m.Dir(n.Z), m.Place(n.At)} }

// Turn is a turn by degrees about an axis through the origin, by the right hand.
func Turn(axis Vec, deg float64) Pose {
	a := axis.Unit()
	s, c := math.Sincos(deg * math.Pi / 180)
	r := func(v Vec) Vec { return v.Mul(c).Add(a.Cross(v).Mul(s)).Add(a.Mul(a.Dot(v) * (1 - c))) }
	return Pose{X: r(Still.X), Y: r(Still.Y), Z: r(Still.Z)}
}

// Frame is where a fastener sits or a tool works: the axis points out of the head, toward whoever turns it.
type Frame struct{ At, Axis, Up Vec }

// Pose lays the X axis of a tool along the frame's.
func (f Frame) Pose() Pose {
	x, up := f.Axis.Unit(), f.Up
	if up.Len() < 0.1 {
		up = Vec{0, 0, 1}
	}
	if math.Abs(x.Dot(up.Unit())) > 0.97 {
		up = Vec{0, 1, 0}
	}
	y := up.Cross(x).Unit()
	return Pose{X: x, Y: y, Z: x.Cross(y), At: f.At}
}

// in is the frame of a part that was moved.
func (f Frame) in(m Pose) Frame { return Frame{m.Place(f.At), m.Dir(f.Axis), m.Dir(f.Up)} }
