// Package table reads the three-column texts that loggers and wrenches write.
package table

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"lugtak/core/fault"
)

// Row is one line of figures with its number in the text.
type Row struct {
	Line int
	V    [3]float64
}

const longest = 4096 // bytes of a line

// Read reads rows of three finite figures, header optional, parted by commas or by
// semicolons (then with decimal commas too). form says what the columns are, for
// the remedy; most bounds the rows. Its faults are about the field "csv" and name
// the line.
func Read(text, form string, most int) ([]Row, error) {
	var out []Row
	sep, line := "", 0
	for row := range strings.Lines(text) {
		line++
		if len(row) > longest {
			return nil, Fault(line, "the line is too long.", form)
		}
		row = strings.TrimSpace(strings.TrimPrefix(row, "\ufeff"))
		if row == "" {
			continue
		}
		first := sep == ""
		if first {
			if sep = ","; strings.Contains(row, ";") {
				sep = ";"
			}
		}
		cells := strings.Split(row, sep)
		if first && header(cells[0], sep) {
			if len(cells) != 3 {
				return nil, Fault(line, fmt.Sprintf("the header has %d columns.", len(cells)), form)
			}
			continue
		}
		if len(cells) != 3 {
			return nil, Fault(line, fmt.Sprintf("%d columns.", len(cells)), form)
		}
		r := Row{Line: line}
		for i, c := range cells {
			v, err := figure(c, sep)
			if err != nil || math.IsNaN(v) || math.IsInf(v, 0) {
				return nil, Fault(line, fmt.Sprintf("column %d is not a number.", i+1), form)
			}
			r.V[i] = v
		}
		if out = append(out, r); len(out) > most {
			return nil, Fault(line, "more rows than one recording has.", fmt.Sprintf("Send at most %d.", most))
		}
	}
	return out, nil
}

// Fault is about a line of the text.
func Fault(line int, detail, remedy string) error {
	return fault.New("bad_csv", "csv", fmt.Sprintf("Line %d: %s", line, detail), remedy)
}

func figure(cell, sep string) (float64, error) {
	cell = strings.Trim(strings.TrimSpace(cell), `"`)
	if sep == ";" {
		cell = strings.Replace(cell, ",", ".", 1)
	}
	return strconv.ParseFloat(cell, 64)
}

// header: a first cell with a letter that is no figure; 1e-3 has a letter too.
func header(cell, sep string) bool {
	_, err := figure(cell, sep)
	return err != nil && strings.ContainsAny(strings.ToLower(cell), "abcdefghijklmnopqrstuvwxyz")
}
