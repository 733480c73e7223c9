package draw

import (
	"strings"
	"testing"

	"lugtak/core/job"
)

// Two drives are drawn to one scale, and say the loudest of each; one that tells nothing is
// not compared.
func TestCompared(t *testing.T) {
	drive := func(peak float64) job.Drive {
		d := job.Drive{Step: 0.05, Amplitude: make([]float64, 81)}
		d.Amplitude[0] = 9 // how the road was driven tells nothing
		d.Amplitude[20] = peak
		return d
	}
	got := string(Compared(drive(0.8), drive(0.1)))
	for _, want := range []string{"the loudest was 0.80", "and is 0.10", "d-was", "loudest 0.8 m/s² before, 0.1 now"} {
		if !strings.Contains(got, want) {
			t.Errorf("lacks %q in %.400s", want, got)
		}
	}
	if n := strings.Count(got, "<polyline"); n != 2 {
		t.Errorf("%d curves", n)
	}
	for name, d := range map[string]job.Drive{"nothing": {}, "no step": {Amplitude: make([]float64, 81)}} {
		if Compared(d, drive(1)) != "" || Compared(drive(1), d) != "" {
			t.Errorf("a drive with %s is compared", name)
		}
	}
}
