package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"time"

	"github.com/google/uuid"

	"lugtak/core/fault"
	"lugtak/core/listing"
)

// BeginPractice opens a run for a person, and gives its id.
func (s *Store) BeginPractice(
	ctx context.Context,
	person, exercise string,
	seed uint64,
	now time.Time,
) (string, error) {
	id := uuid.NewString()
	_, err := s.w.ExecContext(ctx, `INSERT INTO practice (id, person, exercise, seed, acts, count, begun, ended, score)
		VALUES (?, ?, ?, ?, '[]', 0, ?, '', '{}')`, id, person, exercise, int64(seed), stamp(now))
	return id, Unwritable(err)
}

// Practice is a run of that person; others' are not found.
func (s *Store) Practice(ctx context.Context, id, person string) (listing.Run, error) {
	rows, err := s.practices(ctx, `id = ? AND person = ?`, id, person)
	if err != nil {
		return listing.Run{}, err
	}
	if len(rows) == 0 {
		return listing.Run{}, fault.New(fault.NotFound, "", "There is no such run.", "Go back to the practice bay.")
	}
	return rows[0], nil
}

// PracticePast lists the runs of a person that ended, the newest first.
func (s *Store) PracticePast(ctx context.Context, person string) ([]listing.Run, error) {
	return s.practices(ctx, `person = ? AND ended > '' ORDER BY begun DESC LIMIT 200`, person)
}

func (s *Store) practices(ctx context.Context, fits string, args ...any) ([]listing.Run, error) {
	rows, err := s.r.QueryContext(ctx, `SELECT id, person, exercise, seed, acts, begun, ended, score
		FROM practice WHERE `+fits, args...)
	var out []listing.Run
	err = eachRow(rows, err, func(scan scanner) error {
		var r listing.Run
		var seed int64
		var acts, begun, ended, score string
		if err := scan(&r.ID, &r.Person, &r.Exercise, &seed, &acts, &begun, &ended, &score); err != nil {
			return err
		}
		r.Seed = uint64(seed)
		if r.Begun, err = time.Parse(time.RFC3339Nano, begun); err != nil {
			return err
		}
		if ended != "" {
			if r.Ended, err = time.Parse(time.RFC3339Nano, ended); err != nil {
				return err
			}
		}
		if err := errors.Join(json.Unmarshal([]byte(acts), &r.Acts), json.Unmarshal([]byte(score), &r.Score)); err != nil {
			return err
		}
		out = append(out, r)
		return nil
	})
	return out, err
}

// Practised keeps a run with one act more. Another tablet that has gone on meanwhile is told.
func (s *Store) Practised(ctx context.Context, r listing.Run) error {
	acts, err := json.Marshal(r.Acts)
	if err != nil {
		return err
	}
	score, err := json.Marshal(r.Score)
	if err != nil {
		return err
	}
	ended := ""
	if !r.Ended.IsZero() {
		ended = stamp(r.Ended)
	}
	res, err := s.w.ExecContext(ctx, `UPDATE practice SET acts = ?, count = ?, ended = ?, score = ?
		WHERE id = ? AND person = ? AND ended = '' AND count = ?`,
		string(acts), len(r.Acts), ended, string(score), r.ID, r.Person, len(r.Acts)-1)
	return oneRow(res, err)
}

func oneRow(res sql.Result, err error) error {
	if err != nil {
		return Unwritable(err)
	}
	n, err := res.RowsAffected()
	if err == nil && n == 0 {
		return fault.New(fault.Stale, "", "This run has gone on on another page.", "The page shows how it stands now.")
	}
	return err
}
