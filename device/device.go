// Package device says what is wired to the bench: a wrench that measures torque and
// angle, a gauge, a road logger, a label printer. What stands in for them where there
// is none is in device/sim, which the demo and the practice bay use and no real shop.
package device

import "context"

// Reading is one sample of a torque–angle wrench: seconds, degrees, N·m.
type Reading struct {
	T      float64 `json:"t"`
	Angle  float64 `json:"a"`
	Torque float64 `json:"m"`
}

// Wrench measures torque and angle while it is pulled.
type Wrench interface {
	// Pull reads one pull until the tool is let go. Each batch of readings goes to
	// send as it comes; all of them come back. It gives nil where the wrench is in
	// use already.
	Pull(ctx context.Context, on Fastener, act Act, send func([]Reading)) []Reading
	// Release lets go of a pull in progress.
	Release()
	// Busy says that somebody pulls.
	Busy() bool
	// Plays lists what a stand-in can play; a real wrench plays nothing.
	Plays() []string
}

// Fastener is what a wrench is told of the fastener it is on.
type Fastener struct {
	Torque   bool    // pulled to a torque; else turned by an angle
	Target   float64 // N·m or degrees
	Slope    float64 // N·m per degree of the joint
	Standing float64 // N·m it was left at
	Seed     uint64  // tells fasteners apart
}

// Act is how a stand-in is pulled.
type Act struct {
	Plays  string  // one of Plays
	Amount float64 // N·m or degrees to stop at
	Quick  float64 // times as fast as life
	Hold   bool    // until released
}

// Gauge measures a length.
type Gauge interface {
	// Measure gives what the gauge shows, in the unit of what it measures.
	Measure(ctx context.Context) (float64, error)
}

// RoadReading is one line of a road logger: seconds, m/s², km/h.
type RoadReading struct{ T, Accel, Speed float64 }

// Logger records a drive.
type Logger interface {
	// Drive gives the readings of a drive on tyres of that circumference, in metres,
	// with so many shaft turns for one wheel turn (0 where there is no shaft).
	Drive(ctx context.Context, circumferenceM, axleRatio float64, plays string) ([]RoadReading, error)
	// Plays lists what a stand-in can play; a real logger plays nothing.
	Plays() []string
}

// Printer prints labels.
type Printer interface {
	// Print puts out one label of a few lines.
	Print(ctx context.Context, lines []string) error
}

// Rack is what a server finds connected.
type Rack interface {
	// Wrench is the one that goes by that id in the crib; nil where none is connected.
	Wrench(tool string) Wrench
	// Gauge is the one that measures that, where the part mostly shows so much; nil where
	// none is connected.
	Gauge(what string, usual float64) Gauge
	// Logger is the road logger; nil where none is connected.
	Logger() Logger
	// Simulated says that all of it is played.
	Simulated() bool
}

// GaugeFor is the gauge that measures that; nil where none is connected, or nobody knows what is usual.
func GaugeFor(r Rack, what string, usual float64) Gauge {
	if r == nil || usual == 0 {
		return nil
	}
	return r.Gauge(what, usual)
}

// Stand is what the practice bay pulls on: it answers at once and is wired to nothing.
type Stand interface {
	// Swing gives the readings of a pull until the tool is let go.
	Swing(on Fastener, act Act) []Reading
}

// Item is a part wanted of a supplier, as the plan names it.
type Item struct {
	Key     string `json:"key"` // the plan's own; comes back with the offer
	Title   string `json:"title"`
	Pattern string `json:"pattern"` // of the vehicle it is for
	Count   int    `json:"count"`
}

// Offer is what a supplier says of an item.
type Offer struct {
	Key       string  `json:"key"`
	Available bool    `json:"available"`
	Price     float64 `json:"price"` // for all of the item
	Currency  string  `json:"currency"`
	Minutes   float64 `json:"minutes"` // until it is at the shop
}

// Supplier delivers parts.
type Supplier interface {
	// Name is what the supplier is called.
	Name() string
	// Offers says what each item costs and when it comes.
	Offers(ctx context.Context, items []Item) ([]Offer, error)
	// Order orders them. A repeat of an id orders nothing more and gives the same answer.
	Order(ctx context.Context, id string, items []Item) ([]Offer, error)
	// Simulated says that it is played.
	Simulated() bool
}
