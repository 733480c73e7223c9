package store

import (
	"context"
	"time"

	"lugtak/core/vehicle"
)

// Correct records a corrected figure of a sheet. The same id twice records it
// once.
func (s *Store) Correct(ctx context.Context, id string, c vehicle.Correction) error {
	_, err := s.w.ExecContext(ctx, `INSERT INTO figure (id, at, by, pattern, joint, recipe, source, why) VALUES (?,?,?,?,?,?,?,?) ON CONFLICT (id) DO NOTHING`,
		id, stamp(c.At), c.By, c.Pattern, c.Joint, c.Recipe, c.Source, c.Why)
	return err
}

// Corrections lists the corrected figures of a pattern, oldest first.
func (s *Store) Corrections(ctx context.Context, pattern string) ([]vehicle.Correction, error) {
	rows, err := s.r.QueryContext(ctx, `SELECT at, by, pattern, joint, recipe, source, why FROM figure WHERE pattern = ? ORDER BY n`, pattern)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	var out []vehicle.Correction
	for rows.Next() {
		var c vehicle.Correction
		var at string
		if err := rows.Scan(&at, &c.By, &c.Pattern, &c.Joint, &c.Recipe, &c.Source, &c.Why); err != nil {
			return nil, err
		}
		if c.At, err = time.Parse(time.RFC3339Nano, at); err != nil {
			return nil, err
		}
		out = append(out, c)
	}
	return out, rows.Err()
}
