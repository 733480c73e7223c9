package store

import (
	"strings"
	"testing"

	"lugtak/core/job"
)

// A job is found by its vehicle, its words, its people; by the beginning of a word; by no query
// that somebody types.
func TestSearch(t *testing.T) {
	s, _ := open(t)
	start(t, s, "1")
	start(t, s, "2")
	keep(t, s, "1", "f", job.Find{Text: "Schläuche gerissen, cover screws missing"})
	st, err := s.Job(ctx, "1")
	if err != nil {
		t.Fatal(err)
	}
	found := func(text string) string {
		t.Helper()
		hits, _, err := s.Search(ctx, text, 0, 20)
		if err != nil {
			t.Fatalf("%q: %v", text, err)
		}
		var ids []string
		for _, h := range hits {
			ids = append(ids, h.ID)
		}
		return strings.Join(ids, " ")
	}
	for text, want := range map[string]string{
		"screws": "1", "SCREWS missing": "1", "schlau": "1", "screws nowhere": "", "": "", "  ": "",
		`"`: "", `screws" OR "x`: "", "screws*": "1", "body:screws": "", "-screws": "1", "NEAR(screws)": "",
	} {
		if got := found(text); got != want {
			t.Errorf("%q finds %q, want %q", text, got, want)
		}
	}
	if got := found(st.Vehicle.Fleet); got != "1" {
		t.Errorf("the vehicle's jobs: %q", got)
	}
	hits, more, err := s.Search(ctx, "ostrel", 0, 1)
	if err != nil || len(hits) != 1 || !more || !strings.Contains(hits[0].Around, HitFrom) {
		t.Errorf("%+v %v %v", hits, more, err)
	}
	if err := s.Rebuild(ctx, func(int, int) {}); err != nil {
		t.Fatal(err)
	}
	if got := found("cover screws"); got != "1" {
		t.Errorf("after the lists were made anew: %q", got)
	}
	keep(t, s, "1", "g", job.Find{Text: "a nest of mice"})
	if got := found("mice"); got != "1" {
		t.Errorf("what was written since: %q", got)
	}
}
