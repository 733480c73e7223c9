package job

import (
	"testing"

	"lugtak/core/fault"
	"lugtak/core/operation"
)

// A photograph is of what is opened, and stands at the steps of that place from then on.
func TestPhotograph(t *testing.T) {
	b := begin(t)
	jpeg := []byte{0xff, 0xd8}
	b.must(Photograph{Step: "boltout", Photo: jpeg})
	for step, n := range map[string]int{
		"boltout": 1, "boltin": 1, "bolt1": 1, "bolt2": 1, // its joint
		"crack": 0, "bracketout": 0, "bracketin": 0, // others
	} {
		if got := b.s.PhotosAt(b.s.Plan.Step(operation.StepID(step))); len(got) != n {
			t.Errorf("%s: %d", step, len(got))
		}
	}
	b.refused(Photograph{Step: "pedal", Photo: jpeg}, fault.BadChoice, "Nothing is opened") // it brings nothing about
	b.refused(Photograph{Step: "none", Photo: jpeg}, fault.Missing, "no such step")
	b.refused(Photograph{Step: "boltout"}, fault.Missing, "No picture")
	b.refused(Photograph{Step: "boltin", Photo: jpeg}, fault.BadChoice, "Nothing is opened")
	b.refused(Photograph{Step: "boltout", Photo: make([]byte, maxPhoto+1)}, fault.TooLong, "too large")
	before := b.s.Last
	b.step("crack", "raise", "off", "nutcrack", "nutout", "boltout")
	b.refused(Photograph{Step: "boltout", Photo: jpeg}, fault.Order, "no picture of how it was")
	m := b.meta()
	m.At, m.Sent = before, b.s.Last // taken without network, before it was opened
	if err := b.do(m, Photograph{Step: "boltout", Photo: jpeg}); err != nil {
		t.Error(err)
	}
	for range mostPhotos - 2 {
		b.must(Photograph{Step: "bracketout", Photo: jpeg})
	}
	b.refused(Photograph{Step: "bracketout", Photo: jpeg}, fault.TooLong, "as many pictures")
}
