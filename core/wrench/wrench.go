// Package wrench chooses a torque tool, reckons what to set on it, and says
// what will not hold. Torques are newton metres, lengths millimetres.
package wrench

import (
	"fmt"
	"math"
	"slices"
	"sort"
	"strings"
	"time"

	"lugtak/core/fault"
	"lugtak/core/recipe"
	"lugtak/core/unit"
)

// Tool is one torque tool of the shop. Flex is what it winds up between grip and square,
// degrees for each N·m, where its angle is read at the grip; 0 where it is read at the
// square, or nobody knows.
type Tool struct {
	ID         string    `json:"id"`
	Name       string    `json:"name"`
	Kind       string    `json:"kind"` // "click", "torque-angle"
	MaxNm      float64   `json:"max_nm"`
	StepNm     float64   `json:"step_nm"` // graduation of the setting
	Drive      string    `json:"drive"`   // square drive: "1/4", "3/8", "1/2", "3/4"
	LengthMM   float64   `json:"length_mm"`
	Calibrated time.Time `json:"calibrated"`
	Cycles     int       `json:"cycles"`          // since calibration
	Out        string    `json:"out,omitempty"`   // why it is out of use
	Alone      bool      `json:"alone,omitempty"` // one person calibrated it, and nobody else saw it
	Mute       bool      `json:"mute,omitempty"`  // it traces, and nothing in the shop hears it
	Flex       float64   `json:"flex_deg_per_nm,omitempty"`

	// Of one that the shop hung itself.
	Own         bool   `json:"own,omitempty"`
	Serial      string `json:"serial,omitempty"`
	Certificate string `json:"certificate,omitempty"` // of the calibration it came with
	Act         string `json:"act,omitempty"`         // by which it was hung, with the picture of that
}

// Kinds of torque tool.
const (
	KindClick  = "click"        // it clicks at what it is set to
	KindTraces = "torque-angle" // it tells torque and angle as it turns
)

// Drives are the square drives there are, inches.
var Drives = []string{"1/4", "3/8", "1/2", "3/4", "1"}

// Bounds of a torque tool: N·m and mm, from the smallest screwdriver to a truck's wheel nuts (common practice).
const (
	longestName        = 60
	longestCertificate = 120
	leastMax           = 0.5
	mostMax            = 3000
	shortest           = 60
	longest            = 2500
)

// CheckTool refuses a tool nobody can have today. Its faults name the field.
func CheckTool(t Tool, today time.Time) error {
	switch {
	case strings.TrimSpace(t.Name) == "" || len([]rune(t.Name)) > longestName:
		return fault.New(fault.Missing, "name", "The tool has no name, or too long a one.",
			"Say what it is called here, in up to 60 characters.")
	case t.Kind != KindClick && t.Kind != KindTraces:
		return fault.New(fault.BadChoice, "kind", "There is no such kind of tool.",
			"It clicks, or it tells torque and angle.")
	case !slices.Contains(Drives, t.Drive):
		return fault.New(fault.BadChoice, "drive", "There is no such square drive.", "Choose one of the list.")
	case len([]rune(t.Serial)) > longestName:
		return fault.New(fault.TooLong, "serial", "That is too long for a number.", "Write what is engraved on it.")
	case t.Calibrated.Format(time.DateOnly) > today.Format(time.DateOnly): // a day, wherever the shop is
		return fault.New(fault.OutOfRange, "calibrated", "That day is still to come.",
			"Read the day of the calibration on its certificate.")
	case t.Calibrated.IsZero() != (t.Certificate == ""):
		return fault.New(fault.Missing, "certificate", "A calibration has its day and the number of a certificate.",
			"Write both, or leave both out and calibrate it here.")
	case t.Certificate != "" && t.Serial == "":
		return fault.New(fault.Missing, "serial", "A certificate is of one tool, and it is not said of which.",
			"Read the number that is engraved on the tool and stands on its certificate.")
	case len([]rune(t.Certificate)) > longestCertificate:
		return fault.New(fault.TooLong, "certificate", "That is too long for a number.", "Write what stands on the paper.")
	}
	return fault.First(
		fault.InRange("max_nm", t.MaxNm, leastMax, mostMax, "No torque tool ends there.",
			"Read its highest figure, in N·m."),
		fault.InRange("step_nm", t.StepNm, 0.001, t.MaxNm/10, "That is no graduation of such a tool.",
			"Read the step between two marks, in N·m: a tenth of its highest figure at the most."),
		fault.InRange("length_mm", t.LengthMM, shortest, longest, "No tool is as long as that.",
			"Measure from the middle of the square to the middle of the hand, in mm."),
	)
}

