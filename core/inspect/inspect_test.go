package inspect_test

import (
	"fmt"
	"math"
	"strings"
	"sync"
	"testing"

	"lugtak/core/fault"
	"lugtak/core/inspect"
	"lugtak/demo/files"
	"lugtak/library"
)

func limits(t *testing.T) *inspect.Limits {
	t.Helper()
	l, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	return &l.Limits
}

var loaded = sync.OnceValues(func() (*library.Library, error) { return library.Load("", files.FS) })

func near(got, want, tol float64) bool { return math.Abs(got-want) <= tol }

// 49 CFR 393.209(b) and 49 CFR 570.7, from memory.
func TestLash(t *testing.T) {
	for _, c := range []struct {
		rule  string
		wheel float64
		power bool
		want  float64
	}{
		{"393.209", 406, false, 51}, {"393.209", 380, false, 51}, {"393.209", 406, true, 108}, {"393.209", 457, false, 57.15},
		{"393.209", 457.2, true, 121},
		{"393.209", 483, false, 60.33}, {"393.209", 508, true, 133.35}, {"393.209", 533, false, 67},
		{"393.209", 559, true, 146}, {"393.209", 600, false, 70},
		{"393.209", 440, false, 51},                                    // between rows the stricter
		{"393.209", 480, false, 60.33}, {"393.209", 479, false, 57.15}, // a 19-inch wheel is 482.6, written rounded
		{"570.7", 406.4, false, 50.8}, {"570.7", 350, true, 50.8}, {"570.7", 457.2, false, 57.15},
		{"570.7", 431.8, false, 53.975}, {"570.7", 508, true, 63.5},
	} {
		r, err := limits(t).LashRule(c.rule)
		if err != nil {
			t.Fatal(err)
		}
		if got, err := r.Limit(c.wheel, c.power); err != nil || !near(got, c.want, 0.3) {
			t.Errorf("%s at %g, power %v: %g, %v; want %g", c.rule, c.wheel, c.power, got, err, c.want)
		}
	}
}

// 49 CFR 393.47 and 570.5, from memory.
func TestLining(t *testing.T) {
	for _, c := range []struct {
		rule, kind string
		want       float64
	}{
		{"393.47", "hydraulic", 1.6}, {"393.47", "air-disc", 3.2}, {"393.47", "air-drum-steering", 4.8},
		{"393.47", "air-drum-steering-two-pad", 6.4}, {"393.47", "air-drum", 6.4},
		{"570.5", "bonded", 0.794}, {"570.5", "riveted", 0.794},
	} {
		if r, err := limits(t).LiningRule(c.rule, c.kind); err != nil || !near(r.Value, c.want, 0.01) {
			t.Errorf("%s %s: %+v, %v", c.rule, c.kind, r, err)
		}
	}
}

func TestLimitKnowsItsGauge(t *testing.T) {
	l := inspect.Limit{Unit: "mm", Value: 3.2, Gauge: 0.1, Source: "49 CFR 570.10", Jurisdiction: "USA"}
	for _, c := range []struct {
		value, gauge float64
		want         inspect.Verdict
	}{{2, 0, inspect.OK}, {4, 0, inspect.Over}, {3.15, 0, inspect.MeasureAgain}, {3.28, 0, inspect.MeasureAgain},
		{3.15, 0.01, inspect.OK}} {
		f := l.Judge(c.value, c.gauge)
		if f.Verdict != c.want || !strings.Contains(f.Says, "49 CFR 570.10") {
			t.Errorf("%g ± %g: %+v", c.value, c.gauge, f)
		}
	}
	l.Least = true
	if f := l.Judge(2, 0); f.Verdict != inspect.Under || !near(f.Distance, -1.2, 1e-9) {
		t.Errorf("a least value: %+v", f)
	}
	// A hub's play is neither nil nor over (common practice).
	play := inspect.Limit{Unit: "mm", Value: 0.13, Floor: 0.03, Gauge: 0.01, Source: "common practice"}
	for value, want := range map[float64]inspect.Verdict{
		0: inspect.Under, 0.025: inspect.MeasureAgain, 0.05: inspect.OK, 0.125: inspect.MeasureAgain, 0.2: inspect.Over,
	} {
		if f := play.Judge(value, 0); f.Verdict != want {
			t.Errorf("play of %g mm: %s, not %s", value, f.Verdict, want)
		}
	}
	if f := (inspect.Limit{Unit: "mm"}).Judge(1, 0); f.Verdict != inspect.NoLimit ||
		!strings.Contains(f.Says, "source") {
		t.Errorf("no limit: %+v", f)
	}
}

