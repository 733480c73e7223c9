package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"time"

	"lugtak/core/fault"
	"lugtak/core/listing"
	"lugtak/core/record"
	"lugtak/core/vehicle"
)

// A chain of shops: what a shop tells of itself, and what a node keeps of all. Nothing here
// knows how it travels.

// PublicKey is the public half of the shop's key.
func (s *Store) PublicKey() string { return public(s.key) }

// KeyPrint is the fingerprint of the shop's key.
func (s *Store) KeyPrint() string { return fingerprint(public(s.key)) }

// Sign signs a text with the shop's key.
func (s *Store) Sign(text string) string { return sign(s.key, text) }

// Signed says that a signature over a text was made with the key of that public half.
func Signed(key, text, signature string) bool { return signed(key, text, signature) }

// Fingerprint is a public key short enough to read aloud; empty for what is none.
func Fingerprint(key string) string { return fingerprint(key) }

// Named lists the other shops whose keys somebody has named here, by key.
func (s *Store) Named(ctx context.Context) (out map[string]string, err error) {
	err = s.known(ctx, func(sh *shop) {
		out = maps.Clone(sh.trusted)
		maps.DeleteFunc(out, func(key, _ string) bool { return sh.own[key] })
	})
	delete(out, s.PublicKey()) // of a file whose first key was made without an act
	return out, err
}

// Trusted is what the shop calls the owner of a key; ok is false for one it does not know.
func (s *Store) Trusted(ctx context.Context, key string) (name string, ok bool, err error) {
	err = s.known(ctx, func(sh *shop) { name, ok = sh.trusted[key] })
	return name, ok, err
}

// ActsAfter lists acts behind one, by number, the oldest first.
func (s *Store) ActsAfter(ctx context.Context, after int) ([]record.Act, error) {
	return readActs(ctx, s.r, after)
}

// What of the chain is followed.
const (
	ChainActs  = "acts"  // figures, files and sheets of other shops
	ChainLines = "lines" // of their jobs, at a node
)

// ChainPlace is how far the chain has been followed: as a whole, and of each shop by the fingerprint of its key. A
// shop that stands before the whole has been named since, or was cut off in the middle of a record.
func (s *Store) ChainPlace(ctx context.Context, what string) (whole uint64, of map[string]uint64, err error) {
	column := map[string]string{ChainActs: "acts", ChainLines: "lines"}[what]
	if err = s.r.QueryRowContext(ctx, `SELECT `+column+` FROM chain`).Scan(&whole); err != nil {
		return 0, nil, err
	}
	type place struct {
		shop string
		at   uint64
	}
	rows, err := s.r.QueryContext(ctx, `SELECT shop, place FROM chain_place WHERE what = ?`, what)
	all, err := rowsOf(rows, err, func(scan scanner, p *place) error { return scan(&p.shop, &p.at) })
	of = map[string]uint64{}
	for _, p := range all {
		of[p.shop] = p.at
	}
	return whole, of, err
}

// Followed keeps how far the chain was followed: as a whole where that is not 0, and of single shops.
func (s *Store) Followed(ctx context.Context, what string, whole uint64, of map[string]uint64) error {
	s.mu.Lock()
	defer s.mu.Unlock()
	tx, err := s.w.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	defer tx.Rollback()
	p := projecting{ctx: ctx, tx: tx}
	p.followed(what, whole, of)
	if p.err != nil {
		return p.err
	}
	return tx.Commit()
}

func (p *projecting) followed(what string, whole uint64, of map[string]uint64) {
	for shop, place := range of {
		p.exec(`INSERT OR REPLACE INTO chain_place VALUES (?,?,?)`, shop, what, place)
	}
	switch {
	case whole == 0:
	case what == ChainActs:
		p.exec(`UPDATE chain SET acts = ?`, whole)
	default:
		p.exec(`UPDATE chain SET lines = ?`, whole)
	}
}

// TakeFile takes a file another shop has put on its Shelf.
func (s *Store) TakeFile(
	ctx context.Context,
	id record.EventID,
	by, shop string,
	at time.Time,
	b record.FileShelved,
) error {
	b.Shop = shop
	return s.act(ctx, id, by, at, b, nil)
}

// Told is a line of another shop, as it came over the chain.
type Told struct {
	Place uint64 // in the chain
	Shop  string // fingerprint of its key
	Name  string // what it is called here
	Line  record.Line
}

// Refused is a line a node did not take, with the reason.
type Refused struct {
	Told
	Why string
}

