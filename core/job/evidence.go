package job

import (
	"fmt"
	"math"
	"slices"
	"time"

	"lugtak/core/claim"
	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/pull"
	"lugtak/core/recipe"
	"lugtak/core/record"
	"lugtak/core/unit"
	"lugtak/core/wrench"
)

// Means is how an angle was read.
type Means string

// The means.
const (
	ByMark       Means = "mark"
	ByProtractor Means = "protractor"
	ByPhone      Means = "phone"
	BySlot       Means = "slot" // a castle nut's hole, shown where it stood
)

// Cause is why a fastener was left not measured.
type Cause string

// The causes.
const (
	NoRoom         Cause = "no_room"
	SpinningStud   Cause = "spinning_stud"
	SqueezedRubber Cause = "squeezed_rubber"
	OpenSpanner    Cause = "open_spanner"
	PowerTool      Cause = "power_tool"
)

// Causes lists them as a page offers them.
func Causes() []Cause { return []Cause{NoRoom, SpinningStud, SqueezedRubber, OpenSpanner, PowerTool} }

var causeWords = map[Cause]string{
	NoRoom:         "no room for a torque wrench",
	SpinningStud:   "the stud spins",
	SqueezedRubber: "rubber squeezed by eye",
	OpenSpanner:    "open spanner",
	PowerTool:      "power tool",
}

// Words says a cause in the words of the bay.
func (c Cause) Words() string { return causeWords[c] }

// The commands by which a tightening is recorded.
type (
	// SetWrench is the first act of a click or of an angle by eye: somebody states what
	// the tool stands at, or that the mark is on. Nothing of it is filled in beforehand
	// but what was asked for.
	SetWrench struct {
		Step          operation.StepID
		Joint, Letter string
		Tool          wrench.Tool    `json:"-"` // none for a mark
		Adapter       wrench.Adapter // between tool and fastener
		ToolID        string
		SetNm         float64 // N·m on the tool; 0 for a mark, or where drag comes on top: then it is reckoned
		DragNm        float64 // N·m this nut takes to turn before it seats, where the figure comes on top of it
	}
	// Click is the second: the tool clicked on this fastener.
	Click struct {
		Step          operation.StepID
		Joint, Letter string
		Claim         claim.Claim `json:"-"`
	}
	// Trace is what a tool that measures torque and angle has read, or, from a tool
	// that sends no samples, the torque and angle it came to.
	Trace struct {
		Step            operation.StepID
		Joint, Letter   string
		Tool            wrench.Tool `json:"-"`
		Adapter         wrench.Adapter
		ToolID          string
		Claim           claim.Claim `json:"-"`
		Samples         []pull.Sample
		PeakNm, TurnDeg float64
		Simulated       bool
		File            bool // brought by a hand, whoever saved it: it is stated, not traced
	}
	// Turn is an angle turned by eye, a slot gone on to, or a fastener backed off or
	// run down by hand.
	Turn struct {
		Step          operation.StepID
		Joint, Letter string
		Means         Means
		AngleDeg      float64          // by protractor or phone
		Phone         wrench.PhoneTurn // how a phone counted it
		HoleDeg       float64          // how far a castle nut's hole stood past its slot
		Short, Past   bool             // of the mark
	}
	// LeaveUnmeasured pays a fastener's debt without a figure, by name and cause.
	LeaveUnmeasured struct {
		Step          operation.StepID
		Joint, Letter string
		Cause         Cause
		Note          string
	}
)

// tightening is what every one of them is about.
type tightening struct {
	step  *plan.Step
	joint *plan.Joint
	f     *Fastener
	no    int // of the stage, from 0
	stage recipe.Stage
}

// tightens finds the stage a fastener is at, if it may be pulled on now.
func (s *State) tightens(m Meta, step operation.StepID, joint, letter string) (tightening, error) {
	t := tightening{}
	st, err := s.openStep(m, step)
	if err != nil {
		return t, err
	}
	if st.Verb != operation.Tighten || st.Joint != joint {
		return t, refuse(fault.BadChoice, "step", "Nothing is tightened in this step.",
			"Go to the step that tightens it.")
	}
	t.step = st
	t.joint = s.Plan.Joint(joint)
	if t.f, err = s.touch(m, FastenerID{joint, letter}); err != nil {
		return t, err
	}
	if t.no, err = s.stageNext(st, t.joint, t.f); err != nil {
		return t, err
	}
	if err := s.conditionMet(st, t.joint, t.no); err != nil {
		return t, err
	}
	t.stage = s.stages[joint][t.no]
	return t, s.Ready(st)
}

