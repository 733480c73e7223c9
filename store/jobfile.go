package store

import (
	"bytes"
	"context"
	"database/sql"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/record"
	"lugtak/core/vehicle"
)

// JobFile is a whole job as one JSON text, with its own proof: the chain of its seals,
// and how it ends signed by the shop it comes from.
type JobFile struct {
	Format    string        `json:"format"`
	Version   int           `json:"version"`
	Job       string        `json:"job"`
	Key       string        `json:"key,omitempty"`       // public half of the shop's key
	Signature string        `json:"signature,omitempty"` // over text()
	Events    []record.Line `json:"events"`
}

const (
	fileFormat  = "lugtak-job"
	fileVersion = 2
	// MaxJobFile bounds what is read: some 10 000 traces.
	MaxJobFile = 64 << 20
)

// Journal reads a job's events with their seals, and signs how they end.
func (s *Store) Journal(ctx context.Context, id string) (*JobFile, error) {
	lines, err := readLines(ctx, s.lines, id)
	if err != nil {
		return nil, err
	}
	if len(lines) == 0 {
		return nil, ErrNoJob
	}
	f := &JobFile{Format: fileFormat, Version: fileVersion, Job: id, Key: public(s.key), Events: lines}
	f.Signature = sign(s.key, f.text())
	return f, nil
}

// Export is a job as a file that leaves the shop; that it did is an act of the shop.
func (s *Store) Export(ctx context.Context, id, by string, now time.Time) ([]byte, error) {
	f, err := s.Journal(ctx, id)
	if err != nil {
		return nil, err
	}
	text, err := f.Text()
	if err != nil {
		return nil, err
	}
	body := record.Exported{What: "job", Job: id, Events: len(f.Events), Hash: f.Hash()}
	return text, s.act(ctx, record.EventID("export:"+token()), by, now, body, nil)
}

// Hash is the seal of the last event: it stands for the whole journal.
func (f *JobFile) Hash() string { return f.Events[len(f.Events)-1].Hash }

// Fingerprint is that of the shop's key which signed the end; empty where none did.
func (f *JobFile) Fingerprint() string { return fingerprint(f.Key) }

// text is what is signed of a job file.
func (f *JobFile) text() string {
	last := f.Events[len(f.Events)-1]
	return fmt.Sprintf("lugtak job\n%s\n%d %s\n", f.Job, last.Seq, last.Hash)
}

// Text is the file as it is written: stable, one event a line.
func (f *JobFile) Text() ([]byte, error) {
	var b bytes.Buffer
	fmt.Fprintf(&b, "{\"format\":%q,\"version\":%d,\"job\":%q,\"key\":%q,\"signature\":%q,\"events\":[",
		f.Format, f.Version, f.Job, f.Key, f.Signature)
	for i, e := range f.Events {
		if i > 0 {
			b.WriteByte(',')
		}
		b.WriteByte('\n')
		line, err := json.Marshal(e)
		if err != nil {
			return nil, err
		}
		b.Write(line)
	}
	b.WriteString("\n]}\n")
	return b.Bytes(), nil
}

// doubled is a key that stands twice in one object of a text, as readers tell keys apart; empty where there is none, or
// the text is not JSON.
func doubled(text []byte) string {
	in := json.NewDecoder(bytes.NewReader(text))
	type level struct {
		keys map[string]bool // nil within an array
		next bool            // a key comes next
	}
	var at []level
	for {
		token, err := in.Token()
		if err != nil {
			return ""
		}
		top := len(at) - 1
		if key, ok := token.(string); ok && top >= 0 && at[top].next {
			folded := strings.ToLower(key) // as encoding/json does
			if at[top].keys[folded] {
				return key
			}
			at[top].keys[folded] = true
			at[top].next = false
			continue
		}
		switch token {
		case json.Delim('{'):
			at = append(at, level{keys: map[string]bool{}, next: true})
			continue
		case json.Delim('['):
			at = append(at, level{})
			continue
		case json.Delim('}'), json.Delim(']'):
			at = at[:top]
			top--
		}
		if top >= 0 && at[top].keys != nil { // a value ended
			at[top].next = true
		}
	}
}

