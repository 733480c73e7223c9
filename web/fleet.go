package web

import (
	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/vehicle"
	"lugtak/pages/fleet"
	pages "lugtak/pages/kit"
	"lugtak/pages/report"
	"lugtak/web/kit"
)

// fleetRoom answers for the bays and the vehicles.
type fleetRoom struct{ *Server }

func (s fleetRoom) routes(at paths) {
	at.get("/", s.bays)
	at.get("/due.ics", s.calendar)
	at.get("/due.csv", s.dueCSV)
	at.get("/fleet.csv", s.fleetCSV)
	at.get("/search", s.search)
	at.get("/fleet", s.fleet)
	at.get("/tags", s.tags)
	at.get("/scan", s.scan)
	at.get("/vehicles/new", s.vehiclePage)
	at.get("/vehicles/like", s.alike)
	at.Post("/vehicles/new", s.addVehicle)
	at.get("/vehicles/:vehicle", s.vehicleHistory)
	at.get("/vehicles/:vehicle/elsewhere", s.elsewhere)
	at.Post("/vehicles/:vehicle/outside", s.outside)
	at.get("/wall", s.wall)
	at.get("/jobs/new", s.newJobPage)
	at.Post("/jobs/new", s.newJob)
}

// fleet lists the vehicles by fleet number, a page at a time.
func (s fleetRoom) fleet(c fiber.Ctx) error {
	v := fleet.Fleet{Find: c.Query("q")}
	in := kit.Read[struct {
		Page kit.Whole `form:"page"`
	}](c)
	_, of, err := s.Shop.FindVehicles(c.Context(), v.Find, 0, 0)
	if err != nil {
		return err
	}
	v.Vehicles = of
	v.Paging = pages.PageOf(in.Page.Value, of, fleet.FleetPage)
	some, _, err := s.Shop.FindVehicles(c.Context(), v.Find, (v.Page-1)*fleet.FleetPage, fleet.FleetPage)
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
	return s.show(c, 200, v.Listed())
}

func (s fleetRoom) fleetRow(c fiber.Ctx, x vehicle.Vehicle) (row fleet.Row, err error) {
	last, here, err := s.Shop.LastRow(c.Context(), x.ID)
	if err != nil {
		return row, err
	}
	taken, err := s.Shop.Taken(c.Context(), x.ID, fleet.FleetTaken)
	if err != nil {
		return row, err
	}
	due, err := s.Shop.DueOf(c.Context(), x.ID, fleet.FleetDues)
	if err != nil {
		return row, err
	}
	row = fleet.RowOf(x, due, taken, s.Shop.Now())
	if here {
		row.Last = &last
	}
	return row, nil
}

// label is a label of what is due after a signature, to be printed.
func (s ledgerRoom) label(c fiber.Ctx, st *job.State) error {
	if st.Signature == nil {
		return fault.New(fault.NotFound, "", "Nothing is due before the signature.", "Sign the job, then print its label.")
	}
	return s.show(c, 200, report.Label(st))
}
