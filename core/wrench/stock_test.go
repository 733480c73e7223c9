package wrench

import (
	"testing"

	"lugtak/core/fault"
)

// A socket is written one way, and what is none is refused.
func TestParseOwn(t *testing.T) {
	for text, want := range map[string]string{
		"18 mm": "18 mm", " 18 mm , 1/2 square": "18 mm, 1/2 square", "18 mm,1/2": "18 mm, 1/2 square",
		"14 mm twelve-point, 3/8 square": "14 mm twelve-point, 3/8 square", "6 mm inner": "6 mm inner", "3/4 in": "3/4 in",
		"18": "", "": "", "17.3 mm": "", "18 mm, 9/16 square": "", "18 mm square": "",
	} {
		got, err := ParseOwn(text)
		f := fault.As(err)
		if (err == nil) != (want != "") || err == nil && got.String() != want || f != nil && f.Remedy == "" {
			t.Errorf("%q: %q %v, want %q", text, got, err, want)
		}
	}
}

// What of a crib serves for a tool of a step: a twelve-point head wants a twelve-point socket, a key goes into its own
// size alone, and 3/4 in stands in for 19 mm (common practice).
func TestServesByKind(t *testing.T) {
	have := []string{"15 mm, 1/2 square", "14 mm twelve-point", "3/4 in", "6 mm inner, 3/8 square"}
	for tool, c := range map[string]struct {
		lacks, ok bool
		name      string
	}{
		"15 mm six-point":    {false, false, ""},
		"14 mm twelve-point": {false, false, ""},
		"14 mm six-point":    {true, false, ""},
		"15 mm twelve-point": {true, false, ""},
		"19 mm six-point":    {true, true, "3/4 in"},
		"6 mm inner":         {false, false, ""},
		"8 mm inner":         {true, false, ""},
		"12 mm multi-point":  {true, false, ""},
		"screw press":        {false, false, ""},
		"hammer six-point":   {false, false, ""},
	} {
		s, lacks, ok := Serves(tool, have)
		if lacks != c.lacks || ok != c.ok || s.Name != c.name {
			t.Errorf("%s: lacks %t, %q %t", tool, lacks, s.Name, ok)
		}
	}
}
