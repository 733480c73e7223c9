package thread

import (
	"math"
	"testing"

	"lugtak/core/fault"
)

// The cones give as much as slices of them, one upon the other, do: rings of the diameter the cone has there, summed.
func TestPartsGiveAsSlicesDo(t *testing.T) {
	for _, name := range []string{"M6", "M10", "M16x1.5"} {
		th := must(t, name)
		dw, dh := th.headDiameters()
		for _, grip := range []float64{10, 30, 60} {
			give := 0.0
			const slices = 20000
			for i := range slices {
				z := (float64(i) + 0.5) * grip / 2 / slices // from the head to the middle
				d := dw + 2*z*th.cone(grip)
				give += 2 * grip / 2 / slices / (205000 * math.Pi / 4 * (d*d - dh*dh))
			}
			if got := th.PartStiffness(grip); !within(got, 1/give, 0.001) {
				t.Errorf("%s over %g mm: %.0f, by slices %.0f N/mm", name, grip, got, 1/give)
			}
		}
	}
}

// frusta is the stiffness of plates of one metal as two frusta of 30° that begin at washer faces of a width, round a
// hole (Budynas and Nisbett, Shigley's Mechanical Engineering Design, 9th edition, equation 8-20).
func frusta(modulus, face, hole, grip float64) float64 {
	t := 1.155 * grip / 2
	return 0.5774 * math.Pi * modulus * hole /
		(2 * math.Log((t+face-hole)*(face+hole)/((t+face+hole)*(face-hole))))
}

// The cones of VDI 2230 are about as stiff as those frusta: two ways from the same mechanics. The frusta are proved
// first, by that book's worked example 8-2b (from memory): half an inch, a grip of 1.345 in, 30 Mpsi: 14.64 Mlbf/in.
func TestPartsAreAsStiffAsFrusta(t *testing.T) {
	if got := frusta(30, 0.75, 0.5, 1.345); math.Abs(got-14.64) > 0.01 {
		t.Fatalf("the worked example comes to %.2f Mlbf/in", got)
	}
	for _, name := range []string{"M8", "M10", "M12", "M16", "M20"} {
		th := must(t, name)
		dw, dh := th.headDiameters()
		for _, grips := range []float64{1, 2, 3} {
			grip := grips * th.D
			if got, want := th.PartStiffness(grip), frusta(205000, dw, dh, grip); math.Abs(got/want-1) > 0.1 {
				t.Errorf("%s over %g mm: %.0f N/mm, frusta %.0f", name, grip, got, want)
			}
		}
	}
}

// Forces balance: bolt and clamp differ by the load, a settled joint has lost what both springs give, one that gapes
// leaves the bolt the whole load (statics).
func TestForcesOfAJoint(t *testing.T) {
	th := must(t, "M10")
	for _, c := range []Clamped{
		{Thread: th, Grip: 30, Preload: 29600, Load: 10000, Settle: 0.008},
		{Thread: th, Grip: 50, Preload: 20000, Load: 5000},
		{Thread: th, Grip: 20, Preload: 30000},
	} {
		r, err := c.Reckon()
		if err != nil {
			t.Fatal(err)
		}
		if math.Abs(r.BoltForce-r.Left-c.Load) > 1e-6*c.Preload {
			t.Errorf("%+v: bolt %.0f, clamp %.0f, load %.0f", c, r.BoltForce, r.Left, c.Load)
		}
		if again := r.Loss/r.Bolt + r.Loss/r.Parts; math.Abs(again-c.Settle) > 1e-9 {
			t.Errorf("lost %.0f N, which is %.5f mm of %.5f", r.Loss, again, c.Settle)
		}
		if r.Parts < 2*r.Bolt || r.Parts > 12*r.Bolt { // common practice: steel parts are stiffer than their bolt
			t.Errorf("bolt %.0f, parts %.0f N/mm", r.Bolt, r.Parts)
		}
	}
	open, _ := Clamped{Thread: th, Grip: 30, Preload: 5000, Load: 20000}.Reckon()
	if open.Left != 0 || open.BoltForce != 20000 || !open.Slips {
		t.Errorf("one that gapes: %+v", open)
	}
	for shear, slips := range map[float64]bool{4400: false, 4600: true} { // friction of 0.15 on 30 kN
		if r, _ := (Clamped{Thread: th, Grip: 30, Preload: 30000, Shear: shear}).Reckon(); r.Slips != slips {
			t.Errorf("%.0f N across: %+v", shear, r)
		}
	}
	for name, bad := range map[string]Clamped{
		"no grip":           {Thread: th, Grip: 1, Preload: 1},
		"a grip of a metre": {Thread: th, Grip: 1000, Preload: 1},
		"a push":            {Thread: th, Grip: 30, Preload: 1, Load: -1},
		"no number":         {Thread: th, Grip: 30, Preload: math.NaN()},
	} {
		if _, err := bad.Reckon(); fault.As(err) == nil || fault.As(err).Remedy == "" {
			t.Errorf("%s: %v", name, err)
		}
	}
}

// About a diameter in steel of its own strength, one and a half in cast iron, two in aluminium (common practice); class
// 8.8 shears its thread and breaks alike at about 0.8 diameters of a nut of its class (ISO 898-2, from memory).
func TestEngagement(t *testing.T) {
	th := must(t, "M10")
	c, err := ParseClass("8.8", th)
	if err != nil {
		t.Fatal(err)
	}
	for mpa, want := range map[float64][2]float64{800: {0.3, 0.8}, 400: {0.6, 1.1}, 250: {1, 1.5}, 150: {1.5, 2.1}} {
		mm, err := th.Engagement(c, mpa)
		if d := mm / th.D; err != nil || d < want[0] || d > want[1] {
			t.Errorf("%g MPa: %.2f diameters, want %v", mpa, d, want)
		}
	}
	if _, err := th.Engagement(c, 10); fault.As(err) == nil {
		t.Error("a thread in lead was taken")
	}
}
