package part

import (
	"strings"
	"testing"

	"lugtak/core/fault"
)

type m = map[string]float64

// What to compare and what bars a part is common practice; the effects are worked
// by hand: 44 teeth for 48 read 44/48 − 1 = −8.3 %; a rod 6 mm longer on a pitch
// of 1.5 is 4 turns, on a 150 mm arm atan(6/150) = 2.29°, 16 mm at a 400 mm rim; a
// ring of 20 over 13 mm has (400 − 169)/(625 − 169) of the area of one of 25.
func TestCompare(t *testing.T) {
	hub := m{"bolt_circle_mm": 112, "holes": 3, "pilot_mm": 62, "splines": 28}
	with := func(base m, field string, v float64) m {
		out := m{}
		for k, x := range base {
			out[k] = x
		}
		out[field] = v
		return out
	}
	for _, c := range []struct {
		kind     string
		old, new m
		verdict  Verdict
		says     string
	}{
		{"hub unit", hub, hub, Fits, ""},
		{"hub_unit", hub, with(hub, "pilot_mm", 62.03), Fits, ""},
		{"hub unit", hub, with(hub, "splines", 27), Refused, "1 splines less"},
		{"hub unit", with(hub, "ring_teeth", 48), with(hub, "ring_teeth", 44), Refused, "8.3 % too low"},
		{"hub unit", with(hub, "pilot_depth_mm", 18), with(hub, "pilot_depth_mm", 18.5), FitsWith, "0.5 mm more"},
		{
			"tie rod", m{"thread_mm": 14, "hand": 1, "length_mm": 300, "pitch_mm": 1.5},
			m{"thread_mm": 14, "hand": 1, "length_mm": 306, "arm_mm": 150, "pitch_mm": 1.5}, FitsWith,
			"2.29° (15.99 mm at the rim): start 4 turns further in",
		},
		{
			"tie rod", m{"thread_mm": 14, "length_mm": 300}, m{"thread_mm": 14, "length_mm": 306}, FitsWith,
			"takes a steering arm of 140 mm and a pitch of 1.5 mm, which nobody measured",
		},
		{"tie rod", m{"thread_mm": 14, "hand": 0}, m{"thread_mm": 14, "hand": 1}, Refused, "the other way"},
		{
			"fastener", m{"thread_mm": 12, "flange_mm": 25}, m{"thread_mm": 12, "flange_mm": 20, "hole_mm": 13}, FitsWith,
			"197 %",
		},
		{"fastener", m{"thread_mm": 12}, m{"thread_mm": 14}, Refused, "2 mm more"},
		{
			"drive axle", m{"length_mm": 620, "splines": 28, "joint_mm": 92}, m{"length_mm": 624, "splines": 28, "joint_mm": 84},
			FitsWith, "4 mm further in",
		},
		{
			"drive axle", m{"length_mm": 620, "splines": 28, "joint_mm": 84}, m{"length_mm": 620, "splines": 28, "joint_mm": 92},
			Refused, "turn it by hand",
		},
		{
			"rotor", m{"diameter_mm": 300, "thickness_mm": 28, "hat_mm": 45, "bore_mm": 68},
			m{"diameter_mm": 300, "thickness_mm": 28, "hat_mm": 46.2, "bore_mm": 68}, Refused, "off the middle",
		},
		{
			"rotor", m{"thickness_mm": 28, "screw_holes": 1}, m{"thickness_mm": 28, "screw_holes": 0}, FitsWith,
			"held by the wheel",
		},
		{"pads", m{"width_mm": 120}, m{"width_mm": 120.1}, Fits, ""},
		{
			"mount", m{"height_mm": 60, "hole_distance_mm": 140, "thread_mm": 12},
			m{"height_mm": 61, "hole_distance_mm": 140, "thread_mm": 12}, FitsWith, "another angle",
		},
		{
			"centre support", m{"height_mm": 60, "hole_distance_mm": 140}, m{"height_mm": 61, "hole_distance_mm": 140}, FitsWith,
			"another angle",
		},
		{"control arm", m{"side": 0, "length_mm": 350}, m{"side": 1, "length_mm": 350}, Refused, "other side"},
		{"strut", m{"bracket_holes_mm": 60}, m{"bracket_holes_mm": 60.4}, FitsWith, "camber moves"},
		{"link", m{"length_mm": 280}, m{"length_mm": 284}, FitsWith, "stands at an angle"},
		{"ball joint", m{"taper_mm": 16}, m{"taper_mm": 17}, Refused, "taper is 1 mm more"},
	} {
		r, err := Compare(c.kind, c.old, c.new)
		if err != nil {
			t.Errorf("%s: %v", c.kind, err)
			continue
		}
		text := ""
		for _, d := range r.Differences {
			text += d.Effect + " "
		}
		if r.Verdict != c.verdict || !strings.Contains(text, c.says) {
			t.Errorf("%s %v against %v: %s, %q; want %s saying %q", c.kind, c.new, c.old, r.Verdict, text, c.verdict, c.says)
		}
	}
}

func TestCompareSaysWhatIsMissing(t *testing.T) {
	r, err := Compare("hub unit", m{"splines": 28, "flange_mm": 12}, m{"splines": 28})
	if err != nil || strings.Join(r.Missing, " ") != "bolt_circle_mm holes pilot_mm flange_mm" {
		t.Errorf("%v, %v", r.Missing, err)
	}
	for _, c := range []struct {
		kind     string
		old, new m
		code     fault.Code
	}{{"wing", m{}, m{}, "bad_choice"}, {"pads", m{"wings": 1}, m{}, "unknown_field"}, {"pads", m{}, m{"width_mm": 1},
		"missing"}, {"pads", m{"width_mm": 1e9}, m{"width_mm": 1}, "out_of_range"}} {
		_, err := Compare(c.kind, c.old, c.new)
		if f := fault.As(err); f == nil || f.Code != c.code || f.Remedy == "" {
			t.Errorf("%s: %v", c.kind, err)
		}
	}
}

// Every measure of every part says something whole when it differs.
func TestEveryEffectReads(t *testing.T) {
	for _, kind := range Kinds() {
		for _, measure := range Measures(kind) {
			f := measure.Field
			old, new := m{f: 40, "hole_mm": 10}, m{f: 60, "hole_mm": 10}
			r, err := Compare(kind, old, new)
			if err != nil || len(r.Differences) == 0 {
				t.Errorf("%s %s: %v, %v", kind, f, r, err)
				continue
			}
			if e := r.Differences[0].Effect; strings.Contains(e, "%!") || !strings.HasSuffix(e, ".") {
				t.Errorf("%s %s: %q", kind, f, e)
			}
		}
	}
}