// pulled is the event of a tightening, judged.
func (t tightening) pulled(by pull.Evidence, r pull.Result) record.Pulled {
	_, yields := ceiling(t.joint)
	return record.Pulled{
		Step:     string(t.step.ID),
		Joint:    t.joint.ID,
		Letter:   t.f.Letter,
		Stage:    t.no,
		Evidence: string(by),
		Result:   toResult(r),
		Kept:     true,
		Blocks:   string(r.Needs(yields)),
	}
}

func (s *State) decideSetWrench(m Meta, b SetWrench) (record.Body, error) {
	t, err := s.tightens(m, b.Step, b.Joint, b.Letter)
	if err != nil {
		return nil, err
	}
	e := record.WrenchSet{Step: string(t.step.ID), Joint: b.Joint, Stage: t.no}
	if t.stage.Kind == recipe.Angle && b.ToolID == "" {
		return e, nil
	}
	if t.stage.Kind != recipe.Torque {
		return nil, refuse(fault.BadChoice, "tool", "No torque is set in this stage.", "Do what the step says.")
	}
	onTop := t.stage.PlusDrag
	if err := dragSaid(t.stage, b.DragNm); err != nil {
		return nil, err
	}
	t.stage = t.stage.WithDrag(b.DragNm)
	if err := s.canUse(m, t, b.Tool, b.Adapter); err != nil {
		return nil, err
	}
	if b.Tool.Angle() {
		return nil, refuse(fault.Tool, "tool", b.Tool.Name+" gives a trace, not a click.",
			"Take it for this fastener and pull, or take a click wrench.")
	}
	if onTop && b.SetNm == 0 {
		b.SetNm = wrench.Choose(t.stage, 0, []wrench.Tool{b.Tool}, b.Adapter, wrench.Guard, m.At)[0].SetNm
	}
	if !(b.SetNm > 0) {
		return nil, refuse(fault.BadNumber, "set", "It is not said what the wrench stands at.",
			"Read its scale, and say it.")
	}
	if onTop {
		e.DragNm = b.DragNm
		e.Letter = b.Letter
	}
	bolt := b.Adapter.AtBolt(b.SetNm, b.Tool.LengthMM)
	if err := possible(t.joint, "set", bolt); err != nil {
		return nil, err
	}
	if b.SetNm < b.Tool.Least() || b.SetNm > b.Tool.MaxNm {
		return nil, refuse(fault.OutOfRange, "set",
			fmt.Sprintf("%s measures from %s to %s: it says nothing at %s.",
				b.Tool.Name, unit.Torque(b.Tool.Least()), unit.Torque(b.Tool.MaxNm), unit.Torque(b.SetNm)),
			"Read its scale again, or take another wrench.")
	}
	e.Tool = b.Tool.ID
	e.Name = b.Tool.Name
	e.Adapter = b.Adapter.Name
	e.SetNm = b.SetNm
	e.BoltNm = bolt
	return e, nil
}

// dragSaid refuses a figure on top of a drag that nobody measured.
func dragSaid(stage recipe.Stage, nm float64) error {
	switch {
	case !stage.PlusDrag:
		return nil
	case !(nm > 0):
		return refuse(fault.Missing, "drag",
			"The figure comes on top of what this nut takes to turn, and that is not measured.",
			"Turn it on with a beam or a tracing wrench before it seats, and enter what it shows.")
	case nm > pull.MostDrag*stage.Target():
		return refuse(fault.OutOfRange, "drag", "No sound nut drags like that.", "Take it off and look at both threads.")
	}
	return nil
}

// canUse says why a tool cannot do a torque stage, as its range, drive or calibration.
func (s *State) canUse(m Meta, t tightening, tool wrench.Tool, adapter wrench.Adapter) error {
	if tool.ID == "" {
		return refuse(fault.Missing, "tool", "It is not said with which wrench.", "Choose one of the list.")
	}
	if t.stage.Kind != recipe.Torque && t.stage.Kind != recipe.Angle {
		return nil
	}
	c := s.choose(t.joint, t.stage, t.no, []wrench.Tool{tool}, adapter, wrench.Guard, m.At)[0]
	if c.Refused != "" {
		return refuse(fault.Tool, "tool", tool.Name+" cannot do this: "+c.Refused+".", "Take another wrench.")
	}
	return nil
}

