package operation

import "testing"

// Two operations that end on the same stretch are driven once, and all that either listens
// for is listened for: common practice.
func TestDrives(t *testing.T) {
	for _, c := range []struct {
		name        string
		first, then Manoeuvre
		want        []string // what is listened for at each
	}{
		{"the same", Manoeuvre{Do: "bumps", Listen: "no knock"}, Manoeuvre{Do: "bumps", Listen: "no knock"}, []string{"no knock"}},
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
		{"another", Manoeuvre{Do: "bumps", Listen: "no knock"}, Manoeuvre{Do: "weave", Listen: "free"}, []string{"no knock", "free"}},
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
