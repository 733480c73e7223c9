package store

import (
	"cmp"
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"time"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/plan"
	"lugtak/core/record"
	"lugtak/core/vehicle"
)

// loaded is a job's newest state with the seal of its last event.
type loaded struct {
	state *job.State
	hash  string
}

// ErrNoJob is returned for a job that is not in the file.
var ErrNoJob = fault.New(fault.NotFound, "job", "There is no such job.", "Go back to the bays and choose one.")

// Job gives the newest state of a job, to be read only. A job whose seals do not hold,
// or that cannot be read to its end, comes as far as it goes and says so: Broken.
func (s *Store) Job(ctx context.Context, id string) (*job.State, error) {
	var seq int
	err := s.headOf.QueryRowContext(ctx, id).Scan(&seq)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, ErrNoJob
	}
	if err != nil {
		return nil, err
	}
	if l, ok := s.states.Get(id); ok && (l.state.Seq >= seq || l.state.Broken != "") {
		return l.state, nil
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	l, err := s.load(ctx, id, seq)
	if err != nil {
		return nil, err
	}
	return l.state, nil
}

// load reads and proves a job up to an event; the caller holds the lock.
func (s *Store) load(ctx context.Context, id string, seq int) (*loaded, error) {
	if l, ok := s.states.Get(id); ok && l.state.Seq >= seq {
		return l, nil
	}
	lines, err := readLines(ctx, s.lines, id)
	if err != nil {
		return nil, err
	}
	if len(lines) == 0 {
		return nil, ErrNoJob
	}
	l := &loaded{hash: lines[len(lines)-1].Hash}
	l.state, err = prove(id, lines)
	if err != nil {
		l.state.Broken = whyBroken(err)
		l.state.ID = id
		if l.state.Plan == nil {
			l.state.Plan = &plan.Plan{} // pages show what there is: nothing
		}
	}
	s.states.Add(id, l)
	return l, nil
}

// whyBroken says why nobody goes on from a job.
func whyBroken(err error) string {
	if errors.Is(err, errUnread) {
		return "This program cannot read the record of this job: " + err.Error()
	}
	return "The record of this job is not the one that was sealed: " + err.Error()
}

const selectLines = `SELECT id, job, seq, at, by, kind, v, ask, body, hash, sent FROM event WHERE job = ? ORDER BY seq`

// readLines reads a job's lines as they stand in the file.
func readLines(ctx context.Context, lines *sql.Stmt, id string) ([]record.Line, error) {
	rows, err := lines.QueryContext(ctx, id)
	return rowsOf(rows, err, func(scan scanner, l *record.Line) error {
		var body sql.RawBytes
		if err := scan(&l.ID, &l.Job, &l.Seq, &l.At, &l.By, &l.Kind, &l.V, &l.Ask, &body, &l.Hash, &l.Sent); err != nil {
			return err
		}
		l.Body = json.RawMessage(append([]byte(nil), body...))
		return nil
	})
}

// prove checks a job's seals and adds its events up. With an error comes the state as
// far as it could be proved.
func prove(id string, lines []record.Line) (st *job.State, err error) {
	journal := make([]job.Event, 0, len(lines))
	prev := ""
	for i, l := range lines {
		if l.Job != id || l.Seq != i+1 {
			err = fmt.Errorf("event %d does not follow the one before it", i+1)
			break
		}
		if l.Sum(prev) != l.Hash {
			err = fmt.Errorf("event %d does not match its seal", i+1)
			break
		}
		prev = l.Hash
		e, bad := l.Event()
		if bad != nil {
			err = fmt.Errorf("event %d cannot be read: %w", i+1, bad)
			break
		}
		journal = append(journal, e)
	}
	st, bad := replay(journal)
	if err == nil {
		err = bad
	}
	return st, err
}

// errUnread: the seals of a journal hold, and this program fails to add it up. That is the
// program's own fault, and says nothing against the record.
var errUnread = errors.New("its seals hold, and this program cannot add it up")

