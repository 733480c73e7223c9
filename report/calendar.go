package report

import (
	"fmt"
	"io"
	"time"

	ics "github.com/arran4/golang-ical"

	"lugtak/core/unit"
)

// Due is one thing that is owed after a signature, for the calendar.
type Due struct {
	Job     string
	No      int
	Vehicle string // as people say it
	Title   string
	AtKM    int       // on the odometer; 0 where no distance is set
	At      time.Time // its day; what has none is left out
}

// Calendar writes what is owed as all-day events (RFC 5545). An event keeps its identity
// from one writing to the next, so that a calendar that reads it again moves nothing twice.
func Calendar(w io.Writer, dues []Due, now time.Time) error {
	cal := ics.NewCalendarFor("Lugtak")
	cal.SetMethod(ics.MethodPublish)
	cal.SetName("Due after the signature")
	for _, d := range dues {
		if d.At.IsZero() {
			continue
		}
		e := cal.AddEvent(fmt.Sprintf("%s-%d@lugtak", d.Job, d.No))
		e.SetDtStampTime(now.UTC())
		e.SetAllDayStartAt(d.At)
		e.SetAllDayEndAt(d.At.AddDate(0, 0, 1))
		e.SetSummary(d.Vehicle + ": " + d.Title)
		if d.AtKM > 0 {
			e.SetDescription(fmt.Sprintf("On this day, or at %s if that comes first.", unit.Kilometres(d.AtKM)))
		}
	}
	return cal.SerializeTo(w, ics.WithNewLineWindows)
}
