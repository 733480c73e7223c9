package wrench

import (
	"fmt"
	"math"
	"slices"
	"time"

	"lugtak/core/fault"
	"lugtak/core/unit"
)

// CheckShares are the points of a calibration, as shares of the tool's maximum,
// and CheckReadings how many readings each takes (ISO 6789-1:2017).
var CheckShares = []float64{0.2, 0.6, 1}

// CheckReadings: see CheckShares.
const CheckReadings = 5

// CheckPoint is one point of a calibration: what the tool was set to, and what
// the reference showed each time, both in N·m.
type CheckPoint struct {
	SetNm    float64   `json:"set_nm"`
	Readings []float64 `json:"readings"`
}

// Deviations are the relative deviations of the tool in per cent:
// (set − reference)/reference (ISO 6789-1:2017).
func (p CheckPoint) Deviations() []float64 {
	out := make([]float64, len(p.Readings))
	for i, r := range p.Readings {
		out[i] = 100 * (p.SetNm - r) / r
	}
	return out
}

// CheckFault refuses a calibration that is not three points of five readings, or
// whose readings no tool of that range gives. Its fault names point and reading.
func CheckFault(t Tool, points []CheckPoint) error {
	if len(points) != len(CheckShares) {
		return fault.New(fault.Missing, "points", "A calibration has three points.",
			"Take readings at 20, 60 and 100 % of the range.")
	}
	for i, p := range points {
		want := CheckShares[i] * t.MaxNm
		if math.Abs(p.SetNm-want) > 0.02*t.MaxNm {
			return fault.New(fault.OutOfRange, fmt.Sprintf("set-%d", i), fmt.Sprintf("Point %d stands at %s.", i+1,
				unit.Torque(p.SetNm)), "Set "+unit.Torque(want).String()+".")
		}
		if len(p.Readings) != CheckReadings {
			return fault.New(fault.Missing, fmt.Sprintf("p%d", i),
				fmt.Sprintf("Point %d has %d readings.", i+1, len(p.Readings)), "Take five.")
		}
		for k, r := range p.Readings {
			if !(r > 0.5*p.SetNm && r < 2*p.SetNm) {
				return fault.New(fault.OutOfRange, fmt.Sprintf("p%d-%d", i, k),
					fmt.Sprintf("Reading %d of point %d cannot be: %s.", k+1, i+1, unit.Torque(r)),
					"Enter what the reference showed, in N·m.")
			}
		}
	}
	return nil
}

// maxNamed bounds what a reference or a certificate is called.
const maxNamed = 120

// CheckNamed refuses a calibration that nobody can follow up: against what, until when that is
// good, by which certificate. Readings that all show the setting itself were not read.
func CheckNamed(l Logged) error {
	switch {
	case l.Reference == "":
		return fault.New(fault.Missing, "reference", "It is not said what the tool was held against.",
			"Name the reference and its number, as on its own certificate.")
	case l.ReferenceUntil.IsZero():
		return fault.New(fault.Missing, "reference_until", "It is not said until when the reference is good.",
			"Enter the day of its own certificate.")
	case l.ReferenceUntil.Before(l.At):
		return fault.New(fault.OutOfRange, "reference_until", "The reference itself was due before this day.",
			"Hold the tool against one that is in date.")
	case l.Certificate == "":
		return fault.New(fault.Missing, "certificate", "The calibration has no certificate.",
			"Write its number, and take a picture of it.")
	case len(l.Reference) > maxNamed || len(l.Certificate) > maxNamed:
		return fault.New(fault.TooLong, "reference", "That is too long.", "Keep it under 120 characters.")
	}
	for _, p := range l.Points {
		for _, r := range p.Readings {
			if r != p.SetNm {
				return nil
			}
		}
	}
	return fault.New(fault.OutOfRange, "p0-0", "Every reading is the setting itself: no reference shows that.",
		"Enter what the reference showed, with the digits it has.")
}

// Passes says whether every deviation lies within the permitted one, and if not
// which point is out and by how much, in per cent.
func Passes(points []CheckPoint) (ok bool, worst float64, at int) {
	ok = true
	for i, p := range points {
		for _, d := range p.Deviations() {
			if math.Abs(d) > math.Abs(worst) {
				worst, at = d, i
			}
			if math.Abs(d) > Accuracy(p.SetNm)+1e-9 {
				ok = false
			}
		}
	}
	return ok, worst, at
}

// Logged is one line of the crib's log: a calibration, or the tool taken out of
// use or back into it.
type Logged struct {
	Tool   string       `json:"tool"`
	Kind   string       `json:"kind"` // check, retire, return
	At     time.Time    `json:"at"`
	By     string       `json:"by"`
	Note   string       `json:"note,omitempty"`
	Points []CheckPoint `json:"points,omitempty"`

	// Of a calibration: what the tool was held against and until when that is good, the number
	// of the certificate, and who else saw it. Logs of before name none.
	Reference      string    `json:"reference,omitempty"`
	ReferenceUntil time.Time `json:"reference_until,omitzero"`
	Certificate    string    `json:"certificate,omitempty"`
	Second         string    `json:"second,omitempty"`
	Act            string    `json:"act,omitempty"`   // in the shop's journal
	Photo          bool      `json:"photo,omitempty"` // of the certificate, kept there

	Pulls int `json:"pulls"` // the tool had made by then
}

// Kinds of log lines.
const (
	LogCheck  = "check"
	LogRetire = "retire"
	LogReturn = "return"
)

// InUse brings a tool up to date with the crib's log, oldest line first, and with
// the pulls it has made in all. A calibration that fails takes it out of use
// until one passes.
func (t Tool) InUse(log []Logged, pulls int) Tool {
	since := 0
	for _, l := range log {
		if l.Tool != t.ID {
			continue
		}
		switch l.Kind {
		case LogCheck:
			ok, worst, at := Passes(l.Points)
			switch n := len(l.Points); {
			case n > 0 && l.Points[n-1].SetNm < 0.99*t.MaxNm: // it is said since that it goes higher
				t.Out = fmt.Sprintf("it was calibrated up to %s alone", unit.Torque(l.Points[n-1].SetNm))
			case ok:
				t.Calibrated, t.Cycles, since, t.Out = l.At, 0, l.Pulls, ""
				t.Alone = l.Reference != "" && l.Second == ""
			default:
				t.Out = fmt.Sprintf("it failed its calibration: %+.1f %% at %s", worst, unit.Torque(l.Points[at].SetNm))
			}
		case LogRetire:
			t.Out = "taken out of use: " + l.Note
		case LogReturn:
			t.Out = ""
		}
	}
	t.Cycles += max(0, pulls-since)
	return t
}

// LastCheck is the newest calibration of a tool in the log, nil if there is none.
func LastCheck(tool string, log []Logged) *Logged {
	for _, l := range slices.Backward(log) {
		if l.Tool == tool && l.Kind == LogCheck {
			return &l
		}
	}
	return nil
}
