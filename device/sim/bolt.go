// Package sim holds stand-ins for what is wired to the bench. They play the part of the
// hardware and share no code with the judges of what they measure.
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

// Bolt is a simulated fastener under the wrench.
type Bolt struct {
	Fault    Fault
	Target   float64 // N·m the sheet asks for: faults are placed by it
	RunDown  float64 // degrees until the parts meet
	Base     float64 // N·m while running down
	Slope    float64 // N·m per degree of the sound joint
	Standing float64 // N·m it was left at; 0 is loose
	rng      *rand.Rand
	phase    float64
	theta    float64
}

// NewBolt makes a bolt that behaves the same for the same seed. slope is that
// of the sound joint.
func NewBolt(f Fault, target, slope, standing float64, seed uint64) *Bolt {
	rng := rand.New(rand.NewPCG(seed, 0x4c5547))
	b := &Bolt{
		Fault:    f,
		Target:   target,
		Slope:    slope * (0.92 + 0.16*rng.Float64()),
		Standing: standing,
		rng:      rng,
		phase:    7 * rng.Float64(),
	}
	b.RunDown = 60 + 80*rng.Float64()
	b.Base = target * (0.015 + 0.02*rng.Float64())
	switch f {
	case Bottoms:
		b.Slope *= 4.5
	case SoftJoint:
		b.Slope *= 0.28
	case OtherGrease:
		b.Slope *= 0.62
	}
	if standing > 0 {
		b.theta = b.RunDown + (standing-b.Base)/b.Slope
	}
	return b
}

// resistance is the torque that turns the bolt at an angle.
func (b *Bolt) resistance(a float64) float64 {
	on := a - b.RunDown
	knee := 4.0
	var t float64
	switch {
	case on < -knee:
		t = 0
	case on < knee:
		t = b.Slope * (on + knee) * (on + knee) / (4 * knee)
	default:
		t = b.Slope * on
	}
	ripple := 0.25 * b.Base * math.Sin(a/9+b.phase)
	switch b.Fault {
	case AlreadyTight:
		return 3 * b.Target
	case Crossed:
		start := -0.9 * b.RunDown
		if on > start {
			rise := math.Min(1, (on-start)/(0.9*b.RunDown+90))
			drag := b.Target * (0.18 + 0.34*rise) * (1 + 0.18*math.Sin(a/7+b.phase) + 0.1*math.Sin(a/2.3))
			return math.Max(drag, drag*0.6+b.Slope*math.Max(0, on-90))
		}
		return b.Base + b.Target*0.15
	case Strips:
		top := (0.55 + 0.25*frac(b.phase)) * b.Target
		if t > 0.8*top {
			over := (t - 0.8*top) / b.Slope
			t = top*(1-0.2*math.Exp(-over/8)) - 0.10*b.Slope*math.Max(0, over-12)
			t = math.Max(t, 0.3*top)
		}
	case Yields:
		ty := (0.60 + 0.2*frac(b.phase)) * b.Target
		if t > ty {
			over := (t - ty) / b.Slope
			t = ty + 0.20*b.Slope*over
		}
	case Galls:
		if t > 0.2*b.Target {
			t *= 1 + 0.16*saw(a/3.4+b.phase)
		}
	}
	return b.Base + ripple + t
}

// saw rises from -1 to 1 over two thirds of a period and falls over the rest.
func saw(x float64) float64 {
	f := frac(x)
	if f < 0.66 {
		return 2*f/0.66 - 1
	}
	return 1 - 2*(f-0.66)/0.34
}

func frac(x float64) float64 { return x - math.Floor(x) }

// Reading is one sample of the stand-in wrench.
type Reading = device.Reading

// Hand is who pulls: how far and how steadily.
type Hand struct {
	ToNm    float64 // stop at this torque; 0 pulls to an angle
	TurnDeg float64 // stop after this turn from where the torque began to move it
	Rate    float64 // samples a second
	Speed   float64 // degrees a second while running down
	Ramp    float64 // N·m a second while the bolt holds
	Noise   float64 // N·m of scatter
	Offset  float64 // N·m shown at rest
	Jerks   int     // times the hand lets the load slip and takes it up again
	Strokes int     // ratchet strokes: the torque returns to zero between them
	Click   bool    // overshoot of a setting wrench after the click
	Limit   float64 // the sensor's end, 0 has none
	Drop    float64 // share of samples that go missing
}

