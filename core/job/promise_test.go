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
	half := begin(t).own()
	before, _ := half.Left()
	half.Steps["boltout"].Letters = []string{"A"}
	third := half.Plan.Step("boltout").Minutes / 3
	if after, _ := half.Left(); math.Abs(before-after-third) > 1e-9 {
		t.Errorf("one of three bolts is out: %.2f min less, not %.2f", before-after, third)
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
	b.must(Promise{})
	if _, _, known := b.s.Spare(now); known || !b.s.Promised.Until.IsZero() || b.s.Promised.By == "" {
		t.Errorf("it was taken back: %+v", b.s.Promised)
	}
	if first := now.Add(work + time.Hour); !b.s.Promised.First.Equal(first) {
		t.Errorf("at first %v was promised, not %v", first, b.s.Promised.First)
	}
}

// A part that is not there holds up what needs it and all that follows, whoever said so: with a supplier's word
// until then, without one as long as parts mostly take; what does not need it is done meanwhile.
func TestPromiseWaitsForParts(t *testing.T) {
	const part = "end.FL"
	b := beginRods(t)
	all, _ := b.s.Left()
	behind := map[string]bool{"rod.compare.FL": true, "rod.start.FL": true} // a new end is in the hand for both
	tail := 0.0
	for grown := true; grown; { // whatever needs what is behind, until nothing more does
		grown = false
		for _, x := range b.s.Plan.Steps {
			for _, n := range x.Needs {
				if behind[string(n)] && !behind[string(x.ID)] {
					behind[string(x.ID)], grown = true, true
				}
			}
		}
	}
	for _, x := range b.s.Plan.Steps {
		if behind[string(x.ID)] && x.Verb != "soak" {
			tail += x.Minutes
		}
	}
	for says, c := range map[string]struct {
		body Command
		done float64 // minutes from when it was said
	}{
		"there":            {StockPart{Part: part, Status: Have}, all},
		"nobody's word":    {StockPart{Part: part, Status: Missing}, math.Max(all, 120+tail)},
		"ordered, no word": {StockPart{Part: part, Status: Ordered}, math.Max(all, 120+tail)},
		"a short wait":     {StockPart{Part: part, Status: Ordered, From: &Supplied{Supplier: "s", WaitMin: 1}}, all},
		"a long one": {
			StockPart{Part: part, Status: Ordered, From: &Supplied{Supplier: "s", WaitMin: 400}}, 400 + tail,
		},
	} {
		b.must(c.body)
		if done := b.s.ready(b.s.Last).Sub(b.s.Last).Minutes(); math.Abs(done-c.done) > 0.1 {
			t.Errorf("%s: done in %.1f min, not %.1f", says, done, c.done)
		}
	}
}
