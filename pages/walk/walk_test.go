package walk

import (
	"lugtak/core/diagnose"
	invented "lugtak/demo/files"
	"lugtak/library"
	"slices"
	"testing"
)

// What speaks for a suspect is said without the question; a no says to what.
func TestReasonsAreShort(t *testing.T) {
	all := []diagnose.Reason{
		{Ask: "Does it hum?", Yes: true, Says: "it turns with the wheels"},
		{Corner: "FR", Ask: "Is there play?"},
		{Ask: "a third"},
	}
	got := reasons(all, 2)
	if len(got) != 2 || got[0] != "it turns with the wheels" ||
		got[1] != "FR: Is there play? No, and it would be expected." || len(reasons(nil, 2)) != 0 {
		t.Errorf("%q", got)
	}
}

// Every place a question is asked at stands on the drawn vehicle, so that one can go there.
func TestEveryQuestionHasItsPlace(t *testing.T) {
	lib, err := library.Load("", invented.FS)
	if err != nil {
		t.Fatal(err)
	}
	for _, e := range lib.Signs.Evidence {
		on := slices.ContainsFunc(places, func(p place) bool { return slices.Contains(p.has, e.Place) })
		if !on || finer[e.Place] == "" {
			t.Errorf("%q is asked at %q, which is no place of the picture", e.Ask, e.Place)
		}
	}
}
