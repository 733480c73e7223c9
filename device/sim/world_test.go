package sim

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
)

// scene is one tightening of the study: a joint, a tool and a hand drawn wide, what was
// asked for, and what is true of it by mechanics alone.
type scene struct {
	name    string
	recipe  string
	thread  string // what the shop knows of the fastener, empty for half of them
	class   string
	flex    float64 // degrees for each N·m, where the angle is read at the grip
	play    Played
	want    string  // the signature a good judge gives
	danger  bool    // keeping it would hurt somebody
	good    bool    // refusing it would be wrong
	shaking bool    // by a hand that shakes and lets go
	unseen  bool    // its top is not in the recording: whatever it looks like, it is not kept
	unsure  bool    // friction took what the clamp should have: not sure of, and refused beside siblings
	edge    bool    // too near an edge to be called right or wrong
	slope   float64 // N·m per degree of the sound joint; 0 where nobody knows its siblings
	encoder Encoder
	at      float64 // true figure over the one asked for, for the curve at the edge
	rate    float64
}

// size is a thread of ISO 724 with its head (ISO 4014, ISO 273), mm, and the shares of
// load that class 8.8 bears (ISO 898-1): from memory of the tables.
type size struct {
	name            string
	d, pitch, flank float64
	head            float64 // mean friction diameter
	area            float64 // mm²
}

var sizes = []size{
	{"M6", 6, 1, 5.350, 7.7, 20.1},
	{"M8", 8, 1.25, 7.188, 10.3, 36.6},
	{"M10", 10, 1.5, 9.026, 12.8, 58.0},
	{"M12x1.5", 12, 1.5, 11.026, 15.1, 88.1},
	{"M14x1.5", 14, 1.5, 13.026, 17.6, 125},
	{"M16x1.5", 16, 1.5, 15.026, 20.0, 167},
}

var rates = []float64{50, 100, 250, 500, 1000, 5000}

// world draws scenes; the same seed draws the same.
type world struct {
	rng *rand.Rand
	sz  size
	j   Joint
	t   Tool
	h   Hand
	tau float64 // N·m asked for
	sc  scene
}

func (w *world) between(low, high float64) float64 { return low + (high-low)*w.rng.Float64() }
func (w *world) odds(p float64) bool               { return w.rng.Float64() < p }

// lever is N·m for each newton of clamp.
func (w *world) lever() float64 { return (w.j.lead() + w.j.rub()) / 1000 }

func newWorld(seed uint64) *world {
	w := &world{rng: rand.New(rand.NewPCG(seed, 0x776f726c64))}
	w.sz = sizes[w.rng.IntN(len(sizes))]
	z := w.sz
	w.j = Joint{
		Pitch:     z.pitch,
		FlankDia:  z.flank,
		HeadDia:   z.head,
		ThreadMu:  w.between(0.10, 0.16),
		HeadMu:    w.between(0.10, 0.16),
		RunDown:   w.between(40, 400),
		Ripple:    w.between(0, 0.3),
		Stick:     w.between(0, 0.06),
		Hardening: 0.08,
		StripLoss: w.between(0.06, 0.3),
	}
	// Grip of 1.5 to 4 diameters, parts two to six times as stiff as the bolt.
	grip := w.between(1.5, 4)
	parts := w.between(2, 6)
	bolt := 205000 * z.area / (grip*z.d + 0.8*z.d)
	w.j.Stiffness = bolt * parts / (1 + parts)
	yield := 640 * z.area
	w.tau = math.Round(w.between(0.45, 0.72) * yield * w.lever())
	w.j.Settle = w.between(0.02, 0.10) * w.tau / w.lever() / w.j.Stiffness
	w.j.Drag = w.between(0.005, 0.04) * w.tau
	w.j.Relaxation = w.between(0, 0.02)
	w.t = Tool{
		Rate:       rates[w.rng.IntN(len(rates))],
		Flex:       w.between(0.2, 1.5) / w.tau,
		TorqueStep: []float64{0, 0.001, 0.004}[w.rng.IntN(3)] * w.tau,
		AngleStep:  []float64{0, 0.1, 0.5}[w.rng.IntN(3)],
		Noise:      []float64{0, 0.002, 0.005, 0.01}[w.rng.IntN(4)] * w.tau,
		AngleNoise: w.between(0, 0.1),
		Offset:     w.between(-0.015, 0.015) * w.tau,
		Drift:      w.between(-0.001, 0.001) * w.tau,
		Rolls:      w.odds(0.2),
	}
	if w.odds(0.1) {
		w.t.Drop = 0.08
	}
	w.h = Hand{
		Spin:     w.between(60, 300),
		Ramp:     w.tau * w.between(0.4, 1.5),
		Turn:     w.between(20, 80),
		Unsteady: w.between(0, 0.3),
		Reaction: w.between(0, 0.02),
	}
	if w.odds(0.35) { // a ratchet in a tight place
		w.t.Tooth = w.between(2, 6)
		w.h.Sweep = w.between(25, 90)
		w.t.AngleNoise = math.Min(w.t.AngleNoise, 0.05)
	}
	if w.odds(0.25) {
		w.t.Encoder = Handle
		w.sc.flex = w.t.Flex
	}
	if w.odds(0.2) {
		for range 1 + w.rng.IntN(2) {
			w.h.Jerks = append(w.h.Jerks, w.between(0.25, 0.8)*w.tau)
		}
	}
	if w.odds(0.5) {
		w.sc.thread, w.sc.class = z.name, "8.8"
	}
	w.sc.rate = w.t.Rate
	w.sc.encoder = w.t.Encoder
	if w.odds(0.4) {
		w.knowSiblings()
	}
	return w
}

