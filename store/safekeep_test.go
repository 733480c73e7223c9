package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/record"
	"lugtak/core/vehicle"
)

// A shop's files are its owner's alone.
func TestFilesArePrivate(t *testing.T) {
	s, path := open(t)
	start(t, s, "1")
	backup := filepath.Join(t.TempDir(), "copy.db")
	if err := Backup(ctx, path, backup); err != nil {
		t.Fatal(err)
	}
	for _, f := range []string{path, path + "-wal", KeyFile(path), backup, KeyFile(backup)} {
		info, err := os.Stat(f)
		if err != nil {
			t.Fatal(err)
		}
		if mode := info.Mode().Perm(); mode != private {
			t.Errorf("%s is %o", filepath.Base(f), mode)
		}
	}
}

// A backup that was cut short, at whatever point, has no name that looks whole, and the next
// one goes through.
func TestBackupCutShort(t *testing.T) {
	s, path := open(t)
	start(t, s, "1")
	for i := range 200 {
		keep(t, s, "1", fmt.Sprint("f", i), job.Find{Text: strings.Repeat("x", 900)})
	}
	backup := filepath.Join(t.TempDir(), "copy.db")
	for _, after := range []time.Duration{0, time.Microsecond, time.Millisecond, 5 * time.Millisecond} {
		short, cancel := context.WithTimeout(ctx, after)
		err := Backup(short, path, backup)
		cancel()
		if _, there := os.Stat(backup); err != nil && there == nil {
			t.Fatalf("cut after %s there is a file under the final name", after)
		}
		if err == nil {
			os.Remove(backup)
			os.Remove(KeyFile(backup))
		}
	}
	if err := os.WriteFile(backup+".copied.part", []byte("left by a killed one"), private); err != nil {
		t.Fatal(err)
	}
	if err := copyKey(path, backup); err != nil { // what one killed after its key has left
		t.Fatal(err)
	}
	if err := Backup(ctx, path, backup); err != nil {
		t.Fatal(err)
	}
	if r, err := Check(ctx, backup); err != nil || !r.OK() || !r.KeyBeside {
		t.Errorf("%+v %v", r, err)
	}
	other := filepath.Join(t.TempDir(), "other.db")
	if err := os.WriteFile(KeyFile(other), []byte("of another shop"), private); err != nil {
		t.Fatal(err)
	}
	if err := Backup(ctx, path, other); err == nil {
		t.Error("the key of another shop was taken for this one's")
	}
}

// One process serves a file.
func TestOneOwner(t *testing.T) {
	path := filepath.Join(t.TempDir(), "shop.db")
	release, err := Own(path)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := Own(path); err == nil || !strings.Contains(err.Error(), "served by another") {
		t.Errorf("a second server: %v", err)
	}
	release()
	again, err := Own(path)
	if err != nil {
		t.Fatalf("after the first has gone: %v", err)
	}
	again()
}

// A file of a newer program is refused and left as it is.
func TestNewerFileIsRefused(t *testing.T) {
	s, path := open(t)
	if _, err := s.w.ExecContext(ctx,
		`INSERT INTO goose_db_version (version_id, is_applied) VALUES (9999, 1)`); err != nil {
		t.Fatal(err)
	}
	s.Close()
	before, err := os.ReadFile(path)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := Open(ctx, path); err == nil || !strings.Contains(err.Error(), "newer program") {
		t.Errorf("%v", err)
	}
	if after, _ := os.ReadFile(path); string(after) != string(before) {
		t.Error("it was written to all the same")
	}
}

