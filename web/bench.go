package web

import (
	"fmt"
	"math"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/pull"
	"lugtak/core/recipe"
	"lugtak/core/unit"
	"lugtak/core/wrench"
)

// benchView is one step and all that stands around it.
type benchView struct {
	Match    bool // the step holds a new part against the old
	Job      *job.State
	Step     *operation.Step
	No       int
	Done     int
	Owed     int
	Tally    []tallyGroup
	Picture  pictureView
	Soaks    []soakView
	Chain    []chainView
	Joint    *operation.PlanJoint
	Letter   string
	One      bool // the letter was chosen: the keys act on it alone
	Left     []string
	Refusal  *fault.Fault // why the step cannot be done now
	Troubles []job.Trouble
	SoakLeft time.Duration
	Pull     *pullView
	Variants []variantView // which hardware is it?
	Kept     bool          // the step shown is done
	Fault    *fault.Fault
	Typed    map[string]string
	Panel    string // trouble panel open
	aim      *aim   // what the chosen wrench is put on
}

type tallyGroup struct {
	Title string
	Step  string
	Signs []tallySign
}

type tallySign struct {
	sgn
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
	ID, Title, Sub string
}

// pullView is what a tightening step shows of the stage at hand.
type pullView struct {
	Stage     recipe.Stage
	No, Of    int
	Mode      string // torque, angle, back_off, slot, snug
	Tool      wrench.Choice
	Tools     []wrench.Choice
	Big, Unit string
	AtBolt    string
	Other     string
	NextWords string
	Window    string
	Live      bool // the chosen wrench streams its trace
	Plot      plot
	Last      *job.PullRecord
	LastBad   bool
	Hurt      bool // the hardware is hurt: slacken, renew
	Siblings  string
	Prefill   string
	PrefillFt bool // the shop reads ft·lb first
	Adapters  []wrench.Adapter
	Adapter   wrench.Adapter
	Low, High float64
	Target    float64
}

func (s *Server) bench(c fiber.Ctx) error { return s.showBench(c, 200, nil, nil) }

// benchKey is all that a bench page without a fault depends on.
type benchKey struct {
	job, person, step, letter, tool, adapter, panel string
	seq                                             int
	partial                                         bool
}

func (s *Server) showBench(c fiber.Ctx, code int, f *fault.Fault, typed map[string]string) error {
	st, err := s.Store.Job(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	if !st.HasPlan() {
		return c.Redirect().To("/jobs/" + st.ID + "/walk")
	}
	fill := func() (laid, *aim, error) {
		v, err := s.benchView(c, st, f, typed)
		if err != nil {
			return nil, nil, err
		}
		page, err := s.lay(c, "bench", "Bench", v)
		return page, v.aim, err
	}
	var page laid
	var at *aim
	if f == nil && typed == nil {
		key := benchKey{st.ID, session(c).Person.ID, c.Query("step"), c.Query("f"), c.Query("tool", c.FormValue("tool")), c.Query("adapter", c.FormValue("adapter")), c.Query("panel"), st.Seq, c.Get("HX-Request") == "true"}
		page, at, err = s.shelf.at(key, s.Now(), fill)
	} else {
		page, at, err = fill()
	}
	if err != nil {
		return err
	}
	if at != nil {
		s.crib.aim(at.Tool.ID, *at)
	}
	return page.send(c, code)
}

func (s *Server) benchView(c fiber.Ctx, st *job.State, f *fault.Fault, typed map[string]string) (*benchView, error) {
	v := &benchView{Job: st, Fault: f, Typed: typed, Owed: len(st.Owed()), Panel: c.Query("panel")}
	id := c.Query("step")
	if st.Plan.Step(id) == nil {
		if id != "" && f == nil {
			v.Fault = fault.New("missing", "step", "The plan has no such step.", "The bench shows the next one.")
		}
		id = st.Next()
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
			return nil, err
		}
	}
	v.Picture = picture(st, v.Step, v.Letter)
	v.Tally = s.tally(st, v.Step, v.Letter)
	v.Soaks = s.soaks(st)
	for _, x := range st.Chain(id, 5) {
		v.Chain = append(v.Chain, chainView{x.ID, x.Title, x.Tool})
	}
	return v, nil
}

