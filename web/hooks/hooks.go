// Package hooks tells other programs of new events, as Standard Webhooks has it: each event by
// a POST of its own, signed, in the order of the journal, again and again until it is taken.
// How far each program has been told lies in the shop's file, so that a stop loses nothing.
package hooks

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"strconv"
	"sync"
	"time"

	standard "github.com/standard-webhooks/standard-webhooks/libraries/go"

	"lugtak/store"
	"lugtak/web/api"
)

// Sender sends what is new.
type Sender struct {
	Store *store.Store
	Now   func() time.Time
	Log   *slog.Logger

	mu    sync.Mutex
	again map[string]time.Time // by hook: when one that failed is tried again
}

// How messages are sent.
const (
	looksEvery = time.Second
	batch      = 100
	timeout    = 10 * time.Second
	firstWait  = 5 * time.Second
	longest    = time.Hour
	maxTrouble = 200 // letters of what went wrong
)

// wait is how long a hook waits after so many failures in a row: twice as long each time.
func wait(fails int) time.Duration { return min(longest, firstWait<<min(max(fails-1, 0), 10)) }

// client follows no redirect: an event goes where the foreman said, and nowhere else.
var client = &http.Client{
	Timeout:       timeout,
	CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse },
}

// Run sends until the context ends.
func (s *Sender) Run(ctx context.Context) {
	looks := time.NewTicker(looksEvery)
	defer looks.Stop()
	for {
		if err := s.Once(ctx); err != nil && ctx.Err() == nil {
			s.Log.Error("hooks", "error", err)
		}
		select {
		case <-looks.C:
		case <-ctx.Done():
			return
		}
	}
}

// Once tells every hook whose time it is, each by itself: a slow one holds up no other.
func (s *Sender) Once(ctx context.Context) error {
	all, err := s.Store.Hooks(ctx)
	if err != nil {
		return err
	}
	var each sync.WaitGroup
	for _, h := range all {
		if s.Now().Before(s.due(h.ID)) {
			continue
		}
		each.Go(func() {
			if err := s.tell(ctx, h); err != nil && ctx.Err() == nil {
				s.Log.Warn("hook", "url", h.URL, "error", err)
			}
		})
	}
	each.Wait()
	return nil
}

func (s *Sender) due(id string) time.Time {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.again[id]
}

func (s *Sender) put(id string, at time.Time) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.again == nil {
		s.again = map[string]time.Time{}
	}
	s.again[id] = at
}

// tell sends a hook what is new, until it is told all or one event is not taken.
func (s *Sender) tell(ctx context.Context, h store.Hook) error {
	for {
		rows, err := s.Store.EventsAfter(ctx, h.Upto, batch)
		if err != nil || len(rows) == 0 {
			return err
		}
		for _, e := range rows {
			if h.Wants(string(e.Kind)) {
				if err := s.send(ctx, h, e); err != nil {
					return s.failed(ctx, h, err)
				}
			}
			h.Upto = e.N
			h.Fails = 0
			if err := s.Store.HookTold(ctx, h.ID, h.Upto, 0, ""); err != nil {
				return err
			}
		}
	}
}

func (s *Sender) failed(ctx context.Context, h store.Hook, why error) error {
	if ctx.Err() != nil { // the server stops: the hook is not to blame
		return ctx.Err()
	}
	says := why.Error()
	says = says[:min(len(says), maxTrouble)]
	s.put(h.ID, s.Now().Add(wait(h.Fails+1)))
	if err := s.Store.HookTold(ctx, h.ID, h.Upto, h.Fails+1, says); err != nil {
		return err
	}
	return why
}

// message is the body of a POST.
type message struct {
	Type      string          `json:"type"` // kind of the event
	Timestamp string          `json:"timestamp"`
	Data      json.RawMessage `json:"data"`
}

// send sends one event; an answer of 2xx takes it.
func (s *Sender) send(ctx context.Context, h store.Hook, e store.Numbered) error {
	data, err := api.EventText(e)
	if err != nil {
		return err
	}
	body, err := json.Marshal(message{Type: string(e.Kind), Timestamp: e.At, Data: data})
	if err != nil {
		return err
	}
	signer, err := standard.NewWebhook(h.Secret)
	if err != nil {
		return err
	}
	now := s.Now()
	signature, err := signer.Sign(e.ID, now, body)
	if err != nil {
		return err
	}
	req, err := http.NewRequestWithContext(ctx, http.MethodPost, h.URL, bytes.NewReader(body))
	if err != nil {
		return err
	}
	req.Header.Set("Content-Type", "application/json")
	req.Header.Set(standard.HeaderWebhookID, e.ID)
	req.Header.Set(standard.HeaderWebhookTimestamp, strconv.FormatInt(now.Unix(), 10))
	req.Header.Set(standard.HeaderWebhookSignature, signature)
	res, err := client.Do(req)
	if err != nil {
		return err
	}
	defer res.Body.Close()
	io.Copy(io.Discard, io.LimitReader(res.Body, 64<<10)) // so that the connection is used again
	if res.StatusCode/100 != 2 {
		return fmt.Errorf("it answered %s", res.Status)
	}
	return nil
}
