// Package store keeps the shop in one SQLite file: the journals of its jobs and of the
// shop itself, what is read from them, people and vehicles. The key that signs how the
// journals end lies beside the file.
package store

import (
	"context"
	"crypto/ed25519"
	"crypto/sha256"
	"database/sql"
	"embed"
	"encoding/hex"
	"errors"
	"fmt"
	"io/fs"
	"net/url"
	"sync"
	"time"

	lru "github.com/hashicorp/golang-lru/v2"
	"github.com/pressly/goose/v3"
	"modernc.org/sqlite"
	codes "modernc.org/sqlite/lib"

	"lugtak/core/record"
)

//go:embed migrations/*.sql
var migrations embed.FS

// adoptVersion is the migration that is written in Go: see adopt.
const adoptVersion = 6

// openStates is how many jobs' states are kept at hand: more than a shop works on in a
// day, and few enough for a small machine.
const openStates = 400

// Store is the shop's file. One connection writes, a pool reads.
type Store struct {
	path string
	w, r *sql.DB
	key  ed25519.PrivateKey

	sealing         *sql.Stmt
	headOf, lastAct *sql.Stmt
	idOf            *sql.Stmt // the job of another event with an id
	lines           *sql.Stmt
	sessionOf       *sql.Stmt

	mu     sync.Mutex // one writer at a time
	states *lru.Cache[string, *loaded]
	head   head // how both journals end, as last seen

	shopMu sync.Mutex
	shop   *shop

	projectMu sync.Mutex
	behind    chan struct{} // there is something to project
	closing   context.CancelFunc
	projector sync.WaitGroup
}

// Open opens or makes the file, brings it up to date and proves how its journals end.
func Open(ctx context.Context, path string) (*Store, error) {
	s, err := openFile(ctx, path)
	if err != nil {
		return nil, err
	}
	if err := s.takeKey(ctx, path); err != nil {
		s.Close()
		return nil, err
	}
	if s.head, err = trueHead(ctx, s.w); err != nil {
		s.Close()
		return nil, err
	}
	s.projectInBackground()
	s.lagging() // what was recorded before a stop is listed soon
	return s, nil
}

// openFile opens the file and brings it up to date.
func openFile(ctx context.Context, path string) (*Store, error) {
	if err := makePrivate(path); err != nil {
		return nil, fmt.Errorf("the file %s cannot be used: %w", path, err)
	}
	w, err := sql.Open("sqlite", source(path, url.Values{
		"_pragma":      {"busy_timeout(5000)", "journal_mode(WAL)", "synchronous(FULL)", "foreign_keys(1)"},
		"_time_format": {"sqlite"},
		"_txlock":      {"immediate"},
	}))
	if err != nil {
		return nil, err
	}
	w.SetMaxOpenConns(1)
	if err := migrate(ctx, w, path); err != nil {
		w.Close()
		return nil, fmt.Errorf("the file %s cannot be used: %w", path, err)
	}
	r, err := openReader(path)
	if err != nil {
		w.Close()
		return nil, err
	}
	states, err := lru.New[string, *loaded](openStates)
	if err != nil {
		return nil, err
	}
	s := &Store{path: path, w: w, r: r, states: states, shop: newShop(), behind: make(chan struct{}, 1)}
	if err := s.prepare(ctx); err != nil {
		s.Close()
		return nil, err
	}
	return s, nil
}

func source(path string, q url.Values) string {
	return "file:" + url.PathEscape(path) + "?" + q.Encode()
}

func migrate(ctx context.Context, w *sql.DB, path string) error {
	sub, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	inGo := goose.NewGoMigration(adoptVersion, &goose.GoFunc{RunTx: adopt}, nil)
	p, err := goose.NewProvider(goose.DialectSQLite3, w, sub, goose.WithVerbose(false), goose.WithGoMigrations(inGo))
	if err != nil {
		return err
	}
	if err := upToDate(ctx, w, p, path); err != nil {
		return err
	}
	_, err = p.Up(ctx)
	return err
}

