package kit

import (
	"fmt"
	"testing"

	"lugtak/core/vehicle"
)

// Numbers that may have been turned round are named first, then those that begin alike; nothing else.
func TestNearNumbers(t *testing.T) {
	var all []vehicle.Vehicle
	for _, n := range []string{"Q-09", "Q-14", "A-3", "Q-11", "S-1", "Q-03"} {
		all = append(all, vehicle.Vehicle{Fleet: n})
	}
	for asked, want := range map[string]string{
		"Q-41": "[Q-14 Q-09 Q-11]", "q41": "[Q-14 Q-09 Q-11]", "3a": "[A-3]", "Z-9": "[]", "": "[]",
	} {
		var got []string
		for _, v := range NearTo(asked, all) {
			got = append(got, v.Fleet)
		}
		if is := fmt.Sprint(got); is != want {
			t.Errorf("%q: %s, want %s", asked, is, want)
		}
	}
	for path, want := range map[string]string{
		"/jobs/q-41/bench": "Q-41", "/vehicles/x": "X", "/nothing": "", "/crib/w3": "",
		"/jobs/4a1c7c2e-1111-2222-3333-444455556666/bench": "",
	} {
		if got := AskedFor(path); got != want {
			t.Errorf("%s asks for %q, want %q", path, got, want)
		}
	}
}
