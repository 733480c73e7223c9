package web

import (
	"cmp"
	"fmt"
	"html/template"
	"math"
	"slices"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/claim"
	"lugtak/core/fault"
	"lugtak/core/inspect"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/pull"
	"lugtak/core/recipe"
	"lugtak/core/unit"
	"lugtak/core/wrench"
	"lugtak/draw"
	"lugtak/web/kit"
)

// benchView is one step and all that stands around it.
type benchView struct {
	Match bool // the step holds a new part against the old

	LayBeside bool // and that is still to be measured
	Measures  []measureView
	Lacks     *fault.Fault // what is still to be measured
	OverLimit bool         // something measured is not inside its limit: a word on it is wanted
	Job       *job.State
	ahead     *claim.Claim // drawn ahead of its acts: the tool in hand, none of its own; nil on a live bench
	Step      *plan.Step
	No        int
	Done      int
	Owed      int
	Tally     []tallyGroup
	Picture   draw.CornerPicture
	Act       template.HTML // the close-up of a step that acts on no fastener
	Stack     []string      // what lies on the fastener, from its head
	Healed    *healedView
	Fluid     *job.Booked // what was written down here last
	Strokes   bool        // the pedal's are counted here
	Oil       bool        // its level is read at a temperature

	Manoeuvres []manoeuvre // of the road test
	Handed     *job.Handed // in whose hand the step is
	Others     []string    // to whom it may be handed over
	Soaks      []soakView
	Chain      []chainView
	Joint      *plan.Joint
	Letter     string
	One        bool // the letter was chosen: the keys act on it alone
	Left       []string
	NewOnes    bool         // new hardware goes in, confirmed piece by piece
	New        string       // what the new one is
	Refusal    *fault.Fault // why the step cannot be done now
	Troubles   []job.Trouble
	SoakLeft   time.Duration
	Pull       *pullView
	Variants   []variantView   // which hardware is it?
	Kept       bool            // the step shown is done
	Again      bool            // and is kept once more: something was done over
	Unmeasured []*job.Fastener // of the step, left without a figure
	Struck     *job.Figure     // of the joint, struck on its sheet and not answered yet
	Wrong      bool            // the figure may be said to be wrong here
	ByTwo      bool            // and is read by two people
	AsItStands plan.Position   // it asks for, and can no more be brought to
	Unheld     []string        // what a fastener that broke off was to hold here
	Fault      *fault.Fault
	Typed      map[string]string
	Panel      string // trouble panel open
}

type tallyGroup struct {
	Title string
	Step  operation.StepID
	Signs []tallySign
}

type tallySign struct {
	draw.Sign
	Letter, Name string
	Here         bool
}

type soakView struct {
	Title      string
	Left       time.Duration
	Start, End time.Time
	Percent    float64
}

type chainView struct {
	ID         operation.StepID
	Title, Sub string
}

// How a stage is recorded: what the bench asks for.
const (
	wayTrace = "trace" // a tool that traces is taken, and pulled
	wayClick = "click" // a wrench is set, then clicks
	wayMark  = "mark"  // marks are put on, then turned to
	waySlot  = "slot"  // it is shown where the hole stands
	wayHand  = "hand"  // by hand, backed off
)

// pullView is what a tightening step shows of the stage at hand.
type pullView struct {
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
	Window    string
	Plot      draw.Plot
	Last      *job.Pull
	LastBad   bool
	Blocks    pull.Needs // what must come before the next pull
	Siblings  string
	FirstFt   bool // the shop reads ft·lb first
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
	Holes     []draw.Hole
	Castle    template.HTML
	Ways      []string // that measure, before it is left unmeasured
	Simulated bool     // what is connected is played
	Connected bool
}

func (s *Server) bench(c fiber.Ctx) error { return s.showBench(c, 200, nil, nil) }

// benchKey is all that a bench page without a fault depends on.
type benchKey struct {
	job, session, step, letter, tool, adapter, panel string
	seq, claims                                      int
	partial, healed                                  bool
}

