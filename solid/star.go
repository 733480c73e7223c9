package solid

import (
	"fmt"
	"math"
	"strconv"
	"strings"
)

// leastStar is of how many fasteners one may be gone round in a star.
const leastStar = 4

// The place in a picture's overlay where the way round its fasteners may be drawn: their middles, px.
const (
	roundOpen = `<path class="o-star" data-at="`
	roundShut = `"/>`
)

// rounds leaves room for the way round fasteners.
func (p *page) rounds(at [][2]float64) {
	if len(at) < leastStar {
		return
	}
	p.svg.WriteString(roundOpen)
	for _, m := range at {
		fmt.Fprintf(&p.svg, "%.0f,%.0f ", m[0], m[1])
	}
	p.svg.WriteString(roundShut)
}

// Where an arrow of the way round begins and ends before a fastener's middle, and how its head is made, px.
const (
	starShort = 52.0
	starHead  = 26.0
	starWide  = 0.42 // of its length
)

// Starred draws into the overlay of a joint's picture the way round its fasteners, by their order; an overlay
// without room for that stays as it is.
func Starred(over string, order []int) string {
	before, rest, ok := strings.Cut(over, roundOpen)
	places, after, shut := strings.Cut(rest, roundShut)
	if !ok || !shut {
		return over
	}
	var at [][2]float64
	for m := range strings.FieldsSeq(places) {
		x, y, _ := strings.Cut(m, ",")
		px, errX := strconv.ParseFloat(x, 64)
		py, errY := strconv.ParseFloat(y, 64)
		if errX != nil || errY != nil {
			return over
		}
		at = append(at, [2]float64{px, py})
	}
	var d strings.Builder
	for i := 1; i < len(order); i++ {
		if max(order[i-1], order[i]) >= len(at) {
			return over
		}
		arrow(&d, at[order[i-1]], at[order[i]])
	}
	return before + `<path class="o-star" d="` + d.String() + `"/>` + after
}

// arrow is one stroke from a fastener to the next, and its head.
func arrow(d *strings.Builder, from, to [2]float64) {
	dx, dy := to[0]-from[0], to[1]-from[1]
	long := math.Hypot(dx, dy)
	if long < 3*starShort {
		return
	}
	dx, dy = dx/long, dy/long
	x, y := to[0]-dx*starShort, to[1]-dy*starShort
	bx, by := x-dx*starHead, y-dy*starHead
	side := starHead * starWide
	fmt.Fprintf(d, "M%.0f %.0fL%.0f %.0fM%.0f %.0fL%.0f %.0fL%.0f %.0fz", from[0]+dx*starShort, from[1]+dy*starShort,
		bx, by, x, y, bx-dy*side, by+dx*side, bx+dy*side, by-dx*side)
}
