package web

import (
	"context"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/listing"
	"lugtak/pages/fleet"
)

// Chain is the chain of shops this one belongs to.
type Chain interface {
	// Past is what other shops did on the vehicle of a VIN, the newest first.
	Past(ctx context.Context, vin string) ([]listing.Elsewhere, error)
	Connected() bool
	// Told is the last line of this shop the chain has, -1 where nothing is told, and what keeps the next from it.
	Told() (upto int, trouble string)
	// Unnamed lists shops that were heard and that nobody has named here.
	Unnamed() []listing.Stranger
}

// elsewhere asks the chain for a vehicle's past. The page of the vehicle asks for it by itself,
// so that it waits for no network.
func (s fleetRoom) elsewhere(c fiber.Ctx) error {
	v, err := s.Shop.Vehicle(c.Context(), c.Params("vehicle"))
	if err != nil {
		return err
	}
	var out fleet.Elsewhere
	switch {
	case s.Chain == nil:
		out.Fault = fault.New(fault.NotFound, "", "This shop is in no chain.", "Type in what other shops did.")
	case v.VIN == "":
		out.Fault = fault.New(
			fault.Missing,
			"vin",
			"The vehicle has no VIN: other shops know it by that.",
			"Type in what other shops did.",
		)
	default:
		if out.Past, err = s.Chain.Past(c.Context(), v.VIN); err != nil {
			s.Shop.Log.Warn("chain", "error", err)
			out.Fault = fault.New(
				fault.NotReady,
				"",
				"The chain is not reached now. There may be jobs of other shops that do not stand here.",
				"Ask again later; work goes on without it.",
			)
		}
	}
	return s.show(c, 200, out.Page())
}

// readOnly refuses what would make a record at a node of the chain; its own people are looked
// after there.
func (s *Server) readOnly(c fiber.Ctx) error {
	asks := c.Method() == fiber.MethodGet || c.Method() == fiber.MethodHead
	if !s.ReadOnly || asks || ownPaths.MatchString(c.Path()) || officePaths.MatchString(c.Path()) {
		return c.Next()
	}
	return fault.New(
		fault.Role,
		"",
		"This is a node of the chain: it shows what the shops record.",
		"Do it in the shop it belongs to.",
	)
}
