package solid

import (
	"cmp"
	"math"
	"runtime"
	"slices"
	"sync"
)

// Role is what a part is in a picture: it decides colours and line weights.
type Role uint8

// Roles. Orange is the part in hand and nothing else.
const (
	Ghost Role = iota // thin: there, and not what it is about
	Plain
	Rubber
	Hand // the part in hand
	Tool
	Skin
	Arrow
	Lining
	Fluid
	roles
)

// Item is a solid where it stands in a scene.
type Item struct {
	Name string
	Mesh *Mesh
	Pose Pose
	Role Role
	Cut  bool // opened by the scene's cuts
	Over bool // drawn over everything
}

// Plane takes away what lies on the side of its normal; of several, only where all agree.
type Plane struct {
	Normal Vec `yaml:"n"`
	At     Vec `yaml:"p"`
}

// Buffer knows of every sample how far it is, what it shows, and how that lies to the light.
type Buffer struct {
	W, H    int // samples
	Samples int // to a pixel's side
	Depth   []float32
	Item    []int16 // which item, from 1; 0 is paper
	Cap     []bool  // on a cut face
	Normal  [][3]float32
}

const (
	nowhere  = float32(1e9)
	overBias = -5000.0 // brings what is drawn over everything before all else, mm
)

// triangle is one face as the camera sees it.
type triangle struct {
	x, y, z float64 // of its first corner
	bx, by  float64 // how its second barycentric coordinate grows to the right and down
	cx, cy  float64 // and its third
	dz      [2]float64
	n       [3][3]float32
	box     [4]int // left, top, right, bottom
	front   bool
}

// Solve fills a buffer: for each sample the nearest item, in bands that run side by side.
func Solve(items []Item, cam Camera, cuts []Plane, samples int) *Buffer {
	w, h := cam.W*samples, cam.H*samples
	b := &Buffer{W: w, H: h, Samples: samples,
		Depth: make([]float32, w*h), Item: make([]int16, w*h), Cap: make([]bool, w*h), Normal: make([][3]float32, w*h)}
	for i := range b.Depth {
		b.Depth[i] = nowhere
	}
	cam.Scale *= float64(samples)
	cam.W, cam.H = w, h
	faces := make([][]triangle, len(items))
	for i := range items {
		faces[i] = items[i].seen(cam, items[i].Cut && len(cuts) > 0)
	}
	removed := inView(cuts, cam)
	order := nearestFirst(items, faces)
	inBands(h, func(from, to int) {
		s := strip{b: b, items: items, cuts: removed, from: from, to: to}
		for _, id := range order {
			s.draw(id, faces[id])
		}
	})
	b.heal()
	return b
}

// nearestFirst is the order items are drawn in: what is hidden by what stands already costs least. Arrows come
// last, as they lie over some of what is nearer.
func nearestFirst(items []Item, faces [][]triangle) []int {
	order, near := make([]int, len(items)), make([]float64, len(items))
	for id := range items {
		order[id], near[id] = id, math.Inf(1)
		for i := range faces[id] {
			near[id] = min(near[id], faces[id][i].z)
		}
		if items[id].Role == Arrow {
			near[id] = math.Inf(1)
		}
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(near[a], near[b]) })
	return order
}

// bands are the first rows of each hand's part of a picture, and the row behind the last.
func bands(h int) []int {
	hands := runtime.GOMAXPROCS(0)
	out := make([]int, hands+1)
	for k := range out {
		out[k] = h * k / hands
	}
	return out
}

// inBands does something with all rows of a picture, by as many hands as there are.
func inBands(h int, do func(from, to int)) {
	rows := bands(h)
	var wg sync.WaitGroup
	for k := range len(rows) - 1 {
		wg.Go(func() { do(rows[k], rows[k+1]) })
	}
	wg.Wait()
}