func (s *Server) showBench(c fiber.Ctx, code int, f *fault.Fault, typed map[string]string) error {
	st, err := s.Shop.Job(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	if !st.HasPlan() {
		return c.Redirect().To("/jobs/" + st.ID + "/walk")
	}
	fill := func() (laid, error) {
		v := &benchView{Job: st, Fault: f, Typed: typed}
		err := s.fillBench(c, v)
		if err != nil {
			return nil, err
		}
		return s.lay(c, "bench", v.PageTitle(), v)
	}
	var page laid
	in := kit.Read[tooled](c)
	if f == nil && typed == nil {
		key := benchKey{
			job:     st.ID,
			session: kit.Session(c).ID,
			step:    c.Query("step"),
			letter:  c.Query("f"),
			tool:    cmp.Or(c.Query("tool"), in.Tool),
			adapter: cmp.Or(c.Query("adapter"), in.Adapter),
			panel:   c.Query("panel"),
			healed:  c.Query("healed") != "",
			seq:     st.Seq,
			claims:  s.Shop.HandsChanged(),
			partial: kit.Part(c),
		}
		page, err = s.pages.at(key, s.Shop.Now(), fill)
	} else {
		page, err = fill()
	}
	if err != nil {
		return err
	}
	return page.send(c, code)
}

// fillBench fills in what the bench shows of the job at the step asked for.
func (s *Server) fillBench(c fiber.Ctx, v *benchView) error {
	st := v.Job
	v.Owed = len(st.Owed())
	v.Panel = c.Query("panel")
	id := operation.StepID(c.Query("step"))
	if st.Plan.Step(id) == nil {
		if id != "" && v.Fault == nil {
			v.Fault = fault.New("missing", "step", "The plan has no such step.", "The bench shows the next one.")
		}
		id = st.NextFor(kit.Session(c).Person.Name)
	}
	for i := range st.Plan.Steps {
		if st.Plan.Steps[i].ID == id {
			v.Step, v.No = &st.Plan.Steps[i], i+1
		}
		if st.StepDone(st.Plan.Steps[i].ID) {
			v.Done++
		}
	}
	if v.Step != nil {
		if err := s.benchStep(c, v, st); err != nil {
			return err
		}
	}
	if err := s.handed(c, v); err != nil {
		return err
	}
	v.Picture = draw.Corner(st, v.Step, v.Letter)
	s.closeUp(v)
	s.bedding(v)
	if n := len(st.Replans); n > 0 && c.Query("healed") != "" {
		v.Healed = healedBy(st.Replans[n-1])
	}
	v.Tally = s.tally(st, v.Step, v.Letter)
	v.Soaks = s.soaks(st)
	for _, x := range st.Chain(id, 5) {
		v.Chain = append(v.Chain, chainView{x.ID, x.Title, x.Tool})
	}
	return nil
}

func (s *Server) benchStep(c fiber.Ctx, v *benchView, st *job.State) (err error) {
	step := v.Step
	v.Kept = st.StepDone(step.ID)
	v.Again = v.Kept && st.Again(step)
	v.Unheld, v.AsItStands = st.Unheld(step), st.AsItStands(step)
	v.SoakLeft = st.SoakLeft(step, s.Shop.Now())
	_, v.Match = st.Plan.Compared(step)
	if match := st.Match(step.Part); v.Match && (match == nil || !match.Accept) {
		v.LayBeside = true
	}
	if v.Measures = s.measures(st, step); step.Verb == operation.Drive {
		v.Manoeuvres = s.manoeuvres(st, v.Typed)
	}
	v.Fluid = st.FluidAt(step.ID)
	v.Strokes = step.Proves == "pedal" && !v.Kept
	v.Oil = st.AsksOil(step) && !v.Kept
	for _, m := range v.Measures {
		v.OverLimit = v.OverLimit || m.Taken != nil && m.Taken.Verdict != string(inspect.OK)
	}
	if !v.Kept || v.Again {
		v.Refusal = fault.As(st.Ready(step))
	}
	if !v.Kept {
		v.Lacks = fault.As(st.Lacks(step))
	}
	for _, t := range st.OpenTroubles() {
		if t.Step == step.ID || t.Stops() {
			v.Troubles = append(v.Troubles, t)
		}
	}
	v.Joint = st.Plan.Joint(step.Joint)
	if v.Joint == nil {
		return nil
	}
	v.Letter = st.Current(step)
	if l := c.Query("f"); st.Fastener(v.Joint.ID, l) != nil {
		v.Letter, v.One = l, true
	}
	if step.Verb != operation.Tighten {
		v.Left = st.LeftAt(step, v.Joint)
	}
	if step.Verb == operation.Start && v.Letter != "" && !v.Kept {
		v.NewOnes = st.AsksNew(v.Joint, st.Fastener(v.Joint.ID, v.Letter))
		v.One = v.One || v.NewOnes
		v.New = cmp.Or(v.Joint.Hardware, strings.TrimSpace(v.Joint.Thread+" "+v.Joint.Class))
		if !v.One {
			v.Left = st.Together(step, v.Joint)
		}
	}
	if step.Verb != operation.Tighten {
		return nil
	}
	for _, l := range v.Joint.Letters {
		f := st.Fastener(v.Joint.ID, l)
		if f.LeftUnmeasured() && slices.ContainsFunc(f.Pulls, func(id string) bool { return st.Pulls[id].Step == step.ID }) {
			v.Unmeasured = append(v.Unmeasured, f)
		}
	}
	v.Struck = st.StruckFigure(v.Joint.ID)
	if v.Letter == "" || v.Kept {
		return nil
	}
	if st.AsksVariant(v.Joint) {
		v.Variants = variantViews(v.Joint)
		return nil
	}
	s.mayBeWrong(v)
	v.Pull, err = s.pullView(c, st, v)
	return err
}

// mayBeWrong fills in what is asked where somebody says that a figure is wrong: it is the sheet's,
// not one of this job alone.
func (s *Server) mayBeWrong(v *benchView) {
	_, kit := v.Job.Kits[v.Joint.ID]
	_, treated := v.Job.Treated[v.Joint.ID]
	v.Wrong = !kit && !treated && v.Struck == nil
	v.ByTwo = s.Shop.Library().ByTwo(v.Joint.Sheet)
}

func (s *Server) pullView(c fiber.Ctx, st *job.State, v *benchView) (*pullView, error) {
	j, f := v.Joint, st.Fastener(v.Joint.ID, v.Letter)
	stages := st.Stages(j.ID)
	if f.Done >= len(stages) {
		return nil, nil
	}
	if v.Refusal == nil {
		v.Refusal = fault.As(st.CanPull(v.Step, v.Letter))
	}
	p := &pullView{Stage: stages[f.Done], No: f.Done + 1, Of: len(stages)}
	p.Low, p.High = p.Stage.Window()
	p.Target = p.Stage.Target()
	p.Adapters = s.Shop.Library().Adapters
	in := kit.Read[tooled](c)
	p.Adapter, _ = s.Shop.Library().Adapter(cmp.Or(c.Query("adapter"), in.Adapter))
	tools, err := s.Shop.Tools(c.Context())
	if err != nil {
		return nil, err
	}
	p.Tools = st.Wrenches(j, f.Done, tools, p.Adapter, s.Shop.Now())
	p.Tool = p.Tools[0]
	if v.ahead != nil { // a wrench that reports needs the network
		if t, ok := s.clicker(c)(st, j, f.Done); ok {
			p.Tool = t
		}
	}
	// The wrench in hand stays in hand, unless it cannot do the next one.
	hand := in.Tool
	k, taken := s.Shop.InHand(st.ID, j.ID, v.Letter)
	if hand == "" && c.Query("tool") == "" && taken && k.Session == kit.Session(c).ID {
		hand = k.Tool
	}
	for _, t := range p.Tools {
		if t.Tool.ID == c.Query("tool") || t.Tool.ID == hand && t.Refused == "" {
			p.Tool = t
		}
	}
	if f.Done+1 < len(stages) {
		p.NextWords = "then " + stages[f.Done+1].Short()
		if j.AfterDrive && f.Done+2 == len(stages) {
			p.NextWords = "once more after the drive"
		}
	}
	p.words(s.firstUnit(c))
	p.Last = st.Pending(f)
	p.LastBad = p.Last != nil && p.Last.Result.Verdict != pull.Keep
	p.Blocks = f.Blocks
	s.evidence(c, p, st, v)
	p.sibling(st, j, f)
	s.plotPull(c, p)
	return p, nil
}

// evidence is what this person has stated of the stage, and who has which tool on it.
func (s *Server) evidence(c fiber.Ctx, p *pullView, st *job.State, v *benchView) {
	x := kit.Session(c)
	stage := st.Fastener(v.Joint.ID, v.Letter).Done
	p.Way = p.way()
	p.Claim, _ = s.Shop.InHand(st.ID, v.Joint.ID, v.Letter)
	if v.ahead != nil {
		p.Claim = *v.ahead
	}
	p.Mine = p.Claim.ID != "" && p.Claim.Session == x.ID && p.Claim.Tool == p.Tool.Tool.ID
	if p.Claim.ID != "" && p.Claim.Session != x.ID {
		p.Theirs = p.Claim.By + " has " + s.Shop.ToolName(p.Claim.Tool) + " on it"
	}
	p.Set, p.Stated = st.Set(x.Person.Name, v.Joint.ID, stage)
	if p.Stage.PlusDrag { // each nut drags as it does
		p.Stated = p.Stated && p.Set.Letter == v.Letter
	}
	switch p.Way {
	case wayClick:
		p.Stated = p.Stated && p.Set.Tool == p.Tool.Tool.ID && p.Mine
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
	if s.Shop.Devices != nil && p.Way == wayTrace {
		p.Connected = s.Shop.Devices.Wrench(p.Tool.Tool.ID) != nil
		p.Simulated = s.Shop.Devices.Simulated()
	}
}

// way is how the stage is recorded with the tool that is chosen.
func (p *pullView) way() string {
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
func (p *pullView) sibling(st *job.State, j *plan.Joint, f *job.Fastener) {
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
func (p *pullView) words(first string) {
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
		p.SetNm = set
		p.FirstFt = first == "ft-lb"
	case recipe.Angle:
		p.Mode, p.Big, p.Unit = "angle", unit.Number(p.Target, 0), "°"
		p.AtBolt, p.Other = "turn on from the mark", fmt.Sprintf("%s flats", unit.Number(p.Target/60, 2))
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

func (s *Server) plotPull(c fiber.Ctx, p *pullView) {
	var samples [][3]float64
	if p.Last != nil && p.Last.Traced {
		samples, _ = s.Shop.Trace(c.Context(), c.Params("job"), p.Last.ID) // without it the frame stays empty
	}
	if p.Way == wayTrace || len(samples) > 0 {
		p.Plot = draw.Trace(samples, p.Low, p.High, p.Target, p.Mode == "torque")
	}
}

func (s *Server) tally(st *job.State, step *plan.Step, current string) []tallyGroup {
	var out []tallyGroup
	for i := range st.Plan.Joints {
		j := &st.Plan.Joints[i]
		g := tallyGroup{Title: j.Title, Step: stepFor(st, j)}
		for _, l := range j.Letters {
			f := st.Fastener(j.ID, l)
			g.Signs = append(
				g.Signs,
				tallySign{
					Sign:   draw.Sign{Drive: j.Drive, Mark: f.Sign()},
					Letter: l,
					Name:   unit.Capital(j.One) + " " + l + ": " + f.Says(),
					Here:   step != nil && step.Joint == j.ID && l == current,
				},
			)
		}
		out = append(out, g)
	}
	return out
}

// stepFor is the step at which a joint goes on.
func stepFor(st *job.State, j *plan.Joint) operation.StepID {
	var last operation.StepID
	for _, s := range st.Plan.Steps {
		if s.Joint != j.ID {
			continue
		}
		if last = s.ID; !st.StepDone(s.ID) {
			return s.ID
		}
	}
	return last
}

// soakShown is how long a soak that has done its work is still told of.
const soakShown = 30 * time.Minute

func (s *Server) soaks(st *job.State) []soakView {
	var out []soakView
	now := s.Shop.Now()
	for _, k := range st.Soaking() {
		left := k.End.Sub(now)
		if left < -soakShown {
			continue
		}
		v := soakView{Title: strings.TrimPrefix(k.Title, "Soak: "), Left: max(0, left), Start: k.Start, End: k.End}
		v.Percent = math.Max(0, math.Min(100, 100*now.Sub(k.Start).Seconds()/k.End.Sub(k.Start).Seconds()))
		out = append(out, v)
	}
	return out
}

func preloadWords(l recipe.Load) string {
	s := fmt.Sprintf(
		"%.0f kN (%.0f–%.0f over friction), %.0f %% of yield with its twist (up to %.0f %%)",
		l.Preload.Mid/1000,
		l.Preload.Low/1000,
		l.Preload.High/1000,
		100*l.Utilisation.Mid,
		100*l.Utilisation.High,
	)
	if l.AngleDeg > 0 {
		s += fmt.Sprintf(
			"; after %.0f° about %.0f kN (%.0f–%.0f, grip not known)",
			l.AngleDeg,
			l.AfterAngle.Mid/1000,
			l.AfterAngle.Low/1000,
			l.AfterAngle.High/1000,
		)
	}
	return s
}

// closeUp draws the act of the step, or the joint it acts on.
func (s *Server) closeUp(v *benchView) {
	step := v.Step
	if step == nil {
		return
	}
	if v.Joint != nil {
		if step.Verb == operation.Remove || step.Verb == operation.Start {
			v.Stack = v.Joint.Stack
		}
		v.Picture.CloseUp(v.Joint, step.Verb)
		return
	}
	name := step.Kind()
	if step.Frees != "" {
		name = operation.RescueAct
	}
	if a, ok := s.Shop.Library().Acts.For(name, step.Tool, step.MakesFacts()); ok {
		v.Act = draw.Act(a, &s.Shop.Library().Acts, step.Mirrored())
		v.Picture.Aside()
	}
}
