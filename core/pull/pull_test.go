package pull

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"gonum.org/v1/gonum/stat"

	"lugtak/core/fault"
	"lugtak/core/recipe"
)

func stages(t testing.TB, text string) []recipe.Stage {
	t.Helper()
	r, err := recipe.Parse(text)
	if err != nil {
		t.Fatal(err)
	}
	return r.Stages
}

// act is one part of a drawn trace: to an angle and a torque in so many seconds.
type act struct{ angle, torque, seconds float64 }

// draw joins straight acts into a trace of 200 samples a second.
func draw(acts ...act) []Sample {
	out := []Sample{{}}
	for _, a := range acts {
		from := out[len(out)-1]
		for i := 1.0; i <= 200*a.seconds; i++ {
			u := i / (200 * a.seconds)
			out = append(out,
				Sample{from.T + u*a.seconds, from.Angle + u*(a.angle-from.Angle), from.Torque + u*(a.torque-from.Torque)})
		}
	}
	return out
}

var (
	resting = act{0, 0, 0.2}
	runDown = act{200, 1, 1}
)

func release(angle, torque float64) []act {
	return []act{{angle, torque, 0.2}, {angle, 0, 0.2}, {angle, 0, 0.2}}
}

// Traces drawn by hand: what a pull of several stages, of strokes or of a nut
// that drags all the way must read as.
func TestDrawnTraces(t *testing.T) {
	join := func(a []act, b ...act) []act { return append(append([]act{}, a...), b...) }
	for _, c := range []struct {
		name, recipe string
		acts         []act
		want         Signature
		stages       string
	}{
		{"one torque", "60 Nm", join([]act{resting, runDown, {230, 60, 0.8}}, release(230, 60)...), Good, "ok"},
		{
			"a lock nut that drags", "60 Nm",
			join([]act{resting, {10, 6, 0.1}, {700, 6, 2}, {727, 60, 0.8}}, release(727, 60)...), Good, "ok",
		},
		{"low", "60 Nm", join([]act{resting, runDown, {227, 54, 0.8}}, release(227, 54)...), Low, "low"},
		{
			"torque and angle in one stroke", "60 Nm + 90°",
			join([]act{resting, runDown, {230, 60, 0.8}, {320, 200, 2}}, release(320, 200)...), Good, "ok ok",
		},
		{
			"torque, let go, angle", "60 Nm + 90°",
			join([]act{resting, runDown, {230, 60, 0.8}, {230, 60, 0.2}, {230, 0, 0.3}, {230, 60, 0.3}, {320, 200, 2}},
				release(320, 200)...),
			Good, "ok ok",
		},
		{
			"angle short", "60 Nm + 90°",
			join([]act{resting, runDown, {230, 60, 0.8}, {230, 60, 0.2}, {230, 0, 0.3}, {230, 60, 0.3}, {305, 180, 2}},
				release(305, 180)...),
			AngleShort, "ok short",
		},
		{
			"back off and again", "50 Nm; back off 120°; 50 Nm",
			join([]act{resting, runDown, {225, 50, 0.8}, {225, 50, 0.2}, {225, 0, 0.2}, {220, -30, 0.3}, {105, 0, 0.6},
				{200, 1, 0.6}, {225, 50, 0.8}}, release(225, 50)...),
			Good, "ok ok ok",
		},
		{
			"back off forgotten", "50 Nm; back off 120°; 50 Nm",
			join([]act{resting, runDown, {225, 50, 0.8}, {225, 50, 0.2}, {225, 0, 0.2}, {225, 50, 0.3}, {226, 51, 0.3}},
				release(226, 51)...),
			AngleShort, "ok missing ok",
		},
		{
			"three strokes of a ratchet", "60 Nm",
			join([]act{resting, runDown, {212, 24, 0.4}, {212, 0, 0.3}, {212, 24, 0.3}, {221, 42, 0.4}, {221, 0, 0.3},
				{221, 42, 0.3}, {230, 60, 0.4}}, release(230, 60)...),
			Good, "ok",
		},
		{"tight already", "60 Nm", join([]act{resting, {0.6, 60, 1}}, release(0.6, 60)...), NoMovement, "ok"},
	} {
		res, err := Judge(stages(t, c.recipe), draw(c.acts...), Expect{})
		if err != nil {
			t.Errorf("%s: %v", c.name, err)
			continue
		}
		var got []string
		for _, s := range res.Stages {
			got = append(got, s.Verdict)
		}
		if res.Signature != c.want || strings.Join(got, " ") != c.stages {
			t.Errorf("%s: %s, %v: %+v", c.name, res.Signature, got, res.Reasons)
		}
		for _, r := range res.Reasons {
			if r.Message == "" || r.ToS < r.FromS {
				t.Errorf("%s: a reason without words or span: %+v", c.name, r)
			}
		}
	}
}

// The slope is the least-squares line that gonum's stat package finds.
func TestLineAgreesWithGonum(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 4))
	for range 50 {
		var b []point
		var x, y []float64
		for i := range 40 {
			a, m := float64(i)+rng.Float64(), 3*float64(i)+5*rng.NormFloat64()
			b = append(b, point{deg: a, nm: m})
			x = append(x, a)
			y = append(y, m)
		}
		if _, want := stat.LinearRegression(x, y, nil, false); math.Abs(line(b)-want) > 1e-9 {
			t.Errorf("slope %g, gonum %g", line(b), want)
		}
	}
}

