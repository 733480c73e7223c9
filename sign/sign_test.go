package sign

import (
	"fmt"
	"math"
	"slices"
	"testing"

	"lugtak/core/job"
)

// State is told by form: no two marks of one drive have the same shapes, colour
// left aside, and no two drives the same head.
func TestEveryMarkHasItsForm(t *testing.T) {
	for _, d := range Drives {
		seen := map[string]job.Mark{}
		for _, m := range Marks {
			form := ""
			for _, s := range Shapes(d, m) {
				role := s.Role
				form += fmt.Sprint(s.Kind, s.Radius, s.Points, s.Deg, role == "broken", ";")
			}
			if m == job.Rest || m == job.Proved {
				form += string(m) // told by outline and by a dark head
			}
			if o, twice := seen[form]; twice {
				t.Errorf("%s: %s and %s look alike", d, o, m)
			}
			seen[form] = m
		}
	}
	for i, d := range Drives {
		for _, o := range Drives[i+1:] {
			if fmt.Sprint(Shapes(d, job.Rest)) == fmt.Sprint(Shapes(o, job.Rest)) {
				t.Errorf("%s and %s have the same head", d, o)
			}
		}
	}
}

// A sign stays within its frame of 68 units, so that none is cut off.
func TestSignsFitTheirFrame(t *testing.T) {
	for _, d := range Drives {
		for _, m := range Marks {
			for _, s := range Shapes(d, m) {
				if s.Radius > 34 {
					t.Errorf("%s %s: radius %g", d, m, s.Radius)
				}
				for _, p := range s.Points {
					if math.Abs(p[0]) > 34 || math.Abs(p[1]) > 34 {
						t.Errorf("%s %s: %v", d, m, p)
					}
				}
			}
		}
	}
}

// A stroke of paint is told from the dark head it lies on without colour: a pale one lies between.
func TestPaintStandsOut(t *testing.T) {
	for _, m := range Marks {
		shapes := Shapes("hexagon", m)
		for i, s := range shapes {
			if s.Role == "lacquer" && (shapes[i-1].Role != "halo" || !slices.Equal(shapes[i-1].Points, s.Points)) {
				t.Errorf("%s: paint on the bare head", m)
			}
		}
	}
}
