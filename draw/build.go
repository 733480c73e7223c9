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
			x.D = smooth(points, false)
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

// smooth lays a curve through points (Catmull-Rom as cubic Béziers).
func smooth(p [][2]float64, closed bool) string {
	n := len(p)
	if n < 2 {
		return ""
	}
	at := func(i int) [2]float64 {
		if closed {
			return p[(i%n+n)%n]
		}
		return p[min(n-1, max(0, i))]
	}
	var b strings.Builder
	fmt.Fprintf(&b, "M%.1f,%.1f", p[0][0], p[0][1])
	last := n - 1
	if closed {
		last = n
	}
	for i := range last {
		a, s, e, z := at(i-1), at(i), at(i+1), at(i+2)
		fmt.Fprintf(
			&b,
			" C%.1f,%.1f %.1f,%.1f %.1f,%.1f",
			s[0]+(e[0]-a[0])/6,
			s[1]+(e[1]-a[1])/6,
			e[0]-(z[0]-s[0])/6,
			e[1]-(z[1]-s[1])/6,
			e[0],
			e[1],
		)
	}
	if closed {
		b.WriteString("Z")
	}
	return b.String()
}

// spring draws a coil between two points.
func spring(a, z [2]float64, r float64) string {
	var b strings.Builder
	n := 5
	fmt.Fprintf(
		&b,
		"M%.1f,%.1f L%.1f,%.1f L%.1f,%.1f L%.1f,%.1fZ",
		a[0]-r,
		a[1],
		a[0]+r,
		a[1],
		z[0]+r*0.86,
		z[1],
		z[0]-r*0.6,
		z[1],
	)
	for i := 1; i < n; i++ {
		t := float64(i) / float64(n)
		x, y := a[0]+(z[0]-a[0])*t, a[1]+(z[1]-a[1])*t
		fmt.Fprintf(&b, " M%.1f,%.1f L%.1f,%.1f", x-r*(1-0.3*t), y-3, x+r*(1-0.1*t), y+3)
	}
	return b.String()
}
