package kit

import (
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/solid"
)

// Cell is a place in a picture that can be touched.
type Cell struct {
	No   int
	Says string
}

// Places in a picture that can be touched: so many across, so many down.
const (
	Across = 6
	Down   = 4
)

// Cells are the places of a picture, row by row.
func Cells() []Cell {
	across := []string{"far left", "left", "left of the middle", "right of the middle", "right", "far right"}
	down := []string{"top", "above the middle", "below the middle", "bottom"}
	var out []Cell
	for k := range Across * Down {
		out = append(out, Cell{No: k, Says: down[k/Across] + ", " + across[k%Across]})
	}
	return out
}

// At is the middle of a touched place in the picture of a step's corner, as its left side is drawn; ok is false where
// there is no such place.
func At(step *plan.Step, cell int) (at operation.Point, ok bool) {
	if cell < 0 || cell >= Across*Down || step == nil {
		return at, false
	}
	at = operation.Point{
		solid.Width * (float64(cell%Across) + 0.5) / Across,
		solid.Height * (float64(cell/Across) + 0.5) / Down,
	}
	if step.Mirrored() {
		at[0] = across(at[0])
	}
	return at, true
}
