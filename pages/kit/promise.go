package kit

import (
	"fmt"
	"time"

	"lugtak/core/job"
)

// Promise is when a vehicle is to be back, and how that stands.
type Promise struct {
	Until  time.Time // zero where nothing was promised
	Says   string    // of that time: the clock today, the day with it on another
	By     string
	Danger job.Danger
	Spare  string // the time beyond the work left, or what it lacks; empty where nothing is planned
	Bar    *Bar
}

// Bar is the work left against the time to the promise, in hundredths of the longer one.
type Bar struct{ Left, Until, Over float64 }

// PromiseOf is that of a job.
func PromiseOf(st *job.State, now time.Time) Promise {
	p := Promise{Until: st.Promised.Until, By: st.Promised.By}
	if p.Until.IsZero() {
		return p
	}
	day := func(t time.Time) string { return t.Local().Format(time.DateOnly) }
	switch {
	case day(p.Until) == day(now):
		p.Says = p.Until.Local().Format("15:04")
	case p.Until.Sub(now).Abs() < 6*24*time.Hour:
		p.Says = p.Until.Local().Format("Mon 15:04")
	default:
		p.Says = p.Until.Local().Format("2 Jan")
	}
	spare, danger, known := st.Spare(now)
	if !known {
		return p
	}
	p.Danger = danger
	until := max(0, p.Until.Sub(now).Minutes())
	left := max(0, until-spare.Minutes())
	if whole := max(left, until); whole > 0 {
		p.Bar = &Bar{Left: 100 * min(left, until) / whole, Until: 100 * until / whole, Over: 100 * max(0, left-until) / whole}
	}
	m := int(spare.Abs().Minutes())
	says := fmt.Sprintf("%d min", m)
	if m >= 60 {
		says = fmt.Sprintf("%d h %02d", m/60, m%60)
	}
	switch danger {
	case job.Late:
		p.Spare = "late by " + says
	case job.Close:
		p.Spare = "close: " + says + " spare"
	default:
		p.Spare = says + " spare"
	}
	return p
}
