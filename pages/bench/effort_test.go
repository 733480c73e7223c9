package bench

import "testing"

// By hand: N·m over metres. One hand 250 N, both 450 N (common practice).
func TestEffort(t *testing.T) {
	for _, c := range []struct {
		nm, mm float64
		says   string
	}{
		{100, 425, ""}, // 235 N
		{110, 425, "near 260 N at 425 mm: both hands"},
		{190, 425, "near 450 N at 425 mm: both hands"}, // 447
		{240, 425, "near 560 N at 425 mm, more than one pulls steadily: 550 mm, or a multiplier"},
		{300, 1000, "near 300 N at 1000 mm: both hands"},
		{100, 0, ""}, // a wrench whose length nobody wrote down
	} {
		if got := effort(c.nm, c.mm); got != c.says {
			t.Errorf("%v N·m on %v mm: %q, not %q", c.nm, c.mm, got, c.says)
		}
	}
}
