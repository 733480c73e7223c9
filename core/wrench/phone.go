package wrench

import (
	"fmt"
	"math"

	"lugtak/core/fault"
	"lugtak/core/unit"
)

// PhoneTurn is what a phone that lies on the bar tells of how it counted a turn.
type PhoneTurn struct {
	Upright  bool    // about the vertical, which gravity does not tell
	Grips    int     // how often the bar was swung back for another grip
	Seconds  float64 // from the snug point on
	StrayDeg float64 // by how much it turned about another axis as well
}

// PhoneBands are what a phone's count may be off by, degrees either way, and from how much straying on it is no turn of
// the bar (common practice, from memory).
type PhoneBands struct {
	Gravity float64 `json:"gravity"` // told by gravity and gyroscope
	Gyro    float64 `json:"gyro"`    // by the gyroscope alone
	Drift   float64 `json:"drift"`   // which drifts so much a second
	Grip    float64 `json:"grip"`    // what each new grip adds
	Stray   float64 `json:"stray"`
}

// PhoneTells are the bands of a phone.
func PhoneTells() PhoneBands {
	return PhoneBands{Gravity: 1.5, Gyro: 2.5, Drift: 0.03, Grip: 1, Stray: 15}
}

// Band is what the angle may be off by, degrees either way, to a tenth. What a phone cannot have told is refused, and a
// phone that did not lie on the bar.
func (t PhoneTurn) Band() (float64, error) {
	tells := PhoneTells()
	switch {
	case !(t.Seconds > 0) || math.IsInf(t.Seconds, 0) || t.Grips < 0 || !(t.StrayDeg >= 0):
		return 0, fault.New(fault.Missing, "phone", "It is not said how well the phone tells the angle.",
			"Turn it with the phone’s own gauge on the bar, or read a protractor.")
	case t.StrayDeg > tells.Stray:
		return 0, fault.New(fault.Tool, "phone", fmt.Sprintf("The phone tilted by %s° as well: that is no turn of the bar.",
			unit.Number(t.StrayDeg, 0)), "Read a protractor, or slacken it and begin again, the phone flat on the bar.")
	}
	own := tells.Gravity
	if t.Upright {
		own = tells.Gyro + tells.Drift*t.Seconds
	}
	return math.Round(10*(own+tells.Grip*float64(t.Grips))) / 10, nil
}

// PhoneCan says that a phone may tell a turn into a window at all, before anybody turns.
func PhoneCan(low, high float64) bool { return 2*PhoneTells().Gravity <= high-low }
