package inspect

import (
	"math"
	"strings"
	"testing"

	"lugtak/core/fault"
)

func TestReadSheet(t *testing.T) {
	for _, c := range []struct {
		text string
		want []Angle
	}{
		{"FL, toe, 0.35, 0.08\nFR, toe, -0.10, 0.08", []Angle{{"FL", "toe", 0.35, 0.08}, {"FR", "toe", -0.10, 0.08}}},
		{"wheel,angle,before,after\nfl,Camber,-1.2,-0.8\n", []Angle{{"FL", "camber", -1.2, -0.8}}},
		{"RL;toe;0,25;0,10", []Angle{{"RL", "toe", 0.25, 0.10}}},
		{"FL, toe, 0°21', -0°06'", []Angle{{"FL", "toe", 0.35, -0.1}}},
		{"FR,caster,4°30’,4°30’", []Angle{{"FR", "caster", 4.5, 4.5}}},
	} {
		got, err := ReadSheet(c.text)
		if err != nil || len(got) != len(c.want) {
			t.Errorf("%q: %v %v", c.text, got, err)
			continue
		}
		for i, w := range c.want {
			g := got[i]
			if g.Wheel != w.Wheel || g.What != w.What || math.Abs(g.Before-w.Before) > 1e-9 || math.Abs(g.After-w.After) > 1e-9 {
				t.Errorf("%q: %+v, want %+v", c.text, g, w)
			}
		}
	}
	for text, says := range map[string]string{
		"FL, toe, 0.35":                          "four cells",
		"XX, toe, 1, 1":                          "no wheel",
		"FL, tow, 1, 1":                          "no angle",
		"FL, toe, much, 1":                       "not both degrees",
		"FL, toe, NaN, 1":                        "not both degrees",
		"FL, toe, 0°75', 1":                      "not both degrees",
		"FL, toe, 35, 1":                         "beyond 5",
		"FL, toe, 0.1, 0.1\nFL, toe, 0.2, 0.1":   "Line 2: toe of FL stands twice",
		"FL, camber, 1, 1\nFL, toe, 0.1, \"0.1,": "Line 2",
	} {
		_, err := ReadSheet(text)
		f := fault.As(err)
		if f == nil || f.Field != "sheet" || !strings.Contains(f.Detail, says) {
			t.Errorf("%q: %v, want %q", text, err, says)
		}
	}
}

// One turn too many on a rod of 1.5 mm pitch and an arm of 140 mm is atan(1.5/140) = 0.614°
// (by hand); two counts to an eighth of a turn are √2·0.1875 mm, 0.109° on that arm; a new end
// that is a pitch longer makes up for one turn more (rod = rod end + rod − what is screwed on, by hand).
func TestToeChange(t *testing.T) {
	for _, c := range []struct{ out, in, longer, deg, sure float64 }{
		{17.5, 18.5, 0, 0.6138, 0.1085},
		{17.5, 17.5, 0, 0, 0.1085},
		{17.5, 18.5, 1.5, 0, 0.3091},
		{17.5, 17.5, -1.5, 0.6138, 0.3091},
		{18, 17, 0, -0.6138, 0.1085},
	} {
		deg, sure, err := ToeChange(c.out, c.in, c.longer, 1.5, 140, 406)
		if err != nil || math.Abs(deg-c.deg) > 5e-4 || math.Abs(sure-c.sure) > 5e-4 {
			t.Errorf("%+v: %.4f ± %.4f, %v", c, deg, sure, err)
		}
	}
	if _, _, err := ToeChange(17, 18, 0, 1.5, 10, 406); err == nil {
		t.Error("a steering arm of 10 mm is taken")
	}
}
