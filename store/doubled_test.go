package store

import (
	"strings"
	"testing"

	"lugtak/core/fault"
)

// A key that stands twice would be read in two ways: no such file is taken.
func TestDoubledKeys(t *testing.T) {
	for text, want := range map[string]string{
		`{"a":1,"b":[{"a":1},{"a":2}],"c":{"a":3}}`: "",
		`{"a":1,"b":2,"a":3}`:                       "a",
		`{"a":{"x":1,"X":2}}`:                       "X", // encoding/json takes either
		`[{"k":[1,{"z":"z","y":["z"],"z":0}]}]`:     "z",
		`{"a":"a","b":"a"}`:                         "",
		`{"a":1,`:                                   "",
		``:                                          "",
	} {
		if got := doubled([]byte(text)); got != want {
			t.Errorf("%s: %q, want %q", text, got, want)
		}
	}
	s, _ := open(t)
	start(t, s, "1")
	f, err := s.Journal(ctx, "1")
	if err != nil {
		t.Fatal(err)
	}
	whole, err := f.Text()
	if err != nil {
		t.Fatal(err)
	}
	if _, _, err := ReadJobFile(whole); err != nil {
		t.Fatal(err)
	}
	twice := strings.Replace(string(whole), `"version":`, `"events":[],"version":`, 1)
	if _, _, err := ReadJobFile([]byte(twice)); fault.As(err) == nil || !strings.Contains(err.Error(), "twice") {
		t.Errorf("two lists of events: %v", err)
	}
}
