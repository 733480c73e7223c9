package store

import (
	"cmp"
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"net/url"
	"os"
	"path/filepath"
	"runtime"
	"slices"

	"golang.org/x/sync/errgroup"

	"lugtak/core/record"
	"lugtak/core/vehicle"
)

// Report is what a check found.
type Report struct {
	Jobs      int             `json:"jobs"`
	Events    int             `json:"events"`
	Acts      int             `json:"acts"`
	Heads     string          `json:"heads"`         // how both journals end, to be written down outside
	Key       string          `json:"key"`           // public half of the key the ends are signed with; empty without
	KeyBeside bool            `json:"key_beside"`    // it was compared with the key file beside the shop file
	Older     bool            `json:"older_program"` // wrote it: its lists are made anew when it is brought up to date
	Mends     []record.Mended `json:"mends"`
	Faults    []string        `json:"faults"`
}

// OK says that every seal holds.
func (r *Report) OK() bool { return len(r.Faults) == 0 }

func (r *Report) fault(format string, args ...any) {
	r.Faults = append(r.Faults, fmt.Sprintf(format, args...))
}

// Check verifies the whole file: SQLite's own structure, the chains over all rows of
// both journals, how they end against the signature, every job's own chain, that its
// events can be read and fit, that people are who the journal says, and that the lists
// say what the journals say; and that what was written down of it outside, as heads, is in it.
// An error is returned only where nothing could be checked.
func Check(ctx context.Context, path string, heads ...string) (*Report, error) {
	outside := make([]wrote, len(heads))
	for i, text := range heads {
		var err error
		if outside[i], err = parseHead(text); err != nil {
			return nil, err
		}
	}
	if err := rollBack(ctx, path); err != nil {
		return nil, err
	}
	rep, err := proveFile(ctx, path, outside)
	if err == nil || !beforeLists(ctx, path) {
		return rep, err
	}
	return proveCopy(ctx, path, outside)
}

// beforeLists says that a file is a shop's of a program so old that its tables are others.
func beforeLists(ctx context.Context, path string) bool {
	db, err := openReader(path)
	if err != nil {
		return false
	}
	defer db.Close()
	var version int64
	var events int
	if db.QueryRowContext(ctx, `SELECT MAX(version_id) FROM goose_db_version`).Scan(&version) != nil {
		return false
	}
	return version < newest() && db.QueryRowContext(ctx, `SELECT count(*) FROM event`).Scan(&events) == nil
}

// proveCopy proves a copy that is brought up to date, where the file itself cannot be read as it is. The file stays as
// it was.
func proveCopy(ctx context.Context, path string, outside []wrote) (*Report, error) {
	dir, err := os.MkdirTemp("", "lugtak-check-")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	copied := filepath.Join(dir, "shop.db")
	db, err := readOnly(path)
	if err != nil {
		return nil, err
	}
	var ends int // that are signed; a file of the first release has no place for one
	signed := db.QueryRowContext(ctx, `SELECT count(*) FROM head`).Scan(&ends) == nil && ends > 0
	if err = errors.Join(copyTo(ctx, db, copied), db.Close()); err != nil {
		return nil, err
	}
	key, err := os.ReadFile(KeyFile(path))
	beside := err == nil
	if beside {
		if err := os.WriteFile(KeyFile(copied), key, private); err != nil {
			return nil, err
		}
	}
	s, err := Open(ctx, copied)
	if err != nil {
		return nil, err
	}
	if err := s.Close(); err != nil {
		return nil, err
	}
	rep, err := proveFile(ctx, copied, outside)
	if err != nil {
		return nil, err
	}
	rep.Older, rep.KeyBeside = true, beside && signed
	if !signed { // the copy was, when it was opened
		rep.Key, rep.Heads = "", ""
	}
	return rep, nil
}