// knowSiblings sets the slope that sound fasteners of the pattern show.
func (w *world) knowSiblings() {
	w.sc.slope = w.j.Stiffness * w.j.Pitch / 360 * w.lever()
}

// torque asks for one figure.
func (w *world) torque() { w.sc.recipe = fmt.Sprintf("%g Nm", w.tau) }

// lead is what comes before a pull, tail what comes after; some recordings have neither.
func (w *world) framed(acts ...Act) []Act {
	var out []Act
	if w.odds(0.8) {
		out = append(out, Act{Waiting, w.between(0.1, 0.4)})
	}
	out = append(out, acts...)
	out = append(out, Act{Resting, w.between(0.05, 0.3)}, Act{LettingGo, 0}, Act{Waiting, w.between(0.15, 0.4)})
	w.h.Cut = w.odds(0.25)
	return out
}

func (w *world) run(acts []Act) {
	j := &standing{Joint: w.j}
	w.h.Acts = acts
	w.sc.play = newPull(j, w.t, w.h, w.rng).Play()
}

// trace pulls once to a share of what was asked for.
func (w *world) to(share float64) {
	w.torque()
	w.run(w.framed(Act{Pulling, share * w.tau}))
	w.sc.at = w.sc.play.PeakNm / w.tau
}

// Edges of a window of ±4 %, and of ±5°, within which nobody can call a verdict wrong.
const (
	surelyIn  = 0.028
	surelyOut = 0.055
	surelyFar = 0.08
	degIn     = 3.5
	degOut    = 6.8
	degFar    = 10.0
)

// call says what a pull to a torque truly was, when nothing else is wrong with it.
func (w *world) call() {
	off := w.sc.at - 1
	switch {
	case math.Abs(off) <= surelyIn:
		w.sc.want = "good"
	case off < -surelyOut:
		w.sc.want = "low"
	case off > surelyOut:
		w.sc.want = "high"
	default:
		w.sc.edge = true
	}
	w.sc.danger = math.Abs(off) > surelyFar
}

// callAngle says what a turn truly was.
func (w *world) callAngle(turned, asked float64) {
	off := turned - asked
	switch {
	case math.Abs(off) <= degIn:
		w.sc.want = "good"
	case off < -degOut:
		w.sc.want = "angle_short"
	case off > degOut:
		w.sc.want = "angle_long"
	default:
		w.sc.edge = true
	}
	w.sc.at = turned / asked
	w.sc.danger = math.Abs(off) > degFar
}

