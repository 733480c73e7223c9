package web

import (
	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/unit"
)

// unfinished says that the step of the form has fasteners left to act on.
func (s *Server) unfinished(c fiber.Ctx) bool {
	st, err := s.Store.Job(c.Context(), c.Params("job"))
	if err != nil {
		return false
	}
	step := st.Plan.Step(stepForm(c))
	return step != nil && !st.StepDone(step.ID) && (st.Current(step) != "" || len(step.Measures) > 0)
}

// after answers a write on the bench: the bench as it stands now, at the step it
// goes on with; a refusal in place with what was typed.
func (s *Server) after(c fiber.Ctx, err error) error {
	f := fault.As(err)
	if f == nil && err != nil {
		return err
	}
	if f != nil {
		typed := map[string]string{}
		for _, k := range []string{"other", "angle", "note", "what", "how", "reason", "choice", "turns", "csv", "cause", "drag",
			"value", "limit", "source", "readings", "new", "discard", "runout", "distance", "wheel", "key"} {
			typed[k] = c.FormValue(k)
		}
		c.Request().URI().QueryArgs().Set("step", c.FormValue("step"))
		if panel := c.FormValue("panel"); panel != "" {
			c.Request().URI().QueryArgs().Set("panel", panel)
		}
		if c.FormValue("one") != "" {
			c.Request().URI().QueryArgs().Set("f", c.FormValue("letter"))
		}
		return s.showBench(c, status(f), f, typed)
	}
	to := "/jobs/" + c.Params("job") + "/bench"
	// A step not finished keeps the place; a fastener chosen by touch gives way
	// to the next in order.
	if c.FormValue("stay") != "" && s.unfinished(c) {
		to += "?step=" + c.FormValue("step")
		c.Request().URI().QueryArgs().Set("step", c.FormValue("step"))
	}
	if c.Get("HX-Request") == "true" {
		c.Set("HX-Replace-Url", to)
		return s.showBench(c, 200, nil, nil)
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(to)
}

func (s *Server) keepStep(c fiber.Ctx) error {
	turns, _ := unit.Figure(c.FormValue("turns")) // the job asks for them where they are needed
	_, err := s.record(c, job.KeepStep{
		Step:   stepForm(c),
		Choice: c.FormValue("choice"),
		Note:   c.FormValue("note"),
		Turns:  turns,
	})
	return s.after(c, err)
}

func (s *Server) handle(c fiber.Ctx) error {
	h := job.Handle{Step: stepForm(c), Renewed: c.FormValue("renewed") != ""}
	if l := c.FormValue("letter"); l != "" {
		h.Letters = []string{l}
	}
	_, err := s.record(c, h)
	return s.after(c, err)
}

func (s *Server) later(c fiber.Ctx) error {
	_, err := s.record(c, job.Postpone{Step: stepForm(c)})
	return s.after(c, err)
}

func (s *Server) clear(c fiber.Ctx) error {
	_, err := s.record(c, job.ClearTrouble{
		Trouble: c.FormValue("trouble"),
		How:     c.FormValue("how"),
		Renewed: c.FormValue("renewed") != "",
	})
	return s.after(c, err)
}

func (s *Server) undo(c fiber.Ctx) error {
	_, err := s.record(c, job.UndoStep{Step: stepForm(c), Reason: c.FormValue("reason")})
	return s.after(c, err)
}
