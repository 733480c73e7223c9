package store

import (
	"database/sql"
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"

	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/record"
	"lugtak/core/vehicle"
)

// stocked is a shop with something in every list and table that follows from a journal.
func stocked(t *testing.T) string {
	t.Helper()
	s, path := busy(t)
	defer s.Close()
	v := vehicle.Vehicle{Fleet: "P-9", Plate: "K 1", Pattern: "brask-t7", Name: "Brask"}
	v, err := s.AddVehicle(ctx, v)
	if err != nil {
		t.Fatal(err)
	}
	m := job.Meta{ID: "v-start", By: "Aro", Role: job.Technician, At: now}
	begin := job.Start{Job: "v", Vehicle: v, Complaint: "knocks", OdometerKM: 7}
	if _, _, err := s.Record(ctx, "v", m, begin); err != nil {
		t.Fatal(err)
	}
	keep(t, s, "v", "v-found", job.Find{Text: "mirror cracked"})
	if _, err := s.MakeToolToken(ctx, "w2", "Cass", now); err != nil {
		t.Fatal(err)
	}
	if _, err := s.LetScriptIn(ctx, "office", listing.ScopeRead, "Cass", now); err != nil {
		t.Fatal(err)
	}
	if _, err := s.AddHook(ctx, "http://127.0.0.1:1/", []string{"signed"}, "Cass", now); err != nil {
		t.Fatal(err)
	}
	if err := s.settle(ctx); err != nil {
		t.Fatal(err)
	}
	return path
}

// Whatever is put, taken or changed by SQL in what follows from a journal is found.
func TestEveryListIsCompared(t *testing.T) {
	path := stocked(t)
	if r, err := Check(ctx, path); err != nil || !r.OK() {
		t.Fatalf("before anything is changed: %+v %v", r, err)
	}
	tampers := []string{
		`UPDATE projection SET upto = upto + 1`,
		`UPDATE job SET signed = 1 WHERE id = 'v'`,
		`UPDATE job SET owed = 0, title = 'all well' WHERE id = '1'`,
		`UPDATE vehicle SET plate = 'K 2' WHERE fleet = 'P-9'`,
		`UPDATE tool_token SET tool = 'w3'`,
		`UPDATE tool_token SET token = 'another'`,
		`INSERT INTO tool_token VALUES ('mine', 'w9')`,
		`UPDATE script_token SET scope = 'write'`,
		`INSERT INTO script_token (id, token, name, scope, by, made) VALUES ('x', 'y', 'z', 'write', 'Cass', '')`,
		`DELETE FROM script_token`,
		`UPDATE webhook SET url = 'http://elsewhere/'`,
		`UPDATE webhook SET secret = 'mine'`,
		`UPDATE webhook SET kinds = ''`,
		`DELETE FROM webhook`,
		`UPDATE search SET body = 'nothing' WHERE rowid = 1`,
	}
	inserts := map[string]string{
		"fastener":     `VALUES ('1', 'a', 'b', 'c', 'd', 'e', 'f', 0)`,
		"job_tool":     `VALUES ('1', 'w9', 4, '')`,
		"part":         `VALUES ('1', 'k', 't', 'there')`,
		"finding":      `VALUES ('1', '1', 'all well', '', 'Aro')`,
		"photograph":   `VALUES ('1', 'e', 'v', 'hub.front.knuckle@FL', '', 'Aro')`,
		"follow_up":    `VALUES ('1', 'v', 1, 'k', 't', 0, '~', 1)`,
		"step_time":    `VALUES (1, '1', 's', 1.5, '')`,
		"release_try":  `VALUES ('1', 't', 0, 'k', 'r', 0.5, 0.5, 0.25, 1)`,
		"suspicion":    `VALUES ('1', 's', 0.5, 0.5, 1)`,
		"measure":      `VALUES ('1', 99, 0, '{}')`,
		"outcome":      `VALUES ('1', 'v', '', '', '', 0, 0, 0, 0)`,
		"tool":         `VALUES ('w9', 3)`,
		"opened":       `VALUES ('1', 'j', 's', 1.5, 't', '')`,
		"seized_past":  `VALUES ('s', 3, 1)`,
		"release_past": `VALUES ('k', 'r', 1, 1, 0.5, 0.25)`,
		"job":          `VALUES ('ghost', 'v', 'p', 't', 0, 1, '', '', 0)`,
	}
	for table, values := range inserts {
		tampers = append(tampers, `INSERT INTO `+table+` `+values)
	}
	for _, l := range lists {
		if _, there := inserts[l.name]; !there {
			t.Errorf("nobody tampers with %s", l.name)
		}
	}
	for _, q := range tampers {
		copied := path + ".tampered"
		for _, end := range []string{"", ".key"} {
			if err := copyFile(path+end, copied+end); err != nil {
				t.Fatal(err)
			}
		}
		db, err := sql.Open("sqlite", source(copied, nil))
		if err != nil {
			t.Fatal(err)
		}
		res, err := db.Exec(q)
		if err != nil {
			t.Fatalf("%s: %v", q, err)
		}
		n, err := res.RowsAffected()
		db.Close()
		if err != nil || n == 0 {
			t.Errorf("%s changes nothing: %v", q, err)
		}
		if r, err := Check(ctx, copied); err != nil || r.OK() {
			t.Errorf("%s: %+v %v", q, r, err)
		}
	}
}

