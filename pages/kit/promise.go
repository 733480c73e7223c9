package kit

import (
	"time"

	"lugtak/core/job"
	"lugtak/core/unit"
)

// Promise is when a vehicle is to be back, and how that stands.
type Promise struct {
	Until  time.Time // zero where nothing was promised
	Says   string    // of that time: the clock today, the day with it on another
	First  string    // what was promised at first, where that was another time
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
	if first := st.Promised.First; !first.Equal(p.Until) {
		p.First = dayClock(first, now)
	}
	if p.Until.IsZero() {
		return p
	}
	p.Says = dayClock(p.Until, now)
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
	says := unit.HoursMinutes(spare.Abs().Minutes())
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

// dayClock is a time as one says it now: the clock today, with the day of the week near by, else the date.
func dayClock(t, now time.Time) string {
	t, now = t.Local(), now.Local()
	switch {
	case t.Format(time.DateOnly) == now.Format(time.DateOnly):
		return t.Format("15:04")
	case t.Sub(now).Abs() < 6*24*time.Hour:
		return t.Format("Mon 15:04")
	}
	return t.Format("2 Jan")
}
