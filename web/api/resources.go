package api

import (
	"cmp"
	"errors"
	"strconv"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/google/uuid"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/plan"
	"lugtak/core/vehicle"
	"lugtak/shop"
)

func (a *API) vehicles(c fiber.Ctx) error {
	after, limit, err := page(c)
	if err != nil {
		return err
	}
	rows, err := a.Shop.VehiclesAfter(c.Context(), after, c.Query("vin"), limit+1)
	if err != nil {
		return err
	}
	var out []Vehicle
	for _, v := range rows {
		out = append(out, vehicleOf(v))
	}
	return sendPage(c, out, limit, func(v Vehicle) string { return v.Fleet })
}

func (a *API) vehicle(c fiber.Ctx) error {
	v, err := a.Shop.Vehicle(c.Context(), c.Params("vehicle"))
	if err != nil {
		return err
	}
	return c.JSON(vehicleOf(v))
}

// addVehicle takes a vehicle into the fleet, once.
func (a *API) addVehicle(c fiber.Ctx) error {
	var in Vehicle
	if err := read(c, &in); err != nil {
		return err
	}
	field := "sheet"
	if in.Sheet == "" {
		field = "pattern"
	}
	in.Pattern = cmp.Or(in.Sheet, in.Pattern)
	in.Sheet = in.Pattern
	p, err := a.Shop.Pattern(c.Context(), in.Pattern)
	if fault.As(err) != nil {
		return fault.New(fault.BadChoice, field, "There is no sheet “"+in.Pattern+"”.",
			"Take the id of one that is there, or begin one first.")
	}
	if err != nil {
		return err
	}
	in.Name = cmp.Or(in.Name, p.Name)
	if in.ID != "" {
		have, err := a.Shop.Vehicle(c.Context(), in.ID)
		if err == nil && vehicleOf(have) == in {
			return c.JSON(in)
		}
		if err == nil {
			return fault.New(fault.Conflict, "id", "This id stands for "+have.Fleet+", as something else.",
				"Make a new id for another vehicle.")
		}
		if !errors.Is(err, shop.ErrNoVehicle) {
			return err
		}
	}
	v, err := a.Shop.AddVehicle(c.Context(), vehicle.Vehicle{
		ID:      in.ID,
		Fleet:   in.Fleet,
		Plate:   in.Plate,
		VIN:     in.VIN,
		Pattern: in.Pattern,
		Name:    in.Name,
		Bay:     in.Bay,
	})
	if f := fault.As(err); f != nil && f.Code == fault.Exists {
		return fault.New(fault.Conflict, f.Field, f.Detail, f.Remedy)
	}
	if err != nil {
		return err
	}
	return c.Status(fiber.StatusCreated).JSON(vehicleOf(v))
}

func (a *API) jobs(c fiber.Ctx) error {
	after, limit, err := page(c)
	if err != nil {
		return err
	}
	f := shop.JobFilter{Vehicle: c.Query("vehicle"), State: c.Query("state"), After: after, Most: limit + 1}
	rows, err := a.Shop.Jobs(c.Context(), f)
	if err != nil {
		return err
	}
	var out []Job
	cursors := map[string]string{}
	for _, r := range rows {
		out = append(out, jobOf(r))
		cursors[r.ID] = shop.JobCursor(r)
	}
	return sendPage(c, out, limit, func(j Job) string { return cursors[j.ID] })
}

// begin begins a job; people go on with it.
func (a *API) begin(c fiber.Ctx) error {
	var in Begin
	if err := read(c, &in); err != nil {
		return err
	}
	if _, err := uuid.Parse(in.ID); err != nil {
		return fault.New(fault.Missing, "id", "The job has no id, or one that is no UUID.", "Make a new UUID for each job.")
	}
	start := job.Start{
		Job:        in.ID,
		Complaint:  in.Complaint,
		OdometerKM: in.OdometerKM,
		WhyBack:    in.WhyBack,
		House:      a.Shop.Library().House(),
	}
	st, made, err := a.Shop.Begin(c.Context(), a.meta(c, "start:"+in.ID), in.Vehicle, start)
	if err != nil {
		return err
	}
	return c.Status(madeCode(made)).JSON(wholeOf(st))
}

