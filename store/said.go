package store

import (
	"context"
	"fmt"

	"lugtak/core/diagnose"
	"lugtak/core/forecast"
	"lugtak/core/release"
)

// Chances that were said, and what happened. What is shown is what was told; what is moved by it is what the library
// alone said.

// tally reads rows of two names and the numbers of a tally.
func (s *Store) tally(ctx context.Context, query string, each func(a, b string, band int, t forecast.Tally)) error {
	rows, err := s.r.QueryContext(ctx, query)
	return eachRow(rows, err, func(scan scanner) error {
		var a, b string
		var band int
		var t forecast.Tally
		if err := scan(&a, &b, &band, &t.N, &t.Happened, &t.Said, &t.Spread); err != nil {
			return err
		}
		each(a, b, band, t)
		return nil
	})
}

// ReleasePast is what the shop's own tries to free something came to, against what the library alone said of them.
func (s *Store) ReleasePast(ctx context.Context) (release.Past, error) {
	past := release.Past{}
	err := s.tally(ctx, `SELECT kind, rung, 0, tries, freed, plain, spread FROM release_past WHERE tries > 0`,
		func(kind, rung string, _ int, t forecast.Tally) { past[release.Tries{Kind: kind, Rung: rung}] = t })
	return past, err
}

// SuspectPast is what the shop's drives said of suspects it renewed alone, against what the library alone said of them.
func (s *Store) SuspectPast(ctx context.Context) (diagnose.Past, error) {
	past := diagnose.Past{}
	err := s.tally(ctx, `SELECT suspect, '', 0, COUNT(*), SUM(was), SUM(plain), SUM(plain * (1 - plain))
		FROM suspicion GROUP BY suspect`,
		func(suspect, _ string, _ int, t forecast.Tally) { past[suspect] = t })
	return past, err
}

// SaidOfReleases lists what was told of tries to free something, by kind, rung and band.
func (s *Store) SaidOfReleases(ctx context.Context) ([]forecast.Said, error) {
	return s.said(ctx, "kind, rung", "odds", "freed", "release_try")
}

// SaidOfSuspects lists what was told of suspects that were renewed alone, by suspect and band.
func (s *Store) SaidOfSuspects(ctx context.Context) ([]forecast.Said, error) {
	return s.said(ctx, "'', suspect", "chance", "was", "suspicion")
}

func (s *Store) said(ctx context.Context, of, chance, happened, table string) (out []forecast.Said, err error) {
	if err := s.settle(ctx); err != nil {
		return nil, err
	}
	query := fmt.Sprintf(`SELECT %[1]s, MIN(%[5]d - 1, CAST(%[2]s * %[5]d AS INTEGER)) AS band,
			COUNT(*), SUM(%[3]s), SUM(%[2]s), SUM(%[2]s * (1 - %[2]s))
		FROM %[4]s GROUP BY 1, 2, 3 ORDER BY 1, 2, 3`, of, chance, happened, table, forecast.Bands)
	err = s.tally(ctx, query, func(a, b string, band int,
		t forecast.Tally) {
		out = append(out, forecast.Said{Kind: a, Of: b, Band: band, Tally: t})
	})
	return out, err
}