// replay adds events up guardedly: one whose seal is right may still speak of what this program
// does not know. With an error comes the state as far as it goes.
func replay(journal []job.Event) (st *job.State, err error) {
	st = job.Replay(nil)
	defer func() {
		if r := recover(); r != nil {
			err = fmt.Errorf("%w: it stops at event %d (%v)", errUnread, st.Seq+1, r)
		}
	}()
	if whole, ok := quickly(journal); ok {
		return whole, nil
	}
	for _, e := range journal {
		st = job.Apply(st, e)
	}
	return st, nil
}

// quickly adds events up at once, which works for every sound journal.
func quickly(journal []job.Event) (st *job.State, ok bool) {
	defer func() {
		if recover() != nil {
			ok = false
		}
	}()
	return job.Replay(journal), true
}

// Record decides on a command and, if it is allowed, appends what follows from it.
// When it returns without an error the record is on the disk. The events are empty for
// a command recorded before.
func (s *Store) Record(ctx context.Context, id string, m job.Meta, cmd job.Command) (*job.State, []job.Event, error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	m.At = m.At.UTC().Truncate(time.Millisecond)
	m.Sent = m.Sent.UTC().Truncate(time.Millisecond)
	var st *job.State
	var events []job.Event
	err := s.again(ctx, func() error {
		l, err := s.current(ctx, id, cmd)
		if err != nil {
			return err
		}
		st = l.state
		if events, err = job.Decide(st, m, cmd); err != nil || len(events) == 0 {
			return err
		}
		for _, e := range events {
			if err := s.idElsewhere(ctx, e.ID, m.By, id); err != nil {
				return err
			}
		}
		g := s.grow()
		next := &loaded{}
		if next.hash, err = g.seal(l.hash, events); err != nil {
			return err
		}
		next.state = apply(st, events)
		told := telling{store: s, g: g}
		if next, err = told.overtaken(ctx, next, events); err != nil {
			return err
		}
		if err := s.write(ctx, g, nil); err != nil {
			return err
		}
		st = next.state
		s.states.Add(id, next)
		return nil
	})
	if err != nil {
		return st, nil, err
	}
	if len(events) > 0 {
		s.lagging()
	}
	return st, events, nil
}

// current is a job as it stands; one that is not there is begun by its start alone.
func (s *Store) current(ctx context.Context, id string, cmd job.Command) (*loaded, error) {
	l, err := s.load(ctx, id, 0)
	if _, starts := cmd.(job.Start); starts && errors.Is(err, ErrNoJob) {
		return &loaded{state: job.Replay(nil)}, nil
	}
	return l, err
}

func apply(st *job.State, events []job.Event) *job.State {
	for _, e := range events {
		st = job.Apply(st, e)
	}
	return st
}

// seal seals events behind a job's last one.
func (g *growth) seal(hash string, events []job.Event) (last string, err error) {
	for _, e := range events {
		line, err := record.Seal(hash, e)
		if err != nil {
			return hash, err
		}
		g.event(line)
		hash = line.Hash
	}
	return hash, nil
}

// idElsewhere refuses an id that stands for something in another job. Jobs of other shops, at a
// node of a chain, may have it; none of those is written to.
func (s *Store) idElsewhere(ctx context.Context, event record.EventID, sender, id string) error {
	var other, kind, by string
	err := s.idOf.QueryRowContext(ctx, event, id).Scan(&other, &kind, &by)
	if errors.Is(err, sql.ErrNoRows) {
		return nil
	}
	if err != nil {
		return err
	}
	return fault.New(fault.Conflict, "id",
		fmt.Sprintf("This id stands for “%s” by %s in job %s; what %s sends now is for job %s.",
			kind, by, other, sender, id),
		"Reload the page and do it again.")
}

// Correct records a corrected figure of a sheet: see CorrectAll.
func (s *Store) Correct(ctx context.Context, id record.EventID, c vehicle.Correction) error {
	return s.CorrectAll(ctx, id, []vehicle.Correction{c})
}

