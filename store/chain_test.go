package store

import (
	"encoding/json"
	"fmt"
	"path/filepath"
	"testing"
	"time"

	"lugtak/core/record"
)

// told makes the lines of a job of a shop, each sealed with the one before.
func told(tb testing.TB, shop, job string, n int) []Told {
	tb.Helper()
	var out []Told
	prev := ""
	for seq := 1; seq <= n; seq++ {
		var body record.Body = record.Found{Text: fmt.Sprint("seen ", seq)}
		if seq == 1 {
			var s record.Started
			if err := json.Unmarshal([]byte(`{"vehicle":{"id":"v-`+shop+`","fleet":"P-1","vin":"1M8GDM9AXKP042788",`+
				`"pattern":"p","name":"Van"},"complaint":"knocks"}`), &s); err != nil {
				tb.Fatal(err)
			}
			body = s
		}
		l, err := record.Seal(
			prev,
			record.Event{ID: record.EventID(fmt.Sprint("pull-", seq)), Job: job, Seq: seq, At: now, By: "Aro", Body: body},
		)
		if err != nil {
			tb.Fatal(err)
		}
		prev = l.Hash
		out = append(out, Told{Place: uint64(seq), Shop: shop, Name: shop, Line: l})
	}
	return out
}

// What does not follow, differs or belongs to another is refused and told; what is known is
// passed over; the rest goes in, whatever stands beside it.
func TestAdopt(t *testing.T) {
	good := told(t, "east", "j", 5)
	change := func(f func(*Told)) []Told {
		l := good[3]
		f(&l)
		return []Told{l}
	}
	for name, c := range map[string]struct {
		then    []Told
		refused int
		events  int
	}{
		"nothing more":         {nil, 0, 3},
		"the next":             {good[3:4], 0, 4},
		"the rest, told twice": {append(append([]Told{}, good[2:]...), good[2:]...), 0, 5},
		"one left out":         {good[4:], 1, 3},
		"another body":         {change(func(l *Told) { l.Line.Body = json.RawMessage(`{"text":"all well"}`) }), 1, 3},
		"another author":       {change(func(l *Told) { l.Line.By = "Mallory" }), 1, 3},
		"of another shop":      {change(func(l *Told) { l.Shop = "west" }), 1, 3},
		"an id of another job": {func() []Told {
			return told(t, "east", "k", 1)[:1:1]
		}(), 0, 4},
		"a job without a start": {func() []Told {
			l, err := record.Seal("", record.Event{ID: "x", Job: "z", Seq: 1, At: now, By: "Aro", Body: record.Found{Text: "x"}})
			if err != nil {
				t.Fatal(err)
			}
			return []Told{{Place: 9, Shop: "east", Line: l}}
		}(), 1, 3},
		"what is here, changed and sealed anew": {told(t, "east", "j", 2)[1:2], 0, 3},
		"the same number at another shop":       {told(t, "west", "w", 2), 0, 5},
	} {
		s, err := Open(ctx, filepath.Join(t.TempDir(), "node.db"))
		if err != nil {
			t.Fatal(err)
		}
		if refused, err := s.Adopt(ctx, good[:3], 3, now); err != nil || len(refused) > 0 {
			t.Fatal(refused, err)
		}
		refused, err := s.Adopt(ctx, c.then, 77, now)
		if err != nil || len(refused) != c.refused {
			t.Errorf("%s: refused %+v, %v", name, refused, err)
		}
		if n, _, err := s.EventsEnd(ctx); err != nil || n != c.events {
			t.Errorf("%s: %d events, want %d, %v", name, n, c.events, err)
		}
		whole, of, err := s.ChainPlace(ctx, ChainLines)
		if err != nil || whole != 77 {
			t.Errorf("%s: it goes on from %d, %v", name, whole, err)
		}
		for _, l := range c.then {
			if of[l.Shop] < l.Place {
				t.Errorf("%s: %s goes on from %d", name, l.Shop, of[l.Shop])
			}
		}
		s.Close()
	}
}

// A line that is here is not taken again as something else.
func TestAdoptRefusesAnotherPast(t *testing.T) {
	s, err := Open(ctx, filepath.Join(t.TempDir(), "node.db"))
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	if _, err := s.Adopt(ctx, told(t, "east", "j", 3), 3, now); err != nil {
		t.Fatal(err)
	}
	first := told(t, "east", "j", 1)
	l, err := record.Seal(
		first[0].Line.Hash,
		record.Event{ID: "other", Job: "j", Seq: 2, At: now, By: "Aro", Body: record.Found{Text: "another past"}},
	)
	if err != nil {
		t.Fatal(err)
	}
	refused, err := s.Adopt(ctx, []Told{{Place: 4, Shop: "east", Line: l}}, 4, now)
	if err != nil || len(refused) != 1 {
		t.Errorf("%+v %v", refused, err)
	}
}

// BenchmarkAdopt is how fast a node is filled, against plain inserts of the same lines.
func BenchmarkAdopt(b *testing.B) {
	lines := told(b, "east", "j", 5000)
	for b.Loop() {
		b.StopTimer()
		s, err := Open(ctx, filepath.Join(b.TempDir(), "node.db"))
		if err != nil {
			b.Fatal(err)
		}
		b.StartTimer()
		began := time.Now()
		for from := 0; from < len(lines); from += 256 {
			if _, err := s.Adopt(ctx, lines[from:min(len(lines), from+256)], 0, now); err != nil {
				b.Fatal(err)
			}
		}
		b.ReportMetric(float64(len(lines))/time.Since(began).Seconds(), "events/s")
		b.StopTimer()
		s.Close()
		b.StartTimer()
	}
}
