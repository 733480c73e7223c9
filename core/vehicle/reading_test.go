package vehicle

import (
	"strings"
	"testing"
	"time"

	"lugtak/core/fault"
)

// Of what was typed only what the chosen way is about is kept, and it reads back in words.
func TestSeenAs(t *testing.T) {
	typed := Seen{Joint: "hub.front.wheel", Count: 4, Thread: "M12x1.5", Drive: "hex", Socket: "17 mm", Title: "lead"}
	for _, c := range []struct {
		way   string
		typed Seen
		want  Seen
		says  string
		code  fault.Code
	}{
		{NotThere, typed, Seen{Joint: typed.Joint, Absent: true}, "not on this vehicle: wheel nuts", ""},
		{ThereAfter, typed, Seen{Joint: typed.Joint}, "on this vehicle after all: wheel nuts", ""},
		{OtherCount, Seen{Joint: "a", Count: 4}, Seen{Joint: "a", Count: 4}, "4 on this vehicle: wheel nuts", ""},
		{OtherCount, Seen{Joint: "a", Title: "lead"}, Seen{}, "", fault.Missing},
		{OtherHead, Seen{Joint: "a", Socket: "17 mm", Title: "lead"}, Seen{Joint: "a", Socket: "17 mm"},
			"otherwise on this vehicle: wheel nuts", ""},
		{OtherHead, Seen{Joint: "a", Thread: " "}, Seen{}, "", fault.Missing},
		{OneMore, Seen{Joint: "a", Title: "lead", Thread: "M6"}, Seen{Joint: "a", Beside: "a", Title: "lead", Count: 1},
			"one more on this vehicle: lead", ""},
		{"", typed, Seen{}, "", fault.BadChoice},
	} {
		got, err := c.typed.As(c.way)
		if f := fault.As(err); f != nil && f.Code != c.code || f == nil && (c.code != "" || got != c.want) {
			t.Errorf("%s of %+v: %+v, %v", c.way, c.typed, got, err)
		}
		if err != nil {
			continue
		}
		if says := got.Says("wheel nuts"); says != c.says {
			t.Errorf("%s: %q", c.way, says)
		}
		got.Second = "Cass"
		if !strings.HasSuffix(got.Says("wheel nuts"), ", with Cass") {
			t.Errorf("%s does not say who saw it too", c.way)
		}
	}
}

// What no head bears and nothing is turned by is refused, also where no thread is said.
func TestNumbersOnHeads(t *testing.T) {
	for class, ok := range map[string]bool{"": true, "10.9": true, "grade 8": true, "soft": false, "11.9": false} {
		r := Reading{Recipe: "60 Nm", Source: "book", Class: class}
		if err := r.Check(); (err == nil) != ok {
			t.Errorf("%q without a thread: %v", class, err)
		}
	}
	for drive, ok := range map[string]bool{"": true, "inner": true, "star": false} {
		x := Seen{Drive: drive, Socket: "18 mm"}
		if err := x.Check(); (err == nil) != ok {
			t.Errorf("head %q: %v", drive, err)
		}
	}
}

// What readings come to: who read it so, each once, and who read it otherwise; a script is no second reader.
func TestStand(t *testing.T) {
	read := func(by, text string, more ...string) Reading {
		r := Reading{By: by, Recipe: text, Source: "book"}
		for _, m := range more {
			r.Hidden, r.Script = r.Hidden || m == "hidden", r.Script || m == "script"
		}
		return r
	}
	for name, c := range map[string]struct {
		readings []Reading
		recipe   string
		readers  string
		differs  int
	}{
		"none":              {nil, "", "", 0},
		"one":               {[]Reading{read("Aro", "60 Nm")}, "60 Nm", "Aro", 0},
		"one, again":        {[]Reading{read("Aro", "60 Nm"), read("Aro", "66 Nm")}, "66 Nm", "Aro", 0},
		"two":               {[]Reading{read("Aro", "60 Nm"), read("Cass", "60 Nm", "hidden")}, "60 Nm", "Aro Cass", 0},
		"in another unit":   {[]Reading{read("Aro", "60 Nm"), read("Cass", "44 ft-lb", "hidden")}, "60 Nm", "Aro Cass", 0},
		"one, hidden":       {[]Reading{read("Aro", "60 Nm"), read("Aro", "60 Nm", "hidden")}, "60 Nm", "Aro Aro", 0},
		"hidden, then open": {[]Reading{read("Aro", "60 Nm", "hidden"), read("Aro", "60 Nm")}, "60 Nm", "Aro", 0},
		"otherwise":         {[]Reading{read("Aro", "60 Nm"), read("Cass", "66 Nm", "hidden")}, "", "", 2},
		"with an angle":     {[]Reading{read("Aro", "60 Nm"), read("Cass", "60 Nm + 90°")}, "", "", 2},
		"a script second":   {[]Reading{read("Aro", "60 Nm"), read("import", "60 Nm", "script")}, "60 Nm", "Aro", 0},
		"a script first":    {[]Reading{read("import", "60 Nm", "script"), read("Aro", "60 Nm")}, "60 Nm", "import Aro", 0},
	} {
		for i := range c.readings {
			c.readings[i].At = time.Unix(int64(i), 0)
		}
		st := Stand(c.readings)
		if st.Recipe != c.recipe || strings.Join(st.Readers, " ") != c.readers || len(st.Differs) != c.differs {
			t.Errorf("%s: %q by %q, %d differ", name, st.Recipe, st.Readers, len(st.Differs))
		}
	}
}