// Discard by the stamp; 0.025 mm of variation and 0.08 mm of run-out are common
// practice; life is the wear so far carried on.
func TestRotor(t *testing.T) {
	even := []float64{26.01, 26.00, 26.01, 26.00}
	for _, c := range []struct {
		r    inspect.Rotor
		want string
		life float64
	}{
		{inspect.Rotor{Thickness: even, New: 28, Discard: 25, RunOut: 0.03, Distance: 60_000}, "keep", 30_000},
		{inspect.Rotor{Thickness: []float64{26.04, 26.00, 26.02}, New: 28, Discard: 25}, "machine", 0},
		{inspect.Rotor{Thickness: even, New: 28, Discard: 25, RunOut: 0.12}, "machine", 0},
		{inspect.Rotor{Thickness: []float64{25.001, 25.01}, New: 28, Discard: 25, Distance: 60_000}, "replace", 0},
		{inspect.Rotor{Thickness: []float64{25.4, 25.41}, New: 28, Discard: 25, RunOut: 0.12}, "keep", 0},
		{inspect.Rotor{Thickness: []float64{25.44, 25.40}, New: 28, Discard: 25}, "replace", 0},
		{inspect.Rotor{Thickness: []float64{24.9, 25.3}, New: 28, Discard: 25}, "replace", 0},
	} {
		got, err := c.r.Judge()
		if err != nil || got.Verdict != c.want || !near(got.LifeKM, c.life, 1) {
			t.Errorf("%+v: %+v, %v", c.r, got, err)
		}
		if got.LifeKM > 0 && !(got.LifeLow < got.LifeKM && got.LifeKM < got.LifeHigh) {
			t.Errorf("life %g not within %g to %g", got.LifeKM, got.LifeLow, got.LifeHigh)
		}
	}
	for _, c := range []struct {
		r     inspect.Rotor
		field string
	}{
		{inspect.Rotor{New: 28, Discard: 25}, "thickness_mm"},
		{inspect.Rotor{Thickness: even, New: 24, Discard: 25}, "new_mm"},
		{inspect.Rotor{Thickness: []float64{2.6}, New: 28, Discard: 25}, "thickness_mm"},
		{inspect.Rotor{Thickness: even, New: 28}, "discard_mm"},
	} {
		_, err := c.r.Judge()
		if f := fault.As(err); f == nil || f.Field != c.field || f.Remedy == "" {
			t.Errorf("%+v: %v", c.r, err)
		}
	}
}

// Geometry, worked by hand: a 300 mm arm that hangs 60 mm down stands asin(0.2) =
// 11.54° twisted; one turn of 1.5 mm on a 150 mm arm is atan(0.01) = 0.573°, at a
// 400 mm rim 4.0 mm; a ring of 44 teeth for one of 48 reads 8.33 % slow.
func TestGeometry(t *testing.T) {
	if got, err := inspect.BushTwist(300, 60); err != nil || !near(got, 11.537, 0.001) {
		t.Errorf("bush %g, %v", got, err)
	}
	if deg, mm, err := inspect.Toe(1, 1.5, 150, 400); err != nil || !near(deg, 0.57294, 1e-4) ||
		!near(mm, 3.9998, 1e-3) {
		t.Errorf("toe %g° %g mm, %v", deg, mm, err)
	}
	if got, err := inspect.ToneRing(48, 44); err != nil || !near(got, -8.3333, 1e-3) {
		t.Errorf("ring %g, %v", got, err)
	}
}

