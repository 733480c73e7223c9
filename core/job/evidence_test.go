package job

import (
	"fmt"
	"math"
	"strings"
	"testing"
	"time"

	"lugtak/core/claim"
	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/pull"
	"lugtak/core/record"
	"lugtak/core/wrench"
)

const (
	knuckle = "hub.FL.knuckle"
	bracket = "brake.FL.bracket"
)

// tracing is a wrench that measures torque and angle.
var tracing = func() wrench.Tool {
	t := big
	t.ID = "t"
	t.Name = "tracer"
	t.Kind = "torque-angle"
	return t
}()

// traced is what that wrench read on the step's next fastener.
func (b *bench) traced(step operation.StepID, peak float64) Trace {
	joint, letter, _ := b.at(step)
	return Trace{
		Step:   step,
		Joint:  joint,
		Letter: letter,
		Tool:   tracing,
		ToolID: tracing.ID,
		Claim:  b.claims(tracing.ID, joint, letter),
		PeakNm: peak,
	}
}

func atTheBolts(t *testing.T) *bench {
	b := begin(t)
	b.step("boltout", "boltin", "bracketout", "bracketin")
	return b
}

// A click is two acts of one person: what the wrench stands at, then the click.
func TestAClickTakesTwoActs(t *testing.T) {
	b := atTheBolts(t)
	b.refused(b.turned("bolt1"), fault.Order, "not stated what the wrench is set to")
	b.must(b.set("bolt1", 0))
	b.by = "technician B"
	b.refused(b.turned("bolt1"), fault.Order, "not stated") // it was another who set it
	b.by = "technician A"
	b.must(b.turned("bolt1"))
	p := b.s.Pulls[b.s.PullOrder[0]]
	if p.Evidence != pull.Clicked || p.SetNm != 60 || p.Claim != "claim" || p.By != b.by || !p.Counts() {
		t.Errorf("%+v", p)
	}
	if at, nobody := b.s.LastTool(b.by), b.s.LastTool("technician B"); at != p.Tool || at == "" || nobody != "" {
		t.Errorf("pulled with %q last, the other with %q", at, nobody)
	}
	b.must(b.turned("bolt1")) // the setting holds for the pattern
	b.must(b.turned("bolt1"))
	if _, ok := b.s.Set(b.by, knuckle, 1); ok {
		t.Error("the setting of a stage holds for the next")
	}
	// Somebody else sets that wrench: it is no longer as it was stated.
	b.must(b.set("bracket1", 0))
	b.by = "technician B"
	b.must(b.set("bracket1", 0))
	b.by = "technician A"
	b.refused(b.turned("bracket1"), fault.Order, "not stated")
}

func TestWhatIsStatedOfAWrench(t *testing.T) {
	b := atTheBolts(t)
	other := func(change func(*SetWrench)) SetWrench {
		c := b.set("bolt1", 0)
		change(&c)
		return c
	}
	b.refused(other(func(c *SetWrench) { c.SetNm = 0 }), "bad_number", "stands at")
	b.refused(other(func(c *SetWrench) { c.SetNm = -5 }), "bad_number", "stands at")
	b.refused(other(func(c *SetWrench) { c.Tool = tracing }), fault.Tool, "gives a trace, not a click")
	b.refused(other(func(c *SetWrench) { c.ToolID = ""; c.Tool = wrench.Tool{} }), fault.Missing, "which wrench")
	b.refused(other(func(c *SetWrench) { c.Step = "soak" }), fault.BadChoice, "Nothing is tightened")
	b.refused(other(func(c *SetWrench) { c.Joint = bracket }), fault.BadChoice, "Nothing is tightened")
	b.refused(other(func(c *SetWrench) { c.Letter = "Z" }), fault.Missing, "no such fastener")
	b.step("bolt1")
	b.refused(SetWrench{Step: "bolt2", Joint: knuckle, Letter: "A", Tool: big, ToolID: big.ID, SetNm: 60},
		fault.BadChoice, "No torque is set")
}

