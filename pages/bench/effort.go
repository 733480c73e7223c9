package bench

import (
	"fmt"
	"math"

	"lugtak/core/operation"
	"lugtak/core/recipe"
	"lugtak/core/release"
	"lugtak/core/unit"
	"lugtak/core/wrench"
)

// effort says how hard one pulls at the end of a wrench or a bar for a torque; nothing where one hand does it.
func effort(nm, mm float64) string {
	e, err := wrench.EffortFor(nm, mm)
	if err != nil || !e.Both {
		return ""
	}
	at := fmt.Sprintf("near %s N at %s mm", unit.Number(10*math.Round(e.N/10), 0), unit.Number(mm, 0))
	if e.LongerMM == 0 {
		return at + ": both hands"
	}
	return at + ", more than one pulls steadily: " + unit.Number(e.LongerMM, 0) + " mm, or a multiplier"
}

// pulls says how hard the stage at hand is pulled: one by angle ends where the whole recipe does.
func (p *pulled) pulls(v *View) string {
	switch p.Stage.Kind {
	case recipe.Torque:
		return effort(p.Target, p.Tool.Tool.LengthMM)
	case recipe.Angle:
		load, _ := v.Joint.Load()
		return effort(load.End.Low, p.Tool.Tool.LengthMM)
	}
	return ""
}

// loosens says how hard a joint is broken loose, by what it took at least when it was tightened.
func (v *View) loosens() string {
	j := v.Job.Plan.Joint(v.Step.Joint)
	if j == nil || v.Step.Verb != operation.Crack || v.Kept {
		return ""
	}
	load, known := j.Load()
	says := effort(load.End.Low, release.UsualBarMM)
	if !known || says == "" {
		return ""
	}
	if load.AngleDeg > 0 {
		return "It took some " + unit.Torque(10*math.Round(load.End.Low/10)).Both() + " or more, reckoned: " + says + "."
	}
	return "It took " + load.Torque.Both() + ": " + says + "."
}