// A file of an older program is brought up to date, and kept as it was.
func TestOldFileIsKeptBeforeItIsChanged(t *testing.T) {
	s, path := open(t)
	start(t, s, "1")
	var newest int
	err := s.w.QueryRowContext(ctx, `SELECT MAX(version_id) FROM goose_db_version`).Scan(&newest)
	if err != nil {
		t.Fatal(err)
	}
	for _, q := range []string{
		`DELETE FROM goose_db_version WHERE version_id = (SELECT MAX(version_id) FROM goose_db_version)`,
		`DROP TABLE chain_place`,
	} {
		if _, err := s.w.ExecContext(ctx, q); err != nil {
			t.Fatal(err)
		}
	}
	s.Close()
	rep, err := Check(ctx, path)
	if err != nil || !rep.OK() || !rep.Older || rep.Jobs != 1 {
		t.Errorf("checked as it is: %+v %v", rep, err)
	}
	again, err := Open(ctx, path)
	if err != nil {
		t.Fatal(err)
	}
	again.Close()
	if rep, err = Check(ctx, path); err != nil || !rep.OK() || rep.Older {
		t.Errorf("brought up to date: %+v %v", rep, err)
	}
	kept, err := filepath.Glob(path + ".before-*")
	if err != nil || len(kept) != 1 {
		t.Fatalf("kept: %v, %v", kept, err)
	}
	db, err := sql.Open("sqlite", kept[0])
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	var was int
	if err := db.QueryRow(`SELECT MAX(version_id) FROM goose_db_version`).Scan(&was); err != nil || was >= newest {
		t.Errorf("the copy is of version %d, %v", was, err)
	}
}

// A backup goes in a file's place although an old -wal lies there, what was there is set
// aside, and one that does not hold changes nothing.
func TestRestore(t *testing.T) {
	s, path := open(t)
	start(t, s, "1")
	backup := filepath.Join(t.TempDir(), "copy.db")
	if err := Backup(ctx, path, backup); err != nil {
		t.Fatal(err)
	}
	keep(t, s, "1", "later", job.Find{Text: "after the backup"})
	s.Close()
	if err := os.WriteFile(path+"-wal", []byte("of a server that was killed"), private); err != nil {
		t.Fatal(err)
	}
	bad := filepath.Join(t.TempDir(), "bad.db")
	data, err := os.ReadFile(backup)
	if err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(bad, data[:len(data)/2], private); err != nil {
		t.Fatal(err)
	}
	if _, err := Restore(ctx, bad, path, now); err == nil {
		t.Error("half a file was put in its place")
	}
	aside, err := Restore(ctx, backup, path, now)
	if err != nil {
		t.Fatal(err)
	}
	if r, err := Check(ctx, path); err != nil || !r.OK() || r.Events != 1 {
		t.Errorf("restored: %+v %v", r, err)
	}
	for _, f := range []string{aside, aside + "-wal", KeyFile(aside)} {
		if _, err := os.Stat(f); err != nil {
			t.Errorf("what was there: %v", err)
		}
	}
	// Within the same second, after one that was cut short once the file had its other name.
	if err := os.Rename(path, path+".gone"); err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(path+"-wal", []byte("of the file that has another name"), private); err != nil {
		t.Fatal(err)
	}
	second, err := Restore(ctx, backup, path, now)
	if err != nil || second == aside {
		t.Errorf("given again, it was set aside as %s, %v", second, err)
	}
	if r, err := Check(ctx, path); err != nil || !r.OK() {
		t.Errorf("given again: %+v %v", r, err)
	}
	if kept, err := os.ReadFile(aside + "-wal"); err != nil || string(kept) != "of a server that was killed" {
		t.Errorf("what was set aside first was written over: %s, %v", kept, err)
	}
	release, err := Own(path)
	if err != nil {
		t.Fatal(err)
	}
	defer release()
	if _, err := Restore(ctx, backup, path, now.Add(time.Second)); err == nil {
		t.Error("it was put under a server")
	}
}

// A full disk refuses the record with what to do, loses none, and health says so.
func TestFullDisk(t *testing.T) {
	s, path := open(t)
	start(t, s, "1")
	if err := s.Healthy(ctx); err != nil {
		t.Fatal(err)
	}
	var pages int
	if err := s.w.QueryRowContext(ctx, `PRAGMA page_count`).Scan(&pages); err != nil {
		t.Fatal(err)
	}
	if _, err := s.w.ExecContext(ctx, fmt.Sprint(`PRAGMA max_page_count = `, pages)); err != nil {
		t.Fatal(err)
	}
	m := job.Meta{By: "Aro", Role: job.Technician, At: now}
	var full *fault.Fault
	kept := 0
	for i := range 40 {
		m.ID = record.EventID(fmt.Sprint("f", i))
		_, _, err := s.Record(ctx, "1", m, job.Find{Text: strings.Repeat("x", 900)})
		if full = fault.As(err); full != nil {
			break
		} else if err != nil {
			t.Fatal(err)
		}
		kept++
	}
	if full == nil || full.Code != "disk_full" || full.Remedy == "" {
		t.Fatalf("a full disk is told as %v", full)
	}
	if err := s.Healthy(ctx); fault.As(err) == nil {
		t.Errorf("health says %v", err)
	}
	if _, err := s.w.ExecContext(ctx, `PRAGMA max_page_count = 1073741823`); err != nil {
		t.Fatal(err)
	}
	if _, _, err := s.Record(ctx, "1", m, job.Find{Text: strings.Repeat("x", 900)}); err != nil {
		t.Errorf("with room again: %v", err)
	}
	s.Close()
	if r, err := Check(ctx, path); err != nil || !r.OK() || r.Events != 1+kept+1 {
		t.Errorf("%+v %v, %d kept", r, err, kept)
	}
}

