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
	err := fault.First(
		fault.InRange("balls", float64(b.Balls), 3, 100, "No bearing has that many balls.", "Count one row."),
		fault.InRange("ball_mm", b.BallMM, 0.5, 200, "No bearing has such a ball.", "Give the ball's diameter in mm."),
		fault.InRange("pitch_mm", b.PitchMM, 1.05*b.BallMM, 1000, "The balls do not fit their circle.",
			"Give the diameter of the circle of the balls' middles in millimetres."),
		fault.InRange("angle_deg", b.AngleDeg, 0, 60, "No bearing has that contact angle.",
			"Give 0 for a deep groove, some 15 to 40 for an angular one."),
		fault.InRange("turns_per_s", turns, 0, 1000, "Nothing on a vehicle turns so.",
			"Give turns a second; a wheel has about one for each 7 km/h."),
	)
	if err != nil {
		return Frequencies{}, err
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
	err := fault.First(
		fault.InRange("mass_kg", massKG, 0.1, 1000, "No wheel weighs that.", "Give wheel and tyre together in kg."),
		fault.InRange("speed_kmh", turns, 0.1, 1000, "At that speed nothing is out of balance.", "Give the speed in km/h."),
		fault.InRange("grade", grade, 0.4, 4000, "There is no such grade.", "Car wheels are G 40; drive shafts G 16."),
	)
	if err != nil {
		return 0, err
	}
	return grade / (2 * math.Pi * turns) * massKG * 1000, nil
}

// Play is what readings of an end play or a lash come to: their middle, and how far it may be off by the gauge and by
// their own spread, mm.
func Play(readings []float64, gauge float64) (play, band float64, err error) {
	if len(readings) == 0 || len(readings) > 100 {
		return 0, 0, fault.New(fault.Missing, "readings_mm", "No play was read.", "Read it two or three times.")
	}
	err = fault.First(
		fault.InRange("readings_mm", slices.Min(readings), 0, 50, "That is no play of a bearing.",
			"Set the gauge to zero at one end and read it at the other, in mm."),
		fault.InRange("readings_mm", slices.Max(readings), 0, 50, "That is no play of a bearing.",
			"Set the gauge to zero at one end and read it at the other, in mm."),
		fault.InRange("gauge_mm", gauge, 0, 5, "No gauge is that far off.", "Give its error in mm; most have 0.01 or 0.02."),
	)
	if err != nil {
		return 0, 0, err
	}
	for _, r := range readings {
		play += r / float64(len(readings))
	}
	half := (slices.Max(readings) - slices.Min(readings)) / 2
	return play, math.Hypot(gauge, half), nil
}

// Camber is the lean of a wheel, degrees, from two readings of one gauge turned end for end: what the gauge itself is
// off drops out. A wheel that leans out at the top is positive.
func Camber(one, other float64) (deg, gauge float64, err error) {
	err = fault.First(
		fault.InRange("one_deg", one, -30, 30, "No wheel leans that far.", "Give both readings in degrees."),
		fault.InRange("other_deg", other, -30, 30, "No wheel leans that far.", "Give both readings in degrees."),
	)
	if err != nil {
		return 0, 0, err
	}
	return (one - other) / 2, (one + other) / 2, nil
}

// Caster is the lean of the steering axis, degrees, from the camber read with the wheel turned in and out by one angle:
// (camber in − camber out)/(2·sin of the angle), small angles of camber (geometry of the steering axis, any textbook of
// chassis).
func Caster(in, out, steer float64) (float64, error) {
	err := fault.First(
		fault.InRange("steer_deg", steer, 5, 30, "Turned so far it tells no caster.", "Turn the wheel 20° in, then 20° out."),
		fault.InRange("camber_in_deg", in, -20, 20, "No wheel leans that far.", "Give the camber at both ends in degrees."),
		fault.InRange("camber_out_deg", out, -20, 20, "No wheel leans that far.", "Give the camber at both ends in degrees."),
	)
	if err != nil {
		return 0, err
	}
	return (in - out) / (2 * math.Sin(steer*math.Pi/180)), nil
}

// ToeAngle is the toe of one wheel in degrees by its millimetres across the rim, ToeAtRim the other way.
func ToeAngle(mm, rimMM float64) (float64, error) {
	err := fault.First(rimInRange(rimMM), fault.InRange("toe_mm", mm, -rimMM/4, rimMM/4, "No wheel points that far.",
		"Give the difference between front and rear edge of the rim, in mm."))
	return math.Asin(mm/rimMM) * 180 / math.Pi, err
}

// ToeAtRim: see ToeAngle.
func ToeAtRim(deg, rimMM float64) (float64, error) {
	err := fault.First(rimInRange(rimMM), fault.InRange("toe_deg", deg, -15, 15, "No wheel points that far.",
		"Give the toe of one wheel in degrees."))
	return rimMM * math.Sin(deg*math.Pi/180), err
}
