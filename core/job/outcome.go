package job

import (
	"slices"
	"time"
)

// Outcome is what a signed job came to, as the office compares jobs.
type Outcome struct {
	Job             string
	Vehicle, Fleet  string
	Tasks           []string // operations with their corners
	Started, Signed time.Time
	PlannedMin      float64 // of the steps that were timed
	TookMin         float64 // by the same steps
	Deviations      int
	Unmeasured      int // fasteners
}

// Outcome is what a job came to. It is zero for one that is not signed.
func (s *State) Outcome() Outcome {
	if s.Signature == nil {
		return Outcome{}
	}
	o := Outcome{
		Job:        s.ID,
		Vehicle:    s.Vehicle.ID,
		Fleet:      s.Vehicle.Fleet,
		Started:    s.Started,
		Signed:     s.Signature.At,
		Deviations: len(s.Deviations),
	}
	for _, t := range s.Plan.Tasks {
		o.Tasks = append(o.Tasks, t.String())
	}
	took := s.Took()
	for i := range s.Plan.Steps {
		step := &s.Plan.Steps[i]
		times := took[step.Kind()]
		if len(times) == 0 {
			continue
		}
		o.TookMin += times[0]
		o.PlannedMin += step.Minutes
		took[step.Kind()] = times[1:]
	}
	o.Unmeasured = s.Account().Count(GradeNotMeasured)
	return o
}

// Comeback is work done once more on a vehicle soon after it was signed.
type Comeback struct {
	Again, First Outcome
	Task         string
}

// ComebackWithin is how soon the same work on the same vehicle counts as a comeback (common
// practice: 90 days).
const ComebackWithin = 90 * 24 * time.Hour

// Comebacks finds the work that was done twice, the newest first.
func Comebacks(all []Outcome) []Comeback {
	done := map[string][]Outcome{} // by vehicle
	for _, o := range all {
		done[o.Vehicle] = append(done[o.Vehicle], o)
	}
	var out []Comeback
	for _, again := range all {
		for _, first := range done[again.Vehicle] {
			gap := again.Started.Sub(first.Signed)
			if first.Job == again.Job || gap < 0 || gap > ComebackWithin {
				continue
			}
			for _, t := range again.Tasks {
				if slices.Contains(first.Tasks, t) {
					out = append(out, Comeback{Again: again, First: first, Task: t})
				}
			}
		}
	}
	slices.SortStableFunc(out, func(a, b Comeback) int { return b.Again.Started.Compare(a.Again.Started) })
	return out
}
