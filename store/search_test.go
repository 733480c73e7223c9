package store

import (
	"strings"
	"testing"

	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/vehicle"
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
		`"`: "", `screws" OR "x`: "", "screws*": "1", "screws\x00": "1",
		"body:screws": "", "-screws": "1", "NEAR(screws)": "",
	} {
		if got := found(text); got != want {
			t.Errorf("%q finds %q, want %q", text, got, want)
		}
	}
	if got := found(st.Vehicle.Fleet); got != "1" {
		t.Errorf("the vehicle's jobs: %q", got)
	}
	hits, more, err := s.Search(ctx, "ostrel", 0, 1)
	if err != nil || len(hits) != 1 || !more || !strings.Contains(hits[0].Around, listing.HitFrom) {
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

// Vehicles are found by what is painted, stamped or called, however it is spaced.
func TestFindVehicles(t *testing.T) {
	s, _ := open(t)
	for _, v := range []vehicle.Vehicle{
		{Fleet: "A-12", Plate: "KX 40 81", VIN: "1M8GDM9AXKP042788", Pattern: "ostrel-c22", Name: "tall van", Bay: "3"},
		{Fleet: "A-2", Plate: "Ä 77", Pattern: "ostrel-c22", Name: "van", Bay: "12"},
		{Fleet: "B-12", Plate: "a\"b", Pattern: "ostrel-c22", Name: "hatch"},
	} {
		if _, err := s.AddVehicle(ctx, v); err != nil {
			t.Fatal(err)
		}
	}
	for text, want := range map[string]string{
		"": "A-12 A-2 B-12", "a": "A-12 A-2 B-12", "a-": "A-12 A-2 B-12", "a2": "A-2", "12": "A-2", "a12": "A-12",
		"kx4081": "A-12", "4081": "A-12", "81": "", "42788": "A-12", "VAN": "A-12 A-2", "tallvan": "A-12",
		"ä": "A-2", `"b`: "", `a"b`: "B-12", `x" OR "van`: "", "nowhere": "",
		"v\x00an": "A-12 A-2", "\x00": "A-12 A-2 B-12",
	} {
		some, of, err := s.FindVehicles(ctx, text, 0, 10)
		if err != nil {
			t.Fatalf("%q: %v", text, err)
		}
		var got []string
		for _, v := range some {
			got = append(got, v.Fleet)
		}
		if strings.Join(got, " ") != want || of != len(got) {
			t.Errorf("%q finds %q of %d, want %q", text, got, of, want)
		}
	}
	some, of, err := s.FindVehicles(ctx, "", 1, 1)
	if err != nil || of != 3 || len(some) != 1 || some[0].Fleet != "A-2" {
		t.Errorf("a page: %v of %d, %v", some, of, err)
	}
}
