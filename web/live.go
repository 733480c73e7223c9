package web

import (
	"bufio"
	"encoding/json"
	"fmt"
	"sync"
	"time"

	"github.com/gofiber/fiber/v3"
)

// hub tells pages what happens while they are open.
type hub struct {
	mu   sync.Mutex
	subs map[string]map[chan message]bool
}

type message struct {
	event string
	data  []byte
}

func newHub() *hub { return &hub{subs: map[string]map[chan message]bool{}} }

// send tells everybody who listens to a topic. A page too slow to follow loses
// samples, never a record: it reads the record from the journal.
func (h *hub) send(topic, event string, v any) {
	data, err := json.Marshal(v)
	if err != nil {
		return
	}
	h.mu.Lock()
	defer h.mu.Unlock()
	for ch := range h.subs[topic] {
		select {
		case ch <- message{event, data}:
		default:
		}
	}
}

func (h *hub) listen(topic string) (chan message, func()) {
	ch := make(chan message, 64)
	h.mu.Lock()
	defer h.mu.Unlock()
	if h.subs[topic] == nil {
		h.subs[topic] = map[chan message]bool{}
	}
	h.subs[topic][ch] = true
	return ch, func() {
		h.mu.Lock()
		defer h.mu.Unlock()
		delete(h.subs[topic], ch)
	}
}

// stream sends a topic as server-sent events until the client or server goes,
// after a first message that says how things stand: what happened while nobody
// listened is not missed.
// gone is called when it ends.
func (s *Server) stream(c fiber.Ctx, topic string, first func() (message, error), gone func()) error {
	c.Set("Content-Type", "text/event-stream")
	c.Set("Cache-Control", "no-cache")
	c.Set("X-Accel-Buffering", "no")
	ch, leave := s.hub.listen(topic)
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
		fmt.Fprintf(w, "retry: 1500\nevent: %s\ndata: %s\n\n", begin.event, begin.data)
		for {
			if w.Flush() != nil {
				return
			}
			select {
			case m := <-ch:
				fmt.Fprintf(w, "event: %s\ndata: %s\n\n", m.event, m.data)
			case <-beat.C:
				fmt.Fprint(w, ": here\n\n")
			case <-s.ctx.Done():
				return
			}
		}
	})
}

func (s *Server) jobLive(c fiber.Ctx) error {
	id, person := c.Params("job"), session(c).Person.Name
	first := func() (message, error) {
		st, err := s.Store.Job(c.Context(), id)
		if err != nil {
			return message{}, err
		}
		return message{"change", fmt.Appendf(nil, `{"seq":%d}`, st.Seq)}, nil
	}
	leave, moved := s.presence.enter(id, person)
	if moved {
		s.tellWho(id)
	}
	return s.stream(c, "job:"+id, first, func() {
		if leave() {
			s.tellWho(id)
		}
	})
}

// tellWho tells the pages of a job, and the bays, who has it open.
func (s *Server) tellWho(id string) {
	s.hub.send("job:"+id, "who", map[string]any{"here": s.presence.at(id)})
}
