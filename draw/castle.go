package draw

import (
	"fmt"
	"html/template"
)

// Hole is one place the cross hole of a castle nut may stand at, past its slot.
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
			says = fmt.Sprintf("%s° to go to the next slot", Plain(deg))
		}
		d := newCanvas(84, 84, says)
		d.circle("d-nut", 42, 42, 34)
		for slot := 0.0; slot < 360; slot += castlePitch {
			x, y := PieEnd(34, slot)
			u, w := PieEnd(22, slot)
			d.line("d-slot", 42+x, 42+y, 42+u, 42+w)
		}
		x, y := PieEnd(26, deg)
		d.line("d-hole", 42-x, 42-y, 42+x, 42+y)
		d.circle("d-stud", 42, 42, 14)
		out = append(out, Hole{Deg: deg, Picture: d.html()})
	}
	return out
}
