package library

import (
	"os"
	"slices"
	"strings"
	"testing"

	"lugtak/core/unit"
)

// The page of what can be ordered names every operation with what it asks and where a shop may choose.
func TestOperationsAreListed(t *testing.T) {
	l := whole(t)
	text, err := os.ReadFile("../docs/OPERATIONS.md")
	if err != nil {
		t.Fatal(err)
	}
	rows := strings.Split(string(text), "\n")
	for _, o := range l.Operations {
		title := unit.Capital(strings.ReplaceAll(strings.ReplaceAll(o.Title, "{axle} ", ""), ", {side}", ""))
		i := slices.IndexFunc(rows, func(r string) bool { return strings.HasPrefix(r, "| "+title+" ") })
		if i < 0 {
			t.Errorf("docs/OPERATIONS.md does not name “%s”", title)
			continue
		}
		asked := map[string]bool{}
		for _, s := range o.Steps {
			for key := range s.When {
				asked[key] = true
			}
		}
		for _, b := range l.Builds {
			if asked[b.Key] && !strings.Contains(rows[i], b.Question) {
				t.Errorf("docs/OPERATIONS.md: %s asks “%s” too", title, b.Question)
			}
		}
		for _, s := range l.Schools {
			if asked[s.Key] && !strings.Contains(rows[i], s.Question) {
				t.Errorf("docs/OPERATIONS.md: %s may be done by “%s” too", title, s.Question)
			}
		}
	}
}
