package store

import (
	"bytes"
	"context"
	"crypto/ed25519"
	"database/sql"
	"encoding/json"
	"errors"
	"os"
	"strings"
	"testing"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/record"
	"lugtak/core/vehicle"
	"lugtak/core/wrench"
)

// busy is a shop with a little of everything that is sealed.
func busy(t *testing.T) (*Store, string) {
	t.Helper()
	s, path := open(t)
	work(t, s, "1")
	work(t, s, "2")
	if _, err := s.AddPerson(ctx, "Aro", job.Technician, "2401", "foreman"); err != nil {
		t.Fatal(err)
	}
	if _, err := s.AddPerson(ctx, "Cass", job.Foreman, "5820", "foreman"); err != nil {
		t.Fatal(err)
	}
	if err := s.LogTool(ctx, "log-1", wrench.Logged{Tool: "w2", Kind: wrench.LogRetire, At: now, By: "Cass",
		Note: "dropped"}, nil); err != nil {
		t.Fatal(err)
	}
	if err := s.AddFile(ctx, "file-1", File{At: now, By: "Cass", Kind: "pattern", Text: "id: x"}); err != nil {
		t.Fatal(err)
	}
	c := vehicle.Correction{
		Pattern: "brask-t7",
		Joint:   "hub.front.unit",
		Recipe:  "150 Nm",
		Source:  "book",
		Why:     "read again",
		By:      "Cass",
		At:      now,
	}
	if err := s.Correct(ctx, "figure-1", c); err != nil {
		t.Fatal(err)
	}
	if err := s.settle(ctx); err != nil {
		t.Fatal(err)
	}
	r, err := Check(ctx, path)
	if err != nil || !r.OK() || r.Acts < 6 {
		t.Fatalf("before anything is changed: %+v, %v", r, err)
	}
	return s, path
}

// forge makes the chain over all events anew, with everything that needs no key.
func forge(t *testing.T, db *sql.DB) {
	t.Helper()
	rows, err := db.Query(`SELECT n, id, job, seq, at, by, kind, v, ask, body FROM event ORDER BY n`)
	if err != nil {
		t.Fatal(err)
	}
	type row struct {
		n int
		record.Line
	}
	var all []row
	for rows.Next() {
		var x row
		var body string
		if err := rows.Scan(&x.n, &x.ID, &x.Job, &x.Seq, &x.At, &x.By, &x.Kind, &x.V, &x.Ask, &body); err != nil {
			t.Fatal(err)
		}
		x.Body = json.RawMessage(body)
		all = append(all, x)
	}
	rows.Close()
	last := map[string]string{}
	link := ""
	for _, x := range all {
		x.Hash = x.Sum(last[x.Job])
		last[x.Job] = x.Hash
		link = chain(link, x.Hash)
		if _, err := db.Exec(`UPDATE event SET hash = ?, link = ? WHERE n = ?`, x.Hash, link, x.n); err != nil {
			t.Fatal(err)
		}
	}
	if _, err := db.Exec(`UPDATE head SET events = ?, event_link = ?`, len(all), link); err != nil {
		t.Fatal(err)
	}
}

// resign signs the head with another key, as one would who has the file alone.
func resign(t *testing.T, db *sql.DB) {
	t.Helper()
	_, key, _ := ed25519.GenerateKey(nil)
	h, _, err := readHead(ctx, db)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := db.Exec(`UPDATE head SET key = ?, signature = ?`, public(key), sign(key, h.text())); err != nil {
		t.Fatal(err)
	}
}

