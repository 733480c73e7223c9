package store

import (
	"bytes"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"net/url"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"syscall"
	"time"

	"github.com/gofrs/flock"
	"github.com/pressly/goose/v3"

	"lugtak/core/fault"
	"lugtak/core/listing"
)

// private is the mode of a shop's files: nobody else on the machine reads them.
const private = 0o600

// makePrivate sees to it that the file is there and is its owner's alone. SQLite gives what
// lies beside it the same mode.
func makePrivate(path string) error {
	f, err := os.OpenFile(path, os.O_RDWR|os.O_CREATE, private)
	if err != nil {
		return err
	}
	return errors.Join(f.Chmod(private), f.Close())
}

// Create makes a shop file with its first person; where that fails, nothing is left of it.
func Create(ctx context.Context, path string, first NewPerson, by string) (p listing.Person, err error) {
	if first, err = first.check(); err != nil {
		return p, err
	}
	if taken(path) {
		return p, fmt.Errorf("%s, or a file that belongs to it, exists already: lugtak serve --db %s serves it", path, path)
	}
	defer func() {
		if err == nil {
			return
		}
		for _, end := range shopFiles {
			os.Remove(path + end)
		}
	}()
	s, err := Open(ctx, path)
	if err != nil {
		return p, err
	}
	p, err = s.AddPerson(ctx, first.Name, first.Role, first.PIN, by)
	return p, errors.Join(err, s.Close())
}

// Own makes this process the one that serves the file, until release is called.
func Own(path string) (release func(), err error) {
	l := flock.New(path+".lock", flock.SetPermissions(private))
	ok, err := l.TryLock()
	if err != nil {
		return nil, err
	}
	if !ok {
		return nil, fmt.Errorf("%s is served by another process: stop that one first", path)
	}
	return func() { l.Unlock() }, nil
}

// upToDate refuses a file of a newer program, keeps a copy of one that an older program
// wrote, and says whether it is to be brought up to date.
func upToDate(ctx context.Context, w *sql.DB, p *goose.Provider, path string) error {
	now, err := p.GetDBVersion(ctx)
	if err != nil {
		return err
	}
	sources := p.ListSources()
	newest := sources[len(sources)-1].Version
	switch {
	case now > newest:
		return fmt.Errorf("it was written by a newer program (version %d, this one knows %d): use that one", now, newest)
	case now == 0 || now == newest:
		return nil
	}
	before := fmt.Sprintf("%s.before-%d", path, newest)
	if _, err := os.Stat(before); err == nil {
		return nil // kept when it was tried before
	}
	return copyTo(ctx, w, before)
}

// Unwritable tells a full disk and a file that may not be written from what is broken: it is
// said in place, with what to do, and what was typed stays.
func Unwritable(err error) error {
	if err == nil {
		return nil
	}
	switch text := err.Error(); {
	case strings.Contains(text, "database or disk is full"),
		errors.Is(err, syscall.ENOSPC), errors.Is(err, syscall.EDQUOT):
		return fault.New(fault.DiskFull, "", "The disk of the shop's machine is full: this was not recorded.",
			"Make room on it, then send this again; what you typed stands here.")
	case strings.Contains(text, "readonly database"), strings.Contains(text, "read-only"):
		return fault.New(fault.ReadOnly, "", "The shop's file may not be written to: this was not recorded.",
			"Give it back to the program's own user, then send this again; what you typed stands here.")
	}
	return err
}

// Healthy asks the file itself whether it can be written to: it begins, and takes back. SQLite
// touches the disk only at the end, so its room is tried beside the file.
func (s *Store) Healthy(ctx context.Context) error {
	if err := room(filepath.Dir(s.path)); err != nil {
		return Unwritable(err)
	}
	tx, err := s.w.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	defer tx.Rollback()
	_, err = tx.ExecContext(ctx, `INSERT INTO guess (key, fails, until) VALUES ('health', 0, ?)
		ON CONFLICT (key) DO UPDATE SET until = excluded.until`, strings.Repeat("x", healthBytes))
	return Unwritable(err)
}

// healthBytes are more than a page of the file, so that a full disk shows.
const healthBytes = 16 << 10

