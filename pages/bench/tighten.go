package bench

import (
	"encoding/json"
	"fmt"
	"html/template"
	"lugtak/core/claim"
	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/plan"
	"lugtak/core/pull"
	"lugtak/core/recipe"
	"lugtak/core/unit"
	"lugtak/core/wrench"
	"lugtak/draw"
	"lugtak/library"
	"lugtak/pages/kit"
	"math"
	"slices"
)

// How a stage is recorded: what the bench asks for.
const (
	wayTrace = "trace" // a tool that traces is taken, and pulled
	wayClick = "click" // a wrench is set, then clicks
	wayMark  = "mark"  // marks are put on, then turned to
	waySlot  = "slot"  // it is shown where the hole stands
	wayHand  = "hand"  // by hand, backed off
)

// pulled is what a tightening step shows of the stage at hand.
type pulled struct {
	Stage     recipe.Stage
	No, Of    int
	Mode      string // torque, angle, back_off, slot, snug
	Way       string
	Tool      wrench.Choice
	Tools     []wrench.Choice
	Big, Unit string
	AtBolt    string
	Other     string
	NextWords string
	Effort    string // at the end of the wrench, where one hand does not do
	Window    string
	Plot      draw.Plot
	Last      *job.Pull
	LastBad   bool
	Blocks    pull.Needs // what must come before the next pull
	Siblings  string
	FirstFt   bool    // the shop reads ft·lb first
	PerNm     float64 // of the live figure's unit in an N·m
	Goal      float64 // at which the live figure sounds: N·m or degrees at the tool
	Adapters  []wrench.Adapter
	Adapter   wrench.Adapter
	Low, High float64
	Target    float64
	SetNm     float64 // what is asked to be set
	Stated    bool    // this person has stated it
	Set       job.Setting
	Claim     claim.Claim // on this fastener
	Mine      bool        // of this session
	Theirs    string      // who else has it in hand
	Check     string      // what a click lacks here
	Round     []string    // what a round still lacks, where it is said of all at once
	Rest      bool        // others of it were said before
	Opens     float64     // seconds until hands can have done it
	Holes     []draw.Hole
	Castle    template.HTML
	Ways      []string // that measure, before it is left unmeasured
	Simulated bool     // what is connected is played
	Connected bool
}

// tighten is fasteners that are tightened.
type tighten struct {
	Pull       *pulled
	Variants   []kit.Variant   // which hardware is it?
	Unmeasured []*job.Fastener // of the step, left without a figure
	Struck     *job.Figure     // of the joint, struck on its sheet and not answered yet
	Wrong      bool            // the figure may be said to be wrong here
	ByTwo      bool            // and is read by two people
	Asked      *kit.Asked      // its figure is read before the first pull
}

// tightening fills in what a tightening step shows.
func (v *View) tightening(x Shown) {
	st, j := v.Job, v.Joint
	t := &tighten{Struck: st.StruckFigure(j.ID)}
	v.Tighten = t
	for _, l := range j.Letters {
		f := st.Fastener(j.ID, l)
		here := func(id string) bool { return st.Pulls[id].Step == v.Step.ID }
		if f.LeftUnmeasured() && slices.ContainsFunc(f.Pulls, here) {
			t.Unmeasured = append(t.Unmeasured, f)
		}
	}
	if v.Letter == "" || v.Kept {
		return
	}
	if st.AsksVariant(j) {
		t.Variants = kit.Variants(j)
		return
	}
	if a := kit.AskedOf(st, j, x.Person, x.Alone, x.LastRead, x.Elsewhere); a != nil && st.AsksFigure(j) {
		t.Asked = a
		return
	}
	t.mayBeWrong(v, x.Library)
	t.Pull = v.pulling(x)
}

// mayBeWrong fills in what is asked where somebody says that a figure is wrong: it is the sheet's, not one of
// this job alone.
func (t *tighten) mayBeWrong(v *View, lib *library.Library) {
	_, kit := v.Job.Kits[v.Joint.ID]
	_, treated := v.Job.Treated[v.Joint.ID]
	t.Wrong = !kit && !treated && t.Struck == nil
	t.ByTwo = lib.ByTwo(v.Joint.Sheet)
}

