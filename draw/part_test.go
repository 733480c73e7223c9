package draw

import (
	"strings"
	"testing"

	"lugtak/core/part"
)

// Every kind of part is drawn from its own measures, the two to one scale; without
// measures nothing is drawn.
func TestPartPictures(t *testing.T) {
	for _, kind := range part.Kinds() {
		old, new := map[string]float64{}, map[string]float64{}
		for i, f := range part.Measures(kind) {
			old[f.Field], new[f.Field] = float64(20+10*i), float64(22+10*i)
		}
		got := string(Part(kind, old, new))
		if strings.Count(got, "d-part") < 2 || strings.Contains(got, "NaN") || strings.Contains(got, "not measured") {
			t.Errorf("%s: %.300s", kind, got)
		}
		if one := string(Part(kind, old, nil)); !strings.Contains(one, "not measured") {
			t.Errorf("%s: the new one is not missed", kind)
		}
		if Part(kind, nil, nil) != "" {
			t.Errorf("%s is drawn from nothing", kind)
		}
	}
	// Twice the diameter is twice the circle.
	two := string(Part("rotor", map[string]float64{"diameter_mm": 150}, map[string]float64{"diameter_mm": 300}))
	if strings.Count(two, "<circle") != 2 || !strings.Contains(two, `r="47.5"`) || !strings.Contains(two, `r="95.0"`) {
		t.Errorf("%s", two)
	}
}
