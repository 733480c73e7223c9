package office

import (
	"strings"
	"testing"
	"time"
)

// What must be looked after stands out: an old copy, a full disk, a certificate that ends, a chain that is not reached.
func TestKeeping(t *testing.T) {
	now := time.Date(2026, 12, 1, 12, 0, 0, 0, time.UTC)
	sound := Keeping{
		Version:   "1",
		Chained:   true,
		Reached:   true,
		Backups:   true,
		Copied:    now.Add(-CopyLasts),
		Room:      LeastRoom,
		CertUntil: now.Add(CertAhead),
	}
	with := func(change func(*Keeping)) Keeping {
		k := sound
		change(&k)
		return k
	}
	for _, c := range []struct {
		k   Keeping
		bad string
	}{
		{sound, ""},
		{with(func(k *Keeping) { k.Copied = k.Copied.Add(-time.Second) }), "Last copy"},
		{with(func(k *Keeping) { k.Copied = time.Time{} }), "Last copy"},
		{with(func(k *Keeping) { k.Backups = false }), "Copies"},
		{with(func(k *Keeping) { k.Room-- }), "Room on the disk"},
		{with(func(k *Keeping) { k.Room = 0 }), ""}, // nobody can tell
		{with(func(k *Keeping) { k.CertUntil = k.CertUntil.Add(-time.Second) }), "Certificate"},
		{with(func(k *Keeping) { k.Reached = false }), "Chain of shops"},
		{with(func(k *Keeping) { k.Stuck = "an older backup" }), "Chain of shops"},
		{with(func(k *Keeping) { k.Unnamed = 2 }), "Chain of shops"},
		{with(func(k *Keeping) { k.Behind = 5 }), ""},
		{with(func(k *Keeping) { k.Chained, k.Reached = false, false }), ""},
	} {
		var bad []string
		for _, l := range c.k.lines(now) {
			if l.Bad {
				bad = append(bad, l.What)
			}
		}
		if got := strings.Join(bad, ", "); got != c.bad {
			t.Errorf("%+v: %q stands out, not %q", c.k, got, c.bad)
		}
	}
}
