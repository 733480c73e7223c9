package chain

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"time"

	"github.com/nats-io/nats.go"
	"github.com/nats-io/nats.go/jetstream"

	"lugtak/core/listing"
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

// open proves a message: that its shop signed it, and is the one whose place it stands in. Whether anybody knows that
// shop is another question.
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

// What is held of records that are not whole yet is bounded, by record and in all: more than a shop takes from anybody.
const (
	mostParts = 64
	mostHeld  = 128 << 20 // bytes
)

// parts puts together what came in several messages, by shop.
type parts struct {
	of   map[string]*begunParts
	held int // bytes
}

type begunParts struct {
	data []byte
	next int
}

func newParts() *parts { return &parts{of: map[string]*begunParts{}} }

// add gives the whole once its last part has come; nil before. A part that does not follow the one before it is lost;
// so is what would be too much to hold.
func (p *parts) add(x piece) ([]byte, bool) {
	if x.k == 1 {
		p.drop(x.shop)
		p.of[x.shop] = &begunParts{next: 1}
	}
	b := p.of[x.shop]
	if b == nil || b.next != x.k || p.held+len(x.data) > mostHeld {
		p.drop(x.shop)
		return nil, false
	}
	b.data = append(b.data, x.data...)
	b.next++
	p.held += len(x.data)
	if x.k < x.n {
		return nil, false
	}
	p.drop(x.shop)
	return b.data, true
}

func (p *parts) drop(shop string) {
	if b := p.of[shop]; b != nil {
		p.held -= len(b.data)
		delete(p.of, shop)
	}
}

// sealed signs a question or an answer: for which, and back to where, so that neither is of use to whoever overhears
// it.
func (c *Chain) sealed(kind, subject, back string, data []byte) *nats.Msg {
	m := &nats.Msg{Subject: subject, Reply: back, Data: data, Header: nats.Header{}}
	m.Header.Set(keyHeader, c.shop.PublicKey())
	m.Header.Set(signature, c.shop.Sign(kind+"\n"+cmp.Or(back, subject)+"\n"+string(data)))
	return m
}

// proved says who signed a question or an answer; empty where nobody did whom this shop knows.
func (c *Chain) proved(ctx context.Context, kind string, m *nats.Msg) (key string) {
	key = m.Header.Get(keyHeader)
	text := kind + "\n" + cmp.Or(m.Reply, m.Subject) + "\n" + string(m.Data)
	if !shop.Signed(key, text, m.Header.Get(signature)) {
		return ""
	}
	if _, named, err := c.shop.Trusted(ctx, key); err != nil || !named {
		c.passOver(listing.Stranger{Key: key, Heard: time.Now()})
		return ""
	}
	return key
}