// Pull is a pull in progress.
type Pull struct {
	b       *Bolt
	h       Hand
	t       float64
	load    float64
	start   float64 // angle at which this pull began to move the bolt
	moved   bool
	resting float64 // seconds the hand still rests
	rises   bool
	breaks  []float64 // torques or angles at which the hand rests
	Reached bool
	left    bool
	spring  float64
}

// Begin takes hold of a bolt.
func (b *Bolt) Begin(h Hand) *Pull {
	if h.Rate == 0 {
		h.Rate = 100
	}
	if h.Speed == 0 {
		h.Speed = 140
	}
	if h.Ramp == 0 {
		h.Ramp = math.Max(20, 0.6*b.Target)
	}
	p := &Pull{b: b, h: h, start: b.theta, resting: 0.15, spring: 1}
	n := h.Jerks
	if h.Strokes > 1 {
		n = h.Strokes - 1
	}
	for range n {
		p.breaks = append(p.breaks, 0.2+0.6*b.rng.Float64())
	}
	return p
}

// Step moves time on and gives the next reading.
func (p *Pull) Step() Reading {
	dt := 1 / p.h.Rate
	p.t += dt
	r := p.b.resistance(p.b.theta)
	switch {
	case p.left:
		p.load = math.Max(0, p.load-dt*p.b.Target*6)
	case p.resting > 0:
		p.resting -= dt
		if p.h.Strokes > 1 {
			p.load = math.Max(0, p.load-dt*p.b.Target*5)
		} else {
			p.load = math.Max(0.45*r, p.load-dt*p.b.Target*3)
		}
	case p.Reached:
		p.load = math.Min(p.load, r)
	default:
		if p.load < r {
			p.load = math.Min(r, p.load+dt*math.Max(p.h.Ramp, p.b.Target))
			if p.b.Fault == AlreadyTight && p.h.ToNm > 0 && p.load >= p.h.ToNm {
				p.Reached = true
			}
		} else {
			speed := p.h.Speed
			if p.b.theta > p.b.RunDown-6 {
				speed = math.Min(speed, p.h.Ramp/math.Max(p.b.Slope, 0.2))
			}
			if !p.moved {
				p.start, p.moved = p.b.theta, true
			}
			p.b.theta += speed * dt
			p.load = p.b.resistance(p.b.theta)
			p.rest()
			p.stop()
		}
	}
	twist := p.load / math.Max(p.b.Target, 1) * 0.6 // socket and bar wind up
	x := Reading{T: p.t, Angle: p.b.theta + twist, Torque: p.load}
	if p.h.Click && p.Reached && !p.left && p.rises {
		x.Torque *= 1.06
		p.rises = false
	}
	x.Torque += p.h.Offset + p.h.Noise*p.b.rng.NormFloat64()
	x.Angle += 0.05 * p.b.rng.NormFloat64()
	if p.h.Limit > 0 && x.Torque > p.h.Limit {
		x.Torque = p.h.Limit
	}
	return x
}

// rest lets the hand rest where it was going to.
func (p *Pull) rest() {
	done := p.load / math.Max(p.h.ToNm, 0.01)
	if p.h.ToNm == 0 {
		done = (p.b.theta - p.start) / math.Max(p.h.TurnDeg, 1)
	}
	for i, at := range p.breaks {
		if at > 0 && done >= at {
			p.breaks[i] = 0
			p.resting = 0.25
			if p.h.Strokes > 1 {
				p.resting = 0.6
			}
		}
	}
}

func (p *Pull) stop() {
	if p.h.ToNm > 0 && p.load >= p.h.ToNm || p.h.TurnDeg > 0 && p.b.theta-p.start >= p.h.TurnDeg {
		p.Reached, p.rises = true, true
	}
	if p.b.Fault == Strips && p.b.theta-p.start > p.b.RunDown+120 || p.b.theta-p.start > 900 {
		p.Reached = true // nobody turns for ever
	}
}

// Release lets go.
func (p *Pull) Release() { p.left = true }

// Idle says that the load is gone.
func (p *Pull) Idle() bool { return p.left && p.load == 0 }

// Play makes a whole pull at once, with a rest before and after.
func (b *Bolt) Play(h Hand) []Reading {
	p := b.Begin(h)
	var out []Reading
	hold, quiet := 0.3, 0.25
	for len(out) < 400_000 && quiet > 0 {
		x := p.Step()
		if p.Reached && !p.left {
			if hold -= 1 / p.h.Rate; hold < 0 {
				p.Release()
			}
		}
		if p.Idle() {
			quiet -= 1 / p.h.Rate
		}
		if h.Drop > 0 && b.rng.Float64() < h.Drop {
			continue
		}
		out = append(out, x)
	}
	return out
}
