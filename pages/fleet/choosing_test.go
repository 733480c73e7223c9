package fleet

import (
	"strings"
	"testing"
	"time"

	"lugtak/core/vehicle"
)

func TestBaysAreChosen(t *testing.T) {
	day := func(n int) time.Time { return time.Date(2026, 11, n, 8, 0, 0, 0, time.UTC) }
	at := func(fleet, place, title, waits string, owed, touched int) bay {
		return bay{
			Vehicle: vehicle.Vehicle{Fleet: fleet, Bay: place, Name: "Van"},
			Jobs: []bayJob{{Title: title, For: waits, When: day(touched), Who: "Aro",
				Corners: map[vehicle.Corner]int{"FL": owed}}},
		}
	}
	all := []bay{
		at("P-10", "bay 2", "struts", waitsPart, 3, 5),
		at("P-2", "bay 10", "hub", waitsHands, 9, 7),
		at("Q-7", "", "links", waitsHands, 0, 1),
		at("P-3", "bay 2", "pads", waitsSign, 1, 9),
	}
	for name, c := range map[string]struct {
		choice Choice
		want   string
	}{
		"by bay":            {Choice{By: byBay}, "P-3 P-10 P-2 Q-7"},
		"by fleet number":   {Choice{By: byFleet}, "P-2 P-3 P-10 Q-7"},
		"by what is owed":   {Choice{By: byOwed}, "P-2 P-10 P-3 Q-7"},
		"untouched longest": {Choice{By: byLonger}, "Q-7 P-10 P-2 P-3"},
		"waiting for hands": {Choice{For: waitsHands}, "P-2 Q-7"},
		"found by work":     {Choice{Find: "STRUT"}, "P-10"},
		"found by number":   {Choice{Find: "p3"}, "P-3"},
		"found by nobody":   {Choice{Find: "gearbox"}, ""},
		"both":              {Choice{Find: "van", For: waitsSign, By: byBay}, "P-3"},
		"an unknown order":  {Choice{By: "colour"}, "P-2 P-3 P-10 Q-7"},
	} {
		var got []string
		for _, b := range c.choice.choose(all) {
			got = append(got, b.Vehicle.Fleet)
		}
		if is := strings.Join(got, " "); is != c.want {
			t.Errorf("%s: %s, want %s", name, is, c.want)
		}
	}
}
