// Package chain joins the shops of a chain over NATS JetStream, an existing replicated engine.
// Each shop tells what it records and works on without the chain; a node fills a file of its
// own with what all have told, and answers what other shops did on a vehicle; figures and files
// of a shop whose key is trusted come to all.
//
// Every message is signed with the key of its shop, and carries the id of its event as message
// id, so that one sent twice is kept once.
package chain

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"slices"
	"time"

	"github.com/nats-io/nats.go"
	"github.com/nats-io/nats.go/jetstream"

	"lugtak/core/record"
	"lugtak/store"
)

// Where things are told.
const (
	streamName = "LUGTAK"
	lineOf     = "lugtak.line." // and the shop's fingerprint
	actOf      = "lugtak.act."  // and the shop's fingerprint
	pastAsked  = "lugtak.past"  // asked with a VIN
	nodes      = "lugtak-nodes" // of which one answers
	signature  = "Lugtak-Signature"
	keyHeader  = "Lugtak-Key"
	part       = "Lugtak-Part" // k/n: what is too large for one message goes in several
)

// How the chain is spoken to.
const (
	doubles  = 10 * time.Minute // a message sent again within is kept once by the engine itself
	short    = 5 * time.Second  // each call by itself: one made before there is a leader waits for ever
	rest     = 500 * time.Millisecond
	batch    = 256
	answerIn = 2 * time.Second
	partMost = 768 << 10 // bytes; the engine takes 1 MB where nobody told it otherwise
)

// Config is how a shop or a node is joined.
type Config struct {
	URL      string // nats://host:port, several parted by commas
	Creds    string // file of credentials; empty for none
	Replicas int    // of the stream, where it is not there yet
	Name     string // what this shop calls itself
	Log      *slog.Logger
	Dialer   nats.CustomDialer // how it connects; the usual way if nil
}

// Chain is a connection that comes back by itself.
type Chain struct {
	Config
	store *store.Store
	conn  *nats.Conn
	js    jetstream.JetStream
	shop  string // fingerprint of this file's key
}

// Join connects a file to the chain. It needs no network: the connection is made when there
// is one.
func Join(s *store.Store, cfg Config) (*Chain, error) {
	options := []nats.Option{
		nats.Name("lugtak " + cfg.Name),
		nats.RetryOnFailedConnect(true),
		nats.MaxReconnects(-1),
		nats.ReconnectWait(rest),
	}
	if cfg.Creds != "" {
		options = append(options, nats.UserCredentials(cfg.Creds))
	}
	if cfg.Dialer != nil {
		options = append(options, nats.SetCustomDialer(cfg.Dialer))
	}
	conn, err := nats.Connect(cfg.URL, options...)
	if err != nil {
		return nil, fmt.Errorf("the chain at %s: %w", cfg.URL, err)
	}
	js, err := jetstream.New(conn)
	if err != nil {
		conn.Close()
		return nil, err
	}
	return &Chain{Config: cfg, store: s, conn: conn, js: js, shop: store.Fingerprint(s.PublicKey())}, nil
}

// Close leaves the chain.
func (c *Chain) Close() { c.conn.Close() }

// Connected says that the chain is reached now.
func (c *Chain) Connected() bool { return c.conn.IsConnected() }

// again does something until the context ends, resting in between; what fails is logged once.
func (c *Chain) again(ctx context.Context, what string, do func(context.Context) error) {
	said := ""
	for ctx.Err() == nil {
		err := do(ctx)
		switch {
		case err == nil:
			said = ""
		case ctx.Err() == nil && err.Error() != said:
			said = err.Error()
			c.Log.Warn("chain", "doing", what, "error", err)
		}
		select {
		case <-ctx.Done():
		case <-time.After(rest):
		}
	}
}

// stream is the stream of all shops; it is made where it is not there.
func (c *Chain) stream(ctx context.Context) (jetstream.Stream, error) {
	soon, cancel := context.WithTimeout(ctx, short)
	defer cancel()
	s, err := c.js.Stream(soon, streamName)
	if !errors.Is(err, jetstream.ErrStreamNotFound) {
		return s, err
	}
	return c.js.CreateStream(soon, jetstream.StreamConfig{
		Name:       streamName,
		Subjects:   []string{lineOf + "*", actOf + "*"},
		Replicas:   max(1, c.Replicas),
		Duplicates: doubles,
		DenyDelete: true,
		DenyPurge:  true,
	})
}