// Who goes round the triggers is found out, whatever they change.
func TestCheckFindsEveryTampering(t *testing.T) {
	sqlOf := func(q ...string) func(*testing.T, *sql.DB) {
		return func(t *testing.T, db *sql.DB) {
			for _, x := range q {
				if _, err := db.Exec(x); err != nil {
					t.Fatal(err)
				}
			}
		}
	}
	for name, tamper := range map[string]func(*testing.T, *sql.DB){
		"a changed body": sqlOf(`UPDATE event SET body = json_set(body, '$.text', 'nothing') WHERE kind = 'found' ` +
			`AND job = '1'`),
		"a changed name":         sqlOf(`UPDATE event SET by = 'somebody else' WHERE seq = 2 AND job = '1'`),
		"a changed time":         sqlOf(`UPDATE event SET at = '2026-11-24T09:00:00Z' WHERE seq = 3 AND job = '1'`),
		"an event of the middle": sqlOf(`DELETE FROM event WHERE seq = 3 AND job = '1'`),
		"the last event":         sqlOf(`DELETE FROM event WHERE n = (SELECT MAX(n) FROM event)`),
		"a whole job":            sqlOf(`DELETE FROM event WHERE job = '1'`),
		"events exchanged": sqlOf(`UPDATE event SET n = 1000 WHERE n = 2`, `UPDATE event SET n = 2 WHERE n = 3`,
			`UPDATE event SET n = 3 WHERE n = 1000`),
		"the whole chain made anew": func(t *testing.T, db *sql.DB) {
			sqlOf(`UPDATE event SET by = 'somebody else' WHERE seq = 2 AND job = '1'`)(t, db)
			forge(t, db)
		},
		"the chain made anew and signed with another key": func(t *testing.T, db *sql.DB) {
			sqlOf(`UPDATE event SET by = 'somebody else' WHERE seq = 2 AND job = '1'`)(t, db)
			forge(t, db)
			resign(t, db)
		},
		"the signed end taken away": sqlOf(`DELETE FROM head`),
		"a doctored list":           sqlOf(`UPDATE job SET owed = 0 WHERE id = '1'`),
		"a job in the list alone":   sqlOf(`INSERT INTO job VALUES ('9', 'v', 'p', 't', 0, 0, '', '', 0)`),
		"a log of the crib": sqlOf(`UPDATE act SET body = json_set(body, '$.note', 'as good as new') WHERE kind = ` +
			`'tool_logged'`),
		"a figure": sqlOf(`UPDATE act SET body = json_set(body, '$.recipe', '15 Nm') WHERE kind = ` +
			`'figure_corrected'`),
		"the last act":        sqlOf(`DELETE FROM act WHERE n = (SELECT MAX(n) FROM act)`),
		"a file of the Shelf": sqlOf(`UPDATE act SET by = 'somebody else' WHERE kind = 'file_shelved'`),
		"a role":              sqlOf(`UPDATE person SET role = 'foreman' WHERE name = 'Aro'`),
		"a PIN": sqlOf(`UPDATE person SET pin = (SELECT pin FROM person WHERE name = 'Cass') WHERE ` +
			`name = 'Aro'`),
		"somebody put in": sqlOf(`INSERT INTO person VALUES ('x', 'Dee', 'foreman', '', 1)`),
		"a follow-up of nothing": sqlOf(`INSERT INTO follow_up (job, vehicle, no, kind, title, at_km, due, closed) ` +
			`VALUES ('9', 'v', 1, 'wheel', '', 1, '~', 0)`),
	} {
		t.Run(name, func(t *testing.T) {
			s, path := busy(t)
			for _, trigger := range []string{"event_no_update", "event_no_delete", "act_no_update", "act_no_delete"} {
				if _, err := s.w.Exec(`DROP TRIGGER ` + trigger); err != nil {
					t.Fatal(err)
				}
			}
			tamper(t, s.w)
			if r, err := Check(ctx, path); err != nil || r.OK() {
				t.Errorf("not noticed: %+v, %v", r, err)
			}
		})
	}
}