// An angle asked for after a torque, and how it was turned.
func (w *world) angle(deg float64, share float64, pause bool) {
	snug := 0.35 * w.tau
	w.tau = math.Round(snug)
	w.sc.recipe = fmt.Sprintf("%g Nm + %g°", w.tau, deg)
	w.j.Yield = 640 * w.sz.area * 0.85
	acts := []Act{{Pulling, w.tau}}
	if pause {
		acts = append(acts, Act{Resting, 0.1}, Act{LettingGo, 0}, Act{Waiting, w.between(0.3, 1)})
	}
	w.h.Jerks = nil
	w.h.Ramp = w.tau * w.between(0.4, 1.5)
	w.j.Drag = w.between(0.005, 0.04) * w.tau
	w.run(w.framed(append(acts, Act{Turning, share * deg})...))
	w.callAngle(w.sc.play.turned(w.h.Acts, Turning), deg)
	w.stageTorque()
}

// turned is how far the fastener went in the acts of that sort.
func (p Played) turned(acts []Act, do Doing) float64 {
	sum := 0.0
	for i, a := range acts {
		if a.Do == do && i < len(p.Turned) {
			sum += p.Turned[i]
		}
	}
	return sum
}

// stageTorque marks a scene whose first torque came near the edge of its window.
func (w *world) stageTorque() {
	for i, a := range w.h.Acts {
		if a.Do == Pulling {
			w.sc.edge = w.sc.edge || math.Abs(w.sc.play.PeakOf[i]/w.tau-1) > surelyIn
			return
		}
	}
}

// stageLast marks a scene whose last torque came near the edge.
func (w *world) stageLast() {
	for i, a := range w.h.Acts {
		if a.Do == Pulling && i < len(w.sc.play.PeakOf) {
			off := math.Abs(w.sc.play.PeakOf[i]/w.tau - 1)
			w.sc.edge = w.sc.edge || off > 0.035
		}
	}
}