// Adopt takes lines of other shops into a node's file, in the order of the chain, with how far
// each has come, and the whole where that is not 0, all in one transaction. A line that is here
// already is passed over; one that does not follow its job, or differs from the one that is here,
// is refused and told.
func (s *Store) Adopt(ctx context.Context, lines []Told, whole uint64, now time.Time) (refused []Refused, err error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	err = s.again(ctx, func() error {
		a := adopting{store: s, g: s.grow(), ends: map[string]jobEnd{}, ids: map[eventOf]bool{}}
		for _, l := range lines {
			if err := a.line(ctx, l); err != nil {
				return err
			}
		}
		refused = a.refused
		return s.write(ctx, a.g, func(tx *sql.Tx) error { return a.beside(ctx, tx, lines, whole, now) })
	})
	if err == nil {
		for _, l := range lines {
			s.states.Remove(l.Line.Job)
		}
		s.lagging()
	}
	return refused, err
}

// jobEnd is how a job ends so far.
type jobEnd struct {
	seq        int
	hash, shop string
}

// adopting is a batch of lines on its way into the file.
type adopting struct {
	store   *Store
	g       *growth
	ends    map[string]jobEnd
	ids     map[eventOf]bool // of this batch
	begun   []begun
	refused []Refused
}

// eventOf names an event: ids are told apart within a job.
type eventOf struct{ job, id string }

// begun is a job that begins in the batch.
type begun struct {
	told    Told
	vehicle vehicle.Vehicle
}

func (a *adopting) refuse(l Told, format string, args ...any) {
	a.refused = append(a.refused, Refused{l, fmt.Sprintf(format, args...)})
}

func (a *adopting) end(ctx context.Context, job string) (jobEnd, error) {
	if e, ok := a.ends[job]; ok {
		return e, nil
	}
	var e jobEnd
	err := a.store.w.QueryRowContext(ctx, `SELECT e.seq, e.hash, coalesce(c.shop, '') FROM event e
		LEFT JOIN chain_job c ON c.job = e.job WHERE e.job = ? ORDER BY e.seq DESC LIMIT 1`, job).
		Scan(&e.seq, &e.hash, &e.shop)
	if errors.Is(err, sql.ErrNoRows) {
		err = nil
	}
	return e, err
}

// line puts one line at the end of its job, passes it over, or refuses it.
func (a *adopting) line(ctx context.Context, t Told) error {
	l := t.Line
	e, err := a.end(ctx, l.Job)
	if err != nil {
		return err
	}
	switch {
	case e.seq > 0 && e.shop != t.Shop:
		a.refuse(t, "job %s is of another shop", l.Job)
		return nil
	case l.Seq <= e.seq:
		return a.again(ctx, t)
	case l.Seq != e.seq+1:
		a.refuse(t, "event %d of job %s came before event %d", l.Seq, l.Job, e.seq+1)
		return nil
	case l.Sum(e.hash) != l.Hash:
		a.refuse(t, "event %d of job %s does not match its seal", l.Seq, l.Job)
		return nil
	}
	var other int
	err = a.store.w.QueryRowContext(ctx, `SELECT count(*) FROM event WHERE id = ? AND job = ?`, l.ID, l.Job).Scan(&other)
	if err != nil {
		return err
	}
	if other > 0 || a.ids[eventOf{l.Job, l.ID}] {
		a.refuse(t, "its id stands for another event of its job")
		return nil
	}
	if l.Seq == 1 && !a.begins(t) {
		return nil
	}
	a.g.event(l)
	a.ids[eventOf{l.Job, l.ID}] = true
	a.ends[l.Job] = jobEnd{seq: l.Seq, hash: l.Hash, shop: t.Shop}
	return nil
}

// begins notes the job that a line begins; one whose first line begins none is refused.
func (a *adopting) begins(t Told) bool {
	var b record.Started
	if t.Line.Kind != b.Kind() || json.Unmarshal(t.Line.Body, &b) != nil || b.Vehicle.ID == "" {
		a.refuse(t, "job %s does not begin with its start", t.Line.Job)
		return false
	}
	v := b.Vehicle
	a.begun = append(a.begun, begun{t, vehicle.Vehicle{
		ID:      v.ID,
		Fleet:   v.Fleet,
		Plate:   v.Plate,
		VIN:     v.VIN,
		Pattern: v.Pattern,
		Name:    v.Name,
	}})
	return true
}

