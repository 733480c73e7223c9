package kit

import (
	"strings"
	"testing"
)

// A page's open places are filled in order, each with its own.
func TestOpenParts(t *testing.T) {
	l := open([]byte("a" + idMark + "b" + tokenMark + "c" + idMark))
	var text, marks []string
	for _, p := range l {
		text, marks = append(text, string(p.text)), append(marks, p.mark)
	}
	if strings.Join(text, "|") != "a|b|c|" || len(l) != 4 || marks[0] != idMark || marks[1] != tokenMark ||
		marks[2] != idMark ||
		marks[3] != "" {
		t.Errorf("%q %q", text, marks)
	}
}
