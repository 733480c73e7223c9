package web

import (
	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/vehicle"
	"lugtak/pages/reckoner"
	"lugtak/reckon"
	"lugtak/web/kit"
)

// reckoner shows every calculator, or one. Its inputs are in the address, so that
// a result can be linked to and printed.
func (s shelfRoom) reckoner(c fiber.Ctx) error {
	name := c.Params("name")
	if name == "" {
		return s.show(c, 200, reckoner.All(s.Shop.Library(), c.Query("text")))
	}
	calc, ok := reckon.Find(name)
	if !ok {
		return fault.New(fault.NotFound, "", "There is no such calculator.", "Choose one of the Reckoner.")
	}
	var typed map[string]string
	if len(c.Request().URI().QueryString()) > 0 || c.Method() == fiber.MethodPost {
		typed = kit.Typed(c)
	}
	return s.show(c, 200, reckoner.One(s.Shop.Library(), calc, typed))
}

func (s shelfRoom) notation(c fiber.Ctx) error { return s.show(c, 200, reckoner.Notation()) }

// reading says what a recipe means while it is typed, wherever that is.
func (s shelfRoom) reading(c fiber.Ctx) error {
	return s.show(c, 200, reckoner.Reading(vehicle.Spec{
		Recipe:    c.Query("recipe"),
		Thread:    c.Query("thread"),
		Class:     c.Query("class"),
		Treatment: c.Query("treatment"),
	}))
}
