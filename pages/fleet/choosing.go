package fleet

import (
	"cmp"
	"lugtak/core/unit"
	"lugtak/pages/kit"
	"slices"
	"strings"
)

// What a job waits for, as Bays are chosen by it.
const (
	waitsWalk    = "walk"
	waitsTrouble = "trouble"
	waitsPart    = "part"
	waitsSign    = "signature"
	waitsSoak    = "soak"
	waitsRoad    = "road"
	waitsHands   = "hands"
)

// Orders in which bays are shown.
const (
	byBay    = ""
	byFleet  = "fleet"
	byOwed   = "owed"
	byLonger = "longest"
)

// Choice is which bays are shown, and how.
type Choice struct {
	Find string
	For  string // what is waited for; empty for all
	By   string
	Page int
}

var (
	bayFors = []kit.Choice{
		{Value: "", Name: "all"},
		{Value: waitsHands, Name: "hands"},
		{Value: waitsPart, Name: "a part"},
		{Value: waitsTrouble, Name: "a trouble cleared"},
		{Value: waitsWalk, Name: "the walk-round"},
		{Value: waitsSign, Name: "the signature"},
		{Value: waitsSoak, Name: "a soak"},
		{Value: waitsRoad, Name: "the road test"},
	}
	bayBys = []kit.Choice{
		{Value: byBay, Name: "bay"},
		{Value: byFleet, Name: "fleet number"},
		{Value: byOwed, Name: "most owed"},
		{Value: byLonger, Name: "untouched longest"},
	}
)

// How many bays a page shows, and from how many on they are chosen from.
const (
	baysPage = 24
	manyBays = 12
	idleMost = 24
)

// choose gives the bays that are asked for, in their order.
func (x Choice) choose(all []bay) []bay {
	out := slices.DeleteFunc(slices.Clone(all), func(b bay) bool { return !x.fits(b) })
	slices.SortStableFunc(out, func(a, b bay) int { return natural(a.Vehicle.Fleet, b.Vehicle.Fleet) })
	switch x.By {
	case byBay:
		slices.SortStableFunc(out, func(a, b bay) int { return natural(a.Vehicle.Bay, b.Vehicle.Bay) })
	case byOwed:
		slices.SortStableFunc(out, func(a, b bay) int { return cmp.Compare(b.owed(), a.owed()) })
	case byLonger:
		slices.SortStableFunc(out, func(a, b bay) int { return a.touched().Compare(b.touched()) })
	}
	return out
}

func (x Choice) fits(b bay) bool {
	v := b.Vehicle
	text := strings.Join([]string{v.Fleet, v.Plate, v.VIN, v.Name, v.Bay}, " ")
	waits := false
	for _, j := range b.Jobs {
		text += " " + j.Title + " " + j.Who
		waits = waits || j.For == x.For
	}
	if x.For != "" && !waits {
		return false
	}
	return strings.Contains(unit.Fold(text), unit.Fold(x.Find))
}

// natural compares names with numbers in them as people count: 2 before 10, an empty one last.
func natural(a, b string) int {
	if (a == "") != (b == "") {
		return cmp.Compare(b, a)
	}
	for a != "" && b != "" {
		x, y := run(a), run(b)
		a, b = a[len(x):], b[len(y):]
		if digit(x) && digit(y) {
			x, y = strings.TrimLeft(x, "0"), strings.TrimLeft(y, "0")
			if c := cmp.Compare(len(x), len(y)); c != 0 {
				return c
			}
		}
		if c := cmp.Compare(strings.ToLower(x), strings.ToLower(y)); c != 0 {
			return c
		}
	}
	return cmp.Compare(a, b)
}

func digit(s string) bool { return s != "" && s[0] >= '0' && s[0] <= '9' }

// run is the first run of digits, or of what is none, of a name.
func run(s string) string {
	i := 1
	for i < len(s) && digit(s[i:]) == digit(s) {
		i++
	}
	return s[:i]
}
