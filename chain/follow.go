package chain

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
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
func (c *Chain) read(
	m jetstream.Msg,
	subject string,
	held parts,
	next map[string]int,
) (x message, whole bool, err error) {
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

// Heed takes figures and files of the shops whose keys this one trusts. Each stands under the
// names of those who approved it, and their shop.
func (c *Chain) Heed(ctx context.Context) {
	c.again(ctx, "heeding other shops", func(ctx context.Context) error {
		after, _, err := c.shop.ChainPlace(ctx)
		if err != nil {
			return err
		}
		return c.follow(ctx, actOf, after, func(all []message) error {
			for _, m := range all {
				if err := c.heed(ctx, m); err != nil {
					return err
				}
			}
			return nil
		})
	})
}

func (c *Chain) heed(ctx context.Context, m message) error {
	if m.told.Act == nil {
		c.Log.Warn("chain", "refused", "a message of acts that holds none", "shop", m.told.Name)
		return c.shop.FollowedActs(ctx, m.place)
	}
	name, trusted, err := c.shop.Trusted(ctx, m.key)
	if err != nil {
		return err
	}
	switch {
	case m.shop == c.self:
	case !trusted:
		c.Log.Warn("chain", "refused", "an act of a shop whose key is not trusted here", "shop", m.told.Name, "key", m.key)
	default:
		if err := c.takeAct(ctx, *m.told.Act, name); err != nil {
			c.Log.Warn("chain", "refused", err, "shop", name)
		}
	}
	return c.shop.FollowedActs(ctx, m.place)
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

// Fill fills a node's file with what all shops have told, until the context ends.
func (c *Chain) Fill(ctx context.Context) {
	c.again(ctx, "filling the node", func(ctx context.Context) error {
		_, after, err := c.shop.ChainPlace(ctx)
		if err != nil {
			return err
		}
		return c.follow(ctx, lineOf, after, func(all []message) error { return c.fill(ctx, all) })
	})
}

func (c *Chain) fill(ctx context.Context, all []message) error {
	var lines []shop.Told
	for _, m := range all {
		if m.told.Line == nil {
			c.Log.Warn("chain", "refused", "a message of lines that holds none", "place", m.place)
			continue
		}
		lines = append(lines, shop.Told{Place: m.place, Shop: m.shop, Name: m.told.Name, Line: *m.told.Line})
	}
	refused, err := c.shop.Adopt(ctx, lines, time.Now())
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
		past, err := c.shop.PastOf(ctx, q.VIN, q.Shop)
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
func (c *Chain) Past(ctx context.Context, vin string) ([]listing.Elsewhere, error) {
	data, err := json.Marshal(asked{VIN: vin, Shop: c.self})
	if err != nil {
		return nil, err
	}
	soon, cancel := context.WithTimeout(ctx, answerIn)
	defer cancel()
	m, err := c.conn.RequestWithContext(soon, pastAsked, data)
	if err != nil {
		return nil, err
	}
	var past []listing.Elsewhere
	err = json.Unmarshal(m.Data, &past)
	return past, err
}
