// Package store keeps the shop in one SQLite file: the journal, what is read
// from it, people and vehicles.
package store

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"embed"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"net/url"
	"os"
	"sync"
	"time"

	"github.com/pressly/goose/v3"
	_ "modernc.org/sqlite" // the driver

	"lugtak/core/fault"
	"lugtak/core/job"
)

//go:embed migrations/*.sql
var migrations embed.FS

// Store is the shop's file. One connection writes, a pool reads.
type Store struct {
	w, r *sql.DB

	insert, project *sql.Stmt
	headOf, linkOf  *sql.Stmt
	sessionOf       *sql.Stmt

	mu   sync.Mutex // one writer at a time
	jobs sync.Map   // job id → *job.State, the newest
	head map[string]string
	link string // head of the chain over all rows, as last seen

	pulls map[string]int // by tool, nil until asked for
}

// Open opens or makes the file and brings it up to date.
func Open(ctx context.Context, path string) (*Store, error) {
	q := url.Values{"_pragma": {"busy_timeout(5000)", "journal_mode(WAL)", "synchronous(FULL)", "foreign_keys(1)"}, "_time_format": {"sqlite"}, "_txlock": {"immediate"}}
	w, err := sql.Open("sqlite", "file:"+url.PathEscape(path)+"?"+q.Encode())
	if err != nil {
		return nil, err
	}
	w.SetMaxOpenConns(1)
	sub, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, err
	}
	p, err := goose.NewProvider(goose.DialectSQLite3, w, sub, goose.WithVerbose(false))
	if err == nil {
		_, err = p.Up(ctx)
	}
	if err != nil {
		w.Close()
		return nil, fmt.Errorf("the file %s cannot be used: %w", path, err)
	}
	r, err := openReader(path)
	if err != nil {
		w.Close()
		return nil, err
	}
	s := &Store{w: w, r: r, head: map[string]string{}}
	for stmt, text := range map[**sql.Stmt]string{
		&s.insert: `INSERT INTO event (id, job, seq, at, by, kind, body, hash, link) SELECT ?,?,?,?,?,?,?,?,?
			WHERE COALESCE((SELECT link FROM event ORDER BY n DESC LIMIT 1), '') = ?`,
		&s.linkOf: `SELECT link FROM event ORDER BY n DESC LIMIT 1`,
		&s.project: `INSERT INTO job (id, vehicle, title, owed, signed, started) VALUES (?,?,?,?,?,?)
			ON CONFLICT (id) DO UPDATE SET title = excluded.title, owed = excluded.owed, signed = excluded.signed`,
	} {
		if *stmt, err = w.PrepareContext(ctx, text); err != nil {
			s.Close()
			return nil, err
		}
	}
	for stmt, text := range map[**sql.Stmt]string{
		&s.headOf:    `SELECT seq FROM event WHERE job = ? ORDER BY seq DESC LIMIT 1`,
		&s.sessionOf: selectSession,
	} {
		if *stmt, err = r.PrepareContext(ctx, text); err != nil {
			s.Close()
			return nil, err
		}
	}
	return s, nil
}

// errMoved: another process has written to the journal since this one looked.
var errMoved = errors.New("the journal has grown meanwhile")

// lastLink reads the head of the chain over all rows.
func (s *Store) lastLink(ctx context.Context) error {
	s.link = ""
	err := s.linkOf.QueryRowContext(ctx).Scan(&s.link)
	if errors.Is(err, sql.ErrNoRows) {
		return nil
	}
	return err
}

// write puts one sealed event behind the row whose link is given, and only
// there, and returns its own link.
func (s *Store) write(ctx context.Context, insert *sql.Stmt, r Sealed, link string) (string, error) {
	next := chain(link, r.Hash)
	res, err := insert.ExecContext(ctx, r.ID, r.Job, r.Seq, r.At, r.By, r.Kind, string(r.Body), r.Hash, next, link)
	if err != nil {
		return "", err
	}
	if n, err := res.RowsAffected(); err != nil || n != 1 {
		return "", errors.Join(errMoved, err)
	}
	return next, nil
}

