package web

import (
	"strings"

	"github.com/gofiber/fiber/v3"
	"github.com/google/uuid"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/record"
	"lugtak/core/vehicle"
	"lugtak/pages/fleet"
	"lugtak/web/kit"
)

// signedShown is how many signed jobs the bays list.
const signedShown = 8

func (s fleetRoom) bays(c fiber.Ctx) (err error) {
	ctx := c.Context()
	x := fleet.Standing{Jobs: map[string]*job.State{}, Here: s.presence.at}
	if x.Vehicles, err = s.Shop.Vehicles(ctx); err != nil {
		return err
	}
	if x.Open, err = s.Shop.OpenJobs(ctx); err != nil {
		return err
	}
	for _, r := range x.Open {
		if x.Jobs[r.ID], err = s.Shop.Job(ctx, r.ID); err != nil {
			return err
		}
	}
	if x.Signed, err = s.Shop.SignedJobs(ctx, signedShown); err != nil {
		return err
	}
	if x.Due, err = s.dues(c); err != nil {
		return err
	}
	in := kit.Read[struct {
		Find string    `form:"q"`
		For  string    `form:"for"`
		By   string    `form:"by"`
		Page kit.Whole `form:"page"`
	}](c)
	choice := fleet.Choice{Find: in.Find, For: in.For, By: in.By, Page: in.Page.Value}
	return s.show(c, 200, fleet.TheBays(x, s.Shop.Library(), choice, s.Shop.Now()))
}

func (s fleetRoom) vehiclePage(c fiber.Ctx) error {
	return s.show(c, 200, fleet.NewVehicle{Patterns: s.Shop.Library().Patterns}.Page())
}

func (s fleetRoom) addVehicle(c fiber.Ctx) error {
	in := kit.Read[struct {
		Fleet   string `form:"fleet"`
		Plate   string `form:"plate"`
		VIN     string `form:"vin"`
		Pattern string `form:"pattern"`
		Bay     string `form:"bay"`
	}](c)
	v := vehicle.Vehicle{Fleet: in.Fleet, Plate: in.Plate, VIN: in.VIN, Pattern: in.Pattern, Bay: in.Bay}
	p, ok := s.Shop.Library().Pattern(v.Pattern)
	var err error
	if ok {
		v.Name = p.Name
		_, err = s.Shop.AddVehicle(c.Context(), v)
	} else {
		err = fault.New(fault.Missing, "pattern", "No pattern is chosen.", "Choose the model it belongs to.")
	}
	if f := fault.As(err); f != nil {
		return s.show(c, kit.Status(f), fleet.NewVehicle{Vehicle: v, Patterns: s.Shop.Library().Patterns, Fault: f}.Page())
	} else if err != nil {
		return err
	}
	return kit.See(c, "/")
}

func (s fleetRoom) newJobPage(c fiber.Ctx) error {
	return s.showNewJob(c, 200, fleet.NewJob{ID: uuid.NewString(), Vehicle: c.Query("vehicle")})
}

func (s fleetRoom) showNewJob(c fiber.Ctx, code int, v fleet.NewJob) (err error) {
	if v.Vehicles, err = s.Shop.Vehicles(c.Context()); err != nil {
		return err
	}
	return s.show(c, code, v.Page())
}

// newJobForm is a job as it is begun.
type newJobForm struct {
	ID        string    `form:"id"`
	Vehicle   string    `form:"vehicle"`
	Next      string    `form:"next"`
	Complaint string    `form:"complaint"`
	Odometer  kit.Whole `form:"odometer"`
	WhyBack   string    `form:"why_back"`
}

func (s fleetRoom) newJob(c fiber.Ctx) error {
	in := kit.Read[newJobForm](c)
	id, err := s.startJob(c, in)
	if f := fault.As(err); f != nil {
		return s.showNewJob(c, kit.Status(f), fleet.NewJob{
			ID:        in.ID,
			Vehicle:   in.Vehicle,
			Next:      in.Next,
			Complaint: in.Complaint,
			Odometer:  in.Odometer.Text,
			WhyBack:   in.WhyBack,
			Fault:     f,
		})
	} else if err != nil {
		return err
	}
	page := "/walk"
	if in.Next == "order" {
		page = "/order"
	}
	return kit.See(c, "/jobs/"+id+page)
}

func (s fleetRoom) startJob(c fiber.Ctx, v newJobForm) (string, error) {
	if _, err := uuid.Parse(v.ID); err != nil {
		return "", fault.New(fault.Missing, "", "The form lacks its number.", "Reload the page and fill it in again.")
	}
	if v.Vehicle == "" {
		return "", fault.New(fault.Missing, "vehicle", "No vehicle is chosen.", "Choose one of the fleet.")
	}
	if v.Odometer.Value == 0 {
		return "", fault.New(
			fault.Missing,
			"odometer",
			"The odometer reading is missing or no whole number.",
			"Read it off the panel, in km.",
		)
	}
	start := job.Start{
		Job:        v.ID,
		Complaint:  strings.TrimSpace(v.Complaint),
		OdometerKM: v.Odometer.Value,
		House:      s.Shop.Library().House(),
		WhyBack:    v.WhyBack,
	}
	x := kit.Session(c)
	m := job.Meta{ID: record.EventID("start:" + v.ID), By: x.Person.Name, Role: x.Person.Role, At: s.Shop.Now()}
	_, _, err := s.Shop.Begin(c.Context(), m, v.Vehicle, start)
	return v.ID, err
}
