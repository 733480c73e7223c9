package api

import (
	"bufio"
	"encoding/json"
	"fmt"
	"strconv"
	"time"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/listing"
	"lugtak/core/record"
	"lugtak/shop"
)

// event is a line of the journal as it is sent; its body is that of its kind.
type event struct {
	N    int             `json:"n,omitempty"`
	ID   string          `json:"id"`
	Job  string          `json:"job"`
	Seq  int             `json:"seq"`
	At   string          `json:"at"`
	By   string          `json:"by"`
	Kind string          `json:"kind"`
	V    int             `json:"v,omitempty"`
	Ask  string          `json:"ask,omitempty"`
	Body json.RawMessage `json:"body"`
	Hash string          `json:"hash"`
	Sent string          `json:"sent,omitempty"`
}

func eventOf(n int, l record.Line) event {
	return event{
		N:    n,
		ID:   l.ID,
		Job:  l.Job,
		Seq:  l.Seq,
		At:   l.At,
		By:   l.By,
		Kind: string(l.Kind),
		V:    l.V,
		Ask:  l.Ask,
		Body: l.Body,
		Hash: l.Hash,
		Sent: l.Sent,
	}
}

// EventText is one event as JSON, as pages, streams and hooks send it.
func EventText(x shop.Numbered) ([]byte, error) { return json.Marshal(eventOf(x.N, x.Line)) }

func (a *API) jobEvents(c fiber.Ctx) error {
	after, limit, err := page(c)
	if err != nil {
		return err
	}
	seq, err := number("after", after)
	if err != nil {
		return err
	}
	lines, err := a.Shop.Lines(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	var out []event
	for _, l := range lines[min(seq, len(lines)):min(seq+limit+1, len(lines))] {
		out = append(out, eventOf(0, l))
	}
	return sendPage(c, out, limit, func(e event) string { return strconv.Itoa(e.Seq) })
}

func (a *API) events(c fiber.Ctx) error {
	after, limit, err := page(c)
	if err != nil {
		return err
	}
	n, err := number("after", after)
	if err != nil {
		return err
	}
	rows, err := a.Shop.EventsAfter(c.Context(), n, limit+1)
	if err != nil {
		return err
	}
	var out []event
	for _, r := range rows {
		out = append(out, eventOf(r.N, r.Line))
	}
	return sendPage(c, out, limit, func(e event) string { return strconv.Itoa(e.N) })
}

// How a stream keeps up: how often it looks, how many it sends before it looks again, and how
// long it is silent at most.
const (
	streamLooks = 300 * time.Millisecond
	streamBatch = 100
	streamBeat  = 10 * time.Second
)

// stream sends events as they are recorded, from where the client left.
func (a *API) stream(c fiber.Ctx) error {
	field, text := "Last-Event-ID", c.Get("Last-Event-ID")
	if text == "" {
		field, text = "after", c.Query("after")
	}
	n, err := number(field, text)
	if err == nil && text == "" {
		n, err = a.Shop.LastEvent(c.Context())
	}
	if err != nil {
		return err
	}
	if !a.streams.TryAcquire(1) {
		f := fault.New(fault.Throttled, "", "Too many streams are open.", "Close one, or ask for events by their cursor.")
		f.Wait = time.Minute
		return f
	}
	alive := a.alive(c)
	c.Set(fiber.HeaderContentType, "text/event-stream")
	c.Set(fiber.HeaderCacheControl, "no-cache")
	c.Set("X-Accel-Buffering", "no")
	return c.SendStreamWriter(func(w *bufio.Writer) {
		defer a.streams.Release(1)
		a.follow(w, n, alive)
	})
}

// alive gives what asks whether the token or session of a stream still lets it in.
func (a *API) alive(c fiber.Ctx) func() bool {
	if x, ok := c.Locals(key{}).(listing.Script); ok {
		return func() bool { return a.Shop.ScriptLives(a.Ctx, x.ID) }
	}
	in, err := a.Session(c)
	if err != nil || in == nil {
		return func() bool { return false }
	}
	return func() bool { return a.Shop.SessionLives(a.Ctx, in.ID, a.Shop.Now()) }
}

// follow writes events behind one until the client, its right or the server goes.
func (a *API) follow(w *bufio.Writer, n int, alive func() bool) {
	looks := time.NewTicker(streamLooks)
	defer looks.Stop()
	fmt.Fprint(w, "retry: 1500\n\n")
	said := time.Now()
	for {
		if !alive() {
			return
		}
		rows, err := a.Shop.EventsAfter(a.Ctx, n, streamBatch)
		if err != nil {
			return
		}
		for _, r := range rows {
			text, err := EventText(r)
			if err != nil {
				return
			}
			fmt.Fprintf(w, "id: %d\nevent: %s\ndata: %s\n\n", r.N, r.Kind, text)
			n = r.N
		}
		if len(rows) == 0 && time.Since(said) >= streamBeat {
			fmt.Fprint(w, ": here\n\n")
			rows = []shop.Numbered{{}} // something was said
		}
		if len(rows) > 0 {
			said = time.Now()
		}
		if w.Flush() != nil {
			return
		}
		if len(rows) == streamBatch {
			continue
		}
		select {
		case <-looks.C:
		case <-a.Ctx.Done():
			return
		}
	}
}
