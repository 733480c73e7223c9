package draw

import (
	"fmt"
	"strings"
	"testing"

	"lugtak/core/wrench"
)

// What a choice says is what is kept of it: the nut goes on as far as the hole stands past
// its slot.
func TestHolesSayWhatIsKept(t *testing.T) {
	for _, h := range Holes() {
		on, err := wrench.CastleNut(6, h.Deg)
		if err != nil {
			t.Fatal(err)
		}
		says := "the hole stands in the slot"
		if on > 0 {
			says = fmt.Sprintf("on by %g° till", on)
		}
		if !strings.Contains(string(h.Picture), says) {
			t.Errorf("a hole %g° past its slot: kept as %g°, and drawn %.120s", h.Deg, on, h.Picture)
		}
	}
}
