package pull_test

// A second world for the judge, written from mechanics by a hand that had not read it and shares
// nothing with device/sim: where that one steps from rest to rest, this one integrates the turning
// masses in time, so that standing still, creeping, slipping and creaking come out by themselves.
// What is true of a pull is read from the clamp, never from the name of what was done to it.

import (
	"math"
	"math/rand/v2"

	"lugtak/core/pull"
)

const (
	runs    = 400  // degrees a second while nothing is met
	step    = 5e-5 // s, a tenth of the fastest swing here
	steel   = 205_000.0
	degrees = 180 / math.Pi
)

// joint is a bolt and what it holds, in newtons, millimetres and degrees.
type joint struct {
	d, pitch, grip  float64
	yield           float64 // MPa
	thread, bearing float64 // friction
	sticks          float64 // how much more of it at rest, as a share
	contact         float64 // turn at which the parts meet
	rough           float64 // mm that faces give way before they carry
	drag            float64 // N·m of a locking nut, from dragFrom on over dragOver degrees
	dragFrom        float64
	dragOver        float64

	// What can be wrong with it.
	shears  float64 // N at which its thread goes; 0 never
	bottom  float64 // degrees past contact at which its end meets the hole; 0 never
	crossed float64 // N·m per degree a crossed thread takes, from its first turn
	galls   float64 // how many times the friction of its thread grows
	gallsAt float64 // N from which it does
	gallsBy float64 // N at which it has
}

func (j *joint) d2() float64 { return j.d - 0.649519*j.pitch } // ISO 724

func (j *joint) area() float64 { // ISO 898-1
	d3 := j.d - 1.226869*j.pitch
	return math.Pi / 16 * (j.d2() + d3) * (j.d2() + d3)
}

// gives is how long shank and parts together become, mm a newton (VDI 2230: head and nut count four
// tenths of a diameter each).
func (j *joint) gives() float64 {
	shank := (j.grip + 0.8*j.d) / (steel * j.area())
	head := 1.5 * j.d
	parts := j.grip / (steel * math.Pi / 4 * (2.2*head*head - 1.1*j.d*1.1*j.d))
	return shank + parts
}

// yields is the pull, N, at which the shank gives for good while it is twisted by its own thread.
func (j *joint) yields() float64 {
	d0 := math.Sqrt(4 * j.area() / math.Pi)
	twist := 1.5 * j.d2() / d0 * (j.pitch/(math.Pi*j.d2()) + 1.155*j.thread)
	return j.yield * j.area() / math.Sqrt(1+3*twist*twist)
}

// arms are the lever arms, mm: of the pitch, of the thread's friction and of the head's.
func (j *joint) arms() (pitch, thread, head float64) {
	return j.pitch / (2 * math.Pi), j.d2() / 2 / math.Cos(math.Pi/6), 0.65 * j.d
}

// torque is what a sound one of this friction takes to be clamped so.
func (j *joint) torque(clamp float64) float64 {
	p, t, h := j.arms()
	return clamp * (p + j.thread*t + j.bearing*h) / 1000
}

// slope is the torque a degree of a sound one, N·m.
func (j *joint) slope() float64 { return j.torque(j.pitch / 360 / j.gives()) }

// turning is where a bolt stands and how it moves.
type turning struct {
	*joint
	at, speed float64 // degrees, degrees a second
	clamp     float64 // N in the shank
	set       float64 // mm it has stretched for good
	end       float64 // N on its end in the bottom of a hole
	gone      bool    // its thread is sheared
	goneAt    float64
	hardens   float64
	ripple    float64
	most      float64 // N, the greatest clamp it had
	furthest  float64
}

// load finds the clamp from the turn: faces close first, then shank and parts stretch; past yield
// the shank stretches for good and hardens a little.
func (b *turning) load() {
	u := (b.at-b.contact)*b.pitch/360 - b.set
	if u <= 0 {
		b.clamp, b.end = 0, 0
		return
	}
	c, soft := b.gives(), 0.06*b.yields()
	f := math.Max(b.clamp, soft/4)
	for by := soft; math.Abs(by) > 1e-6*soft; { // Newton's, on a curve that bends one way
		e := math.Exp(-f / soft)
		by = (f*c + b.rough*(1-e) - u) / (c + b.rough/soft*e)
		f = math.Max(0, f-by)
	}
	if top := b.yields() + b.hardens; f > top {
		over := f - top
		b.set += 0.96 * over * c
		b.hardens += 0.04 * over
		f = top + 0.04*over
	}
	if b.shears > 0 && !b.gone && f > b.shears {
		b.gone, b.goneAt = true, b.at
	}
	if b.gone {
		f = math.Min(f, b.shears*math.Exp(-(b.at-b.goneAt)/90))
	}
	if over := b.at - b.contact - b.bottom; b.bottom > 0 && over > 0 {
		met := (b.at - over - b.contact) * b.pitch / 360
		b.end = over * b.pitch / 360 / (0.35 * c)
		f = math.Min(f, met/c) // what turns it on from here presses on its end, not on the parts
	}
	b.clamp = f
	b.most = math.Max(b.most, f)
}

