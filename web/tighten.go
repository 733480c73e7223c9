package web

import (
	"strings"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/claim"
	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/pull"
	"lugtak/core/unit"
	"lugtak/core/wrench"
)

// What the bench sends about a tightening: each is one act of a person.

// figure reads a number of a form in the unit beside it, N·m unless it says ft·lb.
func figure(c fiber.Ctx, field string) (float64, bool) {
	v, ok := unit.Figure(c.FormValue(field))
	if ok && c.FormValue("unit") == "ft-lb" {
		v *= unit.PoundFoot.Nm()
	}
	return v, ok
}

// adapter is the one a form names, none where it names none.
func (s *Server) adapter(c fiber.Ctx) (wrench.Adapter, error) {
	id := c.FormValue("adapter")
	if id == "" {
		return wrench.Adapter{}, nil
	}
	a, ok := s.lib().Adapter(id)
	if !ok {
		return a, fault.New(job.CodeMissing, "adapter", "The shop has no such adapter.", "Choose one of the list.")
	}
	return a, nil
}

// setWrench states what a click wrench stands at, or that the marks are on, and takes
// the wrench for the pattern.
func (s *Server) setWrench(c fiber.Ctx) error {
	cmd := job.SetWrench{
		Step:   stepForm(c),
		Joint:  c.FormValue("joint"),
		Letter: c.FormValue("letter"),
		ToolID: c.FormValue("tool"),
	}
	if cmd.ToolID == "" {
		_, err := s.record(c, cmd)
		return s.after(c, err)
	}
	var err error
	if cmd.Tool, err = s.tool(c, cmd.ToolID); err != nil {
		return s.after(c, err)
	}
	if cmd.Adapter, err = s.adapter(c); err != nil {
		return s.after(c, err)
	}
	set, ok := figure(c, "set")
	if other := strings.TrimSpace(c.FormValue("other")); other != "" {
		set, ok = figure(c, "other")
	}
	if drag := strings.TrimSpace(c.FormValue("drag")); drag != "" {
		if cmd.DragNm, ok = figure(c, "drag"); !ok {
			return s.after(c, fault.New("bad_number", "drag", "That is no figure.", "Enter what the nut takes to turn, as in 9.5."))
		}
		if strings.TrimSpace(c.FormValue("other")) == "" {
			set = 0 // reckoned with the drag
		}
	}
	if !ok {
		return s.after(
			c,
			fault.New("bad_number", "other", "That is no figure.", "Enter what the wrench stands at, as in 60 or 44.3."),
		)
	}
	cmd.SetNm = set
	if _, err := s.record(c, cmd); err != nil {
		return s.after(c, err)
	}
	_, err = s.take(c, cmd.ToolID, "")
	return s.after(c, err)
}

// click states that the wrench clicked on this fastener.
func (s *Server) click(c fiber.Ctx) error {
	tool := c.FormValue("tool")
	k, _ := s.claims.on(tool, s.Now())
	if k.Session != session(c).ID {
		k = claim.Claim{}
	}
	cmd := job.Click{Step: stepForm(c), Joint: c.FormValue("joint"), Letter: c.FormValue("letter"), Claim: k}
	_, err := s.record(c, cmd)
	if err == nil {
		s.claims.use(func(b *claim.Book) { b.Again(k.ID, tool, s.Now()) })
	}
	return s.after(c, err)
}

// traceFile takes a trace that was saved by the tool, under the claim of the one who
// sends it.
func (s *Server) traceFile(c fiber.Ctx) error {
	samples, err := pull.ReadCSV(c.FormValue("csv"))
	if err != nil {
		return s.after(c, err)
	}
	adapter, err := s.adapter(c)
	if err != nil {
		return s.after(c, err)
	}
	t, err := s.tool(c, c.FormValue("tool"))
	if err != nil {
		return s.after(c, err)
	}
	k, _ := s.claims.on(t.ID, s.Now())
	if k.Session != session(c).ID {
		return s.after(c, claim.Gone())
	}
	cmd := job.Trace{
		Step:    stepForm(c),
		Joint:   c.FormValue("joint"),
		Letter:  c.FormValue("letter"),
		Tool:    t,
		ToolID:  t.ID,
		Adapter: adapter,
		Claim:   k,
		Samples: samples,
		File:    true,
	}
	_, err = s.record(c, cmd)
	if err == nil {
		s.claims.use(func(b *claim.Book) { b.End(k.ID, t.ID) })
	}
	return s.after(c, err)
}

// turn states an angle by mark, protractor or phone, a slot, a back-off, or that a
// fastener was run down by hand.
func (s *Server) turn(c fiber.Ctx) error {
	angle, _ := unit.Figure(c.FormValue("angle")) // the job asks for it where it is needed
	cmd := job.Turn{
		Step:     stepForm(c),
		Joint:    c.FormValue("joint"),
		Letter:   c.FormValue("letter"),
		Means:    job.Means(c.FormValue("means")),
		AngleDeg: angle,
		Short:    c.FormValue("mark") == "short",
		Past:     c.FormValue("mark") == "past",
	}
	if c.FormValue("means") == string(job.BySlot) {
		hole, ok := unit.Figure(c.FormValue("hole"))
		if !ok {
			return s.after(
				c,
				fault.New(
					job.CodeMissing,
					"hole",
					"It is not shown where the hole stands.",
					"Touch the drawing that looks like the nut.",
				),
			)
		}
		cmd.HoleDeg = hole
	}
	_, err := s.record(c, cmd)
	return s.after(c, err)
}

// leave leaves a fastener not measured, with its cause.
func (s *Server) leave(c fiber.Ctx) error {
	_, err := s.record(c, job.LeaveUnmeasured{
		Step:   stepForm(c),
		Joint:  c.FormValue("joint"),
		Letter: c.FormValue("letter"),
		Cause:  job.Cause(c.FormValue("cause")),
		Note:   c.FormValue("note"),
	})
	return s.after(c, err)
}

// slacken begins a fastener again, with new hardware or the old.
func (s *Server) slacken(c fiber.Ctx) error {
	_, err := s.record(c, job.Slacken{
		Joint:   c.FormValue("joint"),
		Letter:  c.FormValue("letter"),
		Reason:  c.FormValue("reason"),
		Renewed: c.FormValue("renewed") != "",
	})
	return s.after(c, err)
}

// seeHardware says which hardware a joint carries.
func (s *Server) seeHardware(c fiber.Ctx) error {
	_, err := s.record(c, job.SeeHardware{Joint: c.FormValue("joint"), Variant: c.FormValue("variant")})
	return s.after(c, err)
}
