package forecast

import (
	"math"
	"math/rand/v2"
	"testing"
)

// The examples of Newcombe, "Two-sided confidence intervals for the single proportion", Statistics in Medicine 17
// (1998), table I, method 3 (from memory).
func TestIntervalOfWilson(t *testing.T) {
	for _, c := range []struct {
		happened, n int
		low, high   float64
	}{
		{81, 263, 0.2553, 0.3662},
		{15, 148, 0.0624, 0.1605},
		{0, 20, 0, 0.1611},
		{1, 29, 0.0061, 0.1718},
		{29, 29, 0.8830, 1},
		{0, 0, 0, 1},
	} {
		low, high := Tally{N: c.n, Happened: c.happened}.Interval()
		if math.Abs(low-c.low) > 6e-5 || math.Abs(high-c.high) > 6e-5 {
			t.Errorf("%d of %d: %.4f to %.4f, want %.4f to %.4f", c.happened, c.n, low, high, c.low, c.high)
		}
	}
}

func TestVerdict(t *testing.T) {
	said := func(p float64, n, happened int) Tally {
		return Tally{N: n, Happened: happened, Said: p * float64(n), Spread: p * (1 - p) * float64(n)}
	}
	for _, c := range []struct {
		Tally
		want Verdict
	}{
		{said(0.5, 9, 0), Few},
		{said(0.5, 10, 5), Fits},
		{said(0.5, 10, 1), Less}, // 4 under, 1.58 the deviation: 2.53
		{said(0.5, 10, 2), Fits}, // 1.90
		{said(0.5, 10, 9), Oftener},
		{said(0.9, 20, 20), Few}, // 1.8
		{said(0.9, 100, 100), Oftener},
		{said(0.9, 100, 84), Less}, // 2.0
		{said(0.9, 100, 85), Fits}, // 1.67
		{Tally{}, Few},
	} {
		if got := c.Verdict(); got != c.want {
			t.Errorf("%+v: %s, want %s", c.Tally, got, c.want)
		}
	}
}

func TestTalliesAddUp(t *testing.T) {
	a, b := Tally{4, 3, 2.5, 0.9}, Tally{6, 1, 1.5, 1.1}
	a.Add(b)
	if want := (Tally{10, 4, 4, 2}); a != want || a.MeanSaid() != 0.4 || a.Share() != 0.4 {
		t.Errorf("%+v, want %+v", a, want)
	}
	if (Tally{}).Share() != 0 || (Tally{}).MeanSaid() != 0 {
		t.Error("no cases, and a share of them")
	}
}

// A shop whose cases go otherwise than the library says hears more of the truth with each of them, whether they are
// alike or not, and one without a past hears the library.
func TestWhatIsSaidMovesToTheTruth(t *testing.T) {
	if (Tally{}).Shift() != 0 {
		t.Error("no past, and yet it moves")
	}
	for _, c := range []struct {
		library []float64
		truth   float64 // log-odds beside the library's
	}{
		{[]float64{0.7}, -1.25}, {[]float64{0.3}, 1.25}, {[]float64{0.9}, 0}, {[]float64{0.5, 0.95}, -1},
		{[]float64{0.1, 0.6}, 0.8},
	} {
		rng := rand.New(rand.NewPCG(5, uint64(100*c.library[0])))
		var past Tally
		after := map[int]float64{}
		for n := range 2000 {
			p := c.library[n%len(c.library)]
			past.Add(Case(p, rng.Float64() < Moved(p, c.truth)))
			after[n+1] = past.Shift()
		}
		if got := after[2000]; math.Abs(got-c.truth) > 0.2 {
			t.Errorf("%v: shifted by %.2f after 2000 cases, in truth by %g", c.library, got, c.truth)
		}
		if got := math.Abs(after[4]); got > 0.9 {
			t.Errorf("%v: four cases shift by %.2f", c.library, got)
		}
	}
}

