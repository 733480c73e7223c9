package chain

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"time"

	"github.com/nats-io/nats.go"
	"github.com/nats-io/nats.go/jetstream"

	"lugtak/core/listing"
	"lugtak/core/record"
	"lugtak/shop"
)

// message is what a shop told, whole, with its place in the chain.
type message struct {
	told
	place uint64
	shop  string // fingerprint of its key
	name  string // as it was named here
}

// take is given what came, whole, and how far the whole chain was followed with it: 0 while a single shop is read.
type take func(all []message, whole uint64) error

// followed reads what the named shops have told of one thing, acts or lines.
type followed struct {
	*Chain
	subject string
	named   map[string]string // shop by key
	held    *parts
}

// follow gives what the named shops tell, in the order of the chain, until the context ends or a batch cannot be taken.
// A shop that was named since is read from its own beginning first, as is one that was cut off within a record.
func (c *Chain) follow(ctx context.Context, subject, what string, to take) error {
	s, err := c.stream(ctx)
	if err != nil {
		return err
	}
	f := followed{Chain: c, subject: subject, held: newParts()}
	if f.named, err = c.shop.Named(ctx); err != nil {
		return err
	}
	c.acquainted(f.named)
	whole, of, err := c.shop.ChainPlace(ctx, what)
	if err != nil {
		return err
	}
	for key := range f.named {
		one := shop.Fingerprint(key)
		if of[one] >= whole {
			continue
		}
		last, err := lastOf(ctx, s, subject+one)
		if err != nil {
			return err
		}
		if last != nil && last.Sequence > of[one] {
			upto := min(last.Sequence, whole) // what is beyond comes in the order of the chain
			if err := f.read(ctx, subject+one, of[one], upto, to); err != nil {
				return err
			}
		}
	}
	return f.read(ctx, subject+"*", whole, 0, to)
}

// errNothing: what the chain says is there does not come; it is asked for again.
var errNothing = errors.New("the chain does not give what it says it has")

