// Package kit is what every page of the shop's server is made with: who asks, what a form
// says, how an answer goes back, and what pages are told while they are open.
package kit

import (
	"cmp"
	"crypto/subtle"
	"time"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/job"
	"lugtak/core/record"
	"lugtak/shop"
)

// key is where a request keeps its session.
type key struct{}

// Keep puts the session of whoever asks with the request.
func Keep(c fiber.Ctx, x *shop.Session) { c.Locals(key{}, x) }

// Session is that of whoever asks; nil for a stranger.
func Session(c fiber.Ctx) *shop.Session {
	x, _ := c.Locals(key{}).(*shop.Session)
	return x
}

// Own says that a form carries the token of the session it was sent from.
func Own(c fiber.Ctx) bool {
	given := c.Get("X-Csrf-Token")
	if given == "" {
		given = Read[struct {
			Token string `form:"_csrf"`
		}](c).Token
	}
	return subtle.ConstantTimeCompare([]byte(given), []byte(Session(c).CSRF)) == 1
}

// Meta is what goes with a command from a form: its client-made id, who sends it, and what
// the client had seen. One that was kept on a tablet without network has the time it was
// made at, which the job believes or refuses.
func Meta(c fiber.Ctx, now time.Time) job.Meta {
	x := Session(c)
	in := Read[struct {
		ID   string `form:"id"`
		Live string `form:"event"` // of a form that answers while one types
		Seq  Whole  `form:"seq"`
		Kept string `form:"kept_at"`
	}](c)
	id := record.EventID(cmp.Or(in.ID, in.Live))
	m := job.Meta{ID: id, By: x.Person.Name, Role: x.Person.Role, At: now, Seq: in.Seq.Value}
	if in.Kept != "" {
		m.Sent = now
		m.At, _ = time.Parse(time.RFC3339, in.Kept) // what is no time is refused as none
	}
	return m
}
