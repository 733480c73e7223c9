package api

import (
	"net/http/httptest"
	"strings"
	"testing"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
)

// Whatever is sent as a body, it is read or refused as JSON that cannot be.
func FuzzBody(f *testing.F) {
	for _, s := range []string{"", "{}", `{"fleet":"P-1"}`, `{"fleet":1}`, `{"a":1}`, "{}{}", "[", `{"id":"\u0000"}`} {
		f.Add(s)
	}
	app := fiber.New()
	var err error
	app.Post("/", func(c fiber.Ctx) error {
		var in Vehicle
		err = read(c, &in)
		return c.SendStatus(fiber.StatusOK)
	})
	f.Fuzz(func(t *testing.T, body string) {
		res, bad := app.Test(httptest.NewRequest("POST", "/", strings.NewReader(body)))
		if bad != nil {
			t.Fatal(bad)
		}
		res.Body.Close()
		if x := fault.As(err); err != nil && (x == nil || x.Code != "bad_json" && x.Code != "too_long" || x.Remedy == "") {
			t.Errorf("%v", err)
		}
	})
}
