package wrench

import (
	"math"
	"testing"
	"time"

	"lugtak/core/fault"
	"lugtak/core/recipe"
)

var today = time.Date(2026, 11, 24, 0, 0, 0, 0, time.UTC)

// Source: statics, as in any torque-wrench handbook.
func TestSetting(t *testing.T) {
	for _, c := range []struct{ target, l, a, phi, want float64 }{
		{100, 450, 50, 0, 90.0},
		{100, 450, 50, 90, 100},
		{60, 420, 60, 0, 52.5},
		{100, 450, 0, 0, 100},
		{100, 450, 50, 180, 112.5},
		{100, 400, 50, 45, 100 * 400 / (400 + 50*math.Sqrt2/2)},
	} {
		got, factor, err := Setting(c.target, c.l, c.a, c.phi)
		if err != nil || math.Abs(got-c.want) > 1e-9 || math.Abs(factor*c.target-got) > 1e-9 {
			t.Errorf("Setting(%v) = %v, %v, %v; want %v", c, got, factor, err, c.want)
		}
	}
	for field, args := range map[string][4]float64{
		"target_nm": {0, 450, 0, 0}, "wrench_mm": {100, 0, 0, 0}, "adapter_mm": {100, 450, -1, 0},
		"adapter_angle_deg": {100, 100, 99, 180},
	} {
		if _, _, err := Setting(args[0], args[1], args[2], args[3]); fault.As(err) == nil || fault.As(err).Field != field {
			t.Errorf("Setting(%v): %v, want a fault on %s", args, err, field)
		}
	}
}

func TestGuardBand(t *testing.T) {
	for _, c := range []struct {
		low, high, acc, set float64
		ok                  bool
		riskLow, riskHigh   float64
	}{
		// By hand: 52/0.99 = 52.525 to 55/1.01 = 54.455; 102/0.96 = 106.25 to 118/1.04 = 113.462.
		{52, 55, 1, 53.4903490349, true, 0, 0},
		{102, 118, 4, 109.8557692308, true, 0, 0},
		{60, 60, 4, 60, false, 0.5, 0.5}, // a single figure cannot hold any error
		{58, 62, 4, 60, false, 0.4 / 4.8, 0.4 / 4.8},
		{60, 60, 0, 60, true, 0, 0},
	} {
		set, ok, lo, hi, err := GuardBand(c.low, c.high, c.acc)
		if err != nil || math.Abs(set-c.set) > 1e-9 || ok != c.ok || math.Abs(lo-c.riskLow) > 1e-9 ||
			math.Abs(hi-c.riskHigh) > 1e-9 {
			t.Errorf("GuardBand(%v) = %v %v %v %v %v", c, set, ok, lo, hi, err)
		}
	}
	if _, _, _, _, err := GuardBand(60, 50, 4); fault.As(err) == nil {
		t.Error("a window upside down was accepted")
	}
}

func shop() []Tool {
	fresh := today.AddDate(0, -3, 0)
	return []Tool{
		{ID: "1", Kind: "click", MaxNm: 25, StepNm: 0.5, Drive: "1/4", LengthMM: 280, Calibrated: fresh},
		{ID: "2", Kind: "click", MaxNm: 200, StepNm: 1, Drive: "1/2", LengthMM: 420, Calibrated: fresh},
		{ID: "3", Kind: "torque-angle", MaxNm: 340, StepNm: 0.1, Drive: "1/2", LengthMM: 600, Calibrated: fresh},
		{ID: "4", Kind: "click", MaxNm: 340, StepNm: 1, Drive: "1/2", LengthMM: 600, Calibrated: today.AddDate(-1, -1, 0)},
	}
}