// A file whose end was changed is not served until somebody signs for it, and that
// stands in it for ever.
func TestServeLooksAtTheEnd(t *testing.T) {
	s, path := busy(t)
	for _, q := range []string{`DROP TRIGGER event_no_delete`, `DELETE FROM event WHERE n = (SELECT MAX(n) FROM event)`} {
		if _, err := s.w.Exec(q); err != nil {
			t.Fatal(err)
		}
	}
	s.Close()
	if _, err := Open(ctx, path); fault.As(err) == nil || fault.As(err).Code != fault.Key {
		t.Fatalf("opened all the same: %v", err)
	}
	if err := Mend(ctx, path, "Cass", "the disk lost its last page"); err != nil {
		t.Fatal(err)
	}
	again, err := Open(ctx, path)
	if err != nil {
		t.Fatal(err)
	}
	again.Close()
	if r, err := Check(ctx, path); err != nil || !r.OK() || len(r.Mends) != 1 ||
		r.Mends[0].Why != "the disk lost its last page" {
		t.Errorf("%+v, %v", r, err)
	}
}

func TestLostKey(t *testing.T) {
	s, path := busy(t)
	s.Close()
	if err := os.Remove(KeyFile(path)); err != nil {
		t.Fatal(err)
	}
	if _, err := Open(ctx, path); fault.As(err) == nil || !strings.Contains(err.Error(), "not there") {
		t.Fatalf("opened without its key: %v", err)
	}
	if err := Mend(ctx, path, "Cass", "the key was lost with the old machine"); err != nil {
		t.Fatal(err)
	}
	again, err := Open(ctx, path)
	if err != nil {
		t.Fatal(err)
	}
	again.Close()
	if info, err := os.Stat(KeyFile(path)); err != nil || info.Mode().Perm() != 0o600 {
		t.Errorf("the key lies open: %v", err)
	}
}

// One job that is not what was sealed is marked, read and not written; all others work
// on, and lists show it.
func TestABrokenJobHarmsNoOther(t *testing.T) {
	for name, tamper := range map[string]string{
		"a seal that does not hold":  `UPDATE event SET by = 'somebody else' WHERE seq = 2 AND job = '1'`,
		"an event of unknown kind":   `UPDATE event SET kind = 'dreamt' WHERE seq = 3 AND job = '1'`,
		"a start that is no start":   `UPDATE event SET body = '{"plan": 7}' WHERE seq = 1 AND job = '1'`,
		"an event that is not there": `DELETE FROM event WHERE seq = 2 AND job = '1'`,
	} {
		t.Run(name, func(t *testing.T) {
			s, path := busy(t)
			for _, q := range []string{`DROP TRIGGER event_no_update`, `DROP TRIGGER event_no_delete`, tamper} {
				if _, err := s.w.Exec(q); err != nil {
					t.Fatal(err)
				}
			}
			s.Close()
			again, err := Open(ctx, path)
			if err != nil {
				t.Fatal(err)
			}
			defer again.Close()
			st, err := again.Job(ctx, "1")
			if err != nil || st.Broken == "" || st.Plan == nil {
				t.Fatalf("%+v, %v", st, err)
			}
			m := job.Meta{ID: "more", By: "a", Role: job.Technician, At: now.AddDate(0, 0, 1)}
			if _, _, err := again.Record(ctx, "1", m, job.Find{Text: "more"}); fault.As(err) == nil ||
				fault.As(err).Code != fault.Broken {
				t.Errorf("written to all the same: %v", err)
			}
			keep(t, again, "2", "2-more", job.Find{Text: "another job works on"})
			if rows, err := again.OpenJobs(ctx); err != nil || len(rows) != 2 {
				t.Errorf("%+v, %v", rows, err)
			}
			if err := again.Rebuild(ctx, nil); err != nil {
				t.Fatal(err)
			}
			rows, err := again.OpenJobs(ctx)
			if err != nil || len(rows) != 2 || (rows[0].Broken == "") == (rows[1].Broken == "") {
				t.Errorf("%+v, %v", rows, err)
			}
		})
	}
}

// What this program fails at is told as its own fault, never as a forged record.
func TestTheProgramsOwnFaultIsNoForgery(t *testing.T) {
	st, err := replay([]job.Event{{Seq: 1, Body: record.Found{Text: "x"}}, {Seq: 2}})
	if !errors.Is(err, errUnread) || st.Seq != 1 {
		t.Fatalf("%v at %d", err, st.Seq)
	}
	if says := whyBroken(err); strings.Contains(says, "sealed:") || !strings.Contains(says, "This program cannot read") {
		t.Error(says)
	}
}

