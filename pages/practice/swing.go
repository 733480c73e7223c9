package practice

import (
	"encoding/json"
	"lugtak/core/plan"
	"lugtak/core/practice"
	"lugtak/core/recipe"
	"lugtak/core/unit"
	"lugtak/device"
	"lugtak/draw"
	"math"
)

// curveSteps is how many points of a curve are drawn.
const curveSteps = 140

// lay lays out the pull whose turn it is: what the fastener will do as far as a hand goes.
func (v *View) lay(readings func(*plan.Step) []device.Reading) *swing {
	if v.Asks == practice.Bar {
		return v.barSwing()
	}
	letter, _ := v.Turn(v.Step)
	shown, _ := v.Stage(v.Step)
	w := &swing{
		Letter: letter,
		Name:   v.Joint.One + " " + letter,
		Torque: shown.Kind == recipe.Torque,
		Target: shown.Short(),
		Amount: shown.Target(),
		Curve:  curve(readings(v.Step)),
		BarMM:  barMM,
	}
	low, high := shown.Window()
	w.Window = unit.Number(low, 1) + "–" + unit.Number(high, 1) + "°"
	if w.Torque {
		w.Window = windowNm(low, high)
	}
	w.Plot = draw.Trace(nil, nil, low, high, shown.Target(), w.Torque)
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
func (v *View) barSwing() *swing {
	loose, shears := v.Breaks(v.Step)
	ends := math.Min(loose, shears)
	x := v.Stuck(v.Step)
	points := [][2]float64{{0, 0}, {16, 0.93 * ends}, {18, ends}, {40, 0.55 * ends}}
	text, _ := json.Marshal(points)
	return &swing{
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
