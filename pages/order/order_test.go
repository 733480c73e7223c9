package order

import (
	"math"
	"testing"

	invented "lugtak/demo/files"
	"lugtak/library"
)

// The numbers on the picture of an axle are round and lie beside one another, wherever the parts of a vehicle are
// touched, and every one is inside the picture.
func TestNumbersLieApart(t *testing.T) {
	lib, err := library.Load("", invented.FS)
	if err != nil {
		t.Fatal(err)
	}
	drawn := 0
	for _, p := range lib.Patterns {
		for _, a := range axlesOf(p, lib, lib.Offers(p), library.Ask{}) {
			for _, s := range a.Sides {
				drawn += len(s.Dots)
				for i, d := range s.Dots {
					if d.X < dotSize/2 || d.Y < dotSize/2 {
						t.Errorf("%s, %s %s: %d leaves the picture", p.ID, a.Key, s.Name, d.No)
					}
					for _, o := range s.Dots[:i] {
						if far := math.Hypot(d.X-o.X, d.Y-o.Y); far < dotSize {
							t.Errorf("%s, %s %s: %d and %d lie %.0f px from each other", p.ID, a.Key, s.Name, d.No, o.No, far)
						}
					}
				}
			}
		}
	}
	if drawn < 100 {
		t.Errorf("only %d numbers are drawn", drawn)
	}
}
