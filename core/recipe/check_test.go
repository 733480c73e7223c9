package recipe

import (
	"testing"

	"lugtak/core/thread"
)

// What a bolt takes at its end: without an angle the figure; M12x1.5 10.9 by 60 N·m and a quarter turn goes near yield,
// and VDI 2230 (from memory) gives 137 N·m at nine tenths of it with a friction of 0.12.
func TestWhatItTakesAtItsEnd(t *testing.T) {
	for _, c := range []struct {
		recipe    string
		low, high float64
	}{
		{"90 Nm", 90, 90},
		{"40 Nm, 90 Nm", 90, 90},
		{"60 Nm + 90°", 125, 155},
	} {
		r, err := Parse(c.recipe)
		if err != nil {
			t.Fatal(err)
		}
		th, err := thread.Parse("M12x1.5")
		if err != nil {
			t.Fatal(err)
		}
		cl, err := thread.ParseClass("10.9", th)
		if err != nil {
			t.Fatal(err)
		}
		l, err := Reckon(r, Fastener{Thread: th, Class: cl, Treatment: thread.AsDelivered})
		if err != nil || l.End.Low < c.low || l.End.High > c.high || l.End.Low > l.End.Mid || l.End.Mid > l.End.High {
			t.Errorf("%s: %v, %v; want %v to %v", c.recipe, l.End, err, c.low, c.high)
		}
	}
}