// ReadJobFile reads a job file and proves it: its form, its seals, its signature where
// it has one, and that its events fit their plan.
func ReadJobFile(data []byte) (*JobFile, *job.State, error) {
	if len(data) > MaxJobFile {
		return nil, nil, fault.New(fault.TooLong, "file", "The file is larger than any job.", "Check that it is a job file.")
	}
	if key := doubled(data); key != "" {
		return nil, nil, fault.New(fault.BadFile, "file",
			fmt.Sprintf("It says %q twice in one place: two readers would read two records.", key),
			"Export the job again: do not trust this file.")
	}
	var f JobFile
	if err := json.Unmarshal(data, &f); err != nil || f.Format != fileFormat {
		return nil, nil, fault.New(
			fault.BadFile,
			"file",
			"This is not a job file.",
			"Export the job as JSON and take that file.",
		)
	}
	if f.Version < 1 || f.Version > fileVersion {
		return nil, nil, fault.New(fault.BadFile, "version", fmt.Sprintf("The file is of version %d.", f.Version),
			"Use the program that wrote it, or a newer one.")
	}
	if !job.GoodID(f.Job) {
		return nil, nil, fault.New(fault.BadFile, "job", "Its number cannot stand in an address.",
			"Letters, digits, dashes and dots make a job's number.")
	}
	if len(f.Events) == 0 {
		return nil, nil, fault.New(fault.BadFile, "events", "The file holds no events.", "Export the job again.")
	}
	// The seal is over the body's bytes as stored: without the white space a formatter
	// may have put in.
	for i := range f.Events {
		var b bytes.Buffer
		if err := json.Compact(&b, f.Events[i].Body); err != nil {
			return nil, nil, fault.New(fault.BadFile, "events", fmt.Sprintf("Event %d has no body.", i+1),
				"Export the job again.")
		}
		f.Events[i].Body = b.Bytes()
	}
	if f.Key != "" && !signed(f.Key, f.text(), f.Signature) {
		return nil, nil, fault.New(fault.BadFile, "signature",
			"The end of the job is not signed by the key named in the file.",
			"The file was cut or changed: do not trust it.")
	}
	if first := f.Events[0].Kind; first != (record.Started{}).Kind() {
		return nil, nil, fault.New(
			fault.BadFile,
			"events",
			"The file does not begin with the start of a job.",
			"Export the job again.",
		)
	}
	st, err := prove(f.Job, f.Events)
	if err != nil {
		return nil, nil, fault.New(fault.BadFile, "events", "In this file "+err.Error()+".",
			"It was changed after it was written, or by a newer program: do not trust it.")
	}
	return &f, st, nil
}

// Source is who imports a file, from where, and when.
type Source struct {
	By, From string
	At       time.Time
}

// Import takes a job file into this shop, unchanged; that it did, from where and
// whether the key of its seal is known here, is an act of the shop. A job that is here
// already with the same events is left as it is; one that differs is refused.
func (s *Store) Import(ctx context.Context, data []byte, src Source) (id string, added bool, err error) {
	f, st, err := ReadJobFile(data)
	if err != nil {
		return "", false, err
	}
	have, err := readLines(ctx, s.lines, f.Job)
	if err != nil {
		return "", false, err
	}
	if len(have) > 0 {
		return f.Job, false, differs(have, f.Events)
	}
	known := false
	if err := s.known(ctx, func(sh *shop) { _, known = sh.trusted[f.Key] }); err != nil {
		return "", false, err
	}
	last := f.Events[len(f.Events)-1]
	body := record.JobImported{
		Job:    f.Job,
		Events: len(f.Events),
		Hash:   last.Hash,
		From:   src.From,
		Key:    f.Key,
		Known:  known,
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	err = s.again(ctx, func() error {
		g := s.grow()
		for _, l := range f.Events {
			g.event(l)
		}
		if err := g.act(record.EventID("import:"+body.Hash), src.By, src.At, body); err != nil {
			return err
		}
		return s.write(ctx, g, func(tx *sql.Tx) error {
			return insertVehicle(ctx, tx, st.Vehicle, `ON CONFLICT DO NOTHING`)
		})
	})
	if unique(err) {
		return "", false, fault.New(fault.Conflict, "file", "An event of this file is in the shop already, under another "+
			"job.",
			"Look at both before anything is done.")
	}
	if err != nil {
		return "", false, err
	}
	s.lagging()
	return f.Job, true, nil
}

// differs compares a job that is here with the same one in a file.
func differs(have, file []record.Line) error {
	n := min(len(have), len(file))
	if have[n-1].Hash != file[n-1].Hash {
		return fault.New(
			fault.Conflict,
			"file",
			"Another job of this number is here and differs.",
			"Look at both before anything is done.",
		)
	}
	if len(file) <= len(have) {
		return nil
	}
	return fault.New(fault.Conflict, "file", "This job is here already, and the file goes on where it stopped.",
		"Work on a job in one shop at a time.")
}

func insertVehicle(ctx context.Context, tx execer, v vehicle.Vehicle, clash string) error {
	_, err := tx.ExecContext(ctx, `INSERT INTO vehicle (id, fleet, plate, vin, pattern, name, bay)
		VALUES (?,?,?,?,?,?,?) `+clash, v.ID, v.Fleet, v.Plate, v.VIN, v.Pattern, v.Name, v.Bay)
	return err
}

type execer interface {
	ExecContext(context.Context, string, ...any) (sql.Result, error)
}
