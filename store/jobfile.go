package store

import (
	"bytes"
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"

	"lugtak/core/fault"
	"lugtak/core/job"
)

// JobFile is a whole job as one JSON text, with its own proof.
type JobFile struct {
	Format  string   `json:"format"`
	Version int      `json:"version"`
	Job     string   `json:"job"`
	Events  []Sealed `json:"events"`
}

const (
	fileFormat  = "lugtak-job"
	fileVersion = 1
	// MaxJobFile bounds what is read: some 10 000 traces.
	MaxJobFile = 64 << 20
)

// Journal reads a job's events with their hashes.
func (s *Store) Journal(ctx context.Context, id string) (*JobFile, error) {
	f := &JobFile{Format: fileFormat, Version: fileVersion, Job: id}
	rows, err := s.r.QueryContext(ctx, `SELECT id, job, seq, at, by, kind, body, hash FROM event WHERE job = ? ORDER BY seq`, id)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	for rows.Next() {
		var r Sealed
		var body string
		if err := rows.Scan(&r.ID, &r.Job, &r.Seq, &r.At, &r.By, &r.Kind, &body, &r.Hash); err != nil {
			return nil, err
		}
		r.Body = json.RawMessage(body)
		f.Events = append(f.Events, r)
	}
	if err := rows.Err(); err != nil {
		return nil, err
	}
	if len(f.Events) == 0 {
		return nil, ErrNoJob
	}
	if _, err := f.decode(); err != nil {
		return nil, err
	}
	return f, nil
}

func (f *JobFile) decode() ([]job.Event, error) {
	out := make([]job.Event, 0, len(f.Events))
	for _, r := range f.Events {
		e, err := r.event()
		if err != nil {
			return nil, fmt.Errorf("job %s, event %d: %w", f.Job, r.Seq, err)
		}
		out = append(out, e)
	}
	return out, nil
}

// events are the decoded events of a file that Journal has read.
func (f *JobFile) events() []job.Event {
	out, _ := f.decode()
	return out
}

