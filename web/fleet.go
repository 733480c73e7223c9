package web

import (
	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/vehicle"
	"lugtak/web/kit"
)

// fleetView is a page of the shop's vehicles, with what is due and what wears.
type fleetView struct {
	Rows       []fleetRow
	Find       string
	Page, Last int // from 1
	Prev, Next int // 0 where there is none
	Vehicles   int
}

type fleetRow struct {
	Vehicle vehicle.Vehicle
	Last    *listing.Job // nil where it was never here
	Due     []dueRow
	Wears   []wearView // those that reach a limit
}

// fleetPage is how many vehicles one page shows, fleetDues how much of what is due of each, and
// fleetTaken how many measures its wear is carried on from: those of some five visits.
const (
	fleetPage  = 20
	fleetDues  = 4
	fleetTaken = 60
)

// fleet lists the vehicles by fleet number, a page at a time.
func (s *Server) fleet(c fiber.Ctx) error {
	v := fleetView{Find: c.Query("q")}
	in := kit.Read[struct {
		Page kit.Whole `form:"page"`
	}](c)
	_, of, err := s.Shop.FindVehicles(c.Context(), v.Find, 0, 0)
	if err != nil {
		return err
	}
	v.Vehicles = of
	v.Page, v.Last, v.Prev, v.Next = pageOf(in.Page.Value, of, fleetPage)
	some, _, err := s.Shop.FindVehicles(c.Context(), v.Find, (v.Page-1)*fleetPage, fleetPage)
	if err != nil {
		return err
	}
	for _, x := range some {
		row, err := s.fleetRow(c, x)
		if err != nil {
			return err
		}
		v.Rows = append(v.Rows, row)
	}
	return s.render(c, 200, "fleet", "Fleet", v)
}

func (s *Server) fleetRow(c fiber.Ctx, x vehicle.Vehicle) (fleetRow, error) {
	row := fleetRow{Vehicle: x}
	last, here, err := s.Shop.LastRow(c.Context(), x.ID)
	if err != nil {
		return row, err
	}
	if here {
		row.Last = &last
	}
	taken, err := s.Shop.Taken(c.Context(), x.ID, fleetTaken)
	if err != nil {
		return row, err
	}
	due, err := s.Shop.DueOf(c.Context(), x.ID, fleetDues)
	if err != nil {
		return row, err
	}
	for _, f := range due {
		d := dueRow{FollowUp: f, Over: job.Overdue(f.At, s.Shop.Now())}
		row.Due = append(row.Due, d)
	}
	for _, w := range wears(taken) {
		if w.Says != "" {
			row.Wears = append(row.Wears, w)
		}
	}
	return row, nil
}

// labelView is what goes on the wheel or the key.
type labelView struct {
	Job  *job.State
	Dues []job.Due
}

// label is a label of what is due after a signature, to be printed.
func (s *Server) label(c fiber.Ctx) error {
	st, err := s.Shop.Job(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	if st.Signature == nil {
		return fault.New("not_found", "", "Nothing is due before the signature.", "Sign the job, then print its label.")
	}
	v := labelView{Job: st}
	for _, d := range st.Dues() {
		if d.Closed == nil {
			v.Dues = append(v.Dues, d)
		}
	}
	return s.render(c, 200, "label", "Label "+st.Vehicle.Fleet, v)
}