// The same id with other content is a conflict that tells both; the same with the same
// is harmless.
func TestAnIDStandsForOneThing(t *testing.T) {
	s, _ := busy(t)
	at := now.AddDate(0, 0, 1)
	meta := func(id string) job.Meta {
		return job.Meta{ID: record.EventID(id), By: "a", Role: job.Technician, At: at}
	}
	conflict := func(what string, err error, says ...string) {
		t.Helper()
		f := fault.As(err)
		if f == nil || f.Code != fault.Conflict {
			t.Errorf("%s: %v", what, err)
			return
		}
		for _, x := range says {
			if !strings.Contains(f.Detail, x) {
				t.Errorf("%s: %q does not tell %q", what, f.Detail, x)
			}
		}
	}
	find := func(in, id, text string) error {
		_, _, err := s.Record(ctx, in, meta(id), job.Find{Text: text})
		return err
	}
	if err := find("1", "x", "one"); err != nil {
		t.Fatal(err)
	}
	if err := find("1", "x", "one"); err != nil {
		t.Errorf("a repeat: %v", err)
	}
	conflict("another finding", find("1", "x", "two"), "found", "a")
	conflict("another job", find("2", "x", "one"), "job 1", "job 2")
	if err := find("1", strings.Repeat("x", 5000), "one"); fault.As(err) == nil {
		t.Errorf("an endless id: %v", err)
	}
	l := wrench.Logged{Tool: "w2", Kind: wrench.LogRetire, At: now, By: "Cass", Note: "dropped"}
	if err := s.LogTool(ctx, "log-1", l, nil); err != nil {
		t.Errorf("a repeat: %v", err)
	}
	l.Note = "nothing happened"
	conflict("another log", s.LogTool(ctx, "log-1", l, nil), "tool_logged", "Cass")
	conflict("another file",
		s.AddFile(ctx, "file-1", File{At: now, By: "Cass", Kind: "pattern", Text: "id: y"}), "file_shelved")
	c := vehicle.Correction{
		Pattern: "brask-t7",
		Joint:   "hub.front.unit",
		Recipe:  "15 Nm",
		Source:  "book",
		Why:     "read again",
		By:      "Cass",
		At:      now,
	}
	conflict("another figure", s.Correct(ctx, "figure-1", c), "figure_corrected")
}

// A figure struck on the sheet reaches every open job that uses it, once.
func TestStruckFigureReachesOpenJobs(t *testing.T) {
	s, _ := busy(t)
	st, err := s.Job(ctx, "1")
	if err != nil {
		t.Fatal(err)
	}
	j := st.Plan.Joint("hub.FL.knuckle")
	c := vehicle.Correction{
		Pattern: "ostrel-c22",
		Joint:   j.Sheet,
		Recipe:  "62 Nm + 80°",
		Source:  "book 2",
		Why:     "misread",
		By:      "Cass",
		At:      now.AddDate(0, 0, 1),
	}
	for range 2 {
		if err := s.Correct(ctx, "figure-2", c); err != nil {
			t.Fatal(err)
		}
	}
	for _, id := range []string{"1", "2"} {
		st, err := s.Job(ctx, id)
		if err != nil || len(st.Figures) != 1 || st.Figures[0].Joint != j.ID || st.Figures[0].Recipe != "62 Nm + 80°" {
			t.Errorf("job %s: %+v, %v", id, st.Figures, err)
		}
	}
}

