package draw

import (
	"encoding/json"
	"fmt"
	"html/template"
	"math"

	"lugtak/core/brake"
)

// drawBedding is the calculator's picture: two discs and air of 20 °C where it is not said.
func drawBedding(in map[string]json.RawMessage) template.HTML {
	s := brake.Series{
		MassKG:     num(in, "mass_kg"),
		FromKMH:    num(in, "from_kmh"),
		ToKMH:      num(in, "to_kmh"),
		FrontShare: num(in, "front_share"),
		RotorKG:    num(in, "rotor_kg"),
		Rotors:     max(1, int(num(in, "rotors"))),
		Stops:      int(num(in, "stops")),
		IntervalS:  num(in, "interval_s"),
		AmbientC:   20,
		AreaM2:     num(in, "area_m2"),
	}
	if _, given := in["rotors"]; !given {
		s.Rotors = 2
	}
	if _, given := in["ambient_c"]; given {
		s.AmbientC = num(in, "ambient_c")
	}
	return Bedding(s)
}

// Bedding draws a disc's temperature over a series of stops, with where a street pad fades;
// nothing where the series cannot be reckoned.
func Bedding(s brake.Series) template.HTML {
	h, err := s.Reckon()
	if err != nil {
		return ""
	}
	const left, right, top, foot = 60.0, 540.0, 16.0, 150.0
	last := h.PeaksC[s.Stops-1]
	hot := math.Max(brake.FadeC+20, last*1.08)
	span := math.Max(1, float64(s.Stops)*s.IntervalS)
	x := func(sec float64) float64 { return left + (right-left)*sec/span }
	y := func(c float64) float64 { return foot - (foot-top)*(c-s.AmbientC)/(hot-s.AmbientC) }
	d := newCanvas(560, 190, fmt.Sprintf("the disc reaches %.0f °C after %d stops; a street pad fades at some %.0f",
		last, s.Stops, brake.FadeC))
	d.line("d-mark", left, foot, right, foot)
	d.line("d-yield", left, y(brake.FadeC), right, y(brake.FadeC))
	d.text("d-text dim", left-6, y(brake.FadeC)+5, "end", "%.0f °C", brake.FadeC)
	d.text("d-text dim", left-6, foot, "end", "%.0f °C", s.AmbientC)
	var line [][2]float64
	for n, peak := range h.PeaksC {
		at := float64(n) * s.IntervalS
		line = append(line, [2]float64{x(at), y(peak - h.RiseK)}, [2]float64{x(at), y(peak)})
	}
	kept := math.Exp(-s.IntervalS / h.TauS)
	line = append(line, [2]float64{x(span), y(s.AmbientC + (last-s.AmbientC)*kept)})
	d.poly("d-curve", false, line...)
	d.text("d-text", right, 182, "end", "%.0f °C after %d stops, each %s K; %s min driven on to 100 °C",
		last, s.Stops, Plain(math.Round(h.RiseK)), Plain(math.Round(h.CoolS(last, 100, s.AmbientC)/60)))
	return d.html()
}