// pulling is the stage at hand; nil where none is left.
func (v *View) pulling(x Shown) *pulled {
	st, j, f := v.Job, v.Joint, v.Job.Fastener(v.Joint.ID, v.Letter)
	stages := st.Stages(j.ID)
	if f.Done >= len(stages) {
		return nil
	}
	if v.Refusal == nil {
		v.Refusal = fault.As(st.CanPull(v.Step, v.Letter))
	}
	p := &pulled{Stage: stages[f.Done], No: f.Done + 1, Of: len(stages), Adapters: x.Library.Adapters}
	p.Low, p.High = p.Stage.Window()
	p.Target = p.Stage.Target()
	p.Adapter, _ = x.Library.Adapter(x.Adapt)
	p.Tools = st.Wrenches(j, f.Done, x.Tools, p.Adapter, x.Now)
	p.choose(x, v)
	if f.Done+1 < len(stages) {
		p.NextWords = "then " + stages[f.Done+1].Short()
		if j.AfterDrive && f.Done+2 == len(stages) {
			p.NextWords = "once more after the drive"
		}
	}
	p.words(x.Unit)
	p.Effort = p.pulls(v)
	p.Last = st.Pending(f)
	p.LastBad = p.Last != nil && p.Last.Result.Verdict != pull.Keep
	p.Blocks = f.Blocks
	p.evidence(x, v)
	p.sibling(st, j, f)
	p.plot(x, v)
	return p
}

// PhoneCan says that the stage may be turned by the phone on the bar.
func (p *pulled) PhoneCan() bool {
	low, high := p.Stage.Window()
	return p.Way == wayMark && wrench.PhoneCan(low, high)
}

// PhoneTells is what the page's gauge says of its own sureness by; the job reckons it again.
func (p *pulled) PhoneTells() (string, error) {
	b, err := json.Marshal(wrench.PhoneTells())
	return string(b), err
}

// remember takes the tool somebody pulled with last, or where that one cannot do it the best that works alike.
func (p *pulled) remember(x Shown, last string) {
	i := slices.IndexFunc(x.Tools, func(t wrench.Tool) bool { return t.Name == last })
	if i < 0 {
		return
	}
	for _, same := range []func(wrench.Choice) bool{
		func(c wrench.Choice) bool { return c.Tool.Name == last },
		func(c wrench.Choice) bool { return c.Tool.Angle() == x.Tools[i].Angle() },
	} {
		for _, t := range p.Tools {
			if t.Refused == "" && same(t) {
				p.Tool = t
				return
			}
		}
	}
}

// choose takes the wrench that is chosen, else the one in hand, else such a one as was pulled with last, else the
// best. What cannot do the stage does not stay in hand.
func (p *pulled) choose(x Shown, v *View) {
	p.Tool = wrench.Choice{Refused: "the crib is empty"}
	if len(p.Tools) > 0 {
		p.Tool = p.Tools[0]
	}
	p.remember(x, v.Job.LastTool(x.Person))
	if x.Ahead != nil { // a wrench that reports needs the network
		for _, t := range p.Tools {
			if t.Clicks() {
				p.Tool = t
				break
			}
		}
	}
	hand := x.InHand
	k, taken := x.Holds(v.Joint.ID, v.Letter)
	if hand == "" && x.Tool == "" && taken && k.Session == x.Session {
		hand = k.Tool
	}
	for _, t := range p.Tools {
		if t.Tool.ID == x.Tool || t.Tool.ID == hand && t.Refused == "" {
			p.Tool = t
		}
	}
}

// evidence is what this person has stated of the stage, and who has which tool on it.
func (p *pulled) evidence(x Shown, v *View) {
	st := v.Job
	stage := st.Fastener(v.Joint.ID, v.Letter).Done
	p.Way = p.way()
	p.Claim, _ = x.Holds(v.Joint.ID, v.Letter)
	if x.Ahead != nil {
		p.Claim = *x.Ahead
	}
	p.Mine = p.Claim.ID != "" && p.Claim.Session == x.Session && p.Claim.Tool == p.Tool.Tool.ID
	if p.Claim.ID != "" && p.Claim.Session != x.Session {
		p.Theirs = p.Claim.By + " has " + wrench.NameOf(x.Tools, p.Claim.Tool) + " on it"
	}
	p.Set, p.Stated = st.Set(x.Person, v.Joint.ID, stage)
	if p.Stage.PlusDrag { // each nut drags as it does
		p.Stated = p.Stated && p.Set.Letter == v.Letter
	}
	switch p.Way {
	case wayClick:
		p.Stated = p.Stated && p.Set.Tool == p.Tool.Tool.ID && p.Mine
		if left := st.Round(v.Step); p.Stated && len(left) > 1 && !v.One && !x.Each {
			p.Rest = len(left) < len(v.Joint.Letters)
			now := x.Now
			if x.Ahead != nil { // the round begins when this page comes up
				now = st.Last
			}
			p.Round, p.Opens = left, max(0, st.RoundTaken(x.Person, len(left)).Sub(now).Seconds())
		}
		if st.Critical(v.Joint) && p.Stage.HasFigure() {
			p.Check = "A click alone is control without check here; a tool that traces gives both."
		}
	case wayMark:
		p.Stated = p.Stated && p.Set.Tool == ""
	case waySlot:
		p.Holes, p.Castle = draw.Holes(), draw.Castle()
	}
	if v.Panel == "unmeasured" {
		p.Ways = job.Ways(p.Stage)
	}
	if x.Devices != nil && p.Way == wayTrace {
		p.Connected = x.Devices.Wrench(p.Tool.Tool.ID) != nil
		p.Simulated = x.Devices.Simulated()
	}
}