func (s *Store) prepare(ctx context.Context) error {
	for _, x := range []struct {
		stmt **sql.Stmt
		db   *sql.DB
		text string
	}{
		{&s.sealing, s.w, `INSERT INTO sealing (n, id, job, seq, at, by, kind, v, ask, body, hash, link, sent,
			after_event, after_act, signature) VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?)`},
		{&s.headOf, s.r, `SELECT seq FROM event WHERE job = ? ORDER BY seq DESC LIMIT 1`},
		{&s.idOf, s.r, `SELECT job, kind, by FROM event WHERE id = ? AND job <> ? LIMIT 1`},
		{&s.lines, s.r, selectLines},
		{&s.lastAct, s.r, `SELECT COALESCE(MAX(n), 0) FROM act`},
		{&s.sessionOf, s.r, selectSession},
	} {
		stmt, err := x.db.PrepareContext(ctx, x.text)
		if err != nil {
			return err
		}
		*x.stmt = stmt
	}
	return nil
}

// readers is how many pages are read at the same time.
const readers = 4

func openReader(path string) (*sql.DB, error) {
	r, err := sql.Open("sqlite", source(path, url.Values{
		"mode":         {"ro"},
		"_pragma":      {"busy_timeout(5000)", "query_only(1)"},
		"_time_format": {"sqlite"},
	}))
	if err != nil {
		return nil, err
	}
	r.SetMaxOpenConns(readers)
	r.SetMaxIdleConns(readers)
	return r, nil
}

// closeWait is how long Close waits for pages that are still read.
const closeWait = 10 * time.Second