func (a *API) job(c fiber.Ctx) error {
	st, err := a.Shop.Job(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	return c.JSON(wholeOf(st))
}

func (a *API) plan(c fiber.Ctx) error {
	st, err := a.Shop.Job(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	p := st.Plan
	if p == nil {
		p = &plan.Plan{}
	}
	return c.JSON(p.Export())
}

// listOf sends everything of one kind that belongs to a job: a job is small.
func listOf[T any](a *API, c fiber.Ctx, of func(*job.State) []T) error {
	st, err := a.Shop.Job(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	return c.JSON(Page[T]{Items: of(st)})
}

func (a *API) steps(c fiber.Ctx) error  { return listOf(a, c, stepsOf) }
func (a *API) pulls(c fiber.Ctx) error  { return listOf(a, c, pullsOf) }
func (a *API) ledger(c fiber.Ctx) error { return listOf(a, c, ledgerOf) }

// account is what a job comes to.
func (a *API) account(c fiber.Ctx) error {
	st, err := a.Shop.Job(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	return c.JSON(accountOf(st))
}

func (a *API) followUps(c fiber.Ctx) error { return listOf(a, c, dueOf) }

func (a *API) findings(c fiber.Ctx) error {
	return listOf(a, c, func(st *job.State) []Finding {
		out := []Finding{}
		for _, f := range st.Findings {
			out = append(out, findingOf(f))
		}
		return out
	})
}

// find notes a finding.
func (a *API) find(c fiber.Ctx) error {
	var in Finding
	if err := read(c, &in); err != nil {
		return err
	}
	if in.By != "" || in.At != nil {
		return fault.New(fault.BadChoice, "by", "Who and when are not for the sender to say.", "Leave “by” and “at” out.")
	}
	cmd := job.Find{Text: in.Text, Place: in.Place}
	st, events, err := a.Shop.Record(c.Context(), c.Params("job"), a.meta(c, in.ID), cmd)
	if err != nil {
		return err
	}
	code := fiber.StatusOK
	if len(events) > 0 {
		code = fiber.StatusCreated
	}
	for _, f := range st.Findings {
		if f.ID == in.ID {
			return c.Status(code).JSON(findingOf(f))
		}
	}
	return shop.ErrNoJob
}

// dues lists what is still owed of all signed jobs.
func (a *API) dues(c fiber.Ctx) error {
	after, limit, err := page(c)
	if err != nil {
		return err
	}
	rows, err := a.Shop.DuesAfter(c.Context(), c.Query("vehicle"), after, limit+1)
	if err != nil {
		return err
	}
	var out []FollowUp
	for _, f := range rows {
		out = append(out, FollowUp{
			Job:     f.Job,
			Vehicle: f.Vehicle,
			No:      f.No,
			Kind:    f.Kind,
			Title:   f.Title,
			AtKM:    f.AtKM,
			Due:     when(f.At),
		})
	}
	return sendPage(c, out, limit, func(f FollowUp) string {
		day := time.Time{}
		if f.Due != nil {
			day = *f.Due
		}
		return shop.DueCursor(day, f.Job, f.No)
	})
}

// number reads a place in the journal.
func number(field, text string) (int, error) {
	if text == "" {
		return 0, nil
	}
	n, err := strconv.Atoi(strings.TrimSpace(text))
	if err != nil || n < 0 {
		return 0, fault.New(
			fault.OutOfRange,
			field,
			"“"+field+"” is no number of an event.",
			"Give the n of the last event that is known, or leave it out.",
		)
	}
	return n, nil
}