// On a disk that is truly full, every write says so, health too, and nothing is lost. It needs a
// disk of its own, which only root may mount.
func TestTrulyFullDisk(t *testing.T) {
	dir := t.TempDir()
	if out, err := exec.Command("mount", "-t", "tmpfs", "-o", "size=4m", "tmpfs", dir).CombinedOutput(); err != nil {
		t.Skipf("no disk can be mounted here: %s", out)
	}
	defer exec.Command("umount", dir).Run()
	path := filepath.Join(dir, "shop.db")
	s, err := Open(ctx, path)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	start(t, s, "1")
	if err := s.Healthy(ctx); err != nil {
		t.Fatal(err)
	}
	ballast := filepath.Join(dir, "ballast")
	f, err := os.Create(ballast)
	if err != nil {
		t.Fatal(err)
	}
	for err == nil {
		_, err = f.Write(make([]byte, 512))
	}
	f.Close()
	m := job.Meta{By: "Aro", Role: job.Technician, At: now}
	find := func(i int) error {
		m.ID = record.EventID(fmt.Sprint("f", i))
		_, _, err := s.Record(ctx, "1", m, job.Find{Text: strings.Repeat("x", 900)})
		return err
	}
	kept := 0
	for kept < 100 && find(kept) == nil {
		kept++
	}
	writes := map[string]func() error{
		"a record": func() error { return find(kept) },
		"health":   func() error { return s.Healthy(ctx) },
		"a vehicle": func() error {
			_, err := s.AddVehicle(ctx, vehicle.Vehicle{Fleet: "7", Pattern: "p", Name: strings.Repeat("n", 90)})
			return err
		},
		"somebody new": func() error {
			_, err := s.AddPerson(ctx, "Fourth", job.Technician, "482915", "Aro")
			return err
		},
		"a tool's token": func() error { _, err := s.MakeToolToken(ctx, "w1", "Aro", now); return err },
	}
	for name, write := range writes {
		if f := fault.As(write()); f == nil || f.Code != "disk_full" || f.Remedy == "" {
			t.Errorf("%s on a full disk is told as %v", name, f)
		}
	}
	if err := os.Remove(ballast); err != nil {
		t.Fatal(err)
	}
	for name, write := range writes {
		if err := write(); err != nil {
			t.Errorf("%s with room again: %v", name, err)
		}
	}
	if r, err := Check(ctx, path); err != nil || !r.OK() || r.Events != 1+kept+1 {
		t.Errorf("%+v %v, %d kept", r, err, kept)
	}
}

// The newest backups are kept, each whole with its key; what lies beside them is left alone.
func TestRotate(t *testing.T) {
	s, path := open(t)
	start(t, s, "1")
	dir := t.TempDir()
	other := filepath.Join(dir, "holiday.db")
	if err := os.WriteFile(other, []byte("not ours"), private); err != nil {
		t.Fatal(err)
	}
	var last string
	for day := range 4 {
		var err error
		if last, err = Rotate(ctx, path, dir, 2, now.AddDate(0, 0, day)); err != nil {
			t.Fatal(err)
		}
	}
	kept, err := filepath.Glob(filepath.Join(dir, "shop-*.db"))
	if err != nil || len(kept) != 2 || kept[1] != last {
		t.Fatalf("%v, the last is %s, %v", kept, last, err)
	}
	for _, f := range kept {
		if r, err := Check(ctx, f); err != nil || !r.OK() || !r.KeyBeside {
			t.Errorf("%s: %+v %v", f, r, err)
		}
	}
	if _, err := os.Stat(other); err != nil {
		t.Error("what is no backup was taken away")
	}
	at, err := LastRotated(path, dir)
	if err != nil || !at.Equal(now.AddDate(0, 0, 3).UTC().Truncate(time.Second)) {
		t.Errorf("the last of %v, %v", at, err)
	}
	if at, err := LastRotated(path, t.TempDir()); err != nil || !at.IsZero() {
		t.Errorf("of none %v, %v", at, err)
	}
	if all, _ := filepath.Glob(filepath.Join(dir, "*")); len(all) != 5 {
		t.Errorf("left over: %v", all)
	}
	if _, err := Rotate(ctx, path, dir, 2, now.AddDate(0, 0, 3)); err == nil {
		t.Error("a backup of the same second is written over")
	}
}