// A figure that comes on top of a nut's drag asks for the drag of that very nut
// (common practice; ISO 2320 has a quarter of the figure at most).
func TestDragComesOnTop(t *testing.T) {
	b := atTheBolts(t)
	b.must(FitKit{Joint: knuckle, Recipe: "60 Nm + drag", Source: "leaflet of the kit"})
	state := func(letter string, drag float64) SetWrench {
		return SetWrench{Step: "bolt1", Joint: knuckle, Letter: letter, Tool: big, ToolID: big.ID, DragNm: drag}
	}
	b.refused(state("A", 0), fault.Missing, "not measured")
	b.refused(state("A", 40), "out_of_range", "No sound nut")
	b.must(state("A", 9))
	b.must(b.turned("bolt1"))
	p := b.s.Pulls[b.s.PullOrder[0]]
	if !p.Counts() || p.SetNm != 69 {
		t.Errorf("set to %v, %s", p.SetNm, p.Result.Verdict)
	}
	b.refused(b.turned("bolt1"), fault.Order, "another nut")
	_, next, _ := b.at("bolt1")
	b.must(state(next, 4))
	b.must(b.turned("bolt1"))
	if p := b.s.Pulls[b.s.PullOrder[1]]; p.SetNm != 64 || !p.Counts() {
		t.Errorf("set to %v, %s", p.SetNm, p.Result.Verdict)
	}
}

// A figure no bolt can bear is not believed, and it is asked what happened. M12x1.5
// of 10.9 twists off at some 150 N·m (ISO 898-7's formula, an estimate above M10).
func TestImpossibleFigure(t *testing.T) {
	b := atTheBolts(t)
	j := b.s.Plan.Joint(knuckle)
	limit, yields := ceiling(j)
	if limit < 120 || limit > 200 || yields < 80 || yields > limit*1.3 {
		t.Fatalf("twists off at %.0f, yields at %.0f N·m", limit, yields)
	}
	set := b.set("bolt1", 0)
	set.SetNm = limit + 1
	b.refused(set, fault.Impossible, "What happened?")
	b.refused(b.traced("bolt1", limit+1), fault.Impossible, "twists off")
	set.SetNm = limit - 1
	b.must(set)
	b.must(b.turned("bolt1"))
	if f := b.s.Fastener(knuckle, "A"); f.Blocks != pull.Renew {
		t.Errorf("a bolt beyond its yield is used again: %+v", f)
	}
	unknown := *j
	unknown.Class = ""
	if limit, yields := ceiling(&unknown); limit != 0 || yields != 0 {
		t.Errorf("of a bolt nobody knows: %v, %v", limit, yields)
	}
}

// A tool that traces gives traces only, under the claim of the one who took it.
func TestTracesNeedTheirClaim(t *testing.T) {
	b := atTheBolts(t)
	for name, change := range map[string]func(*Trace){
		"no claim":        func(c *Trace) { c.Claim = claim.Claim{} },
		"another's":       func(c *Trace) { c.Claim.By = "technician B" },
		"another tool's":  func(c *Trace) { c.Claim.Tool = big.ID },
		"another job's":   func(c *Trace) { c.Claim.Job = "k" },
		"another joint's": func(c *Trace) { c.Claim.Joint = bracket },
		"another bolt's":  func(c *Trace) { c.Claim.Letter = "B" },
		"an old one":      func(c *Trace) { c.Claim.At = c.Claim.At.Add(-claim.Lasts) },
	} {
		t.Run(name, func(t *testing.T) {
			b.t = t
			c := b.traced("bolt1", 60)
			change(&c)
			b.refused(c, fault.Claim, "not taken")
		})
	}
	b.t = t
	whole := b.traced("bolt1", 60)
	whole.Claim.Letter = "" // taken for the pattern
	whole.TurnDeg = 31
	b.must(whole)
	p := b.s.Pulls[b.s.PullOrder[0]]
	if p.Evidence != pull.Traced || p.Traced || p.Result.PeakNm != 60 || p.Result.TurnDeg != 31 || p.Simulated {
		t.Errorf("%+v", p)
	}
	click := b.traced("bolt1", 60)
	click.Tool = big
	click.Claim.Tool = big.ID
	b.refused(click, fault.Tool, "no readings")
	low := b.traced("bolt1", 40)
	low.Simulated = true
	low.File = true
	b.must(low)
	p = b.s.Pulls[b.s.PullOrder[1]]
	if p.Result.Signature != pull.Low || !p.Simulated || p.Note == "" || b.s.Fastener(knuckle, "B").Done != 0 {
		t.Errorf("%+v", p)
	}
}

