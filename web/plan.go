package web

import (
	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/recipe"
	"lugtak/core/schedule"
)

type planView struct {
	Job      *job.State
	Joints   []planJoint
	Parts    []planPart
	Tools    []planTool
	Steps    []planStep
	Time     timelineView
	Total    float64
	Changes  int
	Raises   int
	Schools  []schoolView
	Warnings []string
	Owed     int
	Fault    *fault.Fault
}

// schoolView is one way to work the plan, with what it takes.
type schoolView struct {
	Name    string
	Minutes float64
	Changes int
	Over    float64 // per cent above the proved least
}

// schools reckons the plan in the best order for one and for two technicians. It
// is kept with the plan it belongs to: a job's plan seldom changes.
func (s *Server) schools(st *job.State) []schoolView {
	type kept struct {
		plan *operation.Plan
		out  []schoolView
	}
	if k, ok := s.timings.Load(st.ID); ok && k.(kept).plan == st.Plan {
		return k.(kept).out
	}
	var out []schoolView
	for n, name := range []string{"best order found", "two technicians"} {
		sol, err := schedule.Solve(st.Plan.Problem(s.Library.Shop.ToolChangeMin, n+1))
		if err != nil {
			s.Log.Warn("plan not put in order", "job", st.ID, "error", err)
			continue
		}
		out = append(out, schoolView{name, sol.Makespan, sol.ToolChanges, 100 * (sol.Makespan/sol.Bound - 1)})
	}
	s.timings.Store(st.ID, kept{st.Plan, out})
	return out
}

type planJoint struct {
	*operation.PlanJoint
	Count   int
	Words   []string
	Doubts  []recipe.Warning
	Preload string
}

type planPart struct {
	operation.Part
	Status string
}

type planTool struct {
	Name, For string
	Steps     int
}

type planStep struct {
	*operation.Step
	No    int
	Start float64
	Done  bool
	Joint string
}

func (s *Server) plan(c fiber.Ctx) error { return s.showPlan(c, 200, nil) }

func (s *Server) showPlan(c fiber.Ctx, code int, f *fault.Fault) error {
	st, err := s.Store.Job(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	if !st.HasPlan() {
		return c.Redirect().To("/jobs/" + st.ID + "/walk")
	}
	p := st.Plan
	v := planView{Job: st, Warnings: p.Warnings, Owed: len(st.Owed()), Fault: f}
	for i := range p.Joints {
		v.Joints = append(v.Joints, s.planJoint(&p.Joints[i]))
	}
	for _, part := range p.Parts {
		v.Parts = append(v.Parts, planPart{part, st.Parts[part.Key]})
	}
	seen := map[string]int{}
	var lay []schedule.Step
	for i := range p.Steps {
		x := &p.Steps[i]
		lay = append(lay, schedule.Step{ID: x.ID, Minutes: x.Minutes, Hands: x.Hands(), Tool: x.NeedsTool(), Position: string(x.MovesTo), Needs: x.Needs})
		if x.NeedsTool() != "" {
			if k, ok := seen[x.Tool]; ok {
				v.Tools[k].Steps++
			} else {
				seen[x.Tool] = len(v.Tools)
				v.Tools = append(v.Tools, planTool{x.Tool, x.Place, 1})
			}
		}
	}
	tl := schedule.Lay(lay, s.Library.Shop.ToolChangeMin)
	v.Time, v.Total, v.Changes, v.Raises = timeline(p, tl), tl.Makespan, tl.ToolChanges, tl.Raises
	v.Schools = s.schools(st)
	for i := range p.Steps {
		x := planStep{Step: &p.Steps[i], No: i + 1, Start: tl.Slots[i].Start, Done: st.StepDone(p.Steps[i].ID)}
		if j := p.Joint(p.Steps[i].Joint); j != nil {
			x.Joint = j.Title
		}
		v.Steps = append(v.Steps, x)
	}
	return s.render(c, code, "plan", "Plan", v)
}

func (s *Server) planJoint(j *operation.PlanJoint) planJoint {
	r, _ := recipe.Parse(j.Recipe) // checked when it was compiled
	v := planJoint{PlanJoint: j, Count: len(j.Letters), Words: r.Explain()}
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

func (s *Server) part(c fiber.Ctx) error {
	_, err := s.record(c, job.Stocked{Part: c.FormValue("part"), Status: c.FormValue("status")})
	if f := fault.As(err); f != nil {
		return s.showPlan(c, status(f), f)
	} else if err != nil {
		return err
	}
	if c.Get("HX-Request") == "true" {
		return s.showPlan(c, 200, nil)
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/jobs/" + c.Params("job") + "/plan")
}

// record decides and writes one command for the job of the request, and tells
// every page that shows it.
func (s *Server) record(c fiber.Ctx, cmd job.Command) ([]job.Event, error) {
	m := s.meta(c)
	return s.recordAs(c, m, cmd)
}

func (s *Server) recordAs(c fiber.Ctx, m job.Meta, cmd job.Command) ([]job.Event, error) {
	id := c.Params("job")
	st, events, err := s.Store.Record(c.Context(), id, m, cmd)
	if err == nil && len(events) > 0 {
		s.hub.send("job:"+id, "change", map[string]any{"seq": st.Seq, "by": m.By, "id": m.ID})
	}
	return events, err
}
