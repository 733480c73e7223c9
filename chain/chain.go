// Package chain joins the shops of a chain over NATS JetStream, an existing replicated engine.
// Each shop tells what it records and works on without the chain; a node fills a file of its
// own with what they have told, and answers what other shops did on a vehicle; figures and files
// of one shop come to all.
//
// Every message is signed with the key of its shop, and carries the id of its event as message
// id, so that one sent twice is kept once. Nobody is believed whose key somebody has not named
// here: neither what a shop tells, nor a question, nor an answer.
package chain

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"maps"
	"os"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/nats-io/nats.go"
	"github.com/nats-io/nats.go/jetstream"

	"lugtak/core/listing"
	"lugtak/core/record"
	"lugtak/shop"
)

// Where things are told.
const (
	streamName = "LUGTAK"
	lineOf     = "lugtak.line." // and the shop's fingerprint
	actOf      = "lugtak.act."  // and the shop's fingerprint
	pastAsked  = "lugtak.past"  // asked with a VIN
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
	URL      string // nats://host:port, tls://host:port; several parted by commas
	Creds    string // file of credentials, or of an nkey's seed; empty for none
	CA       string // file of the authority that signed the servers' certificates; empty for those of the system
	Replicas int    // of the stream, where it is not there yet
	Name     string // what this shop calls itself
	Log      *slog.Logger
	Dialer   nats.CustomDialer // how it connects; the usual way if nil
}

// Chain is a connection that comes back by itself.
type Chain struct {
	Config
	shop *shop.Shop
	conn *nats.Conn
	js   jetstream.JetStream
	self string // fingerprint of this file's key

	mu      sync.Mutex
	upto    int                         // the last line of this shop that the chain has; -1 where nobody told it yet
	trouble string                      // why nothing is told; empty where all goes well
	unnamed map[string]listing.Stranger // by key
}

// Join connects a file to the chain. It needs no network: the connection is made when there
// is one.
func Join(s *shop.Shop, cfg Config) (*Chain, error) {
	options := []nats.Option{
		nats.Name("lugtak " + cfg.Name),
		nats.RetryOnFailedConnect(true),
		nats.MaxReconnects(-1),
		nats.ReconnectWait(rest),
	}
	// Answers come to a place of this shop's own, which nobody else need be let read.
	self := shop.Fingerprint(s.PublicKey())
	options = append(options, nats.CustomInboxPrefix("_INBOX."+self))
	if cfg.CA != "" {
		options = append(options, nats.RootCAs(cfg.CA))
	}
	if cfg.Creds != "" {
		who, err := credentials(cfg.Creds)
		if err != nil {
			return nil, err
		}
		options = append(options, who)
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
	return &Chain{
		Config:  cfg,
		shop:    s,
		conn:    conn,
		js:      js,
		self:    self,
		upto:    -1,
		unnamed: map[string]listing.Stranger{},
	}, nil
}

// credentials is whom a shop says to the engine that it is: by a file of credentials as the engine's own tools write
// them, or by the seed of an nkey alone.
func credentials(file string) (nats.Option, error) {
	text, err := os.ReadFile(file)
	if err != nil {
		return nil, err
	}
	if strings.Contains(string(text), "NATS USER JWT") {
		return nats.UserCredentials(file), nil
	}
	return nats.NkeyOptionFromSeed(file)
}

// Close leaves the chain.
func (c *Chain) Close() { c.conn.Close() }

// Connected says that the chain is reached now.
func (c *Chain) Connected() bool { return c.conn.IsConnected() }

// Told is the last line of this shop that the chain is known to have, -1 where nothing is told, and what keeps the
// next from it.
func (c *Chain) Told() (upto int, trouble string) {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.upto, c.trouble
}

// mostUnnamed bounds how many are kept: keys cost nothing to make.
const mostUnnamed = 50

// Unnamed lists the shops that were heard since the start and nobody has named, the newest first.
func (c *Chain) Unnamed() []listing.Stranger {
	c.mu.Lock()
	defer c.mu.Unlock()
	return slices.SortedFunc(maps.Values(c.unnamed), func(a, b listing.Stranger) int { return b.Heard.Compare(a.Heard) })
}

func (c *Chain) passOver(u listing.Stranger) {
	c.mu.Lock()
	defer c.mu.Unlock()
	known, again := c.unnamed[u.Key]
	if !again && len(c.unnamed) >= mostUnnamed {
		return // nor are more of them logged
	}
	if !again {
		c.Log.Warn("chain", "refused", "a shop that nobody has named here", "says", u.Says, "key", u.Key)
	}
	u.Says = cmp.Or(u.Says, known.Says)
	c.unnamed[u.Key] = u
}

// acquainted forgets that those were strangers who have been named since.
func (c *Chain) acquainted(named map[string]string) {
	c.mu.Lock()
	defer c.mu.Unlock()
	maps.DeleteFunc(c.unnamed, func(key string, _ listing.Stranger) bool { return named[key] != "" })
}

func (c *Chain) toldUpto(n int) {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.upto, c.trouble = n, ""
}

func (c *Chain) stuck(why error) {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.trouble = why.Error()
}

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

// Tell tells the chain what the shop records, from where the chain left off, until the context
// ends.
func (c *Chain) Tell(ctx context.Context) {
	var acts sync.WaitGroup
	defer acts.Wait()
	acts.Go(func() { c.again(ctx, "telling acts", c.tellActs) })
	c.again(ctx, "telling lines", func(ctx context.Context) error {
		err := c.tellLines(ctx)
		if err != nil && ctx.Err() == nil {
			c.stuck(err)
		}
		return err
	})
}

// known is what the chain heard last and whole of this shop; nil where it heard nothing.
func (c *Chain) known(ctx context.Context, subject string) (*told, error) {
	s, err := c.stream(ctx)
	if err != nil {
		return nil, err
	}
	m, err := lastOf(ctx, s, subject+c.self)
	if err != nil || m == nil {
		return nil, err
	}
	return c.whole(ctx, s, subject, m)
}

// lastOf is the last message of a place; nil where there is none.
func lastOf(ctx context.Context, s jetstream.Stream, subject string) (*jetstream.RawStreamMsg, error) {
	soon, cancel := context.WithTimeout(ctx, short)
	defer cancel()
	m, err := s.GetLastMsgForSubject(soon, subject)
	if errors.Is(err, jetstream.ErrMsgNotFound) {
		return nil, nil
	}
	return m, err
}

// whole reads back from a message to the one where it begins. What was cut off before its last
// part was not heard: the one before it counts.
func (c *Chain) whole(
	ctx context.Context,
	s jetstream.Stream,
	subject string,
	m *jetstream.RawStreamMsg,
) (*told, error) {
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
		have, err := c.shop.EventsAfter(ctx, after-1, 1)
		if err != nil {
			return err
		}
		if len(have) == 0 || have[0].Hash != last.Line.Hash {
			return errOther
		}
	}
	c.toldUpto(after)
	for ctx.Err() == nil {
		rows, err := c.shop.EventsAfter(ctx, after, batch)
		if err != nil {
			return err
		}
		for _, r := range rows {
			if err := c.tell(ctx, lineOf, told{N: r.N, Line: &r.Line}); err != nil {
				return err
			}
			after = r.N
			c.toldUpto(after)
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
		Text string `json:"text"`
	}
	switch a.Kind {
	case record.SheetSent{}.ActKind():
		return json.Unmarshal(a.Body, &from) == nil && from.Text != ""
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
		acts, err := c.shop.ActsAfter(ctx, after)
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
