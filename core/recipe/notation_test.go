package recipe

import (
	"slices"
	"testing"

	"lugtak/core/fault"
)

// The table is written from the notation, not from what the parser gives.
func TestNotation(t *testing.T) {
	all := Notation()
	if len(all) < 300 {
		t.Errorf("%d texts", len(all))
	}
	for _, x := range all {
		r, err := Parse(x.Text)
		if x.Refused == "" {
			if err != nil || r.String() != x.Means {
				t.Errorf("%q reads as %q, %v; want %q", x.Text, r, err, x.Means)
				continue
			}
			if wrong := unlawful(x.Text); wrong != "" {
				t.Error(wrong)
			}
			continue
		}
		f := fault.As(err)
		if f == nil {
			t.Errorf("%q reads as %q; want it refused as %s", x.Text, r, x.Refused)
			continue
		}
		if string(f.Code) != x.Refused || !slices.Equal(f.Readings, x.Readings) {
			t.Errorf("%q is refused as %s with %q; want %s with %q", x.Text, f.Code, f.Readings, x.Refused, x.Readings)
		}
	}
}
