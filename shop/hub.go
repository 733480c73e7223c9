package shop

import (
	"encoding/json"
	"sync"
)

// Hub tells whoever looks on what happens.
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

// JobTopic is what is told of a job.
func JobTopic(id string) string { return "job:" + id }

// ToolTopic is what is told of a tool.
func ToolTopic(id string) string { return "tool:" + id }

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
