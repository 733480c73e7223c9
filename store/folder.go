package store

import (
	"bufio"
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"iter"
	"os"
	"path/filepath"
	"slices"
	"time"

	"lugtak/core/fault"
	"lugtak/core/record"
	"lugtak/core/vehicle"
)

// A whole shop as a folder of texts that any program can read: both journals a line an event,
// how they end with its signature, the fleet, and who may sign in. Brought back it is the same
// shop, by the seals over all its rows. The key that signs is not in it.

const (
	folderFormat  = "lugtak-shop"
	folderVersion = 1

	headFile     = "shop.json"
	eventsFile   = "events.jsonl"
	actsFile     = "acts.jsonl"
	vehiclesFile = "vehicles.json"
	peopleFile   = "people.json"
)

// folderHead is shop.json.
type folderHead struct {
	Format    string `json:"format"`
	Version   int    `json:"version"`
	Events    int    `json:"events"`
	EventLink string `json:"event_link"` // seal over all events in their order
	Acts      int    `json:"acts"`
	ActLink   string `json:"act_link"`
	Key       string `json:"key"` // public half of the key that signed
	Signature string `json:"signature"`
}

// folderPerson is one of people.json; PIN is what is stored of it.
type folderPerson struct {
	ID     string `json:"id"`
	Name   string `json:"name"`
	Role   string `json:"role"`
	PIN    string `json:"pin"`
	Active bool   `json:"active"`
}

// ExportFolder writes a shop file as a new folder, private to its owner; it has its name once
// it is whole. That it was done is an act of the shop, and in the folder.
func (s *Store) ExportFolder(ctx context.Context, dir, by string, now time.Time) error {
	if _, err := os.Stat(dir); err == nil {
		return fault.New(fault.Exists, "folder", dir+" exists already.", "Name a new one.")
	}
	part, err := os.MkdirTemp(filepath.Dir(dir), ".lugtak-export-")
	if err != nil {
		return fault.New(fault.BadChoice, "folder", "The folder cannot be made: "+err.Error()+".", "Name another place.")
	}
	defer os.RemoveAll(part) // what is left where it fails; it has another name where it does not
	n, err := s.LastEvent(ctx)
	if err != nil {
		return err
	}
	body := record.Exported{What: "shop", Events: n, To: dir}
	if err := s.act(ctx, record.EventID("export:"+token()), by, now, body, nil); err != nil {
		return err
	}
	tx, err := s.r.BeginTx(ctx, nil) // what is recorded meanwhile is not in it
	if err != nil {
		return err
	}
	defer tx.Rollback()
	if err := fillFolder(ctx, tx, part); err != nil {
		return err
	}
	return os.Rename(part, dir)
}

func fillFolder(ctx context.Context, tx *sql.Tx, dir string) error {
	h, _, err := readHead(ctx, tx)
	if err != nil {
		return err
	}
	acts, err := readActs(ctx, tx, 0)
	if err != nil {
		return err
	}
	fleet, err := vehiclesIn(ctx, tx)
	if err != nil {
		return err
	}
	people, err := peopleIn(ctx, tx)
	if err != nil {
		return err
	}
	head := folderHead{
		Format:    folderFormat,
		Version:   folderVersion,
		Events:    h.events,
		EventLink: h.eventLink,
		Acts:      h.acts,
		ActLink:   h.actLink,
		Key:       h.key,
		Signature: h.signature,
	}
	return errors.Join(
		writeJSON(dir, headFile, head),
		writeJSON(dir, vehiclesFile, fleet),
		writeJSON(dir, peopleFile, people),
		writeLines(dir, actsFile, slices.Values(acts), nil),
		writeEvents(ctx, tx, dir),
	)
}

// writeEvents writes every event a line, a batch at a time.
func writeEvents(ctx context.Context, tx *sql.Tx, dir string) error {
	var bad error
	all := func(yield func(Numbered) bool) {
		for after := 0; ; {
			rows, err := eventsAfter(ctx, tx, after, batch)
			if bad = err; err != nil || len(rows) == 0 {
				return
			}
			for _, r := range rows {
				if !yield(r) {
					return
				}
			}
			after = rows[len(rows)-1].N
		}
	}
	return writeLines(dir, eventsFile, all, &bad)
}

