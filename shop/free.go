package shop

import (
	"context"
	"slices"
	"strings"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/vehicle"
	"lugtak/library"
)

// BeginFree plans work no operation knows, beside what the job has: nothing is opened for it yet. What was begun
// by mistake, with nothing said of it, gives way.
func (s *Shop) BeginFree(ctx context.Context, id string, m job.Meta, d operation.Draft, at vehicle.Corner) error {
	st, err := s.Job(ctx, id)
	if err != nil {
		return err
	}
	d.Under = at == ""
	if err := d.Check(); err != nil {
		return err
	}
	ask := library.AskOf(st.Plan)
	if ask.Free != nil && !st.Recorded(m.ID) && (len(ask.Free.Acts) > 0 || st.FreeClosing()) {
		return fault.New(fault.Exists, "title", "This job has free work already: "+ask.Free.Title+".",
			"Say more of that, or begin another job.")
	}
	ask.Free = &d
	ask.Tasks = append(ordered(ask.Tasks), plan.Task{Operation: d.ID(), Corner: at})
	return s.planAs(ctx, id, m, ask, nil, "free work: "+d.Title)
}

// Free plans one more act of a job's free work, behind all others.
func (s *Shop) Free(ctx context.Context, id string, m job.Meta, a operation.DraftAct) error {
	st, d, err := s.free(ctx, id)
	if err != nil {
		return err
	}
	a.Title = strings.TrimSpace(a.Title)
	why := "free work: " + string(a.Do) + " " + a.Title
	if st.Recorded(m.ID) {
		if !slices.Contains(d.Acts, a) {
			return fault.New(fault.Conflict, "id", "This form said something else already.",
				"Reload the page, and say it there.")
		}
	} else {
		if st.FreeClosing() {
			return fault.New(fault.TooLate, "act", "The work itself is done: what is open is closed now.",
				"Take that back at the bench, or begin another job for it.")
		}
		d.Acts = append(slices.Clip(d.Acts), a)
	}
	if err := d.Check(); err != nil {
		return err
	}
	return s.refree(ctx, st, m, d, why)
}

// ordered is a job's tasks without its free work.
func ordered(tasks []plan.Task) []plan.Task {
	return slices.DeleteFunc(slices.Clone(tasks), func(t plan.Task) bool { return operation.IsFree(t.Operation) })
}

// DropFree takes the last act of free work back, where nothing of it is done; where nothing was said of it, the
// work itself.
func (s *Shop) DropFree(ctx context.Context, id string, m job.Meta) error {
	if st, err := s.Job(ctx, id); err != nil || st.Recorded(m.ID) {
		return err
	}
	st, d, err := s.free(ctx, id)
	if err != nil {
		return err
	}
	n := len(d.Acts)
	if n == 0 {
		ask := library.AskOf(st.Plan)
		ask.Free, ask.Tasks = nil, ordered(ask.Tasks)
		if len(ask.Tasks) == 0 {
			return fault.New(fault.Order, "act", "It is all this job does.",
				"Order something beside it first, or close the job with the reason nothing was done.")
		}
		return s.planAs(ctx, st.ID, m, ask, nil, "no free work: "+d.Title)
	}
	for _, x := range st.Plan.Steps {
		if d.Of(x.ID, n-1) && (st.StepDone(x.ID) || len(st.Steps[x.ID].Letters) > 0) {
			return fault.New(fault.Order, "act", "“"+x.Title+"” is done.", "Take that back at the bench first.")
		}
	}
	d.Acts = d.Acts[:n-1]
	return s.refree(ctx, st, m, d, "free work: one act less")
}

func (s *Shop) free(ctx context.Context, id string) (*job.State, operation.Draft, error) {
	st, err := s.Job(ctx, id)
	if err != nil {
		return nil, operation.Draft{}, err
	}
	if !st.HasPlan() || st.Plan.Free == nil {
		return nil, operation.Draft{}, fault.New(fault.Order, "act", "This job has no free work.",
			"Say first what the work is.")
	}
	return st, *st.Plan.Free, nil
}

func (s *Shop) refree(ctx context.Context, st *job.State, m job.Meta, d operation.Draft, why string) error {
	ask := library.AskOf(st.Plan)
	ask.Free = &d
	return s.planAs(ctx, st.ID, m, ask, nil, why)
}
