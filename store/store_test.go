package store

import (
	"bytes"
	"context"
	"fmt"
	"path/filepath"
	"reflect"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/plan"
	"lugtak/core/record"
	"lugtak/core/vehicle"
	"lugtak/demo/files"
	"lugtak/library"
)

var (
	ctx = context.Background()
	now = time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
)

func open(t testing.TB) (*Store, string) {
	t.Helper()
	path := filepath.Join(t.TempDir(), "shop.db")
	s, err := Open(ctx, path)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	return s, path
}

// hub is the work of the tests' jobs; it is compiled once.
var hub = sync.OnceValues(func() (*library.Library, plan.Plan) {
	l, err := library.Load("", files.FS)
	if err != nil {
		panic(err)
	}
	plan, err := l.Plan("ostrel-c22", library.Ask{Tasks: []plan.Task{{Operation: "front-hub-unit", Corner: "FL"}}})
	if err != nil {
		panic(err)
	}
	return l, plan
})

func start(t testing.TB, s *Store, id string) {
	t.Helper()
	l, plan := hub()
	v := vehicle.Vehicle{ID: "v-" + id, Fleet: "Q-" + id, Pattern: "ostrel-c22", Name: "Ostrel C22 van"}
	keep(t, s, id, "start:"+id, job.Start{
		Job:        id,
		Vehicle:    v,
		Complaint:  "hum at speed",
		OdometerKM: 88123,
		Plan:       plan,
		House:      l.House(),
	})
}

// clock is when the next record of a test is made: hands take a moment for each.
var clock atomic.Int64

func keep(t testing.TB, s *Store, jobID, id string, c job.Command) *job.State {
	t.Helper()
	at := now.Add(time.Duration(clock.Add(1)) * time.Second)
	st, _, err := s.Record(ctx, jobID, job.Meta{ID: record.EventID(id), By: "technician A", Role: job.Technician, At: at},
		c)
	if err != nil {
		t.Fatalf("%s: %v", id, err)
	}
	return st
}

// work does a little of the job, so that its journal has several kinds of event.
func work(t testing.TB, s *Store, id string) {
	t.Helper()
	start(t, s, id)
	keep(t, s, id, id+"-1", job.KeepStep{Step: "chocks.chock"})
	keep(t, s, id, id+"-2", job.Handle{Step: "wheel.crack.FL"})
	keep(t, s, id, id+"-3", job.Find{Text: "a wet connector <behind> the \"wing\" & a nut ≥ loose"})
}

// sound says what is wrong with a shop file of so many jobs and events.
func sound(t *testing.T, path string, jobs, events int) {
	t.Helper()
	r, err := Check(ctx, path)
	if err != nil || !r.OK() || r.Jobs != jobs || r.Events != events {
		t.Errorf("%+v, %v", r, err)
	}
}

func TestRecordSurvivesReopening(t *testing.T) {
	s, path := open(t)
	work(t, s, "1")
	s.Close()
	again, err := Open(ctx, path)
	if err != nil {
		t.Fatal(err)
	}
	defer again.Close()
	st, err := again.Job(ctx, "1")
	if err != nil || st.Seq != 4 || len(st.Owed()) != 5 || st.Findings[0].By != "technician A" {
		t.Fatalf("%+v, %v", st, err)
	}
	sound(t, path, 1, 4)
}

func TestRepeatIsHarmless(t *testing.T) {
	s, path := open(t)
	start(t, s, "1")
	var wg sync.WaitGroup
	for range 8 {
		wg.Go(func() {
			m := job.Meta{ID: "once", By: "a", Role: job.Technician, At: now.Add(time.Hour)}
			if _, _, err := s.Record(ctx, "1", m, job.KeepStep{Step: "chocks.chock"}); err != nil {
				t.Error(err)
			}
		})
	}
	wg.Wait()
	sound(t, path, 1, 2)
}

