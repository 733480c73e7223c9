package fleet

import (
	"time"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/vehicle"
	"lugtak/pages/kit"
)

// NewVehicle is a vehicle that comes to the fleet.
type NewVehicle struct {
	Vehicle  vehicle.Vehicle
	Patterns []vehicle.Pattern
	Fault    *fault.Fault
}

// Page is the form for it.
func (v NewVehicle) Page() kit.Page { return pages.Page("vehicle", "New vehicle", v) }

// NewJob is a job that is begun, as it was typed.
type NewJob struct {
	ID        string
	Vehicle   string
	Next      string // walk or order: what comes after
	Complaint string
	Odometer  string // km
	WhyBack   string // why the odometer runs backwards
	Vehicles  []vehicle.Vehicle
	Fault     *fault.Fault
}

// Page is the form for it.
func (v NewJob) Page() kit.Page { return pages.Page("newjob", "Start a job", v) }

// Fleet is a page of the shop's vehicles, with what is due and what wears.
type Fleet struct {
	kit.Paging
	Rows     []Row
	Find     string
	Vehicles int
}

// Row is a vehicle with what is due of it.
type Row struct {
	Vehicle vehicle.Vehicle
	Last    *listing.Job // nil where it was never here
	Due     []kit.Due
	Wears   []wear // those that reach a limit
}

// How many vehicles one page shows, how much of what is due of each, and how many measures its wear is carried
// on from: those of some five visits.
const (
	FleetPage  = 20
	FleetDues  = 4
	FleetTaken = 60
)

// RowOf is a vehicle in the fleet, with what is due of it and what was measured.
func RowOf(x vehicle.Vehicle, due []listing.FollowUp, taken []job.Taken, now time.Time) Row {
	row := Row{Vehicle: x, Due: kit.Dues(due, now)}
	for _, w := range wears(taken) {
		if w.Says != "" {
			row.Wears = append(row.Wears, w)
		}
	}
	return row
}

// Listed lists the vehicles by fleet number.
func (v Fleet) Listed() kit.Page { return pages.Page("fleet", "Fleet", v) }

// Elsewhere is what the chain says of a vehicle. The page of the vehicle asks for it by itself.
type Elsewhere struct {
	Past  []listing.Elsewhere
	Fault *fault.Fault
}

// Page is to be put into the vehicle's.
func (v Elsewhere) Page() kit.Page { return pages.Page("elsewhere", "Other shops", v) }

// Shops are the shops of the chain, at a node.
func Shops(all []listing.Shop) kit.Page {
	return pages.Page("shops", "Shops of the chain", struct{ Shops []listing.Shop }{all})
}
