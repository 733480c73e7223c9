package solid

import (
	"math"
	"slices"
	"testing"
)

// An old part that was measured shorter is drawn as much shorter than the new one, at one scale, and every dimension that
// was measured says so.
func TestMeasured(t *testing.T) {
	a, parts := album(t)
	i := slices.IndexFunc(a.Scenes, func(s Scene) bool { return s.Key == "compare-damper" })
	for _, c := range []struct{ old, new, ratio float64 }{
		{500, 500, 1}, {450, 500, 0.9}, {560, 500, 1.12}, {499, 500, 1}, {10, 500, leastScale}, {5000, 500, mostScale},
	} {
		s, fill := a.Scenes[i].Measured(map[string]float64{"extended_mm": c.old}, map[string]float64{"extended_mm": c.new},
			func(mm float64) string { return "x" })
		if len(fill) != 2 {
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
	s, fill := a.Scenes[i].Measured(map[string]float64{"eye_mm": 12}, nil, nil)
	if len(fill) != 0 || len(s.Panes[0].Moves) != 0 {
		t.Errorf("nothing was measured that is drawn: %v", fill)
	}
}