// proveFile verifies a file as it lies there.
func proveFile(ctx context.Context, path string, outside []wrote) (*Report, error) {
	db, err := openReader(path)
	if err != nil {
		return nil, err
	}
	defer db.Close()
	workers := runtime.NumCPU()
	db.SetMaxOpenConns(ownConns + workers)
	rep := &Report{Mends: []record.Mended{}, Faults: []string{}}
	conns, err := snapshot(ctx, db, ownConns+workers)
	defer letGo(conns)
	if err != nil {
		if bad := damaged(ctx, db); bad != nil {
			rep.fault("the file is damaged: %s", bad)
			return rep, nil
		}
		return nil, fmt.Errorf("%s is not a shop file: %w", path, err)
	}
	damage := make(chan error, 1)
	go func() { damage <- damaged(ctx, conns[1]) }() // meanwhile the journals are read
	c := checker{ctx: ctx, r: conns[0], walk: conns[2], workers: conns[ownConns:], rep: rep}
	if err = c.against(outside); err == nil {
		err = c.all(path)
	}
	if bad := <-damage; bad != nil {
		rep.fault("the file is damaged: %s", bad)
		return rep, nil
	}
	if err != nil {
		return nil, fmt.Errorf("%s is not a shop file: %w", path, err)
	}
	return rep, nil
}

// ownConns are the connections of a check beside those of its workers: one for the lists, one for
// SQLite's own structure, one that walks the journal.
const ownConns = 3

// rollBack takes back what a program that was killed had half written to a file that was not yet
// a shop's in use: SQLite does it by itself for whoever may write, and not for who only reads.
func rollBack(ctx context.Context, path string) error {
	if _, err := os.Stat(path + "-journal"); err != nil {
		return nil
	}
	w, err := sql.Open("sqlite", source(path, url.Values{"mode": {"rw"}, "_pragma": {"busy_timeout(5000)"}}))
	if err != nil {
		return err
	}
	defer w.Close()
	var n int
	if err := w.QueryRowContext(ctx, `SELECT count(*) FROM sqlite_master`).Scan(&n); err != nil {
		return fmt.Errorf("%s was cut short while it was written, and cannot be put right here: %w", path, err)
	}
	return nil
}

// damaged says what is wrong with SQLite's own structure.
func damaged(ctx context.Context, r rowQuerier) error {
	var word string
	if err := r.QueryRowContext(ctx, `PRAGMA integrity_check`).Scan(&word); err != nil {
		return err
	}
	if word != "ok" {
		return errors.New(word)
	}
	return nil
}

func (c *checker) all(path string) error {
	for _, check := range []func() error{
		c.age,
		func() error { return c.ends(path) },
		c.acts,
		c.people,
		c.actLists,
		c.journal,
	} {
		if err := check(); err != nil {
			return err
		}
	}
	return nil
}

// age says whether an older program wrote the file.
func (c *checker) age() error {
	var version int64
	err := c.r.QueryRowContext(c.ctx, `SELECT MAX(version_id) FROM goose_db_version`).Scan(&version)
	c.rep.Older = err == nil && version < newest()
	return err
}

// newest is the version a file has that this program wrote.
func newest() (version int64) {
	names, _ := fs.Glob(migrations, "migrations/*.sql")
	for _, name := range names {
		var n int64
		fmt.Sscanf(filepath.Base(name), "%d_", &n)
		version = max(version, n)
	}
	return max(version, adoptVersion)
}

// checker reads the file as it stood at one moment, over several connections.
type checker struct {
	ctx     context.Context
	r, walk *sql.Conn
	workers []*sql.Conn
	rep     *Report
	shop    *shop
}

// ends compares how the journals end with the signature.
func (c *checker) ends(path string) error {
	h, _, err := readHead(c.ctx, c.r)
	if err != nil {
		return err
	}
	key, err := readKey(path)
	if err != nil {
		return err
	}
	c.rep.Key, c.rep.Heads = h.key, h.heads()
	want := ""
	if key != nil {
		c.rep.KeyBeside = true
		want = public(key)
	}
	if err := proveHead(c.ctx, c.r, want); err != nil {
		c.rep.fault("%s", err)
	}
	return nil
}