// kinds are what the study plays; each says what is true of it.
var kinds = []struct {
	name string
	play func(w *world)
}{
	{"good", func(w *world) {
		w.to(w.between(0.975, 1.01))
		w.call()
	}},
	{"shaking hand", func(w *world) {
		w.h.Unsteady = w.between(0.4, 0.8)
		w.h.Jerks = nil
		for k := range 2 + w.rng.IntN(3) {
			w.h.Jerks = append(w.h.Jerks, (0.2+0.18*float64(k)+w.between(0, 0.1))*w.tau)
		}
		w.sc.shaking = true
		w.to(w.between(0.975, 1.01))
		w.call()
	}},
	{"low", func(w *world) {
		w.to(w.between(0.7, 0.93))
		w.call()
	}},
	{"high", func(w *world) {
		w.to(w.between(1.07, 1.3))
		w.call()
	}},
	{"locking nut", func(w *world) {
		w.j.Drag = w.between(0.08, 0.24) * w.tau
		w.j.Ripple = w.between(0, 0.12)
		w.to(w.between(0.975, 1.01))
		w.call()
	}},
	{"angle", func(w *world) {
		w.angle([]float64{45, 60, 90}[w.rng.IntN(3)], w.between(0.98, 1.02), w.odds(0.6))
	}},
	{"angle short", func(w *world) {
		w.angle([]float64{60, 90}[w.rng.IntN(2)], w.between(0.6, 0.85), w.odds(0.6))
	}},
	{"angle long", func(w *world) {
		w.angle([]float64{60, 90}[w.rng.IntN(2)], w.between(1.15, 1.5), w.odds(0.6))
	}},
	{"short grip past yield", func(w *world) {
		w.j.Stiffness *= 1.6
		w.sc.slope *= 1.6
		w.angle(90, w.between(0.98, 1.02), w.odds(0.6))
	}},
	{"two angles in one", func(w *world) {
		w.tau = math.Round(0.25 * w.tau)
		w.h.Ramp = w.tau * w.between(0.4, 1.5)
		w.j.Drag = w.between(0.005, 0.04) * w.tau
		w.sc.recipe = fmt.Sprintf("%g Nm, +45°, +45°", w.tau)
		w.j.Yield = 640 * w.sz.area * 0.85
		w.h.Jerks = nil
		w.run(
			w.framed(Act{Pulling, w.tau}, Act{Resting, 0.1}, Act{LettingGo, 0}, Act{Waiting, 0.5},
				Act{Turning, 90 * w.between(0.985, 1.015)}),
		)
		w.callAngle(w.sc.play.turned(w.h.Acts, Turning), 90)
		w.stageTorque()
	}},
	{"settled and again", func(w *world) {
		w.sc.recipe = fmt.Sprintf("%g Nm; back off 120°; %g Nm", w.tau, w.tau)
		w.h.Jerks = nil
		w.run(
			w.framed(Act{Pulling, w.tau}, Act{LettingGo, 0}, Act{Waiting, 0.3}, Act{Loosening, 120},
				Act{LettingGo, 0}, Act{Waiting, 0.3}, Act{Pulling, w.between(0.98, 1.01) * w.tau}),
		)
		w.sc.want = "good"
		w.stageTorque()
		w.stageLast()
	}},
	{"castle nut", func(w *world) {
		w.sc.recipe = fmt.Sprintf("%g Nm; next slot", w.tau)
		w.h.Jerks = nil
		w.run(w.framed(Act{Pulling, w.tau}, Act{LettingGo, 0}, Act{Waiting, 0.4}, Act{Turning, w.between(8, 50)}))
		w.sc.want = "good"
		w.stageTorque()
	}},
	{"turned back to the hole", func(w *world) {
		w.sc.recipe = fmt.Sprintf("%g Nm; next slot", w.tau)
		w.h.Jerks = nil
		w.run(w.framed(Act{Pulling, w.tau}, Act{LettingGo, 0}, Act{Waiting, 0.4}, Act{Loosening, w.between(8, 50)}))
		w.sc.want, w.sc.danger = "turned_back", true
	}},
	{"turned back", func(w *world) {
		w.torque()
		w.h.Jerks = nil
		w.run(w.framed(Act{Pulling, w.tau}, Act{LettingGo, 0}, Act{Waiting, 0.4}, Act{Loosening, w.between(8, 60)}))
		w.sc.want, w.sc.danger = "turned_back", true
	}},
	{"crossed", func(w *world) {
		w.j.RunDown = w.between(150, 400)
		w.j.JamAt = w.between(0, 0.3) * w.j.RunDown
		most := w.between(0.35, 1.1) * w.tau
		w.j.JamPer = most / (w.j.RunDown - w.j.JamAt + w.between(0, 60))
		w.j.JamMost = most
		w.j.JamWaves = w.between(0.05, 0.3)
		w.to(w.between(0.98, 1.01))
		w.sc.want, w.sc.danger = "cross_threaded", true
	}},
	{"threads shear", func(w *world) {
		w.j.Strip = w.between(0.5, 0.9) * w.tau / w.lever()
		w.to(1)
		w.sc.want, w.sc.danger = "stripped", true
	}},
	{"shank yields", func(w *world) {
		w.j.Yield = w.between(0.6, 0.85) * w.tau / w.lever()
		w.to(w.between(0.985, 1.01))
		w.sc.want, w.sc.danger = "yielded", true
	}},
	{"bottoms", func(w *world) {
		w.j.RunDown = w.between(90, 400)
		w.j.Bottom = w.j.RunDown - w.between(5, 60)
		// A shank of two to four diameters, twisted (textbook, shear modulus 80 GPa).
		root := w.sz.d - 1.2269*w.sz.pitch
		w.j.Torsion = 80000 * math.Pi / 32 * math.Pow(root, 4) / (w.between(2, 4) * w.sz.d) / 1000 * math.Pi / 180
		w.to(w.between(0.985, 1.01))
		w.sc.want, w.sc.danger = "bottomed", true
	}},
	{"galls", func(w *world) {
		w.j.Gall = w.between(0.15, 0.4)
		w.j.GallFrom = w.between(0.1, 0.35) * w.tau / w.lever()
		w.t.Flex = w.between(2, 5) / w.tau // a long bar
		if w.t.Encoder == Handle {
			w.sc.flex = w.t.Flex
		}
		w.to(1)
		w.sc.want = "stick_slip"
		w.sc.edge = w.sc.play.Slips < 6
	}},
	{"already tight", func(w *world) {
		w.torque()
		j := &standing{Joint: w.j}
		j.runTo(w.tau * w.between(1.15, 1.6))
		w.h.Jerks = nil
		w.h.Acts = w.framed(Act{Pulling, w.tau * w.between(0.98, 1.01)})
		w.sc.play = newPull(j, w.t, w.h, w.rng).Play()
		w.sc.want = "no_movement"
	}},
	{"clicked again", func(w *world) {
		w.torque()
		w.run(
			w.framed(Act{Pulling, w.tau * w.between(0.98, 1.0)}, Act{LettingGo, 0}, Act{Waiting, 0.5},
				Act{Pulling, 0.97 * w.tau}),
		)
		w.sc.want = "good"
		w.stageTorque()
		w.stageLast()
	}},
	{"sensor at its end", func(w *world) {
		limit := w.between(0.97, 1.03) * w.tau
		before := w.odds(0.5) // it scatters before its limit, or behind it
		scatter := w.t.Noise
		if before {
			w.t.Limit = limit
		} else {
			w.t.Noise = 0
		}
		w.to(w.between(1.12, 1.6))
		for i := range w.sc.play.Readings {
			if r := &w.sc.play.Readings[i]; !before {
				r.Torque = math.Min(r.Torque, limit) + scatter*w.rng.NormFloat64()
			}
		}
		w.hide()
	}},
	{"gap at the peak", func(w *world) {
		w.to(w.between(1.12, 1.5))
		w.lose(func(x Reading) bool { return x.Torque > w.between(0.97, 1.02)*w.tau })
		w.hide()
	}},
	{"stops on the rise", func(w *world) {
		w.to(w.between(1.15, 1.5))
		at := w.between(0.97, 1.03) * w.tau
		stopped := false
		w.lose(func(x Reading) bool {
			stopped = stopped || x.Torque > at
			return stopped
		})
		w.hide()
	}},
	{"seizes", func(w *world) {
		w.j.Seize = w.between(1, 2)
		w.j.SeizeAt = w.tau / ((w.j.lead() + w.j.rub()*(1+w.j.Seize)) / 1000)
		w.to(1)
		w.sc.unsure = true
		w.sc.edge = true // which sign it has is told by siblings alone
	}},
	{"insert", func(w *world) {
		w.j.BiteAt = w.between(120, 300)
		w.j.BiteOver = w.between(90, 240)
		w.j.RunDown = math.Min(690, w.j.BiteAt+w.j.BiteOver+w.between(120, 300)) // a hand turns twice round
		w.j.Bite = w.between(0.14, 0.24) * w.tau
		w.to(w.between(0.975, 1.01))
		w.call()
	}},
	{"crossed, uneven", func(w *world) {
		w.j.RunDown = w.between(250, 400)
		w.j.JamAt = w.between(0, 0.2) * w.j.RunDown
		w.j.JamMost = w.between(0.20, 0.29) * w.tau
		w.j.JamPer = w.j.JamMost / w.between(30, 120)
		w.j.JamWaves = w.between(0.35, 0.6)
		w.to(w.between(0.98, 1.01))
		w.sc.want, w.sc.danger = "cross_threaded", true
	}},
	{"something soft", func(w *world) {
		w.knowSiblings()
		w.j.Stiffness *= w.between(0.15, 0.35)
		w.j.Settle = 0.05 * w.tau / w.lever() / w.j.Stiffness
		w.to(w.between(0.985, 1.01))
		w.sc.want = "soft"
	}},
}

// lose takes readings out of the recording.
func (w *world) lose(lost func(Reading) bool) {
	w.sc.play.Readings = slices.DeleteFunc(w.sc.play.Readings, lost)
}

// hide marks a pull whose top nobody saw: keeping it hurts, whatever it looks like.
func (w *world) hide() {
	w.sc.unseen = true
	w.sc.edge = true
	w.sc.danger = w.sc.at-1 > surelyFar
}

// scenes gives the n-th scene of every kind.
func drawn(kind int, seed uint64) scene {
	w := newWorld(seed)
	w.sc.name = kinds[kind].name
	kinds[kind].play(w)
	w.sc.good = w.sc.want == "good"
	return w.sc
}
