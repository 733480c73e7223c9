// Package sign draws the fastener sign: a fastener's head seen from the front,
// by its drive form, with its state told by form first and colour second. The
// pages draw it as SVG and the report on paper, both from these shapes.
package sign

import (
	"math"

	"lugtak/core/job"
)

// Shape is one part of a sign, around a centre at 0,0 with y downward. The
// flange has a radius of 22.
type Shape struct {
	Kind   string // circle, polygon, wedge, line, arc
	Role   string // flange, head, hole, recess, fill, lacquer, broken, cross, turn
	Radius float64
	Points [][2]float64
	Deg    float64 // of a wedge, clockwise from the top
}

const (
	flange = 22.0
	head   = 19.0
)

// Drives are the forms of head.
var Drives = []string{"hexagon", "twelve-point", "inner"}

// Marks are the states in the order a fastener goes through them.
var Marks = []job.Mark{
	job.Rest, job.Loose, job.Out, job.InHand, job.SnugMark, job.Between,
	job.Proved, job.Clicked, job.Turned, job.Played, job.Said, job.Unmeasured, job.Excused, job.InTrouble,
}

// Dark says that a mark has the dark head of a fastener that is done with.
func Dark(m job.Mark) bool {
	return m == job.Proved || m == job.Clicked || m == job.Turned || m == job.Played || m == job.Said || m == job.Excused
}

// Shapes gives the parts of a sign from back to front.
func Shapes(drive string, m job.Mark) []Shape {
	if m == job.Unmeasured { // hollow and dashed: nothing is known
		return []Shape{{Kind: "circle", Role: "dashed", Radius: head}}
	}
	if m == job.Out {
		return []Shape{{Kind: "circle", Role: "hole", Radius: 14}, {Kind: "circle", Role: "rim", Radius: 19}}
	}
	turned := 0.0
	if m == job.Loose {
		turned = 18
	}
	out := []Shape{{Kind: "circle", Role: "flange", Radius: flange}}
	switch drive {
	case "inner":
		out = append(out, Shape{Kind: "circle", Role: "head", Radius: head})
	case "twelve-point":
		out = append(out, Shape{Kind: "polygon", Role: "head", Points: twelve(head, turned)})
	default:
		out = append(out, Shape{Kind: "polygon", Role: "head", Points: polygon(6, head, turned)})
	}
	wedge := map[job.Mark]float64{job.InHand: 90, job.SnugMark: 180, job.Between: 270}[m]
	if wedge > 0 {
		out = append(out, Shape{Kind: "wedge", Role: "fill", Radius: 12, Deg: wedge})
	}
	if drive == "inner" {
		out = append(out, Shape{Kind: "polygon", Role: "recess", Points: polygon(6, 8.5, turned)})
	}
	switch m {
	case job.Loose:
		out = append(out, Shape{Kind: "arc", Role: "turn", Points: arc(28.5, 190, 268)})
	case job.Proved:
		out = lacquered(out, "line", [][2]float64{{-3, 3}, {29, -23}})
	case job.Clicked: // the two acts of a click
		out = lacquered(out, "line", [][2]float64{{2, 4}, {14, -14}})
		out = lacquered(out, "line", [][2]float64{{14, 10}, {28, -11}})
	case job.Turned: // from mark to mark
		out = lacquered(out, "arc", arc(14, -60, 120))
	case job.Played: // two faces and what is between them
		out = lacquered(out, "line", [][2]float64{{-6, -11}, {-6, 11}})
		out = lacquered(out, "line", [][2]float64{{6, -11}, {6, 11}})
	case job.Said: // a line that was written down
		out = lacquered(out, "line", [][2]float64{{-10, 0}, {10, 0}})
	case job.Excused:
		out = append(out, Shape{Kind: "line", Role: "broken", Points: [][2]float64{{-3, 3}, {29, -23}}})
	case job.InTrouble:
		out = append(out, Shape{Kind: "line", Role: "cross", Points: [][2]float64{{-11, -11}, {11, 11}}},
			Shape{Kind: "line", Role: "cross", Points: [][2]float64{{11, -11}, {-11, 11}}})
	}
	return out
}

// lacquered adds a stroke of paint over a pale one that is wider, so that it is told from the dark head without colour.
func lacquered(to []Shape, kind string, points [][2]float64) []Shape {
	return append(to, Shape{Kind: kind, Role: "halo", Points: points}, Shape{Kind: kind, Role: "lacquer", Points: points})
}

func polygon(n int, r, turn float64) [][2]float64 {
	out := make([][2]float64, n)
	for i := range out {
		out[i] = at(r, 360*float64(i)/float64(n)+turn)
	}
	return out
}

// twelve is two hexagons laid over one another.
func twelve(r, turn float64) [][2]float64 {
	out := make([][2]float64, 24)
	for i := range out {
		k := r
		if i%2 == 1 {
			k = r * 0.88
		}
		out[i] = at(k, 15*float64(i)+turn)
	}
	return out
}

func arc(r, from, to float64) [][2]float64 {
	var out [][2]float64
	for a := from; a <= to; a += 6 {
		out = append(out, at(r, a))
	}
	return out
}

func at(r, deg float64) [2]float64 {
	s, c := math.Sincos(deg * math.Pi / 180)
	return [2]float64{math.Round(100*r*c) / 100, math.Round(100*r*s) / 100}
}
