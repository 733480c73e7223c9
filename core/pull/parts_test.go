package pull

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"
)

// still is a motion of readings a hundredth of a second apart, with their torque and angle as given.
func still(nm, deg []float64) *motion {
	tr := &track{y: nm}
	for i := range nm {
		tr.p = append(tr.p, Sample{T: 0.01 * float64(i), Torque: nm[i]})
		if deg != nil {
			tr.p[i].Angle = deg[i]
		}
	}
	return &motion{track: tr, f: make([]float64, len(nm)), loaded: 3}
}

// Where a torque is crossed lies between two readings in proportion, and never outside them.
func TestCrossing(t *testing.T) {
	m := still([]float64{0, 10, 20, 15}, []float64{0, 2, 6, 7})
	for _, c := range []struct {
		at    int
		level float64
		want  float64
	}{{1, 5, 1}, {1, 10, 2}, {2, 15, 4}, {2, 12.5, 3}, {2, 4, 2}, {2, 30, 6}, {0, 5, 0}, {3, 17, 7}} {
		about(t, fmt.Sprintf("%g N·m before reading %d", c.level, c.at), m.crossing(c.at, c.level), c.want, 1e-9)
	}
}

// Loads are parted by slack; one of less than two hundredths of a second between two alike was never let go.
func TestSpansOfLoad(t *testing.T) {
	for name, c := range map[string]struct {
		nm   []float64
		want []span
	}{
		"one":              {[]float64{0, 5, 5}, []span{{0, 0, 0}, {1, 2, 1}}},
		"a moment's slack": {[]float64{5, 5, 0, 0, 5}, []span{{0, 4, 1}}},
		"slack":            {[]float64{5, 5, 0, 0, 0, 5}, []span{{0, 1, 1}, {2, 4, 0}, {5, 5, 1}}},
		"the other way":    {[]float64{5, 5, 0, -5}, []span{{0, 1, 1}, {2, 2, 0}, {3, 3, -1}}},
		"slack at the end": {[]float64{5, 5, 0}, []span{{0, 1, 1}, {2, 2, 0}}},
		"slack at first":   {[]float64{0, 5}, []span{{0, 0, 0}, {1, 1, 1}}},
		"twice a moment":   {[]float64{5, 0, 5, 0, 5}, []span{{0, 4, 1}}},
		"at the threshold": {[]float64{3, 3.1, -3, -3.1}, []span{{0, 0, 0}, {1, 1, 1}, {2, 2, 0}, {3, 3, -1}}},
	} {
		if got := still(c.nm, nil).spans(); !slices.Equal(got, c.want) {
			t.Errorf("%s: %v, want %v", name, got, c.want)
		}
	}
}

// A fastener is left at the torque it last turned on under.
func TestWhatItIsLeftAt(t *testing.T) {
	m := still([]float64{10, 30, 60, 55, 50}, nil)
	for name, c := range map[string]struct {
		f      []float64
		st     stroke
		before float64
		want   float64
	}{
		"it turned to its peak":     {[]float64{0, 10, 20, 20, 20}, stroke{0, 4, 60, 2, 0, 20}, 0, 60},
		"it crept on under less":    {[]float64{0, 10, 20, 20.5, 21}, stroke{0, 4, 60, 2, 0, 21}, 0, 50},
		"it crept on by a hair":     {[]float64{0, 10, 20, 20.1, 20.2}, stroke{0, 4, 60, 2, 0, 20.2}, 0, 60},
		"it stood under less":       {[]float64{5, 5, 6, 6, 6}, stroke{0, 4, 60, 2, 5, 6}, 61, 61},
		"it stood under as much":    {[]float64{5, 5, 6, 6, 6}, stroke{0, 4, 60, 2, 5, 6}, 60, 60},
		"it stood under more":       {[]float64{5, 5, 6, 6, 6}, stroke{0, 4, 60, 2, 5, 6}, 40, 60},
		"it turned under less":      {[]float64{0, 1, 2, 2, 2}, stroke{0, 4, 60, 2, 0, 2}, 80, 60},
		"it came back by five":      {[]float64{9, 9, 9, 9, 4}, stroke{0, 4, 60, 2, 9, 4}, 40, 0},
		"it sprang back by three":   {[]float64{9, 9, 9, 9, 6}, stroke{0, 4, 60, 2, 9, 6}, 40, 60},
		"it sprang back, held more": {[]float64{9, 9, 9, 9, 6}, stroke{0, 4, 60, 2, 9, 6}, 70, 70},
	} {
		m.f = c.f
		about(t, name, m.leftAt(c.st, c.before), c.want, 1e-9)
	}
}

