package bench

import "testing"

// What is said of a pull; what it is stands in core/wrench.
func TestEffort(t *testing.T) {
	for _, c := range []struct {
		nm, mm float64
		says   string
	}{
		{100, 425, ""},
		{110, 425, "near 260 N at 425 mm: both hands"},
		{240, 425, "near 560 N at 425 mm, more than one pulls steadily: 550 mm, or a multiplier"},
		{100, 0, ""}, // a wrench whose length nobody wrote down
	} {
		if got := effort(c.nm, c.mm); got != c.says {
			t.Errorf("%v N·m on %v mm: %q, not %q", c.nm, c.mm, got, c.says)
		}
	}
}
