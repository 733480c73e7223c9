package solid

import (
	"strings"
	"testing"
)

// The way round a wheel goes once to each nut, in the order asked for, and only where there is room for it.
func TestStarred(t *testing.T) {
	var p page
	p.rounds([][2]float64{{0, 0}, {400, 0}, {400, 400}, {0, 400}})
	over := "<a/>" + p.svg.String() + "<b/>"
	got := Starred(over, []int{0, 2, 1, 3})
	if !strings.HasPrefix(got, "<a/>") || !strings.HasSuffix(got, "<b/>") || strings.Contains(got, "data-at") {
		t.Error(got)
	}
	if n := strings.Count(got, "z"); n != 3 {
		t.Errorf("%d arrows", n)
	}
	if !strings.Contains(got, `d="M37 37L`) { // from the first towards the one across
		t.Error(got)
	}
	for _, left := range []string{"<a/>", over} {
		if got := Starred(left, []int{0, 9}); got != left {
			t.Errorf("%q became %q", left, got)
		}
	}
	p = page{}
	if p.rounds(make([][2]float64, 3)); p.svg.Len() > 0 {
		t.Error("three are gone round in a row")
	}
}
