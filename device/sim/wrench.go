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

// Play pulls in real time, quick times as fast, until it is let go: by Release,
// or by itself a moment after the hand has what it wanted if letGo is set. Each
// batch goes to send. It returns the whole trace, or nil if the wrench is in
// use. The pull ends in any case after a minute.
func (w *Wrench) Play(ctx context.Context, b *Bolt, h Hand, quick float64, letGo bool, send func([]Reading)) []Reading {
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

	p := b.Begin(h)
	var all []Reading
	tick := time.NewTicker(batch)
	defer tick.Stop()
	hold, quiet := 0.5, 0.2
	perTick := max(1, int(h.Rate*batch.Seconds()*quick))
	for len(all) < 60*int(h.Rate) && quiet > 0 {
		<-tick.C
		if held.Err() != nil && !p.left {
			p.Release()
		}
		from := len(all)
		for range perTick {
			all = append(all, p.Step())
			if p.Reached && letGo && !p.left {
				if hold -= 1 / h.Rate; hold < 0 {
					p.Release()
				}
			}
			if p.Idle() {
				quiet -= 1 / h.Rate
			}
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
