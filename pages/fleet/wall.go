package fleet

import (
	"slices"
	"time"

	"lugtak/core/vehicle"
	"lugtak/library"
	"lugtak/pages/kit"
)

// The wall shows so many bays at once, and turns its page after so long where there are more.
const (
	wallBays = 9
	wallTurn = 15 * time.Second
)

// Wall is how the floor stands, to be read from afar; nobody types there.
type Wall struct {
	Now         time.Time
	Bays        []wallBay
	Page, Pages int // from 1
	AtWork      int
	Owing       int
	Danger      int
	Key         string // the words by which a report of this shop is told from another's
}

// wallBay is one place: free where nobody works there.
type wallBay struct {
	Number string
	Free   bool
	Stood  string
	bay
}

// TheWall is a page of the floor, with the words of the shop's key.
func TheWall(x Standing, lib *library.Library, now time.Time, key string) kit.Page {
	b := baysOf(x, lib, now)
	w := Wall{Now: now, AtWork: b.AtWork, Owing: b.Owing, Danger: b.Danger, Key: key}
	w.Bays, w.Page, w.Pages = turned(b.Bays, b.Free, now)
	return pages.Page("wall", "The floor", w)
}

// turned is what the wall shows now: with more bays than fit its page turns by the clock, and what is in trouble
// stays; where they fit the free places stand between them.
func turned(taken []bay, free []place, now time.Time) (shown []wallBay, page, of int) {
	all := slices.Clone(taken)
	slices.SortStableFunc(all, func(a, b bay) int { return natural(a.Vehicle.Bay, b.Vehicle.Bay) })
	var stay, turn []wallBay
	for _, x := range all {
		if x.Edge() == waitsTrouble && len(all) > wallBays && len(stay) < wallBays-1 {
			stay = append(stay, wallBay{Number: x.Number(), bay: x})
		} else {
			turn = append(turn, wallBay{Number: x.Number(), bay: x})
		}
	}
	for _, x := range free {
		if len(turn) < wallBays && len(all) <= wallBays {
			at := bay{Vehicle: vehicle.Vehicle{Bay: x.Name}}
			turn = append(turn, wallBay{Number: at.Number(), Free: true, Stood: x.Stood, bay: at})
		}
	}
	if len(all) <= wallBays {
		slices.SortStableFunc(turn, func(a, b wallBay) int { return natural(a.Vehicle.Bay, b.Vehicle.Bay) })
	}
	room := wallBays - len(stay)
	of = max(1, (len(turn)+room-1)/room)
	page = 1 + int(now.Unix()/int64(wallTurn/time.Second))%of
	from := (page - 1) * room
	return append(stay, turn[from:min(from+room, len(turn))]...), page, of
}

// Word is what a bay waits for, in a word or two to be read from afar.
func (b wallBay) Word() string {
	if len(b.Jobs) == 0 {
		return ""
	}
	switch j := b.Jobs[0]; j.For {
	case waitsWalk:
		return "walk-round"
	case waitsTrouble:
		return j.Waits
	case waitsPart:
		return "part"
	case waitsSign:
		return "to sign"
	case waitsRoad:
		return "road test"
	case waitsSoak:
		return "soaks"
	default:
		return "at work"
	}
}
