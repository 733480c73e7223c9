package reckon

import (
	"math"

	"lugtak/core/fault"
	"lugtak/core/release"
	"lugtak/library"
)

var releasing = []Calc{
	calcBy(Calc{
		Name:  "release",
		Title: "Freeing what is stuck",
		Formula: "shares of hold shifted by each try in vain (Bayes); the order of least expected minutes, " +
			"harm counted; safe pull = τ·π/16·d³ at yield",
		Source: "ISO 898-7 for twist-off, ISO 1711-1 for the drive; chances and minutes: common practice, " +
			"in library/release.yaml",
		Example: `{"kind":"rusted thread","thread":"M12x1.25","class":"8.8",` +
			`"near":["brake hose"],"keep":["boot"],"tried":["penetrant"]}`,
	}, climb),
}

func init() { all = append(all, releasing...) }

type releaseIn struct {
	Kind    string   `json:"kind"`
	Thread  string   `json:"thread,omitempty"`
	Class   name     `json:"class,omitempty"`
	Drive   string   `json:"drive,omitempty"`
	Near    []string `json:"near,omitempty"`
	Keep    []string `json:"keep,omitempty"`
	Tried   []string `json:"tried,omitempty"`
	Minutes *float64 `json:"minutes_available,omitempty"`
}
type rungOut struct {
	Name     string   `json:"name"`
	Odds     float64  `json:"odds"` // that the next try frees it
	Minutes  float64  `json:"minutes"`
	Risk     float64  `json:"risk"` // that the next try breaks something
	Refused  string   `json:"refused_because,omitempty"`
	Do       string   `json:"do"`
	WaitsMin float64  `json:"waits_min,omitempty"` // it works by itself
	Mind     []string `json:"mind,omitempty"`
	Caution  string   `json:"caution,omitempty"`
	Tried    int      `json:"tried,omitempty"`
}
type releaseOut struct {
	Rungs     []rungOut `json:"rungs"`
	SafeNm    *float64  `json:"safe_torque_nm,omitempty"`
	ShearsNm  *float64  `json:"shears_nm,omitempty"`
	Estimated bool      `json:"estimated,omitempty"` // the twist-off is
	Expected  float64   `json:"expected_min"`        // to freedom, what breaks counted
	Stop      []string  `json:"stop"`
}

// releaseKinds lists the kinds of seizure; without a library none.
func releaseKinds(lib *library.Library) []string {
	var out []string
	if lib == nil {
		return nil
	}
	for _, k := range lib.Release.Kinds {
		out = append(out, k.Name)
	}
	return out
}

func climb(lib *library.Library, in releaseIn) (releaseOut, error) {
	c := release.Case{Kind: in.Kind, Near: in.Near, Keep: in.Keep, Tried: in.Tried}
	if in.Minutes != nil {
		if !(*in.Minutes > 0) {
			return releaseOut{}, fault.New(fault.OutOfRange, "minutes_available", "That is no time to do anything in.",
				"Give minutes above 0, or leave it out.")
		}
		c.Minutes = *in.Minutes
	}
	ladder, err := lib.Release.Climb(c)
	if err != nil {
		return releaseOut{}, err
	}
	out := releaseOut{Rungs: []rungOut{}, Expected: sig(ladder.Expected), Stop: lib.Release.Stop}
	for _, r := range ladder.Rungs {
		out.Rungs = append(out.Rungs, rungOut{
			Name:     r.Name,
			Odds:     thousandths(r.Odds),
			Minutes:  r.Minutes,
			Risk:     thousandths(r.Risk),
			Refused:  r.Refused,
			Do:       r.Do,
			WaitsMin: r.Waits,
			Mind:     r.Mind,
			Caution:  r.Caution,
			Tried:    r.Times,
		})
	}
	bolt, given, err := bolt(in.Thread, string(in.Class), "")
	if err != nil {
		return releaseOut{}, err
	}
	if given {
		p := release.SafePull(bolt.Thread, bolt.Class, in.Drive)
		safe, shears := sig(p.Safe), sig(p.Shears)
		out.SafeNm, out.ShearsNm, out.Estimated = &safe, &shears, p.Estimated
	}
	return out, nil
}

// thousandths rounds a chance to what it is worth.
func thousandths(p float64) float64 { return math.Round(1000*p) / 1000 }
