package store

import (
	"testing"
	"time"

	"lugtak/core/wrench"
)

func TestCribLog(t *testing.T) {
	s, _ := open(t)
	l := wrench.Logged{
		Tool: "w2",
		Kind: wrench.LogRetire,
		At:   time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC),
		By:   "foreman",
		Note: "dropped",
	}
	for range 2 { // a repeat is harmless
		if err := s.LogTool(ctx, "a", l, nil); err != nil {
			t.Fatal(err)
		}
	}
	l.Kind, l.Note = wrench.LogReturn, ""
	if err := s.LogTool(ctx, "b", l, nil); err != nil {
		t.Fatal(err)
	}
	log, err := s.CribLog(ctx)
	if err != nil || len(log) != 2 || log[0].Note != "dropped" || log[1].Kind != wrench.LogReturn ||
		!log[0].At.Equal(l.At) {
		t.Errorf("%+v, %v", log, err)
	}
	for _, q := range []string{`UPDATE crib SET body = '{}'`, `DELETE FROM crib`} {
		if _, err := s.w.Exec(q); err == nil {
			t.Errorf("%s is allowed", q)
		}
	}
}