// Text is the file as it is written: stable, one event a line.
func (f *JobFile) Text() ([]byte, error) {
	var b bytes.Buffer
	fmt.Fprintf(&b, "{\"format\":%q,\"version\":%d,\"job\":%q,\"events\":[", f.Format, f.Version, f.Job)
	enc := json.NewEncoder(&b)
	enc.SetEscapeHTML(false)
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

// Verify checks the file's own chain: order, hashes, and that the last state
// can be reached.
func (f *JobFile) Verify() error {
	if len(f.Events) == 0 {
		return fault.New("bad_file", "events", "The file holds no events.", "Export the job again.")
	}
	prev := ""
	for i, r := range f.Events {
		if r.Job != f.Job || r.Seq != i+1 {
			return fault.New("bad_file", "events", fmt.Sprintf("Event %d does not follow the one before it.", i+1), "The file was cut or changed: export the job again.")
		}
		if r.sum(prev) != r.Hash {
			return fault.New("bad_file", "events", fmt.Sprintf("Event %d does not match its seal.", i+1), "The file was changed after it was written: do not trust it.")
		}
		prev = r.Hash
	}
	return nil
}

// Import takes a job file into this shop, unchanged. A job that is here already
// with the same events is left as it is; one that differs is refused.
func (s *Store) Import(ctx context.Context, data []byte) (id string, added bool, err error) {
	if len(data) > MaxJobFile {
		return "", false, fault.New("too_long", "file", "The file is larger than any job.", "Check that it is a job file.")
	}
	var f JobFile
	if err := json.Unmarshal(data, &f); err != nil || f.Format != fileFormat {
		return "", false, fault.New("bad_file", "file", "This is not a job file.", "Export the job as JSON and take that file.")
	}
	if f.Version != fileVersion {
		return "", false, fault.New("bad_file", "version", fmt.Sprintf("The file is of version %d.", f.Version), "Use the program that wrote it, or a newer one.")
	}
	// The seal is over the body's bytes as stored: without the white space a
	// formatter may have put in.
	for i := range f.Events {
		var b bytes.Buffer
		if err := json.Compact(&b, f.Events[i].Body); err != nil {
			return "", false, fault.New("bad_file", "events", fmt.Sprintf("Event %d has no body.", i+1), "Export the job again.")
		}
		f.Events[i].Body = b.Bytes()
	}
	if err := f.Verify(); err != nil {
		return "", false, err
	}
	events, err := f.decode()
	if err != nil {
		return "", false, fault.New("bad_file", "events", err.Error(), "Use the program that wrote it, or a newer one.")
	}
	if _, ok := events[0].Body.(job.Started); !ok {
		return "", false, fault.New("bad_file", "events", "The file does not begin with the start of a job.", "Export the job again.")
	}
	if err := sound(events); err != nil {
		return "", false, err
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	have, err := s.Journal(ctx, f.Job)
	if err == nil {
		n := min(len(have.Events), len(f.Events))
		if have.Events[n-1].Hash != f.Events[n-1].Hash {
			return "", false, fault.New("conflict", "file", "Another job of this number is here and differs.", "Look at both before anything is done.")
		}
		if len(f.Events) <= len(have.Events) {
			return f.Job, false, nil
		}
		return "", false, fault.New("conflict", "file", "This job is here already, and the file goes on where it stopped.", "Work on a job in one shop at a time.")
	} else if !errors.Is(err, ErrNoJob) {
		return "", false, err
	}
	st := job.Replay(events)
	if err := s.again(ctx, func() error { return s.take(ctx, &f, st) }); err != nil {
		return "", false, err
	}
	return f.Job, true, nil
}

// take writes a verified job file in one transaction.
func (s *Store) take(ctx context.Context, f *JobFile, st *job.State) error {
	tx, err := s.w.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	defer tx.Rollback()
	link := s.link
	for _, r := range f.Events {
		link, err = s.write(ctx, tx.StmtContext(ctx, s.insert), r, link)
		if errors.Is(err, errMoved) {
			return err
		} else if err != nil {
			return fault.New("conflict", "file", "An event of this file is in the shop already, under another job.", "Look at both before anything is done.")
		}
	}
	v := st.Vehicle
	if _, err := tx.ExecContext(ctx, `INSERT INTO vehicle (id, fleet, plate, vin, pattern, name, bay) VALUES (?,?,?,?,?,?,?) ON CONFLICT DO NOTHING`,
		v.ID, v.Fleet, v.Plate, v.VIN, v.Pattern, v.Name, v.Bay); err != nil {
		return err
	}
	if err := s.projectJob(ctx, tx, st); err != nil {
		return err
	}
	if err := tx.Commit(); err != nil {
		return err
	}
	s.link = link
	return nil
}

// sound replays the events guardedly: a file whose seals are right may still
// speak of steps its plan does not have.
func sound(events []job.Event) (err error) {
	defer func() {
		if recover() != nil {
			err = fault.New("bad_file", "events", "The events do not fit the plan they begin with.", "Export the job again.")
		}
	}()
	if job.Replay(events).Plan == nil {
		return fault.New("bad_file", "events", "The file has no plan.", "Export the job again.")
	}
	return nil
}

// Check verifies the whole file: SQLite's own structure, the chain over all
// rows, every job's chain, and that the lists say what the journal says.
func Check(ctx context.Context, path string) (jobs, events int, err error) {
	r, err := openReader(path)
	if err != nil {
		return 0, 0, err
	}
	defer r.Close()
	var word string
	if err := r.QueryRowContext(ctx, `PRAGMA integrity_check`).Scan(&word); err != nil {
		return 0, 0, fmt.Errorf("%s is not a shop file: %w", path, err)
	} else if word != "ok" {
		return 0, 0, fmt.Errorf("the file is damaged: %s", word)
	}
	rows, err := r.QueryContext(ctx, `SELECT job, hash, link FROM event ORDER BY n`)
	if err != nil {
		return 0, 0, fmt.Errorf("%s is not a shop file: %w", path, err)
	}
	defer rows.Close()
	link := ""
	for rows.Next() {
		var id, hash, stored string
		if err := rows.Scan(&id, &hash, &stored); err != nil {
			return 0, 0, err
		}
		if link = chain(link, hash); link != stored {
			return 0, 0, fmt.Errorf("row %d of the journal (job %s) is not the one that stood there", events+1, id)
		}
		events++
	}
	if err := rows.Err(); err != nil {
		return 0, 0, err
	}
	s := &Store{r: r}
	ids, err := r.QueryContext(ctx, `SELECT e.job, COALESCE(j.owed, -1), COALESCE(j.signed, 0), COALESCE(j.title, '') FROM (SELECT DISTINCT job FROM event) e LEFT JOIN job j ON j.id = e.job ORDER BY e.job`)
	if err != nil {
		return 0, 0, err
	}
	defer ids.Close()
	for ids.Next() {
		var id string
		var list row
		if err := ids.Scan(&id, &list.owed, &list.signed, &list.title); err != nil {
			return 0, 0, err
		}
		f, err := s.Journal(ctx, id)
		if err != nil {
			return 0, 0, err
		}
		if err := f.Verify(); err != nil {
			return 0, 0, fmt.Errorf("job %s: %w", id, err)
		}
		if want := listed(job.Replay(f.events())); list != want {
			return 0, 0, fmt.Errorf("job %s: the list says %q with %d owed, the journal says %q with %d", id, list.title, list.owed, want.title, want.owed)
		}
		jobs++
	}
	return jobs, events, errors.Join(ids.Err(), lost(ctx, r))
}

// lost finds jobs in the list that the journal does not have.
func lost(ctx context.Context, r *sql.DB) error {
	var id string
	err := r.QueryRowContext(ctx, `SELECT id FROM job WHERE id NOT IN (SELECT job FROM event)`).Scan(&id)
	if errors.Is(err, sql.ErrNoRows) {
		return nil
	}
	if err != nil {
		return err
	}
	return fmt.Errorf("job %s is in the list and not in the journal", id)
}

// Trace reads the samples of one recorded pull: seconds, degrees, N·m.
func (s *Store) Trace(ctx context.Context, event string) ([][3]float64, error) {
	var body string
	err := s.r.QueryRowContext(ctx, `SELECT body FROM event WHERE id = ? AND kind = 'pulled'`, event).Scan(&body)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	} else if err != nil {
		return nil, err
	}
	var p job.Pulled
	err = json.Unmarshal([]byte(body), &p)
	return p.Trace, err
}

// Photo reads the photograph of a finding; nil where it has none.
func (s *Store) Photo(ctx context.Context, jobID, event string) ([]byte, error) {
	var body string
	err := s.r.QueryRowContext(ctx, `SELECT body FROM event WHERE id = ? AND job = ? AND kind = 'found'`, event, jobID).Scan(&body)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	} else if err != nil {
		return nil, err
	}
	var f job.Found
	err = json.Unmarshal([]byte(body), &f)
	return f.Photo, err
}