func TestHand(t *testing.T) {
	for _, c := range []struct {
		recipe  string
		stage   int
		reading float64
		want    Signature
	}{
		{"60 Nm", 0, 60, Good}, {"60 Nm", 0, 57.5, Low}, {"60 Nm", 0, 62.5, High}, {"60 Nm", 0, 57.6, Good},
		{"38–42 Nm", 0, 37, Low}, {">= 95 Nm", 0, 120, Good},
		{"60 Nm + 90°", 1, 84, AngleShort}, {"60 Nm + 90°", 1, 96, AngleLong}, {"60 Nm + 90°", 1, 93, Good},
		{"90 Nm; next slot", 1, 45, Good}, {"90 Nm; next slot", 1, 75, AngleLong},
		{"50 Nm; back off full; 50 Nm", 1, 360, Good},
	} {
		res, err := Hand(stages(t, c.recipe)[c.stage], c.reading)
		if err != nil || res.Signature != c.want {
			t.Errorf("%s stage %d at %g: %s, %v", c.recipe, c.stage+1, c.reading, res.Signature, err)
		}
	}
	for _, bad := range []float64{0, -1, math.NaN(), math.Inf(1), 1e9} {
		if _, err := Hand(stages(t, "60 Nm")[0], bad); fault.As(err) == nil {
			t.Errorf("%g is taken as a torque", bad)
		}
	}
}

const eight = "0,0,0\n0.1,1,0\n0.2,2,0\n0.3,3,0\n0.4,4,0\n0.5,5,0\n0.6,6,0\n0.7,7,1\n"

// swapped puts the third column first.
func swapped(text string) string {
	var b strings.Builder
	for _, line := range strings.Split(strings.TrimSpace(text), "\n") {
		c := strings.Split(line, ",")
		fmt.Fprintf(&b, "%s,%s,%s\n", c[2], c[0], c[1])
	}
	return b.String()
}

func TestReadCSV(t *testing.T) {
	for name, text := range map[string]string{
		"plain":             eight,
		"header":            "t_s,angle_deg,torque_nm\n" + eight,
		"another order":     "torque_nm,t_s,angle_deg\n" + swapped(eight),
		"semicolons":        strings.ReplaceAll(strings.ReplaceAll(eight, ",", ";"), ".", ","),
		"windows, blank":    "\ufeff" + strings.ReplaceAll(eight, "\n", "\r\n") + "\r\n",
		"exponents, quotes": strings.Replace(eight, "0.1,1,0", `1e-1,"1",0`, 1),
	} {
		got, err := ReadCSV(text)
		if err != nil || len(got) != 8 || got[1] != (Sample{0.1, 1, 0}) || got[7].Torque != 1 {
			t.Errorf("%s: %v, %v", name, got, err)
		}
	}
	for _, c := range []struct{ name, text, says string }{
		{"two columns", "0,0\n", "Line 1: 2 columns"},
		{"a word", strings.Replace(eight, "0.2,2,0", "0.2,two,0", 1), "Line 3: column 2 is not a number"},
		{"header of four", "t,a,m,x\n" + eight, "the header has 4 columns"},
		{"not finite", strings.Replace(eight, "0.2,2,0", "0.2,2,NaN", 1), "Line 3: column 3"},
		{"too short", "0,0,0\n", "no trace"},
		{"time runs back", strings.Replace(eight, "0.2,2", "0.05,2", 1), "earlier"},
	} {
		_, err := ReadCSV(c.text)
		if f := fault.As(err); f == nil || f.Field != "csv" || !strings.Contains(f.Detail, c.says) || f.Remedy == "" {
			t.Errorf("%s: %v", c.name, err)
		}
	}
}

// Law: the reader never panics, and what it takes is a trace the judge takes.
func FuzzReadCSV(f *testing.F) {
	f.Add(eight)
	f.Add("t_s;angle_deg;torque_nm\n0,0;0;0\n")
	f.Add("\ufeff\"1\",2,3\n1e308,1,1\n")
	st := stages(f, "60 Nm + 90°")
	f.Fuzz(func(t *testing.T, text string) {
		s, err := ReadCSV(text)
		if err != nil {
			if x := fault.As(err); x == nil || x.Remedy == "" {
				t.Fatalf("%v has no remedy", err)
			}
			return
		}
		if _, err := Judge(st, s, Expect{}); err != nil {
			t.Fatalf("read, and not judged: %v", err)
		}
	})
}

// A trace of 100 000 samples, twenty seconds at 5 kHz.
func BenchmarkJudge100k(b *testing.B) {
	rng := rand.New(rand.NewPCG(1, 2))
	trace := make([]Sample, 100_000)
	for i := range trace {
		u := float64(i) / float64(len(trace))
		a := 400 * u
		m := 1 + math.Max(0, a-250)*0.4
		trace[i] = Sample{20 * u, a, m + 0.2*rng.NormFloat64()}
	}
	st := stages(b, "61 Nm")
	var res Result
	for b.Loop() {
		var err error
		if res, err = Judge(st, trace, Expect{SlopeLow: 0.2, SlopeHigh: 0.8}); err != nil {
			b.Fatal(err)
		}
	}
	if res.Signature != Good {
		b.Fatal(fmt.Sprint(res.Signature, res.Reasons))
	}
}