// Called is what a tool is called whom nobody has named: by its kind and its highest torque, and its number.
func (t Tool) Called() string {
	name := map[string]string{KindClick: "Click wrench", KindTraces: "Tracing wrench"}[t.Kind]
	name += " to " + unit.Torque(t.MaxNm).String()
	if t.Serial != "" {
		name += ", " + t.Serial
	}
	return name
}

// Angle says that the tool measures the angle turned.
func (t Tool) Angle() bool { return t.Kind == KindTraces }

// Least is the lowest torque the tool may be used for: 20 % of its maximum
// (ISO 6789-1:2017).
func (t Tool) Least() float64 { return 0.2 * t.MaxNm }

// Accuracy is the permitted error of a setting tool, in per cent: 6 up to
// 10 N·m, 4 above (ISO 6789-1:2017).
func Accuracy(torque float64) float64 {
	if torque <= 10 {
		return 6
	}
	return 4
}

// Recalibrate: calibration falls due after 12 months or 5 000 cycles, whichever is first
// (ISO 6789-1:2017).
const Recalibrate = 5000

// Due is the day the next calibration falls due.
func (t Tool) Due() time.Time { return t.Calibrated.AddDate(1, 0, 0) }

// Overdue says that the tool must not be used on that day.
func (t Tool) Overdue(day time.Time) bool {
	return day.After(t.Due()) || t.Cycles >= Recalibrate
}

// NameOf is what a tool of the list is called, for a sentence.
func NameOf(tools []Tool, id string) string {
	for _, t := range tools {
		if t.ID == id {
			return t.Name
		}
	}
	return "a tool"
}

// Unfit is why the tool must not be used on that day; empty where it may.
func (t Tool) Unfit(day time.Time) string {
	switch {
	case t.Out != "":
		return t.Out
	case t.Calibrated.IsZero():
		return "not calibrated yet"
	case t.Cycles >= Recalibrate:
		return fmt.Sprintf("calibration is due: %d pulls since the last", t.Cycles)
	case day.After(t.Due()):
		return "calibration was due on " + t.Due().Format("2 January 2006")
	}
	return ""
}

// Adapter lengthens or turns the wrench's head: a crow's-foot.
type Adapter struct {
	ID       string  `json:"id"`
	Name     string  `json:"name"`
	LengthMM float64 `json:"length_mm"`
	AngleDeg float64 `json:"angle_deg"` // from the wrench's axis
	Flex     float64 `json:"flex_deg_per_nm,omitempty"`
}

// AtBolt is what arrives at the fastener when the tool reads so much.
func (a Adapter) AtBolt(reading, wrenchMM float64) float64 {
	if a.LengthMM == 0 {
		return reading
	}
	_, factor, err := Setting(1, wrenchMM, a.LengthMM, a.AngleDeg)
	if err != nil {
		return reading
	}
	return reading / factor
}

// Setting is what to set so that the target arrives at the fastener:
// target·L/(L + A·cos φ), from statics. At 90° it is the target. It refuses
// lengths that are not positive and an adapter that turns back on the wrench.
func Setting(target, wrenchMM, adapterMM, angleDeg float64) (setting, factor float64, err error) {
	switch {
	case !(target > 0) || math.IsInf(target, 0):
		return 0, 0, fault.New(fault.OutOfRange, "target_nm", "The target is not a positive torque.",
			"Give it in newton metres.")
	case !(wrenchMM > 0) || wrenchMM > 5000:
		return 0, 0, fault.New(fault.OutOfRange, "wrench_mm", "The wrench has no such length.",
			"Measure from the middle of the drive to the middle of the grip, in mm.")
	case !(adapterMM >= 0) || adapterMM > 2000:
		return 0, 0, fault.New(fault.OutOfRange, "adapter_mm", "The adapter has no such length.",
			"Measure from the drive to the middle of the nut, in mm; 0 without adapter.")
	case math.IsNaN(angleDeg) || math.Abs(angleDeg) > 360:
		return 0, 0, fault.New(fault.OutOfRange, "adapter_angle_deg", "The adapter stands at no such angle.",
			"0° is in line with the wrench, 90° square to it.")
	}
	c := math.Cos(angleDeg * math.Pi / 180)
	if math.Abs(c) < 1e-12 {
		c = 0
	}
	reach := wrenchMM + adapterMM*c
	if reach < wrenchMM/4 {
		return 0, 0, fault.New(fault.OutOfRange, "adapter_angle_deg", "The adapter folds back along the wrench.",
			"Turn it forward or square.")
	}
	factor = wrenchMM / reach
	return target * factor, factor, nil
}

