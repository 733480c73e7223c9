// Package shop is the shop in use: what it knows, what lies in its crib and in whose hand, and the
// rules by which all that changes, for pages, scripts, lists, the chain and the command line alike.
package shop

import (
	"context"
	"errors"
	"log/slog"
	"sync"
	"sync/atomic"
	"time"

	"lugtak/core/claim"
	"lugtak/core/plan"
	"lugtak/device"
	"lugtak/library"
	"lugtak/store"
)

// Shop is a shop's file with all that it is worked with. What it reads comes from its store as it is; what
// changes by a rule has a method here, which stands before the store's own. Safe for use by many.
type Shop struct {
	*store.Store
	Options
	Hub *Hub // what is told to whoever looks on

	known    atomic.Pointer[library.Library] // with what was put on the Shelf
	offered  sync.Map                        // tasks by sheet
	timings  sync.Map                        // each job's plan by other ways
	practice sync.Map                        // plans of exercises
	hands    hands
	hanging  sync.Mutex // of a tool
	learning sync.Mutex // of a sheet
	outcomes outcomes
	beside   sync.WaitGroup // pulls under way, hooks, chain, backups
	ctx      context.Context
	stop     context.CancelFunc
}

// Options are what a shop is worked with besides its file.
type Options struct {
	Demo    bool             // the invented shop: invented tools hang in its crib
	Devices device.Rack      // what is connected; nil in a shop whose tools send by themselves
	Now     func() time.Time // the clock; time.Now if nil
	Log     *slog.Logger
}

// Open opens a file and the shop in it.
func Open(ctx context.Context, path string, lib *library.Library, with Options) (*Shop, error) {
	s, err := store.Open(ctx, path)
	if err != nil {
		return nil, err
	}
	x, err := New(ctx, s, lib, with)
	if err != nil {
		return nil, errors.Join(err, s.Close())
	}
	return x, nil
}

// New is the shop of an open file, with the library it works by. What the shop has put on its Shelf lies over
// that.
func New(ctx context.Context, s *store.Store, lib *library.Library, with Options) (*Shop, error) {
	if with.Now == nil {
		with.Now = time.Now
	}
	if with.Log == nil {
		with.Log = slog.Default()
	}
	x := &Shop{
		Store:    s,
		Options:  with,
		Hub:      NewHub(),
		hands:    hands{book: claim.NewBook()},
		outcomes: outcomes{says: map[string]string{}},
	}
	x.ctx, x.stop = context.WithCancel(ctx)
	x.known.Store(lib)
	if err := x.layShelf(ctx); err != nil {
		x.stop()
		return nil, err
	}
	return x, nil
}

// Go does something beside the pages, until the shop closes.
func (s *Shop) Go(do func(context.Context)) { s.beside.Go(func() { do(s.ctx) }) }

// End ends what goes on beside the pages and waits for it: a wrench that holds lets go, and what it read is
// recorded.
func (s *Shop) End() {
	s.stop()
	s.beside.Wait()
}

// Close ends what goes on beside the pages, then closes the file.
func (s *Shop) Close() error {
	s.End()
	return s.Store.Close()
}

// Library is what the shop knows now.
func (s *Shop) Library() *library.Library { return s.known.Load() }

// Exercise is the plan of an exercise of the practice bay; it is compiled once.
func (s *Shop) Exercise(id string) (plan.Plan, error) {
	if p, made := s.practice.Load(id); made {
		return p.(plan.Plan), nil
	}
	lib := s.Library()
	x, ok := lib.Exercise(id)
	if !ok {
		return plan.Plan{}, errNoExercise
	}
	made, err := lib.PracticePlan(x)
	if err == nil {
		s.practice.Store(id, made)
	}
	return made, err
}
