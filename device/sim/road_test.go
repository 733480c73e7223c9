package sim_test

import (
	"slices"
	"testing"

	"lugtak/core/inspect"
	"lugtak/device/sim"
)

func analyse(t *testing.T, r sim.Road) inspect.Spectrum {
	t.Helper()
	var drive []inspect.RoadSample
	for _, x := range r.Drive() {
		drive = append(drive, inspect.RoadSample(x))
	}
	sp, err := inspect.Analyse(drive, r.CircumferenceM, inspect.Orders(1, r.AxleRatio, 0))
	if err != nil {
		t.Fatal(err)
	}
	return sp
}

// A known fault is found at its order, at several speeds and with noise of twice
// its size; a clean drive shows nothing.
func TestOrdersOfRecordedDrives(t *testing.T) {
	found, clean, of := 0, 0, 0
	for seed := range uint64(12) {
		for _, speed := range []float64{50, 80, 110} {
			base := sim.Road{
				CircumferenceM: 2.0,
				AxleRatio:      3.73,
				FromKMH:        speed - 6,
				ToKMH:          speed + 6,
				Seconds:        45,
				Rate:           400,
				Noise:          0.4,
				Seed:           seed*100 + uint64(speed),
			}
			for sign, set := range map[string]func(*sim.Road){
				"vib-wheel-1": func(r *sim.Road) { r.Imbalance = 0.2 },
				"vib-wheel-2": func(r *sim.Road) { r.OutOfRound = 0.2 },
				"vib-shaft-1": func(r *sim.Road) { r.ShaftRunOut = 0.2 },
				"vib-shaft-2": func(r *sim.Road) { r.CrossJoint = 0.2 },
			} {
				r := base
				set(&r)
				of++
				if sp := analyse(t, r); len(sp.Peaks) > 0 && sp.Peaks[0].Sign == sign {
					found++
				} else {
					t.Logf("%s at %.0f km/h, seed %d: %+v", sign, speed, seed, sp.Peaks)
				}
			}
			if sp := analyse(t, base); len(sp.Peaks) == 0 {
				clean++
			} else {
				t.Logf("clean at %.0f km/h, seed %d: %+v", speed, seed, sp.Peaks)
			}
		}
	}
	if found < of*98/100 || clean < 35 {
		t.Errorf("%d of %d found, %d of 36 clean", found, of, clean)
	}
}

func TestTwoFaultsOnOneDrive(t *testing.T) {
	sp := analyse(
		t,
		sim.Road{
			CircumferenceM: 2.1,
			AxleRatio:      4.1,
			FromKMH:        60,
			ToKMH:          100,
			Seconds:        60,
			Rate:           500,
			Noise:          0.3,
			Imbalance:      0.3,
			CrossJoint:     0.2,
			Seed:           5,
		},
	)
	var signs []string
	for _, p := range sp.Peaks {
		signs = append(signs, p.Sign)
	}
	if !slices.Equal(signs, []string{"vib-wheel-1", "vib-shaft-2"}) {
		t.Errorf("%v", signs)
	}
	if len(sp.Falls) < 20 || sp.Falls[0].Speed > 70 || sp.Falls[len(sp.Falls)-1].Speed < 90 {
		t.Errorf("%d stretches", len(sp.Falls))
	}
}
