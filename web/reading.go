package web

import (
	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/vehicle"
	lookup "lugtak/pages/figures"
	"lugtak/web/kit"
)

// reads is a figure as somebody reads it for a joint of a job.
type reads struct {
	acted
	figured
	seconded
	Page      string   `form:"page"`
	Thread    string   `form:"thread"`
	Class     string   `form:"class"`
	Treatment string   `form:"treatment"`
	Condition string   `form:"condition"`
	Renew     kit.Tick `form:"renew"`
	Hardware  string   `form:"hardware"`
	Hidden    kit.Tick `form:"hidden"`
}

// read keeps what was read at the bench, where the bolt waits for it.
func (s benchRoom) read(c fiber.Ctx, st *job.State) error { return s.after(c, s.readAs(c, st)) }

// readAs keeps a figure under the name of whoever is signed in, or of the second person who read it with them.
func (s *Server) readAs(c fiber.Ctx, st *job.State) error {
	in := kit.Read[reads](c)
	j := st.Plan.Joint(in.Joint)
	if j == nil {
		return fault.New(fault.Missing, "joint", "The plan has no such joint.", "Choose one from the plan.")
	}
	m := kit.Meta(c, s.Shop.Now())
	r := vehicle.Reading{
		Sheet:     st.Vehicle.Pattern,
		Joint:     j.Sheet,
		Recipe:    in.text(),
		Thread:    in.Thread,
		Class:     in.Class,
		Treatment: in.Treatment,
		Condition: vehicle.Condition(in.Condition),
		Renew:     bool(in.Renew),
		Hardware:  in.Hardware,
		Source:    in.Source,
		Page:      in.Page,
		Hidden:    bool(in.Hidden),
		By:        m.By,
		At:        m.At,
	}
	var err error
	if in.Second != "" {
		if r.By, err = s.second(c, in.seconded); err != nil {
			return err
		}
	}
	if r.Photo, err = photoOf(c); err != nil {
		return err
	}
	return s.Shop.ReadFigure(c.Context(), m.ID, r)
}

// figures lists what the job has to look up, with one row open to be typed.
func (s planRoom) figures(c fiber.Ctx, st *job.State) error {
	return s.showFigures(c, 200, st, lookup.Shown{Open: c.Query("joint")})
}

func (s planRoom) showFigures(c fiber.Ctx, code int, st *job.State, x lookup.Shown) error {
	x.Job, x.Person = st, kit.Session(c).Person.Name
	var err error
	if x.Alone, err = s.Shop.Alone(c.Context(), x.Person); err != nil {
		return err
	}
	if x.Last, err = s.Shop.LastRead(c.Context(), st.Vehicle.Pattern); err != nil {
		return err
	}
	return s.show(c, code, lookup.Page(x))
}

// readRow keeps one figure of the list, and opens the next.
func (s planRoom) readRow(c fiber.Ctx, st *job.State) error {
	err := s.readAs(c, st)
	if f := fault.As(err); f != nil {
		x := lookup.Shown{Fault: f, Typed: kit.Typed(c)}
		if j := st.Plan.Joint(x.Typed["joint"]); j != nil {
			x.Open = j.Sheet
		}
		return s.showFigures(c, kit.Status(f), st, x)
	} else if err != nil {
		return err
	}
	return kit.See(c, "/jobs/"+st.ID+"/figures")
}