func TestChoose(t *testing.T) {
	for _, c := range []struct {
		recipe string
		stage  int
		want   string
		refuse string // a tool that must be refused
	}{
		{"8 Nm", 0, "1", "2"},
		{"130 Nm", 0, "3", "1"}, // a trace is better evidence than a click
		{"45 Nm", 0, "2", "1"},
		{"60 Nm + 90°", 1, "3", "4"}, // angle: the tool that measures it
		{"260 Nm", 0, "3", "4"},
	} {
		r, err := recipe.Parse(c.recipe)
		if err != nil {
			t.Fatal(err)
		}
		got := Choose(r.Stages[c.stage], r.Peak(), shop(), Adapter{}, Guard, today)
		if got[0].Tool.ID != c.want || got[0].Refused != "" {
			t.Errorf("%s stage %d: tool %s %q, want %s", c.recipe, c.stage, got[0].Tool.ID, got[0].Refused, c.want)
		}
		for _, g := range got {
			if g.Tool.ID == c.refuse && g.Refused == "" {
				t.Errorf("%s: tool %s was not refused", c.recipe, c.refuse)
			}
		}
	}
}

// A wrench that traces and that nothing hears comes behind those that need nobody to hear them,
// before those that will not do.
func TestMuteOnesComeLast(t *testing.T) {
	for text, want := range map[string]string{"130 Nm": "", "260 Nm": "3"} {
		r, err := recipe.Parse(text)
		if err != nil {
			t.Fatal(err)
		}
		tools := shop()
		for i := range tools {
			tools[i].Mute = tools[i].Angle()
		}
		first := Choose(r.Stages[0], r.Peak(), tools, Adapter{}, Guard, today)[0]
		if first.Refused != "" || want != "" && first.Tool.ID != want || want == "" && first.Tool.Mute {
			t.Errorf("%s: %s first, %q", text, first.Tool.ID, first.Refused)
		}
	}
}

func TestChooseCorrectsForAdapterAndRounds(t *testing.T) {
	r, _ := recipe.Parse("60 Nm")
	got := Choose(r.Stages[0], r.Peak(), shop()[1:2], Adapter{LengthMM: 60}, Guard, today)[0]
	if got.SetNm != 53 || math.Abs(got.AtBoltNm-53*480.0/420) > 1e-9 {
		t.Errorf("set %v gives %v at the bolt", got.SetNm, got.AtBoltNm)
	}
}

// Three schools, three settings; a minimum is kept above by all of them (statics and the
// permitted error of ISO 6789-1: by hand, 95/0.96 = 98.96, 102/0.96 = 106.25).
func TestSchoolsDiffer(t *testing.T) {
	fine := shop()[1:2]
	fine[0].StepNm = 0.05
	coarse := shop()[1:2]
	for _, c := range []struct {
		recipe string
		tools  []Tool
		want   map[School]float64
	}{
		{"102–118 Nm", fine, map[School]float64{Guard: 109.85, Middle: 110, Minimum: 106.25}},
		{"110 ± 8 Nm", fine, map[School]float64{Guard: 109.85, Middle: 110, Minimum: 106.25}},
		{"100 +10/−0 Nm", fine, map[School]float64{Guard: 104.95, Middle: 105, Minimum: 104.2}},
		{">= 95 Nm", coarse, map[School]float64{Guard: 99, Middle: 99, Minimum: 99}},
		{"60 Nm", coarse, map[School]float64{Guard: 60, Middle: 60, Minimum: 60}},
	} {
		r, err := recipe.Parse(c.recipe)
		if err != nil {
			t.Fatal(err)
		}
		for school, want := range c.want {
			got := Choose(r.Stages[0], r.Peak(), c.tools, Adapter{}, school, today)[0]
			if math.Abs(got.SetNm-want) > 1e-6 {
				t.Errorf("%s, %s: set %v, want %v", c.recipe, school, got.SetNm, want)
			}
			if r.Stages[0].Form == recipe.Minimum && got.RiskLow > 0.01 {
				t.Errorf("%s, %s: %.0f %% below", c.recipe, school, 100*got.RiskLow)
			}
		}
	}
}

