package web

import (
	"github.com/gofiber/fiber/v3"

	"lugtak/core/claim"
	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/pull"
	"lugtak/core/unit"
	"lugtak/core/wrench"
	"lugtak/web/kit"
)

// What the bench sends about a tightening: each is one act of a person.

// tooled is an act with a tool.
type tooled struct {
	acted
	Tool    string   `form:"tool"`
	Adapter string   `form:"adapter"`
	Each    kit.Tick `form:"each"` // a round is said of each of its fasteners
}

// stated is what a click wrench is said to stand at: as the page asks for, or otherwise,
// or as it follows from a nut's drag.
type stated struct {
	tooled
	Unit  string     `form:"unit"`
	Set   kit.Figure `form:"set"`
	Other kit.Figure `form:"other"`
	Drag  kit.Figure `form:"drag"`
}

// nm is a figure of the form in N·m; it says ft·lb where it is in those.
func (x *stated) nm(f kit.Figure) float64 {
	if x.Unit == "ft-lb" {
		return f.Value * unit.PoundFoot.Nm()
	}
	return f.Value
}

// setNm is what the wrench stands at; 0 is as the drag asks for.
func (x *stated) setNm() (float64, error) {
	said := x.Set
	switch {
	case x.Other.Given():
		said = x.Other
	case x.Drag.Given():
		return 0, nil
	}
	if !said.OK {
		return 0, fault.New(fault.BadNumber, "other", "That is no figure.",
			"Enter what the wrench stands at, as in 60 or 44.3.")
	}
	return x.nm(said), nil
}

// setWrench states what a click wrench stands at, or that the marks are on, and takes
// the wrench for the pattern.
func (s benchRoom) setWrench(c fiber.Ctx) error {
	in := kit.Read[stated](c)
	cmd := job.SetWrench{Step: in.Step, Joint: in.Joint, Letter: in.Letter, ToolID: in.Tool}
	if cmd.ToolID == "" {
		_, err := s.record(c, cmd)
		return s.after(c, err)
	}
	var err error
	if cmd.Tool, err = s.Shop.Tool(c.Context(), cmd.ToolID); err != nil {
		return s.after(c, err)
	}
	if cmd.Adapter, err = s.Shop.Adapter(in.Adapter); err != nil {
		return s.after(c, err)
	}
	if in.Drag.Given() && !in.Drag.OK {
		return s.after(c,
			fault.New(fault.BadNumber, "drag", "That is no figure.", "Enter what the nut takes to turn, as in 9.5."))
	}
	cmd.DragNm = in.nm(in.Drag)
	if cmd.SetNm, err = in.setNm(); err != nil {
		return s.after(c, err)
	}
	if _, err := s.record(c, cmd); err != nil {
		return s.after(c, err)
	}
	_, err = s.take(c, cmd.ToolID, "")
	return s.after(c, err)
}

// held is the asker's own claim on a tool; empty where it is in nobody's hand, or in another's.
func (s benchRoom) held(c fiber.Ctx, tool string) claim.Claim {
	k, _ := s.Shop.Holding(tool)
	if k.Session != kit.Session(c).ID {
		return claim.Claim{}
	}
	return k
}

// click states that the wrench clicked on this fastener.
func (s benchRoom) click(c fiber.Ctx) error {
	in := kit.Read[tooled](c)
	k := s.held(c, in.Tool)
	cmd := job.Click{Step: in.Step, Joint: in.Joint, Letter: in.Letter, Claim: k}
	_, err := s.record(c, cmd)
	if err == nil {
		s.Shop.Again(k, in.Tool)
	}
	return s.after(c, err)
}

// clickRound states that the wrench clicked on each fastener a round still lacked.
func (s benchRoom) clickRound(c fiber.Ctx) error {
	in := kit.Read[tooled](c)
	t, err := s.Shop.Tool(c.Context(), in.Tool)
	if err != nil {
		return s.after(c, err)
	}
	k := s.held(c, in.Tool)
	if _, err = s.record(c, job.ClickRound{Step: in.Step, Joint: in.Joint, Tool: t, Claim: k}); err == nil {
		s.Shop.Again(k, in.Tool)
	}
	return s.after(c, err)
}

