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