// Textbook kinematics of a cross joint: at 5° the ratio runs from 0.9962 to
// 1.0038, a spread of 0.76 %; at 30° from 0.8660 to 1.1547.
func TestCardan(t *testing.T) {
	for _, c := range []struct{ deg, low, high, spread float64 }{{0, 1, 1, 0}, {5, 0.9962, 1.0038, 0.76},
		{30, 0.8660, 1.1547, 28.87}} {
		low, high, spread, err := inspect.Cardan(c.deg)
		if err != nil || !near(low, c.low, 5e-5) || !near(high, c.high, 5e-5) || !near(spread, c.spread, 0.005) {
			t.Errorf("%g°: %g %g %g, %v", c.deg, low, high, spread, err)
		}
	}
}

// ETRTO / ISO 4000-1 marking: rim·25.4 + 2·width·aspect/100.
func TestTyres(t *testing.T) {
	for _, c := range []struct {
		text string
		dia  float64
	}{
		{"205/55R16", 631.9}, {"205/55 R 16 91V", 631.9}, {"265/70R17", 802.8}, {"LT265/70R17 121/118S", 802.8},
		{"195/65 R15", 634.5}, {"225/70R19.5", 810.3},
		{"215/65R16C", 685.9}, {"235/45ZR17", 643.3}, {"31x10.50R15", 787.4}, {"33X12.50R17LT", 838.2}, {"185R14C", 650},
		{"195R14", 666}, {"7.50R16", 805}, {"6.00-16", 728}, {"11R22.5", 1050}, {"9.00R20", 1018},
	} {
		got, err := inspect.ParseTyre(c.text)
		if err != nil || !near(got.DiameterMM(), c.dia, 0.3) {
			t.Errorf("%s: %.1f, %v; want %.1f", c.text, got.DiameterMM(), err, c.dia)
		}
	}
	a, _ := inspect.ParseTyre("205/55R16")
	if !near(a.CircumferenceM(), 1.927, 0.001) || !near(a.TurnsPerSecond(100), 14.41, 0.01) {
		t.Errorf("%.4f m, %.3f turns a second", a.CircumferenceM(), a.TurnsPerSecond(100))
	}
	if low, high := a.CircumferenceBand(); !near(low, 1.888, 0.001) || !near(high, 1.947, 0.001) {
		t.Errorf("%.4f to %.4f m", low, high)
	}
	// The marking tells no height, and no table here has it: never guessed.
	for _, full := range []string{"6.70-15", "225R15", "14R20"} {
		_, err := inspect.ParseTyre(full)
		if f := fault.As(err); f == nil || f.Code != "no_table" || f.Remedy == "" {
			t.Errorf("%s: %v", full, err)
		}
	}
	for _, bad := range []string{"", "205", "205/55", "2055516", "999/99R99", "205/55R99", "tyre",
		strings.Repeat("2", 300), "\xff"} {
		if _, err := inspect.ParseTyre(bad); fault.As(err) == nil {
			t.Errorf("%q is taken as a tyre", bad)
		}
	}
}

func TestOrders(t *testing.T) {
	tyre, _ := inspect.ParseTyre("205/55R16")
	all := inspect.Orders(tyre.TurnsPerSecond(100), 3.73, 3000)
	got := map[string]float64{}
	for _, o := range all {
		got[fmt.Sprint(o.Source, " ", o.Order)] = o.FrequencyHz
	}
	for k, want := range map[string]float64{"wheel 1": 14.41, "wheel 2": 28.82, "drive shaft 1": 53.8,
		"drive shaft 2": 107.5, "engine 1": 50, "engine 2": 100} {
		if !near(got[k], want, 0.05) {
			t.Errorf("%s: %.2f Hz, want %.2f", k, got[k], want)
		}
	}
	m := inspect.Match(all, 14.3)
	if len(m) == 0 || m[0].Source != "wheel" || m[0].Order != 1 {
		t.Errorf("14.3 Hz: %+v", m)
	}
	m = inspect.Match(all, 51)
	if len(m) < 2 || m[0].Source != "engine" || m[1].Source != "drive shaft" {
		t.Errorf("51 Hz: %+v", m)
	}
}