// seen are the faces of an item that are on the picture, its back faces only where it is cut.
func (it *Item) seen(cam Camera, cut bool) []triangle {
	bias := 0.0
	if it.Over {
		bias = overBias
	}
	m := it.Mesh
	points := make([]Vec, len(m.Points))
	for i, p := range m.Points {
		d := it.Pose.Place(p).Sub(cam.Middle)
		points[i] = Vec{
			float64(cam.W)/2 + d.Dot(cam.Right)*cam.Scale,
			float64(cam.H)/2 - d.Dot(cam.Up)*cam.Scale,
			d.Dot(cam.Along) + bias,
		}
	}
	var out []triangle
	for t := 0; t < len(m.Corners); t += 3 {
		p, q, r := points[m.Corners[t]], points[m.Corners[t+1]], points[m.Corners[t+2]]
		area := (q[0]-p[0])*(r[1]-p[1]) - (r[0]-p[0])*(q[1]-p[1])
		front := area < 0 // the picture's y points down
		if math.Abs(area) < 1e-9 || !front && !cut {
			continue
		}
		f := triangle{x: p[0], y: p[1], z: p[2], front: front, box: [4]int{
			max(0, int(min(p[0], q[0], r[0]))), max(0, int(min(p[1], q[1], r[1]))),
			min(cam.W-1, int(max(p[0], q[0], r[0]))+1), min(cam.H-1, int(max(p[1], q[1], r[1]))+1),
		}}
		if f.box[0] > f.box[2] || f.box[1] > f.box[3] {
			continue
		}
		f.bx, f.by = (r[1]-p[1])/area, -(r[0]-p[0])/area
		f.cx, f.cy = -(q[1]-p[1])/area, (q[0]-p[0])/area
		f.dz = [2]float64{q[2] - p[2], r[2] - p[2]}
		for j := range 3 {
			if front {
				n := it.Pose.Dir(m.Normals[t+j].vec())
				f.n[j] = [3]float32{float32(n.Dot(cam.Right)), float32(n.Dot(cam.Up)), float32(-n.Dot(cam.Along))}
			}
		}
		out = append(out, f)
	}
	return out
}

// row is the span of a row that lies inside a face, and both coordinates at its first sample.
func (f *triangle) row(y int) (from, to int, b, c float64) {
	px, py := float64(f.box[0])+0.5, float64(y)+0.5
	b = (px-f.x)*f.bx + (py-f.y)*f.by
	c = (px-f.x)*f.cx + (py-f.y)*f.cy
	lo, hi := 0.0, float64(f.box[2]-f.box[0])
	for _, e := range [3][2]float64{{b, f.bx}, {c, f.cx}, {1 - b - c, -f.bx - f.cx}} {
		switch {
		case e[1] > 1e-12:
			lo = max(lo, math.Ceil(-e[0]/e[1]-1e-9))
		case e[1] < -1e-12:
			hi = min(hi, math.Floor(-e[0]/e[1]+1e-9))
		case e[0] < 0:
			return 1, 0, 0, 0
		}
	}
	return f.box[0] + int(lo), f.box[0] + int(hi), b + lo*f.bx, c + lo*f.cx
}

// taken is a plane as the camera sees it: a·x + b·y + c·depth + d is above 0 where it takes away.
type taken struct {
	a, b, c, d float64
	normal     [3]float32
}

func inView(cuts []Plane, cam Camera) []taken {
	var out []taken
	for _, p := range cuts {
		r, u, f := p.Normal.Dot(cam.Right), p.Normal.Dot(cam.Up), p.Normal.Dot(cam.Along)
		n := p.Normal.Unit()
		out = append(out, taken{
			a: r / cam.Scale, b: -u / cam.Scale, c: f,
			d:      -p.Normal.Dot(p.At.Sub(cam.Middle)) - r*float64(cam.W)/2/cam.Scale + u*float64(cam.H)/2/cam.Scale,
			normal: [3]float32{float32(n.Dot(cam.Right)), float32(n.Dot(cam.Up)), float32(-n.Dot(cam.Along))},
		})
	}
	return out
}

// strip is a band of the picture, drawn by one hand.
type strip struct {
	b        *Buffer
	items    []Item
	cuts     []taken
	from, to int
}

