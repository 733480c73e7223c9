package solid

import (
	"fmt"
	"html"
	"math"
	"strings"
)

// A picture's size in pixels, and that of its words: 16 where it is 340 wide, as on a phone.
const (
	Width  = 1200
	Height = 840
	Letter = 57.0
)

// box is a room in the picture.
type box struct{ x, y, w, h float64 }

func (b box) hits(o box) bool {
	return b.x < o.x+o.w && o.x < b.x+b.w && b.y < o.y+o.h && o.y < b.y+b.h
}

func (b box) wider(x, y float64) box { return box{b.x - x, b.y - y, b.w + 2*x, b.h + 2*y} }

// holds says that a line passes through the box.
func (b box) holds(l line) bool {
	for i := range 41 {
		t := float64(i) / 40
		x, y := l.x1+(l.x2-l.x1)*t, l.y1+(l.y2-l.y1)*t
		if x > b.x-12 && x < b.x+b.w+12 && y > b.y-6 && y < b.y+b.h+6 {
			return true
		}
	}
	return false
}

type line struct{ x1, y1, x2, y2 float64 }

// crosses says that two lines do.
func (l line) crosses(o line) bool {
	side := func(a line, x, y float64) bool { return (a.x2-a.x1)*(y-a.y1)-(a.y2-a.y1)*(x-a.x1) > 0 }
	return side(l, o.x1, o.y1) != side(l, o.x2, o.y2) && side(o, l.x1, l.y1) != side(o, l.x2, l.y2)
}

// page collects what lies above a picture as SVG: words, crosses, bursts, dimensions; and what room is taken.
type page struct {
	svg   strings.Builder
	sum   [][]float64 // summed weight of what is drawn, by cells
	taken []box
	lines []line
	lacks []string // what found no room, or is not seen
}

const cell = 8

// weights say how much it matters what a label covers.
var weights = [roles]float64{0.5, 3, 4, 14, 7, 5, 80, 5, 4}

func newPage() *page {
	p := &page{sum: make([][]float64, Height/cell+2)}
	for i := range p.sum {
		p.sum[i] = make([]float64, Width/cell+2)
	}
	return p
}

// weigh notes what a drawn pane covers.
func (p *page) weigh(b *Buffer, items []Item, x0 int) {
	for y := 0; y < b.H/b.Samples; y += cell {
		for x := 0; x < b.W/b.Samples; x += cell {
			if id := b.Item[y*b.Samples*b.W+x*b.Samples]; id > 0 {
				p.sum[y/cell+1][(x+x0)/cell+1] += weights[items[id-1].Role]
			}
		}
	}
}

// sealed makes sums of the weights, once all panes are weighed.
func (p *page) sealed() {
	for y := 1; y < len(p.sum); y++ {
		for x := 1; x < len(p.sum[y]); x++ {
			p.sum[y][x] += p.sum[y-1][x] + p.sum[y][x-1] - p.sum[y-1][x-1]
		}
	}
}

// load is the weight of what a box covers.
func (p *page) load(b box) float64 {
	at := func(v float64, most int) int { return int(math.Max(0, math.Min(v/cell, float64(most)))) }
	mx, my := len(p.sum[0])-1, len(p.sum)-1
	x0, y0, x1, y1 := at(b.x, mx), at(b.y, my), at(b.x+b.w, mx), at(b.y+b.h, my)
	return p.sum[y1][x1] - p.sum[y0][x1] - p.sum[y1][x0] + p.sum[y0][x0]
}

// wide is how wide a line of words is, by classes of letters of the narrow face.
func wide(s string) float64 {
	w := 0.0
	for _, r := range s {
		switch {
		case strings.ContainsRune("iljt.,:'|!fIr1", r):
			w += 0.31
		case strings.ContainsRune("mwMW", r):
			w += 0.76
		case r == ' ':
			w += 0.23
		case r >= 'A' && r <= 'Z':
			w += 0.57
		default:
			w += 0.5
		}
	}
	return w * Letter
}

// allowed says that a box lies on the asked side of a place.
func (b box) allowed(side string, x, y float64) bool {
	switch side {
	case "left":
		return b.x+b.w <= x-10
	case "right":
		return b.x >= x+10
	case "up":
		return b.y+b.h <= y-10
	case "down":
		return b.y >= y+10
	}
	return true
}