// way is how the stage is recorded with the tool that is chosen.
func (p *pulled) way() string {
	traces := p.Tool.Tool.Angle() && p.Tool.Refused == ""
	switch {
	case traces && (p.Mode == "torque" || p.Mode == "angle"):
		return wayTrace
	case p.Mode == "torque":
		return wayClick
	case p.Mode == "angle":
		return wayMark
	case p.Mode == "slot":
		return waySlot
	}
	return wayHand
}

// sibling says how the one before went.
func (p *pulled) sibling(st *job.State, j *plan.Joint, f *job.Fastener) {
	for _, l := range j.Letters {
		o := st.Fastener(j.ID, l)
		if l == f.Letter || o.Done <= f.Done || len(o.Pulls) == 0 {
			continue
		}
		r := st.Pulls[o.Pulls[len(o.Pulls)-1]]
		if r.Stage == f.Done && p.Mode == "torque" && r.Result.PeakNm > 0 {
			how := map[bool]string{true: "clicked at", false: "stands at"}[r.SetAtBoltNm() > 0]
			p.Siblings = fmt.Sprintf("%s %s %s %s.", unit.Capital(j.One), l, how, unit.Torque(r.Result.PeakNm))
		}
	}
}

// words are the figures as the bench shows them: the shop's first unit large.
func (p *pulled) words(first string) {
	switch p.Stage.Kind {
	case recipe.Torque:
		set := p.Tool.SetNm
		if p.Tool.Refused != "" || set == 0 {
			set = p.Target
		}
		p.Mode, p.Big, p.Unit = "torque", unit.Number(set, 1), "N·m"
		if math.Abs(p.Tool.AtBoltNm-set) > 0.05 && p.Tool.AtBoltNm > 0 {
			p.AtBolt = unit.Torque(math.Round(p.Tool.AtBoltNm*10)/10).Both() + " at the bolt"
		}
		p.Other = unit.Torque(set).FtLbString()
		if first == "ft-lb" {
			p.Big, p.Unit, p.Other = unit.Number(unit.Torque(set).FtLb(), 1), "ft·lb", unit.Torque(set).String()
		}
		if p.AtBolt != "" { // two figures stand here: whose each is must be read with it
			p.Other += " on the wrench"
		}
		p.Window = fmt.Sprintf("%s–%s", unit.Number(p.Low, 1), unit.Torque(p.High))
		p.SetNm, p.Goal, p.PerNm = set, set, 1
		p.FirstFt = first == "ft-lb"
		if p.FirstFt {
			p.PerNm = unit.Torque(1).FtLb()
		}
	case recipe.Angle:
		p.Mode, p.Big, p.Unit = "angle", unit.Number(p.Target, 0), "°"
		p.AtBolt, p.Other = "turn on from the mark", fmt.Sprintf("%s flats", unit.Number(p.Target/60, 2))
		p.Goal = p.Target
		p.Window = fmt.Sprintf("%s°–%s°", unit.Number(p.Low, 0), unit.Number(p.High, 0))
	case recipe.BackOff:
		p.Mode, p.Big = "back_off", "back off"
		p.AtBolt = "fully, until it turns freely"
		if !p.Stage.Full {
			p.AtBolt = "by " + unit.Number(p.Target, 0) + "°"
		}
	case recipe.NextSlot:
		p.Mode, p.Big = "slot", "next slot"
		p.AtBolt, p.Window = "onward only, 60° at the most", "with six slots"
	default:
		p.Mode, p.Big = "snug", p.Stage.Word
	}
}

// plot draws what the tool read, or the frame it will be drawn in.
func (p *pulled) plot(x Shown, v *View) {
	var samples [][3]float64
	if p.Last != nil && p.Last.Traced {
		samples = x.Trace(p.Last.ID)
	}
	if p.Way == wayTrace || len(samples) > 0 {
		beside, _ := v.siblingOf(v.Letter, p.No-1, math.MaxInt)
		p.Plot = draw.Trace(samples, x.curve(beside), p.Low, p.High, p.Target, p.Mode == "torque")
		if beside != nil {
			p.Plot.BesideText = besideSays(beside)
		}
	}
}
