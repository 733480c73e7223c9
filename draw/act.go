package draw

import (
	"html/template"
	"math"

	"lugtak/core/operation"
)

// The frame of an act's picture, and the size of its words: 16 pixels where the picture is
// 340 wide, as on a phone.
const (
	ActW    = 600.0
	ActH    = 420.0
	ActText = 28.0
	narrow  = 0.47 // of the type's size, for an average letter of the narrow face
)

// Box is where some words stand in a picture.
type Box struct {
	Text         string
	X, Y         float64 // middle, and the line they stand on
	W            float64
	Bad          bool
	FromX, FromY float64 // what they are about; nothing where both are 0
}

// wordBox is the room that words take, kept inside the frame.
func wordBox(text string, x, y, w, size float64) Box {
	b := Box{Text: text, X: x, Y: y, W: narrow * size * float64(len([]rune(text)))}
	half := b.W/2 + 6
	b.X = math.Min(math.Max(b.X, half), w-half)
	return b
}

// Overlaps says that two words lie on one another.
func (b Box) Overlaps(o Box, size float64) bool {
	return math.Abs(b.X-o.X) < (b.W+o.W)/2 && math.Abs(b.Y-o.Y) < size
}

// view turns places of the left side into those of the side at hand.
type view struct{ mirror bool }

func (v view) at(p operation.Point) [2]float64 {
	if v.mirror {
		return [2]float64{ActW - p[0], p[1]}
	}
	return p
}

// placed is a piece where it stands in a picture.
type placed struct{ operation.Placed }

func (p placed) scale() float64 {
	if p.Scale == 0 {
		return 1
	}
	return p.Scale
}

// put is where a point of the piece comes to lie.
func (p placed) put(at operation.Point) operation.Point {
	x, y := at[0]*p.scale(), at[1]*p.scale()
	if p.Flip {
		x = -x
	}
	s, k := math.Sincos(p.Turn * math.Pi / 180)
	return operation.Point{p.At[0] + x*k - y*s, p.At[1] + x*s + y*k}
}

// Act draws the close-up of an act; on the right side it is mirrored, save for which way
// a thread turns.
func Act(a operation.ActPicture, pieces *operation.Acts, mirror bool) template.HTML {
	c := newCanvas(ActW, ActH, a.Sees)
	v := view{mirror}
	for _, x := range a.Pieces {
		p := placed{x}
		piece, ok := pieces.Piece(p.Piece)
		if !ok {
			continue
		}
		for _, s := range piece.Shapes {
			c.shape(s, func(at operation.Point) [2]float64 { return v.at(p.put(at)) }, p)
		}
	}
	for _, m := range a.Marks {
		c.mark(m, v)
	}
	for _, b := range ActWords(a, mirror) {
		c.words(b)
	}
	return c.as("act")
}

// ActWords is where the words of an act's picture stand.
func ActWords(a operation.ActPicture, mirror bool) []Box {
	v := view{mirror}
	var out []Box
	for _, m := range a.Marks {
		if m.Says == "" {
			continue
		}
		at, about := v.at(m.Label), v.at(m.At)
		b := wordBox(m.Says, at[0], at[1], ActW, ActText)
		b.Bad = m.Kind == operation.MarkNever
		named := m.At != operation.Point{}
		if named && (m.Kind == operation.MarkSay || m.Kind == operation.MarkHold || m.Kind == operation.MarkLook) {
			b.FromX, b.FromY = about[0], about[1]
		}
		out = append(out, b)
	}
	return out
}

// words writes a label, with a line to what it is about.
func (c *canvas) words(b Box) {
	class := "a-words"
	if b.Bad {
		class += " bad"
	}
	if b.FromX != 0 || b.FromY != 0 {
		y := b.Y + 8
		if b.FromY < b.Y {
			y = b.Y - ActText + 2
		}
		x := math.Min(math.Max(b.FromX, b.X-b.W/2), b.X+b.W/2)
		c.line("a-lead", x, y, b.FromX, b.FromY)
	}
	c.text(class, b.X, b.Y, "middle", "%s", b.Text)
}

// mark draws one sign that tells the hand what to do.
func (c *canvas) mark(m operation.Mark, v view) {
	at, from := v.at(m.At), v.at(m.From)
	r := m.Radius
	if r == 0 {
		r = 44
	}
	switch m.Kind {
	case operation.MarkStrike:
		c.arrow("a-do", from, at)
		for deg := 20.0; deg < 360; deg += 40 {
			a, b := polar(at[0], at[1], 12, deg), polar(at[0], at[1], 24, deg)
			c.line("a-spark", a[0], a[1], b[0], b[1])
		}
	case operation.MarkPush:
		c.arrow("a-do", from, at)
	case operation.MarkLoosen:
		c.turning(at, r, false)
	case operation.MarkTighten:
		c.turning(at, r, true)
	case operation.MarkNever:
		c.line("a-never", at[0]-18, at[1]-18, at[0]+18, at[1]+18)
		c.line("a-never", at[0]-18, at[1]+18, at[0]+18, at[1]-18)
	case operation.MarkHold:
		c.arc("a-hold", at[0], at[1], r, 200, 340)
		c.arc("a-hold", at[0], at[1], r, 20, 160)
	case operation.MarkLook:
		c.circle("a-look", at[0], at[1], r)
	}
}

// arrow draws a thick arrow that ends at a place.
func (c *canvas) arrow(class string, from, to [2]float64) {
	dx, dy := to[0]-from[0], to[1]-from[1]
	long := math.Hypot(dx, dy)
	if long == 0 {
		return
	}
	ux, uy := dx/long, dy/long
	const head, half = 26.0, 15.0
	neck := [2]float64{to[0] - head*ux, to[1] - head*uy}
	c.line(class, from[0], from[1], neck[0], neck[1])
	c.poly(class+" head", true, to,
		[2]float64{neck[0] - half*uy, neck[1] + half*ux},
		[2]float64{neck[0] + half*uy, neck[1] - half*ux})
}

// turning draws three quarters of a turn round a place: clockwise tightens.
func (c *canvas) turning(at [2]float64, r float64, clockwise bool) {
	c.arc("a-do", at[0], at[1], r, 225, 495)
	end, deg := polar(at[0], at[1], r, 135), 135+90.0
	if !clockwise {
		end, deg = polar(at[0], at[1], r, 225), 225-90.0
	}
	s, k := math.Sincos(deg * math.Pi / 180)
	tip := [2]float64{end[0] + 24*s, end[1] - 24*k}
	side := func(sign float64) [2]float64 { return [2]float64{end[0] + sign*15*k, end[1] + sign*15*s} }
	c.poly("a-do head", true, tip, side(1), side(-1))
}

// shape draws one outline of a piece.
func (c *canvas) shape(s operation.Shape, put func(operation.Point) [2]float64, p placed) {
	class := "a-" + s.Role
	if p.Faint {
		class += " faint"
	}
	pts := make([][2]float64, len(s.Points))
	for i, at := range s.Points {
		pts[i] = put(at)
	}
	switch s.Kind {
	case "circle":
		c.circle(class, pts[0][0], pts[0][1], s.Radius*p.scale())
	case "line":
		c.poly(class, false, pts...)
	case "polygon":
		c.poly(class, true, pts...)
	case "spring":
		c.path(class, spring(pts[0], pts[len(pts)-1], s.Radius*p.scale()))
	default:
		c.path(class, Smooth(pts, s.Kind == "closed"))
	}
}