func (s *Server) benchStep(c fiber.Ctx, v *benchView, st *job.State) (err error) {
	step := v.Step
	v.Kept = st.StepDone(step.ID)
	v.SoakLeft = st.SoakLeft(step, s.Now())
	_, v.Match = st.Plan.Compared(step)
	if !v.Kept {
		v.Refusal = fault.As(st.Ready(step))
	}
	for _, t := range st.OpenTroubles() {
		if t.Step == step.ID {
			v.Troubles = append(v.Troubles, t)
		}
	}
	v.Joint = st.Plan.Joint(step.Joint)
	if v.Joint == nil {
		return nil
	}
	v.Letter = st.Current(step)
	if l := c.Query("f"); st.Fasteners[v.Joint.ID+"#"+l] != nil {
		v.Letter, v.One = l, true
	}
	for _, l := range v.Joint.Letters {
		f := st.Fasteners[v.Joint.ID+"#"+l]
		if step.Verb != operation.Tighten && f.Trouble == "" && !contains(st.Steps[step.ID].Letters, l) {
			v.Left = append(v.Left, l)
		}
	}
	if step.Verb == operation.Tighten && v.Letter != "" && !v.Kept {
		if st.AsksVariant(v.Joint) {
			v.Variants = variantViews(v.Joint)
		} else if v.Pull, err = s.pullView(c, st, v); err != nil {
			return err
		}
	}
	return nil
}

func contains(s []string, x string) bool {
	for _, v := range s {
		if v == x {
			return true
		}
	}
	return false
}

func (s *Server) pullView(c fiber.Ctx, st *job.State, v *benchView) (*pullView, error) {
	j, f := v.Joint, st.Fasteners[v.Joint.ID+"#"+v.Letter]
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
	p.Adapters = s.lib().Adapters
	p.Adapter, _ = s.lib().Adapter(c.Query("adapter", c.FormValue("adapter")))
	tools, err := s.tools(c)
	if err != nil {
		return nil, err
	}
	p.Tools = wrench.Choose(p.Stage, st.Peak(j, f.Done), tools, p.Adapter, s.lib().Shop.School, s.Now())
	p.Tool = p.Tools[0]
	for _, t := range p.Tools {
		// The wrench in hand stays in hand, unless it cannot do the next one.
		if t.Tool.ID == c.Query("tool") || t.Tool.ID == c.FormValue("tool") && t.Refused == "" {
			p.Tool = t
		}
	}
	if f.Done+1 < len(stages) {
		p.NextWords = "then " + stages[f.Done+1].Short()
		if j.Again && f.Done+2 == len(stages) {
			p.NextWords = "once more after the drive"
		}
	}
	p.words(s.lib().Shop.FirstUnit)
	p.Live = p.Tool.Tool.Angle() && p.Adapter.LengthMM == 0 && p.Tool.Refused == "" && (p.Mode == "torque" || p.Mode == "angle")
	p.Last = st.Pending(f)
	if p.Last != nil {
		v := p.Last.Result.Verdict
		p.LastBad = v != pull.Keep
		p.Hurt = v == pull.Reject || p.Last.Result.Signature == pull.High
	}
	for _, l := range j.Letters {
		o := st.Fasteners[j.ID+"#"+l]
		if l != v.Letter && o.Done > f.Done && len(o.Pulls) > 0 {
			r := st.Pulls[o.Pulls[len(o.Pulls)-1]]
			if r.Stage == f.Done && p.Mode == "torque" {
				p.Siblings = fmt.Sprintf("%s %s stands at %s.", unit.Capital(j.One), l, unit.Torque(r.Result.PeakNm))
			}
		}
	}
	s.plotPull(c, p)
	if p.Live && session(c).Person.Role != job.Reader && v.Refusal == nil {
		a := aimOf(st, v.Step, j, v.Letter, p, session(c).Person)
		v.aim = &a
	}
	return p, nil
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
		p.AtBolt = unit.Torque(math.Round(p.Tool.AtBoltNm*10)/10).String() + " at the bolt"
		p.Other = unit.Torque(set).FtLbString()
		if first == "ft-lb" {
			p.Big, p.Unit, p.Other = unit.Number(unit.Torque(set).FtLb(), 1), "ft·lb", unit.Torque(set).String()
		}
		p.Window = fmt.Sprintf("window %s to %s", unit.Number(p.Low, 1), unit.Torque(p.High))
		p.Prefill, p.PrefillFt = unit.Number(set, 1), first == "ft-lb"
		if p.PrefillFt {
			p.Prefill = p.Big
		}
	case recipe.Angle:
		p.Mode, p.Big, p.Unit = "angle", unit.Number(p.Target, 0), "°"
		p.AtBolt, p.Other = "turn on from the mark", fmt.Sprintf("%s flats", unit.Number(p.Target/60, 2))
		p.Window = fmt.Sprintf("window %s° to %s°", unit.Number(p.Low, 0), unit.Number(p.High, 0))
		p.Prefill = p.Big
	case recipe.BackOff:
		p.Mode, p.Big = "back_off", "back off"
		p.AtBolt = "fully, until it turns freely"
		p.Prefill = "360"
		if !p.Stage.Full {
			p.AtBolt, p.Prefill = "by "+unit.Number(p.Target, 0)+"°", unit.Number(p.Target, 0)
		}
	case recipe.NextSlot:
		p.Mode, p.Big = "slot", "next slot"
		p.AtBolt, p.Window = "onward only, 60° at the most", "with six slots"
	default:
		p.Mode, p.Big = "snug", p.Stage.Word
		p.Prefill = "0"
	}
}