// room writes and takes away as much as a record needs.
func room(dir string) error {
	f, err := os.CreateTemp(dir, ".lugtak-health-*")
	if err != nil {
		return err
	}
	defer os.Remove(f.Name())
	_, err = f.Write(make([]byte, healthBytes))
	return errors.Join(err, f.Close())
}

// copyTo writes a consistent copy under another name and only then gives it its own.
func copyTo(ctx context.Context, db *sql.DB, path string) error {
	part := path + ".part"
	if err := os.Remove(part); err != nil && !errors.Is(err, os.ErrNotExist) {
		return err
	}
	if err := makePrivate(part); err != nil {
		return err
	}
	if _, err := db.ExecContext(ctx, `VACUUM INTO ?`, part); err != nil {
		return errors.Join(err, os.Remove(part))
	}
	if err := synced(part); err != nil {
		return err
	}
	return os.Rename(part, path)
}

func synced(path string) error {
	f, err := os.OpenFile(path, os.O_RDWR, private)
	if err != nil {
		return err
	}
	return errors.Join(f.Sync(), f.Close())
}

// Backup makes a consistent copy while others read and write, with the key beside it, and
// proves it before it has its name: what was cut short never looks whole. It refuses to write
// over a file.
func Backup(ctx context.Context, from, to string) error {
	if _, err := os.Stat(from); err != nil {
		return fmt.Errorf("there is no shop file %s", from)
	}
	if _, err := os.Stat(to); err == nil {
		return fmt.Errorf("%s exists already: name a new file", to)
	}
	r, err := readOnly(from)
	if err != nil {
		return err
	}
	defer r.Close()
	copied := to + ".copied"
	defer os.Remove(copied)
	if err := copyTo(ctx, r, copied); err != nil {
		return err
	}
	if err := proved(ctx, copied); err != nil {
		return err
	}
	if err := copyKey(from, to); err != nil {
		return err
	}
	return os.Rename(copied, to)
}

func readOnly(path string) (*sql.DB, error) {
	return sql.Open("sqlite", source(path, url.Values{"mode": {"ro"}, "_pragma": {"busy_timeout(5000)"}}))
}

// proved says what is wrong with a file that is to be relied on.
func proved(ctx context.Context, path string) error {
	rep, err := Check(ctx, path)
	if err != nil {
		return err
	}
	if !rep.OK() {
		return fmt.Errorf("%s does not hold: %s", path, strings.Join(rep.Faults, "; "))
	}
	return nil
}

// copyKey puts a shop's key beside another file; nothing where there is none. One that a
// backup cut short has left there is the same key; another one is never written over.
func copyKey(from, to string) error {
	key, err := os.ReadFile(KeyFile(from))
	if errors.Is(err, os.ErrNotExist) {
		return nil
	}
	if err != nil {
		return err
	}
	there, err := os.ReadFile(KeyFile(to))
	switch {
	case err == nil && bytes.Equal(there, key):
		return nil
	case err == nil:
		return fmt.Errorf("%s holds another key: name a new file", KeyFile(to))
	case !errors.Is(err, os.ErrNotExist):
		return err
	}
	return os.WriteFile(KeyFile(to), key, private)
}

// shopFiles are the ends of the names of all that a shop's file is made of.
var shopFiles = []string{"", "-journal", "-wal", "-shm", ".key"}

// setAside gives what lies under a shop's name another, and says which; empty where there
// was nothing. What lay in a -wal belongs to its file, and would ruin another: it is there beside
// the other name before the file is, so that nothing that cuts this short parts the two.
func setAside(path string, now time.Time) (aside string, err error) {
	stamp := path + ".aside-" + now.UTC().Format("20060102-150405")
	name := stamp
	for n := 2; taken(name); n++ {
		name = fmt.Sprint(stamp, "-", n)
	}
	for _, end := range shopFiles[1:] {
		switch err := copyFile(path+end, name+end); {
		case errors.Is(err, os.ErrNotExist):
		case err != nil:
			return "", err
		default:
			aside = name
		}
	}
	switch err := os.Rename(path, name); {
	case errors.Is(err, os.ErrNotExist):
	case err != nil:
		return "", err
	default:
		aside = name
	}
	for _, end := range shopFiles[1:] {
		if err := os.Remove(path + end); err != nil && !errors.Is(err, os.ErrNotExist) {
			return aside, err
		}
	}
	return aside, nil
}

