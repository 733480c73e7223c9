// Package pull judges tightenings: a torque–angle trace, or one reading from a
// click wrench, against the stages of a recipe.
//
// Times are seconds, angles degrees of the fastener, torques newton metres.
package pull

import (
	"fmt"
	"math"
	"sort"

	"lugtak/core/fault"
	"lugtak/core/recipe"
	"lugtak/core/unit"
)

// Sample is one reading of a torque–angle wrench.
type Sample struct {
	T      float64 // s
	Angle  float64 // degrees
	Torque float64 // N·m
}

// Signature names what a pull looks like.
type Signature string

// The signatures, from the one that endangers most to the good one.
const (
	CrossThreaded  Signature = "cross_threaded"
	Stripped       Signature = "stripped"
	Yielded        Signature = "yielded"
	Bottomed       Signature = "bottomed"
	StickSlip      Signature = "stick_slip"
	TurnedBack     Signature = "turned_back"
	NoMovement     Signature = "no_movement"
	Low            Signature = "low"
	High           Signature = "high"
	AngleShort     Signature = "angle_short"
	AngleLong      Signature = "angle_long"
	Soft           Signature = "soft"
	UnlikeSiblings Signature = "unlike_siblings"
	Good           Signature = "good"
	Unknown        Signature = "unknown" // nothing was measured
)

// Verdict is what to do with a pull.
type Verdict string

// Keep it; do the stage again; reject the hardware and renew it.
const (
	Keep   Verdict = "keep"
	Redo   Verdict = "redo"
	Reject Verdict = "reject"
)

// Evidence is how the figure of a pull is known.
type Evidence string

// The grades of evidence, strongest first.
const (
	Traced      Evidence = "traced"       // readings of a tool that measures torque and angle
	Clicked     Evidence = "clicked"      // a setting was stated, then the click; nobody saw the angle
	Marked      Evidence = "marked"       // an angle turned from a mark, protractor or phone
	Stated      Evidence = "stated"       // a reading that a hand has brought, as a file
	NotMeasured Evidence = "not_measured" // chosen with its cause
)

// grades orders the evidence from the weakest up.
var grades = map[Evidence]int{NotMeasured: 1, Stated: 2, Marked: 3, Clicked: 4, Traced: 5}

// Weaker says that e proves less than o. Evidence that is not known proves nothing.
func (e Evidence) Weaker(o Evidence) bool { return grades[e] < grades[o] }

// Checked says that a second quantity was measured beside the one that was steered by:
// the check that VDI/VDE 2862 asks for where a life hangs on the joint.
func (e Evidence) Checked() bool { return e == Traced }

// Words are the grade as people read it.
func (e Evidence) Words() string {
	switch e {
	case Traced:
		return "traced"
	case Clicked:
		return "clicked"
	case Marked:
		return "marked"
	case Stated:
		return "stated"
	case NotMeasured:
		return "not measured"
	}
	return ""
}

// Needs is what must come before a fastener is pulled on again.
type Needs string

// The needs. After a pull that fell short, or one that was good, there is none.
const (
	Nothing Needs = ""
	Slacken Needs = "slacken"
	Renew   Needs = "renew"
)

// Needs says what a pull calls for: hardware that is hurt is renewed, a fastener that
// went too far or did not move is slackened, one that fell short may be pulled on.
// yieldNm is the torque that brings the bolt to yield at the low end of its friction,
// 0 where it is not known.
func (r Result) Needs(yieldNm float64) Needs {
	overloaded := yieldNm > 0 && r.PeakNm > yieldNm
	switch {
	case r.Verdict == Keep, r.Signature == Low, r.Signature == AngleShort:
		return Nothing
	case r.Verdict == Reject, overloaded:
		return Renew
	}
	return Slacken
}

// StageResult is what one stage of the recipe came to.
type StageResult struct {
	Kind     recipe.Kind `json:"kind"`
	TorqueNm float64     `json:"torque_nm"`
	AngleDeg float64     `json:"angle_deg"`
	Verdict  string      `json:"verdict"` // ok, low, high, short, long, missing
}

// Reason is one sentence with the span of the trace that decided it.
type Reason struct {
	Message string  `json:"message"`
	FromS   float64 `json:"from_s"`
	ToS     float64 `json:"to_s"`
}

