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
	"unicode"

	"lugtak/core/fault"
)

// Row is one line of figures with its number in the text.
type Row struct {
	Line int
	V    [3]float64
}

// Column is one of the three: what its header may be called, letters and digits only,
// and what a figure under that header is multiplied by.
type Column struct {
	Name  string
	Heads map[string]float64
}

// longest is more than three figures take, in bytes.
const longest = 4096

// Read reads rows of three finite figures, parted by commas or by semicolons (then with
// decimal commas too), quoted as RFC 4180 says or not. A header says which column is
// which, and is obeyed; without one they stand in the order of columns. most bounds the
// rows. Its faults are about the field "csv" and name the line.
func Read(text string, columns [3]Column, most int) ([]Row, error) {
	form := Form(columns)
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
	at := inOrder
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
			if at, err = obey(cells, line, columns); err != nil {
				return nil, err
			}
			continue
		}
		row, err := figures(cells, line, r.Comma, form)
		if err != nil {
			return nil, err
		}
		if out = append(out, at.put(row)); len(out) > most {
			return nil, Fault(line, "more rows than one recording has.", fmt.Sprintf("Send at most %d.", most))
		}
	}
}

// Form says what the columns are, for a remedy.
func Form(columns [3]Column) string {
	return fmt.Sprintf("Three columns are wanted: %s, %s, %s.", columns[0].Name, columns[1].Name, columns[2].Name)
}

// layout is which column each cell of a line belongs to, and its factor.
type layout [3]struct {
	column int
	times  float64
}

var inOrder = layout{{0, 1}, {1, 1}, {2, 1}}

func (l layout) put(r Row) Row {
	out := Row{Line: r.Line}
	for i, cell := range l {
		out.V[cell.column] = r.V[i] * cell.times
	}
	return out
}

// obey reads a header.
func obey(cells []string, line int, columns [3]Column) (layout, error) {
	var out layout
	if len(cells) != len(out) {
		return out, Fault(line, fmt.Sprintf("the header has %d columns.", len(cells)), Form(columns))
	}
	taken := map[int]bool{}
	for i, cell := range cells {
		k, times := named(cell, columns)
		switch {
		case k < 0:
			return out, Fault(line, fmt.Sprintf("“%s” is no column known here.", strings.TrimSpace(cell)), Form(columns))
		case taken[k]:
			return out, Fault(line, fmt.Sprintf("“%s” stands twice.", columns[k].Name), Form(columns))
		}
		taken[k] = true
		out[i].column = k
		out[i].times = times
	}
	return out, nil
}

// named finds the column a header cell names; -1 where there is none.
func named(cell string, columns [3]Column) (column int, times float64) {
	plain := strings.Map(func(r rune) rune {
		if unicode.IsLetter(r) || unicode.IsDigit(r) {
			return unicode.ToLower(r)
		}
		return -1
	}, cell)
	for i, c := range columns {
		if k, ok := c.Heads[plain]; ok {
			return i, k
		}
	}
	return -1, 0
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
	return fault.New(fault.BadCSV, "csv", fmt.Sprintf("Line %d: %s", line, detail), remedy)
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