func (s *Server) plotPull(c fiber.Ctx, p *pullView) {
	var samples [][3]float64
	if p.Last != nil && p.Last.Evidence == pull.ByTrace {
		samples, _ = s.Store.Trace(c.Context(), p.Last.ID) // without it the frame stays empty
	}
	if p.Live || len(samples) > 0 {
		p.Plot = tracePlot(samples, p.Low, p.High, p.Target, p.Mode == "torque")
	}
}

func (s *Server) tally(st *job.State, step *operation.Step, current string) []tallyGroup {
	var out []tallyGroup
	for i := range st.Plan.Joints {
		j := &st.Plan.Joints[i]
		g := tallyGroup{Title: j.Title, Step: stepFor(st, j)}
		for _, l := range j.Letters {
			f := st.Fasteners[j.ID+"#"+l]
			g.Signs = append(g.Signs, tallySign{sgn: sgn{j.Drive, f.Mark()}, Letter: l, Name: unit.Capital(j.One) + " " + l + ": " + f.Mark().Words(),
				Here: step != nil && step.Joint == j.ID && l == current})
		}
		out = append(out, g)
	}
	return out
}

// stepFor is the step at which a joint goes on.
func stepFor(st *job.State, j *operation.PlanJoint) string {
	last := ""
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

func (s *Server) soaks(st *job.State) []soakView {
	var out []soakView
	now := s.Now()
	for _, k := range st.Soaks {
		left := k.End.Sub(now)
		if left < -30*time.Minute {
			continue
		}
		v := soakView{Title: strings.TrimPrefix(k.Title, "Soak: "), Left: max(0, left), Start: k.Start, End: k.End}
		v.Percent = math.Max(0, math.Min(100, 100*now.Sub(k.Start).Seconds()/k.End.Sub(k.Start).Seconds()))
		out = append(out, v)
	}
	return out
}

// after answers a write on the bench: the bench as it stands now, at the step it
// goes on with; a refusal in place with what was typed.
func (s *Server) after(c fiber.Ctx, err error) error {
	f := fault.As(err)
	if f == nil && err != nil {
		return err
	}
	if f != nil {
		typed := map[string]string{}
		for _, k := range []string{"reading", "note", "what", "how", "reason", "choice", "csv"} {
			typed[k] = c.FormValue(k)
		}
		c.Request().URI().QueryArgs().Set("step", c.FormValue("step"))
		if c.FormValue("one") != "" {
			c.Request().URI().QueryArgs().Set("f", c.FormValue("letter"))
		}
		return s.showBench(c, status(f), f, typed)
	}
	to := "/jobs/" + c.Params("job") + "/bench"
	// A step not finished keeps the place; a fastener chosen by touch gives way
	// to the next in order.
	if id := c.FormValue("step"); id != "" && c.FormValue("stay") != "" {
		if st, err := s.Store.Job(c.Context(), c.Params("job")); err == nil && st.Plan.Step(id) != nil && !st.StepDone(id) && st.Current(st.Plan.Step(id)) != "" {
			to += "?step=" + id
			c.Request().URI().QueryArgs().Set("step", id)
		}
	}
	if c.Get("HX-Request") == "true" {
		c.Set("HX-Replace-Url", to)
		return s.showBench(c, 200, nil, nil)
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(to)
}

func (s *Server) keepStep(c fiber.Ctx) error {
	turns, _ := unit.Figure(c.FormValue("turns")) // the job asks for them where they are needed
	_, err := s.record(c, job.StepDone{Step: c.FormValue("step"), Choice: c.FormValue("choice"), Note: c.FormValue("note"), Turns: turns})
	return s.after(c, err)
}

func (s *Server) keepWork(c fiber.Ctx) error {
	w := job.Worked{Step: c.FormValue("step"), Renewed: c.FormValue("renewed") != ""}
	if l := c.FormValue("letter"); l != "" {
		w.Letters = []string{l}
	}
	_, err := s.record(c, w)
	return s.after(c, err)
}

func (s *Server) pull(c fiber.Ctx) error {
	p := job.Pull{Step: c.FormValue("step"), Joint: c.FormValue("joint"), Letter: c.FormValue("letter"), Keep: true}
	if text := c.FormValue("csv"); strings.TrimSpace(text) != "" {
		trace, err := pull.ReadCSV(text)
		if err != nil {
			return s.after(c, err)
		}
		p.Trace = trace
	} else {
		v, ok := unit.Figure(c.FormValue("reading"))
		if !ok {
			return s.after(c, fault.New("bad_number", "reading", "That is no figure.", "Enter what the wrench says, as in 60 or 44.3."))
		}
		if c.FormValue("unit") == "ft-lb" {
			v *= unit.PoundFoot.Nm()
		}
		p.Reading = v
	}
	if id := c.FormValue("tool"); id != "" {
		t, err := s.tool(c, id)
		if err != nil {
			return s.after(c, err)
		}
		p.Tool = t
		p.SetNm, _ = unit.Figure(c.FormValue("set"))
	}
	if id := c.FormValue("adapter"); id != "" {
		a, ok := s.lib().Adapter(id)
		if !ok {
			return s.after(c, fault.New("missing", "adapter", "The shop has no such adapter.", "Choose one of the list."))
		}
		p.Adapter = a
	}
	_, err := s.record(c, p)
	return s.after(c, err)
}

func (s *Server) choose(c fiber.Ctx) error {
	_, err := s.record(c, job.Chose{Joint: c.FormValue("joint"), Variant: c.FormValue("variant")})
	return s.after(c, err)
}

func (s *Server) keepPull(c fiber.Ctx) error {
	_, err := s.record(c, job.Kept{Pull: c.FormValue("pull")})
	return s.after(c, err)
}

func (s *Server) again(c fiber.Ctx) error {
	_, err := s.record(c, job.Slackened{Joint: c.FormValue("joint"), Letter: c.FormValue("letter"), Reason: c.FormValue("reason"), Renewed: c.FormValue("renewed") != ""})
	return s.after(c, err)
}

func (s *Server) later(c fiber.Ctx) error {
	_, err := s.record(c, job.Postponed{Step: c.FormValue("step")})
	return s.after(c, err)
}

func (s *Server) trouble(c fiber.Ctx) error {
	_, err := s.record(c, job.Troubled{Step: c.FormValue("step"), Letter: c.FormValue("letter"), What: c.FormValue("what"), Note: c.FormValue("note")})
	return s.after(c, err)
}

func (s *Server) clear(c fiber.Ctx) error {
	_, err := s.record(c, job.Cleared{Trouble: c.FormValue("trouble"), How: c.FormValue("how"), Renewed: c.FormValue("renewed") != ""})
	return s.after(c, err)
}

func (s *Server) undo(c fiber.Ctx) error {
	_, err := s.record(c, job.StepUndone{Step: c.FormValue("step"), Reason: c.FormValue("reason")})
	return s.after(c, err)
}

func preloadWords(l recipe.Load) string {
	s := fmt.Sprintf("%.0f kN (%.0f–%.0f over friction), %.0f %% of proof", l.Preload.Mid/1000, l.Preload.Low/1000, l.Preload.High/1000, 100*l.ProofShare.Mid)
	if l.AngleDeg > 0 {
		s += fmt.Sprintf("; after %.0f° about %.0f kN (%.0f–%.0f, grip not known)", l.AngleDeg, l.AfterAngle.Mid/1000, l.AfterAngle.Low/1000, l.AfterAngle.High/1000)
	}
	return s
}
