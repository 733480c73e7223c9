// Package api is the shop as other programs read it: its vehicles, jobs and what belongs to
// them as JSON, its events with a cursor and as a stream, and the little that a script may
// write. One table (calls.go) makes the addresses, who is let in, and the OpenAPI text.
package api

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"io"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/etag"
	"golang.org/x/sync/semaphore"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/record"
	"lugtak/shop"
)

// API answers the calls of the table.
type API struct {
	Shop    *shop.Shop
	Ctx     context.Context // ends the streams
	Session func(fiber.Ctx) (*shop.Session, error)

	// Papers are what a job is written to, by the end of its address; Lists are those of the whole shop.
	Papers map[string]fiber.Handler
	Lists  map[string]fiber.Handler

	streams *semaphore.Weighted
}

// paper sends one of the papers of a job.
func (a *API) paper(name string) fiber.Handler {
	return func(c fiber.Ctx) error { return a.Papers[name](c) }
}

// list sends one of the lists of the shop.
func (a *API) list(name string) fiber.Handler {
	return func(c fiber.Ctx) error { return a.Lists[name](c) }
}

// Bounds of what is sent and taken.
const (
	pageUsual   = 50
	pageMost    = 200
	mostStreams = 40
	bodyMost    = 64 << 10
)

// Mount puts every call under the application.
func (a *API) Mount(app fiber.Router) {
	a.streams = semaphore.NewWeighted(mostStreams)
	// Weak: what is packed on the way is the same resource.
	tagged := etag.New(etag.Config{
		Weak: true,
		Next: func(c fiber.Ctx) bool { return strings.HasSuffix(c.Path(), "/stream") },
	})
	for _, x := range a.calls() {
		path := prefix + strings.NewReplacer("{", ":", "}", "").Replace(x.Path)
		methods := []string{strings.ToUpper(x.Method)}
		if x.Method == "get" && !x.Stream {
			methods = append(methods, fiber.MethodHead)
		}
		app.Add(methods, path, a.let(x.scope), tagged, named(x.do))
	}
}

const prefix = "/api/v1"

// wireNames are the fields that a form calls otherwise than the API does.
var wireNames = map[string]string{"odometer": "odometer_km", "operation": "operations"}

// named lets a refusal name its field as it is called here.
func named(do fiber.Handler) fiber.Handler {
	return func(c fiber.Ctx) error {
		err := do(c)
		f := fault.As(err)
		if f == nil || wireNames[f.Field] == "" {
			return err
		}
		as := *f
		as.Field = wireNames[f.Field]
		return &as
	}
}

// let lets in a script by its token, and to read whoever is signed in.
func (a *API) let(scope listing.Scope) fiber.Handler {
	return func(c fiber.Ctx) error {
		secret, given := strings.CutPrefix(c.Get(fiber.HeaderAuthorization), "Bearer ")
		x, ok, err := a.Shop.ScriptOf(c.Context(), secret, a.Shop.Now())
		if err != nil {
			return err
		}
		switch {
		case ok && x.Scope.Allows(scope):
			c.Locals(key{}, x)
			return c.Next()
		case ok:
			return fault.New(fault.Forbidden, "Authorization", "This token may only "+string(x.Scope)+".",
				"Ask the foreman for a token of scope "+string(scope)+".")
		case given || scope != listing.ScopeRead:
			return stranger(c)
		}
		in, err := a.Session(c)
		if err != nil {
			return err
		}
		if in == nil {
			return stranger(c)
		}
		return c.Next()
	}
}

// Challenge is how somebody who is not let in is asked who they are (RFC 6750, section 3).
const Challenge = `Bearer realm="lugtak"`

func stranger(fiber.Ctx) error {
	return fault.New(fault.SignedOut, "Authorization", "Nobody is let in by this.",
		"Send “Authorization: Bearer …” with a token that the foreman made under Office, Scripts.")
}

// key is where a request keeps its script.
type key struct{}

// Signs is the name of the script that asks; empty where a person does.
func Signs(c fiber.Ctx) string {
	if x, ok := c.Locals(key{}).(listing.Script); ok {
		return x.Signs()
	}
	return ""
}

// meta is what goes with a command of a script: its name tells that no person sent it.
func (a *API) meta(c fiber.Ctx, id string) job.Meta {
	x, _ := c.Locals(key{}).(listing.Script)
	return job.Meta{ID: record.EventID(id), By: x.Signs(), Role: job.Technician, At: a.Shop.Now()}
}

// read takes the body, one JSON object with no field that is not known.
func read(c fiber.Ctx, into any) error {
	if len(c.Body()) > bodyMost {
		return fault.New(fault.TooLong, "", "That is too much at once.", "Send less.")
	}
	d := json.NewDecoder(bytes.NewReader(c.Body()))
	d.DisallowUnknownFields()
	err := d.Decode(into)
	if err == nil {
		_, err = d.Token()
	}
	if errors.Is(err, io.EOF) && len(c.Body()) > 0 {
		return nil
	}
	field := ""
	var typ *json.UnmarshalTypeError
	if errors.As(err, &typ) {
		field = typ.Field
	}
	says := "more than one value"
	if err != nil {
		says = strings.TrimPrefix(err.Error(), "json: ")
	}
	return fault.New(fault.BadJSON, field, "The body cannot be read: "+says+".",
		"Send one JSON object, as /api/v1/openapi.json describes it.")
}

// page is how many of a list are asked for, and behind which.
func page(c fiber.Ctx) (after string, limit int, err error) {
	after, text := c.Query("after"), c.Query("limit")
	if text == "" {
		return after, pageUsual, nil
	}
	limit, err = strconv.Atoi(text)
	if err != nil || limit < 1 || limit > pageMost {
		return "", 0, fault.New(fault.OutOfRange, "limit", "“limit” is not from 1 to "+strconv.Itoa(pageMost)+".",
			"Leave it out, or give a number in between.")
	}
	return after, limit, nil
}

// sendPage sends the first limit of the items; one more was read to know whether there is one.
func sendPage[T any](c fiber.Ctx, items []T, limit int, cursor func(T) string) error {
	p := Page[T]{Items: items}
	if len(items) > limit {
		p.Items = items[:limit]
		p.Next = cursor(items[limit-1])
	}
	if p.Items == nil {
		p.Items = []T{}
	}
	return c.JSON(p)
}
