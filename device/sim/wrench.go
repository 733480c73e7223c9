package sim

import (
	"context"
	"sync"
	"time"
)

// Wrench is a stand-in torque–angle wrench that streams while it is pulled.
type Wrench struct {
	mu      sync.Mutex
	release context.CancelFunc
	busy    bool
}

// Job of the stream: batches of readings, some twenty a second.
const batch = 50 * time.Millisecond

// longest is when a pull ends in any case, seconds of the hand.
const longest = 60

// Play pulls in real time, quick times as fast, until it is let go: by Release, or by
// the hand itself unless it is to hold on. Each batch goes to send. It returns the
// whole trace, or nil if the wrench is in use. A pull ends in any case after a minute.
func (w *Wrench) Play(ctx context.Context, p *Pull, quick float64, hold bool, send func([]Reading)) []Reading {
	w.mu.Lock()
	if w.busy {
		w.mu.Unlock()
		return nil
	}
	held, release := context.WithCancel(ctx)
	w.busy, w.release = true, release
	w.mu.Unlock()
	defer func() {
		release()
		w.mu.Lock()
		w.busy = false
		w.mu.Unlock()
	}()

	p.hung = hold
	rate := p.g.tool.Rate
	var all []Reading
	tick := time.NewTicker(batch)
	defer tick.Stop()
	perTick := max(1, int(rate*batch.Seconds()*quick))
	for len(all) < int(longest*rate) && !p.Over() {
		<-tick.C
		if held.Err() != nil && p.hung {
			p.LetGo()
		}
		from := len(all)
		for range perTick {
			all = append(all, p.Step())
		}
		send(all[from:])
	}
	return all
}

// Release lets go of a pull in progress.
func (w *Wrench) Release() {
	w.mu.Lock()
	defer w.mu.Unlock()
	if w.busy {
		w.release()
	}
}

// Busy says that somebody pulls.
func (w *Wrench) Busy() bool {
	w.mu.Lock()
	defer w.mu.Unlock()
	return w.busy
}
