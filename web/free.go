package web

import (
	"strconv"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/vehicle"
	"lugtak/library"
	"lugtak/pages/free"
	"lugtak/web/kit"
)

// freeWork shows the work no operation knows, as far as somebody has said it.
func (s planRoom) freeWork(c fiber.Ctx, st *job.State) error { return s.showFree(c, 200, st, nil) }

func (s planRoom) showFree(c fiber.Ctx, code int, st *job.State, f *fault.Fault) error {
	x := free.Shown{Job: st, Library: s.Shop.Library(), Fault: f, Anew: c.Query("anew") != ""}
	if f != nil {
		x.Typed = kit.Typed(c)
	}
	if st.HasPlan() && st.Plan.Free != nil && st.Signature != nil {
		var err error
		if x.File, err = library.DraftFile(*st.Plan.Free, st.Took()); err != nil {
			return err
		}
	}
	return s.show(c, code, free.Page(x))
}

// answerFree goes on where an act of free work was taken, and shows in place why it was not.
func (s planRoom) answerFree(c fiber.Ctx, st *job.State, err error, to string) error {
	if f := fault.As(err); f != nil {
		return s.showFree(c, kit.Status(f), st, f)
	} else if err != nil {
		return err
	}
	return kit.See(c, "/jobs/"+st.ID+to)
}

// beginFree says what the work is.
func (s planRoom) beginFree(c fiber.Ctx, st *job.State) error {
	in := kit.Read[struct {
		Title  string   `form:"title"`
		Corner string   `form:"corner"`
		From   string   `form:"from"`
		Sets   kit.Tick `form:"sets"`
	}](c)
	var corner vehicle.Corner
	if in.Corner != operation.Under {
		var err error
		if corner, err = vehicle.ParseCorner(in.Corner); err != nil {
			return s.answerFree(c, st, fault.New(fault.BadCorner, "corner", "It is not said where the work is.",
				"Choose a corner, or the middle."), "")
		}
	}
	d := operation.Draft{Title: in.Title, From: operation.Stance(in.From), Sets: bool(in.Sets)}
	err := s.Shop.BeginFree(c.Context(), st.ID, kit.Meta(c, s.Shop.Now()), d, corner)
	return s.answerFree(c, st, err, "/free")
}

// freeAct says what is opened, taken off or carried next; it is done at the bench.
func (s planRoom) freeAct(c fiber.Ctx, st *job.State) error {
	in := kit.Read[struct {
		Do      string    `form:"do"`
		What    string    `form:"what"`
		Carried string    `form:"carried"`
		Count   kit.Whole `form:"count"`
		System  string    `form:"system"`
		New     kit.Tick  `form:"new"`
		Cell    string    `form:"cell"`
	}](c)
	a := operation.DraftAct{Do: operation.Deed(in.Do), Title: in.What}
	switch a.Do {
	case operation.DeedCarry:
		a.Title = in.Carried
	case operation.DeedOff:
		a.New = bool(in.New)
	default:
		a.Count, a.System = in.Count.Value, in.System
		cell, err := strconv.Atoi(in.Cell)
		at, ok := free.At(st.Plan, cell)
		if err != nil || !ok {
			f := fault.New(fault.Missing, "cell", "It is not said where it sits.", "Touch the place in the picture.")
			return s.answerFree(c, st, f, "")
		}
		a.Spot = &at
	}
	return s.answerFree(c, st, s.Shop.Free(c.Context(), st.ID, kit.Meta(c, s.Shop.Now()), a), "/bench")
}

// dropFree takes the last act back, or free work of which nothing was said.
func (s planRoom) dropFree(c fiber.Ctx, st *job.State) error {
	to := "/free"
	if st.HasPlan() && (st.Plan.Free == nil || len(st.Plan.Free.Acts) == 0) {
		to = "/plan"
	}
	return s.answerFree(c, st, s.Shop.DropFree(c.Context(), st.ID, kit.Meta(c, s.Shop.Now())), to)
}
