package sim

import (
	"math"
	"math/rand/v2"
)

// Encoder is where a tool reads its angle.
type Encoder uint8

// The encoders.
const (
	Head   Encoder = iota // at the square: what the fastener turns
	Handle                // at the grip: with all that winds up between
)

// Tool is a torque–angle wrench with its faults.
type Tool struct {
	Flex       float64 // degrees of wind-up for each N·m between grip and fastener
	Encoder    Encoder
	Tooth      float64 // degrees of a ratchet tooth; 0 is a fixed bar
	Rate       float64 // readings a second
	TorqueStep float64 // N·m of a digit; 0 reads on
	AngleStep  float64 // degrees of a digit; 0 reads on
	Noise      float64 // N·m, one standard deviation
	AngleNoise float64 // degrees, one standard deviation
	Offset     float64 // N·m shown at rest
	Drift      float64 // N·m the offset grows a second
	Limit      float64 // N·m at which the sensor stands; 0 has none
	Rolls      bool    // the angle begins anew at 360
	Drop       float64 // share of readings that go missing
}

// grip is a tool on a joint: a spring between hand and fastener.
type grip struct {
	tool    Tool
	joint   *standing
	handle  float64 // degrees the hand has turned
	seat    float64 // handle angle at which the spring is slack
	torque  float64 // N·m in it
	moving  bool
	rested  float64 // seconds it has stood
	highest float64 // N·m while it moved on
	slips   int     // times it slipped and stuck again, with a jump that can be felt
	rng     *rand.Rand
}

// quickest is how far a fastener can jump in one millisecond, degrees.
const quickest = 3.0

// aged is the rest, seconds, after which friction has grown to its value at rest.
const aged = 0.15

// turn moves the hand by so many degrees in so many seconds.
func (g *grip) turn(by, dt float64) {
	j := g.joint
	g.handle += by
	wound := g.handle - g.seat - j.theta
	ratchets := g.tool.Tooth > 0
	if wound < 0 && ratchets {
		// The pawl slips over its teeth; it takes hold again within the next.
		g.seat = g.handle - j.theta
		wound = 0
	}
	g.torque = wound / g.spring()
	before := j.theta
	switch {
	case g.torque > 0:
		g.slideOn(dt)
	case g.torque < 0:
		g.slideOff(dt)
	}
	g.torque = (g.handle - g.seat - j.theta) / g.spring()
	g.moving = j.theta != before
	if g.moving {
		g.rested = 0
	} else {
		g.rested += dt
	}
	if j.theta > before {
		g.highest = math.Max(g.highest, g.torque)
	}
}

// spring is the wind-up, never so small that the arithmetic suffers.
func (g *grip) spring() float64 { return math.Max(g.tool.Flex, 0.003) }

// excess is the friction beyond sliding that must be overcome to start.
func (g *grip) excess() float64 {
	if g.moving {
		return 0
	}
	return g.joint.Stick * math.Min(1, g.rested/aged)
}

// Steps of a slide, degrees: taken while the spring still drives, halved where it would
// not.
const (
	coarse = 0.01
	fine   = 1e-5
)

// slide moves the fastener until drives says no, in the direction of sign.
func (g *grip) slide(sign, dt float64, drives func(theta float64) bool) {
	j := g.joint
	most := quickest * 1000 * dt
	far := 0.0
	for step := coarse; step > fine && far < most; {
		if !drives(j.theta + sign*step) {
			step /= 2
			continue
		}
		j.settleAt(j.theta + sign*step)
		far += step
	}
}

// at is the torque in the spring with the fastener at an angle.
func (g *grip) at(theta float64) float64 { return (g.handle - g.seat - theta) / g.spring() }

// slideOn lets the fastener go on as far as the spring drives it.
func (g *grip) slideOn(dt float64) {
	j := g.joint
	if g.torque <= j.tightening(j.theta)*(1+g.excess()) {
		return
	}
	share := 1.0
	if j.Gall > 0 && j.clamp > j.GallFrom {
		share = 1 - j.Gall
		g.slips++
	}
	g.slide(1, dt, func(theta float64) bool { return g.at(theta) > share*j.tightening(theta) })
}

// slideOff lets it come off.
func (g *grip) slideOff(dt float64) {
	j := g.joint
	if -g.torque <= j.loosening(j.theta)*(1+j.Stick*math.Min(1, g.rested/aged)) {
		return
	}
	g.slide(-1, dt, func(theta float64) bool { return -g.at(theta) > j.loosening(theta) })
}

// bite drops the pawl into its next tooth after a swing back.
func (g *grip) bite() {
	if g.tool.Tooth > 0 {
		g.seat += g.tool.Tooth * g.rng.Float64()
	}
}

// read is what the tool shows.
func (g *grip) read(t float64) Reading {
	x := Reading{T: t, Angle: g.joint.theta, Torque: g.torque}
	if g.tool.Encoder == Handle {
		x.Angle = g.handle
	}
	x.Torque += g.tool.Offset + g.tool.Drift*t + g.tool.Noise*g.rng.NormFloat64()
	x.Angle += g.tool.AngleNoise * g.rng.NormFloat64()
	x.Torque = digits(x.Torque, g.tool.TorqueStep)
	x.Angle = digits(x.Angle, g.tool.AngleStep)
	if g.tool.Limit > 0 {
		x.Torque = math.Min(x.Torque, g.tool.Limit)
	}
	if g.tool.Rolls {
		x.Angle = math.Mod(math.Mod(x.Angle, 360)+360, 360)
	}
	return x
}

func digits(v, step float64) float64 {
	if step <= 0 {
		return v
	}
	return math.Round(v/step) * step
}
