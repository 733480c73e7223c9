package sim

import (
	"math"
	"math/rand/v2"
)

// Doing is what a hand does at one time.
type Doing uint8

// What a hand can do.
const (
	Resting   Doing = iota // hold what there is
	Pulling                // on to a torque
	Turning                // on by an angle of the fastener
	LettingGo              // until the tool is slack
	Loosening              // back by an angle of the fastener
	Waiting                // with a slack tool
)

// Act is one thing a hand does: Pulling to N·m, Turning and Loosening by degrees, the
// others for seconds.
type Act struct {
	Do Doing
	By float64
}

// Hand is who pulls: what in turn, how quick, how steady.
type Hand struct {
	Acts     []Act
	Spin     float64   // degrees a second while nothing resists
	Ramp     float64   // N·m a second against resistance
	Turn     float64   // degrees a second when it turns by angle
	Unsteady float64   // share by which the pace comes and goes
	Reaction float64   // seconds from reaching to stopping
	Sweep    float64   // degrees of room; 0 is all there is
	Jerks    []float64 // N·m at which the load is let down and taken up again
	Cut      bool      // the recording ends while the tool is let go
}

// Pull is a pull in progress.
type Pull struct {
	g     *grip
	h     Hand
	rng   *rand.Rand
	acts  []Act
	t     float64
	began float64 // turn of the fastener when the act began
	spent float64 // seconds of the act
	late  float64 // seconds left until the hand stops
	swept float64 // degrees of room used
	back  bool    // the handle is on its way back
	down  bool    // a jerk: the load goes down
	waved float64
	over  bool
	hung  bool // somebody else says when to let go
}

// finest is the longest step of the mechanics, seconds.
const finest = 0.001

// longestTurn is after how many degrees of turning nobody goes on.
const longestTurn = 720.0

func newPull(j *standing, tool Tool, h Hand, rng *rand.Rand) *Pull {
	if h.Spin == 0 {
		h.Spin = 150
	}
	if h.Ramp == 0 {
		h.Ramp = 60
	}
	if h.Turn == 0 {
		h.Turn = 40
	}
	if tool.Rate == 0 {
		tool.Rate = 100
	}
	h.Jerks = append([]float64(nil), h.Jerks...)
	g := &grip{tool: tool, joint: j, rng: rng, handle: j.theta, rested: 1}
	g.seat = 0
	return &Pull{
		g:     g,
		h:     h,
		rng:   rng,
		acts:  h.Acts,
		began: j.theta,
		waved: 7 * rng.Float64(),
	}
}

// Step moves on to the next reading.
func (p *Pull) Step() Reading {
	left := 1 / p.g.tool.Rate
	for left > 1e-9 {
		dt := math.Min(left, finest)
		p.move(dt)
		left -= dt
		p.t += dt
	}
	return p.g.read(p.t)
}

// Over says that nothing more is done.
func (p *Pull) Over() bool { return p.over }

// LetGo ends what the hand does.
func (p *Pull) LetGo() {
	p.hung = false
	p.acts = []Act{{LettingGo, 0}, {Waiting, quiet}}
	p.begin()
}

func (p *Pull) begin() {
	p.began = p.g.joint.theta
	p.spent = 0
	p.late = 0
	p.back = false
	p.down = false
}

func (p *Pull) next() {
	if len(p.acts) > 0 {
		p.acts = p.acts[1:]
	}
	p.over = len(p.acts) == 0
	p.begin()
}

// move does the act in hand for a moment.
func (p *Pull) move(dt float64) {
	if len(p.acts) == 0 {
		p.over = true
		p.g.turn(0, dt)
		return
	}
	a := p.acts[0]
	p.spent += dt
	switch a.Do {
	case Resting:
		p.g.turn(0, dt)
		p.relax(dt)
		if p.spent >= a.By && !p.hung {
			p.next()
		}
	case Waiting:
		p.g.turn(0, dt)
		if p.spent >= a.By {
			p.next()
		}
	case LettingGo:
		p.letGo(dt)
	case Pulling:
		p.on(dt, p.g.torque >= a.By)
	case Turning:
		p.on(dt, p.g.joint.theta-p.began >= a.By)
	case Loosening:
		p.off(dt, p.began-p.g.joint.theta >= a.By)
	}
}

// relax lets faces sink in while the joint rests.
func (p *Pull) relax(dt float64) {
	j := p.g.joint
	if j.Relaxation > 0 && p.spent < 0.5 {
		j.lost += j.clamp * j.Relaxation * dt / 0.5
		j.settleAt(j.theta)
	}
}

// stood is how long a fastener must stand before the hand feels it stand, seconds.
const stood = 0.005