// clashes says that a box, or the leader to what it is about, lies on what is there already.
func (p *page) clashes(b box, leader *line) bool {
	for _, o := range p.taken {
		if b.hits(o.wider(10, 6)) {
			return true
		}
		within := leader != nil && o.w < 140 && leader.x2 > o.x && leader.x2 < o.x+o.w && leader.y2 > o.y &&
			leader.y2 < o.y+o.h
		if leader != nil && o.holds(*leader) && !within {
			return true
		}
	}
	for _, l := range p.lines {
		if b.holds(l) || leader != nil && leader.crosses(l) {
			return true
		}
	}
	return false
}

// place finds the room of least cost: what it covers, how long its leader is, how far from the middle.
func (p *page) place(w, h, ax, ay float64, side string, leader bool) (best box, ok bool) {
	low := math.Inf(1)
	for y := 14.0; y+h <= Height-14; y += 12 {
		for x := 16.0; x+w <= Width-16; x += 16 {
			b := box{x, y, w, h}
			ex, ey := b.edge(ax, ay)
			d := math.Hypot(ex-ax, ey-ay)
			if !b.allowed(side, ax, ay) || d < 26 && leader {
				continue
			}
			cost := p.load(b)*cell*cell/(w*h)*260 + d*0.55 + (math.Abs(x+w/2-Width/2)+math.Abs(y+h/2-Height/2))*0.02
			if cost >= low {
				continue
			}
			var to *line
			if leader {
				to = &line{ex, ey, ax, ay}
			}
			if !p.clashes(b, to) {
				low, best, ok = cost, b, true
			}
		}
	}
	return best, ok
}

// edge is where a leader leaves a box.
func (b box) edge(x, y float64) (ex, ey float64) {
	ex, ey = math.Max(b.x+8, math.Min(x, b.x+b.w-8)), b.y+b.h/2
	switch {
	case y > b.y+b.h:
		return ex, b.y + b.h
	case y < b.y:
		return ex, b.y
	case x < b.x:
		return b.x - 6, ey
	}
	return b.x + b.w + 6, ey
}

// words writes a label of one to three lines with its leader.
func (p *page) words(l Label, ax, ay float64) {
	rows := strings.Split(l.Says, "/")
	w := 0.0
	for _, r := range rows {
		w = math.Max(w, wide(r))
	}
	b, ok := p.place(w, float64(len(rows))*Letter*0.98, ax, ay, l.Side, true)
	if !ok {
		p.lacks = append(p.lacks, "no room for “"+l.Says+"”")
		return
	}
	ex, ey := b.edge(ax, ay)
	bad := ""
	if l.Bad {
		bad = " bad"
	}
	fmt.Fprintf(&p.svg, `<path class="o-halo" d="M%.0f %.0fL%.0f %.0f"/><path class="o-lead%s" d="M%.0f %.0fL%.0f %.0f"/>`,
		ex, ey, ax, ay, bad, ex, ey, ax, ay)
	fmt.Fprintf(&p.svg, `<circle class="o-dot%s" cx="%.0f" cy="%.0f" r="7"/>`, bad, ax, ay)
	anchor, x := "start", b.x
	if ax > b.x+b.w {
		anchor, x = "end", b.x+b.w
	}
	for i, r := range rows {
		fmt.Fprintf(&p.svg, `<text class="o-words%s" text-anchor="%s" x="%.0f" y="%.0f">%s</text>`, bad, anchor, x,
			b.y+Letter*(0.80+0.98*float64(i)), html.EscapeString(r))
	}
	p.taken = append(p.taken, b)
	p.lines = append(p.lines, line{ex, ey, ax, ay})
}

// burst is a blow, on the place it meets.
func (p *page) burst(x, y float64) {
	d := ""
	for i := range 20 {
		r := 46.0
		switch {
		case i%2 == 1:
			r = 22
		case i%4 == 2:
			r = 36
		}
		sin, cos := math.Sincos(float64(i) * math.Pi / 10)
		d += fmt.Sprintf("%c%.1f %.1f", "ML"[min(i, 1)], x+r*cos, y+r*sin)
	}
	fmt.Fprintf(&p.svg, `<path class="o-burst" d="%sZ"/>`, d)
	p.taken = append(p.taken, box{x - 46, y - 46, 92, 92})
}

