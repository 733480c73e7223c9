package walk

import (
	"lugtak/core/diagnose"
	"lugtak/core/vehicle"
	"lugtak/draw"
	"slices"
)

// cornerPlaces are those that each corner of a vehicle has.
var cornerPlaces = []string{"wheel", "hub", "brake", "arm", "damper"}

// nearPlace is a finer place at a part of the vehicle.
type nearPlace struct {
	Key, Name string
	Here      bool
}

// finer are places of the questions, with what one calls them.
var finer = map[string]string{
	"road": "on the road", "engine": "engine bay", "steering": "steering linkage", "rack": "rack", "rod": "tie rods",
	"wheel": "wheel", "hub": "hub", "brake": "brake", "arm": "arms", "damper": "dampers", "link": "stabiliser",
	"cab": "cab", "shaft": "shafts",
}

// place is a place on the drawn vehicle with the finer ones it has.
type place struct {
	key, name string
	has       []string
}

func (p place) corner() bool { return slices.Contains(diagnose.Corners, diagnose.Corner(p.key)) }

// places are those of every vehicle.
var places = []place{
	{"road", "Road", []string{"road"}},
	{"engine", "Engine bay", []string{"engine"}},
	{"steering", "Steering", []string{"steering", "rack", "rod"}},
	{"cab", "Cab", []string{"cab"}},
	{"shaft", "Middle", []string{"shaft"}},
	{"FL", "FL", atCorner},
	{"FR", "FR", atCorner},
	{"RL", "RL", atCorner},
	{"RR", "RR", atCorner},
}

var atCorner = []string{"wheel", "hub", "brake", "arm", "damper", "link"}

// placed draws the places, each with what is left to try there and its suspicion.
func (v *View) placed(k *diagnose.Knowledge) {
	var drawn []draw.WalkPlace
	for _, x := range places {
		p := draw.WalkPlace{Key: x.key, Name: x.name, Corner: x.corner()}
		p.Here = v.Place == x.key || !p.Corner && slices.Contains(x.has, v.Place)
		for _, e := range k.Evidence {
			if slices.Contains(x.has, e.Place) && !answered(e, v.Job).Answered && follows(e, v.Job) {
				p.Open++
			}
		}
		for _, w := range v.Report.Suspects {
			c := vehicle.Corner(x.key)
			at := slices.Index(diagnose.Corners, c)
			switch {
			case w.Where == "" || w.ByCorner == nil:
			case w.Where == x.key:
				p.Chance = max(p.Chance, w.ByCorner[at])
			case p.Corner && (w.Where == c.Side() || w.Where == c.Axle()): // one of two corners, which nobody has told
				p.Chance = max(p.Chance, w.ByCorner[at])
				p.Together = max(p.Together, w.Chance)
			}
		}
		drawn = append(drawn, p)
		if (v.Place == x.key || slices.Contains(x.has, v.Place)) && len(x.has) > 1 && v.Near == nil {
			for _, key := range x.has {
				v.Near = append(v.Near, nearPlace{key, finer[key], key == v.Place})
			}
		}
	}
	v.Map = draw.Walk(drawn)
}

// shows says that the questions of a finer place stand on the page: it is in hand, or the
// whole part of the vehicle is.
func (v *View) shows(finer string) bool {
	if v.Place == finer {
		return true
	}
	return slices.ContainsFunc(places, func(x place) bool {
		return x.key == v.Place && x.corner() && slices.Contains(x.has, finer)
	})
}
