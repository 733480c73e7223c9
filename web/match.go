package web

import (
	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/pages/bench"
	"lugtak/web/kit"
)

func (s benchRoom) match(c fiber.Ctx) error { return s.showMatch(c, 200, nil) }

// matchForm is what is said of two parts beside one another.
type matchForm struct {
	acted
	Say  string `form:"say"` // look, accept or refuse
	Note string `form:"note"`
}

func (s benchRoom) showMatch(c fiber.Ctx, code int, f *fault.Fault) error {
	st, err := s.jobOf(c)
	if err != nil {
		return err
	}
	page, err := bench.Beside(s.Shop.Library(), st, st.Plan.Step(kit.Read[matchForm](c).Step), kit.Typed(c), f)
	if err != nil {
		return err
	}
	return s.show(c, code, page)
}

// judgePart takes or refuses a new part with what was measured.
func (s benchRoom) judgePart(c fiber.Ctx, st *job.State) error {
	in := kit.Read[matchForm](c)
	step := st.Plan.Step(in.Step)
	p, _ := st.Plan.Compared(step)
	x := bench.ReadSides(p.Kind, kit.Typed(c))
	if x.Bad != nil {
		return s.showMatch(c, kit.Status(x.Bad), x.Bad)
	}
	if in.Say != "accept" && in.Say != "refuse" {
		return s.showMatch(c, 200, nil)
	}
	_, err := s.record(
		c,
		job.Compare{Step: in.Step, Old: x.Old, New: x.New, Accept: in.Say == "accept", Note: in.Note},
	)
	if f := fault.As(err); f != nil {
		return s.showMatch(c, kit.Status(f), f)
	} else if err != nil {
		return err
	}
	if in.Say == "accept" {
		// What was laid beside is done, where its turn has come.
		m := kit.Meta(c, s.Shop.Now())
		m.ID, m.Seq = m.ID.And("kept"), 0
		_, err := s.recordAs(c, m, job.KeepStep{Step: step.ID})
		switch {
		case err == nil:
			return kit.See(c, "/jobs/"+st.ID+"/bench")
		case fault.As(err) == nil:
			return err
		}
		return kit.See(c, "/jobs/"+st.ID+"/bench?step="+string(step.ID))
	}
	// Refused: what can be done without the part comes first.
	m := kit.Meta(c, s.Shop.Now())
	m.ID, m.Seq = m.ID.And("replan"), 0
	if _, err := s.recordAs(c, m, s.Shop.Replan(st)); err != nil && fault.As(err) == nil {
		return err
	}
	return kit.See(c, "/jobs/"+st.ID+"/plan")
}