// taken says that something of a shop lies under a name.
func taken(name string) bool {
	return slices.ContainsFunc(shopFiles, func(end string) bool {
		_, err := os.Lstat(name + end)
		return err == nil
	})
}

func copyFile(from, to string) error {
	data, err := os.ReadFile(from)
	if err != nil {
		return err
	}
	if err := os.WriteFile(to, data, private); err != nil {
		return err
	}
	return synced(to)
}

// Restore puts a backup in a shop file's place, once it is proved, copied, and nobody serves
// that file. What was there is set aside with its name and the time, never thrown away. It
// says where it has put it; empty where there was nothing.
func Restore(ctx context.Context, from, to string, now time.Time) (aside string, err error) {
	release, err := Own(to)
	if err != nil {
		return "", err
	}
	defer release()
	if err := proved(ctx, from); err != nil {
		return "", err
	}
	r, err := readOnly(from)
	if err != nil {
		return "", err
	}
	defer r.Close()
	key, err := keyOf(ctx, r, from, to)
	if err != nil {
		return "", err
	}
	copied := to + ".copied"
	defer os.Remove(copied)
	if err := copyTo(ctx, r, copied); err != nil {
		return "", err
	}
	if aside, err = setAside(to, now); err != nil {
		return aside, err
	}
	if key == to { // it went aside with the file
		key = aside
	}
	if err := copyKey(key, to); err != nil {
		return aside, err
	}
	return aside, os.Rename(copied, to)
}

// keyOf names the file beside which the key of a backup lies: its own, or the shop's that it is
// put back to, where that is the one it was signed with.
func keyOf(ctx context.Context, backup *sql.DB, from, to string) (string, error) {
	h, _, err := readHead(ctx, backup)
	if err != nil {
		return "", err
	}
	for _, at := range []string{from, to} {
		key, err := readKey(at)
		if err != nil {
			return "", err
		}
		if key != nil && public(key) == h.key {
			return at, nil
		}
	}
	return "", fault.New(fault.Key, "db", "The key of this backup lies neither beside it, as "+KeyFile(from)+
		", nor beside "+to+".", "Put it back from the safe copy. Nothing was changed.")
}

// rotatedAt is the time in the name of a backup.
const rotatedAt = "20060102-150405"

// LastRotated is when the newest backup of a file in a folder was made by Rotate; zero where there is none.
func LastRotated(from, dir string) (time.Time, error) {
	all, err := rotated(from, dir)
	if err != nil || len(all) == 0 {
		return time.Time{}, err
	}
	name := strings.TrimSuffix(filepath.Base(all[len(all)-1]), ".db")
	return time.Parse(rotatedAt, name[len(name)-len(rotatedAt):])
}

// rotated are the backups of a file in a folder that Rotate made, by their time.
func rotated(from, dir string) ([]string, error) {
	name := strings.TrimSuffix(filepath.Base(from), filepath.Ext(from))
	all, err := filepath.Glob(filepath.Join(dir, name+"-[0-9]*-[0-9]*.db"))
	slices.Sort(all)
	return all, err
}

// Rotate makes a backup in a folder under the file's name and the time, and takes the oldest
// beyond keep away: only those it made itself, by their names. It gives the new one's path.
func Rotate(ctx context.Context, from, dir string, keep int, now time.Time) (string, error) {
	name := strings.TrimSuffix(filepath.Base(from), filepath.Ext(from))
	path := filepath.Join(dir, name+"-"+now.UTC().Format(rotatedAt)+".db")
	if err := Backup(ctx, from, path); err != nil {
		return "", err
	}
	old, err := rotated(from, dir)
	if err != nil {
		return path, err
	}
	for _, gone := range old[:max(0, len(old)-max(1, keep))] {
		if err := errors.Join(os.Remove(gone), os.Remove(KeyFile(gone))); err != nil {
			return path, err
		}
	}
	return path, nil
}
