package job

import (
	"testing"

	"lugtak/core/fault"
)

// 60 % of yield at friction 0.12, rounded down. The figures of VDI 2230 part 1 table A1 (from memory) are for 90 %:
// M10 class 8.8 stands there with 51 N·m, M12 class 10.9 with 126 N·m, M8 class 8.8 with 26 N·m (at 0.12 rounded);
// two thirds of them are 34, 84 and 17.
func TestByBolt(t *testing.T) {
	for _, c := range []struct {
		thread, class string
		low, high     float64
	}{
		{"M8", "8.8", 16, 18},
		{"M10", "8.8", 32, 36},
		{"M12", "10.9", 80, 88},
	} {
		got, err := ByBolt(c.thread, c.class)
		if err != nil || got.Nm() < c.low || got.Nm() > c.high || got.Nm() != float64(int(got.Nm())) {
			t.Errorf("%s %s: %v, %v", c.thread, c.class, got, err)
		}
	}
	for field, c := range map[string][2]string{"thread": {"round", "8.8"}, "class": {"M10", "soft"}} {
		if _, err := ByBolt(c[0], c[1]); fault.As(err) == nil || fault.As(err).Field != field {
			t.Errorf("%v: %v, want a word at %s", c, err, field)
		}
	}
}
