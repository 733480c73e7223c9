package practice

import (
	"fmt"
	"testing"
)

func TestSkillsAndWhatToRepeat(t *testing.T) {
	goes := func(exercise string, skills ...string) Past {
		p := Past{Exercise: exercise, Skills: map[string]bool{}}
		for _, s := range skills {
			p.Skills[s[1:]] = s[0] == '+'
		}
		return p
	}
	minutes := map[string]float64{"long": 90, "short": 20, "other": 10}
	good := func(x string) (float64, bool) { m, ok := minutes[x]; return m, ok }
	for name, c := range map[string]struct {
		past   []Past // the newest first
		skills string
		repeat string
	}{
		"nothing yet":      {nil, "[]", ""},
		"all met":          {[]Past{goes("short", "+torque")}, "[{torque [true]}]", ""},
		"half is not weak": {[]Past{goes("short", "-torque"), goes("short", "+torque")}, "[{torque [true false]}]", ""},
		"more than half is": {
			[]Past{goes("long", "-torque"), goes("short", "-torque"), goes("other", "+order")},
			"[{torque [false false]} {order [true]}]", "short",
		},
		"the weakest first": {
			[]Past{goes("long", "-order", "+torque"), goes("short", "-torque")}, "[{order [false]} {torque [false true]}]",
			"long",
		},
		"alike by name": {[]Past{goes("short", "-b", "-a")}, "[{a [false]} {b [false]}]", "short"},
		"only the last five count": {[]Past{goes("short", "+a"), goes("short", "+a"), goes("short", "+a"),
			goes("short", "-a"), goes("short", "-a"), goes("short", "-a")},
			"[{a [false false true true true]}]", ""},
		"an exercise that is gone": {[]Past{goes("gone", "-a")}, "[{a [false]}]", ""},
	} {
		if got := fmt.Sprint(Skills(c.past)); got != c.skills {
			t.Errorf("%s: %s, want %s", name, got, c.skills)
		}
		if got := Repeat(c.past, good); got != c.repeat {
			t.Errorf("%s: repeat %q, want %q", name, got, c.repeat)
		}
	}
}
