package job

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"lugtak/core/plan"
	"lugtak/core/pull"
	"lugtak/core/record"
)

// What a tool has tightened since it was last good is counted by fastener: once for each,
// without what was struck, not measured, earlier, or by another tool.
func TestTightenedWith(t *testing.T) {
	b := atTheBolts(t)
	first := b.s.Plan.Joints[0]
	since := morning
	pulled := func(letter, tool string, at time.Duration, e pull.Evidence, struck string) *Pull {
		return &Pull{
			Fastener:  FastenerID{Joint: first.ID, Letter: letter},
			Tool:      tool,
			At:        since.Add(at),
			Evidence:  e,
			Kept:      true,
			StruckWhy: struck,
			Result:    pull.Result{Verdict: pull.Keep},
		}
	}
	s := b.own()
	s.Pulls = map[string]*Pull{
		"1": pulled("1", "wrench 2", time.Hour, pull.Clicked, ""),
		"2": pulled("1", "wrench 2", 2*time.Hour, pull.Clicked, ""), // once more
		"3": pulled("2", "wrench 2", 0, pull.Clicked, ""),
		"4": pulled("3", "wrench 2", -time.Hour, pull.Clicked, ""),
		"5": pulled("4", "wrench 2", time.Hour, pull.Clicked, "read wrong"),
		"6": pulled("4", "wrench 2", time.Hour, pull.NotMeasured, ""),
		"7": pulled("4", "wrench 3", time.Hour, pull.Clicked, ""),
	}
	want := fmt.Sprint([]Tightened{{first.Title, 2}})
	if got := fmt.Sprint(s.TightenedWith("wrench 2", since)); got != want {
		t.Errorf("%s, want %s", got, want)
	}
}

// A measure is one line over the jobs, by its place; what a stand-in showed is left out.
func TestWears(t *testing.T) {
	in := func(km int, all ...record.Measured) *State {
		s := (&State{}).clone()
		s.Plan, s.OdometerKM = &plan.Plan{}, km
		for _, m := range all {
			s.Walk.Measured = append(s.Walk.Measured, Measurement{Measured: m})
		}
		return s
	}
	m := func(corner string, v float64) record.Measured {
		return record.Measured{Key: "lining", Corner: corner, Value: v, Limit: 3, Least: true}
	}
	played := m("FL", 99)
	played.Simulated = true
	all := Wears(slices.Concat(in(50_000, m("FL", 10), m("FR", 9)).Taken(), in(80_000, m("FL", 7), played).Taken()))
	if len(all) != 2 || fmt.Sprint(all[0].Points) != "[{50000 10} {80000 7}]" || all[0].Last.Value != 7 ||
		len(all[1].Points) != 1 {
		t.Fatalf("%+v", all)
	}
	if f, ok := all[0].Limit().Expect(all[0].Points, 0.1); !ok || f.LikelyKM != 120_000 {
		t.Errorf("%+v %v", f, ok)
	}
}

// Whatever a stand-in had a hand in says so.
func TestSimulatedIsTold(t *testing.T) {
	for _, c := range []struct {
		name string
		st   State
		want bool
	}{
		{"a measure by hand", State{Walk: Walk{Measured: []Measurement{{}}, Drives: []Drive{{}}}}, false},
		{"a measure", State{Walk: Walk{Measured: []Measurement{{Measured: record.Measured{Simulated: true}}}}}, true},
		{"a road test", State{Walk: Walk{Drives: []Drive{{Simulated: true}}}}, true},
		{"a pull", State{Fastening: Fastening{Pulls: map[string]*Pull{"p": {Simulated: true}}}}, true},
	} {
		if got := c.st.Simulated(); got != c.want {
			t.Errorf("%s: %v", c.name, got)
		}
	}
}
