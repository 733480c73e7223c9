package chain

import (
	"encoding/json"
	"fmt"
	"slices"

	"github.com/nats-io/nats.go"
	"github.com/nats-io/nats.go/jetstream"

	"lugtak/core/record"
	"lugtak/shop"
)

// told is the body of a message: a line of a job's journal, or an act of the shop.
type told struct {
	Name string       `json:"name"` // of the shop
	N    int          `json:"n"`    // place in the shop's own journal
	Line *record.Line `json:"line,omitempty"`
	Act  *record.Act  `json:"act,omitempty"`
}

// id tells a message from all others of the chain: shops number their records each by themselves.
func (t told) id(shop string) string {
	if t.Line != nil {
		return shop + " " + t.Line.Job + " " + t.Line.ID
	}
	return shop + " act " + t.Act.Link
}

// messages signs what is told with the shop's key, in as many parts as it needs.
func (c *Chain) messages(subject string, t told) ([]*nats.Msg, error) {
	t.Name = c.Name
	data, err := json.Marshal(t)
	if err != nil {
		return nil, err
	}
	parts := slices.Collect(slices.Chunk(data, partMost))
	var out []*nats.Msg
	for i, p := range parts {
		m := nats.NewMsg(subject + c.self)
		m.Data = p
		which := fmt.Sprintf("%d/%d", i+1, len(parts))
		m.Header.Set(jetstream.MsgIDHeader, t.id(c.self)+" "+which)
		m.Header.Set(part, which)
		m.Header.Set(keyHeader, c.shop.PublicKey())
		m.Header.Set(signature, c.shop.Sign(which+"\n"+string(p)))
		out = append(out, m)
	}
	return out, nil
}

// piece is a message as it came: proved to be of its shop, perhaps not whole.
type piece struct {
	shop, key string
	k, n      int
	data      []byte
}

// open proves a message: that its shop signed it, and is the one whose place it stands in.
func open(subject, prefix string, header nats.Header, data []byte) (p piece, err error) {
	p = piece{key: header.Get(keyHeader), data: data}
	p.shop = shop.Fingerprint(p.key)
	which := header.Get(part)
	if p.shop == "" || subject != prefix+p.shop || !shop.Signed(p.key, which+"\n"+string(data), header.Get(signature)) {
		return p, fmt.Errorf("a message in %s is not signed by its shop", subject)
	}
	if _, err := fmt.Sscanf(which, "%d/%d", &p.k, &p.n); err != nil || p.k < 1 || p.k > p.n || p.n > mostParts {
		return p, fmt.Errorf("a message in %s says it is part %q", subject, which)
	}
	return p, nil
}

// mostParts bounds what one record may be: more than the shop takes from anybody.
const mostParts = 64

// parts puts together what came in several messages, by shop.
type parts map[string][]byte

// add gives the whole once its last part has come; nil before. A part that does not follow the
// one before it begins anew, or is lost with it.
func (p parts) add(x piece, next map[string]int) ([]byte, bool) {
	if x.k == 1 {
		p[x.shop], next[x.shop] = nil, 1
	}
	if next[x.shop] != x.k {
		return nil, false
	}
	p[x.shop] = append(p[x.shop], x.data...)
	next[x.shop]++
	if x.k < x.n {
		return nil, false
	}
	whole := p[x.shop]
	delete(p, x.shop)
	delete(next, x.shop)
	return whole, true
}
