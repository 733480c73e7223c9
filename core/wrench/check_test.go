package wrench

import (
	"strings"
	"testing"
	"time"
)

var day = time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)

func points(tool Tool, off ...float64) []CheckPoint {
	var out []CheckPoint
	for i, share := range CheckShares {
		set := share * tool.MaxNm
		p := CheckPoint{SetNm: set}
		for range CheckReadings {
			p.Readings = append(p.Readings, set/(1+off[i]/100))
		}
		out = append(out, p)
	}
	return out
}

// ISO 6789-1:2017: three points of five readings, ±6 % up to 10 N·m, ±4 % above.
func TestPasses(t *testing.T) {
	big, small := Tool{MaxNm: 200}, Tool{MaxNm: 25}
	for _, c := range []struct {
		tool Tool
		off  []float64
		want bool
	}{
		{big, []float64{3.9, -3.9, 0}, true},
		{big, []float64{0, 4.1, 0}, false},
		{small, []float64{5.9, 0, 0}, true}, // 5 N·m
		{small, []float64{0, 5, 0}, false},  // 15 N·m
		{small, []float64{-6.1, 0, 0}, false},
	} {
		ps := points(c.tool, c.off...)
		if err := CheckFault(c.tool, ps); err != nil {
			t.Fatal(err)
		}
		if got, worst, _ := Passes(ps); got != c.want {
			t.Errorf("%g N·m, %v: %v, worst %.1f", c.tool.MaxNm, c.off, got, worst)
		}
	}
}

func TestCheckFaultNamesTheReading(t *testing.T) {
	tool := Tool{MaxNm: 200}
	ps := points(tool, 0, 0, 0)
	ps[1].Readings[2] = 20
	if err := CheckFault(tool, ps); err == nil || !strings.Contains(err.Error(), "Reading 3 of point 2") {
		t.Error(err)
	}
	ps = points(tool, 0, 0, 0)
	ps[0].SetNm = 80
	if err := CheckFault(tool, ps); err == nil || !strings.Contains(err.Error(), "40 N·m") {
		t.Error(err)
	}
	if err := CheckFault(tool, ps[:2]); err == nil {
		t.Error("two points are a calibration")
	}
}

func TestInUse(t *testing.T) {
	tool := Tool{ID: "w2", MaxNm: 200, Calibrated: day.AddDate(-2, 0, 0), Cycles: 100}
	if !tool.InUse(nil, 5).Overdue(day) {
		t.Error("two years after its calibration it is in use")
	}
	log := []Logged{{Tool: "w2", Kind: LogCheck, At: day.AddDate(0, -1, 0), Points: points(tool, 1, 1, 1), Pulls: 40}}
	if got := tool.InUse(log, 55); got.Overdue(day) || got.Cycles != 15 {
		t.Errorf("calibrated: %+v", got)
	}
	if !tool.InUse(log, 5040).Overdue(day) {
		t.Error("5000 pulls later it is still in use")
	}
	higher := tool
	higher.MaxNm = 300
	if got := higher.InUse(log, 55); !strings.Contains(got.Out, "up to 200 N·m") || !got.Overdue(day) {
		t.Errorf("said to go higher than it was calibrated: %+v", got)
	}
	log = append(log, Logged{Tool: "w2", Kind: LogCheck, At: day, Points: points(tool, 0, 0, 6)})
	if got := tool.InUse(log, 0); !strings.Contains(got.Out, "+6.0 % at 200 N·m") {
		t.Errorf("failed: %q", got.Out)
	}
	log = append(log, Logged{Tool: "w2", Kind: LogRetire, At: day, Note: "dropped"}, Logged{Tool: "w9", Kind: LogReturn})
	if got := tool.InUse(log, 0); got.Out != "taken out of use: dropped" {
		t.Errorf("retired: %q", got.Out)
	}
	if got := tool.InUse(append(log, Logged{Tool: "w2", Kind: LogReturn}), 0); got.Out != "" {
		t.Errorf("returned: %q", got.Out)
	}
}

