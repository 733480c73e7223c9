package kit

import (
	"math"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
)

// Status is the status of a refusal.
func Status(f *fault.Fault) int {
	switch f.Code {
	case "bad_json":
		return fiber.StatusBadRequest
	case "bad_method":
		return fiber.StatusMethodNotAllowed
	case "not_found":
		return fiber.StatusNotFound
	case "forbidden", fault.Role:
		return fiber.StatusForbidden
	case "signed_out":
		return fiber.StatusUnauthorized
	case fault.Stale, fault.Signed, fault.Conflict, fault.Claim, fault.TooQuick, fault.Broken:
		return fiber.StatusConflict
	case "disk_full", "read_only":
		return fiber.StatusInsufficientStorage
	case "bad_encoding":
		return fiber.StatusUnsupportedMediaType
	case "throttled":
		return fiber.StatusTooManyRequests
	}
	return fiber.StatusUnprocessableEntity
}

// RetryAfter says how long to wait, where a refusal does.
func RetryAfter(c fiber.Ctx, f *fault.Fault) {
	if f != nil && f.Wait > 0 {
		c.Set(fiber.HeaderRetryAfter, strconv.Itoa(int(math.Ceil(f.Wait.Seconds()))))
	}
}

// Reads says that a request asks and sends nothing.
func Reads(c fiber.Ctx) bool { return c.Method() == fiber.MethodGet || c.Method() == fiber.MethodHead }

// Part says that the page asks for its inner part only.
func Part(c fiber.Ctx) bool { return c.Get("HX-Request") == "true" }

// See sends a form on to a page.
func See(c fiber.Ctx, to string) error { return c.Redirect().Status(fiber.StatusSeeOther).To(to) }

// Go leads on after a write: htmx is told the address, a plain form is sent there.
func Go(c fiber.Ctx, to string) error {
	if Part(c) {
		c.Set("HX-Redirect", to)
		return c.SendStatus(fiber.StatusOK)
	}
	return See(c, to)
}