func vehiclesIn(ctx context.Context, q rowsQuerier) ([]vehicle.Vehicle, error) {
	rows, err := q.QueryContext(ctx, selectVehicle+`ORDER BY fleet`)
	return scanVehicles(rows, err)
}

func peopleIn(ctx context.Context, q rowsQuerier) ([]folderPerson, error) {
	rows, err := q.QueryContext(ctx, `SELECT id, name, role, pin, active FROM person ORDER BY id`)
	var out []folderPerson
	err = eachRow(rows, err, func(scan scanner) error {
		var p folderPerson
		if err := scan(&p.ID, &p.Name, &p.Role, &p.PIN, &p.Active); err != nil {
			return err
		}
		out = append(out, p)
		return nil
	})
	return out, err
}

func writeJSON(dir, name string, v any) error {
	text, err := json.MarshalIndent(v, "", " ")
	if err != nil {
		return err
	}
	return os.WriteFile(filepath.Join(dir, name), append(text, '\n'), private)
}

// writeLines writes each of a list a line. bad is what went wrong in reading it, if anything
// can.
func writeLines[T any](dir, name string, all iter.Seq[T], bad *error) error {
	f, err := os.OpenFile(filepath.Join(dir, name), os.O_WRONLY|os.O_CREATE|os.O_EXCL, private)
	if err != nil {
		return err
	}
	w := bufio.NewWriter(f)
	e := json.NewEncoder(w)
	e.SetEscapeHTML(false)
	for v := range all {
		if err = e.Encode(v); err != nil {
			break
		}
	}
	if bad != nil {
		err = errors.Join(err, *bad)
	}
	return errors.Join(err, w.Flush(), f.Sync(), f.Close())
}

// ImportFolder makes a new shop file of a folder, and proves it. keyFile is the shop's key;
// where it is empty a new key is made, and the shop's journal says so.
func ImportFolder(ctx context.Context, dir, path, keyFile string) (err error) {
	if _, err := os.Stat(path); err == nil {
		return fault.New(
			fault.Exists,
			"db",
			path+" exists already.",
			"A folder becomes a shop file of its own: name a new one.",
		)
	}
	var h folderHead
	if err := readJSON(dir, headFile, &h); err != nil {
		return err
	}
	if h.Format != folderFormat || h.Version != folderVersion {
		return fault.New(
			fault.BadFile,
			"folder",
			"This is no folder of a shop that this program knows.",
			"Use the program that wrote it, or a newer one.",
		)
	}
	part := path + ".part"
	if err := fillFrom(ctx, dir, part, h); err != nil {
		return errors.Join(err, removeFile(part))
	}
	if err := keyFor(ctx, part, keyFile); err != nil {
		return errors.Join(err, removeFile(part))
	}
	r, err := Check(ctx, part)
	if err == nil && !r.OK() {
		err = fault.New(
			fault.BadFile,
			"folder",
			"The folder does not hold: "+r.Faults[0]+".",
			"It was changed after it was written: do not trust it.",
		)
	}
	if err != nil {
		return errors.Join(err, removeFile(part))
	}
	return errors.Join(os.Rename(KeyFile(part), KeyFile(path)), os.Rename(part, path))
}

// keyFor puts the shop's key beside its new file, or signs that it goes on with a new one.
func keyFor(ctx context.Context, path, keyFile string) error {
	if keyFile == "" {
		return Mend(ctx, path, "import", "brought from a folder, without its key")
	}
	key, err := os.ReadFile(keyFile)
	if err != nil {
		return fault.New(
			fault.BadFile,
			"key",
			"The key cannot be read: "+err.Error()+".",
			"Name the .key file that lies beside the shop file.",
		)
	}
	return os.WriteFile(KeyFile(path), key, private)
}

