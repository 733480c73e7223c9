// Package table reads the three-column texts that loggers and wrenches write.
package table

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io"
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

// longest is more than three figures take, in bytes.
const longest = 4096

// Read reads rows of three finite figures, header optional, parted by commas or by
// semicolons (then with decimal commas too), quoted as RFC 4180 says or not. form says
// what the columns are, for the remedy; most bounds the rows. Its faults are about the
// field "csv" and name the line.
func Read(text, form string, most int) ([]Row, error) {
	text = strings.TrimPrefix(text, "\ufeff")
	first, _, _ := strings.Cut(strings.TrimSpace(text), "\n")
	r := csv.NewReader(strings.NewReader(text))
	r.FieldsPerRecord = -1
	r.LazyQuotes = true
	r.TrimLeadingSpace = true
	r.ReuseRecord = true
	if strings.Contains(first, ";") {
		r.Comma = ';'
	}
	var out []Row
	for n := 0; ; n++ {
		cells, err := r.Read()
		if errors.Is(err, io.EOF) {
			return out, nil
		}
		line, _ := r.FieldPos(0)
		var bad *csv.ParseError
		if errors.As(err, &bad) {
			return nil, Fault(bad.Line, "this is no line of a table.", form)
		}
		if len(cells[0]) > longest {
			return nil, Fault(line, "the line is too long.", form)
		}
		if n == 0 && header(cells[0], r.Comma) {
			if len(cells) != 3 {
				return nil, Fault(line, fmt.Sprintf("the header has %d columns.", len(cells)), form)
			}
			continue
		}
		row, err := figures(cells, line, r.Comma, form)
		if err != nil {
			return nil, err
		}
		if out = append(out, row); len(out) > most {
			return nil, Fault(line, "more rows than one recording has.", fmt.Sprintf("Send at most %d.", most))
		}
	}
}

func figures(cells []string, line int, comma rune, form string) (Row, error) {
	row := Row{Line: line}
	if len(cells) != len(row.V) {
		return row, Fault(line, fmt.Sprintf("%d columns.", len(cells)), form)
	}
	for i, c := range cells {
		v, err := figure(c, comma)
		if err != nil || math.IsNaN(v) || math.IsInf(v, 0) {
			return row, Fault(line, fmt.Sprintf("column %d is not a number.", i+1), form)
		}
		row.V[i] = v
	}
	return row, nil
}

// Fault is about a line of the text.
func Fault(line int, detail, remedy string) error {
	return fault.New("bad_csv", "csv", fmt.Sprintf("Line %d: %s", line, detail), remedy)
}

func figure(cell string, comma rune) (float64, error) {
	cell = strings.TrimSpace(cell)
	if comma == ';' {
		cell = strings.Replace(cell, ",", ".", 1)
	}
	return strconv.ParseFloat(cell, 64)
}

// header: a first cell with a letter that is no figure; 1e-3 has a letter too.
func header(cell string, comma rune) bool {
	_, err := figure(cell, comma)
	return err != nil && strings.ContainsAny(strings.ToLower(cell), "abcdefghijklmnopqrstuvwxyz")
}