// traceFile takes a trace that was saved by the tool, under the claim of the one who
// sends it.
func (s benchRoom) traceFile(c fiber.Ctx) error {
	in := kit.Read[struct {
		tooled
		CSV string `form:"csv"`
	}](c)
	samples, err := pull.ReadCSV(in.CSV)
	if err != nil {
		return s.after(c, err)
	}
	adapter, err := s.Shop.Adapter(in.Adapter)
	if err != nil {
		return s.after(c, err)
	}
	t, err := s.Shop.Tool(c.Context(), in.Tool)
	if err != nil {
		return s.after(c, err)
	}
	k, _ := s.Shop.Holding(t.ID)
	if k.Session != kit.Session(c).ID {
		return s.after(c, claim.Gone())
	}
	cmd := job.Trace{
		Step:    in.Step,
		Joint:   in.Joint,
		Letter:  in.Letter,
		Tool:    t,
		ToolID:  t.ID,
		Adapter: adapter,
		Claim:   k,
		Samples: samples,
		File:    true,
	}
	_, err = s.record(c, cmd)
	if err == nil {
		s.Shop.Used(k)
	}
	return s.after(c, err)
}

// turn states an angle by mark, protractor or phone, a slot, a back-off, or that a
// fastener was run down by hand.
func (s benchRoom) turn(c fiber.Ctx) error {
	in := kit.Read[struct {
		acted
		Means   job.Means  `form:"means"`
		Angle   kit.Figure `form:"angle"` // the job asks for it where it is needed
		Upright kit.Tick   `form:"upright"`
		Grips   kit.Figure `form:"grips"`
		Seconds kit.Figure `form:"seconds"`
		Stray   kit.Figure `form:"stray"`
		Mark    string     `form:"mark"`
		Hole    kit.Figure `form:"hole"`
	}](c)
	if in.Means == job.BySlot && !in.Hole.OK {
		return s.after(c, fault.New(fault.Missing, "hole", "It is not shown where the hole stands.",
			"Turn the drawing till it looks like the nut."))
	}
	events, err := s.record(c, job.Turn{
		Step:     in.Step,
		Joint:    in.Joint,
		Letter:   in.Letter,
		Means:    in.Means,
		AngleDeg: in.Angle.Value,
		Phone: wrench.PhoneTurn{
			Upright:  bool(in.Upright),
			Grips:    int(in.Grips.Value),
			Seconds:  in.Seconds.Value,
			StrayDeg: in.Stray.Value,
		},
		HoleDeg: in.Hole.Value,
		Short:   in.Mark == "short",
		Past:    in.Mark == "past",
	})
	if err == nil && in.Means == job.ByPhone && len(events) == 1 {
		return kit.Go(c, "/jobs/"+c.Params("job")+"/bench?pull="+string(events[0].ID))
	}
	return s.after(c, err)
}

// leave leaves a fastener not measured, with its cause.
func (s benchRoom) leave(c fiber.Ctx) error {
	in := kit.Read[struct {
		acted
		Cause job.Cause `form:"cause"`
		Note  string    `form:"note"`
	}](c)
	_, err := s.record(c, job.LeaveUnmeasured{
		Step:   in.Step,
		Joint:  in.Joint,
		Letter: in.Letter,
		Cause:  in.Cause,
		Note:   in.Note,
	})
	return s.after(c, err)
}

// slacken begins a fastener again, with new hardware or the old.
func (s benchRoom) slacken(c fiber.Ctx) error {
	in := kit.Read[struct {
		acted
		Reason  string   `form:"reason"`
		Renewed kit.Tick `form:"renewed"`
	}](c)
	_, err := s.record(c, job.Slacken{Joint: in.Joint, Letter: in.Letter, Reason: in.Reason, Renewed: bool(in.Renewed)})
	return s.after(c, err)
}

// seeHardware says which hardware a joint carries.
func (s benchRoom) seeHardware(c fiber.Ctx) error {
	in := kit.Read[struct {
		Joint   string `form:"joint"`
		Variant string `form:"variant"`
	}](c)
	_, err := s.record(c, job.SeeHardware{Joint: in.Joint, Variant: in.Variant})
	return s.after(c, err)
}