// The demo file of the first release opens, means the same and proves itself.
func TestFileOfTheFirstRelease(t *testing.T) {
	path := firstRelease(t)
	s, err := Open(ctx, path)
	if err != nil {
		t.Fatal(err)
	}
	if rows, err := s.OpenJobs(ctx); err != nil || len(rows) != 6 {
		t.Errorf("%d open jobs, %v", len(rows), err)
	}
	if rows, err := s.SignedJobs(ctx, 9); err != nil || len(rows) != 1 {
		t.Errorf("%d signed jobs, %v", len(rows), err)
	}
	log, err := s.CribLog(ctx)
	if err != nil || len(log) != 7 || log[6].Note != "dropped" || log[6].By != "Foreman Cass" ||
		len(log[0].Points) != 3 {
		t.Errorf("%d lines in the crib, %v", len(log), err)
	}
	if cs, err := s.Corrections(ctx, "brask-t7"); err != nil || len(cs) != 1 || cs[0].Recipe != "48 Nm" ||
		cs[0].By != "Foreman Cass" {
		t.Errorf("%+v, %v", cs, err)
	}
	if files, err := s.Files(ctx); err != nil || len(files) != 1 || files[0].Kind != "operation" {
		t.Errorf("%d files, %v", len(files), err)
	}
	if p, err := s.Prove(ctx, "Foreman Cass", "5820", Asker{Address: "here"}, now); err != nil || p.Role != job.Foreman {
		t.Errorf("%+v, %v", p, err)
	}
	st, err := s.Job(ctx, "demo-half-done")
	if err != nil || st.Broken != "" || len(st.Owed()) != 15 {
		t.Errorf("%v", err)
	}
	// It goes on where it stood, and the new lines stand behind the old.
	m := job.Meta{ID: "more", By: "a", Role: job.Technician, At: now.AddDate(0, 0, 1)}
	if _, _, err := s.Record(ctx, "demo-half-done", m, job.Find{Text: "goes on"}); err != nil {
		t.Fatal(err)
	}
	s.Close()
	if r, err := Check(ctx, path); err != nil || !r.OK() || r.Jobs != 7 {
		t.Errorf("%+v, %v", r, err)
	}
}

// A file of the first release is proved as it lies there, and stays as it is; one that was changed is found out.
func TestCheckOfTheFirstRelease(t *testing.T) {
	path := firstRelease(t)
	before, err := os.ReadFile(path)
	if err != nil {
		t.Fatal(err)
	}
	r, err := Check(ctx, path)
	if err != nil || !r.OK() || !r.Older || r.KeyBeside || r.Key != "" || r.Jobs != 7 {
		t.Errorf("%+v, %v", r, err)
	}
	// Whoever forges such a file beside a shop's key borrows no signature by it.
	s, own := open(t)
	s.Close()
	key, err := os.ReadFile(KeyFile(own))
	if err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(KeyFile(path), key, 0o600); err != nil {
		t.Fatal(err)
	}
	if r, err := Check(ctx, path); err == nil || !strings.Contains(err.Error(), "no signed end in it") {
		t.Errorf("beside a key: %+v, %v", r, err)
	}
	if err := os.Remove(KeyFile(path)); err != nil {
		t.Fatal(err)
	}
	if after, err := os.ReadFile(path); err != nil || !bytes.Equal(before, after) {
		t.Errorf("the check changed it: %v", err)
	}
	db, err := sql.Open("sqlite", "file:"+path)
	if err != nil {
		t.Fatal(err)
	}
	_, err = db.ExecContext(ctx, `DROP TRIGGER event_no_update;
		UPDATE event SET body = replace(body, 'Technician', 'Technicien')`)
	if err != nil {
		t.Fatal(err)
	}
	if err := db.Close(); err != nil {
		t.Fatal(err)
	}
	if r, err := Check(ctx, path); err == nil && r.OK() {
		t.Errorf("a changed one holds: %+v", r)
	}
}

// firstRelease makes the file of the first release from its text.
func firstRelease(t *testing.T) string {
	t.Helper()
	text, err := os.ReadFile("testdata/first-release.sql")
	if err != nil {
		t.Fatal(err)
	}
	path := t.TempDir() + "/first.db"
	db, err := sql.Open("sqlite", "file:"+path)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	if _, err := db.ExecContext(context.Background(), string(text)); err != nil {
		t.Fatal(err)
	}
	return path
}
