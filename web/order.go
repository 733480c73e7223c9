package web

import (
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
	"lugtak/library"
	"lugtak/web/kit"
)

type orderView struct {
	Job         *job.State
	Corners     []orderCorner
	Schools     []plan.SchoolUsed
	Technicians int
	Owed        int
	Fault       *fault.Fault
}

// orderCorner is what can be replaced at one place of the vehicle.
type orderCorner struct {
	Key, Name string
	Places    []orderPlace
}

type orderPlace struct {
	Task, Name, Sign string
	Ticked           bool
}

// orderCorners lists the places in the order one reads a vehicle from above.
var orderCorners = []struct {
	corner vehicle.Corner
	name   string
}{
	{"FL", "front left"},
	{"FR", "front right"},
	{"", "in the middle"},
	{"RL", "rear left"},
	{"RR", "rear right"},
}

// shortName is an operation where its place is plain: “Front hub unit” is a hub unit there.
func shortName(title string) string {
	name, _, _ := strings.Cut(title, ",")
	for _, axle := range []string{"{axle} ", "Front ", "Rear "} {
		name = strings.TrimPrefix(name, axle)
	}
	return unit.Capital(name)
}

// partSigns are small drawings of what is replaced, by the kind of its part, on 48 by 48.
var partSigns = map[string]string{
	"hub unit":       "M24 6a18 18 0 1 0 .1 0M24 18a6 6 0 1 0 .1 0M24 9v5M24 34v5M9 24h5M34 24h5",
	"drive axle":     "M4 24h10M34 24h10M14 16l6 8-6 8zM34 16l-6 8 6 8zM20 24h8",
	"strut":          "M24 4v6M24 38v6M16 12l16 4-16 4 16 4-16 4 16 4-16 4",
	"damper":         "M24 4v14M17 18h14v18H17zM24 36v8M17 24h14",
	"ball joint":     "M24 6v16M24 22a9 9 0 1 0 .1 0M10 44h28",
	"tie rod":        "M6 24h24M36 17a7 7 0 1 0 .1 0",
	"control arm":    "M8 12l30 12L8 36M8 8v8M8 32v8M38 20a4 4 0 1 0 .1 0",
	"link":           "M12 12a5 5 0 1 0 .1 0M36 36a5 5 0 1 0 .1 0M15 20l18 14",
	"rotor":          "M24 6a18 18 0 1 0 .1 0M24 16a8 8 0 1 0 .1 0",
	"pads":           "M12 10q-8 14 0 28M20 10q-6 14 0 28h6V10zM34 14v20",
	"idler arm":      "M10 36L36 14M10 31a5 5 0 1 0 .1 0M36 9a5 5 0 1 0 .1 0",
	"centre support": "M6 30h36v8H6zM24 10a10 10 0 1 0 .1 0",
}

// signOf is the drawing of an operation's first part that has one.
func signOf(op operation.Operation) string {
	for _, p := range op.Parts {
		if d := partSigns[p.Kind]; d != "" {
			return d
		}
	}
	return ""
}

func (s *Server) order(c fiber.Ctx) error { return s.showOrder(c, 200, nil, nil) }

