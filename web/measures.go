package web

import (
	"html/template"
	"slices"

	"lugtak/core/inspect"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/draw"
)

// measureView is one thing a step asks to be measured, with what was measured for it.
type measureView struct {
	inspect.Limit
	Form    string // rotor, lash, or empty for one value
	Lash    []inspect.LashRule
	Gauge   bool // one is connected
	Taken   *job.Measurement
	Drawing template.HTML
	Along   bool // it came along from the walk-round
	Change  *planChange
}

// planChange is another way of working that what was measured asks for.
type planChange struct{ School, Way, Title string }

// change is the way a measurement asks for, where the plan goes another.
func (s *Server) change(st *job.State, advise string) *planChange {
	for _, used := range st.Plan.Schools {
		i := slices.IndexFunc(s.Shop.Library().Schools, func(x operation.School) bool { return x.Key == used.Key })
		if i < 0 || s.Shop.Library().Schools[i].Verdicts[advise] == "" {
			continue
		}
		school := s.Shop.Library().Schools[i]
		for _, w := range school.Ways {
			if w.Key == school.Verdicts[advise] && w.Key != used.Way {
				return &planChange{school.Key, w.Key, school.Question + ": " + w.Title}
			}
		}
	}
	return nil
}

// measures are what a step asks for.
func (s *Server) measures(st *job.State, step *plan.Step) []measureView {
	var out []measureView
	for _, key := range step.Measures {
		v := measureView{Taken: st.MeasuredFor(step, key)}
		switch key {
		case inspect.RotorKey, inspect.LashKey:
			v.Form = key
			v.Key = key
			v.Name = inspect.MeasureName(key)
			v.Lash = s.Shop.Library().Limits.Lash
		default:
			v.Limit, _ = s.Shop.Library().Limits.Measure(key)
			v.Gauge = s.gauge(v.Limit) != nil
		}
		if v.Taken != nil {
			v.Drawing = draw.MeasureBar(*v.Taken)
			if disc := draw.Disc(*v.Taken) + draw.RunOut(*v.Taken); disc != "" {
				v.Drawing = disc
			}
			v.Along = v.Taken.Step == ""
			if !st.StepDone(step.ID) {
				v.Change = s.change(st, v.Taken.Advise)
			}
		}
		out = append(out, v)
	}
	return out
}