// samples is a straight clean pull.
func samples(peak, slope float64) []pull.Sample {
	var out []pull.Sample
	at := func(angle, torque float64) {
		out = append(out, pull.Sample{T: float64(len(out)) / 100, Angle: angle, Torque: torque})
	}
	for range 30 {
		at(0, 0)
	}
	angle := 0.0
	for ; angle < 60; angle++ {
		at(angle, 2)
	}
	for torque := 2.0; torque < peak; torque += slope / 2 {
		angle += 0.5
		at(angle, torque)
	}
	for range 20 {
		at(angle, peak)
	}
	for torque := peak; torque > 0; torque -= 5 {
		at(angle, torque)
	}
	for range 30 {
		at(angle, 0)
	}
	return out
}

// A tool that reads its angle at the grip says with its flex what the fastener turned:
// 0.06° for each N·m are 9° at 150 N·m (a spring, textbook). Two springs in a row add up.
func TestWindUpIsTakenOff(t *testing.T) {
	const flex = 0.06
	for _, split := range []struct {
		tool, adapter float64
		known         bool
	}{{flex, 0, true}, {flex / 3, 2 * flex / 3, true}, {0, flex, true}, {0, 0, false}} {
		known := split.known
		b := atTheBolts(t)
		b.step("bolt1")
		c := b.traced("bolt2", 0)
		c.Tool.Flex, c.Adapter.Flex = split.tool, split.adapter
		at := func(angle, torque float64) {
			c.Samples = append(c.Samples,
				pull.Sample{T: float64(len(c.Samples)) / 100, Angle: angle + flex*torque, Torque: torque})
		}
		for range 30 {
			at(0, 0)
		}
		for torque := 0.0; torque < 60; torque += 3 {
			at(0, torque)
		}
		for angle := 0.0; angle <= 90; angle++ {
			at(angle, 60+angle)
		}
		for range 20 { // and the recording ends while it is held
			at(90, 150)
		}
		b.must(c)
		p := b.s.Pulls[b.s.PullOrder[len(b.s.PullOrder)-1]]
		if known != p.Counts() {
			t.Errorf("flex %+v: %s, %.1f°", split, p.Result.Signature, p.Result.Stages[0].AngleDeg)
		}
	}
}

func TestSamplesAreJudgedAndKept(t *testing.T) {
	b := atTheBolts(t)
	c := b.traced("bolt1", 0)
	c.Samples = samples(60, b.s.Plan.Joint(knuckle).Slope())
	b.must(c)
	e := b.journal[len(b.journal)-1]
	p := b.s.Pulls[string(e.ID)]
	if !p.Traced || !p.Counts() || p.Result.PeakNm < 59 || p.Result.PeakNm > 61 {
		t.Errorf("%+v", p)
	}
	kept := e.Body.(record.Pulled).Trace
	for i, x := range c.Samples {
		for k, want := range []float64{x.T, x.Angle, x.Torque} {
			step := []float64{1e-4, 0.01, 0.01}[k] // what stands in a journal, no finer
			off := kept[i][k] / step
			if math.Abs(kept[i][k]-want) > step/2+1e-9 || math.Abs(off-math.Round(off)) > 1e-6 {
				t.Fatalf("sample %d: %v kept as %v", i, x, kept[i])
			}
		}
	}
	if got := b.s.expect(b.s.Plan.Joint(knuckle), 0).Siblings; len(got) != 1 || got[0].Peak != p.Result.PeakNm {
		t.Errorf("siblings %+v", got)
	}
	if ex := b.s.expect(b.s.Plan.Joint(knuckle), 0); ex.SlopeLow <= 0 || ex.SlopeHigh <= ex.SlopeLow || ex.Repeat {
		t.Errorf("%+v", ex)
	}
	if ex := b.s.expect(b.s.Plan.Joint("hub.FL.wheel"), 1); !ex.Repeat || ex.SlopeLow != 0 {
		t.Errorf("a second round: %+v", ex)
	}
	for _, x := range e.Body.(record.Pulled).Trace {
		if x[0] != math.Round(x[0]*1e4)/1e4 || x[2] != math.Round(x[2]*100)/100 {
			t.Fatalf("kept finer than any tool reads: %v", x)
		}
	}
	if n := len(e.Body.(record.Pulled).Trace); n != len(c.Samples) {
		t.Errorf("%d of %d samples kept", n, len(c.Samples))
	}
	through := b.traced("bolt1", 0)
	through.Adapter = wrench.Adapter{Name: "foot", LengthMM: 50}
	through.Tool.MaxNm = 250
	through.Samples = samples(60, 2)
	b.must(through) // 60 on the wrench arrive as 66
	if p := b.s.Pulls[b.s.PullOrder[1]]; p.Result.PeakNm < 65 || p.Result.Signature == pull.Good {
		t.Errorf("%+v", p.Result)
	}
}

