package store

import (
	"context"
	"lugtak/core/listing"
	"strings"
	"time"
	"unicode"
)

// mostWords of a search are looked for; what is typed beyond tells nothing more.
const mostWords = 8

// query is what was typed as a query of FTS5: every word, the last letters of each open. What
// is no letter and no digit parts words, so that nobody's typing is a query of their own.
func query(text string) string {
	words := strings.FieldsFunc(text, func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
	var out []string
	for _, w := range words[:min(len(words), mostWords)] {
		out = append(out, `"`+w+`"*`)
	}
	return strings.Join(out, " ")
}

// JobsOf lists the jobs of a vehicle, the newest first, no more than most; only those found by all
// of the words, where there are any.
func (s *Store) JobsOf(ctx context.Context, vehicle, text string, most int) ([]listing.Job, error) {
	if q := query(text); q != "" {
		return s.rows(ctx, selectRows+`WHERE vehicle = ? AND id IN
			(SELECT d.job FROM search_job d WHERE d.id IN (SELECT rowid FROM search WHERE search MATCH ?))
			ORDER BY started DESC LIMIT ?`, vehicle, q, most)
	}
	return s.rows(ctx, selectRows+`WHERE vehicle = ? ORDER BY started DESC LIMIT ?`, vehicle, most)
}

// Search finds jobs by all of the words, the newest first, from the one numbered from 0 on; more
// says that there are others behind. A word of every job is found as quickly as a rare one: none
// beyond the page is looked at.
func (s *Store) Search(ctx context.Context, text string, from, most int) (hits []listing.Hit, more bool, err error) {
	q := query(text)
	if q == "" {
		return nil, false, nil
	}
	if err := s.settle(ctx); err != nil {
		return nil, false, err
	}
	rows, err := s.r.QueryContext(ctx, `SELECT j.id, j.vehicle, j.title, j.km, j.owed, j.signed, j.started, j.broken,
			COALESCE((SELECT fleet FROM vehicle v WHERE v.id = j.vehicle), ''), snippet(search, 0, ?, ?, '…', 14)
		FROM search JOIN search_job d ON d.id = search.rowid JOIN job j ON j.id = d.job
		WHERE search MATCH ? ORDER BY search.rowid DESC LIMIT ? OFFSET ?`, listing.HitFrom, listing.HitTo, q, most+1, from)
	hits, err = rowsOf(rows, err, func(scan scanner, h *listing.Hit) error {
		var at string
		err := scan(&h.ID, &h.Vehicle, &h.Title, &h.KM, &h.Owed, &h.Signed, &at, &h.Broken, &h.Fleet, &h.Around)
		h.Started, _ = time.Parse(time.RFC3339Nano, at) // a broken job may have no time
		return err
	})
	return hits[:min(most, len(hits))], len(hits) > most, err
}