// GuardBand is the setting that keeps the tool's whole permitted error inside low to
// high: the middle of all that do. Where none does it is the middle of the window, which
// risks as much below as above, with both shares. The error is taken as evenly spread
// over ±accuracy per cent of the setting.
func GuardBand(low, high, accuracyPct float64) (setting float64, feasible bool, riskLow, riskHigh float64, err error) {
	switch {
	case !(low > 0):
		return 0, false, 0, 0, fault.New(fault.OutOfRange, "low_nm", "The lower end is not a positive torque.",
			"Give it in newton metres.")
	case !(high >= low) || math.IsInf(high, 0):
		return 0, false, 0, 0, fault.New(fault.OutOfRange, "high_nm", "The upper end lies below the lower.",
			"Swap them or check the sheet.")
	case !(accuracyPct >= 0 && accuracyPct < 50):
		return 0, false, 0, 0, fault.New(fault.OutOfRange, "accuracy_pct", "No torque tool is that far out.",
			"Give the permitted error in per cent, 4 for most wrenches.")
	}
	a := accuracyPct / 100
	setting = guarded(low, high, a)
	riskLow, riskHigh = risks(setting, a, low, high)
	return setting, riskLow < 1e-9 && riskHigh < 1e-9, riskLow, riskHigh, nil
}

// guarded is the middle of the settings whose error of ±a stays inside low to high, else
// of the window.
func guarded(low, high, a float64) float64 {
	from, to := low/(1-a), high/(1+a)
	if from > to {
		return (low + high) / 2
	}
	return (from + to) / 2
}

// risks are the shares of pulls below low and above high, with the tool's error evenly
// spread over ±a of the setting.
func risks(setting, a, low, high float64) (below, above float64) {
	spread := 2 * a * setting
	if spread == 0 {
		return 0, 0
	}
	below = math.Min(1, math.Max(0, (low-setting*(1-a))/spread))
	above = math.Min(1, math.Max(0, (setting*(1+a)-high)/spread))
	return below, above
}

// School says where in a window to aim.
type School string

// The schools of aiming: the middle of the settings whose whole permitted error stays
// inside the window, taken also where none is named; the middle of the window; the
// lowest setting whose error stays above its lower end.
const (
	Guard   School = "guard"
	Middle  School = "middle"
	Minimum School = "minimum"
)

// aim is the torque at the fastener a school asks for, and which way to round it to a
// tool's graduation: up, or to the nearest. A recipe that states a minimum has no middle:
// every school stays above it. One that states a single figure is aimed at.
func (school School) aim(stage recipe.Stage, accuracy float64) (nm float64, up bool) {
	a := accuracy / 100
	low, high := stage.Window()
	lowest := low / (1 - a)
	switch {
	case stage.Form == recipe.Minimum:
		return lowest, true
	case !stage.HasRoom():
		return stage.Target(), false
	case school == Minimum:
		return lowest, true
	case school == Middle:
		return (low + high) / 2, false
	}
	return guarded(low, high, a), false
}

// Choice is one tool with what to set on it for one stage.
type Choice struct {
	Tool       Tool
	SetNm      float64 // on the tool, adapter corrected and rounded to its step
	AtBoltNm   float64 // what then arrives
	Inside     bool    // the whole permitted error lies inside the window
	RiskLow    float64
	RiskHigh   float64
	NeedsAngle bool // a marked socket or angle gauge is needed beside it
	Refused    string
}

// Clicks says that the tool may be used and says no more than that it clicked.
func (c Choice) Clicks() bool { return !c.Tool.Angle() && c.Refused == "" }

// Choose ranks the shop's tools for a stage: those that may be used first, the
// best fitting first among them. peak is the highest torque the fastener will
// see, which drive and socket must bear; day decides on calibration.
func Choose(stage recipe.Stage, peak unit.Torque, tools []Tool, ad Adapter, school School, day time.Time) []Choice {
	out := make([]Choice, 0, len(tools))
	for _, t := range tools {
		out = append(out, choice(stage, peak.Nm(), t, ad, school, day))
	}
	sort.SliceStable(out, func(i, j int) bool {
		a, b := out[i], out[j]
		switch {
		case (a.Refused == "") != (b.Refused == ""):
			return a.Refused == ""
		case a.Tool.Mute != b.Tool.Mute: // its reading would have to be brought by hand
			return b.Tool.Mute
		case a.Inside != b.Inside:
			return a.Inside
		case a.Tool.Angle() != b.Tool.Angle(): // a trace is better evidence than a click
			return a.Tool.Angle()
		}
		return a.Tool.MaxNm < b.Tool.MaxNm
	})
	return out
}