// resists is what holds it against turning, N·m: the pitch pushes it back, the friction holds it still.
func (b *turning) resists() (pushes, holds float64) {
	p, t, h := b.arms()
	rub := 1 + b.sticks*math.Exp(-math.Abs(b.speed)/8)
	thread, bearing := b.thread*rub, b.bearing*rub
	if b.galls > 1 && b.clamp > b.gallsAt {
		thread *= 1 + (b.galls-1)*math.Min(1, (b.clamp-b.gallsAt)/(b.gallsBy-b.gallsAt))
	}
	pushes = (b.clamp + b.end) * p / 1000
	holds = ((b.clamp+b.end)*thread*t+b.clamp*bearing*h+b.end*bearing*0.25*b.d)/1000 + 0.002*b.d*b.d/10
	if b.drag > 0 && b.at > b.dragFrom {
		holds += b.drag * math.Min(1, (b.at-b.dragFrom)/b.dragOver) * (1 + 0.05*math.Sin(b.at/17+b.ripple))
	}
	if b.crossed > 0 && b.at > 0 {
		holds += b.crossed * b.at * (1 + 0.15*math.Sin(b.at/40+b.ripple))
	}
	return pushes, holds
}

// turn lets the torque work on it for one step; the socket and the head are its mass.
func (b *turning) turn(nm, mass float64) {
	b.load()
	pushes, holds := b.resists()
	drive := nm - pushes
	if b.speed == 0 && math.Abs(drive) <= holds {
		return
	}
	way := b.speed
	if way == 0 {
		way = drive
	}
	before := b.speed
	b.speed += step / mass * degrees * (drive - math.Copysign(holds, way))
	if before*b.speed < 0 {
		b.speed = 0
	}
	b.at += step * b.speed
	b.furthest = math.Max(b.furthest, b.at)
}

// wrench is a tool with a spring between the handle and the square, and what its electronics make of it.
type wrench struct {
	flex     float64 // degrees a newton metre
	mass     float64 // kg·m² that turn with the head
	rate     float64 // readings a second
	slow     float64 // s, of its low-pass
	noise    float64 // N·m
	hum      float64 // N·m at the mains' 50 Hz
	digit    float64 // N·m
	offset   float64 // N·m
	drift    float64 // degrees a second of its gyroscope
	least    float64 // degrees it shows
	most     float64 // N·m it can read; 0 beyond all that is played
	atHandle bool
}

// hand is who turns it.
type hand struct {
	speed    float64 // degrees a second, at ease
	room     float64 // degrees of a stroke; 0 without end
	late     float64 // s from seeing to stopping
	shakes   float64 // share of the speed
	beat     float64 // Hz
	holds    float64 // s before letting go
	lets     float64 // s to let go
	turnsOff float64 // degrees turned back at the end
}

// aim is one stage as the hand carries it out: to a torque, or through an angle.
type aim struct {
	nm, deg float64
	rest    bool // lets go before the next
}

// played is a pull with what became of the bolt.
type played struct {
	trace  []pull.Sample
	bolt   turning
	turned float64 // degrees of its angle stage
	reach  float64 // N·m, the greatest a true reading would show
	snug   float64 // and that of its torque stage
	over   float64 // degrees it turned while the sensor stood at its end
	climb  []point // what it was turned on by, where it was further than ever
}

// point is so many newton metres at so many degrees.
type point struct{ deg, nm float64 }

// slope is the torque over the turn, N·m a degree, between two shares of what was reached.
func (p played) slope(from, to float64) float64 {
	var low, high point
	for _, x := range p.climb {
		if x.nm <= from*p.reach {
			low = x
		}
		if x.nm <= to*p.reach {
			high = x
		}
	}
	return (high.nm - low.nm) / math.Max(0.01, high.deg-low.deg)
}

type player struct {
	*wrench
	hand
	rng     *rand.Rand
	b       turning
	t       float64
	handle  float64 // degrees
	ratchet float64 // where the ratchet holds the head against the handle
	filter  float64 // N·m after the low-pass
	next    float64 // s of the next reading
	reach   float64 // N·m, the greatest after the low-pass
	over    float64 // degrees turned at the sensor's end
	climb   []point
	out     []pull.Sample
}

