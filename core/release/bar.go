package release

import (
	"math"

	"lugtak/core/thread"
	"lugtak/core/wrench"
)

// rustShare is what is left of a shank's diameter that has rusted: a tenth of its twist
// (common practice, the number from memory).
const rustShare = 0.965

// shearYield is the share of the yield strength at which a shank yields in pure shear
// (von Mises: 1/√3).
const shearYield = 0.577

// UsualBarMM is how long the bar in a tool wall is, mm (common practice).
const UsualBarMM = 425

// Pull is what a bar may do to a fastener that will not turn, N·m: up to Safe the shank
// springs back and the drive holds, and near Shears it breaks.
type Pull struct {
	Safe, Shears float64
	Drive        float64 // what the square bears; 0 where nobody said which
	Estimated    bool    // beyond what ISO 898-7 covers
}

// SafePull reckons how hard one may pull on a bar of that square drive, "1/2", or of an
// unknown one: the twist at which the root of the thread, rusted a little, begins to
// yield (T = τ·π/16·d³, elastic torsion of a round bar), against the least torque at
// which a sound one shears (ISO 898-7) and the proof torque of the drive.
func SafePull(t thread.Thread, c thread.Class, drive string) Pull {
	shears, estimated := t.TwistOff(c)
	yields := shears * shearYield * c.Re / (c.TwistX * c.Rm)
	p := Pull{
		Safe:      yields * math.Pow(rustShare, 3),
		Shears:    shears,
		Drive:     wrench.DriveLimit(drive),
		Estimated: estimated,
	}
	if p.Drive > 0 {
		p.Safe = min(p.Safe, p.Drive)
	}
	return p
}
