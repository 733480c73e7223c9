package kit

import (
	"bufio"
	"context"
	"encoding/json"
	"fmt"
	"sync"
	"time"

	"github.com/gofiber/fiber/v3"
)

// Hub tells pages what happens while they are open.
type Hub struct {
	mu   sync.Mutex
	subs map[string]map[chan Message]bool
}

// Message is one event with its body in JSON.
type Message struct {
	Event string
	Data  []byte
}

// NewHub is one nobody listens to yet.
func NewHub() *Hub { return &Hub{subs: map[string]map[chan Message]bool{}} }

// Send tells everybody who listens to a topic. A page too slow to follow loses
// samples, never a record: it reads the record from the journal.
func (h *Hub) Send(topic, event string, v any) {
	data, err := json.Marshal(v)
	if err != nil {
		return
	}
	h.mu.Lock()
	defer h.mu.Unlock()
	for ch := range h.subs[topic] {
		select {
		case ch <- Message{event, data}:
		default:
		}
	}
}

// Listen gives what is sent on a topic, until leave is called.
func (h *Hub) Listen(topic string) (told chan Message, leave func()) {
	ch := make(chan Message, 64)
	h.mu.Lock()
	defer h.mu.Unlock()
	if h.subs[topic] == nil {
		h.subs[topic] = map[chan Message]bool{}
	}
	h.subs[topic][ch] = true
	return ch, func() {
		h.mu.Lock()
		defer h.mu.Unlock()
		delete(h.subs[topic], ch)
	}
}

// Stream sends a topic as server-sent events until the client or the server goes, after a
// first message that says how things stand: what happened while nobody listened is not
// missed. It ends too when lives says that whoever listens has no session any more, and calls
// gone when it ends.
func (h *Hub) Stream(
	ctx context.Context, c fiber.Ctx, topic string, first func() (Message, error), lives func() bool, gone func(),
) error {
	c.Set("Content-Type", "text/event-stream")
	c.Set("Cache-Control", "no-cache")
	c.Set("X-Accel-Buffering", "no")
	ch, leave := h.Listen(topic)
	begin, err := first()
	if err != nil {
		leave()
		gone()
		return err
	}
	return c.SendStreamWriter(func(w *bufio.Writer) {
		defer gone()
		defer leave()
		beat := time.NewTicker(10 * time.Second)
		defer beat.Stop()
		fmt.Fprintf(w, "retry: 1500\nevent: %s\ndata: %s\n\n", begin.Event, begin.Data)
		for {
			if w.Flush() != nil {
				return
			}
			select {
			case m := <-ch:
				if !lives() {
					return
				}
				fmt.Fprintf(w, "event: %s\ndata: %s\n\n", m.Event, m.Data)
			case <-beat.C:
				if !lives() {
					return
				}
				fmt.Fprint(w, ": here\n\n")
			case <-ctx.Done():
				return
			}
		}
	})
}