// A file put back in time holds; a head that was written down since says what it lacks.
func TestAHeadFindsAFilePutBackInTime(t *testing.T) {
	s, path := busy(t)
	backup := path + ".old"
	if err := Backup(ctx, path, backup); err != nil {
		t.Fatal(err)
	}
	keep(t, s, "1", "later", job.Find{Text: "more"})
	if err := s.SetActive(ctx, personID(t, s), false, "Cass"); err != nil {
		t.Fatal(err)
	}
	at, err := s.HeadAt(ctx, "1")
	if err != nil {
		t.Fatal(err)
	}
	s.Close()
	now, err := Check(ctx, path)
	if err != nil || !now.OK() {
		t.Fatalf("%+v %v", now, err)
	}
	heads := strings.Fields(now.Heads)
	if len(heads) != 2 || !slices.Contains(heads, at) {
		t.Fatalf("%q does not name %s", now.Heads, at)
	}
	old, err := Check(ctx, backup)
	if err != nil || !old.OK() {
		t.Fatalf("the old one by itself: %+v %v", old, err)
	}
	for _, h := range heads {
		if r, err := Check(ctx, path, append(strings.Fields(old.Heads), h)...); err != nil || !r.OK() {
			t.Errorf("%s in the file of now: %+v %v", h, r, err)
		}
		if r, err := Check(ctx, backup, h); err != nil || r.OK() {
			t.Errorf("%s in the file put back: %+v %v", h, r, err)
		}
		wrong := h[:len(h)-1] + string("0123456789abcdef"[(strings.IndexByte("0123456789abcdef", h[len(h)-1])+1)%16])
		if r, err := Check(ctx, path, wrong); err != nil || r.OK() {
			t.Errorf("%s: %+v %v", wrong, r, err)
		}
	}
	if _, err := Check(ctx, path, "E12"); err == nil || !strings.Contains(err.Error(), "no head") ||
		strings.Contains(err.Error(), "not a shop file") {
		t.Error("half a head was taken")
	}
}

func personID(t *testing.T, s *Store) string {
	t.Helper()
	all, err := s.People(ctx)
	if err != nil || len(all) == 0 {
		t.Fatal(all, err)
	}
	return all[0].ID
}

// A shop that is served while it is checked is no forgery: what goes on meanwhile is left to the
// next check, and what stands still is compared.
func TestCheckBesideAServer(t *testing.T) {
	s, path := busy(t)
	done, stop := make(chan error), make(chan struct{})
	go func() {
		for i := 0; ; i++ {
			select {
			case <-stop:
				done <- nil
				return
			default:
			}
			m := job.Meta{ID: record.EventID(fmt.Sprint("live-", i)), By: "Aro", Role: job.Technician, At: now}
			if _, _, err := s.Record(ctx, "1", m, job.Find{Text: "more"}); err != nil {
				done <- err
				return
			}
			if err := s.settle(ctx); err != nil {
				done <- err
				return
			}
		}
	}()
	for range 25 {
		if r, err := Check(ctx, path); err != nil || !r.OK() {
			t.Errorf("%+v %v", r, err)
		}
	}
	close(stop)
	if err := <-done; err != nil {
		t.Fatal(err)
	}
}

// A file whose writer was killed before it was a shop's in use has a journal beside it that a mere
// reader cannot take back: it is taken back, not called damaged. A restore leaves none of it beside
// the file it brings.
func TestAHalfWrittenFileIsTakenBack(t *testing.T) {
	s, path := busy(t)
	s.Close()
	db, err := sql.Open("sqlite", source(path, nil))
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	db.SetMaxOpenConns(1)
	cut := path + ".cut"
	for _, q := range []string{`PRAGMA journal_mode = DELETE`, `PRAGMA cache_size = 2`, `BEGIN IMMEDIATE`,
		`INSERT INTO guess SELECT 'half ' || value, 0, printf('%.900c', 'x') FROM generate(400)`} {
		q = strings.Replace(q, "generate(400)",
			"(WITH RECURSIVE c(value) AS (SELECT 1 UNION ALL SELECT value + 1 FROM c WHERE value < 400) SELECT value FROM c)", 1)
		if _, err := db.Exec(q); err != nil {
			t.Fatalf("%s: %v", q, err)
		}
	}
	for _, end := range []string{"", "-journal", ".key"} { // as a kill leaves them
		if err := copyFile(path+end, cut+end); err != nil {
			t.Fatal(err)
		}
	}
	aside, err := setAside(cut, now)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := os.Stat(cut + "-journal"); err == nil {
		t.Error("the journal of a file that was set aside lies beside the next one")
	}
	r, err := Check(ctx, aside)
	if err != nil || !r.OK() || r.Events == 0 {
		t.Errorf("%+v %v", r, err)
	}
}
