package solid

import (
	"math"
	"slices"
	"testing"
)

// An old part that was measured shorter is drawn as much shorter than the new one, at one scale, and its
// dimensions are written; what cannot be drawn to scale is not said to be.
func TestMeasured(t *testing.T) {
	a, parts := album(t)
	find := func(key string) *Scene {
		return &a.Scenes[slices.IndexFunc(a.Scenes, func(s Scene) bool { return s.Key == key && len(s.Steps) == 0 })]
	}
	write := func(float64) string { return "x" }
	mm := func(v float64) map[string]float64 { return map[string]float64{"extended_mm": v} }
	for _, c := range []struct{ old, new, ratio float64 }{
		{500, 500, 1}, {450, 500, 0.9}, {560, 500, 1.12}, {499, 500, 1},
	} {
		s, fill, ok := find("compare-damper").Measured(mm(c.old), mm(c.new), write)
		if len(fill) != 2 || !ok {
			t.Fatalf("%v are to be written", fill)
		}
		pic, err := drawAt(1, s, parts, a, false)
		if err != nil {
			t.Fatal(err)
		}
		high := func(v shown) float64 {
			top, low := math.Inf(1), 0.0
			for k, id := range v.buf.Item {
				if id > 0 {
					y := float64(k / v.buf.W)
					top, low = math.Min(top, y), math.Max(low, y)
				}
			}
			return low - top
		}
		if got := high(pic.shown[0]) / high(pic.shown[1]); math.Abs(got-c.ratio) > 0.02 {
			t.Errorf("%g beside %g is drawn %.3f as long", c.old, c.new, got)
		}
	}
	for i := range a.Scenes {
		s := &a.Scenes[i]
		if s.Scaled == "" {
			continue
		}
		for _, of := range []float64{70, 100, 140} { // wherever it is shown, its figures have room
			for _, left := range []bool{false, true} {
				scene, fill, ok := s.Measured(map[string]float64{s.Scaled: of}, map[string]float64{s.Scaled: 100}, write)
				pic, err := drawAt(1, scene, parts, a, left)
				if err != nil || !ok || len(fill) != 2 || len(pic.Lacks) > 0 {
					t.Errorf("%s of %g, left %v: %v, %d figures, %v, %q", s.Key, of, left, ok, len(fill), err, pic.Lacks)
				}
			}
		}
	}
	for _, c := range []struct {
		key      string
		old, new map[string]float64
	}{
		{"compare-damper", mm(500), nil},
		{"compare-damper", nil, mm(500)},
		{"compare-damper", mm(10), mm(500)},
		{"compare-damper", mm(5000), mm(500)},
		{"compare-damper", mm(0), mm(0)},
		{"compare-damper", mm(-500), mm(500)},
		{"compare-damper", map[string]float64{"eye_mm": 12}, map[string]float64{"eye_mm": 12}},
		{"compare-caliper", map[string]float64{"piston_mm": 54}, map[string]float64{"piston_mm": 60}},
	} {
		if _, _, ok := find(c.key).Measured(c.old, c.new, write); ok {
			t.Errorf("%s of %v and %v is said to be to scale", c.key, c.old, c.new)
		}
	}
}
