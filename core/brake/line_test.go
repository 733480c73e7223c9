package brake

import (
	"math"
	"testing"

	"lugtak/core/fault"
)

// The limits of 49 CFR 393.47(e), in inches as they stand there; on the line is allowed.
func TestPushRod(t *testing.T) {
	for name, limit := range map[string]float64{
		"6": 1.25, "9": 1.375, "12": 1.375, "16": 1.75, "20": 1.75, "24": 1.75, "30": 2, "36": 2.25,
		"12 long": 1.75, "16 long": 2, "20 long": 2, "24 long": 2, "30 long": 2.5,
	} {
		for off, want := range map[float64]bool{-0.01: true, 0: true, 0.01: false} {
			if _, ok, err := PushRod(name, 25.4*(limit+off), 655); err != nil || ok != want {
				t.Errorf("chamber %s at %.3f in: %t, %v", name, limit+off, ok, err)
			}
		}
	}
	for _, c := range []struct {
		chamber     string
		stroke, kpa float64
		field       string
	}{
		{"31", 20, 655, "chamber"}, {"30", 70, 655, "stroke_mm"}, {"30", -1, 655, "stroke_mm"},
		{"30", math.NaN(), 655, "stroke_mm"},
		{"30", 20, 500, "pressure_kpa"}, {"30", 20, 800, "pressure_kpa"},
	} {
		_, _, err := PushRod(c.chamber, c.stroke, c.kpa)
		if f := fault.As(err); f == nil || f.Field != c.field || f.Remedy == "" {
			t.Errorf("%+v: %v", c, err)
		}
	}
}

// Pascal's law by hand: 1 200 N on a square centimetre of master is 120 bar; on ten of piston it is 12 kN.
func TestLine(t *testing.T) {
	square := func(cm2 float64) float64 { return math.Sqrt(cm2 * 100 * 4 / math.Pi) } // mm of bore
	p, clamp, err := Line(300, 4, square(1), square(10), 1)
	if err != nil || math.Abs(p-12) > 1e-9 || math.Abs(clamp-12000) > 1e-6 {
		t.Errorf("%g MPa, %g N, %v", p, clamp, err)
	}
	if _, two, _ := Line(300, 4, square(1), square(10), 2); math.Abs(two-2*clamp) > 1e-6 {
		t.Errorf("two pistons: %g", two)
	}
	for i := range 5 {
		v := []float64{300, 4, 24, 57, 1}
		v[i] = 0
		if _, _, err := Line(v[0], v[1], v[2], v[3], int(v[4])); fault.As(err) == nil || fault.As(err).Remedy == "" {
			t.Errorf("%v: %v", v, err)
		}
	}
}
