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
	"net"
	"net/http"
	"net/netip"
	"strconv"
	"sync"
	"syscall"
	"time"

	"github.com/google/uuid"
	standard "github.com/standard-webhooks/standard-webhooks/libraries/go"

	"lugtak/core/listing"
	"lugtak/shop"
	"lugtak/web/api"
)

// Sender sends what is new.
type Sender struct {
	Shop *shop.Shop

	mu    sync.Mutex
	again map[string]time.Time // by hook: when one that failed is tried again
	under map[string]bool      // hooks that are being told
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

// client follows no redirect and no proxy: an event goes where the foreman said, and nowhere else.
// Where a name leads is looked at when it is called, so that it cannot change since.
var client = &http.Client{
	Timeout: timeout,
	Transport: &http.Transport{
		DialContext:         (&net.Dialer{Timeout: timeout, Control: mayBeTold}).DialContext,
		TLSHandshakeTimeout: timeout,
		MaxIdleConnsPerHost: 1,
		IdleConnTimeout:     time.Minute,
	},
	CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse },
}

func mayBeTold(_, address string, _ syscall.RawConn) error {
	at, err := netip.ParseAddrPort(address)
	if err != nil {
		return err
	}
	return shop.MayBeTold(at.Addr())
}

// Run sends until the context ends.
func (s *Sender) Run(ctx context.Context) {
	looks := time.NewTicker(looksEvery)
	defer looks.Stop()
	var each sync.WaitGroup
	defer each.Wait()
	for {
		if err := s.begin(ctx, &each); err != nil && ctx.Err() == nil {
			s.Shop.Log.Error("hooks", "error", err)
		}
		select {
		case <-looks.C:
		case <-ctx.Done():
			return
		}
	}
}

// Once tells every hook whose time it is, and returns when all are told.
func (s *Sender) Once(ctx context.Context) error {
	var each sync.WaitGroup
	defer each.Wait()
	return s.begin(ctx, &each)
}

// begin begins to tell every hook whose time it is, each by itself: one that is slow holds up no
// other, and is left alone until it has answered.
func (s *Sender) begin(ctx context.Context, each *sync.WaitGroup) error {
	all, err := s.Shop.Hooks(ctx)
	if err != nil {
		return err
	}
	for _, h := range all {
		if !s.take(h.ID) {
			continue
		}
		each.Go(func() {
			defer s.let(h.ID)
			if err := s.tellNow(ctx, h.ID); err != nil && ctx.Err() == nil {
				s.Shop.Log.Warn("hook", "url", h.URL, "error", err)
			}
		})
	}
	return nil
}

// tellNow tells a hook as it stands now, and none that has ended since it was listed.
func (s *Sender) tellNow(ctx context.Context, id string) error {
	all, err := s.Shop.Hooks(ctx)
	if err != nil {
		return err
	}
	for _, h := range all {
		if h.ID == id {
			return s.tell(ctx, h)
		}
	}
	return nil
}

// take says that it is a hook's time, and nobody tells it already.
func (s *Sender) take(id string) bool {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.under == nil {
		s.under = map[string]bool{}
	}
	if s.under[id] || s.Shop.Now().Before(s.again[id]) {
		return false
	}
	s.under[id] = true
	return true
}

func (s *Sender) let(id string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	delete(s.under, id)
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
func (s *Sender) tell(ctx context.Context, h listing.Hook) error {
	for {
		rows, err := s.Shop.EventsAfter(ctx, h.Upto, batch)
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
			if err := s.Shop.HookTold(ctx, h.ID, h.Upto, 0, ""); err != nil {
				return err
			}
		}
	}
}

func (s *Sender) failed(ctx context.Context, h listing.Hook, why error) error {
	if ctx.Err() != nil { // the server stops: the hook is not to blame
		return ctx.Err()
	}
	says := why.Error()
	says = says[:min(len(says), maxTrouble)]
	s.put(h.ID, s.Shop.Now().Add(wait(h.Fails+1)))
	if err := s.Shop.HookTold(ctx, h.ID, h.Upto, h.Fails+1, says); err != nil {
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

// send sends one event.
func (s *Sender) send(ctx context.Context, h listing.Hook, e shop.Numbered) error {
	data, err := api.EventText(e)
	if err != nil {
		return err
	}
	body, err := json.Marshal(message{Type: string(e.Kind), Timestamp: e.At, Data: data})
	if err != nil {
		return err
	}
	return post(ctx, h, e.Job+"."+e.ID, body, s.Shop.Now()) // ids are told apart within a job
}

// Tried is the type of a message that tells of nothing.
const Tried = "lugtak.tried"

// Try sends a hook a message that tells of nothing, signed as any other, and says why it was not taken.
func Try(ctx context.Context, h listing.Hook, now time.Time) error {
	body, err := json.Marshal(message{Type: Tried, Timestamp: now.Format(time.RFC3339Nano), Data: json.RawMessage(`{}`)})
	if err != nil {
		return err
	}
	return post(ctx, h, "tried."+uuid.NewString(), body, now)
}

// post sends one message; an answer of 2xx takes it.
func post(ctx context.Context, h listing.Hook, id string, body []byte, now time.Time) error {
	signer, err := standard.NewWebhook(h.Secret)
	if err != nil {
		return err
	}
	signature, err := signer.Sign(id, now, body)
	if err != nil {
		return err
	}
	req, err := http.NewRequestWithContext(ctx, http.MethodPost, h.URL, bytes.NewReader(body))
	if err != nil {
		return err
	}
	req.Header.Set("Content-Type", "application/json")
	req.Header.Set(standard.HeaderWebhookID, id)
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
