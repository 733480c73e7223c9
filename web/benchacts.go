package web

import (
	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/web/kit"
)

// acted is what every form of the bench says: on what it acts, and what the page shows after.
type acted struct {
	Step   operation.StepID `form:"step"`
	Joint  string           `form:"joint"`
	Letter string           `form:"letter"`
	Panel  string           `form:"panel"`
	One    kit.Tick         `form:"one"`  // the fastener was chosen by touch
	Stay   kit.Tick         `form:"stay"` // until the step is done
}

// unfinished says that a step has fasteners left to act on.
func (s benchRoom) unfinished(c fiber.Ctx, id operation.StepID) bool {
	st, err := s.jobOf(c)
	if err != nil {
		return false
	}
	step := st.Plan.Step(id)
	return step != nil && !st.StepDone(step.ID) && (st.Current(step) != "" || len(step.Measures) > 0)
}

// after answers a write on the bench: the bench as it stands now, at the step it
// goes on with; a refusal in place with what was typed.
func (s benchRoom) after(c fiber.Ctx, err error) error {
	f := fault.As(err)
	if f == nil && err != nil {
		return err
	}
	in := kit.Read[acted](c)
	if f != nil { // in place: at that step, with that panel, on that fastener
		show := c.Request().URI().QueryArgs()
		show.Set("step", string(in.Step))
		if in.Panel != "" {
			show.Set("panel", in.Panel)
		}
		if in.One {
			show.Set("f", in.Letter)
		}
		return s.showBench(c, kit.Status(f), f, kit.Typed(c))
	}
	to := "/jobs/" + c.Params("job") + "/bench"
	// A step not finished keeps the place; a fastener chosen by touch gives way
	// to the next in order.
	if bool(in.Stay) && s.unfinished(c, in.Step) {
		to += "?step=" + string(in.Step)
		c.Request().URI().QueryArgs().Set("step", string(in.Step))
	}
	if kit.Part(c) { // one answer in place of a redirect and a second request
		c.Set("HX-Replace-Url", to)
		return s.showBench(c, 200, nil, nil)
	}
	return kit.See(c, to)
}

func (s benchRoom) keepStep(c fiber.Ctx) error {
	in := kit.Read[struct {
		acted
		Choice string `form:"choice"`
		Note   string `form:"note"`
		// The job asks for these where they are needed.
		Turns   kit.Figure `form:"turns"`
		Strokes kit.Whole  `form:"strokes"`
		Temp    kit.Figure `form:"temp"`
	}](c)
	_, err := s.record(c, job.KeepStep{
		Step:    in.Step,
		Choice:  in.Choice,
		Note:    in.Note,
		Turns:   in.Turns.Value,
		Strokes: in.Strokes.Value,
		TempC:   in.Temp.Value,
	})
	return s.after(c, err)
}

func (s benchRoom) handle(c fiber.Ctx) error {
	in := kit.Read[struct {
		acted
		Renewed kit.Tick `form:"renewed"`
	}](c)
	h := job.Handle{Step: in.Step, Renewed: bool(in.Renewed)}
	if in.Letter != "" {
		h.Letters = []string{in.Letter}
	}
	_, err := s.record(c, h)
	return s.after(c, err)
}

func (s benchRoom) later(c fiber.Ctx) error {
	_, err := s.record(c, job.Postpone{Step: kit.Read[acted](c).Step})
	return s.after(c, err)
}

func (s benchRoom) clear(c fiber.Ctx) error {
	in := kit.Read[struct {
		Trouble string   `form:"trouble"`
		How     string   `form:"how"`
		Renewed kit.Tick `form:"renewed"`
	}](c)
	_, err := s.record(c, job.ClearTrouble{Trouble: in.Trouble, How: in.How, Renewed: bool(in.Renewed)})
	return s.after(c, err)
}

func (s benchRoom) undo(c fiber.Ctx) error {
	in := kit.Read[struct {
		acted
		Reason string `form:"reason"`
	}](c)
	_, err := s.record(c, job.UndoStep{Step: in.Step, Reason: in.Reason})
	return s.after(c, err)
}