// Wrenches are the shop's tools for a stage of a joint, those that will do first, the others with
// the reason.
func (s *State) Wrenches(j *plan.Joint, no int, tools []wrench.Tool, ad wrench.Adapter, now time.Time) []wrench.Choice {
	return s.choose(j, s.stages[j.ID][no], no, tools, ad, s.Plan.Aim(), now)
}

func (s *State) choose(
	j *plan.Joint,
	stage recipe.Stage,
	no int,
	tools []wrench.Tool,
	ad wrench.Adapter,
	school wrench.School,
	now time.Time,
) []wrench.Choice {
	out := wrench.Choose(stage, s.Peak(j, no), tools, ad, school, now)
	if !s.Critical(j) {
		return out
	}
	for i := range out {
		if out[i].Refused == "" && out[i].Tool.Alone {
			out[i].Refused = "one person calibrated it and nobody else saw it: not for a joint a life hangs on"
		}
	}
	slices.SortStableFunc(out, func(a, b wrench.Choice) int {
		switch {
		case (a.Refused == "") == (b.Refused == ""):
			return 0
		case a.Refused == "":
			return -1
		}
		return 1
	})
	return out
}

func (s *State) applySet(e Event, b record.WrenchSet) {
	s.Settings[e.By] = Setting{
		Joint:   b.Joint,
		Stage:   b.Stage,
		Tool:    b.Tool,
		Name:    b.Name,
		Adapter: b.Adapter,
		SetNm:   b.SetNm,
		BoltNm:  b.BoltNm,
		DragNm:  b.DragNm,
		Letter:  b.Letter,
		Seq:     e.Seq,
	}
}

// Set is what a person stated for a stage of a joint; ok is false where they stated
// something else since, or somebody else has set that wrench.
func (s *State) Set(by, joint string, stage int) (Setting, bool) {
	set, ok := s.Settings[by]
	if !ok || set.Joint != joint || set.Stage != stage {
		return Setting{}, false
	}
	for other, o := range s.Settings {
		if other != by && o.Tool == set.Tool && o.Tool != "" && o.Seq > set.Seq {
			return Setting{}, false
		}
	}
	return set, true
}

// claimed refuses a reading that did not come from the one who took the tool for this
// very fastener.
func (s *State) claimed(m Meta, t tightening, c claim.Claim, tool string) error {
	onIt := c.Job == s.ID && c.Joint == t.joint.ID && (c.Letter == t.f.Letter || c.Letter == "")
	if c.Live(m.At) && onIt && c.Tool == tool && c.By == m.By {
		return nil
	}
	return claim.Gone()
}

func (s *State) decideClick(m Meta, b Click) (record.Body, error) {
	t, err := s.tightens(m, b.Step, b.Joint, b.Letter)
	if err != nil {
		return nil, err
	}
	if t.stage.Kind != recipe.Torque {
		return nil, refuse(fault.BadChoice, "step", "Nothing clicks in this stage.", "Do what the step says.")
	}
	set, ok := s.Set(m.By, b.Joint, t.no)
	if !ok || set.Tool == "" {
		return nil, refuse(fault.Order, "set", "It is not stated what the wrench is set to.",
			"Set it, say so, then pull to the click.")
	}
	if s.claimed(m, t, b.Claim, set.Tool) != nil {
		return nil, refuse(fault.Claim, "tool",
			"The wrench is not in your hand any more: it was put down, or somebody else has set it.",
			"Set it, say so, then pull to the click.")
	}
	if t.stage.PlusDrag && set.Letter != b.Letter {
		return nil, refuse(fault.Order, "drag", "The drag was measured on another nut.",
			"Measure this one, set the wrench anew, and say both.")
	}
	r, err := pull.Hand(t.stage.WithDrag(set.DragNm), set.BoltNm)
	if err != nil {
		return nil, err
	}
	e := t.pulled(pull.Clicked, r)
	e.Tool = set.Name
	e.Adapter = set.Adapter
	e.SetNm = set.SetNm
	e.Claim = b.Claim.ID
	return e, nil
}

