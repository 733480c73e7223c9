package store

import (
	"context"

	"lugtak/core/diagnose"
	"lugtak/core/forecast"
	"lugtak/core/release"
)

// Chances that were said, and what happened. What is shown is what was told; what is moved by it is what the library
// alone said.

// ReleasePast is what the shop's own tries to free something came to, against what the library alone said of them.
func (s *Store) ReleasePast(ctx context.Context) (release.Past, error) {
	past := release.Past{}
	rows, err := s.r.QueryContext(ctx, `SELECT kind, rung, tries, freed, plain, spread FROM release_past WHERE tries > 0`)
	return past, eachRow(rows, err, func(scan scanner) error {
		var at release.Tries
		var t forecast.Tally
		err := scan(&at.Kind, &at.Rung, &t.N, &t.Happened, &t.Said, &t.Spread)
		past[at] = t
		return err
	})
}

// SuspectPast is what the shop's drives said of suspects it renewed alone, against what the library alone said of them.
func (s *Store) SuspectPast(ctx context.Context) (diagnose.Past, error) {
	past := diagnose.Past{}
	return past, s.cases(ctx, `SELECT '', suspect, plain, was FROM suspicion`,
		func(_, suspect string, plain float64, was bool) {
			t := past[suspect]
			t.Add(forecast.Case(plain, was))
			past[suspect] = t
		})
}

// SaidOfReleases lists what was told of tries to free something, by kind, rung and band.
func (s *Store) SaidOfReleases(ctx context.Context) ([]forecast.Said, error) {
	return s.said(ctx, `SELECT kind, rung, odds, freed FROM release_try`)
}

// SaidOfSuspects lists what was told of suspects that were renewed alone, by suspect and band.
func (s *Store) SaidOfSuspects(ctx context.Context) ([]forecast.Said, error) {
	return s.said(ctx, `SELECT '', suspect, chance, was FROM suspicion`)
}

func (s *Store) said(ctx context.Context, query string) ([]forecast.Said, error) {
	if err := s.settle(ctx); err != nil {
		return nil, err
	}
	told := forecast.ByBand{}
	err := s.cases(ctx, query, told.Count)
	return told.Said(), err
}

// cases reads rows of one case each.
func (s *Store) cases(ctx context.Context, query string, count func(kind, of string, chance float64, was bool)) error {
	rows, err := s.r.QueryContext(ctx, query)
	return eachRow(rows, err, func(scan scanner) error {
		var kind, of string
		var chance float64
		var was bool
		err := scan(&kind, &of, &chance, &was)
		if err == nil {
			count(kind, of, chance, was)
		}
		return err
	})
}
