package web

import (
	"github.com/gofiber/fiber/v3"

	"lugtak/core/claim"
	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/web/kit"
)

// take gives a tool to the person of the request, for one fastener or, without a letter, for a pattern.
func (s benchRoom) take(c fiber.Ctx, tool, letter string) (claim.Claim, error) {
	x := kit.Session(c)
	in := kit.Read[acted](c)
	return s.Shop.Take(claim.Claim{
		Tool:    tool,
		Job:     c.Params("job"),
		Step:    string(in.Step),
		Joint:   in.Joint,
		Letter:  letter,
		By:      x.Person.Name,
		Session: x.ID,
	})
}

// claim takes a tool that traces for one fastener.
func (s benchRoom) claim(c fiber.Ctx, st *job.State) error {
	in := kit.Read[tooled](c)
	step := st.Plan.Step(in.Step)
	if step == nil || st.Fastener(in.Joint, in.Letter) == nil {
		return s.after(
			c,
			fault.New(fault.Missing, "fastener", "The plan has no such fastener.", "Touch one in the picture."),
		)
	}
	if err := st.CanPull(step, in.Letter); err != nil {
		return s.after(c, err)
	}
	t, err := s.Shop.Tool(c.Context(), in.Tool)
	if err != nil {
		return s.after(c, err)
	}
	_, err = s.take(c, t.ID, in.Letter)
	return s.after(c, err)
}

// unclaim puts a tool down again.
func (s benchRoom) unclaim(c fiber.Ctx) error {
	tool := kit.Read[tooled](c).Tool
	s.Shop.PutDown(tool, kit.Session(c).ID)
	return s.after(c, nil)
}
