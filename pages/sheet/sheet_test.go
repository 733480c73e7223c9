package sheet

import (
	"strings"
	"testing"

	"lugtak/core/vehicle"
	invented "lugtak/demo/files"
	"lugtak/library"
)

// On a sheet every joint has a name people use; no key of the inside is shown.
func TestSheetSpeaksInNames(t *testing.T) {
	lib, err := library.Load("", invented.FS)
	if err != nil {
		t.Fatal(err)
	}
	names := jointNames(lib)
	for _, p := range lib.Patterns {
		for key := range p.Spec {
			if names[key] == "" {
				t.Errorf("%s of %s has no name", key, p.ID)
			}
		}
		for _, d := range vehicle.Doubts(p) {
			said := names.inWords(d.Message, p.Spec)
			for key := range p.Spec {
				if strings.Contains(said, key) {
					t.Errorf("%q speaks of %s", said, key)
				}
			}
		}
	}
	if got := names.at("brake.rear.bleeder"); got != "Bleeder, rear" {
		t.Errorf("the rear bleeder is called %q", got)
	}
}

// What is empty is left out of a line of hardware.
func TestHardwareWords(t *testing.T) {
	s := vehicle.Spec{Thread: "M10x1", Treatment: "dry", Socket: "10 mm", Drive: "hexagon"}
	if got := hardwareWords(s); got != "M10x1 · dry · 10 mm hexagon" {
		t.Errorf("%q", got)
	}
}

// In the picture of a corner every fastener of a joint that sits there has its sign, however many the vehicle has;
// the keyboard stops once at each joint.
func TestEveryFastenerIsSeen(t *testing.T) {
	lib, err := library.Load("", invented.FS)
	if err != nil {
		t.Fatal(err)
	}
	counts := map[int]bool{}
	for _, p := range lib.Patterns {
		pictures := ""
		for _, c := range corners(lib, p) {
			pictures += string(c.Picture)
		}
		for key, spec := range p.Spec {
			link := `href="#` + anchorOf(key) + `"`
			n := strings.Count(pictures, link)
			if n == 0 {
				continue
			}
			counts[max(spec.Count, 1)] = true
			if n != max(spec.Count, 1) {
				t.Errorf("%s: %d of %d at %s are seen", p.ID, n, spec.Count, key)
			}
			if stops := n - strings.Count(pictures, link+` tabindex="-1"`); stops != 1 {
				t.Errorf("%s: the keyboard stops %d times at %s", p.ID, stops, key)
			}
		}
	}
	for n := range 6 {
		if !counts[n+1] {
			t.Errorf("no joint of %d fasteners is seen", n+1)
		}
	}
}
