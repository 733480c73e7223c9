package web

import (
	"fmt"
	"html"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/recipe"
	"lugtak/core/record"
	"lugtak/core/thread"
	"lugtak/core/unit"
	"lugtak/core/wrench"
	"lugtak/draw"
	"lugtak/library"
	"lugtak/web/kit"
)

type planView struct {
	Job      *job.State
	Joints   []planJoint
	Parts    []planPart
	Tools    []planTool
	Steps    []planStep
	Time     draw.TimelineView
	Total    float64
	Left     float64 // minutes of hands' work still to do
	Changes  int
	Raises   int
	Over     float64 // per cent above the proved least
	Warnings []string
	Owed     int
	Slow     *plan.Step // at hand for longer than reckoned
	Took     float64
	Waiting  []string // parts that are not there
	Begun    bool
	Cost     string // of the step just moved
	Turns    []job.RodTurns
	Trays    []job.Tray
	Changed  *changedView
	WaysOut  []wayOut
	Since    string // the owner was told
	Range    plan.Estimate
	Parts90  []draw.Bar // the range cut by what widens it
	LikelyX  float64
	Widest   []widening
	Price    priceView
	Stages   []planStage
	Question *buildView
	First    string // what is done first
	Proved   bool
	Broken   string // what the proof says against it
	Wants    int
	Laws     int
	Fault    *fault.Fault
	For      string // form the fault belongs to
	Typed    map[string]string
}

// planJoint is a joint, or the like joints of several corners.
type planJoint struct {
	*plan.Joint
	Name    string // without its corner
	IDs     []string
	Where   []string
	Both    string // the highest torque in both units
	Count   int
	Words   []string
	Doubts  []recipe.Warning
	Preload string
	Kit     *record.Kitted
}

type planPart struct {
	operation.Part
	Status job.Stock
	Step   operation.StepID // where it is compared
	Match  *job.Matching
}

type planTool struct {
	Name, For string
	Wrench    bool // what torque is set or read on
	Steps     int
	Standin   string // what serves in its place
}

type planStep struct {
	*plan.Step
	No          int
	Start, End  float64
	Who         int
	Done, Begun bool
	Room        [2]int // numbers of the steps it could stand behind
	Joint       string
}

func (s *Server) plan(c fiber.Ctx) error { return s.showPlan(c, 200, nil) }