// An angle is traced as a torque is; a back-off is not.
func TestStagesThatAreTraced(t *testing.T) {
	b := atTheBolts(t)
	b.step("bolt1")
	c := b.traced("bolt2", 110)
	c.TurnDeg = 90
	b.must(c)
	f := b.s.Fastener(knuckle, "A")
	if p := b.s.Pulls[b.s.PullOrder[3]]; f.Done != 2 || p.Result.PeakNm != 110 || p.Evidence != pull.Traced {
		t.Errorf("%+v %+v", f, p.Result)
	}
	b.step("crack", "raise", "off", "nutcrack", "nutout", "nutin", "hold")
	b.tighten("nut1", 0)
	b.refused(b.traced("nut1", 10), fault.BadChoice, "not traced")
}

// A rejected pull blocks until slackened, one that hurt the hardware until renewed; one
// that fell short may be pulled on.
func TestRejectedPullsBlock(t *testing.T) {
	for _, c := range []struct {
		off    float64
		blocks pull.Needs
	}{
		{-0.2, pull.Nothing},
		{0, pull.Nothing},
		{0.3, pull.Slacken},
		{1.2, pull.Renew},
	} {
		b := atTheBolts(t)
		b.tighten("bolt1", c.off)
		f := b.s.Fastener(knuckle, "A")
		if f.Blocks != c.blocks {
			t.Errorf("%+.1f: %q, want %q", c.off, f.Blocks, c.blocks)
		}
		again := SetWrench{Step: "bolt1", Joint: knuckle, Letter: "A", Tool: big, ToolID: big.ID, SetNm: 60}
		renew := Slacken{Joint: knuckle, Letter: "A", Renewed: true, Reason: "set too high"}
		old := Slacken{Joint: knuckle, Letter: "A", Reason: "set too high"}
		switch c.blocks {
		case pull.Slacken:
			b.refused(again, fault.Blocked, "Slacken it first")
			b.must(old)
			b.must(again)
		case pull.Renew:
			b.refused(again, fault.Blocked, "hurt knuckle bolt A")
			b.refused(old, fault.Blocked, "new hardware goes in")
			b.must(renew)
			b.must(again)
		}
	}
	b := atTheBolts(t)
	b.tighten("bolt1", 0.3)
	id := b.s.PullOrder[0]
	b.must(StrikePull{Pull: id, Reason: "never happened"})
	if f := b.s.Fastener(knuckle, "A"); f.Blocks != pull.Slacken {
		t.Error("striking a rejected pull takes the block away")
	}
	b.refused(Slacken{Joint: knuckle, Letter: "A"}, fault.Missing, "few words")
	b.refused(Slacken{Joint: "hub.FL.wheel", Letter: "1", Reason: "x"}, fault.Order, "not touched")
	if _, ok := b.s.Set(b.by, knuckle, 0); ok {
		t.Error("after a rejected click the setting is believed")
	}
}