// again passes over a line that is here already, and tells of one that differs.
func (a *adopting) again(ctx context.Context, t Told) error {
	if a.ids[eventOf{t.Line.Job, t.Line.ID}] {
		return nil
	}
	var hash string
	err := a.store.w.QueryRowContext(ctx, `SELECT hash FROM event WHERE job = ? AND seq = ?`, t.Line.Job, t.Line.Seq).
		Scan(&hash)
	if err == nil && hash != t.Line.Hash {
		a.refuse(t, "event %d of job %s is here and differs", t.Line.Seq, t.Line.Job)
	}
	return err
}

// beside writes what belongs to the lines: whose jobs they are, their vehicles, and the place.
func (a *adopting) beside(ctx context.Context, tx *sql.Tx, lines []Told, whole uint64, now time.Time) error {
	p := projecting{ctx: ctx, tx: tx}
	for _, b := range a.begun {
		p.exec(`INSERT OR IGNORE INTO chain_job VALUES (?,?)`, b.told.Line.Job, b.told.Shop)
		if p.err == nil {
			p.err = insertVehicle(ctx, tx, b.vehicle, `ON CONFLICT DO NOTHING`)
		}
		// Two shops may have painted the same number on two vehicles.
		b.vehicle.Fleet += " " + b.told.Shop[:min(4, len(b.told.Shop))]
		if p.err == nil {
			p.err = insertVehicle(ctx, tx, b.vehicle, `ON CONFLICT DO NOTHING`)
		}
	}
	of := map[string]uint64{}
	for _, l := range lines {
		p.exec(`INSERT OR REPLACE INTO chain_shop VALUES (?,?,?)`, l.Shop, l.Name, stamp(now))
		of[l.Shop] = l.Place
	}
	p.followed(ChainLines, whole, of)
	return p.err
}

// mostElsewhere is as much of a vehicle's past as a shop is told.
const mostElsewhere = 50

// PastOf lists what a node knows of a vehicle by its VIN, of every shop but one, the newest first.
func (s *Store) PastOf(ctx context.Context, vin, but string) ([]listing.Elsewhere, error) {
	if vin == "" {
		return nil, fault.New(fault.Missing, "vin", "The vehicle has no VIN.",
			"Enter it: other shops know the vehicle by it.")
	}
	if err := s.settle(ctx); err != nil {
		return nil, err
	}
	rows, err := s.r.QueryContext(ctx, `SELECT j.id, n.name FROM vehicle v JOIN job j ON j.vehicle = v.id
		JOIN chain_job c ON c.job = j.id JOIN chain_shop n ON n.shop = c.shop
		WHERE v.vin = ? AND c.shop <> ? AND j.broken = '' ORDER BY j.started DESC LIMIT ?`, vin, but, mostElsewhere)
	out, err := rowsOf(rows, err, func(scan scanner, e *listing.Elsewhere) error { return scan(&e.Job, &e.Shop) })
	if err != nil {
		return nil, err
	}
	for i := range out {
		st, err := s.Job(ctx, out[i].Job)
		if err != nil {
			return nil, err
		}
		out[i].Title, out[i].Started, out[i].OdometerKM = st.Title(), st.Started, st.OdometerKM
		out[i].Signed, out[i].Owed = st.Signature != nil, len(st.Owed())
		for _, f := range st.Findings {
			out[i].Findings = append(out[i].Findings, f.Says())
		}
		for _, d := range st.Dues() {
			if d.Closed == nil {
				out[i].FollowUps = append(out[i].FollowUps, d.Title)
			}
		}
	}
	return out, nil
}

// ChainShops lists the shops a node has heard of, by name.
func (s *Store) ChainShops(ctx context.Context) ([]listing.Shop, error) {
	rows, err := s.r.QueryContext(ctx, `SELECT n.shop, n.name, n.told, count(c.job) FROM chain_shop n
		LEFT JOIN chain_job c ON c.shop = n.shop GROUP BY n.shop ORDER BY n.name, n.shop`)
	return rowsOf(rows, err, func(scan scanner, x *listing.Shop) error {
		var told string
		if err := scan(&x.Shop, &x.Name, &told, &x.Jobs); err != nil {
			return err
		}
		x.Told, err = time.Parse(time.RFC3339Nano, told)
		return err
	})
}

// EventsEnd is the seal over all events of the file in their order: two files with the same
// end hold the same events.
func (s *Store) EventsEnd(ctx context.Context) (n int, link string, err error) {
	h, err := trueHead(ctx, s.r)
	return h.events, h.eventLink, err
}
