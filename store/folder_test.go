package store

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"lugtak/core/job"
	"lugtak/core/vehicle"
)

// readAll is every file of a folder, by name.
func readAll(t *testing.T, dir string) map[string]string {
	t.Helper()
	out := map[string]string{}
	entries, err := os.ReadDir(dir)
	if err != nil {
		t.Fatal(err)
	}
	for _, e := range entries {
		text, err := os.ReadFile(filepath.Join(dir, e.Name()))
		if err != nil {
			t.Fatal(err)
		}
		out[e.Name()] = string(text)
	}
	return out
}

// housed is a busy shop with a vehicle in its fleet.
func housed(t *testing.T) (*Store, string) {
	t.Helper()
	s, path := busy(t)
	if _, err := s.AddVehicle(ctx, vehicle.Vehicle{Fleet: "Q-14", Pattern: "p", Name: "Van"}); err != nil {
		t.Fatal(err)
	}
	return s, path
}

// A shop that went out as a folder comes back the same, by the seals over all its rows and by
// the bytes of the folder it makes then.
func TestFolderComesBackTheSame(t *testing.T) {
	s, path := housed(t)
	dir := filepath.Join(t.TempDir(), "out")
	if err := s.ExportFolder(ctx, dir, "Cass", now); err != nil {
		t.Fatal(err)
	}
	was, _, err := readHead(ctx, s.r)
	if err != nil {
		t.Fatal(err)
	}
	for name, key := range map[string]string{"with its key": KeyFile(path), "without": ""} {
		back := filepath.Join(t.TempDir(), "back.db")
		if err := ImportFolder(ctx, dir, back, key); err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		again, err := Open(ctx, back)
		if err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		is, _, err := readHead(ctx, again.r)
		if err != nil || is.events != was.events || is.eventLink != was.eventLink {
			t.Errorf("%s: the events end at %+v, %v", name, is, err)
		}
		if key != "" && is != was {
			t.Errorf("%s: it ends at %+v, went out at %+v", name, is, was)
		}
		second := filepath.Join(t.TempDir(), "second")
		if err := again.ExportFolder(ctx, second, "Cass", now); err != nil {
			t.Fatal(err)
		}
		first, then := readAll(t, dir), readAll(t, second)
		for _, f := range []string{eventsFile, vehiclesFile, peopleFile} {
			if first[f] != then[f] {
				t.Errorf("%s: %s differs", name, f)
			}
		}
		if !strings.HasPrefix(then[actsFile], first[actsFile]) {
			t.Errorf("%s: the acts are others", name)
		}
		m := job.Meta{ID: "goes-on", By: "Aro", Role: job.Technician, At: now}
		if _, _, err := again.Record(ctx, "1", m, job.Find{Text: "work goes on"}); err != nil {
			t.Errorf("%s: %v", name, err)
		}
		if err := ImportFolder(ctx, dir, back, key); err == nil {
			t.Errorf("%s: a shop that is there was written over", name)
		}
		again.Close()
		if r, err := Check(ctx, back); err != nil || !r.OK() {
			t.Errorf("%s: %+v %v", name, r, err)
		}
	}
}

// A folder that was changed in any place becomes no shop.
func TestChangedFolderIsRefused(t *testing.T) {
	s, path := housed(t)
	for name, change := range map[string]struct{ file, was, is string }{
		"who did it":        {eventsFile, `"by":"`, `"by":"x`},
		"another hash":      {eventsFile, `"hash":"`, `"hash":"0`},
		"who added whom":    {actsFile, `"by":"foreman"`, `"by":"nobody"`},
		"a role":            {peopleFile, `"role": "technician"`, `"role": "foreman"`},
		"a PIN":             {peopleFile, `"pin": "$argon2id$v=19$m=19456`, `"pin": "$argon2id$v=19$m=19457`},
		"how it ends":       {headFile, `"events": `, `"events": 1`},
		"a signature":       {headFile, `"signature": "`, `"signature": "A`},
		"no JSON":           {vehiclesFile, `[`, `{`},
		"another program's": {headFile, folderFormat, "other-shop"},
	} {
		dir := filepath.Join(t.TempDir(), "out")
		if err := s.ExportFolder(ctx, dir, "Cass", now); err != nil {
			t.Fatal(err)
		}
		file := filepath.Join(dir, change.file)
		text, err := os.ReadFile(file)
		if err != nil {
			t.Fatal(err)
		}
		if !strings.Contains(string(text), change.was) {
			t.Fatalf("%s: %s has no %s", name, change.file, change.was)
		}
		changed := strings.Replace(string(text), change.was, change.is, 1)
		if err := os.WriteFile(file, []byte(changed), private); err != nil {
			t.Fatal(err)
		}
		back := filepath.Join(t.TempDir(), "back.db")
		if err := ImportFolder(ctx, dir, back, KeyFile(path)); err == nil {
			t.Errorf("%s changed: it became a shop", name)
		}
		if left, _ := filepath.Glob(back + "*"); len(left) > 0 {
			t.Errorf("%s: %v is left", name, left)
		}
	}
	dir := filepath.Join(t.TempDir(), "cut")
	if err := s.ExportFolder(ctx, dir, "Cass", now); err != nil {
		t.Fatal(err)
	}
	text := readAll(t, dir)[eventsFile]
	lines := strings.SplitAfter(text, "\n")
	cut := strings.Join(lines[:len(lines)-2], "")
	if err := os.WriteFile(filepath.Join(dir, eventsFile), []byte(cut), private); err != nil {
		t.Fatal(err)
	}
	if err := ImportFolder(ctx, dir, filepath.Join(t.TempDir(), "back.db"), KeyFile(path)); err == nil {
		t.Error("a journal that was cut became a shop")
	}
}
