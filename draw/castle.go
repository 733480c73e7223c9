package draw

import (
	"fmt"
	"html/template"
)

// Hole is one place the cross hole of a castle nut may stand at, past its slot: so far the nut
// is turned on till the slot meets it.
type Hole struct {
	Deg     float64
	Picture template.HTML
}

// castlePitch is the angle from slot to slot of a nut with six, and holeStep how finely
// one is asked to look.
const (
	castlePitch = 60
	holeStep    = 10
)

// Holes draws a castle nut with its cross hole at each place it may stand.
func Holes() []Hole {
	var out []Hole
	for deg := 0.0; deg < castlePitch; deg += holeStep {
		says := "the hole stands in the slot"
		if deg > 0 {
			says = fmt.Sprintf("on by %s° till the slot meets the hole", Plain(deg))
		}
		d := newCanvas(84, 84, says)
		d.nut()
		d.stud(deg)
		out = append(out, Hole{Deg: deg, Picture: d.html()})
	}
	return out
}

// Castle draws the nut large, with a stud that is turned by hand till it looks like the nut
// on the car: its group has the class stud.
func Castle() template.HTML {
	d := newCanvas(84, 84, "castle nut, its stud turned by hand")
	d.nut()
	d.b.WriteString(`<g class="stud">`)
	d.stud(0)
	d.b.WriteString(`</g>`)
	return d.html()
}

// nut draws a nut with six slots, the first at the top.
func (c *canvas) nut() {
	c.circle("d-nut", 42, 42, 34)
	for slot := 0.0; slot < 360; slot += castlePitch {
		x, y := PieEnd(34, slot)
		u, w := PieEnd(22, slot)
		c.line("d-slot", 42+x, 42+y, 42+u, 42+w)
	}
}

// stud draws the stud in it, with its cross hole that far past a slot.
func (c *canvas) stud(deg float64) {
	x, y := PieEnd(26, deg)
	c.line("d-hole", 42-x, 42-y, 42+x, 42+y)
	c.circle("d-stud", 42, 42, 14)
}
