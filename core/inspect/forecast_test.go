package inspect

import (
	"math"
	"testing"
	"time"
)

// A lining from 10 to 7 mm in 30 000 km loses 1 mm in 10 000: 3 mm is 40 000 km on. By hand.
func TestForecastByHand(t *testing.T) {
	lining := Limit{Value: 3, Least: true}
	f, ok := lining.Expect([]Point{{50_000, 10}, {65_000, 8.4}, {80_000, 7}}, 0.1)
	if !ok || math.Abs(f.LikelyKM-120_000) > 1e-6 {
		t.Errorf("%+v %v", f, ok)
	}
	// 0.1 mm at both ends: 3.2 mm in 30 000 km leaves 3.9/3.2·30 000, 2.8 mm leaves 4.1/2.8·30 000.
	if math.Abs(f.LowKM-(80_000+36_562.5)) > 1 || math.Abs(f.HighKM-(80_000+43_928.6)) > 1 {
		t.Errorf("band %+v", f)
	}
}

// New pads are no wear backwards: what was measured of the old ones is left out.
func TestForecastBeginsWithThePart(t *testing.T) {
	lining := Limit{Value: 3, Least: true}
	old := []Point{{20_000, 9}, {50_000, 3.2}}
	fresh := []Point{{50_000, 11}, {70_000, 9}} // 2 mm in 20 000 km: 6 mm more in 60 000
	f, ok := lining.Expect(append(old, fresh...), 0.1)
	if !ok || math.Abs(f.LikelyKM-130_000) > 1e-6 {
		t.Errorf("%+v %v", f, ok)
	}
	if f, ok := lining.Expect(append(old, fresh[0]), 0.1); ok {
		t.Errorf("one measure of new pads says %+v", f)
	}
}

// What reads better by no more than the gauge errs at both ends is the same part: from 9 mm at 20 000 km on, not from
// the 6.2 of the second measure.
func TestGaugeNoiseIsNoNewPart(t *testing.T) {
	lining := Limit{Value: 3, Least: true}
	for better, likely := range map[float64]float64{
		0.19: 80_000 + 60_000*(5-3)/4, // one part: 4 mm in 60 000 km
		0.21: 80_000 + 20_000*(5-3)/1.21,
	} {
		f, ok := lining.Expect([]Point{{20_000, 9}, {50_000, 6}, {60_000, 6 + better}, {80_000, 5}}, 0.1)
		if !ok || math.Abs(f.LikelyKM-likely) > 1 {
			t.Errorf("better by %g: %+v, want %.0f", better, f, likely)
		}
	}
}

func TestForecastSaysNothing(t *testing.T) {
	play := Limit{Value: 0.2, Gauge: 0.05}
	for name, points := range map[string][]Point{
		"one point":         {{10, 0.1}},
		"the same distance": {{10, 0.1}, {10, 0.15}},
		"it gets better":    {{10, 0.15}, {90, 0.1}},
	} {
		if f, ok := play.Expect(points, 0); ok {
			t.Errorf("%s: %+v", name, f)
		}
	}
	if _, ok := (Limit{}).Expect([]Point{{1, 2}, {3, 4}}, 0.1); ok {
		t.Error("no limit is known")
	}
	// Within the gauge's error nobody knows whether it wears at all.
	if f, ok := play.Expect([]Point{{0, 0.10}, {10_000, 0.12}}, 0); !ok || !math.IsInf(f.HighKM, 1) {
		t.Errorf("%+v", f)
	}
	// What is beyond its limit is due where it stands.
	if f, _ := play.Expect([]Point{{0, 0.1}, {10_000, 0.4}}, 0.01); f.LikelyKM != 10_000 {
		t.Errorf("%+v", f)
	}
}

// What two measures differ by no more than their gauge may err is no wear, whatever the sums round to.
func TestNoWearIsNeverReached(t *testing.T) {
	l := Limit{Value: 1.6, Least: true, Gauge: 0.2}
	for _, v := range [][2]float64{{9.3, 8.9}, {8.5, 8.1}, {7.1, 6.7}} {
		f, ok := l.Expect([]Point{{KM: 80_000, Value: v[0]}, {KM: 90_000, Value: v[1]}}, 0)
		if !ok || !math.IsInf(f.HighKM, 1) || f.LikelyKM > 300_000 {
			t.Errorf("%v: %+v, %v", v, f, ok)
		}
	}
}

// 10 000 km in 100 days: 5 000 km more take 50 days. By hand.
func TestDayOf(t *testing.T) {
	day := func(n int) time.Time { return time.Date(2026, 1, n, 8, 0, 0, 0, time.UTC) }
	first, last := Reading{40_000, day(1)}, Reading{50_000, day(101)}
	for name, c := range map[string]struct {
		km          float64
		first, last Reading
		want        time.Time // zero where nothing can be told
	}{
		"ahead":            {55_000, first, last, day(151)},
		"reached now":      {50_000, first, last, day(101)},
		"as far as told":   {70_000, first, last, day(301)},
		"farther":          {70_001, first, last, time.Time{}},
		"passed":           {49_000, first, last, time.Time{}},
		"never":            {math.Inf(1), first, last, time.Time{}},
		"one reading":      {55_000, last, last, time.Time{}},
		"it did not move":  {55_000, Reading{50_000, day(1)}, last, time.Time{}},
		"it ran backwards": {55_000, Reading{60_000, day(1)}, last, time.Time{}},
		"on the same day":  {55_000, Reading{40_000, day(101)}, last, time.Time{}},
	} {
		if got, ok := DayOf(c.km, c.first, c.last); !got.Equal(c.want) || ok == c.want.IsZero() {
			t.Errorf("%s: %v %v, want %v", name, got, ok, c.want)
		}
	}
}
