package sim

import (
	"context"
	"math/rand/v2"
	"sync"

	"lugtak/device"
)

// Rack is a whole set of stand-ins: a wrench for every name, a gauge for every measure,
// and a road logger.
type Rack struct {
	mu       sync.Mutex
	wrenches map[string]*Wrench
	gauges   map[string]*Gauge
	logger   Logger
}

// NewRack gives a set of stand-ins that nobody has taken yet.
func NewRack() *Rack { return &Rack{wrenches: map[string]*Wrench{}, gauges: map[string]*Gauge{}} }

// Wrench is the stand-in that goes by that id.
func (r *Rack) Wrench(tool string) device.Wrench {
	r.mu.Lock()
	defer r.mu.Unlock()
	if r.wrenches[tool] == nil {
		r.wrenches[tool] = &Wrench{}
	}
	return r.wrenches[tool]
}

// Gauge is a stand-in gauge on a part that is about as worn as most; each kind of
// measure has its own part, which stays what it is.
func (r *Rack) Gauge(what string, usual float64) device.Gauge {
	r.mu.Lock()
	defer r.mu.Unlock()
	if r.gauges[what] == nil {
		seed := uint64(len(what)) + uint64(what[0])
		rng := rand.New(rand.NewPCG(seed, 0x67))
		r.gauges[what] = &Gauge{
			TrueMM:  usual * (0.8 + 0.4*rng.Float64()),
			ErrorMM: gaugeError * usual,
			Seed:    seed,
		}
	}
	return r.gauges[what]
}

// gaugeError is the scatter of a stand-in gauge, as a share of what it shows (invented).
const gaugeError = 0.01

// Logger is the stand-in road logger.
func (r *Rack) Logger() device.Logger { return &r.logger }

// Simulated is what all of it is.
func (r *Rack) Simulated() bool { return true }

// Plays lists the faults a simulated bolt can have.
func (w *Wrench) Plays() []string {
	var out []string
	for _, f := range Faults() {
		out = append(out, string(f))
	}
	return out
}

// fastest is how many times life a stand-in can be.
const fastest = 50

// Pull plays a pull on that fastener.
func (w *Wrench) Pull(ctx context.Context, on device.Fastener, act device.Act, send func([]Reading)) []Reading {
	quick := act.Quick
	if quick < 1 || quick > fastest {
		quick = 1
	}
	return w.Play(ctx, begin(on, act), quick, act.Hold, send)
}

// begin takes hold of a fastener as act says.
func begin(on device.Fastener, act device.Act) *Pull {
	do := Act{Pulling, act.Amount}
	faultsAt := on.Target
	if !on.Torque {
		do.Do = Turning
		faultsAt = on.Standing
	}
	fault := Fault(act.Plays)
	if fault == "" {
		fault = Sound
	}
	b := NewBolt(fault, faultsAt, on.Slope, on.Standing, on.Seed)
	return b.Begin(Act{Waiting, quiet}, do, Act{Resting, 0.5}, Act{LettingGo, 0}, Act{Waiting, quiet})
}

// Logger plays a road logger.
type Logger struct{ drives uint64 }

// What the stand-in drive is like: speed, length, rate and road (invented).
const (
	driveFromKMH = 70
	driveToKMH   = 90
	driveSeconds = 45
	driveRate    = 400
	driveNoise   = 0.4
)

// roadFaults are what a stand-in drive can play, m/s².
var roadFaults = map[string]func(*Road){
	"imbalance":    func(r *Road) { r.Imbalance = 0.35 },
	"out of round": func(r *Road) { r.OutOfRound = 0.3 },
	"shaft":        func(r *Road) { r.ShaftRunOut = 0.3 },
	"cross joint":  func(r *Road) { r.CrossJoint = 0.3 },
}

// Plays lists what a drive can play.
func (l *Logger) Plays() []string {
	return []string{"nothing wrong", "imbalance", "out of round", "shaft", "cross joint"}
}

// Drive plays a drive.
func (l *Logger) Drive(_ context.Context, circumferenceM, axleRatio float64, plays string) ([]RoadReading, error) {
	l.drives++
	r := Road{
		CircumferenceM: circumferenceM,
		AxleRatio:      axleRatio,
		FromKMH:        driveFromKMH,
		ToKMH:          driveToKMH,
		Seconds:        driveSeconds,
		Rate:           driveRate,
		Noise:          driveNoise,
		Seed:           l.drives,
	}
	if set := roadFaults[plays]; set != nil {
		set(&r)
	}
	return r.Drive(), nil
}

// Gauge plays a dial gauge on something of a true size.
type Gauge struct {
	TrueMM  float64
	ErrorMM float64 // one standard deviation
	Seed    uint64
	n       uint64
}

// Measure gives the true size with the gauge's error.
func (g *Gauge) Measure(context.Context) (float64, error) {
	g.n++
	rng := rand.New(rand.NewPCG(g.Seed, g.n))
	return g.TrueMM + g.ErrorMM*rng.NormFloat64(), nil
}

// Printer plays a label printer: it keeps what it would have printed.
type Printer struct{ Labels [][]string }

// Print keeps one label.
func (p *Printer) Print(_ context.Context, lines []string) error {
	p.Labels = append(p.Labels, lines)
	return nil
}
