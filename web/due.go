package web

import (
	"io"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/listing"
	pages "lugtak/pages/kit"
	"lugtak/report"
	"lugtak/web/kit"
)

// soon is how far ahead the bays look, and dueRows how many they show; the calendar has all.
const (
	soon    = 21 * 24 * time.Hour
	dueRows = 12
)

// dues are those of all vehicles whose day comes soon or has come, the soonest first.
func (s *Server) dues(c fiber.Ctx) ([]pages.Due, error) {
	all, err := s.Shop.DueBy(c.Context(), s.Shop.Now().Add(soon), dueRows)
	return pages.Dues(all, s.Shop.Now()), err
}

// calendarPath is where a calendar subscribes: it sends no header, so that its address is its secret.
const calendarPath = "/calendar/"

// subscribed answers a calendar whose address a foreman made; one that ended is like none.
func (s fleetRoom) subscribed(c fiber.Ctx) error {
	secret, ics := strings.CutSuffix(c.Params("secret"), ".ics")
	x, ok, err := s.Shop.ScriptOf(c.Context(), secret, s.Shop.Now())
	if err != nil {
		return err
	}
	if !ok || !ics || !x.Scope.Allows(listing.ScopeCalendar) {
		return fault.New(fault.NotFound, "", "There is no such calendar.", "Ask the foreman for its address.")
	}
	return s.calendar(c)
}

// calendar is what is owed after signatures, as a file for any calendar.
func (s fleetRoom) calendar(c fiber.Ctx) error {
	fleet, err := s.Shop.Vehicles(c.Context())
	if err != nil {
		return err
	}
	called := map[string]string{}
	for _, v := range fleet {
		called[v.ID] = v.Fleet + ", " + v.Name
	}
	all, err := s.Shop.FollowUps(c.Context(), "")
	if err != nil {
		return err
	}
	var dues []report.Due
	for _, f := range all {
		dues = append(dues, report.Due{
			Job:     f.Job,
			No:      f.No,
			Vehicle: called[f.Vehicle],
			Title:   f.Title,
			AtKM:    f.AtKM,
			At:      f.At,
		})
	}
	return attach(c, "due.ics", "text/calendar; charset=utf-8", func(w io.Writer) error {
		return report.Calendar(w, dues, s.Shop.Now())
	})
}

// closeDue ends what was owed with its own small record.
func (s ledgerRoom) closeDue(c fiber.Ctx) error {
	in := kit.Read[struct {
		No       kit.Whole `form:"no"`
		Odometer kit.Whole `form:"odometer"`
		Found    string    `form:"found"`
		Drop     kit.Tick  `form:"drop"`
		Sheet    string    `form:"sheet"`
	}](c)
	_, err := s.record(c, job.CloseFollowUp{
		No:         in.No.Value,
		OdometerKM: in.Odometer.Value,
		Found:      in.Found,
		Dropped:    bool(in.Drop),
		Sheet:      in.Sheet,
	})
	return s.onLedger(c, "due:"+in.No.Text, err)
}
