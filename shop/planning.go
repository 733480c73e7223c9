package shop

import (
	"context"
	"fmt"
	"maps"
	"slices"

	"lugtak/core/diagnose"
	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/record"
	"lugtak/core/vehicle"
	"lugtak/library"
	"lugtak/store"
)

// JobAndSheet is a job with its vehicle's sheet as it stands now.
func (s *Shop) JobAndSheet(ctx context.Context, id string) (*job.State, vehicle.Pattern, error) {
	st, err := s.Job(ctx, id)
	if err != nil {
		return nil, vehicle.Pattern{}, err
	}
	pat, err := s.Pattern(ctx, st.Vehicle.Pattern)
	return st, pat, err
}

// Plan compiles what is asked with the sheet, tools and times of today and freezes it into the job.
func (s *Shop) Plan(ctx context.Context, id string, m job.Meta, ask library.Ask) error {
	return s.Order(ctx, id, m, ask, nil)
}

// Order is Plan with how the vehicle is built, as somebody tells beside: it is kept with the vehicle.
func (s *Shop) Order(ctx context.Context, id string, m job.Meta, ask library.Ask, built map[string]string) error {
	if err := s.Library().Answered(built); err != nil {
		return err
	}
	st, err := s.Job(ctx, id)
	if err != nil {
		return err
	}
	if err := s.planAs(ctx, id, m, ask.Keeping(st.Plan), built, "another way of working"); err != nil {
		return err
	}
	for _, key := range slices.Sorted(maps.Keys(built)) {
		if err := s.keepBuilt(ctx, record.EventID("built:"+string(m.ID)+":"+key), st, m, key, built[key]); err != nil {
			return err
		}
	}
	return nil
}

// planAs is Plan with what was just seen of the vehicle; where the work has begun the plan is made anew
// around what is done.
func (s *Shop) planAs(
	ctx context.Context, id string, m job.Meta, ask library.Ask, seen map[string]string, why string,
) error {
	st, pat, err := s.JobAndSheet(ctx, id)
	if err != nil {
		return err
	}
	if err := s.invented(pat); err != nil {
		return err
	}
	if ask.Built, err = s.Built(ctx, st); err != nil {
		return err
	}
	maps.Copy(ask.Built, seen)
	ask.OdometerKM = st.OdometerKM
	if ask.Timed, err = s.StepTimes(ctx); err != nil {
		return err
	}
	if st.HasPlan() && st.Begun() {
		ask.Done, ask.Begun = st.DoneSteps()
	}
	made, err := s.Library().Compile(pat, ask)
	if err != nil {
		return err
	}
	if st.HasPlan() && st.Begun() {
		_, _, err = s.Record(ctx, id, m, job.Rework{Plan: made, Why: why})
		return err
	}
	_, _, err = s.Record(ctx, id, m, job.PlanWork{
		Tasks: ask.Tasks,
		Ways:  ask.Ways,
		Plan:  made,
		House: s.Library().House(),
	})
	return err
}

// Built is what somebody saw of how the job's vehicle is built.
func (s *Shop) Built(ctx context.Context, st *job.State) (map[string]string, error) {
	like, err := s.BuiltLike(ctx, st.Vehicle.Pattern)
	out := map[string]string{}
	for _, b := range like {
		if b.Vehicle == st.Vehicle.ID {
			out[b.Key] = b.Is
		}
	}
	return out, err
}

// SeeBuilt keeps how a vehicle turned out to be built, once the plan bears it out, and lets the plan follow.
func (s *Shop) SeeBuilt(ctx context.Context, id string, m job.Meta, key, is string) error {
	st, err := s.Job(ctx, id)
	if err != nil {
		return err
	}
	builds := s.Library().Builds
	i := slices.IndexFunc(builds, func(b operation.Build) bool { return b.Key == key })
	answers := func(a operation.BuildAnswer) bool { return a.Key == is }
	if i < 0 || !slices.ContainsFunc(builds[i].Answers, answers) {
		return fault.New(fault.BadChoice, "is", "That is no answer to how it is built.", "Choose one of those drawn.")
	}
	seen := map[string]string{key: is}
	if err := s.planAs(ctx, id, m, library.AskOf(st.Plan), seen, "seen on this vehicle: "+builds[i].Question); err != nil {
		return err
	}
	return s.keepBuilt(ctx, "built:"+m.ID, st, m, key, is)
}

func (s *Shop) keepBuilt(ctx context.Context, id record.EventID, st *job.State, m job.Meta, key, is string) error {
	return s.SetBuilt(ctx, id, store.Built{
		VehicleBuilt: record.VehicleBuilt{Vehicle: st.Vehicle.ID, Pattern: st.Vehicle.Pattern, Key: key, Is: is},
		By:           m.By,
		At:           m.At,
	})
}

// Alternatives are the plan by every school beside the one it has. Reckoning them takes a moment: they are
// kept with the plan they belong to.
func (s *Shop) Alternatives(pat vehicle.Pattern, st *job.State) []library.Alternative {
	type kept struct {
		plan string
		out  []library.Alternative
	}
	asked := fmt.Sprint(st.Seq, st.Plan.Tasks, st.Plan.Sources, st.Plan.Technicians, st.Plan.StepIDs())
	for _, x := range st.Plan.Schools {
		asked += " " + x.Way
	}
	if k, ok := s.timings.Load(st.ID); ok && k.(kept).plan == asked {
		return k.(kept).out
	}
	done, begun := st.DoneSteps()
	out := s.Library().Alternatives(pat, *st.Plan, done, begun)
	s.timings.Store(st.ID, kept{asked, out})
	return out
}

// Replan puts what is left of a job in order anew, by how many technicians it has.
func (s *Shop) Replan(st *job.State) job.Replan {
	return job.Replan{
		Costs:       s.Library().Costs(),
		Rescues:     s.Library().Rescues,
		Technicians: max(1, st.Plan.Technicians),
	}
}

// Accepted are the tasks for what the walk-round's proposals were accepted for.
func (s *Shop) Accepted(st *job.State, offers []plan.Task) []plan.Task {
	var out []plan.Task
	suspects := s.Library().Signs.Suspects
	for _, ch := range st.Walk.Proposals {
		i := slices.IndexFunc(suspects, func(x diagnose.Suspect) bool { return x.Key == ch.Suspect })
		if !ch.Accept || i < 0 {
			continue
		}
		corners := []vehicle.Corner{vehicle.Corner(ch.Side)}
		if ch.Both {
			corners = append(corners, corners[0].Opposite())
		}
		for _, corner := range corners {
			if t, ok := library.TaskFor(offers, suspects[i], corner); ok && !slices.Contains(out, t) {
				out = append(out, t)
			}
		}
	}
	return out
}
