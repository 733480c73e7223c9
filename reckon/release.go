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
		Of:    Bolt,
		Asks:  "It sits fast: what next?",
		Title: "Freeing what is stuck",
		Formula: "shares of hold shifted by each try in vain (Bayes); the order of least expected minutes, " +
			"harm counted; it yields at τ·π/16·d³, clamped at √(1 − (σ/Re)²) of that and 0.4 of its figure",
		Source: "ISO 898-7 for twist-off, ISO 1711-1 for the drive; chances and minutes: common practice, " +
			"in library/release.yaml",
		Example: `{"kind":"rusted thread","thread":"M12x1.25","class":"8.8",` +
			`"near":["brake hose"],"keep":["boot"],"tried":["penetrant"]}`,
	}, climb),
}

type releaseIn struct {
	Kind    string   `json:"kind"`
	Thread  string   `json:"thread,omitempty"`
	Class   name     `json:"class,omitempty"`
	Drive   string   `json:"drive,omitempty"`
	Torque  float64  `json:"torque_nm,omitempty"` // it was tightened to
	Mu      float64  `json:"friction,omitempty"`
	Waist   float64  `json:"waist_mm,omitempty"` // the thinnest place that is seen
	Near    []string `json:"near,omitempty"`
	Keep    []string `json:"keep,omitempty"`
	Tried   []string `json:"tried,omitempty"`
	Minutes *float64 `json:"minutes_available,omitempty"`
}
type rungOut struct {
	Name     string   `json:"name"`
	Odds     float64  `json:"odds"` // that the next try frees it
	Minutes  float64  `json:"minutes"`
	Risk     float64  `json:"risk"`                // that the next try breaks something
	OddsThen float64  `json:"odds_then,omitempty"` // at its turn, those before it having failed
	RiskThen float64  `json:"risk_then,omitempty"`
	GivesUp  float64  `json:"gives_up_min,omitempty"` // what giving the part up costs beside its minutes
	Refused  string   `json:"refused_because,omitempty"`
	Do       string   `json:"do"`
	WaitsMin float64  `json:"waits_min,omitempty"` // it works by itself
	Mind     []string `json:"mind,omitempty"`
	Caution  string   `json:"caution,omitempty"`
	Tried    int      `json:"tried,omitempty"`
}
type releaseOut struct {
	Rungs     []rungOut `json:"rungs"`
	Yields    *float64  `json:"yields_nm,omitempty"`
	Clamped   *float64  `json:"yields_clamped_nm,omitempty"`
	ShearsNm  *float64  `json:"shears_nm,omitempty"`
	Estimated bool      `json:"estimated,omitempty"` // the twist-off is
	Expected  float64   `json:"expected_min"`        // to freedom, what breaks counted
	BreakMin  float64   `json:"break_min"`           // what it costs where something breaks
	Stranded  float64   `json:"stranded_min"`        // and beyond that where every rung has failed
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
	out.BreakMin, out.Stranded = ladder.Kind.BreakMin, release.Stranded
	for _, r := range ladder.Rungs {
		givesUp := 0.0
		if r.GivesUp {
			givesUp = ladder.Kind.GiveUp
		}
		out.Rungs = append(out.Rungs, rungOut{
			OddsThen: sig(r.Then.Odds),
			RiskThen: sig(r.Then.Risk),
			GivesUp:  givesUp,
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
		if in.Torque < 0 || in.Mu < 0 || in.Mu > 1 || in.Waist < 0 {
			return releaseOut{}, fault.New(fault.OutOfRange, "waist_mm", "A figure, a friction or a diameter is below nothing.",
				"Write what was measured, or leave it out.")
		}
		p := release.Risk(bolt.Thread, bolt.Class, in.Drive,
			release.Held{Figure: in.Torque, Mu: in.Mu, WaistMM: in.Waist})
		yields, shears := sig(p.Yields), sig(p.Shears)
		out.Yields, out.ShearsNm, out.Estimated = &yields, &shears, p.Estimated
		if p.Clamped > 0 {
			clamped := sig(p.Clamped)
			out.Clamped = &clamped
		}
	}
	return out, nil
}

// thousandths rounds a chance to what it is worth.
func thousandths(p float64) float64 { return math.Round(1000*p) / 1000 }
