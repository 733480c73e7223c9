package web

import (
	"encoding/json"
	"math"

	"lugtak/core/practice"
	"lugtak/core/pull"
	"lugtak/core/recipe"
	"lugtak/core/unit"
	"lugtak/device"
	"lugtak/draw"
)

// Bounds of a swing: how far past its target the curve goes.
const (
	pastTorque = 1.45
	pastAngle  = 70 // degrees
	curveSteps = 140
)

// swing lays out the pull whose turn it is: what the fastener will do as far as a hand goes.
func (s *Server) swing(v *practiceRun) *swingView {
	if v.Asks == practice.Bar {
		return v.barSwing()
	}
	letter, _ := v.Turn(v.Step)
	shown, _ := v.Stage(v.Step)
	on, act := v.fastener(letter)
	w := &swingView{
		Letter: letter,
		Name:   v.Joint.One + " " + letter,
		Torque: on.Torque,
		Target: shown.Short(),
		Amount: shown.Target(),
		BarMM:  barMM,
	}
	low, high := shown.Window()
	w.Window = unit.Number(low, 1) + "–" + unit.Number(high, 1) + "°"
	act.Amount = shown.Target() + pastAngle
	if w.Torque {
		w.Window = windowNm(low, high)
		act.Amount = pastTorque * shown.Target()
	}
	all := s.Stand.Swing(on, act)
	w.Curve = curve(all)
	w.Plot = draw.Trace(nil, low, high, shown.Target(), w.Torque)
	return w
}

// windowNm is a window in both units.
func windowNm(low, high float64) string {
	n := func(nm float64) string { return unit.Number(nm, 1) }
	if high <= low {
		return "at least " + unit.Torque(low).Both()
	}
	f := func(nm float64) string { return unit.Number(unit.Torque(nm).FtLb(), 1) }
	return n(low) + "–" + n(high) + " N·m · " + f(low) + "–" + f(high) + " ft·lb"
}

// barSwing is a bar on what may sit fast: it winds up until it comes, or breaks.
func (v *practiceRun) barSwing() *swingView {
	loose, shears := v.Breaks(v.Step)
	ends := math.Min(loose, shears)
	x := v.Stuck(v.Step)
	points := [][2]float64{{0, 0}, {16, 0.93 * ends}, {18, ends}, {40, 0.55 * ends}}
	text, _ := json.Marshal(points)
	return &swingView{
		Letter: x.Letter,
		Name:   v.Joint.One + " " + x.Letter,
		Torque: true,
		Loose:  true,
		Curve:  string(text),
		BarMM:  barMM,
	}
}

// curve thins readings out to what a page draws: degrees from the first, N·m, never back.
func curve(all []device.Reading) string {
	var points [][2]float64
	step := max(1, len(all)/curveSteps)
	last := math.Inf(-1)
	for i := 0; i < len(all); i += step {
		r := all[i]
		if r.Angle < last {
			continue
		}
		last = r.Angle
		points = append(points,
			[2]float64{math.Round(10*(r.Angle-all[0].Angle)) / 10, math.Round(10*math.Max(0, r.Torque)) / 10})
	}
	text, _ := json.Marshal(points)
	return string(text)
}

// fastener is what the stand is told of the one whose turn it is.
func (v *practiceRun) fastener(letter string) (device.Fastener, device.Act) {
	shown, _ := v.Stage(v.Step)
	_, n := v.Turn(v.Step)
	on := device.Fastener{
		Torque: shown.Kind == recipe.Torque,
		Target: shown.Target(),
		Slope:  v.Joint.Slope(),
		Seed:   v.Seed ^ device.Seed(v.Joint.ID, letter),
	}
	for _, before := range v.Joint.Read()[:n] {
		switch {
		case before.Kind == recipe.BackOff:
			on.Standing = 0
		case before.Kind == recipe.Torque:
			on.Standing = before.Target()
		case before.Kind == recipe.Angle:
			on.Standing += before.Target() * on.Slope
		}
	}
	if !on.Torque && on.Standing == 0 {
		on.Standing = device.Snugged
	}
	plays := v.Plays[practice.At(v.Joint.ID, letter)]
	if n > 0 {
		plays = "" // it has shown itself at the first stage
	}
	return on, device.Act{Plays: plays}
}

// read has the stand pulled to where the hand let go, and the judge of real pulls judge it.
func (s *Server) read(v *practiceRun, let float64) (*practice.Reading, error) {
	letter, n := v.Turn(v.Step)
	on, act := v.fastener(letter)
	act.Amount = let
	var samples []pull.Sample
	for _, r := range s.Stand.Swing(on, act) {
		samples = append(samples, pull.Sample(r))
	}
	shown, _ := v.Stage(v.Step)
	res, err := pull.Judge([]recipe.Stage{shown}, samples, v.Joint.Expect(v.Joint.Read(), n))
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