// An angle by eye needs both marks on, or the number of an instrument.
func TestAnglesByEye(t *testing.T) {
	b := atTheBolts(t)
	b.step("bolt1")
	turn := Turn{Step: "bolt2", Joint: knuckle, Letter: "A"}
	with := func(change func(*Turn)) Turn {
		c := turn
		change(&c)
		return c
	}
	b.refused(turn, fault.Missing, "how the angle was read")
	b.refused(with(func(c *Turn) { c.Means = ByMark }), fault.Order, "marks are on")
	b.refused(with(func(c *Turn) { c.Means = ByProtractor }), "bad_number", "how far")
	b.must(b.set("bolt2", 0))
	b.must(with(func(c *Turn) { c.Means = ByMark; c.Short = true }))
	if f := b.s.Fastener(knuckle, "A"); f.Done != 1 || f.Blocks != pull.Nothing {
		t.Errorf("short of the mark: %+v", f)
	}
	b.refused(with(func(c *Turn) { c.Means = ByMark }), fault.Order, "marks are on") // looked at again
	phone := func(deg, seconds float64, grips int) Turn {
		return with(func(c *Turn) {
			c.Means, c.AngleDeg, c.Phone = ByPhone, deg, wrench.PhoneTurn{Seconds: seconds, Grips: grips}
		})
	}
	b.refused(phone(91, 0, 0), fault.Missing, "how well the phone tells")
	b.refused(phone(91, 9, 4), fault.Tool, "± 5.5°, the window is 85° to 95°") // wider than the window
	b.must(phone(91, 9, 1))
	if p := b.s.Pulls[b.s.PullOrder[len(b.s.PullOrder)-1]]; p.ErrDeg != 2.5 || p.Means != ByPhone ||
		p.Result.Reasons[len(p.Result.Reasons)-1].Message != "The phone tells it to ± 2.5°." {
		t.Errorf("%+v", p)
	}
	if says := phoneSays(91, 5, 85, 95); !strings.Contains(says, "reaches past the window") {
		t.Errorf("%s", says)
	}
	if f := b.s.Fastener(knuckle, "A"); f.Done != 2 || f.Evidence != pull.Marked || f.Sign() != Turned {
		t.Errorf("%+v", f)
	}
	turn.Letter = "B"
	b.must(b.set("bolt2", 0))
	b.must(with(func(c *Turn) { c.Means = ByMark; c.Past = true }))
	if f := b.s.Fastener(knuckle, "B"); f.Blocks != pull.Renew || f.Done != 1 {
		t.Errorf("past the mark: %+v", f)
	}
	if p := b.s.Pulls[b.s.PullOrder[len(b.s.PullOrder)-1]]; p.Result.Signature != pull.AngleLong || p.Means != ByMark {
		t.Errorf("%+v", p)
	}
	turn.Step = "bracket1"
	turn.Joint = bracket
	turn.Letter = "A"
	b.refused(with(func(c *Turn) { c.Means = ByMark }), fault.Tool, "asks for a torque")
}

// A castle nut goes on to its slot by where the hole stands: 25° past a slot of sixty
// leaves 25° to the next (wrench.CastleNut).
func TestSlotBackOffAndHand(t *testing.T) {
	b := begin(t)
	b.step("crack", "raise", "off", "nutcrack", "nutout", "nutin", "hold")
	axle := "hub.FL.axle"
	b.tighten("nut1", 0)
	b.must(Turn{Step: "nut1", Joint: axle, Letter: "A"})
	if p := b.s.Pulls[b.s.PullOrder[1]]; p.Evidence != pull.Marked || p.Means != ByMark ||
		b.s.Fastener(axle, "A").Done != 2 {
		t.Errorf("backed off: %+v", p)
	}
	b.tighten("nut1", 0)
	b.tighten("nut1", 0)
	if f := b.s.Fastener(axle, "A"); f.Evidence != pull.Marked || f.Owed() {
		t.Errorf("clicked and marked: %+v", f)
	}
	plan := small(t)
	plan.Joint(axle).Recipe = "snug; 90 Nm; next slot"
	c := &bench{t: t, s: Replay(nil), by: "technician A"}
	c.must(Start{Job: "j", Complaint: "hum", Plan: plan})
	c.step("crack", "raise", "off", "nutcrack", "nutout", "nutin", "hold")
	c.must(Turn{Step: "nut1", Joint: axle, Letter: "A", Means: ByPhone})
	if p := c.s.Pulls[c.s.PullOrder[0]]; p.Means != "" || p.Evidence != pull.Marked {
		t.Errorf("snug by hand: %+v", p)
	}
	c.tighten("nut1", 0)
	c.must(Turn{Step: "nut1", Joint: axle, Letter: "A", HoleDeg: 25})
	p := c.s.Pulls[c.s.PullOrder[2]]
	if p.Means != BySlot || p.Result.Stages[0].AngleDeg != 25 || c.s.Fastener(axle, "A").Owed() {
		t.Errorf("%+v", p)
	}
}

