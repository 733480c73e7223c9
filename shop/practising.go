package shop

import (
	"lugtak/core/plan"
	"lugtak/core/practice"
	"lugtak/core/pull"
	"lugtak/core/recipe"
	"lugtak/device"
)

// Bounds of a swing: how far past its target it goes.
const (
	pastTorque = 1.45
	pastAngle  = 70 // degrees
)

// swung is what the stand is told of the practice car's fastener whose turn it is at a step, with its letter and
// the number of its stage.
func swung(run *practice.Run, step *plan.Step) (on device.Fastener, act device.Act, stage int) {
	j := run.Plan.Joint(step.Joint)
	shown, _ := run.Stage(step)
	letter, n := run.Turn(step)
	on = device.Fastener{
		Torque: shown.Kind == recipe.Torque,
		Target: shown.Target(),
		Slope:  j.Slope(),
		Seed:   run.Seed ^ device.Seed(j.ID, letter),
	}
	for _, before := range j.Read()[:n] {
		switch before.Kind {
		case recipe.BackOff:
			on.Standing = 0
		case recipe.Torque:
			on.Standing = before.Target()
		case recipe.Angle:
			on.Standing += before.Target() * on.Slope
		}
	}
	if !on.Torque && on.Standing == 0 {
		on.Standing = device.Snugged
	}
	if n == 0 { // later it has shown itself
		act.Plays = run.Plays[practice.At(j.ID, letter)]
	}
	return on, act, n
}

// Swing is what a pull on the practice car would read, as far as a hand goes.
func Swing(stand device.Stand, run *practice.Run, step *plan.Step) []device.Reading {
	on, act, _ := swung(run, step)
	act.Amount = on.Target + pastAngle
	if on.Torque {
		act.Amount = pastTorque * on.Target
	}
	return stand.Swing(on, act)
}

// LetGo has the stand pulled to where the hand let go, N·m or degrees, and the judge of real pulls judge it.
func LetGo(stand device.Stand, run *practice.Run, step *plan.Step, at float64) (*practice.Reading, error) {
	on, act, n := swung(run, step)
	act.Amount = at
	var samples []pull.Sample
	for _, r := range stand.Swing(on, act) {
		samples = append(samples, pull.Sample(r))
	}
	j := run.Plan.Joint(step.Joint)
	shown, _ := run.Stage(step)
	res, err := pull.Judge([]recipe.Stage{shown}, samples, j.Expect(j.Read(), n))
	if err != nil {
		return nil, err
	}
	says := ""
	if len(res.Reasons) > 0 {
		says = res.Reasons[0].Message
	}
	return &practice.Reading{
		PeakNm:    res.PeakNm,
		TurnDeg:   res.TurnDeg,
		Verdict:   res.Verdict,
		Signature: res.Signature,
		Says:      says,
	}, nil
}
