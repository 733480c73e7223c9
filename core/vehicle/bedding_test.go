package vehicle

import (
	"math"
	"testing"
)

// The two axles share the heat as they share the braking: by hand, ½·2000·(16.667² − 5.556²)
// J, a third of it on two rear discs of 6 kg.
func TestBeddingByAxle(t *testing.T) {
	b := Brakes{MassKG: 2000, FrontShare: 2.0 / 3, FrontRotorKG: 9, RearRotorKG: 6}
	energy := 2000 * (math.Pow(60/3.6, 2) - math.Pow(20/3.6, 2)) / 2
	for axle, want := range map[string]float64{
		"front": energy * 2 / 3 / 2 / (9 * 460),
		"rear":  energy / 3 / 2 / (6 * 460),
	} {
		h, err := b.Bedding(axle, 10, 60, 20, 30).Reckon()
		if err != nil || math.Abs(h.RiseK-want) > 1e-9 {
			t.Errorf("%s: %.4f K, want %.4f, %v", axle, h.RiseK, want, err)
		}
	}
	if _, err := (Brakes{}).Bedding("front", 10, 60, 20, 30).Reckon(); err == nil {
		t.Error("a vehicle of unknown mass is reckoned")
	}
}
