package web

import (
	"maps"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/diagnose"
	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/record"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
	"lugtak/library"
	"lugtak/store"
)

type orderView struct {
	Job         *job.State
	Groups      []orderGroup
	Schools     []plan.SchoolUsed
	Technicians int
	Owed        int
	Fault       *fault.Fault
}

// orderGroup is one operation with the places it can be done at.
type orderGroup struct {
	Title, Family string
	Places        []orderPlace
}

type orderPlace struct {
	Task, Name string
	Ticked     bool
}

// offers is what can be ordered on a pattern; it is reckoned once for each sheet.
func (s *Server) offers(p vehicle.Pattern) []plan.Task {
	type key struct {
		id      string
		version int
		joints  int
	}
	k := key{p.ID, p.Version, len(p.Spec)}
	if o, ok := s.offered.Load(k); ok {
		return o.([]plan.Task)
	}
	out := s.lib().Offers(p)
	s.offered.Store(k, out)
	return out
}

// jobAndSheet is the job of the request with its vehicle's sheet as it stands now.
func (s *Server) jobAndSheet(c fiber.Ctx) (*job.State, vehicle.Pattern, error) {
	st, err := s.Store.Job(c.Context(), c.Params("job"))
	if err != nil {
		return nil, vehicle.Pattern{}, err
	}
	pat, err := s.pattern(c, st.Vehicle.Pattern)
	return st, pat, err
}

func (s *Server) order(c fiber.Ctx) error { return s.showOrder(c, 200, nil, nil) }

// showOrder shows what can be planned, with what the walk-round accepted, the plan
// has or the form had ticked.
func (s *Server) showOrder(c fiber.Ctx, code int, ask *library.Ask, f *fault.Fault) error {
	st, pat, err := s.jobAndSheet(c)
	if err != nil {
		return err
	}
	offers := s.offers(pat)
	if ask == nil {
		now := library.AskOf(st.Plan)
		if ask = &now; !st.HasPlan() {
			ask.Tasks = s.accepted(st, offers)
		}
	}
	v := orderView{Job: st, Owed: len(st.Owed()), Fault: f, Technicians: ask.Technicians}
	for _, op := range s.lib().Operations {
		g := orderGroup{Title: strings.TrimSpace(strings.ReplaceAll(op.Title, "{axle}", "")), Family: op.Family}
		g.Title = unit.Capital(g.Title)
		for _, t := range offers {
			if t.Operation == op.ID {
				name := "in the middle"
				if t.Corner != "" {
					name = t.Corner.Axle() + " " + t.Corner.Side()
				}
				g.Places = append(g.Places, orderPlace{t.String(), name, slices.Contains(ask.Tasks, t)})
			}
		}
		if len(g.Places) > 0 {
			v.Groups = append(v.Groups, g)
		}
	}
	for _, x := range s.lib().Schools {
		way := ask.Ways[x.Key]
		if way == "" {
			way = x.Default
		}
		v.Schools = append(v.Schools, plan.SchoolUsed{School: x, Way: way})
	}
	return s.render(c, code, "order", "Choose the work", v)
}

// accepted are the tasks for what the walk-round's proposals were accepted for.
func (s *Server) accepted(st *job.State, offers []plan.Task) []plan.Task {
	var out []plan.Task
	for _, ch := range st.Walk.Proposals {
		i := slices.IndexFunc(s.lib().Signs.Suspects, func(x diagnose.Suspect) bool { return x.Key == ch.Suspect })
		if !ch.Accept || i < 0 {
			continue
		}
		corners := []vehicle.Corner{vehicle.Corner(ch.Side)}
		if ch.Both {
			corners = append(corners, corners[0].Opposite())
		}
		for _, corner := range corners {
			if t, ok := library.TaskFor(offers, s.lib().Signs.Suspects[i], corner); ok && !slices.Contains(out, t) {
				out = append(out, t)
			}
		}
	}
	return out
}

// ask reads the form of an order.
func (s *Server) ask(c fiber.Ctx) (library.Ask, error) {
	a := library.Ask{Ways: map[string]string{}, Technicians: 1}
	if c.FormValue("technicians") == "2" {
		a.Technicians = 2
	}
	for _, v := range c.Request().PostArgs().PeekMulti("task") {
		t, err := plan.ParseTask(string(v))
		if err != nil {
			return a, err
		}
		a.Tasks = append(a.Tasks, t)
	}
	for _, x := range s.lib().Schools {
		if way := c.FormValue("school-" + x.Key); way != "" {
			a.Ways[x.Key] = way
		}
	}
	if len(a.Tasks) > maxTasks {
		return a, fault.New("too_long", "task", "That is more than one job holds.", "Order at most 24 at once.")
	}
	return a, nil
}

