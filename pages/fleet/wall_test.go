package fleet

import (
	"fmt"
	"slices"
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
	few, _, pages := turned(at(3), []place{{Name: "bay 2"}, {Name: "bay 4"}}, noon)
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
		bays, _, pages = turned(at(14), []place{{Name: "bay 20"}}, noon.Add(time.Duration(i)*wallTurn))
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

// A place is free where nobody works, and says who was put there last; a place beyond those the shop has is none.
func TestFreePlaces(t *testing.T) {
	at := func(fleet, place string) bay { return bay{Vehicle: vehicle.Vehicle{Fleet: fleet, Bay: place}} }
	got := free([]bay{at("Q-1", "bay 1"), at("Q-9", "bay 9")},
		[]bay{at("P-2", "bay 2"), at("P-3", "bay 2"), at("P-4", "bay 1"), at("P-5", "yard")}, 3)
	if want := []place{{"bay 2", "P-2, P-3"}, {"bay 3", ""}}; !slices.Equal(got, want) {
		t.Errorf("%v, not %v", got, want)
	}
}
