package job

import (
	"math"
	"testing"
	"time"

	"lugtak/core/fault"
)

// A promise is in the future, is taken back, and is held against the work that is left, what it spreads, and the
// part that is waited for.
func TestPromise(t *testing.T) {
	b := beginRods(t)
	now := b.meta().At
	b.refused(Promise{}, fault.Missing, "when the vehicle is to be back")
	b.refused(Promise{Until: now}, fault.OutOfRange, "past")
	b.refused(Promise{Until: now.Add(400 * 24 * time.Hour)}, fault.OutOfRange, "more than a year")
	if _, _, known := b.s.Spare(now); known {
		t.Error("nothing was promised")
	}
	minutes, spread := b.s.Left()
	sum := 0.0
	for _, x := range b.s.Plan.Steps {
		if x.Verb != "soak" && !b.s.StepDone(x.ID) {
			sum += x.Minutes
		}
	}
	if math.Abs(minutes-sum) > 1e-9 || spread <= 0 || spread >= minutes {
		t.Fatalf("%.1f ± %.1f min left, the steps come to %.1f", minutes, spread, sum)
	}
	work := time.Duration(minutes * float64(time.Minute))
	for _, c := range []struct {
		spare time.Duration
		is    Danger
	}{
		{time.Hour, Kept}, {time.Duration(spread / 2 * float64(time.Minute)), Close}, {-time.Minute, Late},
	} {
		b.must(Promise{Until: now.Add(work + c.spare)})
		if spare, is, known := b.s.Spare(now); !known || is != c.is || (spare-c.spare).Abs() > time.Second {
			t.Errorf("%v to spare is told as %v, %q, %v", c.spare, spare, is, known)
		}
	}
	b.must(Promise{Until: now.Add(work + time.Hour)})
	b.s.Supplied = map[string]Supplied{"seal": {Due: now.Add(2 * time.Hour)}}
	if spare, is, _ := b.s.Spare(now); is != Late || (spare+time.Hour).Abs() > time.Second {
		t.Errorf("a part that comes in two hours leaves %v, %q", spare, is)
	}
	b.must(Promise{})
	if _, _, known := b.s.Spare(now); known || !b.s.Promised.Until.IsZero() || b.s.Promised.By == "" {
		t.Errorf("it was taken back: %+v", b.s.Promised)
	}
}
