package recipe

import (
	_ "embed"
	"strings"
)

// notation is what people write, with what it means or why it is refused and what it may
// mean: text, canonical form, code of the refusal, readings, by tabs; \n is a new line, \t a tab.
//
//go:embed notation.tsv
var notation string

// Example is a text of the notation: one that is read, or one that is refused.
type Example struct {
	Text     string
	Means    string   // canonical; empty where it is refused
	Refused  string   // code of the refusal
	Readings []string // what it may mean
}

// Notation is the table of texts: the notation's own page, and its test.
func Notation() []Example {
	var out []Example
	for i, line := range strings.Split(strings.TrimSuffix(notation, "\n"), "\n") {
		cells := strings.Split(line, "\t")
		if i == 0 || len(cells) < 3 {
			continue
		}
		out = append(out, Example{
			Text:     strings.NewReplacer(`\n`, "\n", `\t`, "\t").Replace(cells[0]),
			Means:    cells[1],
			Refused:  cells[2],
			Readings: cells[3:],
		})
	}
	return out
}