// read reads behind a place up to another one; without one, until somebody names a shop, or takes a name back.
func (f *followed) read(ctx context.Context, subject string, after, upto uint64, to take) error {
	soon, cancel := context.WithTimeout(ctx, short)
	defer cancel()
	from, err := f.js.OrderedConsumer(soon, streamName, jetstream.OrderedConsumerConfig{
		FilterSubjects: []string{subject},
		DeliverPolicy:  jetstream.DeliverByStartSequencePolicy,
		OptStartSeq:    after + 1,
	})
	if err != nil {
		return err
	}
	for ctx.Err() == nil && (upto == 0 || after < upto) {
		got, err := from.Fetch(batch, jetstream.FetchMaxWait(rest))
		if err != nil {
			return err
		}
		var all []message
		before := after
		for m := range got.Messages() {
			if after, err = placeOf(m); err != nil {
				return err
			}
			if upto > 0 && after > upto {
				continue
			}
			if x, whole := f.one(m, after); whole {
				all = append(all, x)
			}
		}
		if err := got.Error(); err != nil && !errors.Is(err, nats.ErrTimeout) {
			return err
		}
		now, err := f.shop.Named(ctx)
		switch {
		case err != nil:
			return err
		case !maps.Equal(now, f.named):
			return nil // what came is read again, by whose word counts now
		case upto > 0 && after == before:
			return errNothing
		case upto > 0:
			err = to(all, 0)
		case after > before:
			err = to(all, after)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// one reads one message; whole is false for a part that is not the last, and for what no named shop has signed.
func (f *followed) one(m jetstream.Msg, place uint64) (x message, whole bool) {
	p, bad := open(m.Subject(), f.subject, m.Headers(), m.Data())
	if bad != nil {
		f.Log.Warn("chain", "refused", bad, "place", place)
		return x, false
	}
	if p.shop == f.self {
		return x, false
	}
	name, named := f.named[p.key]
	if !named {
		var says told
		if p.n == 1 {
			_ = json.Unmarshal(p.data, &says) // what it calls itself, if it says so
		}
		f.passOver(listing.Stranger{Key: p.key, Says: says.Name, Heard: time.Now()})
		return x, false
	}
	data, whole := f.held.add(p)
	if !whole {
		return x, false
	}
	x.place, x.shop, x.name = place, p.shop, name
	if bad := json.Unmarshal(data, &x.told); bad != nil {
		f.Log.Warn("chain", "refused", bad, "place", place)
		return x, false
	}
	return x, true
}

func placeOf(m jetstream.Msg) (uint64, error) {
	meta, err := m.Metadata()
	if err != nil {
		return 0, err
	}
	return meta.Sequence.Stream, nil
}

// Heed takes figures and files of the shops that are named here. Each stands under the names of those who approved it,
// and their shop.
func (c *Chain) Heed(ctx context.Context) {
	c.again(ctx, "heeding other shops", func(ctx context.Context) error {
		return c.follow(ctx, actOf, shop.ChainActs, func(all []message, whole uint64) error {
			of := map[string]uint64{}
			for _, m := range all {
				c.heed(ctx, m)
				of[m.shop] = m.place
			}
			return c.shop.Followed(ctx, shop.ChainActs, whole, of)
		})
	})
}

func (c *Chain) heed(ctx context.Context, m message) {
	err := errors.New("a message of acts that holds none")
	if m.told.Act != nil {
		err = c.takeAct(ctx, *m.told.Act, m.name)
	}
	if err != nil {
		c.Log.Warn("chain", "refused", err, "shop", m.name)
	}
}

func (c *Chain) takeAct(ctx context.Context, a record.Act, from string) error {
	at, err := time.Parse(time.RFC3339Nano, a.At)
	if err != nil {
		return err
	}
	src := shop.Source{By: a.By, From: from, At: at}
	id := record.EventID("chain:" + a.Link)
	switch a.Kind {
	case record.FigureCorrected{}.ActKind():
		var b record.FigureCorrected
		if err := json.Unmarshal(a.Body, &b); err != nil {
			return err
		}
		return c.shop.TakeFigure(ctx, id, src, b)
	case record.FileShelved{}.ActKind():
		var b record.FileShelved
		if err := json.Unmarshal(a.Body, &b); err != nil {
			return err
		}
		return c.shop.TakeFile(ctx, id, src, b)
	case record.SheetSent{}.ActKind():
		var b record.SheetSent
		if err := json.Unmarshal(a.Body, &b); err != nil {
			return err
		}
		f, err := shop.ReadSheetFile([]byte(b.Text))
		if err != nil {
			return err
		}
		return c.shop.TakeSheet(ctx, id, f, src, from)
	}
	return fmt.Errorf("an act of kind %q is of its shop alone", a.Kind)
}

// Fill fills a node's file with what the named shops have told, until the context ends.
func (c *Chain) Fill(ctx context.Context) {
	c.again(ctx, "filling the node", func(ctx context.Context) error {
		return c.follow(ctx, lineOf, shop.ChainLines, func(all []message, whole uint64) error {
			return c.fill(ctx, all, whole)
		})
	})
}

func (c *Chain) fill(ctx context.Context, all []message, whole uint64) error {
	var lines []shop.Told
	for _, m := range all {
		if m.told.Line == nil {
			c.Log.Warn("chain", "refused", "a message of lines that holds none", "shop", m.name, "place", m.place)
			continue
		}
		lines = append(lines, shop.Told{Place: m.place, Shop: m.shop, Name: m.name, Line: *m.told.Line})
	}
	refused, err := c.shop.Adopt(ctx, lines, whole, time.Now())
	for _, r := range refused {
		c.Log.Warn("chain", "refused", r.Why, "shop", r.Name, "place", r.Place)
	}
	return err
}

// asked is what a node is asked.
type asked struct {
	VIN string `json:"vin"`
}

// How questions and answers are told apart where they are signed.
const (
	question = "question"
	answer   = "answer"
)

// Answers are bounded: how many questions wait, and how large one may be.
const (
	mostAsked  = 256
	longestAsk = 1 << 10 // bytes
)

// Answer answers the named shops what others did on a vehicle, until the context ends.
func (c *Chain) Answer(ctx context.Context) error {
	sub, err := c.conn.Subscribe(pastAsked, func(m *nats.Msg) {
		if err := c.reply(ctx, m); err != nil {
			c.Log.Warn("chain", "doing", "answering", "error", err)
		}
	})
	if err != nil {
		return err
	}
	if err := sub.SetPendingLimits(mostAsked, mostAsked*longestAsk); err != nil {
		return err
	}
	<-ctx.Done()
	return sub.Unsubscribe()
}

func (c *Chain) reply(ctx context.Context, m *nats.Msg) error {
	if len(m.Data) > longestAsk || m.Reply == "" {
		return nil
	}
	key := c.proved(ctx, question, m)
	var q asked
	if key == "" || json.Unmarshal(m.Data, &q) != nil {
		return nil
	}
	past, err := c.shop.PastOf(ctx, q.VIN, shop.Fingerprint(key)) // it knows its own
	if err != nil {
		return err
	}
	data, err := json.Marshal(past)
	if err != nil {
		return err
	}
	return c.conn.PublishMsg(c.sealed(answer, m.Reply, "", data))
}

// Past asks the nodes what other shops did on a vehicle. The first answer that a named one has signed counts.
func (c *Chain) Past(ctx context.Context, vin string) ([]listing.Elsewhere, error) {
	data, err := json.Marshal(asked{VIN: vin})
	if err != nil {
		return nil, err
	}
	soon, cancel := context.WithTimeout(ctx, answerIn)
	defer cancel()
	back := c.conn.NewInbox()
	sub, err := c.conn.SubscribeSync(back)
	if err != nil {
		return nil, err
	}
	defer sub.Unsubscribe()
	if err := c.conn.PublishMsg(c.sealed(question, pastAsked, back, data)); err != nil {
		return nil, err
	}
	for {
		m, err := sub.NextMsgWithContext(soon)
		if err != nil {
			return nil, err
		}
		if c.proved(ctx, answer, m) == "" {
			continue
		}
		var past []listing.Elsewhere
		err = json.Unmarshal(m.Data, &past)
		return past, err
	}
}
