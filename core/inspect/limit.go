// Package inspect holds measured wear against its limits and reckons what the
// measurements of a chassis mean. Lengths are millimetres, angles degrees, speeds
// km/h unless a name says otherwise.
package inspect

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"lugtak/core/fault"
	"lugtak/core/unit"
)

// Limit is a bound with where it holds and who says so.
type Limit struct {
	Key          string  `yaml:"key"`
	Name         string  `yaml:"name"`
	Ask          string  `yaml:"ask"`   // how it is measured
	Place        string  `yaml:"place"` // where on the vehicle
	Unit         string  `yaml:"unit"`
	Least        bool    `yaml:"least"`  // the value must not be under it; otherwise not over
	Value        float64 `yaml:"value"`  // 0 is not known: the page asks for one
	Floor        float64 `yaml:"floor"`  // of a play that may not be nil either; 0 is none
	Noted        bool    `yaml:"noted"`  // a figure of its own, value and floor are what can be: no maker limits it
	Beside       string  `yaml:"beside"` // measured before at the same place: value is how far from it at most
	Gauge        float64 `yaml:"gauge"`  // error of the usual gauge
	Jurisdiction string  `yaml:"jurisdiction"`
	Source       string  `yaml:"source"`
	Sign         string  `yaml:"sign"` // answered yes when it is exceeded
}

// OfMark says that it is a figure of this vehicle alone, or held beside one: no maker limits it, and it is measured at
// the step that asks for it.
func (l Limit) OfMark() bool { return l.Noted || l.Beside != "" }

// Says is the limit in words, without its source.
func (l Limit) Says() string {
	word := "at most"
	switch {
	case l.Least:
		word = "at least"
	case l.Floor > 0:
		word = unit.Number(l.Floor, 3) + " to"
	}
	return word + " " + unit.Number(l.Value, 3) + " " + l.Unit
}

// usualShare of a limit is what a part in use mostly shows (common practice).
const usualShare = 0.6

// Usual is what a part in use mostly shows, the middle of a window; 0 where the limit is not known.
func (l Limit) Usual() float64 {
	switch {
	case l.Least:
		return l.Value / usualShare
	case l.Floor > 0:
		return (l.Floor + l.Value) / 2
	}
	return usualShare * l.Value
}

// Around is the window about what was measured before, for a limit that is held beside that.
func (l Limit) Around(before float64) Limit {
	l.Value, l.Floor = before+l.Value, before-l.Value
	return l
}

// Verdict is what a measurement comes to.
type Verdict string

// Verdicts on a measurement.
const (
	OK           Verdict = "ok"
	Over         Verdict = "over"
	Under        Verdict = "under"
	MeasureAgain Verdict = "measure_again"
	NoLimit      Verdict = "no_limit"
)

// Finding is a measurement with its verdict.
type Finding struct {
	Verdict  Verdict
	Distance float64 // to the limit, positive on the good side
	Says     string
	Advise   string // keep, machine or replace, where the measure says so
}

// Judge holds a value against the limit, with the gauge's error on either side.
// Without a limit it judges nothing.
func (l Limit) Judge(value, gauge float64) Finding {
	if gauge <= 0 {
		gauge = l.Gauge
	}
	show := func(v float64) string { return unit.Number(v, 3) + " " + l.Unit }
	if l.Value == 0 {
		return Finding{
			Verdict: NoLimit,
			Says:    "No limit is known for this. Look it up with the maker and enter it with its source.",
		}
	}
	d, bad := l.Value-value, Over
	if low := value - l.Floor; l.Floor > 0 && low < d {
		d, bad = low, Under
		l.Value = l.Floor
	}
	if l.Least {
		d, bad = -d, Under
	}
	f := Finding{Verdict: OK, Distance: d}
	switch {
	case math.Abs(d) <= gauge:
		f.Verdict = MeasureAgain
		f.Says = fmt.Sprintf("%s lies within the gauge's error of the limit, %s: measure again.", show(value),
			show(l.Value))
	case d < 0:
		f.Verdict = bad
		f.Says = fmt.Sprintf("%s is %s beyond the limit, %s.", show(value), show(-d), show(l.Value))
	default:
		f.Says = fmt.Sprintf("%s is %s inside the limit, %s.", show(value), show(d), show(l.Value))
	}
	f.Says += fmt.Sprintf(" %s, %s; gauge ±%s.", unit.Capital(l.Source), l.Jurisdiction, show(gauge))
	return f
}

// LashRule is a table of steering-wheel lash by wheel diameter.
type LashRule struct {
	Rule         string    `yaml:"rule"`
	Jurisdiction string    `yaml:"jurisdiction"`
	Source       string    `yaml:"source"`
	Between      string    `yaml:"between"` // linear, or lower: a size between two rows takes the smaller
	Rows         []LashRow `yaml:"rows"`
}

// LashRow is one row of it.
type LashRow struct {
	Wheel  float64 `yaml:"wheel_mm"`
	Manual float64 `yaml:"manual_mm"`
	Power  float64 `yaml:"power_mm"`
}

