package store

import (
	"context"
	"encoding/json"

	"lugtak/core/record"
)

// Numbered is a line of the journal with its place in this file.
type Numbered struct {
	N int `json:"n" jsonschema_description:"place in this shop's journal, from 1, without gaps"`
	record.Line
}

// EventsAfter lists events behind one, by their place in the file, the oldest first, no more
// than most.
func (s *Store) EventsAfter(ctx context.Context, after, most int) ([]Numbered, error) {
	return eventsAfter(ctx, s.r, after, most)
}

func eventsAfter(ctx context.Context, q rowsQuerier, after, most int) ([]Numbered, error) {
	rows, err := q.QueryContext(ctx, `SELECT n, id, job, seq, at, by, kind, v, ask, body, hash, sent
		FROM event WHERE n > ? ORDER BY n LIMIT ?`, after, most)
	return rowsOf(rows, err, func(scan scanner, l *Numbered) error {
		var body string
		err := scan(&l.N, &l.ID, &l.Job, &l.Seq, &l.At, &l.By, &l.Kind, &l.V, &l.Ask, &body, &l.Hash, &l.Sent)
		if err != nil {
			return err
		}
		l.Body = json.RawMessage(body)
		return nil
	})
}

// LastEvent is the number of the newest event in the file; 0 where there is none.
func (s *Store) LastEvent(ctx context.Context) (n int, err error) {
	err = s.r.QueryRowContext(ctx, `SELECT coalesce(max(n), 0) FROM event`).Scan(&n)
	return n, err
}

// ActsBefore lists acts of the shop's own journal before one, by number, the newest first, no
// more than most; before 0 from the newest on.
func (s *Store) ActsBefore(ctx context.Context, before, most int) ([]record.Act, error) {
	rows, err := s.r.QueryContext(ctx, `SELECT n, id, at, by, kind, body, link FROM act
		WHERE n < ?1 OR ?1 = 0 ORDER BY n DESC LIMIT ?2`, before, most)
	return scanActs(rows, err)
}
