package draw

import (
	"strconv"
	"strings"
	"testing"

	"lugtak/core/inspect"
)

// A chart shows where a measure leads only where it wears, breaks its line where another part was put in, and
// stays in its frame however far the limit lies.
func TestWearChart(t *testing.T) {
	l := inspect.Limit{Value: 1.6, Least: true, Gauge: 0.2}
	for name, c := range map[string]struct {
		points []inspect.Point
		leads  bool
		lines  int
	}{
		"wears":    {[]inspect.Point{{KM: 10_000, Value: 9}, {KM: 20_000, Value: 6}, {KM: 30_000, Value: 3}}, true, 2},
		"far off":  {[]inspect.Point{{KM: 10_000, Value: 9}, {KM: 10_500, Value: 8.5}}, true, 1},
		"new part": {[]inspect.Point{{KM: 10_000, Value: 3}, {KM: 20_000, Value: 11}, {KM: 30_000, Value: 10}}, true, 1},
		"one":      {[]inspect.Point{{KM: 10_000, Value: 9}}, false, 0},
		"no wear":  {[]inspect.Point{{KM: 10_000, Value: 9}, {KM: 20_000, Value: 9}}, false, 1},
		"at limit": {[]inspect.Point{{KM: 10_000, Value: 4}, {KM: 20_000, Value: 1.6}}, true, 1},
	} {
		last := c.points[len(c.points)-1]
		text := string(Wear(c.points, l, last.KM+200, "mm"))
		if got := strings.Contains(text, "w-leads"); got != c.leads {
			t.Errorf("%s: leads %v, want %v", name, got, c.leads)
		}
		if n := strings.Count(text, `class="w-line"`); n != c.lines {
			t.Errorf("%s: %d lines, want %d", name, n, c.lines)
		}
		if n := strings.Count(text, `class="w-point"`); n != len(c.points) {
			t.Errorf("%s: %d points", name, n)
		}
		if strings.Contains(text, "NaN") || strings.Contains(text, "Inf") {
			t.Errorf("%s: %s", name, text)
		}
		for _, x := range coordinates(t, text, `x1="`) {
			if x < 0 || x > 440 {
				t.Errorf("%s: x at %.1f", name, x)
			}
		}
	}
	if Wear(nil, l, 0, "mm") != "" {
		t.Error("nothing was measured, and a chart of it")
	}
}

// coordinates are the figures behind each such attribute.
func coordinates(t *testing.T, text, attr string) []float64 {
	t.Helper()
	var out []float64
	for _, part := range strings.Split(text, attr)[1:] {
		v, err := strconv.ParseFloat(part[:strings.IndexByte(part, '"')], 64)
		if err != nil {
			t.Fatal(err)
		}
		out = append(out, v)
	}
	return out
}