// A loose fastener goes where the tool goes on; a tool that swings back takes the count up where it turns again.
func TestRunOn(t *testing.T) {
	for name, c := range map[string]struct {
		deg     []float64
		at      float64
		off     float64
		wantOff float64
		wantAt  float64
	}{
		"on":                       {[]float64{0, 10, 20}, 0, 0, 0, 20},
		"back within the play":     {[]float64{0, 10, 8.5, 10, 12}, 0, 0, 0, 12},
		"back by thirty, and on":   {[]float64{0, 20, -10, 10, 20}, 0, 0, 30, 50},
		"back by thirty, no more":  {[]float64{0, 20, -10}, 0, 0, 30, 20},
		"counted from another":     {[]float64{100, 120}, 20, -80, -80, 40},
		"ahead of where it stands": {[]float64{50, 60}, 40, 0, 0, 60},
	} {
		m := still(make([]float64, len(c.deg)), c.deg)
		off, at := m.runOn(span{0, len(c.deg) - 1, 0}, c.off, c.at)
		about(t, name+", offset", off, c.wantOff, 1e-9)
		about(t, name+", stands", at, c.wantAt, 1e-9)
		about(t, name+", at its last reading", m.f[len(m.f)-1], c.wantAt, 1e-9)
	}
}

// A load off takes it back as far as the tool goes; less than play is none, and two without a load on between are one.
func TestBackward(t *testing.T) {
	m := still([]float64{-9, -9, -9, -9}, []float64{100, 90, 92, 70})
	if at := m.backward(span{0, 1, -1}, 0, 100); at != 90 || len(m.backs) != 1 || m.backs[0].deg != 10 {
		t.Errorf("back by ten: at %g, %+v", at, m.backs)
	}
	m.f[1] = 90
	if at := m.backward(span{2, 3, -1}, 0, 90); at != 70 || len(m.backs) != 1 || m.backs[0].deg != 30 ||
		m.backs[0].at != 3 {
		t.Errorf("and on by twenty: at %g, %+v", at, m.backs)
	}
	m.strokes = append(m.strokes, stroke{})
	if at := m.backward(span{2, 3, -1}, 20, 95); at != 90 || len(m.backs) != 2 || m.backs[1] != (back{1, 3, 5}) {
		t.Errorf("after a load on, by five: at %g, %+v", at, m.backs)
	}
	few := still([]float64{-9, -9}, []float64{100, 96.5})
	if at := few.backward(span{0, 1, -1}, 0, 100); at != 96.5 || len(few.backs) != 0 {
		t.Errorf("back by three and a half: at %g, %+v", at, few.backs)
	}
}

// What was broken loose goes where the tool goes, until that goes on again.
func TestComeOff(t *testing.T) {
	m := still(make([]float64, 5), []float64{80, 60, 55, 56, 90})
	m.backs = []back{{0, 0, 20}}
	off, at := m.comeOff(span{0, 3, 0}, 0, 80)
	if off != 0 || at != 55 || m.backs[0].deg != 45 || m.backs[0].at != 2 || m.f[3] != 55 {
		t.Errorf("on to 55: off %g, at %g, %+v, %v", off, at, m.backs, m.f)
	}
	on := still(make([]float64, 3), []float64{80, 60, 75})
	on.backs = []back{{0, 0, 20}}
	if _, at := on.comeOff(span{0, 2, 0}, 0, 80); at != 75 || on.backs[0].deg != 40 {
		t.Errorf("and on again: at %g, %+v", at, on.backs)
	}
}

