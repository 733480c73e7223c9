package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
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
var ErrNoJob = fault.New("not_found", "job", "There is no such job.", "Go back to the bays and choose one.")

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
		l.state.Broken = err.Error()
		l.state.ID = id
		if l.state.Plan == nil {
			l.state.Plan = &plan.Plan{} // pages show what there is: nothing
		}
	}
	s.states.Add(id, l)
	return l, nil
}

const selectLines = `SELECT id, job, seq, at, by, kind, v, ask, body, hash, sent FROM event WHERE job = ? ORDER BY seq`

// readLines reads a job's lines as they stand in the file.
func readLines(ctx context.Context, lines *sql.Stmt, id string) ([]record.Line, error) {
	rows, err := lines.QueryContext(ctx, id)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	var out []record.Line
	for rows.Next() {
		var l record.Line
		var body sql.RawBytes
		if err := rows.Scan(&l.ID, &l.Job, &l.Seq, &l.At, &l.By, &l.Kind, &l.V, &l.Ask, &body, &l.Hash, &l.Sent); err != nil {
			return nil, err
		}
		l.Body = json.RawMessage(append([]byte(nil), body...))
		out = append(out, l)
	}
	return out, rows.Err()
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

// replay adds events up guardedly: one whose seal is right may still speak of steps its
// plan does not have. With an error comes the state as far as it goes.
func replay(journal []job.Event) (st *job.State, err error) {
	st = job.Replay(nil)
	defer func() {
		if r := recover(); r != nil {
			err = fmt.Errorf("event %d does not fit the plan before it", st.Seq+1)
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
		g := s.grow()
		next := &loaded{}
		if next.hash, err = g.seal(l.hash, events); err != nil {
			return err
		}
		next.state = apply(st, events)
		if err := s.write(ctx, g, nil); err != nil {
			return s.taken(ctx, m, id, err)
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

// taken explains an id that is in the file already, in another job.
func (s *Store) taken(ctx context.Context, m job.Meta, id string, err error) error {
	if !unique(err) {
		return err
	}
	var other, kind, by string
	bad := s.r.QueryRowContext(ctx, `SELECT job, kind, by FROM event WHERE id = ?`, m.ID).Scan(&other, &kind, &by)
	if bad != nil || other == id {
		return err
	}
	return fault.New(job.CodeConflict, "id",
		fmt.Sprintf("This id stands for “%s” by %s in job %s; what %s sends now is for job %s.",
			kind, by, other, m.By, id),
		"Reload the page and do it again.")
}

// Correct records a corrected figure of a sheet, and tells every open job that uses
// it: a gate stands there until somebody takes the new figure or refuses it.
func (s *Store) Correct(ctx context.Context, id string, c vehicle.Correction) error {
	return s.CorrectAll(ctx, id, []vehicle.Correction{c})
}

// CorrectAll records corrected figures of one person, all or none, and tells the open jobs.
func (s *Store) CorrectAll(ctx context.Context, id string, all []vehicle.Correction) error {
	if len(all) == 0 {
		return nil
	}
	if err := s.settle(ctx); err != nil {
		return err
	}
	ids := []string{id}
	var rest []beside
	for i, c := range all[1:] {
		ids = append(ids, fmt.Sprint(id, ":", i+1))
		rest = append(rest, beside{ids[i+1], corrected(c)})
	}
	if err := s.act(ctx, id, all[0].By, all[0].At, corrected(all[0]), nil, rest...); err != nil {
		return err
	}
	for i, c := range all {
		if err := s.tellJobs(ctx, ids[i], c); err != nil {
			return err
		}
	}
	return nil
}

func corrected(c vehicle.Correction) record.FigureCorrected {
	return record.FigureCorrected{
		Pattern: c.Pattern,
		Joint:   c.Joint,
		Recipe:  c.Recipe,
		Source:  c.Source,
		Why:     c.Why,
		Second:  c.Second,
	}
}

// tellJobs raises the gate of a corrected figure in the open jobs of a pattern. Each
// record has an id of its own, so that doing it twice does no harm.
func (s *Store) tellJobs(ctx context.Context, act string, c vehicle.Correction) error {
	jobs, err := s.openOf(ctx, c.Pattern)
	if err != nil {
		return err
	}
	for _, id := range jobs {
		st, err := s.Job(ctx, id)
		if err != nil {
			return err
		}
		for _, joint := range st.Uses(c.Joint) {
			m := job.Meta{ID: sha(act + id + joint), By: c.By, Role: job.Technician, At: c.At}
			strike := job.StrikeFigure{Joint: joint, Correction: c, Act: act}
			if _, _, err := s.Record(ctx, id, m, strike); err != nil {
				return err
			}
		}
	}
	return nil
}

// Trace reads the samples of one recorded pull: seconds, degrees, N·m.
func (s *Store) Trace(ctx context.Context, event string) ([][3]float64, error) {
	var p record.Pulled
	err := s.body(ctx, event, p.Kind(), &p)
	return p.Trace, err
}

// Photo reads the photograph of a finding; nil where it has none.
func (s *Store) Photo(ctx context.Context, jobID, event string) ([]byte, error) {
	var f record.Found
	var of string
	err := s.r.QueryRowContext(ctx, `SELECT job FROM event WHERE id = ?`, event).Scan(&of)
	if errors.Is(err, sql.ErrNoRows) || of != jobID {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	err = s.body(ctx, event, f.Kind(), &f)
	return f.Photo, err
}

// body reads the body of one event of a kind; what is not there stays empty.
func (s *Store) body(ctx context.Context, event string, kind record.Kind, into any) error {
	var text []byte
	err := s.r.QueryRowContext(ctx, `SELECT body FROM event WHERE id = ? AND kind = ?`, event, kind).Scan(&text)
	if errors.Is(err, sql.ErrNoRows) {
		return nil
	}
	if err != nil {
		return err
	}
	return json.Unmarshal(text, into)
}
