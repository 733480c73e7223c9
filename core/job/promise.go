package job

import (
	"math"
	"time"

	"lugtak/core/fault"
	"lugtak/core/record"
)

// Promised is when somebody promised the vehicle back; zero where nobody did.
type Promised struct {
	Until time.Time
	By    string
	At    time.Time
}

// Promise says when the vehicle is to be back; a zero time takes the promise back.
type Promise struct {
	Until time.Time
}

// farthestPromise is how far ahead one may promise: beyond it stands a slip of the hand.
const farthestPromise = 366 * 24 * time.Hour

// Check refuses a time that nobody can promise now.
func (b Promise) Check(now time.Time) error {
	switch {
	case !b.Until.After(now):
		return refuse(fault.OutOfRange, "promised", "That time is past.", "Say a day and time to come.")
	case b.Until.Sub(now) > farthestPromise:
		return refuse(fault.OutOfRange, "promised", "That is more than a year from now.", "Look at the year.")
	}
	return nil
}

func (s *State) decidePromise(m Meta, b Promise) (record.Body, error) {
	if b.Until.IsZero() {
		if s.Promised.Until.IsZero() {
			return nil, refuse(fault.Missing, "promised", "It is not said when the vehicle is to be back.", "Say day and time.")
		}
		return record.Promised{}, nil
	}
	if err := b.Check(m.At); err != nil {
		return nil, err
	}
	return record.Promised{Until: record.Stamp(b.Until)}, nil
}

func (s *State) applyPromised(e Event, b record.Promised) {
	s.Promised = Promised{By: e.By, At: e.At}
	s.Promised.Until, _ = time.Parse(time.RFC3339Nano, b.Until) // none: it was taken back
}

// Left is the work that is left, minutes of one pair of hands, and one standard deviation of it: what soaks by
// itself is not in it, nor what may still turn out to be stuck.
func (s *State) Left() (minutes, spread float64) {
	if !s.HasPlan() {
		return 0, 0
	}
	variance := 0.0
	for i := range s.Plan.Steps {
		x := &s.Plan.Steps[i]
		if !x.Hands() || s.StepDone(x.ID) {
			continue
		}
		minutes += x.Minutes
		variance += x.Spread() * x.Spread()
	}
	return minutes, math.Sqrt(variance)
}

// Danger is how a promise stands.
type Danger string

// The dangers.
const (
	Kept  Danger = ""      // there is time enough, or nothing was promised
	Close Danger = "close" // within one standard deviation of the work left
	Late  Danger = "late"
)

// Spare is the time between the work left and the promise, negative beyond it, and how it stands; a part that is
// ordered is waited for first. Known is false where nothing was promised or planned.
func (s *State) Spare(now time.Time) (spare time.Duration, is Danger, known bool) {
	if s.Promised.Until.IsZero() || !s.HasPlan() || s.Signature != nil {
		return 0, Kept, false
	}
	minutes, spread := s.Left()
	begins := now
	for _, x := range s.Supplied {
		if x.Due.After(begins) {
			begins = x.Due
		}
	}
	spare = s.Promised.Until.Sub(begins) - time.Duration(minutes*float64(time.Minute))
	switch {
	case spare < 0:
		is = Late
	case spare < time.Duration(spread*float64(time.Minute)):
		is = Close
	}
	return spare, is, true
}
