package reckon

import (
	"cmp"
	"encoding/json"
	"regexp"
	"slices"
	"strings"

	"lugtak/core/unit"
	"lugtak/library"
)

// Guessed is a text that was read as the input of a calculation, with what that comes to.
type Guessed struct {
	Calc  Calc
	Typed map[string]string // as its form has it
	Says  string
	Rows  []Row
}

// mostRows is how many lines of a result stand beside what was typed.
const mostRows = 3

// telling are the rows that a person reads: sentences before figures, and no inside of a stage.
func telling(rows []Row) []Row {
	rows = slices.DeleteFunc(rows, func(r Row) bool { return r.Label == "stages" || r.Label == "canonical" })
	slices.SortStableFunc(rows, func(a, b Row) int { return cmp.Compare(min(1, len(b.Lines)), min(1, len(a.Lines))) })
	return rows[:min(mostRows, len(rows))]
}

var (
	vinShape  = regexp.MustCompile(`^[A-HJ-NPR-Za-hj-npr-z0-9]{17}$`)
	tyreShape = regexp.MustCompile(`^\d{3}\s*/\s*\d{2}\s*[A-Za-z]*\s*\d{2}|^\d{2,3}[.x/]\d`)
	figured   = regexp.MustCompile(`^([-+]?[\d.,\x{202f}\x{00a0} ]+)\s*([^\d\s].*)$`)
	threaded  = regexp.MustCompile(`(?i)^(M\d\S*)\s+(\d+\.\d+)$`)
)

// others are the units a figure is told in beside its own, by its dimension; the first that is another is taken.
var others = map[unit.Dimension][]string{
	unit.DimTorque: {"N·m", "ft·lb"}, unit.DimLength: {"mm", "in"}, unit.DimMass: {"kg", "lb"},
	unit.DimPressure: {"kPa", "psi"}, unit.DimForce: {"N", "lbf"}, unit.DimSpeed: {"km/h", "mph"},
	unit.DimTemperature: {"°C", "°F"}, unit.DimVolume: {"ml", "l"},
}

// Guess reads a text as it stands on a sheet, a tyre or a plate: a VIN, a tyre's size, a thread with its class, a
// figure with its unit, a recipe. It is false where it is none of these.
func Guess(lib *library.Library, text string) (Guessed, bool) {
	text = strings.TrimSpace(text)
	var tries []Guessed
	try := func(calc string, typed map[string]string, says string) {
		if c, ok := Find(calc); ok {
			tries = append(tries, Guessed{Calc: c, Typed: typed, Says: says})
		}
	}
	if vinShape.MatchString(text) {
		try("vin", map[string]string{"vin": text}, "vehicle identification number")
	}
	if tyreShape.MatchString(text) {
		try("tyre", map[string]string{"size": text}, "tyre size")
	}
	if m := threaded.FindStringSubmatch(text); m != nil {
		try("twist-off", map[string]string{"thread": m[1], "class": m[2]}, "thread and class")
	}
	if m := figured.FindStringSubmatch(text); m != nil {
		if u, ok := unit.Lookup(m[2]); ok {
			for _, to := range others[u.Dim] {
				if to != u.Symbol {
					typed := map[string]string{"value": strings.Join(strings.Fields(m[1]), ""), "from": u.Symbol, "to": to}
					try("convert", typed, "figure and unit")
					break
				}
			}
		}
	}
	try("recipe", map[string]string{"text": text}, "recipe")
	for _, g := range tries {
		raw, err := g.Calc.FromForm(func(name string) string { return g.Typed[name] })
		if err != nil {
			continue
		}
		if res, err := Do(lib, g.Calc.Name, json.RawMessage(raw)); err == nil {
			g.Rows = telling(Rows(res))
			return g, true
		}
	}
	return Guessed{}, false
}
