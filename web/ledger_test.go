package web

import (
	"fmt"
	"strings"
	"testing"

	"lugtak/core/fault"
)

// Several figures are read with point or comma, parted by spaces or semicolons.
func TestFiguresOfOneField(t *testing.T) {
	for text, want := range map[string]string{"": "[]", "46,1 46.5; 46.25": "[46.1 46.5 46.25]", "  46  ": "[46]"} {
		if got, err := figures("lengths", text); err != nil || fmt.Sprint(got) != want {
			t.Errorf("%q: %v, %v", text, got, err)
		}
	}
	if _, err := figures("lengths", "46.1 about"); fault.As(err) == nil || fault.As(err).Field != "lengths" ||
		!strings.Contains(fault.As(err).Detail, "about") {
		t.Errorf("a word among figures: %v", err)
	}
}
