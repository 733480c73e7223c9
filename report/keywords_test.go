package report

import (
	"strings"
	"testing"
)

func TestKeyWords(t *testing.T) {
	seen := map[string]bool{}
	for _, w := range Words {
		if seen[w] || w != strings.ToLower(w) || len(w) < 2 {
			t.Errorf("%q stands twice, or is no word to be read aloud", w)
		}
		seen[w] = true
	}
	if len(Words) != 256 {
		t.Fatalf("%d words: a byte has 256 values", len(Words))
	}
	for print, want := range map[string]string{
		"00010203ff000000": "acorn anchor ankle apple yellow",
		"0000000000":       "acorn acorn acorn acorn acorn",
		"00010203":         "",
		"no print":         "",
	} {
		if got := KeyWords(print); got != want {
			t.Errorf("%s: %q", print, got)
		}
	}
}