// again does what writes to the journal, and once more from its true end if
// another process has gone on from there. The caller holds the lock.
func (s *Store) again(ctx context.Context, do func() error) error {
	err := do()
	if errors.Is(err, errMoved) {
		if err = s.lastLink(ctx); err == nil {
			err = do()
		}
	}
	return err
}

func openReader(path string) (*sql.DB, error) {
	q := url.Values{"mode": {"ro"}, "_pragma": {"busy_timeout(5000)", "query_only(1)"}, "_time_format": {"sqlite"}}
	r, err := sql.Open("sqlite", "file:"+url.PathEscape(path)+"?"+q.Encode())
	if err != nil {
		return nil, err
	}
	r.SetMaxOpenConns(4)
	r.SetMaxIdleConns(4)
	return r, nil
}

// Close lets go of the file.
func (s *Store) Close() error { return errors.Join(s.r.Close(), s.w.Close()) }

// ErrNoJob is returned for a job that is not in the file.
var ErrNoJob = fault.New("not_found", "job", "There is no such job.", "Go back to the bays and choose one.")

// Job gives the newest state of a job, to be read only.
func (s *Store) Job(ctx context.Context, id string) (*job.State, error) {
	var seq int
	if err := s.headOf.QueryRowContext(ctx, id).Scan(&seq); err != nil {
		if errors.Is(err, sql.ErrNoRows) {
			return nil, ErrNoJob
		}
		return nil, err
	}
	if st, ok := s.jobs.Load(id); ok && st.(*job.State).Seq >= seq {
		return st.(*job.State), nil
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.load(ctx, id)
}

// load replays a job; the caller holds the lock.
func (s *Store) load(ctx context.Context, id string) (*job.State, error) {
	if st, ok := s.jobs.Load(id); ok {
		return st.(*job.State), nil
	}
	f, err := s.Journal(ctx, id)
	if err != nil {
		return nil, err
	}
	st := job.Replay(f.events())
	s.head[id] = f.Events[len(f.Events)-1].Hash
	s.jobs.Store(id, st)
	return st, nil
}

// Record decides on a command and, if it is allowed, appends what follows from
// it. When it returns without an error the record is on the disk. The events
// are empty for a command recorded before.
func (s *Store) Record(ctx context.Context, id string, m job.Meta, cmd job.Command) (*job.State, []job.Event, error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	st, err := s.load(ctx, id)
	if errors.Is(err, ErrNoJob) {
		if _, starts := cmd.(job.Started); !starts {
			return nil, nil, err
		}
		st = job.Replay(nil)
	} else if err != nil {
		return nil, nil, err
	}
	m.At = m.At.UTC().Truncate(time.Millisecond)
	events, err := job.Decide(st, m, cmd)
	if err != nil || len(events) == 0 {
		return st, nil, err
	}
	before := st
	for _, e := range events {
		st = job.Apply(st, e)
	}
	if err := s.again(ctx, func() error { return s.append(ctx, id, before, st, events) }); err != nil {
		return nil, nil, err
	}
	s.countPulls(events)
	return st, events, nil
}

// append writes events, and what the lists read of them where that changed, in
// one transaction: a lone event is one by itself.
func (s *Store) append(ctx context.Context, id string, before, st *job.State, events []job.Event) error {
	head, link, insert := s.head[id], s.link, s.insert
	var tx *sql.Tx
	if len(events) > 1 || before.Plan == nil || listed(before) != listed(st) {
		var err error
		if tx, err = s.w.BeginTx(ctx, nil); err != nil {
			return err
		}
		defer tx.Rollback()
		insert = tx.StmtContext(ctx, s.insert)
	}
	for _, e := range events {
		rec, err := seal(head, e)
		if err != nil {
			return err
		}
		head = rec.Hash
		if link, err = s.write(ctx, insert, rec, link); err != nil {
			return err
		}
	}
	if tx != nil {
		if err := s.projectJob(ctx, tx, st); err != nil {
			return err
		}
		if err := tx.Commit(); err != nil {
			return err
		}
	}
	s.head[id], s.link = head, link
	s.jobs.Store(id, st)
	return nil
}

// row is what of a job's list row can change.
type row struct {
	owed, signed int
	title        string
}

func listed(st *job.State) row {
	r := row{owed: len(st.Owed()), title: st.Title()}
	if st.Signature != nil {
		r.signed = 1
	}
	return r
}

func (s *Store) projectJob(ctx context.Context, tx *sql.Tx, st *job.State) error {
	r := listed(st)
	_, err := tx.StmtContext(ctx, s.project).ExecContext(ctx, st.ID, st.Vehicle.ID, st.Title(), r.owed, r.signed, stamp(st.Started))
	return err
}

func stamp(t time.Time) string { return t.UTC().Format(time.RFC3339Nano) }

// Sealed is an event as it stands in the journal and in a job file.
type Sealed struct {
	ID   string          `json:"id"`
	Job  string          `json:"job"`
	Seq  int             `json:"seq"`
	At   string          `json:"at"`
	By   string          `json:"by"`
	Kind string          `json:"kind"`
	Body json.RawMessage `json:"body"`
	Hash string          `json:"hash"`
}

func seal(prev string, e job.Event) (Sealed, error) {
	body, err := json.Marshal(e.Body)
	if err != nil {
		return Sealed{}, err
	}
	r := Sealed{ID: e.ID, Job: e.Job, Seq: e.Seq, At: stamp(e.At), By: e.By, Kind: e.Kind, Body: body}
	r.Hash = r.sum(prev)
	return r, nil
}

// sum is the SHA-256 of the event's fields behind the hash before it.
func (r Sealed) sum(prev string) string {
	text, _ := json.Marshal([]any{prev, r.ID, r.Job, r.Seq, r.At, r.By, r.Kind, string(r.Body)})
	h := sha256.Sum256(text)
	return hex.EncodeToString(h[:])
}

func chain(link, hash string) string {
	h := sha256.Sum256([]byte(link + hash))
	return hex.EncodeToString(h[:])
}

func (r Sealed) event() (job.Event, error) {
	body, err := job.DecodeBody(r.Kind, r.Body)
	if err != nil {
		return job.Event{}, err
	}
	at, err := time.Parse(time.RFC3339Nano, r.At)
	return job.Event{ID: r.ID, Job: r.Job, Seq: r.Seq, At: at, By: r.By, Kind: r.Kind, Body: body}, err
}

// Row is a job as the lists show it.
type Row struct {
	ID, Vehicle, Title string
	Owed               int
	Signed             bool
	Started            time.Time
}

// Jobs lists jobs, newest first: the open ones, or up to limit signed ones.
func (s *Store) Jobs(ctx context.Context, signed bool, limit int) ([]Row, error) {
	rows, err := s.r.QueryContext(ctx, `SELECT id, vehicle, title, owed, signed, started FROM job WHERE signed = ? ORDER BY started DESC LIMIT ?`, signed, limit)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	var out []Row
	for rows.Next() {
		var r Row
		var at string
		if err := rows.Scan(&r.ID, &r.Vehicle, &r.Title, &r.Owed, &r.Signed, &at); err != nil {
			return nil, err
		}
		if r.Started, err = time.Parse(time.RFC3339Nano, at); err != nil {
			return nil, err
		}
		out = append(out, r)
	}
	return out, rows.Err()
}

// Backup makes a consistent copy while others read and write. It refuses to
// write over a file.
func Backup(ctx context.Context, from, to string) error {
	if _, err := os.Stat(from); err != nil {
		return fmt.Errorf("there is no shop file %s", from)
	}
	if _, err := os.Stat(to); err == nil {
		return fmt.Errorf("%s exists already: name a new file", to)
	}
	q := url.Values{"mode": {"ro"}, "_pragma": {"busy_timeout(5000)"}}
	r, err := sql.Open("sqlite", "file:"+url.PathEscape(from)+"?"+q.Encode())
	if err != nil {
		return err
	}
	defer r.Close()
	_, err = r.ExecContext(ctx, `VACUUM INTO ?`, to)
	return err
}
