package solid

import "math"

// paper is the tone of what shows nothing; all others are tonesOf a role.
const (
	paper    = uint8(roles) * tonesOf
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
var light = func() [3]float32 {
	v := Vec{-0.45, 0.70, 0.56}.Unit()
	return [3]float32{float32(v[0]), float32(v[1]), float32(v[2])}
}()

// tone is how a face is shaded, 0 the lightest. Squares are compared: a normal between two corners is not of
// length 1.
func tone(n [3]float32) uint8 {
	d := n[0]*light[0] + n[1]*light[1] + n[2]*light[2]
	if d <= 0 {
		return 3
	}
	switch l, d := n[0]*n[0]+n[1]*n[1]+n[2]*n[2], d*d; {
	case d > 0.80*0.80*l:
		return 0
	case d > 0.52*0.52*l:
		return 1
	case d > 0.22*0.22*l:
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
	lines := b.lines(items, scale*px)
	for _, k := range lines.halo {
		r := outlines[items[b.Item[k]-1].Role]/2 + haloWide
		b.stamp(tones, k, r*px*fine, paper)
	}
	for _, k := range lines.crease {
		role := items[b.Item[k]-1].Role
		b.stamp(tones, k, creases[role]/2*px*fine, uint8(role)*tonesOf+lineTone)
	}
	for _, k := range lines.outline {
		role := items[b.Item[k]-1].Role
		b.stamp(tones, k, outlines[role]/2*px*fine, uint8(role)*tonesOf+lineTone)
	}
	return tones
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

// lines are the samples along which lines run.
type lines struct{ outline, crease, halo []int }

// lines finds outlines and creases, and where a part stands far before what it hides. Each pair of neighbours is
// asked once.
func (b *Buffer) lines(items []Item, scale float64) lines {
	w := b.W
	edges, halo := make([]uint8, len(b.Item)), make([]bool, len(b.Item))
	pair := func(k, j int) {
		switch {
		case b.Item[k] == b.Item[j] && b.Cap[k] == b.Cap[j]:
			if b.Item[k] != 0 {
				if onK, onJ := b.bend(k, j, float32(scale)); onK|onJ != noEdge {
					edges[k], edges[j] = max(edges[k], onK), max(edges[j], onJ)
				}
			}
			return
		case b.Item[k] == 0 || b.Item[j] != 0 && b.Depth[j] < b.Depth[k]:
			k, j = j, k // the nearer one
		}
		edges[k] = outline
		if b.Item[j] != 0 && b.Depth[j]-b.Depth[k] > haloBehind && items[b.Item[k]-1].Role != Ghost {
			halo[k] = true
		}
	}
	down := func(y int) {
		for k := y * w; k < y*w+w; k++ {
			if b.Item[k-w] != 0 || b.Item[k] != 0 {
				pair(k-w, k)
			}
		}
	}
	inBands(b.H, func(from, to int) {
		for y := from; y < to; y++ {
			for k := y * w; k < y*w+w-1; k++ {
				if b.Item[k] != 0 || b.Item[k+1] != 0 {
					pair(k, k+1)
				}
			}
			if y > from {
				down(y)
			}
		}
	})
	for _, y := range bands(b.H)[1:] { // where two hands would write to one row
		if y < b.H {
			down(y)
		}
	}
	return b.thin(edges, halo)
}

// thin lists the lines, without what is a fleck: a crease of a few samples.
func (b *Buffer) thin(edges []uint8, halo []bool) lines {
	var out lines
	for k, e := range edges {
		switch {
		case e == outline:
			out.outline = append(out.outline, k)
			if halo[k] {
				out.halo = append(out.halo, k)
			}
		case e == crease && around(edges, k, b.W) >= 4:
			out.crease = append(out.crease, k)
		}
	}
	return out
}

// around counts the edges within two samples.
func around(edges []uint8, k, w int) int {
	n := 0
	for row := k - 2*w; row <= k+2*w; row += w {
		for i := max(0, row-2); i <= min(len(edges)-1, row+2); i++ {
			if edges[i] != noEdge {
				n++
			}
		}
	}
	return n
}

// bend is the edge between two samples of one part, as it is drawn on each: a step in its depth, on the nearer, or a
// crease between two faces, on the nearer or on both.
func (b *Buffer) bend(k, j int, scale float32) (onK, onJ uint8) {
	n, o := &b.Normal[k], &b.Normal[j]
	deeper := b.Depth[j] - b.Depth[k]
	least := 5 * float32(b.Samples)
	if step := max(deeper, -deeper) * scale; step > least {
		if slant := max(0.06, min(n[2], o[2])); step > least+3/slant {
			if deeper > 0 {
				return outline, noEdge
			}
			return noEdge, outline
		}
	}
	if *n == *o {
		return noEdge, noEdge
	}
	c := n[0]*o[0] + n[1]*o[1] + n[2]*o[2]
	l := (n[0]*n[0] + n[1]*n[1] + n[2]*n[2]) * (o[0]*o[0] + o[1]*o[1] + o[2]*o[2])
	if c >= 0 && c*c >= 0.70*l {
		return noEdge, noEdge
	}
	if deeper > -0.3 {
		onK = crease
	}
	if deeper < 0.3 {
		onJ = crease
	}
	return onK, onJ
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