// pace is degrees a second that raise the torque as the hand means to.
func (p *Pull) pace() float64 {
	p.waved += finest
	wave := 1 + p.h.Unsteady*math.Sin(9*p.waved+3*math.Sin(4*p.waved))
	g := p.g
	j := g.joint
	free := g.torque <= 1.6*j.dragAt(j.theta)+0.02*p.h.Ramp
	switch {
	case g.rested > stood:
		quick := math.Max(p.h.Ramp, 1.5*j.tightening(j.theta))
		return wave * math.Min(p.h.Spin, quick*g.spring())
	case free:
		return wave * p.h.Spin
	case p.acts[0].Do == Turning:
		return wave * p.h.Turn
	}
	return wave * math.Min(p.h.Spin, p.h.Ramp*(g.spring()+p.give()))
}

// softest is what a hand allows for where nothing seems to hold, degrees for each N·m.
const softest = 4.0

// give is degrees of fastener for each N·m, as the joint feels.
func (p *Pull) give() float64 {
	j := p.g.joint
	const step = 0.5
	rise := (j.tightening(j.theta+step) - j.tightening(j.theta)) / step
	if rise <= 1/softest {
		return softest
	}
	return 1 / rise
}

// on pulls until done, in as many strokes as the room asks for.
func (p *Pull) on(dt float64, done bool) {
	if p.back {
		p.swing(dt)
		return
	}
	if p.down {
		p.jerk(dt)
		return
	}
	nobody := p.g.joint.theta-p.began > longestTurn || p.spent > 60
	if done || nobody || p.late > 0 {
		p.late += dt
		if p.late > p.h.Reaction || nobody {
			p.next()
			return
		}
	}
	by := p.pace() * dt
	p.g.turn(by, dt)
	p.swept += by
	if p.h.Sweep > 0 && p.swept >= p.h.Sweep && p.g.tool.Tooth > 0 && p.late == 0 {
		p.back = true
	}
	if len(p.h.Jerks) > 0 && p.g.torque >= p.h.Jerks[0] {
		p.h.Jerks = p.h.Jerks[1:]
		p.down = true
	}
}

// swing takes the handle back to where there is room.
func (p *Pull) swing(dt float64) {
	by := 1.2 * p.h.Spin * dt
	p.g.turn(-by, dt)
	p.swept -= by
	if p.swept <= 0 {
		p.swept = 0
		p.back = false
		p.g.bite()
	}
}

// jerk lets the load down to less than a half, and goes on.
func (p *Pull) jerk(dt float64) {
	need := p.g.joint.tightening(p.g.joint.theta)
	if p.g.torque < 0.45*need {
		p.down = false
		return
	}
	p.g.turn(-6*p.h.Ramp*p.g.spring()*dt, dt)
}

func (p *Pull) letGo(dt float64) {
	slack := 4 * math.Max(p.h.Ramp, math.Abs(p.g.torque)) * p.g.spring() * dt
	if math.Abs(p.g.torque) < 0.02*p.h.Ramp || p.spent > 5 {
		p.g.handle = p.g.seat + p.g.joint.theta
		p.g.turn(0, dt)
		p.next()
		return
	}
	p.g.turn(-math.Copysign(slack, p.g.torque), dt)
}

// off turns back by a bar that does not ratchet.
func (p *Pull) off(dt float64, done bool) {
	if done || p.spent > 60 {
		p.next()
		return
	}
	tooth := p.g.tool.Tooth
	p.g.tool.Tooth = 0
	p.g.turn(-0.5*p.h.Spin*dt, dt)
	p.g.tool.Tooth = tooth
}

// Played is a pull with what is true of it.
type Played struct {
	Readings []Reading
	PeakNm   float64   // the most torque while the fastener went on
	Turned   []float64 // degrees the fastener went in each act, back is negative
	PeakOf   []float64 // N·m, the most in each act
	Stands   float64   // degrees from where it began
	ClampN   float64   // at the end
	SetMM    float64   // the shank stretched for good
	Sheared  bool      // the threads gave way
	Slips    int       // times it slipped and stuck again
}

// Play makes a whole pull at once.
func (p *Pull) Play() Played {
	var out Played
	from := p.g.joint.theta
	acts := len(p.acts)
	at := from
	most := 0.0
	note := func() {
		out.Turned = append(out.Turned, p.g.joint.theta-at)
		out.PeakOf = append(out.PeakOf, most)
		at = p.g.joint.theta
		most = 0
	}
	for len(out.Readings) < 400_000 && !p.over {
		x := p.Step()
		most = math.Max(most, p.g.torque)
		for acts > len(p.acts) {
			acts--
			note()
		}
		cut := p.h.Cut && len(p.acts) == 1 && p.acts[0].Do == Waiting
		if cut {
			break
		}
		if p.rng.Float64() < p.g.tool.Drop {
			continue
		}
		out.Readings = append(out.Readings, x)
	}
	j := p.g.joint
	out.PeakNm = p.g.highest
	out.Stands = j.theta - from
	out.ClampN = j.clamp
	out.SetMM = j.set
	out.Sheared = j.sliped
	out.Slips = p.g.slips
	return out
}
