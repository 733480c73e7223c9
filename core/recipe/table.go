package recipe

import (
	"regexp"
	"slices"
	"strings"
)

// A manual prints many joints as one table, with the units in its head alone. Each row is read as if they stood in it.

var (
	columnForm = regexp.MustCompile(`\t+| *\| *| {2,}`)
	stageOf    = regexp.MustCompile(`(?i)\b[1-9](?:st|nd|rd|th)\b|\b(?:stage|step)\s*[1-9]\b`)
	cellForm   = regexp.MustCompile(`^[<>≤≥~]?\s*\d[\d.,]*(?:\s*(?:-|–|—|to|±|\+/-)\s*\d[\d.,]*)?$`)
)

// column is what the head of a table says of the cells below: the unit as it is written, empty where they have none,
// and whether they are counted as stages.
type column struct {
	unit  string
	angle bool
	stage bool
}

// columns are the cells of a row; a bar round it parts nothing.
func columns(line string) []string {
	cells := columnForm.Split(strings.Trim(line, " |\t\r"), -1)
	for i := range cells {
		cells[i] = strings.TrimSpace(cells[i])
	}
	return cells
}

// head reads a line as the head of a table: no figures, and some column's unit.
func head(line string) []column {
	cells := columns(line)
	if len(cells) < 2 || hasDigit.MatchString(stageOf.ReplaceAllString(line, "")) {
		return nil
	}
	out := make([]column, len(cells))
	units := false
	for i, cell := range cells {
		words := strings.Fields(cell)
		if len(words) == 0 {
			continue
		}
		for from := range words { // its last words: Torque N m, Angle (°)
			text := strings.Trim(strings.Join(words[from:], " "), "()[]:,")
			p := &parser{scanner: newScanner(text)}
			if u, ok := p.unit(); ok && u.slip == "" && p.scanner.done() {
				out[i] = column{unit: text, angle: u.angle, stage: stageOf.MatchString(cell)}
				units = true
				break
			}
		}
	}
	if !units {
		return nil
	}
	return out
}

// row writes a row with the units of its columns: what it is of, then its stages. A torque in a second unit is the
// first one again; one in the same unit is another stage only where the head counts them, else it may be another
// joint's, or the other end of a window: which is asked.
func row(line string, cols []column) (string, bool) {
	cells := columns(line)
	if len(cells) != len(cols) {
		return "", false
	}
	var of, stages []string
	var told []string // units of the torque in hand
	for i, cell := range cells {
		unit := cols[i].unit
		switch {
		case cell == "" || slices.Contains([]string{"-", "–", "—", "n/a"}, cell):
		case unit == "" || !cellForm.MatchString(cell):
			of = append(of, cell)
		case cols[i].angle:
			stages = append(stages, "+ "+cell+" "+unit)
			told = nil
		case len(told) > 0 && !slices.Contains(told, unit):
			stages[len(stages)-1] += " (" + cell + " " + unit + ")"
			told = append(told, unit)
		case len(told) > 0 && !cols[i].stage:
			stages[len(stages)-1] += " or " + cell + " " + unit
		default:
			stages = append(stages, cell+" "+unit)
			told = []string{unit}
		}
	}
	if len(stages) == 0 {
		return "", false
	}
	return strings.Join(of, " ") + " " + strings.Join(stages, "; "), true
}

// tabled is a text whose tables have their units in every row.
func tabled(text string) string {
	lines := strings.Split(text, "\n")
	var cols []column
	for i, line := range lines {
		if h := head(line); h != nil {
			cols = h
			continue
		}
		if cols == nil || strings.TrimSpace(line) == "" {
			continue
		}
		if full, ok := row(line, cols); ok {
			lines[i] = strings.TrimSpace(full)
		} else if !strings.ContainsAny(line, "|\t") { // a line between rows names those below
			cols = nil
		}
	}
	return strings.Join(lines, "\n")
}
