package inspect

import (
	"math"
	"testing"
)

// Whatever stands in a sheet or a recorded drive, it is read with figures or refused.
func FuzzReadSheet(f *testing.F) {
	for _, s := range []string{"toe FL 0.12\ntoe FR 0.10", "camber;RL;-1,2", "toe\tFL\tNaN", "time_s,g\n0,0.1\n0.001,0.2",
		"\ufeff,,\n\"", "toe FL 1e999"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, text string) {
		angles, err := ReadSheet(text)
		if err != nil && len(angles) > 0 {
			t.Error("angles and a fault")
		}
		for _, a := range angles {
			for _, deg := range []float64{a.Before, a.After} {
				if math.IsNaN(deg) || math.IsInf(deg, 0) {
					t.Errorf("%+v", a)
				}
			}
		}
		drive, err := ReadRoadCSV(text)
		if err == nil && len(drive) == 0 {
			t.Error("neither a sample nor a fault")
		}
	})
}
