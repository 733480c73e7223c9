package web

import (
	"bytes"
	"io"

	"github.com/gofiber/fiber/v3"

	"lugtak/report"
)

// Lists of the whole shop as files, for people and scripts alike.

func (s fleetRoom) fleetCSV(c fiber.Ctx) error {
	all, err := s.Shop.Vehicles(c.Context())
	if err != nil {
		return err
	}
	return attach(c, "fleet.csv", csvText, func(w io.Writer) error { return report.FleetCSV(w, all) })
}

func (s fleetRoom) dueCSV(c fiber.Ctx) error {
	all, err := s.Shop.FollowUps(c.Context(), "")
	if err != nil {
		return err
	}
	return attach(c, "due.csv", csvText, func(w io.Writer) error { return report.FollowUpsCSV(w, all) })
}

func (s officeRoom) outcomesCSV(c fiber.Ctx) error {
	releases, err := s.Shop.SaidOfReleases(c.Context())
	if err != nil {
		return err
	}
	suspects, err := s.Shop.SaidOfSuspects(c.Context())
	if err != nil {
		return err
	}
	return attach(c, "outcomes.csv", csvText, func(w io.Writer) error { return report.OutcomesCSV(w, releases, suspects) })
}

const csvText = "text/csv; charset=utf-8"

// attach sends a file of the shop's under its name.
func attach(c fiber.Ctx, name, kind string, write func(io.Writer) error) error {
	var b bytes.Buffer
	if err := write(&b); err != nil {
		return err
	}
	c.Set("Content-Type", kind)
	c.Set("Content-Disposition", `attachment; filename="`+name+`"`)
	return c.Send(b.Bytes())
}
