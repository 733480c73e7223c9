package operation

import (
	"testing"

	"lugtak/core/vehicle"
)

// Two operations that end on the same stretch are driven once, and all that either listens
// for is listened for: common practice.
func TestDrives(t *testing.T) {
	for _, c := range []struct {
		name        string
		first, then Manoeuvre
		want        []string // what is listened for at each
	}{
		{
			"the same", Manoeuvre{Do: "bumps", Listen: "no knock"}, Manoeuvre{Do: "bumps", Listen: "no knock"},
			[]string{"no knock"},
		},
		{
			"more to hear",
			Manoeuvre{Do: "bumps", Listen: "no knock"},
			Manoeuvre{Do: "bumps", Listen: "no knock, no rattle"},
			[]string{"no knock, no rattle"},
		},
		{
			"something else to hear",
			Manoeuvre{Do: "bumps", Listen: "no knock, no rattle"},
			Manoeuvre{Do: "bumps", Listen: "nose settles"},
			[]string{"no knock, no rattle, nose settles"},
		},
		{
			"another", Manoeuvre{Do: "bumps", Listen: "no knock"}, Manoeuvre{Do: "weave", Listen: "free"},
			[]string{"no knock", "free"},
		},
	} {
		got := Drives(Drives(nil, c.first), c.then)
		if len(got) != len(c.want) {
			t.Errorf("%s: %d manoeuvres, want %d", c.name, len(got), len(c.want))
			continue
		}
		for i, want := range c.want {
			if got[i].Listen != want {
				t.Errorf("%s: listens for %q, want %q", c.name, got[i].Listen, want)
			}
		}
	}
}

// What the maker writes of a joint goes before what is customary; how it is held while it turns stays: an axle nut's
// hub turns with it, whatever stance the maker asks for (common practice).
func TestCustomary(t *testing.T) {
	usual := Customary{Condition: vehicle.Hanging, Held: true, Renew: true, Hardware: "axle nut"}
	for name, c := range map[string]struct {
		usual Customary
		sheet vehicle.Spec
		want  vehicle.Spec
	}{
		"nothing read": {usual, vehicle.Spec{},
			vehicle.Spec{Condition: vehicle.Hanging, Held: true, Renew: true, Hardware: "axle nut"}},
		"another stance": {usual, vehicle.Spec{Condition: vehicle.OnGround},
			vehicle.Spec{Condition: vehicle.OnGround, Held: true, Renew: true, Hardware: "axle nut"}},
		"its own hardware": {usual, vehicle.Spec{Hardware: "lock plate"},
			vehicle.Spec{Condition: vehicle.Hanging, Held: true, Renew: true, Hardware: "lock plate"}},
		"nothing customary": {Customary{}, vehicle.Spec{Renew: true},
			vehicle.Spec{Condition: vehicle.AnyCondition, Renew: true}},
	} {
		got := c.usual.Over(c.sheet)
		if got.Condition != c.want.Condition || got.Held != c.want.Held || got.Renew != c.want.Renew ||
			got.Hardware != c.want.Hardware {
			t.Errorf("%s: %+v", name, got)
		}
	}
}