// acts proves the shop's own journal, row by row.
func (c *checker) acts() error {
	acts, err := readActs(c.ctx, c.r, 0)
	if err != nil {
		return err
	}
	c.shop = newShop()
	prev := ""
	for i, a := range acts {
		c.rep.Acts++
		if a.N != i+1 || a.Sum(prev) != a.Link {
			c.rep.fault("act %d of the shop (%s by %s) is not the one that stood there", i+1, a.Kind, a.By)
			return nil
		}
		prev = a.Link
		if err := c.shop.take(a); err != nil {
			c.rep.fault("%s", err)
		}
		var m record.Mended
		if a.Kind == m.ActKind() && json.Unmarshal(a.Body, &m) == nil {
			c.rep.Mends = append(c.rep.Mends, m)
		}
	}
	return nil
}

// people compares who may sign in with what the acts say.
func (c *checker) people() error {
	rows, err := c.r.QueryContext(c.ctx, `SELECT id, name, role, pin, active FROM person`)
	if err != nil {
		return err
	}
	defer rows.Close()
	n := 0
	for rows.Next() {
		var id, pin string
		var is personSeal
		if err := rows.Scan(&id, &is.name, &is.role, &pin, &is.active); err != nil {
			return err
		}
		is.pin = sha(pin)
		n++
		if was := c.shop.people[id]; is != was {
			c.rep.fault("%s may sign in otherwise than the journal says (name, role, PIN or being let in)", is.name)
		}
	}
	if n != len(c.shop.people) {
		c.rep.fault("%d people may sign in, the journal says %d", n, len(c.shop.people))
	}
	return rows.Err()
}

// journal proves what stands in it: every job by itself, and meanwhile all rows in the
// order they were written.
func (c *checker) journal() error {
	ids, err := readStrings(c.ctx, c.r, `SELECT DISTINCT job FROM event ORDER BY job`)
	if err != nil {
		return err
	}
	is, err := c.lists(ids)
	if err != nil {
		return err
	}
	walked := make(chan error, 1)
	go func() { walked <- c.events() }()
	faults, err := c.jobs(ids, is)
	if bad := <-walked; err != nil || bad != nil {
		return cmp.Or(err, bad)
	}
	for _, f := range faults {
		c.rep.Jobs++
		if f != "" {
			c.rep.fault("%s", f)
		}
	}
	return c.strays()
}

// events walks the journal of all jobs once in the order it was written.
func (c *checker) events() error {
	rows, err := c.walk.QueryContext(c.ctx, `SELECT n, job, hash, link FROM event ORDER BY n`)
	if err != nil {
		return err
	}
	defer rows.Close()
	link := ""
	for rows.Next() {
		var n int
		var id, hash, stored string
		if err := rows.Scan(&n, &id, &hash, &stored); err != nil {
			return err
		}
		c.rep.Events++
		if link = chain(link, hash); link != stored || n != c.rep.Events {
			c.rep.fault("row %d of the journal (job %s) is not the one that stood there", c.rep.Events, id)
			break
		}
	}
	return rows.Err()
}

// jobs proves each job and compares it with its row in the list. It says of each what
// is wrong, or nothing.
func (c *checker) jobs(ids []string, is *listsAsTheyStand) ([]string, error) {
	faults := make([]string, len(ids))
	var all errgroup.Group
	next := make(chan int, len(ids))
	for i := range ids {
		next <- i
	}
	close(next)
	for _, conn := range c.workers {
		all.Go(func() error {
			lines, err := conn.PrepareContext(c.ctx, selectLines)
			if err != nil {
				return err
			}
			defer lines.Close()
			for i := range next {
				faults[i] = c.job(lines, ids[i], is)
			}
			return nil
		})
	}
	return faults, all.Wait()
}