// LastJobs lists the jobs of a vehicle, newest first, as states.
func (s *Store) LastJobs(ctx context.Context, vehicle string, most int) ([]*job.State, error) {
	rows, err := s.r.QueryContext(ctx, `SELECT id FROM job WHERE vehicle = ? ORDER BY started DESC LIMIT ?`, vehicle, most)
	if err != nil {
		return nil, err
	}
	var ids []string
	for rows.Next() {
		var id string
		if err := rows.Scan(&id); err != nil {
			rows.Close()
			return nil, err
		}
		ids = append(ids, id)
	}
	if err := errors.Join(rows.Err(), rows.Close()); err != nil {
		return nil, err
	}
	var out []*job.State
	for _, id := range ids {
		st, err := s.Job(ctx, id)
		if err != nil {
			return nil, err
		}
		out = append(out, st)
	}
	return out, nil
}

// StepTimes gathers how long the steps of the last jobs signed took, in minutes, by
// owner.step.
func (s *Store) StepTimes(ctx context.Context) (map[string][]float64, error) {
	rows, err := s.Jobs(ctx, true, timedJobs)
	if err != nil {
		return nil, err
	}
	out := map[string][]float64{}
	for _, r := range rows {
		st, err := s.Job(ctx, r.ID)
		if err != nil {
			return nil, err
		}
		for k, m := range st.Took() {
			out[k] = append(out[k], m...)
		}
	}
	return out, nil
}

// timedJobs are as many as say something of how the shop works now.
const timedJobs = 60
