package wrench

import (
	"math"
	"testing"

	"lugtak/core/fault"
)

// By hand: 1.5 by gravity; 2.5 and 0.03 a second about the vertical; 1 more a grip.
func TestPhoneBand(t *testing.T) {
	for _, c := range []struct {
		turn PhoneTurn
		band float64
		code fault.Code
	}{
		{PhoneTurn{Seconds: 9}, 1.5, ""},
		{PhoneTurn{Seconds: 9, Grips: 2}, 3.5, ""},
		{PhoneTurn{Seconds: 20, Upright: true}, 3.1, ""},
		{PhoneTurn{Seconds: 20, Upright: true, Grips: 1, StrayDeg: 15}, 4.1, ""},
		{PhoneTurn{Seconds: 9, StrayDeg: 15.1}, 0, fault.Tool},
		{PhoneTurn{}, 0, fault.Missing},
		{PhoneTurn{Seconds: -1}, 0, fault.Missing},
		{PhoneTurn{Seconds: math.NaN()}, 0, fault.Missing},
		{PhoneTurn{Seconds: math.Inf(1), Upright: true}, 0, fault.Missing},
		{PhoneTurn{Seconds: 9, Grips: -3}, 0, fault.Missing},
		{PhoneTurn{Seconds: 9, StrayDeg: math.NaN()}, 0, fault.Missing},
	} {
		band, err := c.turn.Band()
		var code fault.Code
		if f := fault.As(err); f != nil {
			code = f.Code
		}
		if math.Abs(band-c.band) > 1e-9 || code != c.code {
			t.Errorf("%+v: %v, %q; want %v, %q", c.turn, band, code, c.band, c.code)
		}
	}
	if !PhoneCan(88.5, 91.5) || PhoneCan(88.6, 91.5) {
		t.Error("a window as wide as what a phone tells best is told, and no narrower one")
	}
}
