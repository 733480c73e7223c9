package draw

import "testing"

// Left is left, places keep apart and inside the frame, and a wheel fills from below.
func TestWalkPlan(t *testing.T) {
	var places []WalkPlace
	for key := range walkRooms {
		places = append(places, WalkPlace{Key: key, Corner: len(key) == 2, Chance: 0.5})
	}
	v := Walk(append(places, WalkPlace{Key: "roof"}))
	if len(v.Boxes) != len(walkRooms) {
		t.Fatalf("%d boxes of %d", len(v.Boxes), len(walkRooms))
	}
	for i, a := range v.Boxes {
		if a.X < 0 || a.Y < 0 || a.X+a.W > v.W || a.Y+a.H > v.H {
			t.Errorf("%s leaves the frame: %+v", a.Key, a)
		}
		for _, b := range v.Boxes[i+1:] {
			if a.X < b.X+b.W && b.X < a.X+a.W && a.Y < b.Y+b.H && b.Y < a.Y+a.H {
				t.Errorf("%s lies on %s", a.Key, b.Key)
			}
		}
		if !a.Corner {
			continue
		}
		left, front := a.Key[1] == 'L', a.Key[0] == 'F'
		if left != (a.Cx < v.W/2) || front != (a.Y < v.H/2) {
			t.Errorf("%s at %.0f, %.0f", a.Key, a.Cx, a.Y)
		}
		if beside := a.Wheel.X+a.Wheel.W <= a.X || a.Wheel.X >= a.X+a.W; !beside {
			t.Errorf("the wheel of %s lies on its words", a.Key)
		}
		if a.Fill.H != (wheelH-8)/2 || a.Fill.Y+a.Fill.H != a.Wheel.Y+a.Wheel.H-4 {
			t.Errorf("%s fills %+v of %+v", a.Key, a.Fill, a.Wheel)
		}
	}
}

// A fault at one of two corners of a side joins both; at one of an axle, or at one alone, nothing is joined.
func TestWalkBridge(t *testing.T) {
	at := func(together map[string]float64) WalkPlan {
		var places []WalkPlace
		for _, key := range []string{"FL", "FR", "RL", "RR"} {
			places = append(places, WalkPlace{Key: key, Corner: true, Together: together[key]})
		}
		return Walk(places)
	}
	if w := at(map[string]float64{"FR": 0.9, "RR": 0.9}); len(w.Bridges) != 1 || w.Bridges[0].X < walkW/2 ||
		w.Bridges[0].From >= w.Bridges[0].To || w.Bridges[0].Chance != 0.9 {
		t.Errorf("%+v", w.Bridges)
	}
	for _, together := range []map[string]float64{{"FL": 0.9, "FR": 0.9}, {"RL": 0.4}, nil, {"FL": 0.9, "RL": 0.2}} {
		if w := at(together); len(w.Bridges) != 0 {
			t.Errorf("%v: %+v", together, w.Bridges)
		}
	}
}
