package inspect

import "testing"

func TestALimitSays(t *testing.T) {
	for want, l := range map[string]Limit{
		"at most 0.08 mm":  {Value: 0.08, Unit: "mm"},
		"at least 1.6 mm":  {Value: 1.6, Unit: "mm", Least: true},
		"0.02 to 0.13 mm":  {Value: 0.13, Floor: 0.02, Unit: "mm"},
		"at most 44.45 mm": {Value: 44.45, Unit: "mm"},
	} {
		if got := l.Says(); got != want {
			t.Errorf("%q, want %q", got, want)
		}
	}
}
