package bench

import (
	"testing"

	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/vehicle"
	"lugtak/pages/kit"
)

// What stands beside a figure is told where the hardware goes in and is tightened, and not to who reads it unseen.
func TestWordsBesideAFigure(t *testing.T) {
	j := &plan.Joint{Spec: vehicle.Spec{Note: "new bolts only"}}
	for name, c := range map[string]struct {
		joint   *plan.Joint
		verb    operation.Verb
		tighten *tighten
		want    string
	}{
		"it goes in":             {j, operation.Start, nil, "new bolts only"},
		"it is tightened":        {j, operation.Tighten, &tighten{}, "new bolts only"},
		"it is read once more":   {j, operation.Tighten, &tighten{Asked: &kit.Asked{}}, ""},
		"it comes out":           {j, operation.Crack, nil, ""},
		"there is no fastener":   {nil, operation.Act, nil, ""},
		"nothing stands beside ": {&plan.Joint{}, operation.Start, nil, ""},
	} {
		v := &View{Joint: c.joint, Step: &plan.Step{Step: operation.Step{Verb: c.verb}}, Tighten: c.tighten}
		if got := v.Beside(); got != c.want {
			t.Errorf("%s: %q", name, got)
		}
	}
}
