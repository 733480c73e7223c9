package office

import (
	"cmp"
	"html/template"
	"slices"

	"lugtak/core/forecast"
	"lugtak/draw"
	"lugtak/pages/kit"
)

// saidPage is what was said beforehand, held against what happened.
type saidPage struct{ Releases, Suspects saidOf }

// saidOf are the cases of one thing that is reckoned.
type saidOf struct {
	All   forecast.Tally
	Plot  template.HTML
	Bands []band
	Rows  []saidRow
}

// band are the cases said with a chance between two, in a hundred.
type band struct {
	From, To  int
	Low, High float64 // where the true share lies
	forecast.Tally
}

// saidRow are the cases of one rung at one kind of seizure, or of one suspect, and what the library's mean chance of
// them has become.
type saidRow struct {
	Kind, Name   string
	Library, Now float64
	forecast.Tally
}

// Kept is what a shop has kept of chances that were said, and the names they go by.
type Kept struct {
	Said []forecast.Said
	Past func(kind, of string) forecast.Tally // against what the library alone said
	Name func(of string) string
}

// Said is the page of what was said, and what happened.
func Said(releases, suspects Kept) kit.Page {
	return pages.Page("said", "Said against happened", saidPage{
		releases.of("Tries to free something"),
		suspects.of("Suspects that were renewed"),
	})
}

func (k Kept) of(title string) saidOf {
	x := saidOf{Bands: make([]band, forecast.Bands)}
	tallies := make([]forecast.Tally, forecast.Bands)
	for _, s := range k.Said {
		x.All.Add(s.Tally)
		tallies[s.Band].Add(s.Tally)
		at := slices.IndexFunc(x.Rows, func(r saidRow) bool { return r.Kind == s.Kind && r.Name == k.Name(s.Of) })
		if at < 0 {
			past := k.Past(s.Kind, s.Of)
			row := saidRow{Kind: s.Kind, Name: k.Name(s.Of), Library: past.MeanSaid(), Now: past.Next()}
			x.Rows = append(x.Rows, row)
			at = len(x.Rows) - 1
		}
		x.Rows[at].Add(s.Tally)
	}
	for i, t := range tallies {
		each := 100 / forecast.Bands
		x.Bands[i] = band{From: i * each, To: (i + 1) * each, Tally: t}
		x.Bands[i].Low, x.Bands[i].High = t.Interval()
	}
	slices.SortStableFunc(x.Rows, func(a, b saidRow) int { return cmp.Compare(b.N, a.N) })
	x.Plot = draw.Reliability(title, tallies)
	return x
}
