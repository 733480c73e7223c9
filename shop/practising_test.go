package shop

import (
	"testing"

	"lugtak/core/pull"
	"lugtak/core/recipe"
	"lugtak/device"
	"lugtak/device/sim"
	"lugtak/library"
)

// What is sound in the practice bay is never rejected, however stiff the joint is: renewing it
// would bring the same again.
func TestASoundFastenerPassesInPractice(t *testing.T) {
	lib, err := library.Load("")
	if err != nil {
		t.Fatal(err)
	}
	pulls := 0
	for _, x := range lib.Exercises {
		if x.Find != nil {
			continue
		}
		made, err := lib.PracticePlan(&x)
		if err != nil {
			t.Fatal(err)
		}
		for _, j := range made.Joints {
			stages := j.Read()
			if stages[0].Kind != recipe.Torque {
				continue
			}
			for seed := range uint64(12) {
				on := device.Fastener{Torque: true, Target: stages[0].Target(), Slope: j.Slope(), Seed: seed}
				var samples []pull.Sample
				for _, r := range (sim.Stand{}).Swing(on, device.Act{Amount: on.Target}) {
					samples = append(samples, pull.Sample(r))
				}
				res, err := pull.Judge(stages[:1], samples, j.Expect(stages, 0))
				if err != nil {
					t.Fatal(err)
				}
				pulls++
				if res.Verdict == pull.Reject {
					t.Errorf("%s %s, seed %d: %s", x.ID, j.ID, seed, res.Signature)
				}
			}
		}
	}
	if pulls < 150 {
		t.Errorf("%d pulls", pulls)
	}
}
