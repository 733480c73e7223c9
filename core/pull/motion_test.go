package pull

import (
	"fmt"
	"math"
	"strings"
	"testing"
)

// Where the fastener went under traces drawn by hand: each load on with the degrees it began and ended at and its
// greatest torque, each turn back, and how far behind the fastener the tool ended. By the geometry of what was drawn.
func TestHowTheFastenerWent(t *testing.T) {
	join := func(a []act, b ...act) []act { return append(append([]act{}, a...), b...) }
	pulled := join([]act{resting, runDown, {230, 60, 0.8}}, release(230, 60)...)
	swung := []act{ // twice by a ratchet that swings back 40° between
		resting, runDown, {212, 24, 0.4}, {212, 0, 0.2}, {172, 0, 0.3}, {172, 24, 0.3}, {181, 42, 0.4}, {181, 0, 0.2},
		{141, 0, 0.3}, {141, 42, 0.3}, {150, 60, 0.4}, {150, 0, 0.2}, {150, 0, 0.3},
	}
	for _, c := range []struct {
		name, recipe string
		acts         []act
		strokes      [][3]float64 // began, ended, peak
		backs        []float64
		lastOff      float64
	}{
		{"one pull", "60 Nm", pulled, [][3]float64{{201.0, 230, 60}}, nil, 0},
		{"two grips, held still between", "60 Nm",
			[]act{resting, runDown, {215, 30, 0.4}, {215, 30, 0.1}, {215, 0, 0.2}, {215, 0, 0.2}, {215, 30, 0.3}, {230, 60, 0.4},
				{230, 60, 0.1}, {230, 0, 0.2},
				{230, 0, 0.3}},
			[][3]float64{{201.0, 215, 30}, {215, 230, 60}}, nil, 0},
		{"three grips of a ratchet", "60 Nm", swung,
			[][3]float64{{201.0, 212, 24}, {212, 221, 42}, {221, 230, 60}}, nil, 0},
		{"the tool swung back at the end", "60 Nm",
			[]act{resting, runDown, {230, 60, 0.8}, {230, 60, 0.1}, {230, 0, 0.2}, {205, 0, 0.4}, {205, 0, 0.2}},
			[][3]float64{{201.0, 230, 60}}, nil, -25},
		{"backed off by 120 and tightened again", "50 Nm; back off 120°; 50 Nm",
			[]act{resting, runDown, {225, 50, 0.8}, {225, 50, 0.1}, {225, 0, 0.2}, {215, -30, 0.3}, {105, 0, 0.6}, {200, 1, 0.6},
				{225, 50, 0.8}, {225, 50, 0.1}, {225, 0, 0.2}, {225, 0, 0.2}},
			[][3]float64{{200.8, 225, 50}, {200.8, 225, 50}}, []float64{120}, 0},
		{"a nut that comes back under the load", "60 Nm",
			[]act{resting, runDown, {230, 60, 0.8}, {205, 55, 0.5}, {205, 0, 0.005}, {205, 0, 0.3}},
			[][3]float64{{201.0, 205, 60}}, []float64{25}, 0},
		{"a third pull that moves nothing", "60 Nm",
			[]act{resting, runDown, {230, 60, 0.8}, {230, 60, 0.1}, {230, 0, 0.2}, {230, 0, 0.2}, {230.5, 58, 0.4},
				{230.5, 58, 0.1}, {230.5, 0, 0.2}, {230.5, 0, 0.2}},
			[][3]float64{{201.0, 230, 60}, {230, 230.5, 58}}, nil, 0},
	} {
		v := look(stages(t, c.recipe), draw(c.acts...), Expect{})
		if len(v.strokes) != len(c.strokes) || len(v.backs) != len(c.backs) {
			t.Errorf("%s: %d strokes %+v, %d backs %+v", c.name, len(v.strokes), v.strokes, len(v.backs), v.backs)
			continue
		}
		for i, want := range c.strokes {
			s := v.strokes[i]
			about(t, fmt.Sprint(c.name, ", stroke ", i+1, " began"), s.began, want[0], 0.4)
			about(t, fmt.Sprint(c.name, ", stroke ", i+1, " ended"), s.ended, want[1], 0.4)
			about(t, fmt.Sprint(c.name, ", stroke ", i+1, " peak"), s.peak, want[2], 0.6)
			about(t, fmt.Sprint(c.name, ", stroke ", i+1, " at its peak"), v.p[s.at].Torque, want[2], 0.6)
		}
		for i, want := range c.backs {
			about(t, fmt.Sprint(c.name, ", back ", i+1), v.backs[i].deg, want, 0.4)
		}
		about(t, c.name+", ends behind", v.lastOff, c.lastOff, 0.4)
	}
}

