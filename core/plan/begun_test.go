package plan

import (
	"strings"
	"testing"

	"lugtak/core/operation"
)

// What is half open by another way than the plan would go is laid out as it was begun, and brought back.
func TestWhatIsBegunStaysAsItWasBegun(t *testing.T) {
	o := woven()
	o.Knowledge.Ways[2].Joints = o.Knowledge.Ways[2].Joints[:1]
	o.Knowledge.Ways[2].Close = o.Knowledge.Ways[1].Close
	p, err := Compile(o)
	if err != nil {
		t.Fatal(err)
	}
	if got := sequence(p); strings.Contains(got, "hatch.off") {
		t.Fatalf("it goes by the hatch anyhow: %s", got)
	}
	o.Begun = []operation.StepID{"hatch.off.FL"}
	if p, err = Compile(o); err != nil {
		t.Fatal(err)
	}
	got := sequence(p)
	if opened, closed := strings.Index(got, "hatch.off"), strings.Index(got, "hatch.on"); opened < 0 || closed < opened {
		t.Errorf("begun by the hatch: %s", got)
	}
}