func (s *State) decideTrace(m Meta, b Trace) (record.Body, error) {
	t, err := s.tightens(m, b.Step, b.Joint, b.Letter)
	if err != nil {
		return nil, err
	}
	if err := s.canUse(m, t, b.Tool, b.Adapter); err != nil {
		return nil, err
	}
	if !b.Tool.Angle() {
		return nil, refuse(fault.Tool, "tool", b.Tool.Name+" has no readings to send.",
			"It gives clicks: say so on the bench.")
	}
	if err := s.claimed(m, t, b.Claim, b.Tool.ID); err != nil {
		return nil, err
	}
	if t.stage.Kind != recipe.Torque && t.stage.Kind != recipe.Angle {
		return nil, refuse(fault.BadChoice, "step", "This stage is not traced.", "Do what the step says.")
	}
	r, samples, err := s.judge(t, b)
	if err != nil {
		return nil, err
	}
	by := pull.Traced
	if b.File {
		by = pull.Stated
	}
	e := t.pulled(by, b.read(r))
	e.Tool = b.Tool.Name
	e.Adapter = b.Adapter.Name
	e.Claim = b.Claim.ID
	e.Simulated = b.Simulated
	if b.File {
		e.Note = "from a file that was brought"
	}
	for _, x := range samples {
		e.Trace = append(e.Trace, [3]float64{rounded(x.T, 1e4), rounded(x.Angle, 100), rounded(x.Torque, 100)})
	}
	return e, nil
}

// read is what a pull came to as far as its tool can read: beyond its range it says only that
// there was more, and nobody knows how much.
func (b Trace) read(r pull.Result) pull.Result {
	most := b.PeakNm
	for _, x := range b.Samples {
		most = max(most, math.Abs(x.Torque))
	}
	if most <= b.Tool.MaxNm {
		return r
	}
	says := fmt.Sprintf("%s reads to %s; this went to %s, so what the bolt has seen is not known.",
		b.Tool.Name, unit.Torque(b.Tool.MaxNm), unit.Torque(rounded(most, 10)))
	if r.Verdict != pull.Reject {
		r.Signature = pull.Unknown
		r.Verdict = pull.Redo
		r.Sure = 1
	}
	r.Reasons = append([]pull.Reason{{Message: says}}, r.Reasons...)
	return r
}

// judge judges the samples of a trace, or the two figures a tool came to.
func (s *State) judge(t tightening, b Trace) (pull.Result, []pull.Sample, error) {
	if len(b.Samples) > 0 {
		samples := slices.Clone(b.Samples)
		for i := range samples {
			samples[i].Torque = b.Adapter.AtBolt(samples[i].Torque, b.Tool.LengthMM)
		}
		ex := s.expect(t.joint, t.no)
		ex.FlexDegPerNm = b.Tool.Flex + b.Adapter.Flex
		r, err := pull.Judge([]recipe.Stage{t.stage}, samples, ex)
		return r, samples, err
	}
	reading := b.Adapter.AtBolt(b.PeakNm, b.Tool.LengthMM)
	if err := possible(t.joint, "peak_nm", reading); err != nil {
		return pull.Result{}, nil, err
	}
	if t.stage.Kind == recipe.Angle {
		r, err := pull.Hand(t.stage, b.TurnDeg)
		r.PeakNm = reading
		return r, nil, err
	}
	r, err := pull.Hand(t.stage, reading)
	r.TurnDeg = b.TurnDeg
	return r, nil, err
}

func rounded(v, k float64) float64 { return math.Round(v*k) / k }

// castleSlots is what a castle nut has where the sheet does not say (common practice).
const castleSlots = 6

func (s *State) decideTurn(m Meta, b Turn) (record.Body, error) {
	t, err := s.tightens(m, b.Step, b.Joint, b.Letter)
	if err != nil {
		return nil, err
	}
	var reading float64
	switch t.stage.Kind {
	case recipe.Angle:
		reading, err = s.turnedBy(m, t, b)
	case recipe.NextSlot:
		b.Means = BySlot
		reading, err = wrench.CastleNut(castleSlots, b.HoleDeg)
	case recipe.BackOff:
		b.Means = ByMark
		reading = t.stage.Target()
	case recipe.Snug:
		b.Means = ""
	default:
		return nil, refuse(fault.Tool, "tool", "This stage asks for a torque.", "Take a wrench that measures it.")
	}
	if err != nil {
		return nil, err
	}
	r, err := pull.Hand(t.stage, reading)
	if err != nil {
		return nil, err
	}
	band := 0.0
	if b.Means == ByPhone {
		low, high := t.stage.Window()
		if band, err = byPhone(b, low, high); err != nil {
			return nil, err
		}
		r.Reasons = append(r.Reasons, pull.Reason{Message: phoneSays(reading, band, low, high)})
	}
	e := t.pulled(pull.Marked, r)
	e.Means, e.ErrDeg = string(b.Means), band
	return e, nil
}