// What cannot be measured is left so by name and cause, shows so for ever, and is owed
// a look.
func TestLeftNotMeasured(t *testing.T) {
	b := atTheBolts(t)
	leave := LeaveUnmeasured{Step: "bracket1", Joint: bracket, Letter: "A"}
	b.refused(leave, fault.Missing, "not said why")
	leave.Cause = "laziness"
	b.refused(leave, fault.Missing, "not said why")
	leave.Cause = NoRoom
	leave.Note = strings.Repeat("x", maxText+1)
	b.refused(leave, fault.TooLong, "too long")
	leave.Note = strings.Repeat("x", maxText)
	if _, err := Decide(b.s, b.meta(), leave); err != nil {
		t.Errorf("a note as long as may be: %v", err)
	}
	leave.Note = " behind the strut "
	b.must(leave)
	f := b.s.Fastener(bracket, "A")
	if f.Owed() || f.Sign() != Unmeasured || !f.LeftUnmeasured() ||
		f.Says() != "not measured: no room for a torque wrench" {
		t.Errorf("%+v", f)
	}
	if p := b.s.Pulls[b.s.PullOrder[0]]; p.Note != "behind the strut" || p.Cause != NoRoom ||
		p.Result.Signature != pull.Unknown {
		t.Errorf("%+v", p)
	}
	for i, j := range b.s.Plan.Joints {
		if j.ID == bracket && b.s.Unchecked(&b.s.Plan.Joints[i], f) {
			t.Error("what has no control at all is called control without check")
		}
	}
	b.must(Slacken{Joint: bracket, Letter: "A", Reason: "room was made", Renewed: true})
	b.step("bracket1")
	if f := b.s.Fastener(bracket, "A"); f.Sign() != Clicked || f.LeftUnmeasured() || f.Cause != "" {
		t.Errorf("measured after all: %+v", f)
	}
	if len(Ways(b.s.Stages(knuckle)[0])) != 4 || Ways(b.s.Stages(knuckle)[1])[2] == Ways(b.s.Stages(knuckle)[0])[2] {
		t.Error("the ways that measure do not follow the stage")
	}
	if !strings.Contains(Ways(b.s.Stages(knuckle)[1])[2], "protractor") {
		t.Error("an angle is not measured with a crow's-foot")
	}
	for _, c := range Causes() {
		if c.Words() == "" {
			t.Errorf("%s has no words", c)
		}
	}
}

// A bolt left not measured in one stage is as weak as that whatever follows.
func TestEvidenceIsTheWeakest(t *testing.T) {
	b := atTheBolts(t)
	b.must(LeaveUnmeasured{Step: "bolt1", Joint: knuckle, Letter: "A", Cause: SpinningStud})
	b.tighten("bolt1", 0)
	b.must(b.traced("bolt1", 60))
	b.step("bolt2")
	for letter, want := range map[string]pull.Evidence{"A": pull.NotMeasured, "B": pull.Marked, "C": pull.Marked} {
		if f := b.s.Fastener(knuckle, letter); f.Evidence != want || f.Done != 2 {
			t.Errorf("%s: %s", letter, f.Evidence)
		}
	}
	b.must(b.traced("bracket1", 115))
	if f := b.s.Fastener(bracket, "A"); f.Evidence != pull.Traced || f.Sign() != Proved || f.Says() != "proved, traced" {
		t.Errorf("%+v", f)
	}
}

