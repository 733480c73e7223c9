package unit

import (
	"math"
	"testing"

	"lugtak/core/fault"
)

func near(a, b, rel float64) bool { return math.Abs(a-b) <= rel*math.Max(1e-12, math.Abs(b)) }

// Source: NIST SP 811, appendix B (values written down from memory); an inch
// is 25.4 mm and a mile 1609.344 m by definition.
func TestConvert(t *testing.T) {
	for _, c := range []struct {
		v        float64
		from, to string
		want     float64
	}{
		{1, "lbf·ft", "N·m", 1.355817948},
		{1, "lbf·in", "N·m", 0.112984829},
		{1, "kgf·m", "N·m", 9.80665},
		{1, "in", "mm", 25.4},
		{1, "lbf", "N", 4.448221615},
		{1, "mile", "m", 1609.344},
		{1, "psi", "Pa", 6894.757},
		{1, "ksi", "MPa", 6.894757},
		{100, "km/h", "mph", 62.13712},
		{32, "°F", "°C", 0},
		{100, "°C", "K", 373.15},
		{0.25, "turn", "deg", 90},
		{1, "flat", "°", 60},
		{math.Pi, "rad", "deg", 180},
		// Common practice: what a dual-scale wrench card says.
		{110, "Nm", "foot pounds", 81.13},
		{200, "newton metres", "ft-lb", 147.5},
		{7, "mkg", "Nm", 68.65},
	} {
		got, err := Convert(c.v, c.from, c.to)
		if err != nil || math.Abs(got-c.want) > 1e-9+1e-4*math.Abs(c.want) {
			t.Errorf("Convert(%v, %q, %q) = %v, %v; want %v", c.v, c.from, c.to, got, err, c.want)
		}
	}
}

func TestConvertThereAndBack(t *testing.T) {
	for _, a := range Units() {
		for _, b := range Units() {
			if a.Dim != b.Dim {
				continue
			}
			x, err := Convert(321.5, a.Symbol, b.Symbol)
			if err != nil {
				t.Fatalf("%s to %s: %v", a.Symbol, b.Symbol, err)
			}
			y, err := Convert(x, b.Symbol, a.Symbol)
			if err != nil || !near(y, 321.5, 1e-9) {
				t.Errorf("%s to %s and back: %v, %v", a.Symbol, b.Symbol, y, err)
			}
		}
	}
}

func TestConvertRefuses(t *testing.T) {
	for _, c := range []struct {
		v        float64
		from, to string
		code     fault.Code
		field    string
	}{
		{1, "furlong", "m", "unknown_unit", "from"},
		{1, "m", "", "missing", "to"},
		{1, "N·m", "mm", "unit_mismatch", "to"},
		{math.NaN(), "m", "mm", "bad_number", "value"},
		{math.Inf(1), "m", "mm", "bad_number", "value"},
		{-300, "°C", "K", "out_of_range", "value"},
	} {
		_, err := Convert(c.v, c.from, c.to)
		f := fault.As(err)
		if f == nil || f.Code != c.code || f.Field != c.field || f.Remedy == "" {
			t.Errorf("Convert(%v, %q, %q): got %#v, want %s on %s with a remedy", c.v, c.from, c.to, f, c.code, c.field)
		}
	}
}

func TestTorquePrints(t *testing.T) {
	for _, c := range []struct {
		t    Torque
		want string
	}{
		{60, "60 N·m (44.3 ft·lb)"},
		{52.5, "52.5 N·m (38.7 ft·lb)"},
		{110 * NewtonMetre, "110 N·m (81.1 ft·lb)"},
		{0, "0 N·m (0 ft·lb)"},
		{-0.01, "0 N·m (0 ft·lb)"},
	} {
		if got := c.t.Both(); got != c.want {
			t.Errorf("Both(%v) = %q, want %q", float64(c.t), got, c.want)
		}
	}
}

func TestFigure(t *testing.T) {
	for text, want := range map[string]float64{"60": 60, " 44,3 ": 44.3, "-1.5": -1.5, "1e3": 1000, ".5": 0.5} {
		if got, ok := Figure(text); !ok || got != want {
			t.Errorf("%q: %g, %v", text, got, ok)
		}
	}
	for _, bad := range []string{"", "NaN", "Inf", "-inf", "0x1p4", "1_000", "1,2,3", "６０", "1e999", "sixty", "1 2"} {
		if v, ok := Figure(bad); ok {
			t.Errorf("%q reads as %g", bad, v)
		}
	}
}

func TestCapital(t *testing.T) {
	for in, want := range map[string]string{"": "", "x": "X", "wheel nut": "Wheel nut", "ölwechsel": "Ölwechsel",
		"7 bolts": "7 bolts"} {
		if got := Capital(in); got != want {
			t.Errorf("%q: %q", in, got)
		}
	}
}

// Minutes are said as people say them, to the nearest five beyond the hour.
func TestHoursMinutes(t *testing.T) {
	for minutes, want := range map[float64]string{
		0: "0 min", 0.4: "0 min", 59.4: "59 min", 59.6: "1 h 00", 60: "1 h 00", 62.4: "1 h 00", 62.6: "1 h 05", 149: "2 h 30",
	} {
		if is := HoursMinutes(minutes); is != want {
			t.Errorf("%v is %q, not %q", minutes, is, want)
		}
	}
}

func TestWhole(t *testing.T) {
	for n, want := range map[int]string{
		0: "0", 999: "999", -7: "−7", 14034: "14\u202f034", -1000: "−1\u202f000", 2_000_004: "2\u202f000\u202f004",
	} {
		if is := Whole(n); is != want {
			t.Errorf("%d is %q, not %q", n, is, want)
		}
	}
}

// Thousands stand apart, by a space no line is broken at.
func TestKilometres(t *testing.T) {
	for km, want := range map[float64]string{
		0: "0 km", 999.4: "999 km", 999.6: "1\u202f000 km", 58_310: "58\u202f310 km", 148_005: "148\u202f005 km",
	} {
		if is := Kilometres(km); is != want {
			t.Errorf("%v is %q, not %q", km, is, want)
		}
	}
}
