package thread

import (
	"fmt"
	"math"
	"testing"

	"lugtak/core/fault"
)

func must(t *testing.T, s string) Thread {
	t.Helper()
	th, err := Parse(s)
	if err != nil {
		t.Fatal(err)
	}
	return th
}

func within(got, want, rel float64) bool { return math.Abs(got-want) <= rel*math.Abs(want) }

// Sources: ISO 898-1 (As), ASME B1.1 (At, here in mm²); from memory.
func TestStressArea(t *testing.T) {
	const in2 = 25.4 * 25.4
	for _, c := range []struct {
		name string
		want float64
	}{
		{"M6", 20.1}, {"M8", 36.6}, {"M10", 58.0}, {"M12", 84.3}, {"M12x1.5", 88.1}, {"M12x1.25", 92.1},
		{"M14", 115}, {"M14x1.5", 125}, {"M16", 157}, {"M16x1.5", 167}, {"M20x1.5", 272},
		{"#10-24", 0.0175 * in2}, {"#10-32", 0.0200 * in2}, {"#8-32", 0.0140 * in2}, {"#6-32", 0.00909 * in2},
		{"#4-40", 0.00604 * in2}, {"3/8-16", 0.0775 * in2}, {"7/16-20", 0.1187 * in2}, {"1/2-13", 0.1419 * in2},
		{"9/16-12", 0.182 * in2},
		{"5/8-11", 0.226 * in2}, {"1/2-20", 0.1599 * in2}, {"1/2 UNF", 0.1599 * in2}, {"1-8", 0.6057 * in2},
	} {
		if got := must(t, c.name).StressArea(); !within(got, c.want, 0.005) {
			t.Errorf("%s: As %.3f mm², want %.3f", c.name, got, c.want)
		}
	}
}

// Source: ISO 898-1 proof loads, kN, 1 %; SAE J429 strengths.
func TestProofLoad(t *testing.T) {
	for _, c := range []struct {
		thread, class string
		kn            float64
	}{
		{"M8", "8.8", 21.2}, {"M10", "8.8", 33.7}, {"M10", "10.9", 48.1}, {"M12", "10.9", 70.0},
		{"M20", "8.8", 147}, {"1/2-13", "grade 5", 0.1419 * 85 * 4.448222}, {"1/2-13", "gr 8", 0.1419 * 120 * 4.448222},
	} {
		th := must(t, c.thread)
		cl, err := ParseClass(c.class, th)
		if err != nil {
			t.Fatal(err)
		}
		if got := th.StressArea() * cl.Proof / 1000; !within(got, c.kn, 0.01) {
			t.Errorf("%s %s: proof load %.1f kN, want %.1f", c.thread, c.class, got, c.kn)
		}
	}
}

// Source: VDI 2230 part 1 (2003/2015) table A1 at μ = 0.12, 2 %; from memory.
func TestTightening(t *testing.T) {
	for _, c := range []struct {
		thread, class string
		kn, nm        float64
	}{
		{"M8", "8.8", 18.6, 24.6}, {"M10", "8.8", 29.6, 48}, {"M12", "8.8", 43.0, 84},
		{"M14", "8.8", 59.1, 133}, {"M10", "10.9", 43.4, 71}, {"M16", "8.8", 80.9, 206}, {"M8", "10.9", 27.3, 36.1},
	} {
		th := must(t, c.thread)
		cl, _ := ParseClass(c.class, th)
		f, m := th.Tightening(cl, 0.12, 0.9)
		if !within(f/1000, c.kn, 0.02) || !within(m, c.nm, 0.02) {
			t.Errorf("%s %s: %.1f kN %.1f N·m, want %.1f kN %.1f N·m", c.thread, c.class, f/1000, m, c.kn, c.nm)
		}
		if back := th.Preload(m, 0.12); !within(back, f, 1e-9) {
			t.Errorf("%s: preload of its own torque is %.0f N, want %.0f", c.thread, back, f)
		}
	}
}

// Source: ISO 898-7 least breaking torques, 4 %; from memory.
// At the torques of VDI 2230 table A1 the equivalent stress is 90 % of yield, plain
// tension some 70 to 75 %.
func TestUtilisation(t *testing.T) {
	for _, c := range []struct {
		thread, class string
		torque        float64
	}{
		{"M8", "8.8", 24.6}, {"M10", "8.8", 48}, {"M12", "8.8", 84}, {"M14", "8.8", 133}, {"M10", "10.9", 71},
	} {
		th := must(t, c.thread)
		cl, err := ParseClass(c.class, th)
		if err != nil {
			t.Fatal(err)
		}
		if u := th.Utilisation(cl, c.torque, 0.12); !within(u, 0.9, 0.02) {
			t.Errorf("%s %s at %g N·m: %.3f of yield", c.thread, c.class, c.torque, u)
		}
		if plain := th.YieldShare(cl, th.Preload(c.torque, 0.12)); plain < 0.70 || plain > 0.81 {
			t.Errorf("%s %s: %.3f in plain tension", c.thread, c.class, plain)
		}
		b := th.UtilisationBand(cl, c.torque, Band{0.08, 0.12, 0.16})
		if !(b.Low < b.Mid && b.Mid < b.High) {
			t.Errorf("%s: the band is %v", c.thread, b)
		}
	}
}