// A locking nut's run-down by its shape, for a figure of 100 N·m: even over its last 90°, by no more than such nuts
// have, and never easing by much before.
func TestLocksByTheirShape(t *testing.T) {
	for _, c := range []struct {
		name    string
		corners [][2]float64
		drag    float64
		locks   bool
	}{
		{"even at ten", [][2]float64{{0, 10}, {200, 10}}, 10, true},
		{"even at a third less a little", [][2]float64{{0, 31}, {200, 31}}, 31, true},
		{"even at more than any has", [][2]float64{{0, 33}, {200, 33}}, 33, false},
		{"bites late, a quarter", [][2]float64{{0, 1}, {200, 1}, {210, 25}, {310, 25}}, 25, true},
		{"bites late, more than an insert has", [][2]float64{{0, 1}, {200, 1}, {210, 28}, {310, 28}}, 28, false},
		{"bites over the last sixty degrees alone", [][2]float64{{0, 1}, {200, 1}, {210, 25}, {270, 25}}, 0, false},
		{"short, and even as a whole", [][2]float64{{0, 12}, {50, 12}}, 12, true},
		{"rises to its end by a tenth", [][2]float64{{0, 10}, {100, 10}, {200, 20}}, 0, false},
		{"rises to its end by four hundredths", [][2]float64{{0, 10}, {100, 10}, {200, 14}}, 0, true},
		{"eases by six before it is even", [][2]float64{{0, 20}, {100, 20}, {105, 14}, {200, 14}}, 14, false},
		{"eases by four before it is even", [][2]float64{{0, 18}, {100, 18}, {105, 14}, {200, 14}}, 14, true},
	} {
		v := &view{motion: &motion{track: &track{}}, figure: 100}
		drag, locks := v.locks(kinked(c.corners...))
		if locks != c.locks {
			t.Errorf("%s: locks %v at %.1f", c.name, locks, drag)
		}
		if c.drag > 0 {
			about(t, c.name, drag, c.drag, 1.2)
		}
	}
	loud := &view{motion: &motion{track: &track{noise: 2}}, figure: 100}
	if _, locks := loud.locks(kinked([2]float64{0, 10}, [2]float64{100, 10}, [2]float64{200, 17})); !locks {
		t.Error("a rise by seven that scatter of two may make is none")
	}
}

// A run-down alone says crossed where it takes more than any nut, or is uneven and no nut's, over forty degrees.
func TestFouledByItsRunDown(t *testing.T) {
	for _, c := range []struct {
		name    string
		corners [][2]float64
		drag    float64
		want    bool
	}{
		{"free", [][2]float64{{0, 1}, {200, 1}}, 0, false},
		{"more than any nut", [][2]float64{{0, 33}, {200, 33}}, 0, true},
		{"more than any nut, over 39 degrees", [][2]float64{{0, 33}, {39, 33}}, 0, false},
		{"more than any nut, over 41 degrees", [][2]float64{{0, 33}, {41, 33}}, 0, true},
		{"rises to a quarter", [][2]float64{{0, 2}, {200, 25}}, 0, true},
		{"rises to an eighth", [][2]float64{{0, 2}, {200, 13}}, 0, false},
		{"rises by nine", [][2]float64{{0, 16}, {200, 25}}, 0, false},
		{"rises by fourteen", [][2]float64{{0, 11}, {200, 25}}, 0, true},
		{"half as much again as the nut was measured", [][2]float64{{0, 22}, {200, 22}}, 10, false},
		{"two and a half times the nut's", [][2]float64{{0, 24}, {200, 24}}, 10, true},
	} {
		v := &view{motion: &motion{track: &track{p: make([]Sample, 2), y: make([]float64, 2)}}, figure: 100}
		v.ex.DragNm = c.drag
		v.flank.peak = 100
		if _, got := v.fouled(kinked(c.corners...)); got != c.want {
			t.Errorf("%s: %v", c.name, got)
		}
	}
}

// The flank bends where it is a fifth steeper above than below, and by more than its readings scatter.
func TestBendsByAFifth(t *testing.T) {
	for _, c := range []struct {
		name  string
		above float64 // N·m a degree over the upper half; 1.5 below
		noise float64
		says  string
	}{
		{"straight", 1.5, 0, ""},
		{"a tenth steeper", 1.65, 0, ""},
		{"three tenths steeper", 1.95, 0, "steeper on its way up"},
		{"three tenths steeper, and scatters", 1.95, 1.5, "too few or too unsteady"},
		{"twice as steep, and scatters", 3, 0.4, "steeper on its way up"},
	} {
		acts := []act{resting, runDown, {220, 30, 0.5}, {220 + 30/c.above, 60, 0.5}}
		end := 220 + 30/c.above
		v := look(stages(t, "60 Nm"), draw(append(acts, release(end, 60)...)...), Expect{})
		v.noise = math.Max(c.noise, v.noise)
		r, bends := v.bends()
		if bends != (c.says != "") || bends && !strings.Contains(r.Message, c.says) {
			t.Errorf("%s: %v %q", c.name, bends, r.Message)
		}
		v.ex.Siblings = alike(1.5, 30, LeastSiblings)
		if r, bends := v.bends(); bends && strings.Contains(r.Message, "unsteady") {
			t.Errorf("%s, beside siblings: %q", c.name, r.Message)
		}
	}
}