// A second tap keeps nothing; pace no hand has is told.
func TestPace(t *testing.T) {
	b := begin(t)
	at := morning.Add(time.Hour)
	do := func(by string, after time.Duration, c Command) error {
		b.n++
		at = at.Add(after)
		m := Meta{ID: record.EventID(fmt.Sprint("p", b.n)), By: by, Role: Technician, At: at}
		return b.do(m, c)
	}
	if err := do("a", 0, Handle{Step: "crack"}); err != nil {
		t.Fatal(err)
	}
	if f := fault.As(do("a", guard-time.Millisecond, KeepStep{Step: "raise"})); f == nil || f.Code != fault.TooQuick {
		t.Errorf("a second tap: %v", f)
	}
	at = at.Add(-guard + time.Millisecond)
	if err := do("b", time.Millisecond, KeepStep{Step: "raise"}); err != nil {
		t.Errorf("another pair of hands: %v", err)
	}
	if err := do("a", guard, Handle{Step: "off"}); err != nil {
		t.Errorf("after the guard: %v", err)
	}
	if err := do("a", 0, Find{Text: "a remark is no act of the hands"}); err != nil {
		t.Error(err)
	}
	if n := len(b.s.Hasty); n != 1 || b.s.Hasty[0].Step != "off" || b.s.Hasty[0].By != "a" ||
		b.s.Hasty[0].Took > time.Second {
		t.Errorf("%+v", b.s.Hasty)
	}
	// A minute's step takes five seconds at the least.
	if err := do("a", 5*time.Second, Handle{Step: "nutcrack"}); err != nil || len(b.s.Hasty) != 1 {
		t.Errorf("%v, %+v", err, b.s.Hasty)
	}
	if err := do("a", 4*time.Second, KeepStep{Step: "soak"}); err != nil || len(b.s.Hasty) != 1 {
		t.Errorf("a soak needs no hands: %v, %+v", err, b.s.Hasty)
	}
	if err := do("a", 4*time.Second, Handle{Step: "nutout"}); err != nil || len(b.s.Hasty) != 2 {
		t.Errorf("%v, %+v", err, b.s.Hasty)
	}
}

// New hardware is confirmed piece by piece.
func TestNewHardwareSingly(t *testing.T) {
	b := begin(t)
	b.step("boltout")
	b.refused(Handle{Step: "boltin", Renewed: true}, fault.Gate, "piece by piece")
	b.refused(Handle{Step: "boltin", Letters: []string{"A"}}, fault.Gate, "new ones go in")
	b.must(Handle{Step: "boltin", Letters: []string{"A"}, Renewed: true})
	if !b.s.Fastener(knuckle, "A").Renewed || b.s.Fastener(knuckle, "B").Renewed {
		t.Error("renewed by the bunch")
	}
	b.step("bracketout")
	b.must(Handle{Step: "bracketin"}) // the bracket bolt is used again
	if b.s.Fastener(bracket, "A").Renewed {
		t.Error("an old bolt counts as new")
	}
}

// A pull speaks of its fastener until it is struck or the fastener is begun anew.
func TestAPullStands(t *testing.T) {
	b := begin(t)
	b.step("crack", "raise", "off", "nutcrack", "nutout", "boltout", "bracketout", "soak", "boltin")
	stands := func(want bool) {
		t.Helper()
		if p := b.s.Pulls[b.s.PullOrder[0]]; b.s.Stands(p) != want {
			t.Errorf("the pull on %s stands: %v", p.Fastener, !want)
		}
	}
	b.tighten("bolt1", 0)
	stands(true)
	was := b.s.stages["hub.FL.knuckle"]
	b.s.stages["hub.FL.knuckle"] = nil // its recipe lost the stage
	stands(false)
	b.s.stages["hub.FL.knuckle"] = was
	b.must(Slacken{Joint: "hub.FL.knuckle", Letter: "A", Reason: "to see its washer", Renewed: true})
	stands(false)
}
