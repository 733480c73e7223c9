package draw

import (
	"strings"
	"testing"

	"lugtak/core/job"
	"lugtak/core/record"
)

// The thinnest point is marked, and a swing over its limit says what to do about it.
func TestDiscAndRunOut(t *testing.T) {
	measured := func(key string, value, limit float64, readings ...float64) job.Measurement {
		return job.Measurement{Measured: record.Measured{Key: key, Value: value, Limit: limit, Readings: readings}}
	}
	for name, c := range map[string]struct {
		drawn string
		has   []string
		lacks string
	}{
		"rotor": {
			string(Disc(measured("rotor", 24.8, 25, 25.1, 24.8, 25))), []string{`class="d-dot bad"`, "24.8", "≥ 25"}, "",
		},
		"in its swing": {
			string(RunOut(measured("rotor-runout", 0.04, 0.08))), []string{"limit 0.08 mm", "swing 0.04 mm"}, "turn it",
		},
		"over it": {
			string(RunOut(measured("rotor-runout", 0.1, 0.05))), []string{"swing 0.1 mm", "turn it a hole on"}, "NaN",
		},
		"of the hub": {string(RunOut(measured("hub-runout", 0.1, 0.05))), []string{"the face clean"}, "a hole on"},
	} {
		for _, want := range c.has {
			if !strings.Contains(c.drawn, want) {
				t.Errorf("%s lacks %q: %s", name, want, c.drawn)
			}
		}
		if c.lacks != "" && strings.Contains(c.drawn, c.lacks) {
			t.Errorf("%s says %q", name, c.lacks)
		}
	}
	if Disc(measured("lash", 20, 30, 1, 2)) != "" || RunOut(measured("lash", 20, 30)) != "" ||
		Disc(measured("rotor", 25, 24, 25)) != "" {
		t.Error("a disc is drawn of what is none")
	}
}