func (p *player) spring() float64 { return (p.handle - p.ratchet - p.b.at) / p.flex }

// climbs keeps where the bolt is further than ever.
func (p *player) climbs() {
	if n := len(p.climb); n == 0 || p.b.at > p.climb[n-1].deg+0.02 {
		p.climb = append(p.climb, point{deg: p.b.at, nm: p.filter})
	}
}

// tick moves the handle at so many degrees a second for a millisecond.
func (p *player) tick(speed float64, swings bool) {
	damps := 0.4 * math.Sqrt(degrees/p.flex*p.mass) / degrees // a fifth of what would let nothing swing
	for range int(1e-3 / step) {
		p.t += step
		p.handle += speed * step
		winds := speed
		if swings { // the ratchet clicks back under a touch of drag
			p.ratchet += speed * step
			winds = 0
		}
		nm := p.spring() + damps*(winds-p.b.speed)
		p.b.turn(nm, p.mass)
		p.filter += (nm - p.filter) * math.Min(1, step/p.slow)
		p.reach = math.Max(p.reach, p.filter)
		if p.most > 0 && p.filter > p.most && p.b.speed > 0 {
			p.over += p.b.speed * step
		}
		for p.t >= p.next {
			p.next += 1 / p.rate
			p.read()
		}
	}
	p.climbs()
}

func (p *player) read() {
	nm := p.filter + p.offset + p.noise*p.rng.NormFloat64() + p.hum*math.Sin(2*math.Pi*50*p.t)
	nm = math.Round(nm/p.digit) * p.digit
	if p.most > 0 {
		nm = math.Min(nm, p.most)
	}
	deg := p.b.at
	if p.atHandle {
		deg = p.handle
	}
	deg = math.Round((deg+p.drift*p.t)/p.least) * p.least
	p.out = append(p.out, pull.Sample{T: p.t, Angle: deg, Torque: nm})
}

// wait keeps the handle where it is.
func (p *player) wait(s float64) {
	for end := p.t + s; p.t < end; {
		p.tick(0, false)
	}
}

// letGo takes the load off the handle.
func (p *player) letGo() {
	back := math.Max(0, p.spring()*p.flex) / p.lets
	for p.spring() > 0.02*p.digit && back > 0 {
		p.tick(-back, false)
	}
}

// pulls carries one stage out, in strokes; a stroke ends where the room does.
func (p *player) pulls(a aim) {
	from, began := p.b.at, p.handle
	stop := math.Inf(1)
	for start := p.t; p.t < stop && p.t < start+25; {
		near := 1.0
		if a.deg > 0 {
			left := a.deg - (p.b.at - from)
			near = left / 20
			if left <= 0.3 && math.IsInf(stop, 1) {
				stop = p.t + p.late/3
			}
		} else {
			near = (a.nm - p.filter) / (0.25 * a.nm)
			if p.filter >= a.nm && math.IsInf(stop, 1) {
				stop = p.t + p.late
			}
		}
		pace := p.hand.speed
		if p.b.clamp == 0 && a.deg == 0 {
			pace = runs
		}
		speed := pace * math.Min(1, math.Max(0.12, near)) * math.Min(1, 0.1+(p.t-start)/0.15)
		speed *= 1 + p.shakes*math.Sin(2*math.Pi*p.beat*p.t)
		if p.room > 0 && p.handle-began >= p.room && math.IsInf(stop, 1) {
			p.letGo()
			for p.handle > began {
				p.tick(-3*p.room, true)
			}
			p.wait(0.1)
		}
		p.tick(speed, false)
	}
}

// play carries out the stages on a bolt.
func play(j *joint, w *wrench, h hand, aims []aim, rng *rand.Rand) played {
	p := &player{wrench: w, hand: h, rng: rng, b: turning{joint: j, ripple: 6 * rng.Float64()}}
	p.wait(0.15 + 0.3*rng.Float64())
	var out played
	for i, a := range aims {
		from := p.b.at
		p.pulls(a)
		p.wait(p.hand.holds)
		if a.deg > 0 {
			out.turned += p.b.at - from
		} else {
			out.snug = p.reach
		}
		if a.rest || i == len(aims)-1 {
			p.letGo()
			p.wait(0.15)
		}
	}
	if h.turnsOff > 0 {
		for to := p.b.at - h.turnsOff; p.b.at > to; {
			p.tick(-40, false)
		}
		for p.spring() < -p.digit {
			p.tick(40, false)
		}
	}
	p.wait(0.3)
	out.trace, out.bolt, out.reach, out.over, out.climb = p.out, p.b, p.reach, p.over, p.climb
	return out
}
