package sim

import (
	"math"
	"math/rand/v2"

	"lugtak/device"
)

// Road is a stand-in road-test logger on a vehicle with chosen faults. It knows
// nothing of how a drive is judged.
type Road struct {
	CircumferenceM float64
	AxleRatio      float64 // 0 has no drive shaft
	FromKMH, ToKMH float64 // the speed drifts from one to the other
	Seconds        float64
	Rate           float64 // samples a second
	Noise          float64 // m/s² of road and engine
	Imbalance      float64 // m/s², once a wheel turn
	OutOfRound     float64 // m/s², twice a wheel turn
	ShaftRunOut    float64 // m/s², once a shaft turn
	CrossJoint     float64 // m/s², twice a shaft turn
	Seed           uint64
}

// RoadReading is one line of the log.
type RoadReading = device.RoadReading

// Drive records a whole drive.
func (r Road) Drive() []RoadReading {
	rng := rand.New(rand.NewPCG(r.Seed, 0x526f6164))
	phase := func() float64 { return 2 * math.Pi * rng.Float64() }
	p1, p2, p3, p4, sway := phase(), phase(), phase(), phase(), phase()
	var out []RoadReading
	turn, rough := 0.0, 0.0
	for i := 0; float64(i) < r.Seconds*r.Rate; i++ {
		t := float64(i) / r.Rate
		u := t / r.Seconds
		speed := r.FromKMH + (r.ToKMH-r.FromKMH)*u + 1.5*math.Sin(0.35*t+sway)
		turn += speed / 3.6 / r.CircumferenceM / r.Rate
		rough = 0.9*rough + 0.44*rng.NormFloat64() // the road is louder low down
		w := 2 * math.Pi * turn
		a := r.Noise * (0.7*rough + 0.7*rng.NormFloat64())
		a += r.Imbalance*math.Sin(w+p1) + r.OutOfRound*math.Sin(2*w+p2)
		a += r.ShaftRunOut*math.Sin(r.AxleRatio*w+p3) + r.CrossJoint*math.Sin(2*r.AxleRatio*w+p4)
		out = append(out, RoadReading{T: t, Accel: a, Speed: speed + 0.2*rng.NormFloat64()})
	}
	return out
}
