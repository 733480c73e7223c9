package shop

import (
	"context"

	"lugtak/core/job"
)

// Record decides and writes one command of a job, and tells every page that shows it.
func (s *Shop) Record(ctx context.Context, id string, m job.Meta, cmd job.Command) (*job.State, []job.Event, error) {
	st, events, err := s.Store.Record(ctx, id, m, cmd)
	if err == nil && len(events) > 0 {
		says := m.By + " has gone on here"
		if step := st.Plan.Step(st.Touched(events[0].Body)); step != nil {
			says = m.By + ": " + step.Title
		}
		s.Hub.Send(JobTopic(id), "change", map[string]any{"seq": st.Seq, "by": m.By, "id": m.ID, "says": says})
	}
	return st, events, err
}
