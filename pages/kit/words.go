package kit

import (
	"encoding/base64"
	"fmt"
	"html/template"
	"math"
	"strings"
	"time"

	"lugtak/core/inspect"
	"lugtak/core/job"
	"lugtak/core/pull"
	"lugtak/core/unit"
	"lugtak/draw"
)

// Words are what the templates of all sets say with.
func Words() template.FuncMap {
	return template.FuncMap{
		// the page itself
		"asset": func(name string) string { return TheAssets().Path(name) },
		"newid": func() string { return idMark },
		"dict":  dict,
		"cells": Cells,
		"pair":  func(a, b any) struct{ A, B any } { return struct{ A, B any }{a, b} },
		"typedfor": func(mine bool, typed map[string]string) map[string]string {
			if !mine {
				return nil
			}
			return typed
		},

		// figures
		"num":    func(f float64) string { return unit.Number(f, 1) },
		"nm":     func(f float64) string { return unit.Torque(f).String() },
		"both":   func(f float64) string { return unit.Torque(f).Both() },
		"plain":  draw.Plain,
		"km":     unit.Kilometres[int],
		"count":  Counted,
		"whole":  unit.Whole,
		"volume": unit.Volume,
		"tens":   func(v float64) string { return fmt.Sprintf("%.0f", 10*math.Round(v/10)) },
		"add":    func(a, b int) int { return a + b },
		"minus":  func(a, b float64) float64 { return a - b },
		"five":   func() []int { return []int{0, 1, 2, 3, 4} },
		"figure": PulledFigure,

		// times
		"clock":   func(t time.Time) string { return t.Local().Format("15:04") },
		"day":     Day,
		"stamp":   Stamp,
		"iso":     func(t time.Time) string { return t.UTC().Format(time.RFC3339) },
		"clockat": ClockOf,
		"mmss":    func(d time.Duration) string { return fmt.Sprintf("%d:%02d", int(d.Minutes()), int(d.Seconds())%60) },
		"hmm":     func(min float64) string { return fmt.Sprintf("%d:%02d", int(min)/60, int(min)%60) },
		"hmin":    unit.HoursMinutes,

		// words
		"capital": unit.Capital,
		"join":    func(s []string) string { return strings.Join(s, ", ") },
		"anchor":  func(s string) string { return strings.ReplaceAll(s, ".", "-") },
		"verdict": verdictWord,
		"percent": func(v float64) int { return int(100*v + 0.5) },

		// figures as they are read
		"pad":        Pad,
		"treatments": Treatments,
		"stances":    Stances,

		// pictures
		"symbol":         draw.SymbolID,
		"troublepicture": draw.Trouble,
		"jpeg": func(b []byte) template.URL {
			return template.URL("data:image/jpeg;base64," + base64.StdEncoding.EncodeToString(b))
		},
	}
}

// dict makes the values of a part from names and values in turn.
func dict(kv ...any) map[string]any {
	m := map[string]any{}
	for i := 0; i+1 < len(kv); i += 2 {
		m[kv[i].(string)] = kv[i+1]
	}
	return m
}

// Day is a day as pages write it, by the clock of the shop.
func Day(t time.Time) string { return t.Local().Format("2 Jan 2006") }

// Stamp is a day and its time.
func Stamp(t time.Time) string { return t.Local().Format("2 Jan 2006 15:04") }

// Counted is a number of things: 1 job, 2 jobs.
func Counted(n int, thing string) string {
	if n != 1 {
		thing += "s"
	}
	return unit.Whole(n) + " " + thing
}

// ClockOf is minutes as a clock shows them, with seconds.
func ClockOf(minutes float64) string {
	s := int(math.Round(60 * minutes))
	return fmt.Sprintf("%d:%02d", s/60, s%60)
}

// verdictWord is a verdict as one says it.
func verdictWord(verdict string) string {
	switch inspect.Verdict(verdict) {
	case inspect.OK:
		return "inside"
	case inspect.MeasureAgain:
		return "measure again"
	}
	return "beyond"
}

// PulledFigure is what a pull came to.
func PulledFigure(p *job.Pull) string {
	switch {
	case p.Evidence == pull.NotMeasured:
		return "no figure"
	case p.ReadNm() > 0:
		return unit.Torque(p.ReadNm()).Both()
	case p.SetAtBoltNm() > 0:
		return "set " + unit.Torque(p.SetAtBoltNm()).Both()
	}
	if p.ErrDeg > 0 {
		return unit.Number(p.Result.TurnDeg, 0) + "° ± " + unit.Number(p.ErrDeg, 1) + "°"
	}
	return unit.Number(p.Result.TurnDeg, 1) + "°"
}
