package web

import (
	"strings"
	"testing"
	"time"

	"lugtak/core/vehicle"
)

func TestBaysAreChosen(t *testing.T) {
	day := func(n int) time.Time { return time.Date(2026, 11, n, 8, 0, 0, 0, time.UTC) }
	bay := func(fleet, place, title, waits string, owed, touched int) bayView {
		return bayView{
			Vehicle: vehicle.Vehicle{Fleet: fleet, Bay: place, Name: "Van"},
			Jobs: []bayJob{{Title: title, For: waits, When: day(touched), Who: "Aro",
				Corners: map[vehicle.Corner]int{"FL": owed}}},
		}
	}
	all := []bayView{
		bay("P-10", "bay 2", "struts", waitsPart, 3, 5),
		bay("P-2", "bay 10", "hub", waitsHands, 9, 7),
		bay("Q-7", "", "links", waitsHands, 0, 1),
		bay("P-3", "bay 2", "pads", waitsSign, 1, 9),
	}
	for name, c := range map[string]struct {
		choice bayChoice
		want   string
	}{
		"by bay":            {bayChoice{By: byBay}, "P-3 P-10 P-2 Q-7"},
		"by fleet number":   {bayChoice{}, "P-2 P-3 P-10 Q-7"},
		"by what is owed":   {bayChoice{By: byOwed}, "P-2 P-10 P-3 Q-7"},
		"untouched longest": {bayChoice{By: byLonger}, "Q-7 P-10 P-2 P-3"},
		"waiting for hands": {bayChoice{For: waitsHands}, "P-2 Q-7"},
		"found by work":     {bayChoice{Find: "STRUT"}, "P-10"},
		"found by number":   {bayChoice{Find: "p3"}, "P-3"},
		"found by nobody":   {bayChoice{Find: "gearbox"}, ""},
		"both":              {bayChoice{Find: "van", For: waitsSign, By: byBay}, "P-3"},
		"an unknown order":  {bayChoice{By: "colour"}, "P-2 P-3 P-10 Q-7"},
	} {
		var got []string
		for _, b := range c.choice.choose(all) {
			got = append(got, b.Vehicle.Fleet)
		}
		if is := strings.Join(got, " "); is != c.want {
			t.Errorf("%s: %s, want %s", name, is, c.want)
		}
	}
	v := baysView{Choice: bayChoice{By: byBay}}
	v.Bays = v.Choice.choose(all)
	for i, want := range []string{"bay 2", "", "bay 10", "no bay"} {
		if got := v.Heading(i); got != want {
			t.Errorf("before %d stands %q, want %q", i, got, want)
		}
	}
}
