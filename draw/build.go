package draw

import (
	"fmt"
	"strings"

	"lugtak/core/operation"
)

// Line is one line of a small drawing.
type Line struct {
	Role    string
	D       string
	X, Y, R float64
}

// Built turns the shapes of how a vehicle is built into lines of an SVG.
func Built(shapes []operation.Shape) []Line {
	var out []Line
	for _, s := range shapes {
		x := Line{Role: s.Role}
		points := make([][2]float64, len(s.Points))
		for i, p := range s.Points {
			points[i] = p
		}
		switch s.Kind {
		case "circle":
			x.X, x.Y, x.R = points[0][0], points[0][1], s.Radius
		case "curve":
			x.D = Smooth(points, false)
		case "spring":
			x.D = spring(points[0], points[1], s.Radius)
		default:
			x.D = straight(points, s.Kind == "closed")
		}
		out = append(out, x)
	}
	return out
}

func straight(points [][2]float64, closed bool) string {
	var b strings.Builder
	for i, p := range points {
		fmt.Fprintf(&b, "%c%g %g", "ML"[min(i, 1)], p[0], p[1])
	}
	if closed {
		b.WriteByte('Z')
	}
	return b.String()
}