// Limit is the lash allowed at that wheel; a wheel smaller than the first row or
// larger than the last takes that row.
func (r LashRule) Limit(wheelMM float64, power bool) (float64, error) {
	if !(wheelMM >= 250 && wheelMM <= 700) {
		return 0, fault.New(fault.OutOfRange, "wheel_diameter_mm", "No steering wheel has that diameter.",
			"Measure across the rim, in mm, 250 to 700.")
	}
	pick := func(x LashRow) float64 {
		if power {
			return x.Power
		}
		return x.Manual
	}
	at := 0
	const sameSize = 3 // mm: inch sizes are written rounded
	for i, x := range r.Rows {
		if wheelMM >= x.Wheel-sameSize {
			at = i
		}
	}
	a := r.Rows[at]
	if r.Between != "linear" || at+1 >= len(r.Rows) || wheelMM <= a.Wheel {
		return pick(a), nil
	}
	b := r.Rows[at+1]
	return pick(a) + (pick(b)-pick(a))*(wheelMM-a.Wheel)/(b.Wheel-a.Wheel), nil
}

// Gauges of the two measurements a rule names no error for, mm (common practice):
// a tape along the rim, a depth gauge on the lining.
const (
	lashGauge   = 2
	liningGauge = 0.2
)

// Measure is the rule as the limit of one wheel.
func (r LashRule) Measure(wheelMM float64, power bool) (Limit, error) {
	v, err := r.Limit(wheelMM, power)
	return Limit{
		Key:          LashKey,
		Name:         "steering-wheel lash",
		Place:        "steering",
		Unit:         "mm",
		Value:        math.Round(v*10) / 10,
		Gauge:        lashGauge,
		Jurisdiction: r.Jurisdiction,
		Source:       r.Source,
		Sign:         "wheel-lag",
	}, err
}

// Measure is the rule as a limit.
func (r LiningRule) Measure() Limit {
	return Limit{
		Key:          LiningKey,
		Name:         "lining, " + r.Name,
		Place:        "brake",
		Unit:         "mm",
		Least:        true,
		Value:        r.Value,
		Gauge:        liningGauge,
		Jurisdiction: r.Jurisdiction,
		Source:       r.Source,
		Sign:         "pads-thin",
	}
}

// LiningRule is the least lining of one kind of brake.
type LiningRule struct {
	Rule         string  `yaml:"rule"`
	Kind         string  `yaml:"kind"`
	Name         string  `yaml:"name"`
	Value        float64 `yaml:"value_mm"`
	Jurisdiction string  `yaml:"jurisdiction"`
	Source       string  `yaml:"source"`
}

// Limits are all the limits a shop works by.
type Limits struct {
	Measures []Limit      `yaml:"measures"`
	Lash     []LashRule   `yaml:"lash"`
	Lining   []LiningRule `yaml:"lining"`
}

// LashRule finds a rule by name.
func (l *Limits) LashRule(rule string) (LashRule, error) {
	i := slices.IndexFunc(l.Lash, func(r LashRule) bool { return r.Rule == rule })
	if i < 0 {
		var names []string
		for _, r := range l.Lash {
			names = append(names, r.Rule)
		}
		return LashRule{}, fault.New(fault.BadChoice, "rule", "No lash rule of that name is known.",
			fmt.Sprintf("Known are %v; others go into library/limits.", names))
	}
	return l.Lash[i], nil
}

// LiningRule finds the rule for a kind of brake; an empty rule takes the first
// that knows the kind.
func (l *Limits) LiningRule(rule, kind string) (LiningRule, error) {
	var kinds []string
	known := false
	for _, r := range l.Lining {
		if rule != "" && r.Rule != rule {
			continue
		}
		known = true
		if r.Kind == kind {
			return r, nil
		}
		kinds = append(kinds, r.Kind)
	}
	if !known {
		return LiningRule{}, fault.New(fault.BadChoice, "rule", "No lining rule of that name is known.",
			"Known are 393.47 and 570.5; others go into library/limits.")
	}
	return LiningRule{}, fault.New(fault.BadChoice, "kind", "That rule knows no such brake.",
		fmt.Sprintf("Known are %v.", kinds))
}

// What is measured by a form of its own.
const (
	RotorKey       = "rotor"
	RotorRunOutKey = "rotor-runout"
	HubRunOutKey   = "hub-runout"
	LashKey        = "lash"
	LiningKey      = "lining"
)

// MeasureName is what a measure is called in a sentence.
func MeasureName(key string) string {
	switch key {
	case RotorKey:
		return "rotor"
	case LashKey:
		return "free play at the steering wheel"
	}
	return strings.ReplaceAll(key, "-", " ")
}

// Measure finds a limit by its key.
func (l *Limits) Measure(key string) (Limit, bool) {
	i := slices.IndexFunc(l.Measures, func(m Limit) bool { return m.Key == key })
	if i < 0 {
		return Limit{}, false
	}
	return l.Measures[i], true
}