func (s *Server) showPlan(c fiber.Ctx, code int, f *fault.Fault) error {
	st, err := s.Shop.Job(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	if !st.HasPlan() {
		return c.Redirect().To("/jobs/" + st.ID + "/order")
	}
	p := st.Plan
	v := planView{
		Job:      st,
		Warnings: p.Warnings,
		Owed:     len(st.Owed()),
		Fault:    f,
		Begun:    st.Begun(),
		Turns:    st.Turns(),
		Raises:   p.Raises(),
	}
	if f != nil {
		v.Typed = kit.Typed(c)
		v.For = v.Typed["form"]
	}
	tools, err := s.Shop.Tools(c.Context())
	if err != nil {
		return err
	}
	v.Slow, v.Took = st.Overrun(s.Shop.Now())
	sol, err := p.Clock(s.Shop.Library().Costs())
	if err != nil {
		return err
	}
	v.Time, v.Total, v.Changes = draw.Timeline(st, sol), sol.Makespan, sol.ToolChanges
	s.howLong(&v)
	v.Changed = changed(st.Replans)
	v.WaysOut = s.waysOut(st)
	v.Since = since(st.Told, v.Range.Likely)
	v.proof()
	v.Over = 100 * (sol.Makespan/sol.Bound - 1)
	if was, err := strconv.ParseFloat(c.Query("was"), 64); err == nil && was > 0 && was < 1e5 {
		tools, _ := strconv.Atoi(c.Query("tools"))
		v.Cost = fmt.Sprintf("%+.1f minutes, %+d tool changes", sol.Makespan-was, sol.ToolChanges-tools)
	}
	for i := range p.Joints {
		j := s.planJoint(&p.Joints[i])
		if k, ok := st.Kits[j.ID]; ok {
			j.Kit = &k
		}
		if i := slices.IndexFunc(v.Joints, func(o planJoint) bool { return o.Sheet == j.Sheet && o.Says() == j.Says() && o.Source == j.Source }); i >= 0 {
			o := &v.Joints[i]
			o.IDs, o.Where, o.Count = append(o.IDs, j.ID), append(o.Where, j.Where...), o.Count+j.Count
			continue
		}
		v.Joints = append(v.Joints, j)
	}
	for _, part := range p.Parts {
		x := planPart{Part: part, Status: st.Parts[part.Key], Match: st.Match(part.Key)}
		for _, step := range p.Steps {
			if step.Part == part.Key && part.Kind != "" {
				x.Step = step.ID
			}
		}
		if x.Status == "missing" || x.Status == "ordered" {
			v.Waiting = append(v.Waiting, part.Title)
		}
		v.Parts = append(v.Parts, x)
	}
	at := map[string]int{}
	for i, x := range sol.Order {
		at[x.ID] = i
	}
	seen, seenWrench := map[string]int{}, map[string]bool{}
	room := p.Room()
	for i := range p.Steps {
		step := &p.Steps[i]
		x := planStep{
			Step:  step,
			No:    i + 1,
			Room:  room[i],
			Done:  st.StepDone(step.ID),
			Begun: len(st.Steps[step.ID].Letters) > 0,
		}
		slot := sol.Order[at[string(step.ID)]]
		if !x.Done {
			v.Left += step.HandMinutes()
		}
		x.Start, x.End, x.Who = slot.Start, slot.End, slot.Technician
		if j := p.Joint(step.Joint); j != nil {
			x.Joint = j.Title
		}
		v.Steps = append(v.Steps, x)
		if tool := step.NeedsTool(); tool != "" {
			if k, ok := seen[tool]; ok {
				v.Tools[k].Steps++
			} else {
				seen[tool] = len(v.Tools)
				v.Tools = append(v.Tools, planTool{tool, step.Place, false, 1, s.standinFor(tool)})
			}
		}
		if name := s.wrenchFor(st, step, tools); name != "" && !seenWrench[name] {
			seenWrench[name] = true
			v.Tools = append(v.Tools, planTool{Name: name, Wrench: true, Steps: 1})
		}
	}
	for _, t := range st.Trays() {
		if t.Out > 0 || t.Joint.Points != "" || len(t.Joint.Stack) > 0 {
			v.Trays = append(v.Trays, t)
		}
	}
	v.byStage(sol)
	if v.Question, err = s.question(c, st); err != nil {
		return err
	}
	return s.render(c, code, "plan", "Plan", v)
}

// wrenchFor is the torque wrench a step's first torque asks for, with its range.
func (s *Server) wrenchFor(st *job.State, step *plan.Step, tools []wrench.Tool) string {
	if step.Verb != operation.Tighten {
		return ""
	}
	from, to := st.Span(step)
	stages := st.Stages(step.Joint)
	for no := from; no <= to && no < len(stages); no++ {
		if stages[no].Kind != recipe.Torque {
			continue
		}
		for _, c := range st.Wrenches(st.Plan.Joint(step.Joint), no, tools, wrench.Adapter{}, s.Shop.Now()) {
			if c.Refused == "" {
				return c.Tool.Name + ", to " + unit.Torque(c.Tool.MaxNm).Both()
			}
		}
	}
	return ""
}

// standinFor says what of the shop's sockets serves for one that it has not.
func (s *Server) standinFor(tool string) string {
	x, lacks, ok := wrench.Serves(tool, s.Shop.Library().Sockets)
	switch {
	case !lacks:
		return ""
	case ok:
		return fmt.Sprintf("not in the crib: take %s, %s, %+.2f mm", x.Name, x.Verdict, x.ClearanceMM)
	}
	return "not in the crib, and nothing there fits a tight fastener: borrow or order it"
}

func (s *Server) planJoint(j *plan.Joint) planJoint {
	r, _ := recipe.Parse(j.Recipe) // checked when it was compiled
	v := planJoint{
		Joint: j,
		Name:  strings.TrimSuffix(j.Title, " "+string(j.Corner)),
		IDs:   []string{j.ID},
		Count: len(j.Letters),
		Words: r.Explain(),
	}
	if j.Corner != "" {
		v.Where = []string{j.Corner.Axle() + " " + j.Corner.Side()}
	}
	if p := r.Peak(); p > 0 {
		v.Both = p.Both()
	}
	f, ok := j.Fastener()
	if !ok {
		return v
	}
	v.Doubts, _ = recipe.Check(r, f)
	if l, err := recipe.Reckon(r, f); err == nil && l.Torque > 0 {
		v.Preload = preloadWords(l)
	}
	return v
}

// onPlan answers a write on the plan page.
func (s *Server) onPlan(c fiber.Ctx, err error) error {
	if f := fault.As(err); f != nil {
		return s.showPlan(c, kit.Status(f), f)
	} else if err != nil {
		return err
	}
	if kit.Part(c) {
		return s.showPlan(c, 200, nil)
	}
	return kit.See(c, "/jobs/"+c.Params("job")+"/plan")
}

func (s *Server) part(c fiber.Ctx) error {
	in := kit.Read[struct {
		Part   string    `form:"part"`
		Status job.Stock `form:"status"`
	}](c)
	_, err := s.record(c, job.StockPart{Part: in.Part, Status: in.Status})
	return s.onPlan(c, err)
}

// treat has a joint's threads treated otherwise, like joints of other corners too.
func (s *Server) treat(c fiber.Ctx) error {
	in := kit.Read[struct {
		Treatment string `form:"treatment"`
		Reason    string `form:"reason"`
	}](c)
	return s.onJoints(c, func(joint string) job.Command {
		return job.Treat{Joint: joint, Treatment: in.Treatment, Reason: in.Reason}
	})
}

// onJoints records a command for each joint the form names: one, and those like it at other
// corners.
func (s *Server) onJoints(c fiber.Ctx, command func(joint string) job.Command) error {
	m := kit.Meta(c, s.Shop.Now())
	var err error
	for i, joint := range kit.Values(c)["joint"] {
		k := m
		if i > 0 {
			k.ID, k.Seq = m.ID.And(i), 0
		}
		if _, err = s.recordAs(c, k, command(joint)); err != nil {
			break
		}
	}
	return s.onPlan(c, err)
}

// treating says what another treatment would do to the clamp. Nothing is recorded.
func (s *Server) treating(c fiber.Ctx) error {
	st, err := s.Shop.Job(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	if !st.HasPlan() {
		return fault.New("missing", "plan", "Nothing is planned yet.", "Choose the work first.")
	}
	got, err := st.Treating(c.Query("joint"), c.Query("treatment"))
	if f := fault.As(err); f != nil {
		return c.SendString(html.EscapeString(f.Detail + " " + f.Remedy))
	} else if err != nil {
		return err
	}
	band := func(b thread.Band) string {
		return fmt.Sprintf("%.0f kN (%.0f–%.0f)", b.Mid/1000, b.Low/1000, b.High/1000)
	}
	return c.SendString(html.EscapeString(fmt.Sprintf(
		"Clamp as written: %s. The same figure so treated: %s. %s keeps it: %s, as wide as friction leaves it.",
		band(got.Was), band(got.Same), got.Recipe, band(got.Now))))
}

// behindForm reads which step another is moved behind, by its number; 0 is the front.
func behindForm(p *plan.Plan, text string) (operation.StepID, error) {
	n, err := strconv.Atoi(strings.TrimSpace(text))
	switch {
	case err != nil || n < 0 || n > len(p.Steps):
		return "", fault.New("bad_number", "behind", "That is no step's number.",
			"Write the number of the step it comes behind, 0 for the front.")
	case n == 0:
		return "", nil
	}
	return p.Steps[n-1].ID, nil
}

// move puts a step behind another by hand; the other is named by its number.
func (s *Server) move(c fiber.Ctx) error {
	st, err := s.Shop.Job(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	in := kit.Read[struct {
		acted
		Behind string `form:"behind"`
	}](c)
	behind, err := behindForm(st.Plan, in.Behind)
	if err != nil {
		return s.onPlan(c, err)
	}
	before, err := st.Plan.Clock(s.Shop.Library().Costs())
	if err != nil {
		return err
	}
	if _, err = s.record(c, job.MoveStep{Step: in.Step, Behind: behind}); err != nil {
		return s.onPlan(c, err)
	}
	to := fmt.Sprintf("/jobs/%s/plan?was=%.2f&tools=%d", st.ID, before.Makespan, before.ToolChanges)
	return kit.See(c, to)
}

// tryMove says what a move would cost, and what the proof says of it. Nothing is moved.
func (s *Server) tryMove(c fiber.Ctx) error {
	st, err := s.Shop.Job(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	if !st.HasPlan() {
		return fault.New("missing", "plan", "Nothing is planned yet.", "Choose the work first.")
	}
	says, err := s.tried(st.Plan, operation.StepID(c.Query("step")), c.Query("behind"))
	if f := fault.As(err); f != nil {
		says = f.Detail
	} else if err != nil {
		return err
	}
	return c.SendString(says)
}

func (s *Server) tried(p *plan.Plan, step operation.StepID, text string) (string, error) {
	behind, err := behindForm(p, text)
	if err != nil {
		return "", err
	}
	before, err := p.Clock(s.Shop.Library().Costs())
	if err != nil {
		return "", err
	}
	q := *p
	if q.Steps, err = p.Move(step, behind); err != nil {
		return "", err
	}
	after, err := q.Clock(s.Shop.Library().Costs())
	if err != nil {
		return "", err
	}
	return fmt.Sprintf("%+.1f min, %+d tool changes. Still proved. Enter moves it, Esc leaves it.",
		after.Makespan-before.Makespan, after.ToolChanges-before.ToolChanges), nil
}

// replan puts what is left in order anew.
func (s *Server) replan(c fiber.Ctx) error {
	in := kit.Read[struct {
		Technicians kit.Whole        `form:"technicians"`
		Slow        operation.StepID `form:"slow"`
		Minutes     kit.Whole        `form:"minutes"`
	}](c)
	cmd := job.Replan{
		Costs:       s.Shop.Library().Costs(),
		Rescues:     s.Shop.Library().Rescues,
		Technicians: in.Technicians.Value,
		Slow:        in.Slow,
	}
	if cmd.Slow != "" {
		cmd.Minutes = float64(in.Minutes.Value)
	}
	_, err := s.record(c, cmd)
	return s.onPlan(c, err)
}

// kit puts a kit's own hardware in place of the sheet's.
func (s *Server) kit(c fiber.Ctx) error {
	in := kit.Read[struct {
		figured
		Socket    string `form:"socket"`
		Treatment string `form:"treatment"`
		Hardware  string `form:"hardware"`
	}](c)
	return s.onJoints(c, func(joint string) job.Command {
		return job.FitKit{
			Joint:     joint,
			Recipe:    in.text(),
			Socket:    in.Socket,
			Treatment: in.Treatment,
			Hardware:  in.Hardware,
			Source:    in.Source,
		}
	})
}

type waysView struct {
	Job       *job.State
	Questions []question
	Shown     int // questions shown at once; the others fold away
	Begun     bool
	Writes    bool
	Owed      int
}

type question struct {
	Title, Because string
	Ways           []library.Alternative
}

// ways reckons the plan by every school beside the one it has. That takes a moment,
// so the page asks for it by itself; it is kept with the plan it belongs to.
func (s *Server) ways(c fiber.Ctx) error {
	st, pat, err := s.Shop.JobAndSheet(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	if !st.HasPlan() {
		return fault.New("missing", "plan", "Nothing is planned yet.", "Choose the work first.")
	}
	v := waysView{
		Job:    st,
		Owed:   len(st.Owed()),
		Begun:  st.Begun(),
		Writes: kit.Session(c).Person.Role != job.Reader && st.Signature == nil,
	}
	for _, a := range s.Shop.Alternatives(pat, st) {
		if n := len(v.Questions); n == 0 || v.Questions[n-1].Title != a.Question {
			q := question{Title: a.Question}
			for _, x := range st.Plan.Schools {
				if x.Key == a.Key {
					q.Because = x.Because
				}
			}
			v.Questions = append(v.Questions, q)
		}
		q := &v.Questions[len(v.Questions)-1]
		q.Ways = append(q.Ways, a)
	}
	for v.Shown < len(v.Questions) && v.Shown < 2 && (v.Shown == 0 || v.Questions[v.Shown].Ways[0].Key == plan.SidesSchool) {
		v.Shown++
	}
	return s.render(c, 200, "ways", "Ways to work it", v)
}
