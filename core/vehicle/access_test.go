package vehicle

import (
	"strings"
	"testing"

	"lugtak/core/fault"
)

// What helps whoever comes next is kept in a line; what helps nobody is refused.
func TestAccess(t *testing.T) {
	for name, c := range map[string]struct {
		a     Access
		field string
		says  string
	}{
		"all of it": {Access{Socket: "18 mm", Drive: "twelve-point", Extension: "125 mm", Blocked: "the shield, bend it"}, "",
			"18 mm twelve-point, extension 125 mm: the shield, bend it"},
		"a size":      {Access{Socket: " 18 mm "}, "", "18 mm"},
		"a word":      {Access{Blocked: "full lock left"}, "", "full lock left"},
		"nothing":     {Access{Socket: " "}, "blocked", ""},
		"no size":     {Access{Socket: "18"}, "socket", ""},
		"no head":     {Access{Socket: "18 mm", Drive: "star"}, "drive", ""},
		"a whole day": {Access{Blocked: strings.Repeat("x", maxBlocked+1)}, "blocked", ""},
	} {
		err := c.a.Check()
		f := fault.As(err)
		if (err == nil) != (c.field == "") || f != nil && f.Field != c.field || err == nil && c.a.Says() != c.says {
			t.Errorf("%s: %v, %q", name, err, c.a.Says())
		}
	}
}

// A head nobody said before is known by what it took; what the sheet says stands.
func TestReached(t *testing.T) {
	p := Pattern{Spec: map[string]Spec{"a": {Socket: "15 mm"}, "b": {Recipe: "60 Nm"}}}
	all := []Access{
		{Joint: "a", Socket: "16 mm"}, {Joint: "b", Socket: "17 mm"}, {Joint: "b", Socket: "18 mm", Drive: "inner"},
		{Joint: "c", Socket: "19 mm"}, {Joint: "b", Blocked: "the boot"},
	}
	for open, c := range map[bool]string{true: "19 mm", false: ""} {
		p.Open = open
		got := p.Reached(all).Spec
		if got["a"].Socket != "15 mm" || got["b"].Socket != "18 mm" || got["b"].Drive != "inner" || got["c"].Socket != c {
			t.Errorf("open %t: %+v", open, got)
		}
	}
	if p.Spec["b"].Socket != "" {
		t.Error("the pattern itself was changed")
	}
}
