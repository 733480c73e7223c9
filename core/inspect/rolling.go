package inspect

import (
	"math"
	"slices"

	"lugtak/core/fault"
)

// Ball is a rolling bearing with its outer ring held: what comes round in a turn of the inner one.
type Ball struct {
	Balls    int
	BallMM   float64
	PitchMM  float64 // diameter of the circle of the balls' middles
	AngleDeg float64 // of contact
}

// Frequencies are how often a flaw passes, Hz: on the outer ring, on the inner, of the cage, of a ball on both rings.
type Frequencies struct{ Outer, Inner, Cage, Ball float64 }

// Passes are the frequencies at so many turns of the inner ring a second (kinematics of rolling without slip; any
// textbook of machine vibration).
func (b Ball) Passes(turns float64) (Frequencies, error) {
	switch {
	case b.Balls < 3 || b.Balls > 100:
		return Frequencies{}, fault.New(fault.OutOfRange, "balls", "No bearing has that many balls.", "Count one row.")
	case !(b.BallMM > 0 && b.PitchMM > b.BallMM && b.PitchMM < 1000):
		return Frequencies{}, fault.New(fault.OutOfRange, "pitch_mm", "The balls do not fit their circle.",
			"Give the ball's diameter and that of the circle of the balls' middles in millimetres.")
	case !(b.AngleDeg >= 0 && b.AngleDeg < 60):
		return Frequencies{}, fault.New(fault.OutOfRange, "angle_deg", "No bearing has that contact angle.",
			"Give 0 for a deep groove, some 15 to 40 for an angular one.")
	case !(turns >= 0 && turns <= 1000):
		return Frequencies{}, fault.New(fault.OutOfRange, "turns_per_s", "Nothing on a vehicle turns so.",
			"Give turns a second; a wheel has about one for each 7 km/h.")
	}
	x := b.BallMM / b.PitchMM * math.Cos(b.AngleDeg*math.Pi/180)
	n := float64(b.Balls)
	return Frequencies{
		Outer: n / 2 * turns * (1 - x),
		Inner: n / 2 * turns * (1 + x),
		Cage:  turns / 2 * (1 - x),
		Ball:  b.PitchMM / (2 * b.BallMM) * turns * (1 - x*x),
	}, nil
}

// Residual is the unbalance a rotor may keep by its balance grade, g·mm: grade over angular speed, times mass (ISO
// 21940-11: e·ω in mm/s). Mass in kg, turns a second.
func Residual(massKG, turns, grade float64) (float64, error) {
	switch {
	case !(massKG > 0 && massKG <= 1000):
		return 0, fault.New(fault.OutOfRange, "mass_kg", "No wheel weighs that.", "Give wheel and tyre together in kg.")
	case !(turns > 0 && turns <= 1000):
		return 0, fault.New(fault.OutOfRange, "speed_kmh", "At that speed nothing is out of balance.", "Give the speed in km/h.")
	case !(grade >= 0.4 && grade <= 4000):
		return 0, fault.New(fault.OutOfRange, "grade", "There is no such grade.", "Car wheels are G 40; drive shafts G 16.")
	}
	return grade / (2 * math.Pi * turns) * massKG * 1000, nil
}

// Play is what readings of an end play or a lash come to: their middle, and how far it may be off by the gauge and by
// their own spread, mm.
func Play(readings []float64, gauge float64) (play, band float64, err error) {
	if len(readings) == 0 || len(readings) > 100 {
		return 0, 0, fault.New(fault.Missing, "readings_mm", "No play was read.", "Read it two or three times.")
	}
	for _, r := range readings {
		if !(r >= 0 && r <= 50) {
			return 0, 0, fault.New(fault.OutOfRange, "readings_mm", "That is no play of a bearing.",
				"Set the gauge to zero at one end and read it at the other, in mm.")
		}
	}
	if !(gauge >= 0 && gauge <= 5) {
		return 0, 0, fault.New(fault.OutOfRange, "gauge_mm", "No gauge is that far off.", "Give its error in mm; most have 0.01 or 0.02.")
	}
	for _, r := range readings {
		play += r / float64(len(readings))
	}
	half := (slices.Max(readings) - slices.Min(readings)) / 2
	return play, math.Hypot(gauge, half), nil
}

// Camber is the lean of a wheel, degrees, from two readings of one gauge turned end for end: what the gauge itself is off
// drops out. A wheel that leans out at the top is positive.
func Camber(one, other float64) (deg, gauge float64, err error) {
	if !(math.Abs(one) <= 30 && math.Abs(other) <= 30) {
		return 0, 0, fault.New(fault.OutOfRange, "one_deg", "No wheel leans that far.", "Give both readings in degrees.")
	}
	return (one - other) / 2, (one + other) / 2, nil
}

// Caster is the lean of the steering axis, degrees, from the camber read with the wheel turned in and out by one angle:
// (camber in − camber out)/(2·sin of the angle), small angles of camber (geometry of the steering axis, any textbook of
// chassis).
func Caster(in, out, steer float64) (float64, error) {
	switch {
	case !(steer >= 5 && steer <= 30):
		return 0, fault.New(fault.OutOfRange, "steer_deg", "Turned so far it tells no caster.", "Turn the wheel 20° in, then 20° out.")
	case !(math.Abs(in) <= 20 && math.Abs(out) <= 20):
		return 0, fault.New(fault.OutOfRange, "camber_in_deg", "No wheel leans that far.", "Give the camber at both ends in degrees.")
	}
	return (in - out) / (2 * math.Sin(steer*math.Pi/180)), nil
}

// ToeAngle and ToeAtRim carry the toe of one wheel between degrees and millimetres across its rim.
func ToeAngle(mm, rimMM float64) (float64, error) {
	if !(rimMM >= 200 && rimMM <= 1200) || math.Abs(mm) >= rimMM/4 {
		return 0, fault.New(fault.OutOfRange, "rim_mm", "No wheel has that rim, or points that far.",
			"Give the diameter at which the toe is measured, in mm.")
	}
	return math.Asin(mm/rimMM) * 180 / math.Pi, nil
}

// ToeAtRim: see ToeAngle.
func ToeAtRim(deg, rimMM float64) (float64, error) {
	if !(rimMM >= 200 && rimMM <= 1200) || !(math.Abs(deg) <= 10) {
		return 0, fault.New(fault.OutOfRange, "rim_mm", "No wheel has that rim, or points that far.",
			"Give the diameter at which the toe is measured, in mm.")
	}
	return rimMM * math.Sin(deg*math.Pi/180), nil
}
