package web

import (
	"cmp"
	"slices"
	"strings"

	"lugtak/core/unit"
	"lugtak/web/kit"
)

// What a job waits for, as Bays are chosen by it.
const (
	waitsWalk    = "walk"
	waitsTrouble = "trouble"
	waitsPart    = "part"
	waitsSign    = "signature"
	waitsHands   = "hands"
)

// Orders in which bays are shown.
const (
	byFleet  = ""
	byBay    = "bay"
	byOwed   = "owed"
	byLonger = "longest"
)

// bayChoice is which bays are shown, and how.
type bayChoice struct {
	Find string    `form:"q"`
	For  string    `form:"for"` // what is waited for; empty for all
	By   string    `form:"by"`
	At   kit.Whole `form:"page"`
}

var (
	bayFors = []choice{
		{"", "all"},
		{waitsHands, "hands"},
		{waitsPart, "a part"},
		{waitsTrouble, "a trouble cleared"},
		{waitsWalk, "the walk-round"},
		{waitsSign, "the signature"},
	}
	bayBys = []choice{
		{byFleet, "fleet number"},
		{byBay, "bay"},
		{byOwed, "most owed"},
		{byLonger, "untouched longest"},
	}
)

// How many bays a page shows, and from how many on they are chosen from.
const (
	baysPage = 24
	manyBays = 8
	idleMost = 24
)

// choose gives the bays that are asked for, in their order.
func (x bayChoice) choose(all []bayView) []bayView {
	out := slices.DeleteFunc(slices.Clone(all), func(b bayView) bool { return !x.fits(b) })
	slices.SortStableFunc(out, func(a, b bayView) int { return natural(a.Vehicle.Fleet, b.Vehicle.Fleet) })
	switch x.By {
	case byBay:
		slices.SortStableFunc(out, func(a, b bayView) int { return natural(a.Vehicle.Bay, b.Vehicle.Bay) })
	case byOwed:
		slices.SortStableFunc(out, func(a, b bayView) int { return cmp.Compare(b.owed(), a.owed()) })
	case byLonger:
		slices.SortStableFunc(out, func(a, b bayView) int { return a.touched().Compare(b.touched()) })
	}
	return out
}

func (x bayChoice) fits(b bayView) bool {
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

// Heading is the bay's name where a group of it begins.
func (v baysView) Heading(i int) string {
	if v.Choice.By != byBay || i > 0 && v.Bays[i].Vehicle.Bay == v.Bays[i-1].Vehicle.Bay {
		return ""
	}
	return cmp.Or(v.Bays[i].Vehicle.Bay, "no bay")
}

// pageOf is the page that is asked for, within how many there are, with those beside it: 0
// where there is none.
func pageOf(asked, of, size int) (page, last, prev, next int) {
	last = max(1, (of+size-1)/size)
	page = min(max(1, asked), last)
	if page > 1 {
		prev = page - 1
	}
	if page < last {
		next = page + 1
	}
	return page, last, prev, next
}
