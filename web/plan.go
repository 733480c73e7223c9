package web

import (
	"fmt"
	"html"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	core "lugtak/core/plan"
	"lugtak/core/thread"
	"lugtak/library"
	"lugtak/pages/plan"
	"lugtak/pages/ready"
	"lugtak/web/kit"
)

// planRoom answers for the plan and the order it is made from, parts, and what the owner is told.
type planRoom struct{ *Server }

func (s planRoom) routes(at paths) {
	at.get("/jobs/:job/plan", s.plan)
	at.get("/jobs/:job/figures", s.planned(s.figures))
	at.Post("/jobs/:job/figures", s.planned(s.readRow))
	at.Post("/jobs/:job/paste", s.planned(s.paste))
	at.Post("/jobs/:job/pasted", s.planned(s.keepPasted))
	at.Post("/jobs/:job/part", s.part)
	at.Post("/jobs/:job/parts/order", s.job(s.orderParts))
	at.get("/jobs/:job/parts", s.partsPage)
	at.get("/jobs/:job/parts.csv", s.partsCSV)
	at.get("/jobs/:job/order", s.order)
	at.Post("/jobs/:job/order", s.planWork)
	at.get("/jobs/:job/ways", s.ways)
	at.get("/jobs/:job/plan/try", s.planned(s.tryMove))
	at.get("/jobs/:job/order/weigh", s.weigh)
	at.Post("/jobs/:job/school", s.job(s.school))
	at.Post("/jobs/:job/treat", s.treat)
	at.get("/jobs/:job/treat", s.planned(s.treating))
	at.Post("/jobs/:job/built", s.seeBuilt)
	at.Post("/jobs/:job/move", s.job(s.move))
	at.Post("/jobs/:job/replan", s.replan)
	at.Post("/jobs/:job/rescue", s.rescue)
	at.Post("/jobs/:job/tell", s.job(s.tell))
	at.Post("/jobs/:job/promise", s.job(s.promise))
	at.Post("/jobs/:job/kit", s.kit)
	at.get("/jobs/:job/ready", s.planned(s.readyPage))
	at.get("/jobs/:job/free", s.job(s.freeWork))
	at.Post("/jobs/:job/free", s.job(s.beginFree))
	at.Post("/jobs/:job/free/act", s.planned(s.freeAct))
	at.Post("/jobs/:job/free/drop", s.planned(s.dropFree))
}

func (s planRoom) plan(c fiber.Ctx) error { return s.showPlan(c, 200, nil) }

func (s planRoom) showPlan(c fiber.Ctx, code int, f *fault.Fault) error {
	st, err := s.jobOf(c)
	if err != nil {
		return err
	}
	if !st.HasPlan() {
		return c.Redirect().To("/jobs/" + st.ID + "/order")
	}
	x := plan.Shown{Job: st, Library: s.Shop.Library(), Now: s.Shop.Now(), Fault: f}
	if f != nil {
		x.Typed = kit.Typed(c)
	}
	if x.Tools, err = s.Shop.Tools(c.Context()); err != nil {
		return err
	}
	if x.Opened, err = s.Shop.Seized(c.Context()); err != nil {
		return err
	}
	like, err := s.Shop.BuiltLike(c.Context(), st.Vehicle.Pattern)
	if err != nil {
		return err
	}
	for _, b := range like {
		x.Like = append(x.Like, plan.Found{Vehicle: b.Vehicle, Key: b.Key, Is: b.Is})
	}
	if was, err := strconv.ParseFloat(c.Query("was"), 64); err == nil && was > 0 && was < 1e5 {
		x.Was = was
		x.WasTool, _ = strconv.Atoi(c.Query("tools"))
	}
	page, err := plan.Page(x)
	if err != nil {
		return err
	}
	return s.show(c, code, page)
}

// onPlan answers a write on the plan page.
func (s planRoom) onPlan(c fiber.Ctx, err error) error {
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

func (s planRoom) part(c fiber.Ctx) error {
	in := kit.Read[struct {
		Part   string    `form:"part"`
		Status job.Stock `form:"status"`
	}](c)
	_, err := s.record(c, job.StockPart{Part: in.Part, Status: in.Status})
	return s.onPlan(c, err)
}

// treat has a joint's threads treated otherwise, like joints of other corners too.
func (s planRoom) treat(c fiber.Ctx) error {
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
func (s planRoom) onJoints(c fiber.Ctx, command func(joint string) job.Command) error {
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
func (s planRoom) treating(c fiber.Ctx, st *job.State) error {
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
func behindForm(p *core.Plan, text string) (operation.StepID, error) {
	n, err := strconv.Atoi(strings.TrimSpace(text))
	switch {
	case err != nil || n < 0 || n > len(p.Steps):
		return "", fault.New(fault.BadNumber, "behind", "That is no step's number.",
			"Write the number of the step it comes behind, 0 for the front.")
	case n == 0:
		return "", nil
	}
	return p.Steps[n-1].ID, nil
}

// move puts a step behind another by hand; the other is named by its number.
func (s planRoom) move(c fiber.Ctx, st *job.State) error {
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
func (s planRoom) tryMove(c fiber.Ctx, st *job.State) error {
	says, err := s.tried(st.Plan, operation.StepID(c.Query("step")), c.Query("behind"))
	if f := fault.As(err); f != nil {
		says = f.Detail
	} else if err != nil {
		return err
	}
	return c.SendString(says)
}

func (s planRoom) tried(p *core.Plan, step operation.StepID, text string) (string, error) {
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
func (s planRoom) replan(c fiber.Ctx) error {
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
func (s planRoom) kit(c fiber.Ctx) error {
	in := kit.Read[struct {
		figured
		Socket    string `form:"socket"`
		Treatment string `form:"treatment"`
		Hardware  string `form:"hardware"`
	}](c)
	alone, err := s.Shop.Alone(c.Context(), kit.Session(c).Person.Name)
	if err != nil {
		return err
	}
	return s.onJoints(c, func(joint string) job.Command {
		return job.FitKit{
			Alone:     alone,
			Joint:     joint,
			Recipe:    in.text(),
			Socket:    in.Socket,
			Treatment: in.Treatment,
			Hardware:  in.Hardware,
			Source:    in.Source,
		}
	})
}

// ways reckons the plan by every school beside the one it has. That takes a moment,
// so the page asks for it by itself.
func (s planRoom) ways(c fiber.Ctx) error {
	st, pat, err := s.Shop.JobAndSheet(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	if !st.HasPlan() {
		return fault.New(fault.Missing, "plan", "Nothing is planned yet.", "Choose the work first.")
	}
	writes := kit.Session(c).Person.Role != job.Reader
	return s.show(c, 200, plan.WaysPage(st, s.Shop.Alternatives(pat, st), writes))
}

// readyPage lists what the job needs in hand before its next bolt.
func (s planRoom) readyPage(c fiber.Ctx, st *job.State) error {
	tools, err := s.Shop.Tools(c.Context())
	if err != nil {
		return err
	}
	return s.show(c, 200, ready.Page(library.Ready{
		Job: st, Library: s.Shop.Library(), Tools: tools, Now: s.Shop.Now(),
	}))
}
