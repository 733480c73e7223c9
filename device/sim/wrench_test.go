package sim

import (
	"context"
	"testing"
	"time"
)

func aPull() *Pull {
	return NewBolt(Sound, 60, 2, 0,
		1).Begin(Act{Waiting, 0.2}, Act{Pulling, 60}, Act{Resting, 0.3}, Act{LettingGo, 0}, Act{Waiting, 0.2})
}

func TestPullStreamsAndEnds(t *testing.T) {
	var w Wrench
	streamed := 0
	all := w.Play(context.Background(), aPull(), 40, false, func(r []Reading) { streamed += len(r) })
	if streamed != len(all) || len(all) == 0 {
		t.Fatalf("streamed %d of %d", streamed, len(all))
	}
	peak := 0.0
	for _, r := range all {
		peak = max(peak, r.Torque)
	}
	if peak < 59 || peak > 63 || all[len(all)-1].Torque > 1 || w.Busy() {
		t.Errorf("peak %.1f, end %.1f", peak, all[len(all)-1].Torque)
	}
}

func TestReleaseLetsGoEarly(t *testing.T) {
	var w Wrench
	first := make(chan bool, 1)
	done := make(chan []Reading)
	go func() {
		done <- w.Play(context.Background(), aPull(), 4, true, func([]Reading) {
			select {
			case first <- true:
			default:
			}
		})
	}()
	<-first
	if got := w.Play(context.Background(), nil, 1, false, nil); got != nil {
		t.Error("two hands on one wrench")
	}
	w.Release()
	select {
	case all := <-done:
		if len(all) == 0 {
			t.Error("no trace")
		}
	case <-time.After(20 * time.Second):
		t.Fatal("the wrench does not let go")
	}
}

func TestSameSeedSameTrace(t *testing.T) {
	for _, f := range Faults() {
		a := NewBolt(f, 60, 2, 0, 9).To(60)
		b := NewBolt(f, 60, 2, 0, 9).To(60)
		if len(a) != len(b) || a[len(a)/2] != b[len(b)/2] {
			t.Errorf("%s: two pulls of one seed differ", f)
		}
	}
}
