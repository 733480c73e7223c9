package reckon

import (
	"encoding/json"
	"fmt"
	"math"
	"strings"

	"lugtak/core/fault"
	"lugtak/core/pull"
	"lugtak/core/recipe"
	"lugtak/core/thread"
	"lugtak/core/wrench"
)

type settingIn struct {
	TargetNm   float64 `json:"target_nm"`
	WrenchMM   float64 `json:"wrench_mm"`
	AdapterMM  float64 `json:"adapter_mm"`
	AdapterDeg float64 `json:"adapter_angle_deg,omitempty"`
}
type settingOut struct {
	SettingNm float64 `json:"setting_nm"`
	Factor    float64 `json:"factor"`
}

func wrenchSetting(in settingIn) (settingOut, error) {
	s, f, err := wrench.Setting(in.TargetNm, in.WrenchMM, in.AdapterMM, in.AdapterDeg)
	return settingOut{sig(s), sig(f)}, err
}

type guardIn struct {
	LowNm       float64 `json:"low_nm"`
	HighNm      float64 `json:"high_nm"`
	AccuracyPct float64 `json:"accuracy_pct"`
}
type guardOut struct {
	SettingNm float64 `json:"setting_nm"`
	Feasible  bool    `json:"feasible"`
	RiskLow   float64 `json:"risk_low"`
	RiskHigh  float64 `json:"risk_high"`
}

func guardBand(in guardIn) (guardOut, error) {
	s, ok, lo, hi, err := wrench.GuardBand(in.LowNm, in.HighNm, in.AccuracyPct)
	return guardOut{sig(s), ok, sig(lo), sig(hi)}, err
}

type barIn struct {
	TorqueNm float64 `json:"torque_nm"`
	BarMM    float64 `json:"bar_mm"`
}
type barOut struct {
	ForceN float64 `json:"force_n"`
}

func barForce(in barIn) (barOut, error) {
	f, err := wrench.BarForce(in.TorqueNm, in.BarMM)
	return barOut{sig(f)}, err
}

type castleIn struct {
	Slots   int     `json:"slots"`
	Thread  string  `json:"thread"`
	HoleDeg float64 `json:"hole_deg"`
	Bearing bool    `json:"sets_bearing,omitempty"`
}
type castleOut struct {
	AdvanceDeg float64  `json:"advance_deg"`
	AdvanceMM  float64  `json:"advance_mm"`
	BackDeg    *float64 `json:"back_deg,omitempty"` // where it sets a bearing, which may be eased but not forced
	BackMM     *float64 `json:"back_mm,omitempty"`
}

func castleNut(in castleIn) (castleOut, error) {
	th, err := thread.Parse(in.Thread)
	if err != nil {
		return castleOut{}, err
	}
	a, err := wrench.CastleNut(in.Slots, in.HoleDeg)
	out := castleOut{AdvanceDeg: sig(a), AdvanceMM: sig(th.AdvancePer(a))}
	if err == nil && in.Bearing {
		pitch := wrench.SlotPitch(in.Slots)
		back := math.Mod(pitch-a, pitch)
		deg, mm := sig(back), sig(th.AdvancePer(back))
		out.BackDeg, out.BackMM = &deg, &mm
	}
	return out, err
}

type socketIn struct {
	AcrossFlatsMM float64 `json:"across_flats_mm"`
}
type socketMatch struct {
	Size        string  `json:"size"`
	SizeMM      float64 `json:"size_mm"`
	ClearanceMM float64 `json:"clearance_mm"`
	Verdict     string  `json:"verdict"`
}
type socketOut struct {
	Matches []socketMatch `json:"matches"`
}

func socket(in socketIn) (socketOut, error) {
	found, err := wrench.FindSocket(in.AcrossFlatsMM)
	out := socketOut{Matches: []socketMatch{}}
	for _, s := range found {
		out.Matches = append(out.Matches,
			socketMatch{s.Name, sig(s.SizeMM), sig(math.Round(s.ClearanceMM*1e4) / 1e4), s.Verdict})
	}
	return out, err
}

// pullExample is a clean pull to 60 N·m, as a wrench would write it down.
func pullExample() string {
	var b strings.Builder
	b.WriteString("t_s,angle_deg,torque_nm\n")
	for i := range 61 {
		angle := math.Min(4*float64(i), 200)
		torque := 1 + math.Max(0, angle-165)*1.7
		if i > 55 {
			torque = 0
		}
		fmt.Fprintf(&b, "%.2f,%.0f,%.1f\n", 0.05*float64(i), angle, torque)
	}
	text, _ := json.Marshal(pullIn{Recipe: "60 Nm", CSV: b.String(), Thread: "M12x1.5", Class: "10.9"})
	return string(text)
}

type pullIn struct {
	Recipe   string         `json:"recipe"`
	Samples  [][3]float64   `json:"samples,omitempty"`
	CSV      string         `json:"csv,omitempty"`
	Thread   string         `json:"thread,omitempty"`
	Class    name           `json:"class,omitempty"`
	Siblings [][][3]float64 `json:"siblings,omitempty"`
	DragNm   float64        `json:"drag_nm,omitempty"`
	Flex     float64        `json:"flex_deg_per_nm,omitempty"`
	Left     bool           `json:"left,omitempty"`
}

// Bounds on what is said of the tool and the nut.
const (
	mostFlex    = 2    // degrees a N·m
	largestDrag = 1000 // N·m
)

func judgePull(in pullIn) (pull.Result, error) {
	r, err := recipe.Parse(in.Recipe)
	if err != nil {
		return pull.Result{}, err
	}
	trace := samples(in.Samples)
	switch {
	case in.CSV != "" && len(trace) > 0:
		return pull.Result{}, fault.New(fault.TwoReadings, "csv", "The trace is given twice.",
			"Send samples or csv, not both.")
	case in.CSV != "":
		if trace, err = pull.ReadCSV(in.CSV); err != nil {
			return pull.Result{}, err
		}
	}
	if !(in.DragNm >= 0 && in.DragNm <= largestDrag) {
		return pull.Result{}, fault.New(fault.OutOfRange, "drag_nm", "No locking nut drags like that.",
			"Give what it takes to turn it before it seats, in N·m.")
	}
	if !(in.Flex >= 0 && in.Flex <= mostFlex) {
		return pull.Result{}, fault.New(fault.OutOfRange, "flex_deg_per_nm", "No wrench winds up like that.",
			"Give degrees for each N·m, between 0 and 2.")
	}
	ex := pull.Expect{DragNm: in.DragNm, FlexDegPerNm: in.Flex, Left: in.Left}
	f, ok, err := bolt(in.Thread, string(in.Class), "")
	if err != nil {
		return pull.Result{}, err
	}
	if ok {
		ex.SlopeLow, ex.SlopeHigh = f.Thread.SlopeBand(f.Treatment)
	}
	for _, s := range in.Siblings {
		res, err := pull.Judge(r.Stages, samples(s), pull.Expect{DragNm: in.DragNm, FlexDegPerNm: in.Flex, Left: in.Left})
		if err != nil {
			return pull.Result{}, fault.In("siblings", err)
		}
		ex.Siblings = append(ex.Siblings, pull.Feature{Slope: res.SlopeNmD, Turn: res.TurnDeg, Peak: res.PeakNm})
	}
	return pull.Judge(r.Stages, trace, ex)
}

func samples(rows [][3]float64) []pull.Sample {
	out := make([]pull.Sample, len(rows))
	for i, r := range rows {
		out[i] = pull.Sample{T: r[0], Angle: r[1], Torque: r[2]}
	}
	return out
}
