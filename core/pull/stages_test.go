package pull

import (
	"slices"
	"testing"
)

// What stages came to, reading by reading: where loads ended, where a torque was passed, which angle that leaves.
func TestLimitsOfStages(t *testing.T) {
	m := still([]float64{0, 10, 20, 12, 11.9, 5, 8.1, 30, 17, 0}, nil)
	m.f = []float64{0, 1, 2, 3, 4, 5, 6, 7, 8, 9}
	if got := m.stops(0, 9); !slices.Equal(got, []stop{{2, 20, 2}, {7, 30, 7}}) { // 0.6 of twenty, and 0.6 of thirty
		t.Errorf("loads end at %v", got)
	}
	if got := m.stops(0, 3); !slices.Equal(got, []stop{{2, 20, 2}}) { // still held
		t.Errorf("a load held ends at %v", got)
	}
	if got := m.stops(4, 6); !slices.Equal(got, []stop{{4, 11.9, 4}, {6, 8.1, 6}}) {
		t.Errorf("a load taken hold of on the way down ends at %v", got)
	}
	again := still([]float64{20, 5, 8, 5, 8.1, 8.1, 4}, nil) // three N·m more than the least is a load anew
	again.f = make([]float64, 7)
	if got := again.stops(0, 6); len(got) != 2 || got[1].nm != 8.1 {
		t.Errorf("a load taken anew: %v", got)
	}
	if got := m.furthest(3, 8); got != (stop{8, 30, 8}) {
		t.Errorf("it went to %v", got)
	}
	for _, c := range []struct {
		deg  float64
		full bool
		want string
	}{{45, false, "ok"}, {44.9, false, "missing"}, {1, true, "ok"}} {
		r := StageResult{Verdict: "ok"}
		s := stages(t, "50 Nm; back off 90°; 50 Nm")[1]
		s.Full = c.full
		m.backed(&r, s, c.deg)
		if r.Verdict != c.want || r.AngleDeg != c.deg {
			t.Errorf("back by %g: %+v", c.deg, r)
		}
	}
	one := stages(t, "64 Nm")[0]
	for nm, want := range map[float64]string{
		1.28: "missing", 1.29: "low", 61.43: "low", 61.44: "ok", 66.56: "ok", 66.57: "high",
	} {
		r := StageResult{Verdict: "ok", TorqueNm: nm}
		m.judgeTorque(&r, one, Expect{})
		if r.Verdict != want {
			t.Errorf("%g N·m: %s", nm, r.Verdict)
		}
	}
	loud := still([]float64{0}, nil)
	for noise, want := range map[float64]float64{0: 0, 0.5: 0.25, 1: 0.5, 3: 0.5} {
		loud.noise = noise
		about(t, "edge", loud.edge(), want, 0)
	}
	for _, c := range []struct {
		turned float64
		want   []string
		owed   float64
	}{ // 45° and 45°, each 40 to 50; together 90 ± 7.07, by the root of the sum of squares
		{90, []string{"ok", "ok"}, 0},
		{82.3, []string{"ok", "ok"}, 7.7},
		{82.1, []string{"ok", "short"}, 7.9},
		{97.7, []string{"ok", "ok"}, -7.7},
		{97.9, []string{"ok", "long"}, -7.9},
		{44, []string{"short", "missing"}, 46},
		{44.4, []string{"ok", "missing"}, 45.6},
		{0.9, []string{"missing", "missing"}, 89.1},
	} {
		st := stages(t, "20 Nm + 45° + 45°")
		a := still([]float64{0, 20, 30}, nil)
		a.f = []float64{0, 0, c.turned}
		res := []StageResult{{Verdict: "ok"}, {Verdict: "ok"}, {Verdict: "ok"}}
		owed := a.angles(st, []int{1, 2}, res, 0, 1, 2)
		about(t, "owed", owed, c.owed, 1e-9)
		if res[1].Verdict != c.want[0] || res[2].Verdict != c.want[1] {
			t.Errorf("%g° of 45 and 45: %s, %s", c.turned, res[1].Verdict, res[2].Verdict)
		}
		about(t, "they add up", res[1].AngleDeg+res[2].AngleDeg, c.turned, 1e-9)
	}
}

// Where a torque stage ends that has an angle behind it: at a stop inside its window, else where it was passed, and of
// stops above it at the one that leaves the angle nearer to what was asked.
func TestLimitsOfATorqueBeforeAnAngle(t *testing.T) {
	st := stages(t, "64 Nm + 90°")
	for _, c := range []struct {
		name    string
		nm, deg []float64
		want    stop
	}{
		{"stopped inside", []float64{0, 30, 62, 10, 120, 20}, []float64{0, 10, 30, 30, 120, 120}, stop{2, 62, 30}},
		{"on the lower edge", []float64{0, 30, 61.44, 10, 120, 20}, []float64{0, 10, 30, 30, 120, 120}, stop{2, 61.44, 30}},
		{"under it: passed", []float64{0, 30, 61, 10, 120, 20}, []float64{0, 10, 30, 30, 120, 120}, stop{4, 64, 120}},
		{"never reached", []float64{0, 30, 61, 10, 50, 20}, []float64{0, 10, 30, 30, 40, 40}, stop{2, 61, 30}},
		{"stopped above it, and ninety from there", []float64{0, 64, 90, 10, 150, 20}, []float64{0, 20, 40, 40, 130, 130},
			stop{2, 90, 40}},
		{"stopped far above it", []float64{0, 64, 97, 10, 150, 20}, []float64{0, 20, 40, 40, 130, 130}, stop{1, 64, 20}},
		{"ninety from where it was passed", []float64{0, 64, 90, 10, 150, 20}, []float64{0, 20, 40, 40, 114, 114},
			stop{1, 64, 20}},
	} {
		m := still(c.nm, nil)
		m.f = c.deg
		got := m.torqueEnd(st, []int{1}, st[0], m.stops(0, 5), 0, 5, Expect{})
		if got != c.want {
			t.Errorf("%s: %+v, want %+v", c.name, got, c.want)
		}
	}
}
