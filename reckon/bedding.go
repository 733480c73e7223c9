package reckon

import (
	"math"

	"lugtak/core/brake"
)

var braking = []Calc{
	calc(Calc{
		Name:    "bedding",
		Of:      Brake,
		Asks:    "How hot does bedding it get?",
		Title:   "A series of stops",
		Formula: "ΔT = ½·m·(v1² − v2²)·share / (rotors · rotor · 460 J/(kg·K)); cools by e^(−t/τ), τ = m·c/(h·A)",
		Source: "energy balance, Newton's cooling; convection by R. Limpert, Brake Design and Safety, from memory; " +
			"engine, tyres and pads left out: rather too hot",
		Example: `{"mass_kg":1500,"from_kmh":60,"to_kmh":20,"front_share":0.7,"rotor_kg":7,"stops":10,"interval_s":30}`,
	}, bedding),
}

type beddingIn struct {
	MassKG     float64  `json:"mass_kg"`
	FromKMH    float64  `json:"from_kmh"`
	ToKMH      float64  `json:"to_kmh"`
	FrontShare float64  `json:"front_share"`
	RotorKG    float64  `json:"rotor_kg"`
	Stops      int      `json:"stops"`
	IntervalS  float64  `json:"interval_s"`
	AmbientC   *float64 `json:"ambient_c,omitempty"`
	AreaM2     float64  `json:"area_m2,omitempty"`
	Rotors     int      `json:"rotors,omitempty"`
}

type beddingOut struct {
	TemperaturesC []float64 `json:"temperatures_c"` // peak after each stop
	EnergyKJ      float64   `json:"energy_kj"`      // of each stop, the whole vehicle
	RiseK         float64   `json:"rise_k"`         // of the disc, each stop
	AreaM2        float64   `json:"area_m2"`        // reckoned with
	TauS          float64   `json:"tau_s"`          // the difference to the air falls to 37 %
	CoolS         float64   `json:"cool_s"`         // driving on until it is at 100 °C
	Says          string    `json:"says"`
}

// series is the series of stops an input asks for: two discs on the axle and air of 20 °C
// where it does not say.
func (in beddingIn) series() brake.Series {
	s := brake.Series{
		MassKG:     in.MassKG,
		FromKMH:    in.FromKMH,
		ToKMH:      in.ToKMH,
		FrontShare: in.FrontShare,
		RotorKG:    in.RotorKG,
		Rotors:     in.Rotors,
		Stops:      in.Stops,
		IntervalS:  in.IntervalS,
		AmbientC:   20,
		AreaM2:     in.AreaM2,
	}
	if in.Rotors == 0 {
		s.Rotors = 2
	}
	if in.AmbientC != nil {
		s.AmbientC = *in.AmbientC
	}
	return s
}

// touchC is a disc one may stand beside and park with (common practice).
const touchC = 100.0

func bedding(in beddingIn) (beddingOut, error) {
	s := in.series()
	h, err := s.Reckon()
	if err != nil {
		return beddingOut{}, err
	}
	out := beddingOut{
		EnergyKJ: sig(h.EnergyKJ),
		RiseK:    sig(h.RiseK),
		AreaM2:   sig(h.AreaM2),
		TauS:     sig(h.TauS),
		Says:     h.Says(),
	}
	for _, t := range h.PeaksC {
		out.TemperaturesC = append(out.TemperaturesC, sig(t))
	}
	out.CoolS = math.Round(h.CoolS(h.PeaksC[s.Stops-1], touchC, s.AmbientC))
	return out, nil
}