// Result is the judgement of one pull.
type Result struct {
	Stages    []StageResult `json:"stages"`
	Signature Signature     `json:"signature"`
	Sure      float64       `json:"sure"` // 0–1: how likely the verdict is right; 0 where nobody reckoned it
	Verdict   Verdict       `json:"verdict"`
	LeftDeg   float64       `json:"left_to_turn_deg"` // of the angle asked for; 0 where none is owed
	Reasons   []Reason      `json:"reasons"`
	PeakNm    float64       `json:"peak_nm"`
	SnugDeg   float64       `json:"snug_deg"`  // angle at which the parts met
	SlopeNmD  float64       `json:"slope_nmd"` // elastic slope, N·m per degree
	TurnDeg   float64       `json:"turn_deg"`  // from snug to the end
}

// Bounds on a trace.
const (
	MinSamples = 8
	MaxSamples = 200_000
)

// Validate refuses a trace no wrench could have made. Its fault is about the
// field "samples" and names the sample.
func Validate(s []Sample) error {
	if len(s) < MinSamples {
		return fault.New(fault.TooShort, "samples", fmt.Sprintf("%d samples are no trace.", len(s)),
			"Record from before the pull until after the release.")
	}
	if len(s) > MaxSamples {
		return fault.New(fault.TooLong, "samples", fmt.Sprintf("%d samples are more than one pull has.", len(s)),
			fmt.Sprintf("Send at most %d.", MaxSamples))
	}
	for i, x := range s {
		switch {
		case !finite(x.T) || !finite(x.Angle) || !finite(x.Torque):
			return fault.New(fault.BadNumber, "samples", fmt.Sprintf("Sample %d is not a finite number.", i+1),
				"Leave missing samples out.")
		case math.Abs(x.Torque) > 20000 || math.Abs(x.Angle) > 1e6:
			return fault.New(fault.OutOfRange, "samples", fmt.Sprintf("Sample %d lies beyond any wrench.", i+1),
				"Check the units: seconds, degrees, newton metres.")
		case i > 0 && x.T < s[i-1].T:
			return fault.New(fault.BadOrder, "samples", fmt.Sprintf("Sample %d is earlier than the one before it.", i+1),
				"Sort the samples by time.")
		}
	}
	return nil
}

func finite(v float64) bool { return !math.IsNaN(v) && !math.IsInf(v, 0) }

// Expect is what the judge may compare a trace with, and what it must know of the tool.
type Expect struct {
	SlopeLow, SlopeHigh float64   // N·m per degree the joint should show; 0 unknown
	Siblings            []Feature // of the same pattern and stage
	Repeat              bool      // a second round at one figure: standing still is expected
	DragNm              float64   // N·m a locking nut takes to turn; 0 unknown
	FlexDegPerNm        float64   // wind-up where the angle is read at the grip; 0 as the release shows it
	Left                bool      // a left-hand thread: it tightens the other way round
}

// LeastSiblings is with how many others a pull is compared at the least.
const LeastSiblings = 2

// Feature is what siblings are compared by.
type Feature struct {
	Slope float64 // N·m per degree
	Turn  float64 // degrees from snug to the end
	Peak  float64 // N·m
}

// Judge judges a trace against the recipe's stages in their order.
func Judge(stages []recipe.Stage, trace []Sample, ex Expect) (Result, error) {
	if len(stages) == 0 {
		return Result{}, fault.New(fault.Missing, "recipe", "A pull is judged against a recipe.",
			"Give the recipe of the joint.")
	}
	if err := Validate(trace); err != nil {
		return Result{}, err
	}
	v := look(stages, trace, ex)
	r := Result{
		PeakNm:   round(v.motion.peak),
		SnugDeg:  round(v.snug),
		SlopeNmD: v.slope,
		TurnDeg:  round(v.fromSnug()),
		Stages:   v.read.res,
	}
	found := v.find()
	if len(found) == 0 {
		found = []finding{
			{Good, "Every stage is inside its window and the flank is straight.", v.start, len(v.p) - 1, 0.97, false},
		}
	}
	sort.SliceStable(found, func(i, j int) bool { return rank[found[i].sig] < rank[found[j].sig] })
	r.Signature = found[0].sig
	r.Sure = v.sure(found[0])
	r.Verdict = verdicts[r.Signature]
	for _, f := range found {
		r.Reasons = append(r.Reasons, Reason{f.message, v.p[f.from].T, v.p[f.to].T})
		switch {
		case r.Verdict == Keep && verdicts[f.sig] != Keep:
			r.Verdict = verdicts[f.sig]
		case r.Verdict == Keep && f.refuses:
			r.Verdict = Redo
		}
	}
	if hides := v.hides(); hides.says != "" && !(hides.gives && r.Verdict == Reject) {
		if r.Verdict == Keep {
			r.Verdict = Redo
		}
		r.Sure = math.Min(r.Sure, blindSure)
		r.Reasons = append(r.Reasons, Reason{Message: hides.says, FromS: hides.from, ToS: hides.to})
	}
	if r.Verdict == Keep { // what is refused is no surer for it
		for _, doubts := range []func() (Reason, bool){v.bends, v.steep} {
			if why, doubt := doubts(); doubt {
				r.Sure = math.Min(r.Sure, bentSure)
				r.Reasons = append(r.Reasons, why)
			}
		}
	}
	if !v.zeroed {
		r.Reasons = append(r.Reasons, v.unzeroed())
	}
	if r.Signature == AngleShort {
		r.LeftDeg = round(math.Max(0, v.read.owed))
	}
	return r, nil
}