// Where the truth is no shift of what the library says at all, what is said next is right on the average all the same,
// as far as the cases tell.
func TestWhatIsSaidIsRightOnTheAverage(t *testing.T) {
	library := []float64{0.15, 0.35, 0.5, 0.7, 0.9}
	for name, truth := range map[string]func(p float64) float64{
		"as it says":         func(p float64) float64 { return p },
		"always two in five": func(float64) float64 { return 0.4 },
		"its square":         func(p float64) float64 { return p * p },
		"seldomer missed":    func(p float64) float64 { return 1 - (1-p)*(1-p) },
		"the other way":      func(p float64) float64 { return 1 - p },
		"a third of it":      func(p float64) float64 { return p / 3 },
	} {
		rng := rand.New(rand.NewPCG(11, 3))
		var past Tally
		for n := range 3000 {
			p := library[n%len(library)]
			past.Add(Case(p, rng.Float64() < truth(p)))
		}
		mean := 0.0
		for _, p := range library {
			mean += Moved(p, past.Shift()) / float64(len(library))
		}
		if math.Abs(mean-past.Share()) > 0.04 {
			t.Errorf("%s: %.3f happened, and %.3f is said next, before %.3f", name, past.Share(), mean, past.MeanSaid())
		}
	}
}

func TestCasesByBand(t *testing.T) {
	b := ByBand{}
	for _, c := range []struct {
		of       string
		chance   float64
		happened bool
	}{{"heat", 0.6, true}, {"heat", 0.79, false}, {"heat", 0.8, true}, {"bar", 1, true}, {"bar", 0, false},
		{"bar", 0.2, true}} {
		b.Count("rust", c.of, c.chance, c.happened)
	}
	want := []Said{
		{"rust", "bar", 0, Tally{1, 0, 0, 0}}, {"rust", "bar", 1, Tally{1, 1, 0.2, 0.16}},
		{"rust", "bar", 4, Tally{1, 1, 1, 0}}, {"rust", "heat", 3, Tally{2, 1, 1.39, 0.4059}},
		{"rust", "heat", 4, Tally{1, 1, 0.8, 0.16}},
	}
	got := b.Said()
	if len(got) != len(want) {
		t.Fatalf("%+v", got)
	}
	for i, w := range want {
		g := got[i]
		near := math.Abs(g.Tally.Said-w.Tally.Said) < 1e-9 && math.Abs(g.Spread-w.Spread) < 1e-9
		if g.Kind != w.Kind || g.Of != w.Of || g.Band != w.Band || g.N != w.N || g.Happened != w.Happened || !near {
			t.Errorf("%+v, want %+v", g, w)
		}
	}
}

// The shift by hand: the share drawn toward what was said as by eight cases, and made up for chances that differed.
func TestShiftByHand(t *testing.T) {
	for _, c := range []struct {
		name string
		Tally
		want float64
	}{
		{"ten alike", Tally{10, 8, 5, 2.5}, math.Log(2)},                         // (8 + 4)/18 = 2/3
		{"one", Tally{1, 1, 0.5, 0.25}, math.Log(1.25)},                          // (1 + 4)/9 = 5/9
		{"half and nine tenths", Tally{2, 1, 1.4, 0.34}, -0.18397 * 0.21 / 0.17}, // 0.66 for 0.7
		{"far apart, and held at twice", Tally{2, 1, 1.4, 0.1}, -0.18397 * 2},
	} {
		if got := c.Shift(); math.Abs(got-c.want) > 1e-4 {
			t.Errorf("%s: %.5f, want %.5f", c.name, got, c.want)
		}
	}
}

func TestMovedKeepsWhatIsCertain(t *testing.T) {
	for _, c := range []struct{ chance, shift, want float64 }{
		{0, 3, 0}, {1, -3, 1}, {0.5, 0, 0.5}, {0.5, math.Log(3), 0.75}, {0.2, math.Log(0.5), 1.0 / 9},
	} {
		if got := Moved(c.chance, c.shift); math.Abs(got-c.want) > 1e-12 {
			t.Errorf("%g by %g: %g, want %g", c.chance, c.shift, got, c.want)
		}
	}
	for _, sure := range []Tally{{5, 5, 5, 0}, {5, 0, 0, 0}, {5, 2, 5, 0}} {
		if got := sure.Shift(); got != 0 {
			t.Errorf("%+v shifts by %g", sure, got)
		}
	}
}
