package brake

import (
	"math"
	"strings"
	"testing"

	"lugtak/core/fault"
)

// van is a series reckoned by hand: 1 500 kg from 60 to 20 km/h is ½·1500·(16.667² − 5.556²)
// = 185.2 kJ; 70 % on two front discs of 7 kg is 64.8 kJ into 7·460 = 3 220 J/K: 20.13 K.
func van() Series {
	return Series{
		MassKG:     1500,
		FromKMH:    60,
		ToKMH:      20,
		FrontShare: 0.7,
		RotorKG:    7,
		Rotors:     2,
		Stops:      10,
		IntervalS:  30,
		AmbientC:   20,
	}
}

func TestOneStopByHand(t *testing.T) {
	h, err := van().Reckon()
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		what             string
		got, want, error float64
	}{
		{"energy, kJ", h.EnergyKJ, 185.185, 0.001},
		{"rise, K", h.RiseK, 20.129, 0.001},
		{"first peak, °C", h.PeaksC[0], 40.129, 0.001},
	} {
		if math.Abs(c.got-c.want) > c.error {
			t.Errorf("%s: %.4f, want %.4f", c.what, c.got, c.want)
		}
	}
}

// The sum of a geometric series, as R. Limpert gives it for repeated stops (Brake Design and
// Safety): ΔT·(1 − e^(−nβ))/(1 − e^(−β)), reckoned here without the loop.
func TestSeriesIsGeometric(t *testing.T) {
	s := van()
	h, err := s.Reckon()
	if err != nil {
		t.Fatal(err)
	}
	beta := s.IntervalS / h.TauS
	for n, got := range h.PeaksC {
		want := s.AmbientC + h.RiseK*(1-math.Exp(-float64(n+1)*beta))/(1-math.Exp(-beta))
		if math.Abs(got-want) > 1e-9 {
			t.Errorf("stop %d: %.6f, want %.6f", n+1, got, want)
		}
	}
}

// Without time to cool all heat stays: an energy balance over the whole series.
func TestNoPauseKeepsAllHeat(t *testing.T) {
	s := van()
	s.IntervalS = 0
	h, err := s.Reckon()
	if err != nil {
		t.Fatal(err)
	}
	stored := (h.PeaksC[9] - 20) * 7 * 460 * 2
	given := 0.7 * 10 * 185185.185
	if math.Abs(stored-given) > 1 {
		t.Errorf("the discs hold %.0f J of %.0f", stored, given)
	}
}

// A moderate series stays below where a street pad fades, and its disc can be touched again
// after minutes, not seconds (common practice).
func TestSeriesOfCommonPractice(t *testing.T) {
	s := van()
	h, err := s.Reckon()
	if err != nil {
		t.Fatal(err)
	}
	peak := h.PeaksC[len(h.PeaksC)-1]
	if peak < 90 || peak > FadeC {
		t.Errorf("ten moderate stops reach %.0f °C", peak)
	}
	if cool := h.CoolS(peak, 60, 20) / 60; cool < 3 || cool > 30 {
		t.Errorf("it cools to 60 °C in %.1f min", cool)
	}
	if h.CoolS(50, 60, 20) != 0 || !math.IsInf(h.CoolS(100, 20, 20), 1) {
		t.Error("what is cool needs no time, and nothing gets colder than the air")
	}
	faster := s
	faster.FromKMH = 90
	if f, err := faster.Reckon(); err != nil || f.FilmW <= h.FilmW || f.TauS >= h.TauS {
		t.Errorf("faster air cools less: %v, %v", f, err)
	}
}

func TestNonsenseIsRefused(t *testing.T) {
	for field, change := range map[string]func(*Series){
		"mass_kg":     func(s *Series) { s.MassKG = math.NaN() },
		"from_kmh":    func(s *Series) { s.FromKMH = 300 },
		"to_kmh":      func(s *Series) { s.ToKMH = 60 },
		"front_share": func(s *Series) { s.FrontShare = 1.2 },
		"rotor_kg":    func(s *Series) { s.RotorKG = 0 },
		"rotors":      func(s *Series) { s.Rotors = 0 },
		"stops":       func(s *Series) { s.Stops = 0 },
		"interval_s":  func(s *Series) { s.IntervalS = -1 },
		"ambient_c":   func(s *Series) { s.AmbientC = 99 },
		"area_m2":     func(s *Series) { s.AreaM2 = math.Inf(1) },
	} {
		s := van()
		change(&s)
		_, err := s.Reckon()
		if f := fault.As(err); f == nil || f.Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// The film by hand at two speeds: at 36 km/h Re = 10·0.3/1.5e-5 = 2·10⁵, laminar, 0.70·0.026/0.3·Re^0.55 = 49.9;
// at 72 km/h Re = 4·10⁵, turbulent, 0.04·0.026/0.3·Re^0.8 = 105.1 W/(m²·K). Standing still, what still air takes.
func TestFilmByHand(t *testing.T) {
	for _, c := range []struct{ kmh, want float64 }{{36, 49.93}, {72, 105.06}, {0, 8}} {
		if got := film(c.kmh); math.Abs(got-c.want) > 0.15 {
			t.Errorf("%g km/h: %.2f, want %.2f", c.kmh, got, c.want)
		}
	}
}

// Words follow the hottest stop, which is the last, and each limit belongs to the cooler side.
func TestWordsFollowTheHottestStop(t *testing.T) {
	const fine, fades, blue = "Below where", "Hot enough", "Too hot"
	for _, c := range []struct {
		peaks []float64
		want  string
	}{
		{[]float64{100, 200, 340}, fine}, {[]float64{100, 350}, fine}, {[]float64{100, 351}, fades},
		{[]float64{40, 549}, fades}, {[]float64{40, 300, 551}, blue},
	} {
		if got := (Heat{PeaksC: c.peaks}).Says(); !strings.HasPrefix(got, c.want) {
			t.Errorf("%v: %s", c.peaks, got)
		}
	}
}

// Newton's law by hand: with a time constant of 500 s, a difference of 400 K falls to 100 in 500·ln 4 = 693 s.
func TestCoolingByHand(t *testing.T) {
	h := Heat{TauS: 500}
	for _, c := range []struct{ from, to, air, want float64 }{
		{420, 120, 20, 693.15}, {390, 90, -10, 693.15}, {120, 120, 20, 0}, {100, 120, 20, 0}, {120, 20, 20, math.Inf(1)},
	} {
		if got := h.CoolS(c.from, c.to, c.air); got != c.want && math.Abs(got-c.want) > 0.01 {
			t.Errorf("%g to %g in air of %g: %.2f s, want %.2f", c.from, c.to, c.air, got, c.want)
		}
	}
}