// Close lets go of the file and leaves it whole: what was written lies in the one file, which
// may be copied. It is an error where somebody still reads, so that what was written last lies
// beside it in a -wal; nothing is lost then, and the two belong together.
func (s *Store) Close() error {
	if s.closing != nil {
		s.closing()
		s.projector.Wait()
	}
	err := s.r.Close() // nobody begins to read any more
	for began := time.Now(); s.r.Stats().InUse > 0 && time.Since(began) < closeWait; {
		time.Sleep(time.Millisecond)
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	return errors.Join(err, s.intoOneFile(), s.w.Close())
}

// intoOneFile brings what lies in the -wal into the file.
func (s *Store) intoOneFile() error {
	var busy, pages, brought int
	err := s.w.QueryRow(`PRAGMA wal_checkpoint(TRUNCATE)`).Scan(&busy, &pages, &brought)
	if err == nil && busy != 0 {
		err = errors.New("the file is still read: what was written last lies in the -wal beside it; copy both")
	}
	return err
}

// errMoved: another process has written to the journals since this one looked.
var errMoved = errors.New("the journals have grown meanwhile")

// growth is what is put at the end of the journals at once, and how they end after it.
type growth struct {
	end    head
	events []eventRow
	acts   []record.Act
}

// eventRow is a sealed line with its place in the file.
type eventRow struct {
	record.Line
	n    int
	link string
}

func (s *Store) grow() *growth { return &growth{end: s.head} }

// event puts a sealed line at the end of the journal of jobs.
func (g *growth) event(l record.Line) {
	g.end.events++
	g.end.eventLink = chain(g.end.eventLink, l.Hash)
	g.events = append(g.events, eventRow{l, g.end.events, g.end.eventLink})
}

// act puts an act at the end of the shop's own journal.
func (g *growth) act(id record.EventID, by string, at time.Time, body record.ShopBody) error {
	a, err := record.NewAct(g.end.acts, g.end.actLink, string(id), by, at, body)
	if err != nil {
		return err
	}
	g.end.acts = a.N
	g.end.actLink = a.Link
	g.acts = append(g.acts, a)
	return nil
}

// chain links a row's seal to the rows before it in the file.
func chain(link, hash string) string {
	sum := sha256.Sum256([]byte(link + hash))
	return hex.EncodeToString(sum[:])
}

// write puts it down with its signed end, and what else belongs to it, at once. It only
// goes on from the end that was seen.
func (s *Store) write(ctx context.Context, g *growth, also func(*sql.Tx) error) error {
	signature := sign(s.key, g.end.text())
	var err error
	if len(g.events) == 1 && len(g.acts) == 0 && also == nil {
		err = s.seal(ctx, s.sealing, g.events, signature) // a transaction by itself
	} else {
		err = s.writeAll(ctx, g, signature, also)
	}
	if err == nil {
		s.head = g.end
	}
	return Unwritable(err)
}

func (s *Store) seal(ctx context.Context, sealing *sql.Stmt, events []eventRow, signature string) error {
	after := s.head.eventLink
	for _, l := range events {
		_, err := sealing.ExecContext(ctx, l.n, l.ID, l.Job, l.Seq, l.At, l.By, l.Kind, l.V, l.Ask,
			string(l.Body), l.Hash, l.link, l.Sent, after, s.head.actLink, signature)
		if err != nil {
			return err
		}
		after = l.link
	}
	return nil
}

func (s *Store) writeAll(ctx context.Context, g *growth, signature string, also func(*sql.Tx) error) error {
	tx, err := s.w.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	defer tx.Rollback()
	if err := s.seal(ctx, tx.StmtContext(ctx, s.sealing), g.events, signature); err != nil {
		return err
	}
	for _, a := range g.acts {
		if err := insertAct(ctx, tx, a); err != nil {
			return err
		}
	}
	if also != nil {
		if err := also(tx); err != nil {
			return err
		}
	}
	res, err := tx.ExecContext(ctx, `UPDATE head SET acts = ?, act_link = ?, signature = ?
		WHERE event_link = ? AND act_link = ?`,
		g.end.acts, g.end.actLink, signature, g.end.eventLink, s.head.actLink)
	if err != nil {
		return err
	}
	if n, err := res.RowsAffected(); err != nil || n != 1 {
		return errors.Join(errMoved, err)
	}
	return tx.Commit()
}

// again does what writes to the journals, and once more from their true end if another
// process has gone on from there. The caller holds the lock.
func (s *Store) again(ctx context.Context, do func() error) error {
	err := do()
	if !errors.Is(err, errMoved) && !unique(err) {
		return err
	}
	h, ok, err2 := readHead(ctx, s.w)
	if err2 != nil || !ok || h.head == s.head {
		return errors.Join(err, err2)
	}
	s.head = h.head
	s.states.Purge() // what the other process wrote is in none of them
	return do()
}

// unique says that a row was not taken because there is one of its kind: by its key, or by the triggers that let
// the journals only grow.
func unique(err error) bool {
	var refused *sqlite.Error
	if !errors.As(err, &refused) {
		return false
	}
	switch refused.Code() {
	case codes.SQLITE_CONSTRAINT_UNIQUE, codes.SQLITE_CONSTRAINT_PRIMARYKEY, codes.SQLITE_CONSTRAINT_TRIGGER:
		return true
	}
	return false
}

func stamp(t time.Time) string { return t.UTC().Format(sorted) }

// sorted writes a time so that text sorts as times do: with all its digits. (A seal writes it without the last zeros.)
const sorted = "2006-01-02T15:04:05.000000000Z"

// scanner reads the columns of the row at hand.
type scanner func(into ...any) error

// eachRow reads the rows of a query one by one, in their order; err is the query's own.
func eachRow(rows *sql.Rows, err error, read func(scan scanner) error) error {
	if err != nil {
		return err
	}
	defer rows.Close()
	for rows.Next() {
		if err := read(rows.Scan); err != nil {
			return err
		}
	}
	return rows.Err()
}

// rowsOf are the rows of a query, each read into a value.
func rowsOf[T any](rows *sql.Rows, err error, read func(scan scanner, x *T) error) (out []T, _ error) {
	err = eachRow(rows, err, func(scan scanner) error {
		var x T
		if err := read(scan, &x); err != nil {
			return err
		}
		out = append(out, x)
		return nil
	})
	return out, err
}
