package store

import (
	"context"
	"time"
)

// File is a pattern or an operation the shop has put on the Shelf, as its file reads.
type File struct {
	At       time.Time
	By, Kind string
	Text     string
}

// AddFile puts a file on the Shelf. The same id twice puts it there once.
func (s *Store) AddFile(ctx context.Context, id string, f File) error {
	_, err := s.w.ExecContext(ctx, `INSERT INTO shelf_file (id, at, by, kind, text) VALUES (?,?,?,?,?) ON CONFLICT (id) DO NOTHING`, id, stamp(f.At), f.By, f.Kind, f.Text)
	return err
}

// Files lists the files on the Shelf, oldest first.
func (s *Store) Files(ctx context.Context) ([]File, error) {
	rows, err := s.r.QueryContext(ctx, `SELECT at, by, kind, text FROM shelf_file ORDER BY n`)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	var out []File
	for rows.Next() {
		var f File
		var at string
		if err := rows.Scan(&at, &f.By, &f.Kind, &f.Text); err != nil {
			return nil, err
		}
		if f.At, err = time.Parse(time.RFC3339Nano, at); err != nil {
			return nil, err
		}
		out = append(out, f)
	}
	return out, rows.Err()
}
