package solid

import "math"

// Mesh is a closed solid of triangles, with a normal for each corner of each.
type Mesh struct {
	Points  []Vec
	Corners []uint32 // three to a triangle, counterclockwise seen from outside
	Normals []small  // one to a corner
}

// small is a direction in half the room: there are two million of them in all parts, and as many on the other side.
type small [3]float32

func (v Vec) small() small { return small{float32(v[0]), float32(v[1]), float32(v[2])} }
func (n small) vec() Vec   { return Vec{float64(n[0]), float64(n[1]), float64(n[2])} }

// What tells a rounded face from an edge, as cosines.
const (
	creaseCos = 0.86   // faces that meet at less than about 31° are one rounded face
	flatCos   = 0.9998 // faces this alike are one flat face
	flatTurn  = 2.2    // radians of flat face round a point, from which it keeps its own normal: one tone
	weld      = 50     // points are one when they agree to a fiftieth of a millimetre
)

// smooth gives each corner the mean normal of the faces it is rounded with.
func (m *Mesh) smooth() {
	type corner struct {
		face int
		turn float64
	}
	faces := make([]Vec, len(m.Corners)/3)
	unit := make([]Vec, len(faces))
	meet := map[[3]int32][]corner{}
	key := func(v Vec) [3]int32 {
		return [3]int32{int32(math.Round(v[0] * weld)), int32(math.Round(v[1] * weld)), int32(math.Round(v[2] * weld))}
	}
	for t := range faces {
		p := m.triangle(t)
		faces[t] = p[1].Sub(p[0]).Cross(p[2].Sub(p[0]))
		unit[t] = faces[t].Unit()
		for j := range p {
			a, b := p[(j+1)%3].Sub(p[j]).Unit(), p[(j+2)%3].Sub(p[j]).Unit()
			k := key(p[j])
			meet[k] = append(meet[k], corner{t, math.Acos(math.Max(-1, math.Min(1, a.Dot(b))))})
		}
	}
	m.Normals = make([]small, len(m.Corners))
	for i := range m.Normals {
		own, flat := unit[i/3], 0.0
		var sum Vec
		for _, o := range meet[key(m.Points[m.Corners[i]])] {
			d := unit[o.face].Dot(own)
			if d > creaseCos {
				sum = sum.Add(faces[o.face])
			}
			if d > flatCos {
				flat += o.turn
			}
		}
		if m.Normals[i] = sum.Unit().small(); flat > flatTurn {
			m.Normals[i] = own.small()
		}
	}
}

// triangle is where the corners of a triangle are.
func (m *Mesh) triangle(t int) [3]Vec {
	return [3]Vec{m.Points[m.Corners[3*t]], m.Points[m.Corners[3*t+1]], m.Points[m.Corners[3*t+2]]}
}

// mirrored is the same solid for the other side of the vehicle.
func (m *Mesh) mirrored() *Mesh {
	out := &Mesh{
		Points:  make([]Vec, len(m.Points)),
		Corners: make([]uint32, 0, len(m.Corners)), Normals: make([]small, 0, len(m.Normals)),
	}
	for i, v := range m.Points {
		out.Points[i] = v.mirrored()
	}
	for t := 0; t < len(m.Corners); t += 3 {
		for _, j := range [3]int{t, t + 2, t + 1} { // what was counterclockwise is again
			out.Corners = append(out.Corners, m.Corners[j])
			out.Normals = append(out.Normals, m.Normals[j].vec().mirrored().small())
		}
	}
	return out
}

// volume is what a closed mesh holds; negative where its faces look inward.
func (m *Mesh) volume() float64 {
	sum := 0.0
	for t := range len(m.Corners) / 3 {
		p := m.triangle(t)
		sum += p[0].Dot(p[1].Cross(p[2])) / 6
	}
	return sum
}

// headFlare is how much wider than its shaft an arrow's head is.
const headFlare = 2.5

// band is a flat bar along a path that ends in a head: arrows are made of it. face is where its flat side looks.
func band(path, face []Vec, wide, thick, head float64) *Mesh {
	m := &Mesh{}
	total := 0.0
	for i := 1; i < len(path); i++ {
		total += path[i].Sub(path[i-1]).Len()
	}
	ring := func(p, along, f Vec, w float64) {
		s := along.Cross(f).Unit()
		f = s.Cross(along).Unit()
		for _, c := range [][2]float64{{-1, -1}, {1, -1}, {1, 1}, {-1, 1}} {
			m.Points = append(m.Points, p.Add(s.Mul(c[0]*w/2)).Add(f.Mul(c[1]*thick/2)))
		}
	}
	run, inHead := 0.0, false
	for i := range path {
		along := path[min(len(path)-1, i+1)].Sub(path[max(0, i-1)]).Unit()
		if i > 0 {
			run += path[i].Sub(path[i-1]).Len()
		}
		left := total - run
		if !inHead {
			ring(path[i], along, face[i], wide)
		}
		if left <= head {
			inHead = true
			ring(path[i], along, face[i], math.Max(0.4, wide*headFlare*left/head))
		}
	}
	rings := uint32(len(m.Points) / 4)
	for i := range rings - 1 {
		for j := range uint32(4) {
			a, b := 4*i+j, 4*i+(j+1)%4
			m.Corners = append(m.Corners, a, b, b+4, a, b+4, a+4)
		}
	}
	end := 4 * (rings - 1)
	m.Corners = append(m.Corners, 0, 2, 1, 0, 3, 2, end, end+1, end+2, end, end+2, end+3)
	if m.volume() < 0 {
		for t := 0; t < len(m.Corners); t += 3 {
			m.Corners[t+1], m.Corners[t+2] = m.Corners[t+2], m.Corners[t+1]
		}
	}
	m.smooth()
	return m
}
