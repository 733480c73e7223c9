package thread

import "math"

// TorquePerForce is the tightening torque per newton of preload, in N·m/N, at
// friction mu under head and in thread: 0.16·P + 0.58·d2·μ + D_Km/2·μ
// (VDI 2230 part 1).
func (t Thread) TorquePerForce(mu float64) float64 {
	dw, dh := t.headDiameters()
	return (0.16*t.P + 0.58*t.PitchDiameter()*mu + (dw+dh)/4*mu) / 1000
}

// Preload is the force, N, that a torque in N·m leaves in the bolt.
func (t Thread) Preload(torque, mu float64) float64 { return torque / t.TorquePerForce(mu) }

// Bound is the force, N, at which tension and the thread's twist together use
// the share (0–1) of the yield strength (VDI 2230 part 1, table A1 formula).
func (t Thread) Bound(c Class, mu, share float64) float64 {
	d2 := t.PitchDiameter()
	d0 := (d2 + t.RootDiameter()) / 2
	twist := 1.5 * d2 / d0 * (t.P/(math.Pi*d2) + 1.155*mu)
	return t.StressArea() * share * c.Re / math.Sqrt(1+3*twist*twist)
}

// Tightening is preload in N and torque in N·m that use the share of yield.
func (t Thread) Tightening(c Class, mu, share float64) (preload, torque float64) {
	f := t.Bound(c, mu, share)
	return f, f * t.TorquePerForce(mu)
}

// ProofShare and YieldShare are preload over the proof load and over the load
// at Rp0.2 in plain tension.
func (t Thread) ProofShare(c Class, preload float64) float64 {
	return preload / (t.StressArea() * c.Proof)
}

// YieldShare: see ProofShare.
func (t Thread) YieldShare(c Class, preload float64) float64 {
	return preload / (t.StressArea() * c.Re)
}

// Utilisation is the share of yield that a torque in N·m makes a bolt of: tension and the
// thread's own twist together, by the equivalent stress, while it is being tightened
// (VDI 2230 part 1). At the torques of table A1 it is 0.9.
func (t Thread) Utilisation(c Class, torque, mu float64) float64 {
	return t.Preload(torque, mu) / t.Bound(c, mu, 1)
}

// UtilisationBand is the utilisation over a band of friction. The less it rubs, the
// higher: High belongs to the low end of the friction.
func (t Thread) UtilisationBand(c Class, torque float64, mu Band) Band {
	return Band{
		Low:  t.Utilisation(c, torque, mu.High),
		Mid:  t.Utilisation(c, torque, mu.Mid),
		High: t.Utilisation(c, torque, mu.Low),
	}
}

// TwistOff is the least torque in N·m at which a sound bolt shears under
// torsion: X·Rm·π/16·d3min³ (ISO 898-7, M1 to M10). Above 10 mm and for inch
// threads the same formula is an estimate.
func (t Thread) TwistOff(c Class) (torque float64, estimated bool) {
	d := t.minRoot()
	return c.TwistX * c.Rm * math.Pi / 16 * d * d * d / 1000, t.D > 10 || t.Inch
}

// Young's modulus of steel, MPa (common handbook value).
const steel = 205000

// Stiffness is a band of joint stiffness in N/mm: bolt and clamped parts in
// series, for a grip between 1.5 and 4 diameters and clamped parts 2 to 6 times
// as stiff as the bolt. It is a guess where the grip is unknown, and says so by
// being wide (common practice for hard steel joints).
func (t Thread) Stiffness() Band {
	k := func(grip, ratio float64) float64 {
		bolt := steel * t.StressArea() / (grip*t.D + 0.8*t.D)
		return bolt * ratio / (1 + ratio)
	}
	return Band{Low: k(4, 2), Mid: k(2.5, 4), High: k(1.5, 6)}
}

// AfterAngle reckons preload (N) and torque (N·m) after turning a bolt on by
// deg from the given preload. The elastic gain is capped at yield: a bolt that
// is turned past it stretches and holds.
func (t Thread) AfterAngle(c Class, mu, start, deg, stiffness float64) (preload, torque float64) {
	f := start + stiffness*t.AdvancePer(deg)
	f = math.Min(f, math.Max(start, t.Bound(c, mu, 1)))
	return f, f * t.TorquePerForce(mu)
}

// SlopeBand is the torque per degree, N·m, that a hard joint of this thread
// should show on its elastic flank: stiffness and friction at the ends of
// their bands.
func (t Thread) SlopeBand(tr Treatment) (low, high float64) {
	mu, err := Friction(tr)
	if err != nil {
		mu = frictions[AsDelivered]
	}
	k := t.Stiffness()
	return k.Low * t.P / 360 * t.TorquePerForce(mu.Low), k.High * t.P / 360 * t.TorquePerForce(mu.High)
}