// behind lists the jobs whose last events the lists have not taken yet: a program that was
// killed leaves such, and the next one takes them. Beyond the journal's end there is nothing.
func (c *checker) behind() (map[string]bool, error) {
	var upto, last int
	err := c.r.QueryRowContext(c.ctx, `SELECT upto, (SELECT coalesce(max(n), 0) FROM event) FROM projection`).
		Scan(&upto, &last)
	if err != nil {
		return nil, err
	}
	if upto > last {
		c.rep.fault("the lists claim to have taken %d events, the journal has %d", upto, last)
	}
	ids, err := readStrings(c.ctx, c.r, `SELECT DISTINCT job FROM event WHERE n > ?`, upto)
	out := map[string]bool{}
	for _, id := range ids {
		out[id] = true
	}
	return out, err
}

// listsAsTheyStand is what the journals are compared with.
type listsAsTheyStand struct {
	sums   map[string]*sum            // by job
	behind map[string]bool            // jobs the lists have not taken wholly
	fleet  map[string]vehicle.Vehicle // by id
	node   map[string]bool            // jobs of other shops, at a node of a chain
}

// job proves one job; it says what is wrong, or nothing.
func (c *checker) job(selected *sql.Stmt, id string, is *listsAsTheyStand) string {
	lines, err := readLines(c.ctx, selected, id)
	if err != nil {
		return fmt.Sprintf("job %s cannot be read: %v", id, err)
	}
	state, err := prove(id, lines)
	if err != nil {
		return fmt.Sprintf("job %s: %v", id, err)
	}
	if v, ok := is.fleet[state.Vehicle.ID]; ok && anotherVehicle(v, state.Vehicle, is.node[id]) {
		return fmt.Sprintf("vehicle %s is not the one job %s was begun on", v.ID, id)
	}
	if is.behind[id] {
		return ""
	}
	want, err := wantedSum(state)
	if err != nil {
		return fmt.Sprintf("job %s cannot be listed: %v", id, err)
	}
	switch got := is.sums[id]; {
	case got == nil:
		return fmt.Sprintf("job %s is in the journal and not in the list", id)
	case *got != want:
		return fmt.Sprintf("job %s: the lists say other than its journal", id)
	}
	return ""
}

// references are rows that speak of what must be there.
var references = []struct{ says, query string }{
	{"a job is in the list and not in the journal",
		`SELECT id FROM job WHERE id NOT IN (SELECT job FROM event) LIMIT 1`},
	{"a follow-up belongs to no job",
		`SELECT job FROM follow_up WHERE job NOT IN (SELECT id FROM job) LIMIT 1`},
	{"a finding is in no job's journal",
		`SELECT id FROM finding f WHERE NOT EXISTS (SELECT 1 FROM event e WHERE e.id = f.id AND e.job = f.job) LIMIT 1`},
	{"a fastener belongs to no job",
		`SELECT job FROM fastener WHERE job NOT IN (SELECT id FROM job) LIMIT 1`},
	{"a session belongs to nobody",
		`SELECT person FROM session WHERE person NOT IN (SELECT id FROM person) LIMIT 1`},
}

func (c *checker) strays() error {
	lists := append(slices.Clip(references), sums...)
	if c.rep.Older {
		lists = nil
	}
	for _, x := range lists {
		var id string
		err := c.r.QueryRowContext(c.ctx, x.query).Scan(&id)
		if errors.Is(err, sql.ErrNoRows) {
			continue
		}
		if err != nil {
			return err
		}
		c.rep.fault("%s: %s", x.says, id)
	}
	for job, i := range c.shop.imports {
		var hash string
		err := c.r.QueryRowContext(c.ctx, `SELECT hash FROM event WHERE job = ? AND seq = ?`, job, i.Events).Scan(&hash)
		if err != nil || hash != i.Hash {
			c.rep.fault("job %s is not the one that was imported from %s", job, i.From)
		}
	}
	return nil
}