// Sources: ISO 272 sizes; inch sizes are exact; stand-ins are common practice.
func TestFindSocket(t *testing.T) {
	for _, c := range []struct {
		flats float64
		name  string
		want  string
	}{
		{22, "22 mm", "exact"}, {22, "7/8 in", "close"}, {19, "3/4 in", "close"}, {17, "11/16 in", "loose"},
		{13, "1/2 in", "no"}, {14, "9/16 in", "loose"}, {19.05, "3/4 in", "exact"}, {16, "5/8 in", "no"},
		{33, "33 mm", "exact"}, {15.9, "5/8 in", "exact"}, {15.9, "16 mm", "close"}, {20.6, "13/16 in", "close"},
	} {
		got, err := FindSocket(c.flats)
		if err != nil {
			t.Fatal(err)
		}
		verdict := "no"
		for _, s := range got {
			if s.Name == c.name {
				verdict = s.Verdict
			}
		}
		if verdict != c.want {
			t.Errorf("%s on %v mm: %s, want %s", c.name, c.flats, verdict, c.want)
		}
	}
	if _, err := FindSocket(1); fault.As(err) == nil {
		t.Error("1 mm across flats was accepted")
	}
}

func TestCastleNutAndBar(t *testing.T) {
	for _, c := range []struct {
		slots      int
		hole, want float64
	}{{6, 0, 0}, {6, 25, 25}, {6, 60, 0}, {6, 130, 10}, {6, -20, 40}, {5, 40, 4}} {
		got, err := CastleNut(c.slots, c.hole)
		if err != nil || math.Abs(got-c.want) > 1e-9 {
			t.Errorf("CastleNut(%d, %v) = %v, %v; want %v", c.slots, c.hole, got, err, c.want)
		}
		if got < 0 || got > 60 {
			t.Errorf("CastleNut(%d, %v) = %v: onward only, at most 60°", c.slots, c.hole, got)
		}
	}
	if f, err := BarForce(200, 500); err != nil || f != 400 {
		t.Errorf("BarForce: %v, %v", f, err)
	}
	if _, err := BarForce(200, 0); fault.As(err) == nil {
		t.Error("a bar without length was accepted")
	}
}

// Common practice: 7/8 in is a close stand-in for 22 mm, 3/4 in for 19 mm; a hair too
// big is refused for a tight fastener.
func TestServes(t *testing.T) {
	have := []string{"18 mm", "24 mm", "3/4 in", "7/8 in"}
	for tool, want := range map[string]struct {
		name      string
		lacks, ok bool
	}{
		"22 mm six-point": {"7/8 in", true, true}, "19 mm six-point": {"3/4 in", true, true}, "18 mm six-point": {},
		"21 mm six-point": {"", true, false}, "23 mm six-point": {"", true, false},
		"90 mm six-point": {"", true, false}, "screw press": {}, "6 mm inner": {"", true, false}, "x mm six-point": {},
		"": {},
	} {
		if s, lacks, ok := Serves(tool, have); s.Name != want.name || lacks != want.lacks || ok != want.ok {
			t.Errorf("%s: %q %v %v", tool, s.Name, lacks, ok)
		}
	}
}

// By hand: N·m over metres. One hand does 250 N, both 450 N (common practice).
func TestEffortFor(t *testing.T) {
	for _, c := range []struct {
		nm, mm float64
		want   Effort
	}{
		{100, 500, Effort{N: 200}},
		{125, 500, Effort{N: 250, Both: true}},
		{200, 500, Effort{N: 400, Both: true}},
		{225, 500, Effort{N: 450, Both: true}},                // on the bound, both still do
		{240, 500, Effort{N: 480, Both: true, LongerMM: 550}}, // 533
		{300, 1000, Effort{N: 300, Both: true}},
	} {
		if got, err := EffortFor(c.nm, c.mm); err != nil || got != c.want {
			t.Errorf("%v N·m on %v mm: %+v, %v; want %+v", c.nm, c.mm, got, err, c.want)
		}
	}
	if _, err := EffortFor(100, 0); err == nil {
		t.Error("a pull on a wrench without a length")
	}
}