func TestTwistOff(t *testing.T) {
	for _, c := range []struct {
		thread, class string
		nm            float64
		estimated     bool
	}{
		{"M6", "8.8", 13, false}, {"M8", "8.8", 33, false}, {"M10", "8.8", 66, false}, {"M8", "10.9", 40, false},
		{"M12", "8.8", 115, true},
	} {
		th := must(t, c.thread)
		cl, _ := ParseClass(c.class, th)
		got, est := th.TwistOff(cl)
		if !within(got, c.nm, 0.04) || est != c.estimated {
			t.Errorf("%s %s: twist-off %.1f N·m estimated %v, want %.0f %v", c.thread, c.class, got, est, c.nm, c.estimated)
		}
	}
}

// More grease, more stretch: the same torque gives more preload at less friction.
func TestLessFrictionMorePreload(t *testing.T) {
	th := must(t, "M12x1.5")
	last := 0.0
	for mu := 0.30; mu > 0.05; mu -= 0.02 {
		f := th.Preload(80, mu)
		if f <= last {
			t.Fatalf("μ %.2f: preload %.0f N, not above %.0f", mu, f, last)
		}
		last = f
	}
}

func TestAfterAngleStopsAtYield(t *testing.T) {
	th := must(t, "M12x1.5")
	cl, _ := ParseClass("10.9", th)
	start := th.Preload(60, 0.12)
	k := th.Stiffness().Mid
	f45, m45 := th.AfterAngle(cl, 0.12, start, 45, k)
	f400, _ := th.AfterAngle(cl, 0.12, start, 400, k)
	if !(f45 > start && m45 > 60) {
		t.Errorf("45° on: %.0f N %.1f N·m, want more than %.0f N 60 N·m", f45, m45, start)
	}
	if bound := th.Bound(cl, 0.12, 1); f400 != bound {
		t.Errorf("400° on: %.0f N, want the yield bound %.0f", f400, bound)
	}
}

func TestParseNames(t *testing.T) {
	for in, want := range map[string]string{
		"M12x1.5": "M12x1.5", "m12 X 1,5": "M12x1.5", "M10x1.5": "M10", "M8": "M8", " M14×1.5 ": "M14x1.5",
		"3/8-16": "3/8-16", "1/2 UNC": "1/2-13", "7/16 - 20 UNF": "7/16-20", "1 1/8-7": "1 1/8-7",
	} {
		if got := must(t, in).Name; got != want {
			t.Errorf("Parse(%q) = %q, want %q", in, got, want)
		}
	}
	for _, bad := range []string{"", "M", "M2", "M12x9", "M13", "M10x1.4", "M8x1.75", "M25", "1/2-21", "3/8-14", "5/12-20",
		"12", "3/0-16", "3/8", "X10", "M999999999999999999", "\xff\xfe"} {
		if _, err := Parse(bad); fault.As(err) == nil || fault.As(err).Remedy == "" {
			t.Errorf("Parse(%q): %v, want a fault with a remedy", bad, err)
		}
	}
}

func TestClassNames(t *testing.T) {
	m10, m30 := must(t, "M10"), must(t, "M30")
	half := must(t, "1/2-13")
	// ISO 898-1 marks metric bolts, SAE J429 inch bolts; one number alone is a nut's mark
	// (ISO 898-2).
	for _, n := range []string{"8.8", "class 8.8", "12.9"} {
		if _, err := ParseClass(n, m10); err != nil {
			t.Errorf("ParseClass(%q): %v", n, err)
		}
		if _, err := ParseClass(n, half); fault.As(err) == nil {
			t.Errorf("%q was taken for an inch bolt", n)
		}
	}
	for _, n := range []string{"Grade 5", "gr5", "5", "SAE grade 8"} {
		if _, err := ParseClass(n, half); err != nil {
			t.Errorf("ParseClass(%q): %v", n, err)
		}
		if _, err := ParseClass(n, m10); fault.As(err) == nil || fault.As(err).Remedy == "" {
			t.Errorf("%q was taken for a metric bolt", n)
		}
	}
	if _, err := ParseClass("class 8", m10); fault.As(err) == nil {
		t.Error("class 8 was taken for a bolt's")
	}
	if _, err := ParseClass("9.8", m30); fault.As(err) == nil {
		t.Errorf("class 9.8 in M30 was accepted")
	}
	if _, err := ParseClass("11.11", m10); fault.As(err) == nil {
		t.Errorf("class 11.11 was accepted")
	}
	if _, err := Friction("treacle"); fault.As(err) == nil {
		t.Errorf("treacle was accepted as a treatment")
	}
	for _, tr := range Treatments() {
		if b, err := Friction(tr); err != nil || !(b.Low < b.Mid && b.Mid < b.High) {
			t.Errorf("friction of %s: %v, %v", tr, b, err)
		}
	}
}

func ExampleThread_Tightening() {
	th, _ := Parse("M10")
	class, _ := ParseClass("8.8", th)
	force, torque := th.Tightening(class, 0.12, 0.9)
	fmt.Printf("%.1f kN at %.0f N·m", force/1000, torque)
	// Output: 29.6 kN at 48 N·m
}
