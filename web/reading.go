package web

import (
	"fmt"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/recipe"
	"lugtak/core/vehicle"
	lookup "lugtak/pages/figures"
	pages "lugtak/pages/kit"
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
	x.Job, x.Library, x.Person = st, s.Shop.Library(), kit.Session(c).Person.Name
	var err error
	if x.Alone, err = s.Shop.Alone(c.Context(), x.Person); err != nil {
		return err
	}
	if x.Last, err = s.Shop.LastRead(c.Context(), st.Vehicle.Pattern); err != nil {
		return err
	}
	if x.Elsewhere, err = s.Shop.Elsewhere(c.Context(), st.Vehicle.Pattern); err != nil {
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

// differs is how this vehicle is otherwise than its sheet, as somebody sees it at the bench.
type differs struct {
	acted
	seconded
	What   string    `form:"what"`
	Gone   string    `form:"gone"` // a joint of the sheet that was said not to be
	Count  kit.Whole `form:"count"`
	Thread string    `form:"thread"`
	Drive  string    `form:"drive"`
	Socket string    `form:"socket"`
	Title  string    `form:"title"`
	Cell   string    `form:"cell"` // where one more sits, in the picture of the step
}

// seeJoint keeps what is otherwise on this vehicle; the plan follows.
func (s benchRoom) seeJoint(c fiber.Ctx, st *job.State) error {
	in := kit.Read[differs](c)
	x := vehicle.Seen{Joint: in.Gone, Count: in.Count.Value, Thread: in.Thread, Drive: in.Drive, Socket: in.Socket}
	x.Title = in.Title
	if in.What != vehicle.ThereAfter {
		j := st.Plan.Joint(in.Joint)
		if j == nil {
			return s.after(c, fault.New(fault.Missing, "joint", "The plan has no such joint.", "Choose one from the plan."))
		}
		x.Joint = j.Sheet
		step := st.Plan.Step(in.Step)
		if cell, err := strconv.Atoi(in.Cell); err == nil && step != nil && step.Corner == j.Corner {
			if at, ok := pages.At(step, cell); ok {
				x.Spot = (*vehicle.Place)(&at)
			}
		}
	}
	x, err := x.As(in.What)
	if err != nil {
		return s.after(c, err)
	}
	m := kit.Meta(c, s.Shop.Now())
	if in.Second != "" {
		if x.Second, err = s.second(c, in.seconded); err != nil {
			return s.after(c, err)
		}
	}
	return s.after(c, s.Shop.SeeJoint(c.Context(), st.ID, m, x))
}

// otherwise keeps how the vehicle turned out to be built; the plan follows.
func (s benchRoom) otherwise(c fiber.Ctx, st *job.State) error {
	in := kit.Read[struct {
		Key string `form:"key"`
		Is  string `form:"is"`
	}](c)
	return s.after(c, s.Shop.SeeBuilt(c.Context(), st.ID, kit.Meta(c, s.Shop.Now()), in.Key, in.Is))
}

// lack tightens a joint by its bolt, because no figure of the maker's is to be had.
func (s benchRoom) lack(c fiber.Ctx) error {
	in := kit.Read[struct {
		acted
		seconded
		Thread string `form:"thread"`
		Class  string `form:"class"`
		Looked string `form:"looked"`
	}](c)
	m := kit.Meta(c, s.Shop.Now())
	var err error
	if in.Second != "" {
		if m.Second, err = s.second(c, in.seconded); err != nil {
			return s.after(c, err)
		}
	}
	cmd := job.LackFigure{Joint: in.Joint, Thread: in.Thread, Class: in.Class, Looked: in.Looked}
	_, _, err = s.Shop.Record(c.Context(), c.Params("job"), m, cmd)
	return s.after(c, err)
}

// paste reads a paragraph of the manual, and takes nothing.
func (s planRoom) paste(c fiber.Ctx, st *job.State) error {
	typed := kit.Typed(c)
	lines, err := recipe.Paste(typed["text"], s.Shop.Library().JointTitles())
	f := fault.As(err)
	if f == nil && err != nil {
		return err
	}
	code := 200
	if f != nil {
		code = kit.Status(f)
	}
	return s.showFigures(c, code, st, lookup.Shown{Typed: typed, Pasted: lines, Fault: f})
}

// keepPasted keeps the figures of a paragraph that somebody compared with the page, all or none.
func (s planRoom) keepPasted(c fiber.Ctx, st *job.State) error {
	typed := kit.Typed(c)
	lines, err := recipe.Paste(typed["text"], s.Shop.Library().JointTitles())
	var all []vehicle.Reading
	if err == nil {
		all, err = s.compared(c, st, typed, lines)
	}
	if err == nil {
		err = s.Shop.ReadFigures(c.Context(), kit.Meta(c, s.Shop.Now()).ID, all)
	}
	if f := fault.As(err); f != nil {
		return s.showFigures(c, kit.Status(f), st, lookup.Shown{Typed: typed, Pasted: lines, Fault: f})
	} else if err != nil {
		return err
	}
	return kit.See(c, "/jobs/"+st.ID+"/figures")
}

// compared are the readings of a paragraph, as far as it is said of which joint they are.
func (s planRoom) compared(
	c fiber.Ctx, st *job.State, typed map[string]string, lines []recipe.Line,
) ([]vehicle.Reading, error) {
	if typed["compared"] == "" {
		return nil, fault.New(fault.Missing, "compared", "It is not said that somebody compared them with the page.",
			"Hold each against the page, then say so.")
	}
	m := kit.Meta(c, s.Shop.Now())
	var out []vehicle.Reading
	for i, l := range lines {
		j := st.Plan.Joint(typed[fmt.Sprint("of-", i+1)])
		if j == nil || l.Recipe == "" {
			continue
		}
		out = append(out, vehicle.Reading{
			Sheet:  st.Vehicle.Pattern,
			Joint:  j.Sheet,
			Recipe: l.Recipe,
			Thread: l.Thread,
			Class:  l.Class,
			Source: typed["source"],
			Page:   typed["page"],
			By:     m.By,
			At:     m.At,
		})
	}
	return out, nil
}
