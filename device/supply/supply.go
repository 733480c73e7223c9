// Package supply asks a supplier of parts over HTTP, as docs/SUPPLIER.md says: two calls, JSON
// both ways, a repeat that orders nothing twice.
package supply

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"math"
	"net/http"
	"strings"
	"time"

	"lugtak/device"
)

// Client is a supplier at a base address.
type Client struct {
	Called string // what the supplier is called
	Base   string // https://…, without a slash at its end
	Token  string // sent as a bearer token where there is one
	Played bool   // by a stand-in
	HTTP   *http.Client
}

// Bounds of what a supplier may answer, and of how long it may take.
const (
	most    = 1 << 20
	timeout = 8 * time.Second
	longest = 60 * 24 * 60 // minutes; a part that takes longer is not on its way
	dearest = 1e6
)

// Name is what the supplier is called.
func (c *Client) Name() string { return c.Called }

// Simulated says that it is played.
func (c *Client) Simulated() bool { return c.Played }

type asked struct {
	Items []device.Item `json:"items"`
}

type answered struct {
	Offers []device.Offer `json:"offers"`
}

// Offers asks for price and time.
func (c *Client) Offers(ctx context.Context, items []device.Item) ([]device.Offer, error) {
	return c.post(ctx, "/v1/offers", "", items)
}

// Order orders; the id goes along, so that a repeat orders nothing more.
func (c *Client) Order(ctx context.Context, id string, items []device.Item) ([]device.Offer, error) {
	return c.post(ctx, "/v1/orders", id, items)
}

func (c *Client) post(ctx context.Context, path, id string, items []device.Item) ([]device.Offer, error) {
	ctx, cancel := context.WithTimeout(ctx, timeout)
	defer cancel()
	body, err := json.Marshal(asked{items})
	if err != nil {
		return nil, err
	}
	req, err := http.NewRequestWithContext(ctx, http.MethodPost, strings.TrimSuffix(c.Base, "/")+path,
		bytes.NewReader(body))
	if err != nil {
		return nil, err
	}
	req.Header.Set("Content-Type", "application/json")
	if c.Token != "" {
		req.Header.Set("Authorization", "Bearer "+c.Token)
	}
	if id != "" {
		req.Header.Set("Idempotency-Key", id)
	}
	client := c.HTTP
	if client == nil {
		client = http.DefaultClient
	}
	res, err := client.Do(req)
	if err != nil {
		return nil, fmt.Errorf("%s does not answer: %w", c.Called, err)
	}
	defer res.Body.Close()
	if res.StatusCode != http.StatusOK {
		return nil, fmt.Errorf("%s answers with status %d", c.Called, res.StatusCode)
	}
	var out answered
	if err := json.NewDecoder(io.LimitReader(res.Body, most)).Decode(&out); err != nil {
		return nil, fmt.Errorf("%s answers with what is no offer: %w", c.Called, err)
	}
	return out.Offers, sane(c.Called, items, out.Offers)
}

// sane refuses offers of what was not asked for, twice, or with figures that are none.
func sane(called string, items []device.Item, offers []device.Offer) error {
	wanted := map[string]bool{}
	for _, i := range items {
		wanted[i.Key] = true
	}
	for _, o := range offers {
		in := func(v, top float64) bool { return v >= 0 && v <= top && !math.IsNaN(v) }
		if !wanted[o.Key] || !in(o.Price, dearest) || !in(o.Minutes, longest) || len(o.Currency) > 8 {
			return fmt.Errorf("%s offers what cannot be: %q", called, o.Key)
		}
		wanted[o.Key] = false
	}
	return nil
}