func TestTriggersRefuseChange(t *testing.T) {
	s, _ := open(t)
	work(t, s, "1")
	for _, q := range []string{
		`UPDATE event SET by = 'somebody else'`,
		`DELETE FROM event`,
		`INSERT OR REPLACE INTO event (n, id, job, seq, at, by, kind, body, hash, link)
			SELECT n, id, job, seq, at, 'x', kind, body, hash, link FROM event WHERE seq = 2`,
		`INSERT INTO event (id, job, seq, at, by, kind, body, hash, link) VALUES ('new', '1', 3, '', '', 'found', '{}', ` +
			`'', '')`,
	} {
		if _, err := s.w.Exec(q); err == nil || !strings.Contains(err.Error(), "journal") {
			t.Errorf("%s: %v", q, err)
		}
	}
}

func TestExportImportExport(t *testing.T) {
	s, _ := open(t)
	work(t, s, "1")
	f, err := s.Journal(ctx, "1")
	if err != nil {
		t.Fatal(err)
	}
	text, err := f.Text()
	if err != nil {
		t.Fatal(err)
	}
	other, path := open(t)
	work(t, other, "7")
	from := Source{By: "foreman", From: "a stick", At: now}
	id, added, err := other.Import(ctx, text, from)
	if err != nil || id != "1" || !added {
		t.Fatalf("%s %v %v", id, added, err)
	}
	if _, added, err := other.Import(ctx, text, from); err != nil || added {
		t.Errorf("a second import: %v %v", added, err)
	}
	g, err := other.Journal(ctx, "1")
	if err != nil {
		t.Fatal(err)
	}
	if !reflect.DeepEqual(f.Events, g.Events) {
		t.Error("the events changed on their way through the other shop")
	}
	if o, err := other.Origin(ctx, "1"); err != nil || o == nil || o.From != "a stick" || o.By != "foreman" || o.Known {
		t.Errorf("where it came from: %+v, %v", o, err)
	}
	sound(t, path, 2, 8)
	if vs, _ := other.Vehicles(ctx); len(vs) != 1 || vs[0].Fleet != "Q-1" {
		t.Errorf("vehicles %v", vs)
	}
	for name, bad := range map[string][]byte{
		"changed":  bytes.Replace(text, []byte("hum at speed"), []byte("no complaint"), 1),
		"cut":      bytes.Replace(text, []byte(`"seq":3`), []byte(`"seq":9`), 1),
		"no file":  []byte("{}"),
		"not json": []byte("\xff"),
		"empty":    []byte(`{"format":"lugtak-job","version":1,"job":"1","events":[]}`),
	} {
		third, _ := open(t)
		if _, _, err := third.Import(ctx, bad, from); fault.As(err) == nil {
			t.Errorf("%s file: %v", name, err)
		}
	}
}

func TestBackupWhileWriting(t *testing.T) {
	s, path := open(t)
	start(t, s, "1")
	done := make(chan error)
	copyTo := filepath.Join(t.TempDir(), "copy.db")
	go func() { done <- Backup(ctx, path, copyTo) }()
	for i := range 50 {
		keep(t, s, "1", fmt.Sprint("f", i), job.Find{Text: "still writing"})
	}
	if err := <-done; err != nil {
		t.Fatal(err)
	}
	if r, err := Check(ctx, copyTo); err != nil || !r.OK() || r.Jobs != 1 || !r.KeyBeside {
		t.Errorf("the copy: %+v, %v", r, err)
	}
	if err := Backup(ctx, path, copyTo); err == nil {
		t.Error("a backup went over an older one")
	}
}

