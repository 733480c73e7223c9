package solid

import (
	"math"
	"slices"
)

// paper is the tone of what shows nothing; all others are tonesOf a role.
const (
	paper    = 255
	tonesOf  = 5 // four from light to dark, and the line
	lineTone = 4
)

// Line weights in pixels of a picture 1200 wide: round a part, and along a crease of it.
var (
	outlines = [roles]float64{1.5, 2.6, 2.6, 4.6, 4.2, 3.6, 3.4, 2.6, 2}
	creases  = [roles]float64{0.9, 1.4, 1.3, 2, 2, 1.8, 2, 1.4, 1.2}
)

const (
	hatchPitch = 13.0 // px
	hatchWide  = 2.2
	haloWide   = 3.2
	haloBehind = 14 // mm that something lies behind, from which the nearer part pushes it aside
)

// light is where it comes from, in the picture: from the upper left, before it.
var light = Vec{-0.45, 0.70, 0.56}.Unit()

// tone is how a face is shaded, 0 the lightest.
func tone(n [3]float32) uint8 {
	v := Vec{float64(n[0]), float64(n[1]), float64(n[2])}
	switch l := v.Unit().Dot(light); {
	case l > 0.80:
		return 0
	case l > 0.52:
		return 1
	case l > 0.22:
		return 2
	}
	return 3
}

// An edge between two samples, and what lies beyond it.
const (
	noEdge uint8 = iota
	crease
	outline
)

// ink shades a buffer in few tones, hatches cut faces, alternately from part to part, and draws the lines: role ×
// tonesOf + tone for each sample. fine is the line weight against the usual.
func (b *Buffer) ink(items []Item, scale, fine float64) []uint8 {
	px := float64(b.Samples)
	tones := make([]uint8, len(b.Item))
	inBands(b.H, func(from, to int) {
		for k := from * b.W; k < to*b.W; k++ {
			id := b.Item[k]
			switch {
			case id == 0:
				tones[k] = paper
			case b.Cap[k]:
				tones[k] = uint8(items[id-1].Role)*tonesOf + b.hatch(k, id, px)
			default:
				tones[k] = uint8(items[id-1].Role)*tonesOf + tone(b.Normal[k])
			}
		}
	})
	edges, halo := b.edges(items, scale*px)
	out := slices.Clone(tones)
	for k := range edges {
		if halo[k] {
			r := outlines[items[b.Item[k]-1].Role]/2 + haloWide
			b.stamp(out, k, r*px*fine, paper)
		}
	}
	for _, pass := range [2]uint8{crease, outline} {
		for k, e := range edges {
			if e != pass {
				continue
			}
			role := items[b.Item[k]-1].Role
			wide := outlines[role]
			if pass == crease {
				wide = creases[role]
			}
			b.stamp(out, k, wide/2*px*fine, uint8(role)*tonesOf+lineTone)
		}
	}
	return out
}

// hatch is the tone of a sample on a cut face.
func (b *Buffer) hatch(k int, id int16, px float64) uint8 {
	x, y, pitch := k%b.W, k/b.W, int(hatchPitch*px)
	d := x + y
	if id%2 == 0 {
		d = x - y + 64*pitch
	}
	if d%pitch < int(hatchWide*px) {
		return lineTone
	}
	return 0
}

// edges finds outlines and creases, and where a part stands far before what it hides.
func (b *Buffer) edges(items []Item, scale float64) (edges []uint8, halo []bool) {
	w := b.W
	edges, halo = make([]uint8, len(b.Item)), make([]bool, len(b.Item))
	inBands(b.H, func(from, to int) {
		for y := max(1, from); y < min(b.H-1, to); y++ {
			for k := y*w + 1; k < y*w+w-1; k++ {
				if b.Item[k] == 0 {
					continue
				}
				for _, j := range [4]int{k + 1, k - 1, k + w, k - w} {
					if b.Item[j] == b.Item[k] && b.Cap[j] == b.Cap[k] {
						edges[k] = max(edges[k], b.bend(k, j, scale))
						continue
					}
					if b.Depth[j] <= b.Depth[k] && b.Item[j] != 0 {
						continue
					}
					edges[k] = outline
					if b.Item[j] != 0 && b.Depth[j]-b.Depth[k] > haloBehind && items[b.Item[k]-1].Role != Ghost {
						halo[k] = true
					}
				}
			}
		}
	})
	before := slices.Clone(edges)
	for k := 2*w + 2; k < len(edges)-2*w-2; k++ {
		if before[k] == crease && around(before, k, w) < 4 {
			edges[k] = noEdge // a crease of a few samples is a fleck
		}
	}
	return edges, halo
}

// around counts the edges within two samples.
func around(edges []uint8, k, w int) int {
	n := 0
	for d := -2; d <= 2; d++ {
		for e := -2; e <= 2; e++ {
			if edges[k+d*w+e] != noEdge {
				n++
			}
		}
	}
	return n
}

// bend is the edge between two samples of one part: a step in its depth, or a crease between two faces.
func (b *Buffer) bend(k, j int, scale float64) uint8 {
	n, o := b.Normal[k], b.Normal[j]
	if step := float64(b.Depth[j]-b.Depth[k]) * scale; step > 5*float64(b.Samples) {
		if slant := max(0.06, min(n[2], o[2])); step > 5*float64(b.Samples)+3/float64(slant) {
			return outline
		}
	}
	if n == o {
		return noEdge
	}
	c := n[0]*o[0] + n[1]*o[1] + n[2]*o[2]
	l := (n[0]*n[0] + n[1]*n[1] + n[2]*n[2]) * (o[0]*o[0] + o[1]*o[1] + o[2]*o[2])
	if (c < 0 || c*c < 0.70*l) && b.Depth[k] <= b.Depth[j]+0.3 {
		return crease
	}
	return noEdge
}

// stamp puts a round dot of a line down, not over what stands before it.
func (b *Buffer) stamp(out []uint8, k int, r float64, tone uint8) {
	x0, y0, reach := k%b.W, k/b.W, int(math.Ceil(r))
	gap := float32(-2)
	if tone == paper {
		gap = haloBehind - 2
	}
	for dy := -reach; dy <= reach; dy++ {
		for dx := -reach; dx <= reach; dx++ {
			x, y := x0+dx, y0+dy
			if float64(dx*dx+dy*dy) > r*r || x < 0 || y < 0 || x >= b.W || y >= b.H {
				continue
			}
			j := y*b.W + x
			switch {
			case b.Item[j] != b.Item[k] && b.Item[j] != 0 && b.Depth[j] < b.Depth[k]+gap:
			case tone == paper && (b.Item[j] == b.Item[k] || b.Item[j] == 0):
			default:
				out[j] = tone
			}
		}
	}
}
