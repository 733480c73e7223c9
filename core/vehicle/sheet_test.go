package vehicle

import (
	"math"
	"slices"
	"strings"
	"testing"
)

func sheet(more map[string]Spec) Pattern {
	p := Pattern{Spec: map[string]Spec{
		"hub.front.knuckle": {Recipe: "60 Nm + 90°", Thread: "M12x1.5", Class: "10.9",
			Treatment: "medium locker", Source: "book 3.4"},
		"brake.rear.pad": {Recipe: "22 Nm", Thread: "M8", Class: "8.8", Source: "book 9"},
	}}
	for k, s := range more {
		p.Spec[k] = s
	}
	return p
}

func TestDoubts(t *testing.T) {
	ok := Spec{Recipe: "110 Nm", Thread: "M12x1.5", Class: "10.9", Source: "book 5.2"}
	with := func(f func(*Spec)) Spec { s := ok; f(&s); return s }
	for _, c := range []struct {
		name string
		spec map[string]Spec
		code string // none is wanted if empty
		says string
	}{
		{"a clean sheet", nil, "", ""},
		{"no source", map[string]Spec{"brake.front.bracket": with(func(s *Spec) { s.Source = "" })}, NoSource, "no source"},
		{
			"two sources",
			map[string]Spec{"brake.front.bracket": with(func(s *Spec) {
				s.Others = []Figure{{Recipe: "81 Nm",
					Source: "a page"}}
			})},
			Conflict, "81 N·m (59.7 ft·lb)",
		},
		{
			"two sources on two scales",
			map[string]Spec{"brake.front.bracket": with(func(s *Spec) {
				s.Others = []Figure{{Recipe: "81 ft-lb",
					Source: "a page"}}
			})},
			"", "",
		},
		{
			"the same figure twice", map[string]Spec{"brake.front.bracket": ok, "hub.front.cap": ok}, SameFigure,
			"hub.front.cap",
		},
		{"the same figure on another axle", map[string]Spec{"brake.front.bracket": ok, "brake.rear.bracket": ok}, "", ""},
		{
			"a first stage alone", map[string]Spec{"hub.front.bearing": with(func(s *Spec) { s.Recipe = "60 Nm" })}, FirstStage,
			"hub.front.knuckle",
		},
		{
			"a slip of the unit", map[string]Spec{"brake.front.bracket": with(func(s *Spec) { s.Recipe = "115 in-lb" })},
			"unit_slip", "115 Nm",
		},
	} {
		got := Doubts(sheet(c.spec))
		i := slices.IndexFunc(got, func(d Doubt) bool { return d.Code == c.code })
		switch {
		case c.code == "" && len(got) > 0:
			t.Errorf("%s: %v", c.name, got)
		case c.code != "" && (i < 0 || !strings.Contains(got[i].Message, c.says)):
			t.Errorf("%s: %v", c.name, got)
		}
	}
}

// Geometry: 30 kN on a ring 14.63/11 mm (ISO 4014 head of M10 over its medium
// hole) is 30 000 / 73.07 mm² = 410.6 MPa.
func TestPressure(t *testing.T) {
	if got := Pressure(30_000, 14.63, 11); math.Abs(got-410.6) > 0.5 {
		t.Errorf("%.1f MPa", got)
	}
}