const maxTasks = 24

// planWork compiles what was ordered and freezes it into the job.
func (s *Server) planWork(c fiber.Ctx) error {
	ask, err := s.ask(c)
	if err == nil {
		err = s.compile(c, ask)
	}
	if f := fault.As(err); f != nil {
		return s.showOrder(c, status(f), &ask, f)
	} else if err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/jobs/" + c.Params("job") + "/plan")
}

// compile plans what is asked with the sheet, tools and times of today.
func (s *Server) compile(c fiber.Ctx, ask library.Ask) error {
	return s.compileAs(c, ask, nil, "another way of working")
}

// compileAs is compile with what was just seen of the vehicle; where the work has begun
// the plan is made anew around what is done.
func (s *Server) compileAs(c fiber.Ctx, ask library.Ask, seen map[string]string, why string) error {
	st, pat, err := s.jobAndSheet(c)
	if err != nil {
		return err
	}
	if ask.Built, err = s.built(c, st); err != nil {
		return err
	}
	maps.Copy(ask.Built, seen)
	if ask.Timed, err = s.Store.StepTimes(c.Context()); err != nil {
		return err
	}
	if st.HasPlan() && st.Begun() {
		ask.Done, ask.Begun = st.DoneSteps()
	}
	made, err := s.lib().Compile(pat, ask)
	if err != nil {
		return err
	}
	if st.HasPlan() && st.Begun() {
		_, err = s.record(c, job.Rework{Plan: made, Why: why})
		return err
	}
	_, err = s.record(c, job.PlanWork{
		Tasks: ask.Tasks,
		Ways:  ask.Ways,
		Plan:  made,
		House: s.lib().House(),
	})
	return err
}

// built is what somebody saw of how the job's vehicle is built.
func (s *Server) built(c fiber.Ctx, st *job.State) (map[string]string, error) {
	like, err := s.Store.BuiltLike(c.Context(), st.Vehicle.Pattern)
	out := map[string]string{}
	for _, b := range like {
		if b.Vehicle == st.Vehicle.ID {
			out[b.Key] = b.Is
		}
	}
	return out, err
}

// seeBuilt keeps how a vehicle turned out to be built, once the plan bears it out, and
// lets the plan follow.
func (s *Server) seeBuilt(c fiber.Ctx) error {
	st, err := s.Store.Job(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	key, is := c.FormValue("key"), c.FormValue("is")
	i := slices.IndexFunc(s.lib().Builds, func(b operation.Build) bool { return b.Key == key })
	if i < 0 || !slices.ContainsFunc(s.lib().Builds[i].Answers, func(a operation.BuildAnswer) bool { return a.Key == is }) {
		return s.onPlan(c, fault.New("bad_choice", "is", "That is no answer to how it is built.", "Choose one of those drawn."))
	}
	ask := library.AskOf(st.Plan)
	m := s.meta(c)
	seen := store.Built{
		VehicleBuilt: record.VehicleBuilt{Vehicle: st.Vehicle.ID, Pattern: st.Vehicle.Pattern, Key: key, Is: is},
		By:           m.By,
		At:           m.At,
	}
	err = s.compileAs(c, ask, map[string]string{key: is}, "seen on this vehicle: "+s.lib().Builds[i].Question)
	if err == nil {
		err = s.Store.SetBuilt(c.Context(), "built:"+m.ID, seen)
	}
	return s.onPlan(c, err)
}

// school changes one school of a plan, and compiles it anew around what is done.
func (s *Server) school(c fiber.Ctx) error {
	st, err := s.Store.Job(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	ask := library.AskOf(st.Plan)
	key, hands := c.FormValue("school"), intForm(c, "technicians")
	switch {
	case key != "":
		ask.Ways[key] = c.FormValue("way")
	case hands == 1 || hands == 2:
		ask.Technicians = hands
	default:
		return s.onPlan(c, fault.New("bad_choice", "school", "No way of working was chosen.", "Choose one of those shown."))
	}
	return s.onPlan(c, s.compile(c, ask))
}