func TestPIN(t *testing.T) {
	s, _ := open(t)
	if _, err := s.AddPerson(ctx, "Foreman", job.Foreman, "4711", "foreman"); err != nil {
		t.Fatal(err)
	}
	for _, bad := range []struct {
		name string
		role job.Role
		pin  string
	}{{"", job.Foreman, "4711"}, {"x", "boss", "4711"}, {"x", job.Reader, "12"}, {"x", job.Reader, "abcd"},
		{"foreman", job.Reader, "4711"}} {
		if _, err := s.AddPerson(ctx, bad.name, bad.role, bad.pin, "foreman"); fault.As(err) == nil {
			t.Errorf("AddPerson(%v): %v", bad, err)
		}
	}
	p, err := s.Prove(ctx, "foreman", "4711", here, now)
	if err != nil || p.Role != job.Foreman {
		t.Fatalf("%+v %v", p, err)
	}
	for range 5 {
		if _, err := s.Prove(ctx, "foreman", "0000", here, now); fault.As(err) == nil || fault.As(err).Code != "bad_pin" {
			t.Fatal(err)
		}
	}
	// The sixth try waits, even with the right PIN.
	if _, err := s.Prove(ctx, "foreman", "4711", here, now); fault.As(err) == nil || fault.As(err).Code != "throttled" {
		t.Errorf("sixth try: %v", err)
	}
	if _, err := s.Prove(ctx, "foreman", "4711", here, now.Add(time.Minute)); err != nil {
		t.Errorf("after the wait: %v", err)
	}
	if _, err := s.Prove(ctx, "nobody", "4711", here, now); fault.As(err) == nil {
		t.Errorf("a stranger: %v", err)
	}
}

func TestSession(t *testing.T) {
	s, _ := open(t)
	p, _ := s.AddPerson(ctx, "A", job.Technician, "2401", "foreman")
	c, err := s.SignIn(ctx, p, "tablet", now)
	if err != nil {
		t.Fatal(err)
	}
	if x, err := s.Session(ctx, c, now); err != nil || x == nil || x.Person.Name != "A" || x.CSRF == "" {
		t.Fatalf("%+v %v", x, err)
	}
	if x, _ := s.Session(ctx, c, now.Add(sessionLasts+time.Second)); x != nil {
		t.Error("an old session still holds")
	}
	if x, _ := s.Session(ctx, c+"x", now); x != nil {
		t.Error("a made-up cookie holds")
	}
	var stored string
	s.r.QueryRow(`SELECT token FROM session`).Scan(&stored)
	if stored == c {
		t.Error("the cookie stands in the file")
	}
	if err := s.SetPIN(ctx, p.ID, "8264", "foreman"); err != nil {
		t.Fatal(err)
	}
	if x, _ := s.Session(ctx, c, now); x != nil {
		t.Error("a new PIN left the old session open")
	}
}

func TestVehicles(t *testing.T) {
	s, _ := open(t)
	if _, err := s.AddVehicle(ctx, vehicle.Vehicle{Fleet: "Q-14"}); err != nil {
		t.Fatal(err)
	}
	for field, v := range map[string]vehicle.Vehicle{"fleet": {Fleet: "q-14"}, "vin": {Fleet: "Q-15", VIN: "123"}} {
		if _, err := s.AddVehicle(ctx, v); fault.As(err) == nil || fault.As(err).Field != field {
			t.Errorf("%+v: %v", v, err)
		}
	}
}

// What is on the Shelf stays there, once, and is never changed.
func TestShelfFiles(t *testing.T) {
	s, path := open(t)
	f := File{At: now, By: "foreman", Kind: "pattern", Text: "id: x"}
	for range 2 {
		if err := s.AddFile(ctx, "f1", f); err != nil {
			t.Fatal(err)
		}
	}
	if err := s.AddFile(ctx, "f2", File{At: now, By: "foreman", Kind: "spell"}); err == nil {
		t.Error("a spell was taken")
	}
	if _, err := s.w.ExecContext(ctx, "UPDATE act SET body = ''"); err == nil {
		t.Error("a file was changed")
	}
	again, err := Open(ctx, path)
	if err != nil {
		t.Fatal(err)
	}
	defer again.Close()
	if got, err := again.Files(ctx); err != nil || len(got) != 1 || got[0] != f {
		t.Errorf("%+v %v", got, err)
	}
}
