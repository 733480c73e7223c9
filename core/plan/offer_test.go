package plan

import (
	"testing"

	"lugtak/core/operation"
	"lugtak/core/vehicle"
)

// What is offered by distance was not ordered, has gone as far, and sits where the work is.
func TestOfferedByDistance(t *testing.T) {
	link := operation.Operation{ByDistance: &operation.ByDistance{KM: 80_000}}
	ordered := []Task{{Operation: "strut", Corner: "FL"}, {Operation: "link", Corner: "FR"}}
	for _, c := range []struct {
		name   string
		op     operation.Operation
		corner vehicle.Corner
		km     int
		want   bool
	}{
		{"at its distance", link, "FL", 80_000, true},
		{"short of it", link, "FL", 79_999, false},
		{"no reading of the odometer", link, "FL", 0, false},
		{"ordered already", link, "FR", 90_000, false},
		{"at another corner", link, "RL", 90_000, false},
		{"renewed on finding only", operation.Operation{}, "FL", 900_000, false},
	} {
		if got := (Task{"link", c.corner}).OfferedByDistance(c.op, ordered, c.km); got != c.want {
			t.Errorf("%s: %v", c.name, got)
		}
	}
}

// Which way a joint tightens is what its recipe says of its thread.
func TestLeftHand(t *testing.T) {
	for recipe, want := range map[string]bool{
		"60 Nm": false, "60 Nm + 90°": false, "left hand thread: 60 Nm": true, "LH thread 60 Nm + 90°": true, "": false,
	} {
		if got := (Joint{Spec: vehicle.Spec{Recipe: recipe}}).LeftHand(); got != want {
			t.Errorf("%q: %v", recipe, got)
		}
	}
}
