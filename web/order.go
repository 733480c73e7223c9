package web

import (
	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/plan"
	"lugtak/library"
	"lugtak/pages/order"
	"lugtak/web/kit"
)

func (s planRoom) order(c fiber.Ctx) error { return s.showOrder(c, 200, nil, nil) }

// showOrder shows what can be planned, with what the walk-round accepted, the plan
// has or the form had ticked.
func (s planRoom) showOrder(c fiber.Ctx, code int, ask *library.Ask, f *fault.Fault) error {
	st, pat, err := s.Shop.JobAndSheet(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	offers, err := s.Shop.OffersOf(c.Context(), st, pat)
	if err != nil {
		return err
	}
	if ask == nil {
		now := library.AskOf(st.Plan)
		if ask = &now; !st.HasPlan() {
			ask.Tasks = s.Shop.Accepted(st, offers)
		}
	}
	return s.show(c, code, order.Page(st, s.Shop.Library(), offers, *ask, f))
}

// ask reads the form of an order, or an address with the same.
func (s planRoom) ask(c fiber.Ctx) (library.Ask, error) {
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
		return a, fault.New(fault.TooLong, "task", "That is more than one job holds.", "Order at most 24 at once.")
	}
	return a, nil
}

const maxTasks = 24

// weigh reckons the ticked work as one job. Nothing is recorded.
func (s planRoom) weigh(c fiber.Ctx) error {
	st, pat, err := s.Shop.JobAndSheet(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	ask, err := s.ask(c)
	ask = ask.Keeping(st.Plan)
	ask.OdometerKM = st.OdometerKM
	if err == nil {
		ask.Built, err = s.Shop.Built(c.Context(), st)
	}
	if err == nil {
		ask.Opened, err = s.Shop.Seized(c.Context())
	}
	var v library.Weighed
	if err == nil {
		v, err = s.Shop.Library().Weigh(pat, ask, s.Shop.Offers(pat.As(ask.Built)))
	}
	f := fault.As(err)
	if f == nil && err != nil {
		return err
	}
	return s.show(c, 200, order.Weighed(v, f))
}

// planWork compiles what was ordered and freezes it into the job.
func (s planRoom) planWork(c fiber.Ctx) error {
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
func (s planRoom) seeBuilt(c fiber.Ctx) error {
	in := kit.Read[struct {
		Key string `form:"key"`
		Is  string `form:"is"`
	}](c)
	return s.onPlan(c, s.Shop.SeeBuilt(c.Context(), c.Params("job"), kit.Meta(c, s.Shop.Now()), in.Key, in.Is))
}

// school changes one school of a plan, and compiles it anew around what is done.
func (s planRoom) school(c fiber.Ctx, st *job.State) error {
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
		return s.onPlan(c, fault.New(fault.BadChoice, "school", "No way of working was chosen.",
			"Choose one of those shown."))
	}
	return s.onPlan(c, s.Shop.Plan(c.Context(), st.ID, kit.Meta(c, s.Shop.Now()), ask))
}