// Why a tool may not be used is said in one way; one that nobody calibrated has no day on which it was due.
func TestUnfit(t *testing.T) {
	for want, tool := range map[string]Tool{
		"":                   {Calibrated: day.AddDate(0, -11, 0), Cycles: Recalibrate - 1},
		"dropped":            {Calibrated: day, Out: "dropped"},
		"not calibrated yet": {},
		"calibration is due: 5000 pulls since the last":                            {Calibrated: day, Cycles: Recalibrate},
		"calibration was due on " + day.AddDate(0, 0, -1).Format("2 January 2006"): {Calibrated: day.AddDate(-1, 0, -1)},
	} {
		if got := tool.Unfit(day); got != want {
			t.Errorf("%q, want %q", got, want)
		}
		if late := tool.Out == "" && want != ""; tool.Overdue(day) != late {
			t.Errorf("%q: overdue %t", want, !late)
		}
	}
}

// A day is a day wherever the shop is, and a name is as long as it is read.
func TestToolOfToday(t *testing.T) {
	east := time.FixedZone("east of the date line", 13*3600)
	today := time.Date(2026, 11, 30, 0, 30, 0, 0, east) // and the 29th in Greenwich
	tool := Tool{
		Name: strings.Repeat("ü", 60), Kind: KindClick, MaxNm: 100, StepNm: 0.5, Drive: "1/2", LengthMM: 400,
		Calibrated: time.Date(2026, 11, 30, 0, 0, 0, 0, time.UTC), Certificate: "C-1",
		Serial: "A 118",
	}
	if err := CheckTool(tool, today); err != nil {
		t.Error(err)
	}
	tool.Calibrated = tool.Calibrated.AddDate(0, 0, 1)
	if err := CheckTool(tool, today); err == nil {
		t.Error("calibrated tomorrow")
	}
}

// Each bound of a calibration: where a point stands, what a reading may be, and a deviation on its very limit.
func TestBoundsOfACheck(t *testing.T) {
	tool := Tool{MaxNm: 200}
	for name, c := range map[string]struct {
		change func([]CheckPoint)
		says   string
	}{
		"a point two in a hundred off": {func(p []CheckPoint) { p[1].SetNm = 124 }, ""},
		"a point further off":          {func(p []CheckPoint) { p[1].SetNm = 124.5 }, "Point 2 stands at"},
		"over half of what was set":    {func(p []CheckPoint) { p[0].Readings[4] = 20.1 }, ""},
		"half of what was set":         {func(p []CheckPoint) { p[0].Readings[4] = 20 }, "Reading 5 of point 1"},
		"under twice what was set":     {func(p []CheckPoint) { p[2].Readings[0] = 399 }, ""},
		"twice what was set":           {func(p []CheckPoint) { p[2].Readings[0] = 400 }, "Reading 1 of point 3"},
		"four readings":                {func(p []CheckPoint) { p[2].Readings = p[2].Readings[:4] }, "Point 3 has 4"},
	} {
		ps := points(tool, 0, 0, 0)
		c.change(ps)
		err := CheckFault(tool, ps)
		if (err == nil) != (c.says == "") || err != nil && !strings.Contains(err.Error(), c.says) {
			t.Errorf("%s: %v", name, err)
		}
	}
	for _, c := range []struct {
		off   []float64
		ok    bool
		worst float64
		at    int
	}{
		{[]float64{0, 4, 0}, true, 4, 1}, {[]float64{0, 4.01, 0}, false, 4.01, 1},
		{[]float64{-3, 2, 0}, true, -3, 0}, {[]float64{1, 2, -3.5}, true, -3.5, 2},
	} {
		ok, worst, at := Passes(points(tool, c.off...))
		if ok != c.ok || at != c.at || worst < c.worst-1e-6 || worst > c.worst+1e-6 {
			t.Errorf("%v: passes %v, the worst %.3f at point %d", c.off, ok, worst, at+1)
		}
	}
}