func TestCorrectionStrikes(t *testing.T) {
	p := sheet(
		map[string]Spec{
			"brake.front.bracket": {Recipe: "115 ft-lb", Note: "new bolts only", Thread: "M12x1.5", Class: "10.9",
				Others: []Figure{{Recipe: "115 Nm", Source: "book 5.2"}}},
		},
	)
	const joint = "brake.front.bracket"
	for says, c := range map[string]Correction{
		"no such joint":    {Joint: "nowhere", Recipe: "1 Nm"},
		"no unit":          {Joint: joint, Recipe: "115"},
		"without a source": {Joint: joint, Recipe: "115 Nm", Why: "unit"},
		"not said why":     {Joint: joint, Recipe: "115 Nm", Source: "book"},
		"the hardware":     {Joint: joint, Variant: "flange", Recipe: "115 Nm", Source: "book", Why: "unit"},
	} {
		if err := p.Correct(&c); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("%+v: %v", c, err)
		}
	}
	c := Correction{
		Joint:  "brake.front.bracket",
		Recipe: "115 N.m",
		Source: "book 5.2",
		Why:    "the unit was copied",
		By:     "foreman",
	}
	if err := p.Correct(&c); err != nil {
		t.Fatal(err)
	}
	got := p.With([]Correction{c})
	s := got.Spec["brake.front.bracket"]
	if s.Recipe != "115 Nm" || s.Source != "book 5.2" || s.Note != "" || len(s.Others) != 0 ||
		got.Version != p.Version+1 ||
		len(s.Struck) != 1 || s.Struck[0] != (Struck{"115 ft-lb", "foreman", "the unit was copied"}) {
		t.Errorf("%+v", s)
	}
	if p.Spec["brake.front.bracket"].Recipe != "115 ft-lb" {
		t.Error("the sheet it came from was changed")
	}
}

// Where a joint may carry several kinds of hardware, the figure of one is corrected and the others
// stay.
func TestCorrectionOfAVariant(t *testing.T) {
	const joint = "hub.front.knuckle"
	flange := Variant{Key: "flange", Recipe: "60 Nm", Thread: "M12x1.5", Source: "page 4"}
	plain := Variant{Key: "plain", Recipe: "50 Nm", Thread: "M12x1.5", Source: "page 4"}
	p := sheet(map[string]Spec{joint: {Variants: []Variant{flange, plain}}})
	c := Correction{Joint: joint, Recipe: "66 Nm", Source: "page 5", Why: "read a line too low", By: "Ode"}
	if err := p.Correct(&c); err == nil || !strings.Contains(err.Error(), "the hardware") {
		t.Errorf("of no hardware: %v", err)
	}
	c.Variant = "flange"
	if err := p.Correct(&c); err != nil {
		t.Fatal(err)
	}
	s := p.With([]Correction{c}).Spec[joint]
	if s.Variants[0].Recipe != "66 Nm" || s.Variants[0].Source != "page 5" || s.Variants[1].Recipe != plain.Recipe ||
		len(s.Struck) != 1 || s.Struck[0].Recipe != "60 Nm" {
		t.Errorf("%+v", s)
	}
	if p.Spec[joint].Variants[0].Recipe != "60 Nm" {
		t.Error("the sheet it came from was changed")
	}
	c.Recipe, c.Source = "60 Nm", "page 4"
	if err := p.Correct(&c); err == nil || !strings.Contains(err.Error(), "stands there") {
		t.Errorf("nothing to correct: %v", err)
	}
}

// What a figure does to its bolt is told where the sheet says which bolt it is and the figure names a torque.
func TestLoad(t *testing.T) {
	whole := Spec{Recipe: "115 Nm", Thread: "M12x1.5", Class: "10.9"}
	for name, c := range map[string]struct {
		change func(*Spec)
		ok     bool
	}{
		"whole":      {func(*Spec) {}, true},
		"no thread":  {func(s *Spec) { s.Thread = "" }, false},
		"no class":   {func(s *Spec) { s.Class = "17" }, false},
		"no torque":  {func(s *Spec) { s.Recipe = "snug" }, false},
		"no figure":  {func(s *Spec) { s.Recipe = "tight" }, false},
		"with angle": {func(s *Spec) { s.Recipe = "60 Nm + 90°" }, true},
	} {
		s := whole
		c.change(&s)
		l, ok := s.Load()
		if ok != c.ok || ok && (l.Preload.Mid <= 0 || l.Preload.Low >= l.Preload.High) {
			t.Errorf("%s: %+v, %t", name, l, ok)
		}
	}
}
