package fleet

import (
	"lugtak/core/listing"
	"slices"
	"testing"
)

// Work that was signed more than once came back; how far it lasted is between the signatures.
func TestCameBack(t *testing.T) {
	rows := []listing.Job{ // the newest first
		{Title: "Hub, left · Pads", KM: 90_000, Signed: true},
		{Title: "Pads", KM: 80_000},
		{Title: "Hub, left", KM: 70_000, Signed: true, Broken: "cut"},
		{Title: "Pads", KM: 60_000, Signed: true},
		{Title: "Hub, left", KM: 30_000, Signed: true},
		{Title: "Pads · Hub, left", KM: 10_000, Signed: true},
	}
	want := []cameBack{
		{"Hub, left", "lasted 20\u202f000 km, then 60\u202f000 km"},
		{"Pads", "lasted 50\u202f000 km, then 30\u202f000 km"},
	}
	if got := again(rows); !slices.Equal(got, want) {
		t.Errorf("%v, want %v", got, want)
	}
}
