package fleet

import (
	"fmt"
	"testing"
	"time"

	"lugtak/core/vehicle"
)

// With more vehicles at work than the wall shows its page turns by the clock, every one comes by, and what is in
// trouble is on each page; with fewer the free places of the floor stand between them.
func TestWallTurns(t *testing.T) {
	noon := time.Unix(1_800_000_000, 0)
	at := func(n int) []bay {
		var out []bay
		for i := range n {
			b := bay{Vehicle: vehicle.Vehicle{Fleet: fmt.Sprintf("Q-%d", i), Bay: fmt.Sprintf("bay %d", i+1)}}
			b.Jobs = []bayJob{{For: waitsHands}}
			if i == 4 {
				b.Jobs[0].For = waitsTrouble
			}
			out = append(out, b)
		}
		return out
	}
	few, _, pages := turned(at(3), []string{"bay 2", "bay 4"}, noon)
	var names []string
	for _, b := range few {
		names = append(names, fmt.Sprint(b.Number, b.Free))
	}
	if pages != 1 || fmt.Sprint(names) != "[1false 2false 2true 3false 4true]" {
		t.Errorf("%d pages, %v", pages, names)
	}
	seen := map[string]int{}
	for i := range 4 {
		var bays []wallBay
		bays, _, pages = turned(at(14), []string{"bay 20"}, noon.Add(time.Duration(i)*wallTurn))
		if len(bays) > wallBays {
			t.Errorf("%d at once", len(bays))
		}
		for _, b := range bays {
			seen[b.Vehicle.Fleet]++
		}
	}
	if pages != 2 || len(seen) != 14 || seen["Q-4"] != 4 {
		t.Errorf("%d pages show %d vehicles, the one in trouble %d times", pages, len(seen), seen["Q-4"])
	}
}