func choice(stage recipe.Stage, peak float64, t Tool, ad Adapter, school School, day time.Time) Choice {
	c := Choice{Tool: t, NeedsAngle: stage.Kind == recipe.Angle && !t.Angle()}
	if c.Refused = t.Unfit(day); c.Refused != "" {
		return c
	}
	load := peak
	if stage.Kind == recipe.Torque {
		low, high := stage.Window()
		aim, up := school.aim(stage, Accuracy(stage.Target()))
		set, factor, err := Setting(aim, t.LengthMM, ad.LengthMM, ad.AngleDeg)
		if err != nil {
			c.Refused = err.Error()
			return c
		}
		c.SetNm = graduated(set, t.StepNm, up)
		c.AtBoltNm = c.SetNm / factor
		c.RiskLow, c.RiskHigh = risks(c.AtBoltNm, Accuracy(c.SetNm)/100, low, high)
		c.Inside = c.RiskLow < 0.01 && c.RiskHigh < 0.01
		set = c.SetNm
		load = math.Max(load, c.AtBoltNm)
		switch {
		case set > t.MaxNm:
			c.Refused = fmt.Sprintf("its range ends at %s", unit.Torque(t.MaxNm))
		case set < t.Least():
			c.Refused = fmt.Sprintf("below a fifth of its range (%s)", unit.Torque(t.Least()))
		}
	}
	if traced := stage.Kind == recipe.Angle && t.Angle(); traced && c.Refused == "" {
		atTool, _, err := Setting(math.Max(peak, 1e-9), t.LengthMM, ad.LengthMM, ad.AngleDeg)
		if err == nil && atTool > t.MaxNm {
			c.Refused = fmt.Sprintf("its range ends at %s, and this comes to %s",
				unit.Torque(t.MaxNm), unit.Torque(math.Round(atTool)))
		}
	}
	if limit := DriveLimit(t.Drive); c.Refused == "" && load > limit {
		c.Refused = fmt.Sprintf("a %s in drive is proved to %s only", t.Drive, unit.Torque(limit))
	}
	return c
}

// graduated rounds a setting to a tool's graduation: to the nearest, or up.
func graduated(set, step float64, up bool) float64 {
	if step <= 0 {
		return set
	}
	if up {
		return math.Ceil(set/step-1e-9) * step
	}
	return math.Round(set/step) * step
}

// DriveLimit is the proof torque in N·m of a square drive, the smaller of
// handle and socket (ISO 3315, ISO 1711-1; from memory). Unknown drives bear 0.
func DriveLimit(drive string) float64 {
	return map[string]float64{"1/4": 62, "3/8": 202, "1/2": 512, "3/4": 1412}[drive]
}

// BarForce is the pull in N at the end of a bar of that length for a torque.
func BarForce(torque, barMM float64) (float64, error) {
	if !(torque >= 0) || math.IsInf(torque, 0) {
		return 0, fault.New(fault.OutOfRange, "torque_nm", "The torque is not a number from zero up.",
			"Give it in newton metres.")
	}
	if !(barMM >= 20 && barMM <= 5000) {
		return 0, fault.New(fault.OutOfRange, "bar_mm", "A bar is between 20 mm and 5 m long.",
			"Measure from the drive to the hand, in mm.")
	}
	return torque / (barMM / 1000), nil
}

// A steady pull with one hand, and with both and the feet firm, N (common practice).
const (
	oneHand   = 250
	bothHands = 450
)

// Effort is how hard somebody pulls at the end of a wrench or a bar.
type Effort struct {
	N        float64
	Both     bool    // one hand does not do it
	LongerMM float64 // a length on which both hands do it, to the next 50 mm; 0 where they do on this one
}

// EffortFor is the effort of a torque in N·m on a length in mm; it refuses what BarForce does.
func EffortFor(torque, barMM float64) (Effort, error) {
	n, err := BarForce(torque, barMM)
	e := Effort{N: n, Both: n >= oneHand}
	if n > bothHands {
		e.LongerMM = 50 * math.Ceil(torque/bothHands*1000/50)
	}
	return e, err
}

// SlotPitch is the degrees from one slot of a castle nut to the next that a through hole meets.
func SlotPitch(slots int) float64 {
	pitch := 360 / float64(slots)
	if slots%2 == 1 {
		pitch /= 2
	}
	return pitch
}

// CastleNut is how far a castle nut must go on, never back, until a slot meets
// the hole: holeDeg is how far the hole stands ahead of the last slot, in the
// direction of tightening. A through hole has two ends, so a nut with an odd
// number of slots needs half as far at most.
func CastleNut(slots int, holeDeg float64) (advanceDeg float64, err error) {
	if slots < 3 || slots > 12 {
		return 0, fault.New(fault.OutOfRange, "slots", "A castle nut has 3 to 12 slots.", "Count them; most have six.")
	}
	if math.IsNaN(holeDeg) || math.Abs(holeDeg) > 360 {
		return 0, fault.New(fault.OutOfRange, "hole_deg", "The hole stands within one turn.",
			"Give the angle from the last slot to the hole.")
	}
	pitch := SlotPitch(slots)
	a := math.Mod(holeDeg, pitch)
	if a < 0 {
		a += pitch
	}
	return a, nil
}
