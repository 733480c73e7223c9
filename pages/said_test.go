package pages_test

import (
	"testing"

	"lugtak/core/forecast"
	"lugtak/pages/office"
)

// said lays what was said against what happened: nothing yet, and cases of two bands.
func said(t *testing.T, seen laid) {
	t.Helper()
	none := office.Kept{}
	tried := office.Kept{
		Said: []forecast.Said{
			{Kind: "rusted thread", Of: "heat", Band: 3, Tally: forecast.Tally{N: 30, Happened: 12, Said: 20, Spread: 6.5}},
			{Kind: "rusted thread", Of: "heat", Band: 4, Tally: forecast.Tally{N: 2, Happened: 2, Said: 1.7, Spread: 0.2}},
		},
		Past: func(string, string) forecast.Tally { return forecast.Tally{N: 32, Happened: 14, Said: 21, Spread: 6.7} },
		Name: func(of string) string { return of },
	}
	seen.lay(t, office.Said(none, none))
	seen.lay(t, office.Said(tried, none))
}