// A person who is refused leaves no file behind, and no key; the next try makes the shop.
func TestCreateLeavesNothingBehind(t *testing.T) {
	path := filepath.Join(t.TempDir(), "shop.db")
	first := NewPerson{Name: "Foreman Cass", Role: job.Foreman, PIN: "12"}
	if _, err := Create(ctx, path, first, "test"); fault.As(err) == nil {
		t.Fatalf("a PIN of two digits: %v", err)
	}
	left, err := os.ReadDir(filepath.Dir(path))
	if err != nil || len(left) > 0 {
		t.Fatalf("left behind: %v, %v", left, err)
	}
	first.PIN = "582014"
	if _, err := Create(ctx, path, first, "test"); err != nil {
		t.Fatal(err)
	}
	if _, err := Create(ctx, path, first, "test"); err == nil {
		t.Error("a shop was made over another")
	}
	if r, err := Check(ctx, path); err != nil || !r.OK() {
		t.Errorf("%+v %v", r, err)
	}
}

// A backup without its key goes back under the shop's own where that signed it, and is refused
// where none does: the good key never goes aside in silence.
func TestRestoreWithoutItsKey(t *testing.T) {
	s, path := open(t)
	start(t, s, "1")
	backup := filepath.Join(t.TempDir(), "copy.db")
	if err := Backup(ctx, path, backup); err != nil {
		t.Fatal(err)
	}
	if err := errors.Join(os.Remove(KeyFile(backup)), s.Close()); err != nil {
		t.Fatal(err)
	}
	if _, err := Restore(ctx, backup, path, now); err != nil {
		t.Fatal(err)
	}
	again, err := Open(ctx, path)
	if err != nil {
		t.Fatalf("after the restore: %v", err)
	}
	again.Close()
	other := filepath.Join(t.TempDir(), "other.db")
	o, err := Open(ctx, other)
	if err != nil {
		t.Fatal(err)
	}
	o.Close()
	if _, err := Restore(ctx, backup, other, now); fault.As(err) == nil || fault.As(err).Code != fault.Key {
		t.Fatalf("under another shop's key: %v", err)
	}
	if o, err = Open(ctx, other); err != nil {
		t.Fatalf("the shop that was there: %v", err)
	}
	o.Close()
}

// A store that is closed is one file, whoever read it last: a page that is still read is waited
// for.
func TestCloseLeavesOneFile(t *testing.T) {
	s, path := open(t)
	start(t, s, "1")
	rows, err := s.r.QueryContext(ctx, `SELECT n FROM event`)
	if err != nil {
		t.Fatal(err)
	}
	rows.Next()
	closed := make(chan error)
	go func() { closed <- s.Close() }()
	select {
	case err := <-closed:
		t.Fatalf("it did not wait for the reader: %v", err)
	case <-time.After(50 * time.Millisecond):
	}
	rows.Close()
	if err := <-closed; err != nil {
		t.Fatal(err)
	}
	copied := filepath.Join(t.TempDir(), "copy.db")
	for _, end := range []string{"", ".key"} {
		if err := copyFile(path+end, copied+end); err != nil {
			t.Fatal(err)
		}
	}
	if info, err := os.Stat(path + "-wal"); err == nil && info.Size() > 0 {
		t.Errorf("%d bytes lie beside it", info.Size())
	}
	r, err := Check(ctx, copied)
	if err != nil || !r.OK() || r.Events != 1 {
		t.Errorf("the copy: %+v %v", r, err)
	}
}
