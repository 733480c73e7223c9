// Package brake reckons what a series of stops does to a brake's discs.
package brake

import (
	"math"

	"lugtak/core/fault"
)

// Series is a series of like stops from one speed to another, a stop begun every interval,
// with driving between to cool.
type Series struct {
	MassKG     float64 // of the vehicle as driven
	FromKMH    float64
	ToKMH      float64
	FrontShare float64 // of the braking, 0–1: that of the axle that is looked at
	RotorKG    float64 // of one disc
	Rotors     int     // on that axle
	Stops      int
	IntervalS  float64 // from the begin of one stop to the begin of the next
	AmbientC   float64
	AreaM2     float64 // that one disc cools by; 0 is reckoned from its mass
}

// Heat is what the series comes to.
type Heat struct {
	PeaksC   []float64 // after each stop
	EnergyKJ float64   // of the vehicle, each stop
	RiseK    float64   // of the disc, each stop
	AreaM2   float64   // that was reckoned with
	FilmW    float64   // heat given off, W/(m²·K)
	TauS     float64   // time in which the difference to the air falls to 37 %
}

// What the reckoning rests on. Grey iron stores 460 J/(kg·K) (handbook figures lie from 420
// to 500 for iron from cold to 200 °C; from memory). A ventilated disc of 9 kg and 300 mm has
// some 0.2 m² of faces, edges and vanes.
const (
	ironJ      = 460.0
	areaPerKG  = 0.022 // m²
	discM      = 0.30  // across, for the air that passes it
	airW       = 0.026 // W/(m·K), air at room temperature
	airM2      = 1.5e-5
	turbulent  = 2.4e5 // Reynolds number
	standstill = 8.0   // W/(m²·K), still air and radiation
)

// film is the heat a disc gives off at a road speed, W/(m²·K): R. Limpert, Brake Design and
// Safety, convection of a solid rotor, Re by its diameter (from memory).
func film(kmh float64) float64 {
	re := kmh / 3.6 * discM / airM2
	h := 0.70 * airW / discM * math.Pow(re, 0.55)
	if re > turbulent {
		h = 0.04 * airW / discM * math.Pow(re, 0.8)
	}
	return math.Max(standstill, h)
}

func (s Series) check() error {
	err := fault.First(
		fault.InRange("mass_kg", s.MassKG, 200, 60_000, "No road vehicle has that mass.",
			"Give it as driven, in kg, 200 to 60 000."),
		fault.InRange("from_kmh", s.FromKMH, 1, 250, "Nobody beds brakes from that speed.", "Give it in km/h, up to 250."),
		fault.InRange("to_kmh", s.ToKMH, 0, 250, "That is no speed to brake to.", "Give it in km/h, 0 for a stop."),
		fault.InRange("front_share", s.FrontShare, 0, 1, "A share of the braking lies between 0 and 1.",
			"Mostly 0.6 to 0.8 in front."),
		fault.InRange("rotor_kg", s.RotorKG, 0.5, 80, "No disc has that mass.", "Weigh one, in kg."),
		fault.InRange("rotors", float64(s.Rotors), 1, 8, "No axle has that many discs.", "Count them, mostly 2."),
		fault.InRange("stops", float64(s.Stops), 1, 200, "That is no series of stops.", "Give 1 to 200."),
		fault.InRange("interval_s", s.IntervalS, 0, 3600, "That is no pause.", "Give it in seconds, up to an hour."),
		fault.InRange("ambient_c", s.AmbientC, -50, 60, "Nobody drives in that air.", "Give it in °C."),
		fault.InRange("area_m2", s.AreaM2, 0, 10, "No disc has that surface.", "Give it in m², both faces and the vanes."),
	)
	if err != nil {
		return err
	}
	if s.ToKMH >= s.FromKMH {
		return fault.New(fault.OutOfRange, "to_kmh",
			"It does not brake: the speed at the end is not below that at the start.",
			"Give a lower speed to brake to.")
	}
	return nil
}

// Reckon gives the disc's temperature after each stop: the energy of a stop, ½·m·(v₁² − v₂²),
// shared by the discs of the axle, goes into the iron at once; until the next stop it cools
// toward the air by Newton's law at the middle of the two speeds. What the engine, the tyres
// and the pads take is left out, so that it rather says too much. Its fault names the field.
func (s Series) Reckon() (Heat, error) {
	if err := s.check(); err != nil {
		return Heat{}, err
	}
	v1, v2 := s.FromKMH/3.6, s.ToKMH/3.6
	energy := s.MassKG * (v1*v1 - v2*v2) / 2
	stored := s.RotorKG * ironJ
	h := Heat{
		EnergyKJ: energy / 1000,
		RiseK:    energy * s.FrontShare / float64(s.Rotors) / stored,
		AreaM2:   s.AreaM2,
		FilmW:    film((s.FromKMH + s.ToKMH) / 2),
	}
	if h.AreaM2 == 0 {
		h.AreaM2 = areaPerKG * s.RotorKG
	}
	h.TauS = stored / (h.FilmW * h.AreaM2)
	kept := math.Exp(-s.IntervalS / h.TauS)
	above := 0.0
	for n := range s.Stops {
		if n > 0 {
			above *= kept
		}
		above += h.RiseK
		h.PeaksC = append(h.PeaksC, s.AmbientC+above)
	}
	return h, nil
}

// Limits of a street pad and disc (common practice): binder begins to smell and fade, and
// iron turns blue.
const (
	FadeC = 350.0
	BlueC = 550.0
)

// Says is what the hottest of the series means, and what to watch for.
func (h Heat) Says() string {
	switch hot := h.PeaksC[len(h.PeaksC)-1]; {
	case hot > BlueC:
		return "Too hot: iron turns blue and pads burn. Fewer stops, a longer pause."
	case hot > FadeC:
		return "Hot enough for a street pad to smell and fade: lengthen the pause, stop at the first sign."
	}
	return "Below where a street pad fades. Smell, a fading pedal or a warning lamp: stop, cool, look."
}

// CoolS is how long the disc takes from one temperature to another in driving on, seconds;
// 0 where it is there already, +Inf where the air is not cool enough.
func (h Heat) CoolS(fromC, toC, ambientC float64) float64 {
	switch {
	case fromC <= toC:
		return 0
	case toC <= ambientC:
		return math.Inf(1)
	}
	return h.TauS * math.Log((fromC-ambientC)/(toC-ambientC))
}
