package sim

import (
	"encoding/json"
	"hash/fnv"
	"net/http"
	"net/http/httptest"
	"sync"

	"lugtak/device"
)

// Supplier plays a supplier of parts, as docs/SUPPLIER.md says. Prices and times are invented,
// and the same for the same part each time; one part in nine is not to be had.
type Supplier struct {
	mu     sync.Mutex
	orders map[string][]device.Offer
}

// ServeHTTP answers the two calls of the contract.
func (s *Supplier) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	var in struct {
		Items []device.Item `json:"items"`
	}
	if r.Method != http.MethodPost || json.NewDecoder(http.MaxBytesReader(w, r.Body, 1<<20)).Decode(&in) != nil {
		http.Error(w, "send items", http.StatusBadRequest)
		return
	}
	offers := make([]device.Offer, 0, len(in.Items))
	for _, i := range in.Items {
		offers = append(offers, offered(i))
	}
	switch r.URL.Path {
	case "/v1/offers":
	case "/v1/orders":
		offers = s.ordered(r.Header.Get("Idempotency-Key"), offers)
	default:
		http.NotFound(w, r)
		return
	}
	w.Header().Set("Content-Type", "application/json")
	json.NewEncoder(w).Encode(map[string]any{"offers": offers})
}

// ordered keeps an order under its id, and gives the first answer again.
func (s *Supplier) ordered(id string, offers []device.Offer) []device.Offer {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.orders == nil {
		s.orders = map[string][]device.Offer{}
	}
	if was, known := s.orders[id]; known && id != "" {
		return was
	}
	s.orders[id] = offers
	return offers
}

// offered is an invented offer, drawn from the name of the part.
func offered(i device.Item) device.Offer {
	h := fnv.New32a()
	h.Write([]byte(i.Title))
	lot := h.Sum32()
	return device.Offer{
		Key:       i.Key,
		Available: lot%9 != 0,
		Price:     float64(i.Count) * float64(3+lot%90),
		Currency:  "crowns",
		Minutes:   float64(20 * (1 + lot/90%8)),
	}
}

// RoundTrip answers in this process: the demo opens no port for it.
func (s *Supplier) RoundTrip(r *http.Request) (*http.Response, error) {
	w := httptest.NewRecorder()
	s.ServeHTTP(w, r)
	return w.Result(), nil
}
