package shop

import (
	"context"
	"maps"
	"time"

	"lugtak/core/diagnose"
	"lugtak/core/fault"
	"lugtak/core/job"
)

// pastJobs is how many of a vehicle's jobs its history looks back on.
const pastJobs = 50

// Weigh weighs the suspects of a job's walk-round.
func (s *Shop) Weigh(ctx context.Context, st *job.State) (w diagnose.Weighed, err error) {
	if w.History, err = s.history(ctx, st); err != nil {
		return w, err
	}
	if w.Know, err = s.signs(ctx, st); err != nil {
		return w, err
	}
	maps.DeleteFunc(w.History.Renewed, func(key string, _ diagnose.Renewal) bool { return !w.Know.Has(key) })
	w.Answers = s.answers(st, w.History)
	w.Report, err = w.Know.Weigh(w.Answers, w.History)
	return w, err
}

// Propose fills in what is said of suspects as their proposals are decided: by the shop's own cases, and by the
// library alone.
func (s *Shop) Propose(ctx context.Context, st *job.State, all []job.TakeProposal) error {
	w, err := s.Weigh(ctx, st)
	if err != nil {
		return err
	}
	w.History.Past = nil
	plain, err := w.Know.Weigh(w.Answers, w.History)
	if err != nil {
		return err
	}
	for i := range all {
		c := &all[i]
		suspect, _ := w.Know.Suspect(c.Suspect) // one this vehicle has not is never its fault
		c.Chance, c.Plain, c.Work = w.Report.Chance(c.Suspect), plain.Chance(c.Suspect), suspect.Operations
	}
	return nil
}

// signs are what the library knows of a vehicle built as this one is.
func (s *Shop) signs(ctx context.Context, st *job.State) (diagnose.Knowledge, error) {
	pat, err := s.Pattern(ctx, st.Vehicle.Pattern)
	if err != nil && fault.As(err) == nil { // without a sheet it may have anything
		return diagnose.Knowledge{}, err
	}
	seen, err := s.Built(ctx, st)
	return s.Library().Signs.Of(pat.As(seen).Traits), err
}

// history is what is known of a vehicle beside its walk-round: how far it went and what was renewed when.
func (s *Shop) history(ctx context.Context, st *job.State) (diagnose.History, error) {
	h := diagnose.History{
		KM:      float64(st.OdometerKM),
		Salt:    s.Library().Shop.Salt,
		Said:    st.Said(),
		Renewed: map[string]diagnose.Renewal{},
	}
	var err error
	if h.Past, err = s.SuspectPast(ctx); err != nil {
		return h, err
	}
	past, err := s.LastJobs(ctx, st.Vehicle.ID, pastJobs)
	if err != nil {
		return h, err
	}
	outside, err := s.OutsideOf(ctx, st.Vehicle.ID)
	if err != nil {
		return h, err
	}
	years := func(t time.Time) float64 { return s.Now().Sub(t).Hours() / 24 / 365 }
	for _, o := range outside {
		day, err := time.Parse(time.DateOnly, o.Day)
		if _, newer := h.Renewed[o.Suspect]; err == nil && o.Suspect != "" && !newer {
			h.Renewed[o.Suspect] = diagnose.Renewal{Years: years(day), SecondHand: o.SecondHand}
		}
	}
	for _, p := range past {
		if p.Signature == nil {
			continue
		}
		for _, key := range s.Library().Signs.Replaced(p.Plan.Does) {
			mine := diagnose.Renewal{Years: years(p.Signature.At)}
			if was, known := h.Renewed[key]; !known || was.Years > mine.Years {
				h.Renewed[key] = mine
			}
		}
	}
	if st.Failed() != nil { // what was renewed in this job did not cure it
		for _, key := range s.Library().Signs.Replaced(st.Plan.Does) {
			h.Renewed[key] = diagnose.Renewal{Failed: true}
		}
	}
	return h, nil
}

// answers are those of the job that the library still knows. A sign it no longer has stays
// in the journal and weighs nothing.
func (s *Shop) answers(st *job.State, h diagnose.History) []diagnose.Answer {
	var seen []diagnose.Seen
	failed := st.Failed()
	for _, key := range st.Walk.Asked {
		sign, corner := job.AnswerOf(key)
		a := diagnose.Answer{Key: sign, Yes: st.Walk.Answers[key], Corner: diagnose.Corner(corner)}
		seen = append(seen, diagnose.Seen{Answer: a, Before: failed != nil && !st.AnsweredSince(key, failed)})
	}
	showed := ""
	if failed != nil {
		showed = failed.Showed()
	}
	return s.Library().Signs.Standing(seen, showed, h)
}
