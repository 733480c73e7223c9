package solid

import (
	"encoding/json"
	"math"
	"slices"
	"strings"
	"testing"
)

// Every joint that has a seat is shown in some overview, on a vehicle that has its part, with one fastener at
// least to be seen where its sign stands; the left corner's picture is the mirror of the right one's, pane by
// pane.
func TestSeats(t *testing.T) {
	a, parts := album(t)
	shown, plain := map[string]bool{}, map[string]bool{}
	all, crossed := 0, 0
	for i := range a.Scenes {
		if !a.Scenes[i].Overview {
			continue
		}
		for _, built := range a.Vehicles(&a.Scenes[i]) {
			s, ok := a.On(&a.Scenes[i], built)
			if !ok {
				continue
			}
			right, seats := overview(t, a, parts, *s, false)
			for _, x := range seats {
				if x.X < 0 || x.X > Width || x.Y < 0 || x.Y > Height {
					t.Errorf("%s: %s %d lies outside, at %.0f, %.0f", s.Key, x.Of, x.K, x.X, x.Y)
				}
				shown[x.Of] = true
				for _, v := range right.shown {
					part, _, _ := v.stage.first(a.Seats[x.Of][x.K])
					if v.near(v.stage.placed[part], x.X-float64(v.x0), x.Y) > 0 {
						plain[x.Of] = true
					}
				}
			}
			_, other := overview(t, a, parts, *s, true)
			if len(other) != len(seats) {
				t.Fatalf("%s: %d seats on the right, %d on the left", s.Key, len(seats), len(other))
			}
			for k, x := range seats {
				o := other[k]
				same, mirrored := mirrors(x, o, len(s.Panes))
				all++
				if !same {
					crossed++
				} else if !mirrored {
					t.Errorf("%s: %s %d at %.0f, %.0f on the right, %.0f, %.0f on the left", s.Key, x.Of, x.K, x.X, x.Y, o.X, o.Y)
				}
			}
		}
	}
	if crossed > all/100 { // one as well seen in both panes may stand in either
		t.Errorf("%d of %d seats stand in another pane on the left", crossed, all)
	}
	for joint := range a.Seats {
		if !shown[joint] || !plain[joint] {
			t.Errorf("%s: shown %v, to be seen %v", joint, shown[joint], plain[joint])
		}
	}
}

// mirrors says whether two seats stand in the same pane, and whether they are one another's mirror there.
func mirrors(x, o Seat, panes int) (same, mirrored bool) {
	wide := Width / float64(max(panes, 1))
	pane := func(s Seat) float64 { return math.Floor(math.Min(s.X, Width-1) / wide) }
	return pane(x) == pane(o), math.Abs((x.X-wide*pane(x))+(o.X-wide*pane(o))-wide) <= 2 && math.Abs(x.Y-o.Y) <= 2
}

func overview(t *testing.T, a *Album, parts map[string]*Part, s Scene, left bool) (*Picture, []Seat) {
	t.Helper()
	pic, err := drawAt(1, s, parts, a, left)
	if err != nil {
		t.Fatal(err)
	}
	var places Places
	if err := json.Unmarshal([]byte(pic.Over), &places); err != nil {
		t.Fatal(err)
	}
	return pic, places.Seats
}

// A vehicle without a part shows no fastener of it, and none of it twice.
func TestSeatsOfAbsentParts(t *testing.T) {
	a, parts := album(t)
	built := Answers{axleKey: "rear", "rear-axle": "beam", "rear-brake": "drum", "caliper": "bracket", "drum-seat": "over"}
	s := a.Overview("rear", built)
	if s == nil {
		t.Fatal("a rear corner with a drum has no picture")
	}
	const drum = "brake.{axle}.drum brake.{axle}.cylinder brake.{axle}.bleeder brake.{axle}.pipe"
	_, seats := overview(t, a, parts, *s, false)
	for i, x := range seats {
		if strings.HasPrefix(x.Of, "brake.") && !strings.Contains(drum, x.Of) || strings.Contains(x.Of, "ubolt") {
			t.Errorf("a drum on a beam shows %s", x.Of)
		}
		if slices.ContainsFunc(seats[:i], func(o Seat) bool { return o.Of == x.Of && o.K == x.K }) {
			t.Errorf("%s %d is shown twice", x.Of, x.K)
		}
	}
	if a.Overview("rear", Answers{axleKey: "rear", "rear-axle": "none"}) != nil {
		t.Error("a corner that is built as none has a picture")
	}
}