func TestReadRoadCSV(t *testing.T) {
	var b strings.Builder
	b.WriteString("t_s,accel_ms2,speed_kmh\n")
	for i := range 600 {
		fmt.Fprintf(&b, "%.3f,0.1,80\n", float64(i)/400)
	}
	good := b.String()
	if got, err := inspect.ReadRoadCSV(good); err != nil || len(got) != 600 {
		t.Errorf("%d, %v", len(got), err)
	}
	for _, c := range []struct{ text, says string }{
		{"1,2\n", "Line 1: 2 columns"}, {strings.Replace(good, "0.005,0.1", "0.005,x", 1), "Line 4: column 2"},
		{strings.Replace(good, "0.005,", "0.001,", 1), "time does not go on"},
		{strings.Replace(good, "0.1,80", "0.1,800", 1), "no road speed"}, {"0,0,80\n", "no drive"},
	} {
		_, err := inspect.ReadRoadCSV(c.text)
		if f := fault.As(err); f == nil || f.Field != "csv" || !strings.Contains(f.Detail, c.says) {
			t.Errorf("%v, want %q", err, c.says)
		}
	}
	drive, _ := inspect.ReadRoadCSV(good)
	if _, err := inspect.Analyse(drive, 2, nil); fault.As(err) == nil {
		t.Error("a second and a half of driving is analysed")
	}
}

// What a measurement answers: an unevenness is felt in the pedal, a thin rotor has
// its lip, a sound one answers nothing.
func TestMeasuresAnswerTheirSigns(t *testing.T) {
	for _, c := range []struct {
		thickness []float64
		verdict   inspect.Verdict
		sign      string
	}{
		{[]float64{26.01, 26}, inspect.OK, ""}, {[]float64{26.04, 26}, inspect.Under, "rotor-uneven"},
		{[]float64{24.9, 24.91}, inspect.Under, "rotor-lip"},
	} {
		r := inspect.Rotor{Thickness: c.thickness, New: 28, Discard: 25, Distance: 60_000}
		res, err := r.Judge()
		if err != nil {
			t.Fatal(err)
		}
		l, f := r.Measure(res)
		if f.Verdict != c.verdict || l.Sign != c.sign || l.Value != 25 || !l.Least ||
			(res.Verdict != "replace") != strings.Contains(f.Says, "km left") {
			t.Errorf("%v: %+v %+v", c.thickness, l, f)
		}
	}
	lash, _ := limits(t).LashRule("393.209")
	l, err := lash.Measure(457, false)
	if err != nil || l.Value != 57.2 || l.Judge(60, 0).Verdict != inspect.Over ||
		l.Judge(58, 0).Verdict != inspect.MeasureAgain {
		t.Errorf("%+v, %v", l, err)
	}
	even := []float64{26.01, 26.00}
	for runOut, want := range map[float64]inspect.Verdict{
		0.07: inspect.OK, 0.08: inspect.OK, 0.09: inspect.MeasureAgain, 0.2: inspect.MeasureAgain,
	} {
		r := inspect.Rotor{Thickness: even, New: 28, Discard: 25, RunOut: runOut}
		res, err := r.Judge()
		if _, f := r.Measure(res); err != nil || f.Verdict != want {
			t.Errorf("runs out by %g mm: %s, %v", runOut, f.Verdict, err)
		}
	}
	lining, _ := limits(t).LiningRule("393.47", "hydraulic")
	if m := lining.Measure(); m.Judge(1.2, 0).Verdict != inspect.Under || m.Judge(3, 0).Verdict != inspect.OK {
		t.Errorf("%+v", m)
	}
	sp := inspect.Spectrum{Peaks: []inspect.Peak{{Sign: "vib-wheel-1"}, {Sign: "vib-shaft-2"}, {}}}
	if got := fmt.Sprint(sp.Signs(false), sp.Signs(true)); got != "map[vib-wheel-1:true vib-wheel-2:false] "+
		"map[vib-shaft-1:false vib-shaft-2:true vib-wheel-1:true vib-wheel-2:false]" {
		t.Error(got)
	}
}
