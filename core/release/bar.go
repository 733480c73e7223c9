package release

import (
	"math"

	"lugtak/core/thread"
	"lugtak/core/wrench"
)

// shearYield is the share of the yield strength at which a shank yields in pure shear
// (von Mises: 1/√3).
const shearYield = 0.577

// UsualBarMM is how long the bar in a tool wall is, mm (common practice).
const UsualBarMM = 425

// faceShare is the share of the tightening figure that the head's face takes up, while it still clamps (friction
// under a head takes two fifths to a half of it: common practice).
const faceShare = 0.4

// Held is what is known of a fastener that will not turn.
type Held struct {
	Figure  float64 // it was tightened to, N·m; 0 is not known
	Mu      float64 // friction it was tightened with; 0 is not known
	WaistMM float64 // the thinnest place that is seen, rusted or necked; 0 is none
}

// Pull is what a bar does to a fastener that will not turn, N·m. It is a risk, not a promise: near Yields the shank
// begins to stay twisted, near Shears a sound one breaks.
type Pull struct {
	Yields  float64 // the lower of the two below, and what the drive bears
	Free    float64 // the shank takes all of it: its thread is seized, and nothing clamps
	Clamped float64 // it still clamps, and its head's face takes a part; 0 where its figure is not known
	Shears  float64
	Drive   float64 // what the square bears; 0 where nobody said which

	BelowFigure bool // the shank yields below the figure it was tightened to
	Estimated   bool // Shears is beyond what ISO 898-7 covers
}

// Risk reckons how hard one may pull on a bar of that square drive, "1/2", or of an unknown one. Free is the elastic
// twist of a round bar at the stress diameter, or at the waist that is seen: T = τ·π/16·d³ with τ at yield. While it
// clamps, the preload leaves the shank √(1 − (σ/Re)²) of that (von Mises), and the head's face holds the rest.
func Risk(t thread.Thread, c thread.Class, drive string, h Held) Pull {
	shears, estimated := t.TwistOff(c)
	d := math.Sqrt(4 * t.StressArea() / math.Pi)
	waist := d
	if h.WaistMM > 0 {
		waist = min(d, h.WaistMM)
	}
	thinner := math.Pow(waist/d, 3)
	p := Pull{
		Free:      shearYield * c.Re * math.Pi / 16 * waist * waist * waist / 1000,
		Shears:    shears * thinner,
		Drive:     wrench.DriveLimit(drive),
		Estimated: estimated,
	}
	p.Yields = p.Free
	if h.Figure > 0 && h.Mu > 0 {
		used := min(1, t.YieldShare(c, t.Preload(h.Figure, h.Mu))*math.Pow(d/waist, 2))
		p.Clamped = p.Free*math.Sqrt(1-used*used) + faceShare*h.Figure
		p.Yields = min(p.Free, p.Clamped)
	}
	p.BelowFigure = h.Figure > 0 && p.Yields < h.Figure
	if p.Drive > 0 {
		p.Yields = min(p.Yields, p.Drive)
	}
	return p
}
