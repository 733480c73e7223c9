package web

import (
	"html/template"

	"lugtak/core/inspect"
	"lugtak/core/job"
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
			v.Lash = s.lib().Limits.Lash
		default:
			v.Limit, _ = s.lib().Limits.Measure(key)
			v.Gauge = s.gauge(v.Limit) != nil
		}
		if v.Taken != nil {
			v.Drawing = draw.MeasureBar(*v.Taken)
			v.Along = v.Taken.Step == ""
		}
		out = append(out, v)
	}
	return out
}
