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
	"strconv"
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
)

// How the chain is spoken to.
const (
	doubles  = 10 * time.Minute // a message sent again within is kept once by the engine itself
	short    = 5 * time.Second  // each call by itself: one made before there is a leader waits for ever
	rest     = 500 * time.Millisecond
	batch    = 256
	answerIn = 2 * time.Second
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

// message signs what is told with the shop's key.
func (c *Chain) message(subject string, t told) (*nats.Msg, error) {
	t.Name = c.Name
	data, err := json.Marshal(t)
	if err != nil {
		return nil, err
	}
	m := nats.NewMsg(subject + c.shop)
	m.Data = data
	m.Header.Set(keyHeader, c.store.PublicKey())
	m.Header.Set(signature, c.store.Sign(string(data)))
	return m, nil
}

// read proves a message: that its shop signed it, and is the one whose place it stands in.
func read(subject, prefix string, header nats.Header, data []byte) (t told, shop, key string, err error) {
	key = header.Get(keyHeader)
	shop = store.Fingerprint(key)
	if shop == "" || subject != prefix+shop || !store.Signed(key, string(data), header.Get(signature)) {
		return t, "", "", fmt.Errorf("a message in %s is not signed by its shop", subject)
	}
	if err := json.Unmarshal(data, &t); err != nil {
		return t, "", "", fmt.Errorf("a message in %s cannot be read: %w", subject, err)
	}
	return t, shop, key, nil
}

// Tell tells the chain what the shop records, from where the chain left off, until the context
// ends.
func (c *Chain) Tell(ctx context.Context) {
	go c.again(ctx, "telling acts", c.tellActs)
	c.again(ctx, "telling lines", c.tellLines)
}

// known is the last message of this shop in the chain; nil where there is none.
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
	t, _, _, err := read(m.Subject, subject, m.Header, m.Data)
	return &t, err
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
	m, err := c.message(subject, t)
	if err != nil {
		return err
	}
	soon, cancel := context.WithTimeout(ctx, short)
	defer cancel()
	_, err = c.js.PublishMsg(soon, m, jetstream.WithMsgID(t.id()))
	return err
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

// follow gives messages of the chain behind a place, in its order, until the context ends or
// one cannot be taken. full is called with each batch.
func (c *Chain) follow(ctx context.Context, subject string, after uint64, take func([]jetstream.Msg) error) error {
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
	for ctx.Err() == nil {
		got, err := from.Fetch(batch, jetstream.FetchMaxWait(rest))
		if err != nil {
			return err
		}
		var all []jetstream.Msg
		for m := range got.Messages() {
			all = append(all, m)
		}
		if err := got.Error(); err != nil && !errors.Is(err, nats.ErrTimeout) {
			return err
		}
		if len(all) == 0 {
			continue
		}
		if err := take(all); err != nil {
			return err
		}
	}
	return nil
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
		return c.follow(ctx, actOf, after, func(all []jetstream.Msg) error {
			for _, m := range all {
				if err := c.heed(ctx, m, taken); err != nil {
					return err
				}
			}
			return nil
		})
	})
}

func (c *Chain) heed(ctx context.Context, m jetstream.Msg, taken func()) error {
	place, err := placeOf(m)
	if err != nil {
		return err
	}
	t, shop, key, bad := read(m.Subject(), actOf, m.Headers(), m.Data())
	if bad == nil && t.Act == nil {
		bad = errors.New("a message of acts holds none")
	}
	if bad != nil {
		c.Log.Warn("chain", "refused", bad)
		return c.store.FollowedActs(ctx, place)
	}
	name, trusted, err := c.store.Trusted(ctx, key)
	if err != nil {
		return err
	}
	switch {
	case shop == c.shop:
	case !trusted:
		c.Log.Warn("chain", "refused", "an act of a shop whose key is not trusted here", "shop", t.Name, "key", key)
	default:
		if err := c.takeAct(ctx, *t.Act, name); err != nil {
			c.Log.Warn("chain", "refused", err, "shop", name)
		} else if t.Act.Kind == (record.FileShelved{}).ActKind() {
			taken()
		}
	}
	return c.store.FollowedActs(ctx, place)
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
		return c.follow(ctx, lineOf, after, func(all []jetstream.Msg) error { return c.fill(ctx, all) })
	})
}

func (c *Chain) fill(ctx context.Context, all []jetstream.Msg) error {
	var lines []store.Told
	for _, m := range all {
		place, err := placeOf(m)
		if err != nil {
			return err
		}
		t, shop, _, bad := read(m.Subject(), lineOf, m.Headers(), m.Data())
		if bad == nil && t.Line == nil {
			bad = errors.New("a message of lines holds none")
		}
		if bad != nil {
			c.Log.Warn("chain", "refused", bad, "place", place)
			continue
		}
		lines = append(lines, store.Told{Place: place, Shop: shop, Name: t.Name, Line: *t.Line})
	}
	refused, err := c.store.Adopt(ctx, lines, time.Now())
	for _, r := range refused {
		c.Log.Warn("chain", "refused", r.Why, "shop", r.Name, "place", strconv.FormatUint(r.Place, 10))
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
