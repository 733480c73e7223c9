package job

import (
	"fmt"
	"strings"
	"time"

	"lugtak/core/fault"
	"lugtak/core/plan"
	"lugtak/core/record"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
)

// Intake is what was known when the vehicle came in.
type Intake struct {
	Started    time.Time
	StartedBy  string
	Vehicle    vehicle.Vehicle
	Complaint  string
	OdometerKM int
	WhyBack    string
	House      House
}

// House is what the shop had decided for itself when the work was planned.
type House struct {
	Second     []string // systems whose deviations need a second person
	Critical   []string // systems a life hangs on
	Demand     []string // of those, where a click alone is not enough
	FollowUpKM int      // wheel fasteners again after so far; 0 books none
	// FollowUpDays is after how long what is owed is looked at, however far it went.
	FollowUpDays int
}

// Start is the command that opens a job.
type Start struct {
	Job        string
	Vehicle    vehicle.Vehicle
	Complaint  string
	OdometerKM int
	LastKM     int `json:"-"`
	WhyBack    string
	Plan       plan.Plan `json:"-"` // empty where a walk-round comes first
	House      House     `json:"-"`
}

// Bounds of what is written down when a vehicle comes in.
const (
	maxComplaint = 500
	maxOdometer  = 3_000_000 // km
	maxWhyBack   = 200
)

func (s *State) decideStart(m Meta, b Start) (record.Body, error) {
	b.WhyBack = trimmed(b.WhyBack)
	switch {
	case s.Plan != nil:
		return nil, refuse(fault.Exists, "job", "This job was started before.", "Open it from the bays.")
	case trimmed(b.Complaint) == "":
		return nil, refuse(fault.Missing, "complaint", "The complaint is empty.",
			"Write what the driver says, in a few words.")
	case len(b.Complaint) > maxComplaint:
		return nil, refuse(fault.TooLong, "complaint", "The complaint is too long.", "Keep it under 500 characters.")
	case b.OdometerKM < 0 || b.OdometerKM > maxOdometer:
		return nil, refuse(fault.OutOfRange, "odometer", "That is no odometer reading.", "Read it again, in km.")
	case b.OdometerKM < b.LastKM && b.WhyBack == "":
		return nil, refuse(fault.OdometerBack, "odometer",
			fmt.Sprintf("It stood at %s on the last job: an odometer does not run backwards.", unit.Kilometres(b.LastKM)),
			"Read it again, or say why, as for a new panel.")
	case len(b.WhyBack) > maxWhyBack:
		return nil, refuse(fault.TooLong, "why_back", "That is too long.", "Say it in a few words.")
	case !GoodID(b.Job):
		return nil, refuse(fault.Missing, "id", "The job has no number that can stand in an address.",
			"Reload the page and try again.")
	}
	house := record.House(b.House)
	return record.Started{
		Vehicle:    toVehicle(b.Vehicle),
		Complaint:  b.Complaint,
		OdometerKM: b.OdometerKM,
		Plan:       toPlan(b.Plan),
		Second:     b.House.Second,
		LastKM:     b.LastKM,
		WhyBack:    b.WhyBack,
		House:      &house,
	}, nil
}

// GoodID says that a job's number can stand in an address: letters, digits, dash, dot
// and underscore, and no dot in front; and that no page is called so.
func GoodID(id string) bool {
	if id == "" || len(id) > record.LongestID || id[0] == '.' || id == "new" {
		return false
	}
	for _, r := range id {
		letter := r >= 'a' && r <= 'z' || r >= 'A' && r <= 'Z' || r >= '0' && r <= '9'
		if !letter && !strings.ContainsRune("-._", r) {
			return false
		}
	}
	return true
}

func (s *State) applyStarted(e Event, b record.Started) {
	s.ID = e.Job
	s.Started = e.At
	s.StartedBy = e.By
	s.Vehicle = fromVehicle(b.Vehicle)
	s.Complaint = b.Complaint
	s.OdometerKM = b.OdometerKM
	s.WhyBack = b.WhyBack
	s.Position = plan.Ground
	s.settle(b.House, b.Second)
	s.setPlan(fromPlan(b.Plan), e.Seq)
}

// settle takes the shop's own decisions; the first release knew of one only.
func (i *Intake) settle(h *record.House, second []string) {
	if h == nil {
		i.House = House{Second: second}
		return
	}
	i.House = House(*h)
}

func trimmed(text string) string { return strings.TrimSpace(text) }