// removeFile takes away what is left of a shop file that was not finished.
func removeFile(path string) error {
	var err error
	for _, f := range []string{path, path + "-wal", path + "-shm", KeyFile(path)} {
		if bad := os.Remove(f); bad != nil && !errors.Is(bad, os.ErrNotExist) {
			err = errors.Join(err, bad)
		}
	}
	return err
}

// fillFrom writes a folder's rows into a new file, with the signed end as it came.
func fillFrom(ctx context.Context, dir, path string, h folderHead) error {
	if err := removeFile(path); err != nil { // of one that was cut short
		return err
	}
	var fleet []vehicle.Vehicle
	var people []folderPerson
	if err := errors.Join(readJSON(dir, vehiclesFile, &fleet), readJSON(dir, peopleFile, &people)); err != nil {
		return err
	}
	s, err := openFile(ctx, path)
	if err != nil {
		return err
	}
	defer s.Close()
	tx, err := s.w.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	defer tx.Rollback()
	for _, v := range fleet {
		if err := insertVehicle(ctx, tx, v, ""); err != nil {
			return err
		}
	}
	for _, p := range people {
		_, err := tx.ExecContext(ctx, `INSERT INTO person (id, name, role, pin, active) VALUES (?,?,?,?,?)`,
			p.ID, p.Name, p.Role, p.PIN, p.Active)
		if err != nil {
			return err
		}
	}
	err = readEach(dir, actsFile, func(a record.Act) error { return insertAct(ctx, tx, a) })
	if err != nil {
		return err
	}
	if err := fillEvents(ctx, tx, dir); err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx, `INSERT INTO head VALUES (1,?,?,?,?,?,?)`,
		h.Events, h.EventLink, h.Acts, h.ActLink, h.Key, h.Signature)
	if err != nil {
		return err
	}
	if err := proveHead(ctx, tx, ""); err != nil {
		return fault.New(
			fault.BadFile,
			"folder",
			"The folder does not hold: "+err.Error()+".",
			"It was changed after it was written: do not trust it.",
		)
	}
	return tx.Commit()
}

func fillEvents(ctx context.Context, tx *sql.Tx, dir string) error {
	insert, err := tx.PrepareContext(
		ctx,
		`INSERT INTO event (n, id, job, seq, at, by, kind, v, ask, body, hash, link, sent)
		VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?)`,
	)
	if err != nil {
		return err
	}
	defer insert.Close()
	link := ""
	return readEach(dir, eventsFile, func(l Numbered) error {
		link = chain(link, l.Hash)
		_, err := insert.ExecContext(
			ctx,
			l.N,
			l.ID,
			l.Job,
			l.Seq,
			l.At,
			l.By,
			l.Kind,
			l.V,
			l.Ask,
			string(l.Body),
			l.Hash,
			link,
			l.Sent,
		)
		return err
	})
}

func readJSON(dir, name string, into any) error {
	text, err := os.ReadFile(filepath.Join(dir, name))
	if err == nil {
		err = json.Unmarshal(text, into)
	}
	if err != nil {
		return fault.New(
			fault.BadFile,
			"folder",
			name+" cannot be read: "+err.Error()+".",
			"Take a folder that lugtak export --all wrote.",
		)
	}
	return nil
}

// readEach reads a file of lines, each by itself.
func readEach[T any](dir, name string, take func(T) error) error {
	f, err := os.Open(filepath.Join(dir, name))
	if err != nil {
		return fault.New(
			fault.BadFile,
			"folder",
			name+" cannot be read: "+err.Error()+".",
			"Take a folder that lugtak export --all wrote.",
		)
	}
	defer f.Close()
	d := json.NewDecoder(bufio.NewReader(f))
	for n := 1; ; n++ {
		var v T
		err := d.Decode(&v)
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err == nil {
			err = take(v)
		}
		if err != nil {
			return fault.New(
				fault.BadFile,
				"folder",
				fmt.Sprintf("%s, line %d: %v.", name, n, err),
				"It was changed after it was written: do not trust it.",
			)
		}
	}
}
