package inspect

import (
	"math"
	"testing"

	"lugtak/core/fault"
)

func near(t *testing.T, what string, got, want, tol float64) {
	t.Helper()
	if math.Abs(got-want) > tol {
		t.Errorf("%s: %.5f, want %.5f", what, got, want)
	}
}

// A deep-groove bearing of nine balls, 7.94 mm on 39.04 mm: 3.585, 5.415, 0.398 and 2.357 times the shaft (a textbook
// example of bearing vibration, from memory).
func TestBearingFrequencies(t *testing.T) {
	f, err := Ball{Balls: 9, BallMM: 7.94, PitchMM: 39.04}.Passes(1)
	if err != nil {
		t.Fatal(err)
	}
	near(t, "outer", f.Outer, 3.585, 0.001)
	near(t, "inner", f.Inner, 5.415, 0.001)
	near(t, "cage", f.Cage, 0.398, 0.001)
	near(t, "ball", f.Ball, 2.357, 0.001)
	near(t, "both rings pass every ball once", f.Outer+f.Inner, 9, 1e-9)
	for _, b := range []Ball{{2, 8, 40, 0}, {9, 0, 40, 0}, {9, 50, 40, 0}, {9, 8, 40, 90}} {
		if _, err := b.Passes(10); fault.As(err) == nil {
			t.Errorf("%+v was taken", b)
		}
	}
}

// ISO 21940-11: grade G 6.3 at 3 000 turns a minute permits 20 g·mm for each kg.
func TestResidual(t *testing.T) {
	u, err := Residual(1, 50, 6.3)
	if err != nil {
		t.Fatal(err)
	}
	near(t, "G 6.3 at 3 000 a minute", u, 20, 0.1)
	twice, _ := Residual(2, 100, 6.3)
	near(t, "twice the mass at twice the speed", twice, u, 1e-9)
	if _, err := Residual(1, 0, 40); fault.As(err) == nil {
		t.Error("a wheel that stands was taken")
	}
}

// Play is the middle of its readings, and no surer than gauge and readings are.
func TestPlay(t *testing.T) {
	play, band, err := Play([]float64{0.05, 0.07}, 0)
	if err != nil {
		t.Fatal(err)
	}
	near(t, "play", play, 0.06, 1e-12)
	near(t, "half the spread", band, 0.01, 1e-12)
	_, band, _ = Play([]float64{0.05, 0.05}, 0.02)
	near(t, "the gauge", band, 0.02, 1e-12)
	for _, bad := range [][]float64{nil, {-0.1}, {math.NaN()}, {60}} {
		if _, _, err := Play(bad, 0.01); fault.As(err) == nil {
			t.Errorf("%v was taken", bad)
		}
	}
}

// Turned end for end the gauge shows its own error with the other sign. Caster by 20° is 1.46 times the change of
// camber (common practice of the trade).
func TestCamberAndCaster(t *testing.T) {
	const lean, off = -0.7, 0.2
	deg, gauge, err := Camber(lean+off, -lean+off)
	if err != nil {
		t.Fatal(err)
	}
	near(t, "camber", deg, lean, 1e-12)
	near(t, "gauge", gauge, off, 1e-12)
	c, err := Caster(1, -1, 20)
	if err != nil {
		t.Fatal(err)
	}
	near(t, "caster", c, 2*1.462, 0.001)
	if _, err := Caster(1, -1, 0); fault.As(err) == nil {
		t.Error("caster without a turn was taken")
	}
	if _, _, err := Camber(80, 0); fault.As(err) == nil {
		t.Error("a wheel that lies was taken")
	}
}

// There and back is where it was; a degree across a rim of 400 mm is 6.98 mm (geometry).
func TestToeBothWays(t *testing.T) {
	mm, err := ToeAtRim(1, 400)
	if err != nil {
		t.Fatal(err)
	}
	near(t, "a degree", mm, 6.981, 0.001)
	for _, v := range []float64{-5, -0.5, 0, 2, 30} {
		deg, err1 := ToeAngle(v, 400)
		back, err2 := ToeAtRim(deg, 400)
		if err1 != nil || err2 != nil {
			t.Fatal(err1, err2)
		}
		near(t, "there and back", back, v, 1e-9)
	}
	if _, err := ToeAngle(200, 400); fault.As(err) == nil {
		t.Error("a wheel across was taken")
	}
}