// The torque over the turn, however it was cut into grips: 1.97 N·m a degree from 200° on, each degree once, and what
// was taken again at a standstill left out.
func TestCurveIsOneWhateverTheGrips(t *testing.T) {
	want := func(deg float64) float64 { return math.Max(deg/200, 1+(deg-200)*59/30) }
	for name, acts := range map[string][]act{
		"in one": {resting, runDown, {230, 60, 0.8}, {230, 60, 0.2}, {230, 0, 0.2}, {230, 0, 0.2}},
		"in two": {
			resting, runDown, {215, 30.5, 0.4}, {215, 0, 0.2}, {215, 0, 0.2}, {215, 30.5, 0.3}, {230, 60, 0.4}, {230, 0, 0.2},
			{230, 0, 0.3},
		},
		"a ratchet": {
			resting, runDown, {215, 30.5, 0.4}, {215, 0, 0.2}, {185, 0, 0.2}, {185, 30.5, 0.3}, {200, 60, 0.4}, {200, 0, 0.2},
			{200, 0, 0.3},
		},
	} {
		v := look(stages(t, "60 Nm"), draw(acts...), Expect{})
		last := -1.0
		for _, p := range v.curve(0) {
			if p.deg <= last {
				t.Errorf("%s: %.2f° comes twice", name, p.deg)
			}
			last = p.deg
			if math.Abs(p.nm-want(p.deg)) > 1 {
				t.Errorf("%s: %.1f N·m at %.2f°, want %.1f", name, p.nm, p.deg, want(p.deg))
			}
		}
		about(t, name+", its end", last, 230, 0.5)
		about(t, name+", its slope", v.slope, 59.0/30, 0.03)
		about(t, name+", where the parts met", v.snug, 200, 1)
	}
}

// Which stage, and what its window is, is told by the number it has in the recipe.
func TestWordsNameTheStage(t *testing.T) {
	join := func(a []act, b ...act) []act { return append(append([]act{}, a...), b...) }
	for _, c := range []struct {
		name, recipe string
		acts         []act
		says         []string
	}{
		{"low", "60 Nm", join([]act{resting, runDown, {220, 40, 0.8}}, release(220, 40)...),
			[]string{"Stage 1 reached 40 N·m", "begins at 57"}},
		{"high", "60 Nm", join([]act{resting, runDown, {240, 80, 0.8}}, release(240, 80)...),
			[]string{"Stage 1 reached 80 N·m", "ends at 62"}},
		{"short", "60 Nm + 90°", join([]act{resting, runDown, {230, 60, 0.8}, {290, 150, 2}}, release(290, 150)...),
			[]string{"Stage 2 turned 60", "30° are left"}},
		{"long", "60 Nm + 90°", join([]act{resting, runDown, {230, 60, 0.8}, {350, 230, 2}}, release(350, 230)...),
			[]string{"Stage 2 turned 120", "spent"}},
		{"missing", "50 Nm; back off 120°; 50 Nm", join([]act{resting, runDown, {225, 50, 0.8}}, release(225, 50)...),
			[]string{"Stage 2 was not done"}},
		{"turned back", "60 Nm", []act{resting, runDown, {230, 60, 0.8}, {230, 0, 0.2}, {205, -30, 0.4}, {205, 0, 0.2},
			{205, 0, 0.2}},
			[]string{"turned back 25°"}},
		{"stands behind", "60 Nm", []act{resting, runDown, {230, 60, 0.8}, {230, 0, 0.2}, {205, 0, 0.4}, {205, 0, 0.2}},
			[]string{"stands 25° behind"}},
	} {
		res, err := Judge(stages(t, c.recipe), draw(c.acts...), Expect{})
		if err != nil {
			t.Fatal(err)
		}
		var all []string
		for _, r := range res.Reasons {
			all = append(all, r.Message)
		}
		for _, want := range c.says {
			if !strings.Contains(strings.Join(all, " "), want) {
				t.Errorf("%s: %q lacks %q", c.name, all, want)
			}
		}
	}
}
