package bench

import (
	"html/template"
	"lugtak/core/fault"
	"lugtak/core/inspect"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/device"
	"lugtak/draw"
	"lugtak/library"
	"slices"
)

// measured is what a step asks to be measured.
type measured struct {
	Measures  []measure
	Lacks     *fault.Fault // what is still to be measured
	OverLimit bool         // something measured is not inside its limit: a word on it is wanted
}

// measure is one thing a step asks to be measured, with what was measured for it.
type measure struct {
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
func change(lib *library.Library, st *job.State, advise string) *planChange {
	for _, used := range st.Plan.Schools {
		i := slices.IndexFunc(lib.Schools, func(x operation.School) bool { return x.Key == used.Key })
		if i < 0 || lib.Schools[i].Verdicts[advise] == "" {
			continue
		}
		school := lib.Schools[i]
		for _, w := range school.Ways {
			if w.Key == school.Verdicts[advise] && w.Key != used.Way {
				return &planChange{school.Key, w.Key, school.Question + ": " + w.Title}
			}
		}
	}
	return nil
}

// measures fills in what the step asks to be measured.
func (v *View) measures(x Shown) {
	if len(v.Step.Measures) == 0 {
		return
	}
	m := &measured{}
	for _, key := range v.Step.Measures {
		one := v.measure(x, key)
		m.Measures = append(m.Measures, one)
		m.OverLimit = m.OverLimit || one.Taken != nil && one.Taken.Verdict != string(inspect.OK)
	}
	if !v.Kept {
		m.Lacks = fault.As(v.Job.Lacks(v.Step))
	}
	v.Measured = m
}

func (v *View) measure(x Shown, key string) measure {
	st, limits := v.Job, x.Library.Limits
	m := measure{Taken: st.MeasuredFor(v.Step, key)}
	switch key {
	case inspect.RotorKey, inspect.LashKey:
		m.Form, m.Key, m.Name, m.Lash = key, key, inspect.MeasureName(key), limits.Lash
	default:
		m.Limit, _ = limits.Measure(key)
		m.Limit = st.LimitAt(m.Limit, string(v.Step.Corner))
		m.Gauge = device.GaugeFor(x.Devices, m.Limit.Key, m.Limit.Usual()) != nil
	}
	if m.Taken == nil {
		return m
	}
	m.Drawing = draw.MeasureBar(*m.Taken)
	if disc := draw.Disc(*m.Taken) + draw.RunOut(*m.Taken); disc != "" {
		m.Drawing = disc
	}
	m.Along = m.Taken.Step == ""
	if !st.StepDone(v.Step.ID) {
		m.Change = change(x.Library, st, m.Taken.Advise)
	}
	return m
}