// Certain is how sure a verdict is from which nothing is said about it.
const Certain = 0.7

// blindSure is how sure a verdict is that the readings cannot carry.
const blindSure = 0.5

// hides is why the readings cannot carry a verdict: nobody saw the top, or the rise to it.
func (v *view) hides() end {
	if v.end.says == "" && v.blind() {
		return end{
			"Too few readings while the torque rose: a bolt on the bottom of its hole would look the same. Slacken it and " +
				"pull again, slower or with a quicker tool.",
			v.p[v.start].T, v.p[len(v.p)-1].T, false,
		}
	}
	return v.end
}

// unzeroed says that the trace never shows the tool at rest.
func (v *view) unzeroed() Reason {
	last := len(v.p) - 1
	return Reason{
		Message: "The trace never shows the tool at rest: its zero was not taken off. Record from before the pull until " +
			"after the release.",
		FromS: v.p[0].T,
		ToS:   v.p[last].T,
	}
}

var order = []Signature{
	CrossThreaded,
	Stripped,
	Yielded,
	Bottomed,
	StickSlip,
	TurnedBack,
	NoMovement,
	Low,
	High,
	AngleShort,
	AngleLong,
	Soft,
	UnlikeSiblings,
	Good,
}

var rank = func() map[Signature]int {
	m := map[Signature]int{}
	for i, s := range order {
		m[s] = i
	}
	return m
}()

// What to do: a thread or bolt that is hurt is renewed, a window missed is done
// again, and an outlier inside every window is kept with its remark.
var verdicts = map[Signature]Verdict{
	CrossThreaded: Reject, Stripped: Reject, Yielded: Reject, Bottomed: Reject, StickSlip: Redo, TurnedBack: Redo,
	NoMovement: Redo,
	Low:        Redo, High: Redo, AngleShort: Redo, AngleLong: Reject, Soft: Redo, UnlikeSiblings: Keep, Good: Keep,
}

// Hand judges one reading without a trace: the torque a setting wrench clicked
// at, or the angle turned by eye.
func Hand(stage recipe.Stage, reading float64) (Result, error) {
	low, high := stage.Window()
	res := StageResult{Kind: stage.Kind, Verdict: "ok"}
	r := Result{Signature: Good, Verdict: Keep}
	switch stage.Kind {
	case recipe.Torque:
		if !(reading > 0) || reading > 20000 {
			return Result{}, fault.New(fault.BadNumber, "reading", "That is not a torque.",
				"Enter what the wrench was set to, in N·m.")
		}
		res.TorqueNm, r.PeakNm = reading, reading
		// Compared at the tenth a wrench is read to.
		switch {
		case reading < low-0.05:
			res.Verdict, r.Signature = "low", Low
		case reading > high+0.05:
			res.Verdict, r.Signature = "high", High
		}
		r.Reasons = []Reason{{Message: fmt.Sprintf("It came to %s; the window is %s to %s.", unit.Torque(reading),
			unit.Number(low, 1), unit.Torque(high))}}
	case recipe.Angle, recipe.NextSlot, recipe.BackOff:
		if !finite(reading) || reading < 0 || reading > 3600 {
			return Result{}, fault.New(fault.BadNumber, "reading", "That is not an angle.",
				"Enter the degrees turned, as read from the mark.")
		}
		res.AngleDeg, r.TurnDeg = reading, reading
		if stage.Kind == recipe.BackOff {
			break
		}
		switch {
		case reading < low-0.05:
			res.Verdict, r.Signature = "short", AngleShort
		case reading > high+0.05:
			res.Verdict, r.Signature = "long", AngleLong
		}
		r.Reasons = []Reason{{Message: fmt.Sprintf("It came to %s°; the window is %s° to %s°.", unit.Number(reading, 1),
			unit.Number(low, 1), unit.Number(high, 1))}}
	}
	r.Stages = []StageResult{res}
	r.Verdict = verdicts[r.Signature]
	return r, nil
}

func round(v float64) float64 { return math.Round(v*10) / 10 }