// byPhone is what an angle the phone counted may be off by; it is refused where that is more than the window holds.
func byPhone(b Turn, low, high float64) (float64, error) {
	band, err := b.Phone.Band()
	if err == nil && 2*band > high-low {
		err = refuse(fault.Tool, "phone", fmt.Sprintf("The phone tells this turn to ± %s°, the window is %s° to %s°.",
			unit.Number(band, 1), unit.Number(low, 1), unit.Number(high, 1)),
			"Turn by marks or a protractor.")
	}
	return band, err
}

// phoneSays is the reading with its band.
func phoneSays(deg, err, low, high float64) string {
	says := fmt.Sprintf("The phone tells it to ± %s°", unit.Number(err, 1))
	if deg >= low && deg <= high && (deg-err < low || deg+err > high) {
		says += ", which reaches past the window: look at a mark as well"
	}
	return says + "."
}

// missed is how many steps of the eye a mark that was missed is put outside the window:
// nobody measured how far.
const missed = 2

// turnedBy reads an angle that was turned by eye: by the mark it was painted to, which
// must be on before, or by the number of a protractor or a phone.
func (s *State) turnedBy(m Meta, t tightening, b Turn) (float64, error) {
	low, high := t.stage.Window()
	switch b.Means {
	case ByProtractor, ByPhone:
		if !(b.AngleDeg > 0) {
			return 0, refuse(fault.BadNumber, "angle", "It is not said how far it was turned.",
				"Read the protractor, and enter its degrees.")
		}
		return b.AngleDeg, nil
	case ByMark:
		if _, ok := s.Set(m.By, t.joint.ID, t.no); !ok {
			return 0, refuse(fault.Order, "set", "It is not stated that the marks are on.",
				"Mark head and part at the start and at the goal, say so, then turn.")
		}
		switch {
		case b.Short:
			return max(0, low-missed*angleStep), nil
		case b.Past:
			return high + missed*angleStep, nil
		}
		return t.stage.Target(), nil
	}
	return 0, refuse(fault.Missing, "means", "It is not said how the angle was read.",
		"By the mark, a protractor or the phone.")
}

// angleStep is what an eye tells apart on a mark, degrees (common practice).
const angleStep = 5

func (s *State) decideUnmeasured(m Meta, b LeaveUnmeasured) (record.Body, error) {
	t, err := s.tightens(m, b.Step, b.Joint, b.Letter)
	if err != nil {
		return nil, err
	}
	if b.Cause.Words() == "" {
		return nil, refuse(fault.Missing, "cause", "It is not said why it cannot be measured.", "Choose one of the causes.")
	}
	b.Note = trimmed(b.Note)
	if len(b.Note) > maxText {
		return nil, refuse(fault.TooLong, "note", "That note is too long.", "Keep it under 1000 characters.")
	}
	says := fmt.Sprintf("Not measured: %s. %s asked for.", b.Cause.Words(), unit.Capital(t.stage.String()))
	r := pull.Result{
		Signature: pull.Unknown,
		Verdict:   pull.Keep,
		Reasons:   []pull.Reason{{Message: says}},
		Stages:    []pull.StageResult{{Kind: t.stage.Kind, Verdict: "not measured"}},
	}
	e := t.pulled(pull.NotMeasured, r)
	e.Cause = string(b.Cause)
	e.Note = b.Note
	return e, nil
}

// Ways are the ways that do measure a stage, to be tried before it is left without a
// figure (common practice).
func Ways(stage recipe.Stage) []string {
	ways := []string{
		"the other end of the joint",
		"a slimmer socket, an extension without wobble",
		"a crow's-foot or offset ring, its setting corrected",
	}
	if stage.Kind == recipe.Angle {
		ways[2] = "a protractor on the bar, marks on head and part"
	}
	return append(ways, "the steering turned, a neighbour taken off")
}
