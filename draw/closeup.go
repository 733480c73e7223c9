package draw

import (
	"cmp"
	"fmt"
	"html/template"
	"math"
	"slices"
	"strings"

	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/unit"
)

// How a close-up is cut from the corner: round the joint with so many sizes of a head, and
// never smaller than leastView of the whole; its words are as large as an act's.
const (
	viewMargin = 5.0
	leastView  = 0.42
	viewText   = ActText / ActW
)

// Aside shows the corner small beside the picture of an act, which is of a place on the vehicle and seen from somewhere
// else.
func (v *CornerPicture) Aside(place, from string) {
	v.Title = strings.Join(slices.DeleteFunc([]string{place, from}, func(s string) bool { return s == "" }), ", ")
	v.Title = unit.Capital(cmp.Or(v.Title, "how it is done"))
	v.Inset = true
	v.InsetAt = "bottom right"
}

// Cut says that only a part of the corner is shown.
func (v CornerPicture) Cut() bool { return v.VW < v.W }

// CloseUp cuts the picture to a joint, with the tool on the fastener in hand and the way
// it turns. A joint whose fasteners lie all over the picture stays whole.
func (v *CornerPicture) CloseUp(j *plan.Joint, verb operation.Verb) {
	var mine []HeadView
	for _, h := range v.Heads {
		if h.Joint == j.ID {
			mine = append(mine, h)
		}
	}
	if len(mine) == 0 {
		return
	}
	v.cut(mine, j.Size)
	v.Text = viewText * v.VW
	v.Over = v.hand(mine, verb, j.LeftHand())
	v.InsetAt = v.farFrom(mine)
	mid := middle(mine)
	for _, h := range mine {
		if h.Letter == "" {
			continue
		}
		turn := 0.0
		if h.Here { // beside the tool, outside the arrow
			turn = 70
		}
		far := h.R + (0.75+0.5*turn/70)*v.Text
		at := outward(mid, h, far, turn)
		v.Words = append(v.Words, v.inside(Box{Text: h.Letter, X: at[0], Y: at[1] + 0.35*v.Text}))
	}
}

// farFrom is the corner of the view that lies farthest from the fastener in hand.
func (v *CornerPicture) farFrom(mine []HeadView) string {
	at := middle(mine)
	for _, h := range mine {
		if h.Here {
			at = [2]float64{h.X, h.Y}
		}
	}
	side, end := "right", "bottom"
	if at[0] > v.VX+v.VW/2 {
		side = "left"
	}
	if at[1] > v.VY+v.VH/2 {
		end = "top"
	}
	return end + " " + side
}

// inside gives words their width, and keeps them in what is shown.
func (v *CornerPicture) inside(b Box) Box {
	b.W = narrow * v.Text * float64(len([]rune(b.Text)))
	b.X = math.Min(math.Max(b.X, v.VX+b.W), v.VX+v.VW-b.W)
	b.Y = math.Min(math.Max(b.Y, v.VY+v.Text), v.VY+v.VH-0.3*v.Text)
	return b
}

// cut chooses the part of the picture that holds the joint.
func (v *CornerPicture) cut(mine []HeadView, size float64) {
	x0, y0, x1, y1 := mine[0].X, mine[0].Y, mine[0].X, mine[0].Y
	for _, h := range mine {
		x0, x1 = math.Min(x0, h.X), math.Max(x1, h.X)
		y0, y1 = math.Min(y0, h.Y), math.Max(y1, h.Y)
	}
	w := x1 - x0 + 2*viewMargin*size
	h := y1 - y0 + 2*viewMargin*size
	scale := math.Min(1, math.Max(leastView, math.Max(w/v.W, h/v.H)))
	v.VW, v.VH = scale*v.W, scale*v.H
	v.VX = math.Min(math.Max(0, (x0+x1-v.VW)/2), v.W-v.VW)
	v.VY = math.Min(math.Max(0, (y0+y1-v.VH)/2), v.H-v.VH)
	v.Inset = scale < 1
}

// hand draws the tool on the fastener in hand, and which way it turns, as large as in the
// picture of an act; a left-hand thread turns the other way round.
func (v *CornerPicture) hand(mine []HeadView, verb operation.Verb, leftHand bool) template.HTML {
	c := newCanvas(v.W, v.H, "")
	k := v.VW / ActW
	for _, h := range mine {
		if !h.Here {
			continue
		}
		fmt.Fprintf(&c.b, `<g transform="translate(%.1f %.1f) scale(%.3f)">`, h.X, h.Y, k)
		if verb != operation.Start {
			end := outward(middle(mine), h, 0.5*ActW, 0)
			rim := outward(middle(mine), h, h.R/k, 0)
			c.line("h-tool", rim[0]-h.X, rim[1]-h.Y, end[0]-h.X, end[1]-h.Y)
		}
		c.turning([2]float64{}, h.R/k+16, (verb == operation.Tighten || verb == operation.Start) != leftHand)
		c.b.WriteString(`</g>`)
	}
	return c.inner()
}

// middle is the centre of a joint's fasteners.
func middle(mine []HeadView) [2]float64 {
	var at [2]float64
	for _, h := range mine {
		at[0] += h.X / float64(len(mine))
		at[1] += h.Y / float64(len(mine))
	}
	return at
}

// outward is the point so far from a head, away from the middle of its joint, turned on by
// so many degrees; of one that stands alone it lies to the lower left.
func outward(mid [2]float64, h HeadView, far, turn float64) [2]float64 {
	dx, dy := h.X-mid[0], h.Y-mid[1]
	long := math.Hypot(dx, dy)
	if long < 1 {
		dx, dy, long = -0.8, 0.6, 1
	}
	s, k := math.Sincos(turn * math.Pi / 180)
	dx, dy = dx*k-dy*s, dx*s+dy*k
	return [2]float64{h.X + far*dx/long, h.Y + far*dy/long}
}
