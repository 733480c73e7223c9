package store

import (
	"context"
	"encoding/json"
	"maps"

	"lugtak/core/job"
	"lugtak/core/wrench"
)

// LogTool adds a line to the crib's log. The same id twice adds one line.
func (s *Store) LogTool(ctx context.Context, id string, l wrench.Logged) error {
	l.At = l.At.UTC()
	body, err := json.Marshal(l)
	if err != nil {
		return err
	}
	_, err = s.w.ExecContext(ctx, `INSERT INTO crib (id, at, body) VALUES (?,?,?) ON CONFLICT (id) DO NOTHING`, id, stamp(l.At), string(body))
	return err
}

// CribLog reads the crib's log, oldest line first.
func (s *Store) CribLog(ctx context.Context) ([]wrench.Logged, error) {
	rows, err := s.r.QueryContext(ctx, `SELECT body FROM crib ORDER BY n`)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	var out []wrench.Logged
	for rows.Next() {
		var body string
		var l wrench.Logged
		if err := rows.Scan(&body); err != nil {
			return nil, err
		}
		if err := json.Unmarshal([]byte(body), &l); err != nil {
			return nil, err
		}
		out = append(out, l)
	}
	return out, rows.Err()
}

// ToolPulls counts the pulls each tool has made in this shop, by its name. The
// journal is read through once; what this process records is counted along.
func (s *Store) ToolPulls(ctx context.Context) (map[string]int, error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.pulls != nil {
		return maps.Clone(s.pulls), nil
	}
	rows, err := s.r.QueryContext(ctx, `SELECT json_extract(body, '$.tool'), COUNT(*) FROM event WHERE kind = 'pulled' GROUP BY 1`)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	pulls := map[string]int{}
	for rows.Next() {
		var tool string
		var n int
		if err := rows.Scan(&tool, &n); err != nil {
			return nil, err
		}
		pulls[tool] = n
	}
	if err := rows.Err(); err != nil {
		return nil, err
	}
	s.pulls = pulls
	return maps.Clone(pulls), nil
}

// countPulls keeps the count going; the caller holds the lock.
func (s *Store) countPulls(events []job.Event) {
	for _, e := range events {
		if p, ok := e.Body.(job.Pulled); ok && s.pulls != nil {
			s.pulls[p.Tool]++
		}
	}
}
