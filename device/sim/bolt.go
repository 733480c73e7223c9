// Package sim holds stand-ins for what is wired to the bench. They play the part of the
// hardware and share no code with the judges of what they measure.
//
// The wrench is mechanics: a hand turns a handle, a spring winds up, a fastener moves
// when the torque in it exceeds what thread, head and clamp resist with.
package sim

import (
	"math"
	"math/rand/v2"

	"lugtak/device"
)

// Fault is what the stand-in plays.
type Fault string

// Faults a simulated fastener can have.
const (
	Sound        Fault = "sound"
	Crossed      Fault = "crossed"
	Strips       Fault = "strips"
	Yields       Fault = "yields"
	Bottoms      Fault = "bottoms"
	Galls        Fault = "galls"
	AlreadyTight Fault = "already tight"
	SoftJoint    Fault = "soft"
	OtherGrease  Fault = "other grease"
)

// Faults lists them for a choice on the stand-in's page.
func Faults() []Fault {
	return []Fault{Sound, Crossed, Strips, Yields, Bottoms, Galls, AlreadyTight, SoftJoint, OtherGrease}
}

// Reading is one sample of the stand-in wrench.
type Reading = device.Reading

// Bolt is a fastener of the demo: as stiff as its joint should be, with a fault.
type Bolt struct {
	standing
	target float64 // N·m the sheet asks for
	rng    *rand.Rand
}

// Sizes of a fastener that takes a torque: a bolt of class 8.8 takes about 0.048 N·m
// for each mm³ of its diameter (VDI 2230 part 1, table A1, at 0.12), a coarse pitch is
// some 0.15 of it, and the head rubs at 1.3 times it (ISO 4014, ISO 273).
const (
	torquePerCube = 0.048
	pitchShare    = 0.15
	headShare     = 1.3
	usualFriction = 0.12
)

// NewBolt makes a bolt that behaves the same for the same seed. Target is the torque
// its faults are placed by, slope the torque per degree of the sound joint, nm the
// torque it was left at, 0 where it is loose.
func NewBolt(f Fault, target, slope, nm float64, seed uint64) *Bolt {
	rng := rand.New(rand.NewPCG(seed, 0x4c5547))
	if target <= 0 { // turned by angle alone, from loose
		target = 30 * slope
	}
	d := math.Cbrt(target / torquePerCube)
	j := Joint{
		Pitch:     pitchShare * d,
		FlankDia:  d * (1 - 0.65*pitchShare),
		HeadDia:   headShare * d,
		ThreadMu:  usualFriction,
		HeadMu:    usualFriction,
		RunDown:   60 + 80*rng.Float64(),
		Drag:      target * (0.015 + 0.02*rng.Float64()),
		Ripple:    0.2,
		Hardening: 0.1,
		StripLoss: 0.12,
		Stick:     0.04,
	}
	lever := (j.lead() + j.rub()) / 1000
	j.Stiffness = slope * (0.92 + 0.16*rng.Float64()) * 360 / j.Pitch / lever
	j.Settle = 0.05 * target / lever / j.Stiffness
	at := func(low, high float64) float64 {
		share := low + (high-low)*rng.Float64()
		return share * target / lever
	}
	switch f {
	case Crossed:
		j.JamAt = 0.1 * j.RunDown
		j.JamPer = 0.5 * target / (0.9*j.RunDown + 60)
		j.JamMost = 0.55 * target
		j.JamWaves = 0.25
	case Strips:
		j.Strip = at(0.5, 0.8)
	case Yields:
		j.Yield = at(0.6, 0.8)
	case Bottoms:
		j.Bottom = j.RunDown - 10
		j.Torsion = target / 3
	case Galls:
		j.Gall = 0.25
		j.GallFrom = at(0.15, 0.25)
	case AlreadyTight:
		nm = math.Max(nm, 1.6*target)
	case SoftJoint:
		j.Stiffness *= 0.28
	case OtherGrease:
		j.ThreadMu *= 0.5
		j.HeadMu *= 0.5
	}
	b := &Bolt{standing: standing{Joint: j}, target: target, rng: rng}
	b.runTo(nm)
	return b
}

// runTo turns it on until it stands at that torque.
func (s *standing) runTo(nm float64) {
	for nm > 0 && s.tightening(s.theta) < nm && s.theta < s.RunDown+longestTurn {
		s.settleAt(s.theta + 0.02)
	}
}

// demoTool is the wrench of the demo: samples a second, N·m of scatter, wind-up of
// socket and bar (invented, as a good electronic wrench has them).
func demoTool(target float64) Tool {
	return Tool{
		Rate:       100,
		Noise:      0.0015 * target,
		AngleNoise: 0.05,
		Flex:       0.6 / target,
	}
}

// Begin takes hold of it with the wrench of the demo.
func (b *Bolt) Begin(acts ...Act) *Pull {
	h := Hand{
		Acts:     acts,
		Spin:     140,
		Ramp:     0.6 * b.target,
		Unsteady: 0.15,
		Reaction: 0.01,
	}
	return newPull(&b.standing, demoTool(b.target), h, b.rng)
}

// quiet is how long a tool rests before and after a pull, seconds.
const quiet = 0.2

// To pulls to that torque and lets go.
func (b *Bolt) To(nm float64) []Reading {
	p := b.Begin(Act{Waiting, quiet}, Act{Pulling, nm}, Act{Resting, 0.1}, Act{LettingGo, 0}, Act{Waiting, quiet})
	return p.Play().Readings
}