// CorrectAll records corrected figures of one person and tells every open job that uses one, all
// in one transaction: a gate stands there until somebody takes the new figure or refuses it.
// Nothing stands on the sheet that a job was not told, and no job that refuses keeps it from
// the others.
func (s *Store) CorrectAll(ctx context.Context, id record.EventID, all []vehicle.Correction) error {
	if len(all) == 0 {
		return nil
	}
	for _, c := range all {
		if c.Second != "" && SameName(c.By, c.Second) {
			return fault.New(fault.BadChoice, "second", "The second person is another person.",
				"Have a colleague enter name and PIN.")
		}
	}
	return s.actAndTell(ctx, id, all[0].By, corrected(all[0]), func(g *growth, told *telling) error {
		for i, c := range all {
			act := id
			if i > 0 {
				act = id.And(i)
			}
			if err := g.act(act, c.By, c.At, corrected(c)); err != nil {
				return err
			}
			if err := told.all(ctx, c.Pattern, struck(c, act)); err != nil {
				return err
			}
		}
		return nil
	})
}

// actAndTell records acts and tells the open jobs of them, all or none. The same act under an id known already is
// harmless.
func (s *Store) actAndTell(
	ctx context.Context, id record.EventID, by string, body record.ShopBody, do func(*growth, *telling) error,
) error {
	if err := s.settle(ctx); err != nil {
		return err
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	repeat, err := s.actedBefore(ctx, id, by, body)
	if err != nil || repeat {
		return err
	}
	return s.again(ctx, func() error {
		g := s.grow()
		told := telling{store: s, g: g, jobs: map[string]*loaded{}}
		if err := do(g, &told); err != nil {
			return err
		}
		if err := s.write(ctx, g, nil); err != nil {
			return err
		}
		for id, l := range told.jobs {
			s.states.Add(id, l)
		}
		s.lagging()
		return nil
	})
}

func corrected(c vehicle.Correction) record.FigureCorrected {
	return record.FigureCorrected{
		Pattern: c.Pattern,
		Joint:   c.Joint,
		Recipe:  c.Recipe,
		Source:  c.Source,
		Why:     c.Why,
		Second:  c.Second,
		Shop:    c.Shop,
		Variant: c.Variant,
	}
}

// telling tells jobs what became of figures they use.
type telling struct {
	store *Store
	g     *growth
	jobs  map[string]*loaded // as they stand with what was told
}

// tidings are what jobs are told of one act: a command for each joint that uses the figure of one of a sheet.
type tidings struct {
	act   string
	joint string // of the sheet
	by    string
	at    time.Time
	tell  func(joint string) job.Command
}

// struck are the tidings of a corrected figure.
func struck(c vehicle.Correction, act record.EventID) tidings {
	return tidings{string(act), c.Joint, c.By, c.At, func(joint string) job.Command {
		return job.StrikeFigure{Joint: joint, Correction: c, Act: string(act)}
	}}
}

// stand are the tidings of what the readings of a joint come to by the last of them.
func stand(readings []vehicle.Reading, acts []record.EventID) tidings {
	last := readings[len(readings)-1]
	act := string(acts[len(acts)-1])
	now := vehicle.Stand(readings)
	return tidings{act, last.Joint, last.By, last.At, func(joint string) job.Command {
		return job.TakeFigure{Joint: joint, Standing: now, Act: act}
	}}
}

// all tells the open jobs of a pattern.
func (t *telling) all(ctx context.Context, pattern string, news tidings) error {
	jobs, err := t.store.openOf(ctx, pattern)
	if err != nil {
		return err
	}
	for _, id := range jobs {
		l := t.jobs[id]
		if l == nil {
			if l, err = t.store.load(ctx, id, 0); err != nil {
				return err
			}
		}
		if l, err = t.job(l, news); err != nil {
			return err
		}
		t.jobs[id] = l
	}
	return nil
}

// job tells one job, and gives it as it stands then. A job that takes nothing more, as one that
// does not hold, is left alone.
func (t *telling) job(l *loaded, news tidings) (*loaded, error) {
	for _, joint := range l.state.Uses(news.joint) {
		m := job.Meta{
			ID:   record.EventID(sha(news.act + l.state.ID + joint)),
			By:   news.by,
			Role: job.Technician,
			At:   news.at,
		}
		if m.At.Before(l.state.Last) { // it comes from another shop, where it was struck before
			m.At = l.state.Last
		}
		events, err := job.Decide(l.state, m, news.tell(joint))
		if fault.As(err) != nil {
			continue
		}
		if err != nil {
			return nil, err
		}
		next := &loaded{}
		if next.hash, err = t.g.seal(l.hash, events); err != nil {
			return nil, err
		}
		next.state = apply(l.state, events)
		l = next
	}
	return l, nil
}

// overtaken tells a job whose plan was just made of figures that were read or corrected while it was
// being made.
func (t *telling) overtaken(ctx context.Context, l *loaded, events []job.Event) (*loaded, error) {
	planned := slices.ContainsFunc(events, func(e job.Event) bool {
		switch e.Body.(type) {
		case record.Started, record.Planned, record.Reworked:
			return true
		}
		return false
	})
	if !planned || !l.state.HasPlan() {
		return l, nil
	}
	var news []tidings
	if err := t.store.known(ctx, func(sh *shop) { news = sh.tidings(l.state.Vehicle.Pattern) }); err != nil {
		return nil, err
	}
	var err error
	for _, n := range news {
		if l, err = t.job(l, n); err != nil {
			return nil, err
		}
	}
	return l, nil
}

// tidings are what a job of a sheet would have been told: what its readings come to, and the last correction
// of each figure.
func (sh *shop) tidings(sheet string) []tidings {
	type place struct{ joint, variant string }
	news := map[place]tidings{}
	read := sh.readings[sheet]
	for joint, all := range read.byJoint() {
		news[place{joint, ""}] = stand(all.readings, all.acts)
	}
	for i, c := range sh.figures {
		if c.Pattern == sheet {
			news[place{c.Joint, c.Variant}] = struck(c, sh.figureActs[i])
		}
	}
	var out []tidings
	for _, at := range slices.SortedFunc(maps.Keys(news), func(a, b place) int {
		return cmp.Or(cmp.Compare(a.joint, b.joint), cmp.Compare(a.variant, b.variant))
	}) {
		out = append(out, news[at])
	}
	return out
}

// Trace reads the samples of one recorded pull: seconds, degrees, N·m.
func (s *Store) Trace(ctx context.Context, jobID, event string) ([][3]float64, error) {
	var p record.Pulled
	err := s.body(ctx, jobID, event, p.Kind(), &p)
	return p.Trace, err
}

// Photo reads the photograph of a finding; nil where it has none.
func (s *Store) Photo(ctx context.Context, jobID, event string) ([]byte, error) {
	var f record.Found
	if err := s.body(ctx, jobID, event, f.Kind(), &f); err != nil || f.Photo != nil {
		return f.Photo, err
	}
	var p record.Photographed
	err := s.body(ctx, jobID, event, p.Kind(), &p)
	return p.Photo, err
}

// mostBefore is how many photographs of a place are shown of the jobs before.
const mostBefore = 3

// PhotosBefore are the newest photographs of a place of a vehicle from its jobs other than one.
func (s *Store) PhotosBefore(ctx context.Context, vehicle, place, jobID string) (out []job.Photo, err error) {
	rows, err := s.r.QueryContext(ctx, `SELECT job, event, at, by FROM photograph
		WHERE vehicle = ? AND place = ? AND job <> ? ORDER BY at DESC LIMIT ?`, vehicle, place, jobID, mostBefore)
	err = eachRow(rows, err, func(scan scanner) error {
		x := job.Photo{Place: place}
		var at string
		if err := scan(&x.Job, &x.ID, &at, &x.By); err != nil {
			return err
		}
		if x.At, err = time.Parse(time.RFC3339Nano, at); err != nil {
			return err
		}
		out = append(out, x)
		return nil
	})
	return out, err
}

// body reads the body of one event of a job and kind; what is not there stays empty.
func (s *Store) body(ctx context.Context, jobID, event string, kind record.Kind, into any) error {
	var text []byte
	err := s.r.QueryRowContext(ctx, `SELECT body FROM event WHERE id = ? AND job = ? AND kind = ?`, event, jobID, kind).
		Scan(&text)
	if errors.Is(err, sql.ErrNoRows) {
		return nil
	}
	if err != nil {
		return err
	}
	return json.Unmarshal(text, into)
}