// cross forbids the very spot.
func (p *page) cross(x, y float64) {
	for _, class := range []string{"o-never under", "o-never"} {
		fmt.Fprintf(&p.svg, `<path class="%s" d="M%.0f %.0fl60 60m0-60l-60 60"/>`, class, x-30, y-30)
	}
	p.taken = append(p.taken, box{x - 34, y - 34, 68, 68})
}

// sign says of a pane that it is right or wrong.
func (p *page) sign(good bool, x, y float64) {
	class, d := "o-good", "l11 12 19-26"
	at := [2]float64{x - 15, y + 1}
	if !good {
		class, d, at = "o-wrong", "l24 24m0-24l-24 24", [2]float64{x - 12, y - 12}
	}
	fmt.Fprintf(&p.svg, `<circle class="%s" cx="%.0f" cy="%.0f" r="32"/><path class="o-tick" d="M%.0f %.0f%s"/>`, class, x,
		y,
		at[0], at[1], d)
	p.taken = append(p.taken, box{x - 40, y - 40, 80, 80})
}

// dimension draws a measure between two places, its line off the part; arrows from outside where it is narrow.
// Its words stay in the pane from lo to hi: beside the line, on the part's other side, or over an end of it.
func (p *page) dimension(a line, ox, oy float64, says string, lo, hi float64) {
	w := wide(says)
	var x, y float64
	inside := func() bool {
		return x-w/2 >= lo+6 && x+w/2 <= hi-6 && y-Letter/2 >= 0 && y+Letter/2 <= Height
	}
	beside := func() bool {
		long := math.Hypot(a.x2-a.x1, a.y2-a.y1)
		x, y = (a.x1+a.x2)/2+ox, (a.y1+a.y2)/2+oy
		switch {
		case oy != 0 && long < 90:
			y = a.y1 + oy + math.Copysign(46, oy)
		case math.Abs(ox) > math.Abs(oy):
			x += math.Copysign(w/2+16, ox)
		default:
			y += math.Copysign(34, oy)
		}
		return inside()
	}
	atEnd := func(end float64) bool {
		x, y = math.Max(lo+6+w/2, math.Min((a.x1+a.x2)/2+ox, hi-6-w/2)), end
		return inside()
	}
	if !beside() {
		if ox, oy = -ox, -oy; !beside() {
			ox, oy = -ox, -oy
			if !atEnd(math.Min(a.y1, a.y2)+oy-44) && !atEnd(math.Max(a.y1, a.y2)+oy+44) {
				p.lacks = append(p.lacks, "no room for “"+says+"” at its line")
			}
		}
	}
	b := line{a.x1 + ox, a.y1 + oy, a.x2 + ox, a.y2 + oy}
	long := math.Hypot(b.x2-b.x1, b.y2-b.y1)
	ux, uy := (b.x2-b.x1)/long, (b.y2-b.y1)/long
	from, to, inward := 0.0, long, 1.0
	if long < 90 {
		from, to, inward = -70, long+70, -1
	}
	fmt.Fprintf(&p.svg, `<path class="o-dim" d="M%.1f %.1fL%.1f %.1fM%.1f %.1fL%.1f %.1fM%.1f %.1fL%.1f %.1f"/>`,
		a.x1, a.y1, b.x1+ox*0.08, b.y1+oy*0.08, a.x2, a.y2, b.x2+ox*0.08, b.y2+oy*0.08,
		b.x1+ux*from, b.y1+uy*from, b.x1+ux*to, b.y1+uy*to)
	for _, e := range [2][3]float64{{b.x1, b.y1, inward}, {b.x2, b.y2, -inward}} {
		fmt.Fprintf(&p.svg, `<path class="o-tip" d="M%.1f %.1fl%.1f %.1fl%.1f %.1fz"/>`, e[0], e[1],
			e[2]*ux*24-uy*8, e[2]*uy*24+ux*8, uy*16, -ux*16)
	}
	fmt.Fprintf(&p.svg, `<text class="o-words" text-anchor="middle" x="%.0f" y="%.0f">%s</text>`, x, y+Letter*0.33,
		html.EscapeString(says))
	p.taken = append(p.taken, box{x - w/2, y - Letter/2, w, Letter},
		box{math.Min(b.x1, b.x2), math.Min(b.y1, b.y2), math.Abs(b.x2 - b.x1), math.Abs(b.y2 - b.y1)}.wider(14, 14))
}
