package web

import (
	"github.com/gofiber/fiber/v3"

	"lugtak/core/job"
	"lugtak/web/kit"
)

// record decides and writes one command for the job of the request, and tells
// every page that shows it.
func (s *Server) record(c fiber.Ctx, cmd job.Command) ([]job.Event, error) {
	return s.recordAs(c, kit.Meta(c, s.Now()), cmd)
}

func (s *Server) recordAs(c fiber.Ctx, m job.Meta, cmd job.Command) ([]job.Event, error) {
	id := c.Params("job")
	st, events, err := s.Store.Record(c.Context(), id, m, cmd)
	if err == nil && len(events) > 0 {
		says := m.By + " has gone on here"
		if step := st.Plan.Step(st.Touched(events[0].Body)); step != nil {
			says = m.By + ": " + step.Title
		}
		s.hub.Send("job:"+id, "change", map[string]any{"seq": st.Seq, "by": m.By, "id": m.ID, "says": says})
	}
	return events, err
}