// along is where a ray enters what is taken away, where it leaves it, and by which plane.
func (s *strip) along(x, y int) (in, out float64, by int) {
	in, out = math.Inf(-1), math.Inf(1)
	for i, p := range s.cuts {
		at := p.a*(float64(x)+0.5) + p.b*(float64(y)+0.5) + p.d
		switch {
		case p.c > 1e-9:
			in = max(in, -at/p.c)
		case p.c < -1e-9:
			if t := -at / p.c; t < out {
				out, by = t, i
			}
		case at < 0:
			in = math.Inf(1)
		}
	}
	return in, out, by
}

// draw lays one item into the strip. Behind what is taken away a ray that is inside the solid meets a cut face: the
// faces it passes there are counted.
func (s *strip) draw(id int, faces []triangle) {
	b, it := s.b, &s.items[id]
	cut := it.Cut && len(s.cuts) > 0
	var inside []int8
	if cut {
		inside = make([]int8, b.W*(s.to-s.from))
	}
	for i := range faces {
		f := &faces[i]
		for y := max(f.box[1], s.from); y <= min(f.box[3], s.to-1); y++ {
			from, to, bb, cc := f.row(y)
			for x := from; x <= to; x, bb, cc = x+1, bb+f.bx, cc+f.cx {
				z := f.z + bb*f.dz[0] + cc*f.dz[1]
				if cut {
					in, out, _ := s.along(x, y)
					if in < out && z >= out {
						if f.front {
							inside[(y-s.from)*b.W+x]--
						} else {
							inside[(y-s.from)*b.W+x]++
						}
					}
					if !f.front || in < out && z > in && z < out {
						continue
					}
				}
				k := y*b.W + x
				behindArrow := it.Role == Arrow && b.Item[k] > 0 && s.items[b.Item[k]-1].Role <= Rubber
				if float32(z) >= b.Depth[k] && !behindArrow {
					continue
				}
				b.Depth[k], b.Item[k], b.Cap[k] = float32(z), int16(id+1), false
				p, q, r := float32(1-bb-cc), float32(bb), float32(cc)
				for j := range 3 {
					b.Normal[k][j] = p*f.n[0][j] + q*f.n[1][j] + r*f.n[2][j]
				}
			}
		}
	}
	for i, n := range inside {
		if n <= 0 {
			continue
		}
		x, y := i%b.W, s.from+i/b.W
		k := y*b.W + x
		if in, out, by := s.along(x, y); in < out && float32(out) < b.Depth[k] {
			b.Depth[k], b.Item[k], b.Cap[k], b.Normal[k] = float32(out), int16(id+1), true, s.cuts[by].normal
		}
	}
}

// heal closes cracks of one sample, where the triangles of a boolean do not quite meet: all are found before any is
// closed, so that it is one picture however many hands there are.
func (b *Buffer) heal() {
	rows := bands(b.H)
	found := make([][][2]int, len(rows)) // a crack, and how far its sides are
	inBands(b.H, func(from, to int) {
		hand, w := slices.Index(rows, from), b.W
		for y := max(from, 1); y < min(to, b.H-1); y++ {
			above, row, below := b.Depth[(y-1)*w:y*w], b.Depth[y*w:(y+1)*w], b.Depth[(y+1)*w:(y+2)*w]
			for x := 1; x < w-1; x++ {
				deep := row[x] - 0.8
				if deep > (row[x-1]+row[x+1])/2 && b.crack(y*w+x, 1) {
					found[hand] = append(found[hand], [2]int{y*w + x, 1})
				} else if deep > (above[x]+below[x])/2 && b.crack(y*w+x, w) {
					found[hand] = append(found[hand], [2]int{y*w + x, w})
				}
			}
		}
	})
	for _, f := range slices.Concat(found...) {
		k, p, q := f[0], f[0]-f[1], f[0]+f[1]
		b.Item[k], b.Cap[k], b.Normal[k], b.Depth[k] = b.Item[p], b.Cap[p], b.Normal[p], (b.Depth[p]+b.Depth[q])/2
	}
}

// crack says that a sample's neighbours on both sides are one face.
func (b *Buffer) crack(k, d int) bool {
	p, q := k-d, k+d
	return b.Item[p] != 0 && b.Item[p] == b.Item[q] && b.Cap[p] == b.Cap[q] &&
		math.Abs(float64(b.Depth[p]-b.Depth[q])) < 3
}