// showOrder shows what can be planned, with what the walk-round accepted, the plan
// has or the form had ticked.
func (s *Server) showOrder(c fiber.Ctx, code int, ask *library.Ask, f *fault.Fault) error {
	st, pat, err := s.Shop.JobAndSheet(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	offers := s.Shop.Offers(pat)
	if ask == nil {
		now := library.AskOf(st.Plan)
		if ask = &now; !st.HasPlan() {
			ask.Tasks = s.Shop.Accepted(st, offers)
		}
	}
	v := orderView{Job: st, Owed: len(st.Owed()), Fault: f, Technicians: ask.Technicians}
	for _, place := range orderCorners {
		g := orderCorner{Key: "middle", Name: place.name}
		if place.corner != "" {
			g.Key = string(place.corner)
		}
		for _, op := range s.Shop.Library().Operations {
			t := plan.Task{Operation: op.ID, Corner: place.corner}
			if !slices.Contains(offers, t) {
				continue
			}
			g.Places = append(g.Places, orderPlace{t.String(), shortName(op.Title), signOf(op), slices.Contains(ask.Tasks, t)})
		}
		if len(g.Places) > 0 {
			v.Corners = append(v.Corners, g)
		}
	}
	for _, x := range s.Shop.Library().Schools {
		way := ask.Ways[x.Key]
		if way == "" {
			way = x.Default
		}
		v.Schools = append(v.Schools, plan.SchoolUsed{School: x, Way: way})
	}
	return s.render(c, code, "order", "Choose the work", v)
}

// ask reads the form of an order, or an address with the same.
func (s *Server) ask(c fiber.Ctx) (library.Ask, error) {
	a := library.Ask{Ways: map[string]string{}, Technicians: 1}
	in := kit.Read[struct {
		Technicians kit.Whole `form:"technicians"`
		Tasks       []string  `form:"task"`
	}](c)
	if in.Technicians.Value == 2 {
		a.Technicians = 2
	}
	for _, text := range in.Tasks {
		t, err := plan.ParseTask(text)
		if err != nil {
			return a, err
		}
		a.Tasks = append(a.Tasks, t)
	}
	said := kit.Typed(c)
	for _, x := range s.Shop.Library().Schools {
		if way := said["school-"+x.Key]; way != "" {
			a.Ways[x.Key] = way
		}
	}
	if len(a.Tasks) > maxTasks {
		return a, fault.New("too_long", "task", "That is more than one job holds.", "Order at most 24 at once.")
	}
	return a, nil
}

const maxTasks = 24

// weighView is what the ticked work takes, and what the other side would add.
type weighView struct {
	Rows     []weighRow
	ByKM     []weighRow // not ticked: offered by distance beside what is
	Weighed  bool       // some row has another side to weigh
	Range    plan.Estimate
	Warnings []string
	Fault    *fault.Fault

	OdometerKM int
}

type weighRow struct {
	Title, Why string
	Other      string // the opposite side, where it is offered and not ticked
	Tick       string // the task that is offered
	Now, Later float64
}

// most is how many other sides are weighed, and how many offers by distance: each takes
// two plans.
const most = 4

// weigh reckons the ticked work as one job, and what its other sides would add now against
// later. Nothing is recorded.
func (s *Server) weigh(c fiber.Ctx) error {
	st, pat, err := s.Shop.JobAndSheet(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	ask, err := s.ask(c)
	v := weighView{}
	ask.OdometerKM = st.OdometerKM
	if err == nil && len(ask.Tasks) > 0 {
		err = s.weighed(c, st, pat, ask, &v)
	}
	if f := fault.As(err); f != nil {
		v.Fault = f
	} else if err != nil {
		return err
	}
	return s.render(c, 200, "weigh", "What the work takes", v)
}

func (s *Server) weighed(c fiber.Ctx, st *job.State, pat vehicle.Pattern, ask library.Ask, v *weighView) error {
	var err error
	if ask.Built, err = s.Shop.Built(c.Context(), st); err != nil {
		return err
	}
	minutes := func(tasks ...plan.Task) (plan.Plan, float64, error) {
		of := ask
		of.Tasks = tasks
		made, err := s.Shop.Library().Compile(pat, of)
		if err != nil {
			return made, 0, err
		}
		sol, err := made.Clock(s.Shop.Library().Costs())
		return made, sol.Makespan, err
	}
	made, base, err := minutes(ask.Tasks...)
	if err != nil {
		return err
	}
	shop := s.Shop.Library().Shop
	v.Range = made.Reckon(base, plan.Expect{SeizedOdds: shop.SeizedOdds, SeizedMin: shop.SeizedMin})
	v.Warnings = made.Warnings
	against := func(row *weighRow, other plan.Task) error {
		_, both, err := minutes(append(slices.Clone(ask.Tasks), other)...)
		if err != nil {
			return err
		}
		_, alone, err := minutes(other)
		row.Now, row.Later = both-base, alone
		return err
	}
	offers, weighed := s.Shop.Offers(pat), 0
	for _, t := range made.Tasks {
		op, _ := s.Shop.Library().Operation(t.Operation)
		row := weighRow{Title: taskTitle(op, t), Why: op.Pairs}
		other := plan.Task{Operation: t.Operation, Corner: t.Corner.Opposite()}
		if weighed < most && t.Corner != "" && slices.Contains(offers, other) && !slices.Contains(made.Tasks, other) {
			weighed++
			row.Other = other.Corner.Side() + " side"
			row.Tick = other.String()
			if err := against(&row, other); err != nil {
				return err
			}
		}
		v.Rows = append(v.Rows, row)
	}
	v.Weighed = weighed > 0
	for _, t := range offers {
		op, _ := s.Shop.Library().Operation(t.Operation)
		if len(v.ByKM) == most || !t.OfferedByDistance(op, made.Tasks, st.OdometerKM) {
			continue
		}
		row := weighRow{
			Title: taskTitle(op, t),
			Why:   unit.Capital(op.ByDistance.Because) + ".",
			Tick:  t.String(),
		}
		if err := against(&row, t); err != nil {
			return err
		}
		v.ByKM = append(v.ByKM, row)
	}
	v.OdometerKM = st.OdometerKM
	return nil
}

// taskTitle names a task with its side.
func taskTitle(op operation.Operation, t plan.Task) string {
	title := unit.Capital(strings.ReplaceAll(op.Title, "{axle}", t.Corner.Axle()))
	if t.Corner != "" {
		title += ", " + t.Corner.Side()
	}
	return title
}

// planWork compiles what was ordered and freezes it into the job.
func (s *Server) planWork(c fiber.Ctx) error {
	ask, err := s.ask(c)
	if err == nil {
		err = s.Shop.Plan(c.Context(), c.Params("job"), kit.Meta(c, s.Shop.Now()), ask)
	}
	if f := fault.As(err); f != nil {
		return s.showOrder(c, kit.Status(f), &ask, f)
	} else if err != nil {
		return err
	}
	return kit.See(c, "/jobs/"+c.Params("job")+"/plan")
}

// seeBuilt keeps how a vehicle turned out to be built, and lets the plan follow.
func (s *Server) seeBuilt(c fiber.Ctx) error {
	in := kit.Read[struct {
		Key string `form:"key"`
		Is  string `form:"is"`
	}](c)
	return s.onPlan(c, s.Shop.SeeBuilt(c.Context(), c.Params("job"), kit.Meta(c, s.Shop.Now()), in.Key, in.Is))
}

// school changes one school of a plan, and compiles it anew around what is done.
func (s *Server) school(c fiber.Ctx) error {
	st, err := s.Shop.Job(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	ask := library.AskOf(st.Plan)
	in := kit.Read[struct {
		School      string    `form:"school"`
		Way         string    `form:"way"`
		Technicians kit.Whole `form:"technicians"`
	}](c)
	switch {
	case in.School != "":
		ask.Ways[in.School] = in.Way
	case in.Technicians.Value == 1 || in.Technicians.Value == 2:
		ask.Technicians = in.Technicians.Value
	default:
		return s.onPlan(c, fault.New("bad_choice", "school", "No way of working was chosen.", "Choose one of those shown."))
	}
	return s.onPlan(c, s.Shop.Plan(c.Context(), st.ID, kit.Meta(c, s.Shop.Now()), ask))
}