// told is the body of a message: a line of a job's journal, or an act of the shop.
type told struct {
	Name string       `json:"name"` // of the shop
	N    int          `json:"n"`    // place in the shop's own journal
	Line *record.Line `json:"line,omitempty"`
	Act  *record.Act  `json:"act,omitempty"`
}

func (t told) id() string {
	if t.Line != nil {
		return t.Line.ID
	}
	return "act " + t.Act.Link
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
		m := nats.NewMsg(subject + c.shop)
		m.Data = p
		which := fmt.Sprintf("%d/%d", i+1, len(parts))
		m.Header.Set(jetstream.MsgIDHeader, t.id()+" "+which)
		m.Header.Set(part, which)
		m.Header.Set(keyHeader, c.store.PublicKey())
		m.Header.Set(signature, c.store.Sign(which+"\n"+string(p)))
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
	p.shop = store.Fingerprint(p.key)
	which := header.Get(part)
	if p.shop == "" || subject != prefix+p.shop || !store.Signed(p.key, which+"\n"+string(data), header.Get(signature)) {
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

// Tell tells the chain what the shop records, from where the chain left off, until the context
// ends.
func (c *Chain) Tell(ctx context.Context) {
	go c.again(ctx, "telling acts", c.tellActs)
	c.again(ctx, "telling lines", c.tellLines)
}

// known is what the chain heard last and whole of this shop; nil where it heard nothing.
func (c *Chain) known(ctx context.Context, subject string) (*told, error) {
	s, err := c.stream(ctx)
	if err != nil {
		return nil, err
	}
	soon, cancel := context.WithTimeout(ctx, short)
	defer cancel()
	m, err := s.GetLastMsgForSubject(soon, subject+c.shop)
	if errors.Is(err, jetstream.ErrMsgNotFound) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	return c.whole(ctx, s, subject, m)
}

// whole reads back from a message to the one where it begins. What was cut off before its last
// part was not heard: the one before it counts.
func (c *Chain) whole(ctx context.Context, s jetstream.Stream, subject string, m *jetstream.RawStreamMsg) (*told, error) {
	var data []byte
	for {
		p, err := open(m.Subject, subject, m.Header, m.Data)
		lost := err != nil || data == nil && p.k < p.n // of another hand, or cut off
		if !lost {
			data = append(slices.Clone(p.data), data...)
		}
		if !lost && p.k == 1 {
			var t told
			err := json.Unmarshal(data, &t)
			return &t, err
		}
		if m, err = before(ctx, s, m); err != nil || m == nil {
			return nil, err
		}
	}
}

// before is the message of the same place before one; nil where there is none.
func before(ctx context.Context, s jetstream.Stream, m *jetstream.RawStreamMsg) (*jetstream.RawStreamMsg, error) {
	for at := m.Sequence - 1; at > 0; at-- {
		soon, cancel := context.WithTimeout(ctx, short)
		x, err := s.GetMsg(soon, at)
		cancel()
		if err != nil || x.Subject == m.Subject {
			return x, err
		}
	}
	return nil, nil
}

// errOther: the chain knows of records this file has not. It goes on telling nothing until
// somebody has looked.
var errOther = errors.New("the chain holds records of this shop that this file has not: " +
	"an older backup was put back. Nothing is told until the newer file is back, or the shop has a key of its own")

// tellLines tells every line that the chain does not have, one after the other: a line is
// never there before the one it follows.
func (c *Chain) tellLines(ctx context.Context) error {
	last, err := c.known(ctx, lineOf)
	if err != nil {
		return err
	}
	after := 0
	if last != nil {
		after = last.N
		have, err := c.store.EventsAfter(ctx, after-1, 1)
		if err != nil {
			return err
		}
		if len(have) == 0 || have[0].Hash != last.Line.Hash {
			return errOther
		}
	}
	for ctx.Err() == nil {
		rows, err := c.store.EventsAfter(ctx, after, batch)
		if err != nil {
			return err
		}
		for _, r := range rows {
			if err := c.tell(ctx, lineOf, told{N: r.N, Line: &r.Line}); err != nil {
				return err
			}
			after = r.N
		}
		if len(rows) < batch {
			c.pause(ctx)
		}
	}
	return nil
}

func (c *Chain) pause(ctx context.Context) {
	select {
	case <-ctx.Done():
	case <-time.After(rest):
	}
}

// tell sends one message and waits until the chain has it.
func (c *Chain) tell(ctx context.Context, subject string, t told) error {
	all, err := c.messages(subject, t)
	if err != nil {
		return err
	}
	for _, m := range all {
		soon, cancel := context.WithTimeout(ctx, short)
		_, err := c.js.PublishMsg(soon, m)
		cancel()
		if err != nil {
			return err
		}
	}
	return nil
}

// shared says that an act concerns all shops, and was done in this one.
func shared(a record.Act) bool {
	var from struct {
		Shop string `json:"shop"`
	}
	switch a.Kind {
	case record.FigureCorrected{}.ActKind(), record.FileShelved{}.ActKind():
		return json.Unmarshal(a.Body, &from) == nil && from.Shop == ""
	}
	return false
}

// tellActs tells figures and files of this shop.
func (c *Chain) tellActs(ctx context.Context) error {
	last, err := c.known(ctx, actOf)
	if err != nil {
		return err
	}
	after := 0
	if last != nil {
		after = last.N
	}
	for ctx.Err() == nil {
		acts, err := c.store.ActsAfter(ctx, after)
		if err != nil {
			return err
		}
		for _, a := range acts {
			if shared(a) {
				if err := c.tell(ctx, actOf, told{N: a.N, Act: &a}); err != nil {
					return err
				}
			}
			after = a.N
		}
		c.pause(ctx)
	}
	return nil
}

// message is what a shop told, whole, with its place in the chain.
type message struct {
	told
	place     uint64
	shop, key string
}

// follow gives what was told behind a place, in the order of the chain, until the context ends
// or a batch cannot be taken. What is not signed by its shop is passed over and logged.
func (c *Chain) follow(ctx context.Context, subject string, after uint64, take func([]message) error) error {
	if _, err := c.stream(ctx); err != nil {
		return err
	}
	soon, cancel := context.WithTimeout(ctx, short)
	defer cancel()
	from, err := c.js.OrderedConsumer(soon, streamName, jetstream.OrderedConsumerConfig{
		FilterSubjects: []string{subject + "*"},
		DeliverPolicy:  jetstream.DeliverByStartSequencePolicy,
		OptStartSeq:    after + 1,
	})
	if err != nil {
		return err
	}
	held, next := parts{}, map[string]int{}
	for ctx.Err() == nil {
		got, err := from.Fetch(batch, jetstream.FetchMaxWait(rest))
		if err != nil {
			return err
		}
		var all []message
		for m := range got.Messages() {
			x, whole, err := c.read(m, subject, held, next)
			if err != nil {
				return err
			}
			if whole {
				all = append(all, x)
			}
		}
		if err := got.Error(); err != nil && !errors.Is(err, nats.ErrTimeout) {
			return err
		}
		if err := take(all); err != nil {
			return err
		}
	}
	return nil
}

// read reads one message; whole is false for a part that is not the last, and for what no shop
// has signed.
func (c *Chain) read(m jetstream.Msg, subject string, held parts, next map[string]int) (x message, whole bool, err error) {
	if x.place, err = placeOf(m); err != nil {
		return x, false, err
	}
	p, bad := open(m.Subject(), subject, m.Headers(), m.Data())
	if bad != nil {
		c.Log.Warn("chain", "refused", bad, "place", x.place)
		return x, false, nil
	}
	data, whole := held.add(p, next)
	if !whole {
		return x, false, nil
	}
	x.shop, x.key = p.shop, p.key
	if bad := json.Unmarshal(data, &x.told); bad != nil {
		c.Log.Warn("chain", "refused", bad, "place", x.place)
		return x, false, nil
	}
	return x, true, nil
}

func placeOf(m jetstream.Msg) (uint64, error) {
	meta, err := m.Metadata()
	if err != nil {
		return 0, err
	}
	return meta.Sequence.Stream, nil
}

// Heed takes figures and files of the shops whose keys this one trusts; taken is called when a
// file has come. Each stands under the names of those who approved it, and their shop.
func (c *Chain) Heed(ctx context.Context, taken func()) {
	c.again(ctx, "heeding other shops", func(ctx context.Context) error {
		after, _, err := c.store.ChainPlace(ctx)
		if err != nil {
			return err
		}
		return c.follow(ctx, actOf, after, func(all []message) error {
			for _, m := range all {
				if err := c.heed(ctx, m, taken); err != nil {
					return err
				}
			}
			return nil
		})
	})
}

func (c *Chain) heed(ctx context.Context, m message, taken func()) error {
	if m.told.Act == nil {
		c.Log.Warn("chain", "refused", "a message of acts that holds none", "shop", m.told.Name)
		return c.store.FollowedActs(ctx, m.place)
	}
	name, trusted, err := c.store.Trusted(ctx, m.key)
	if err != nil {
		return err
	}
	switch {
	case m.shop == c.shop:
	case !trusted:
		c.Log.Warn("chain", "refused", "an act of a shop whose key is not trusted here", "shop", m.told.Name, "key", m.key)
	default:
		if err := c.takeAct(ctx, *m.told.Act, name); err != nil {
			c.Log.Warn("chain", "refused", err, "shop", name)
		} else if m.told.Act.Kind == (record.FileShelved{}).ActKind() {
			taken()
		}
	}
	return c.store.FollowedActs(ctx, m.place)
}

func (c *Chain) takeAct(ctx context.Context, a record.Act, shop string) error {
	at, err := time.Parse(time.RFC3339Nano, a.At)
	if err != nil {
		return err
	}
	id := "chain:" + a.Link
	switch a.Kind {
	case record.FigureCorrected{}.ActKind():
		var b record.FigureCorrected
		if err := json.Unmarshal(a.Body, &b); err != nil {
			return err
		}
		return c.store.TakeFigure(ctx, id, a.By, shop, at, b)
	case record.FileShelved{}.ActKind():
		var b record.FileShelved
		if err := json.Unmarshal(a.Body, &b); err != nil {
			return err
		}
		return c.store.TakeFile(ctx, id, a.By, shop, at, b)
	}
	return fmt.Errorf("an act of kind %q is of its shop alone", a.Kind)
}

// Fill fills a node's file with what all shops have told, until the context ends.
func (c *Chain) Fill(ctx context.Context) {
	c.again(ctx, "filling the node", func(ctx context.Context) error {
		_, after, err := c.store.ChainPlace(ctx)
		if err != nil {
			return err
		}
		return c.follow(ctx, lineOf, after, func(all []message) error { return c.fill(ctx, all) })
	})
}

func (c *Chain) fill(ctx context.Context, all []message) error {
	var lines []store.Told
	for _, m := range all {
		if m.told.Line == nil {
			c.Log.Warn("chain", "refused", "a message of lines that holds none", "place", m.place)
			continue
		}
		lines = append(lines, store.Told{Place: m.place, Shop: m.shop, Name: m.told.Name, Line: *m.told.Line})
	}
	refused, err := c.store.Adopt(ctx, lines, time.Now())
	for _, r := range refused {
		c.Log.Warn("chain", "refused", r.Why, "shop", r.Name, "place", r.Place)
	}
	return err
}

// asked is what a node is asked.
type asked struct {
	VIN  string `json:"vin"`
	Shop string `json:"shop"` // that asks: it knows its own
}

// Answer answers what other shops did on a vehicle, until the context ends.
func (c *Chain) Answer(ctx context.Context) error {
	sub, err := c.conn.QueueSubscribe(pastAsked, nodes, func(m *nats.Msg) {
		var q asked
		if json.Unmarshal(m.Data, &q) != nil {
			return
		}
		past, err := c.store.PastOf(ctx, q.VIN, q.Shop)
		if err != nil {
			c.Log.Warn("chain", "doing", "answering", "error", err)
			return
		}
		data, err := json.Marshal(past)
		if err == nil {
			err = m.Respond(data)
		}
		if err != nil {
			c.Log.Warn("chain", "doing", "answering", "error", err)
		}
	})
	if err != nil {
		return err
	}
	<-ctx.Done()
	return sub.Unsubscribe()
}

// Past asks a node what other shops did on a vehicle.
func (c *Chain) Past(ctx context.Context, vin string) ([]store.Elsewhere, error) {
	data, err := json.Marshal(asked{VIN: vin, Shop: c.shop})
	if err != nil {
		return nil, err
	}
	soon, cancel := context.WithTimeout(ctx, answerIn)
	defer cancel()
	m, err := c.conn.RequestWithContext(soon, pastAsked, data)
	if err != nil {
		return nil, err
	}
	var past []store.Elsewhere
	err = json.Unmarshal(m.Data, &past)
	return past, err
}
