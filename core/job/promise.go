package job

import (
	"math"
	"slices"
	"time"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/record"
)

// Promised is when somebody promised the vehicle back; zero where nobody did.
type Promised struct {
	Until time.Time
	By    string
	At    time.Time
	First time.Time // what was promised at first: moving it or taking it back does not unsay it
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
	until, _ := time.Parse(time.RFC3339Nano, b.Until) // none: it was taken back
	first := s.Promised.First
	if first.IsZero() {
		first = until
	}
	s.Promised = Promised{Until: until, By: e.By, At: e.At, First: first}
}

// Left is the work that is left, minutes of one pair of hands, and one standard deviation of it: what soaks by
// itself is not in it, nor what may still turn out to be stuck.
func (s *State) Left() (minutes, spread float64) {
	return s.leftOf(func(operation.StepID) bool { return true })
}

// leftOf is what is left of some steps.
func (s *State) leftOf(some func(operation.StepID) bool) (minutes, spread float64) {
	if !s.HasPlan() {
		return 0, 0
	}
	variance := 0.0
	for i := range s.Plan.Steps {
		x := &s.Plan.Steps[i]
		if !x.Hands() || s.StepDone(x.ID) || !some(x.ID) {
			continue
		}
		minutes += s.minutesLeft(x.ID, x.Minutes)
		variance += x.Spread() * x.Spread()
	}
	return minutes, math.Sqrt(variance)
}

// ready is when the work left is done at the soonest, by one pair of hands that begins now: what needs a part that
// is not there begins no sooner than the part comes, with all that follows upon it.
func (s *State) ready(now time.Time) time.Time {
	minutes, _ := s.Left()
	at := now.Add(time.Duration(minutes * float64(time.Minute)))
	for key, steps := range s.waiting() {
		behind := map[operation.StepID]bool{}
		for _, x := range s.Plan.Steps { // in an order that keeps what each needs
			behind[x.ID] = slices.Contains(steps, string(x.ID)) ||
				slices.ContainsFunc(x.Needs, func(n operation.StepID) bool { return behind[n] })
		}
		minutes, _ := s.leftOf(func(id operation.StepID) bool { return behind[id] })
		then := now.Add(time.Duration((s.waits(key, now) + minutes) * float64(time.Minute)))
		if then.After(at) {
			at = then
		}
	}
	return at
}

// Danger is how a promise stands.
type Danger string

// The dangers.
const (
	Kept  Danger = ""      // there is time enough, or nothing was promised
	Close Danger = "close" // within one standard deviation of the work left
	Late  Danger = "late"
)

// Spare is the time between when the work left can be done and the promise, negative beyond it, and how it stands.
// Known is false where nothing was promised or planned.
func (s *State) Spare(now time.Time) (spare time.Duration, is Danger, known bool) {
	if s.Promised.Until.IsZero() || !s.HasPlan() || s.Signature != nil {
		return 0, Kept, false
	}
	_, spread := s.Left()
	spare = s.Promised.Until.Sub(s.ready(now))
	switch {
	case spare < 0:
		is = Late
	case spare < time.Duration(spread*float64(time.Minute)):
		is = Close
	}
	return spare, is, true
}
