package kit_test

import (
	"fmt"
	"io"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/store"
	"lugtak/web/kit"
)

var noon = time.Date(2026, 3, 2, 12, 0, 0, 0, time.UTC)

// with answers one request that carries a form, and gives what do wrote.
func with(t *testing.T, form url.Values, do func(c fiber.Ctx) string) string {
	t.Helper()
	app := fiber.New()
	app.All("/", func(c fiber.Ctx) error {
		kit.Keep(c, &store.Session{CSRF: "token", Person: listing.Person{Name: "Technician Aro", Role: job.Technician}})
		return c.SendString(do(c))
	})
	r := httptest.NewRequest("POST", "/", strings.NewReader(form.Encode()))
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	res, err := app.Test(r)
	if err != nil {
		t.Fatal(err)
	}
	body, err := io.ReadAll(res.Body)
	if err != nil {
		t.Fatal(err)
	}
	return string(body)
}

type where struct {
	Step string `form:"step"`
}

type form struct {
	where
	Figure kit.Figure `form:"figure"`
	Count  kit.Whole  `form:"count"`
	Tick   kit.Tick   `form:"tick"`
	Near   kit.List   `form:"near"`
	Parts  []string   `form:"part"`
	Code   job.Cause  `form:"code"`
}

func TestRead(t *testing.T) {
	for _, c := range []struct{ sent, want string }{
		{"step=a.FL&figure=44,3&count=2&tick=on&near=rubber,+,paint&part=x&part=y&code=no_room",
			`a.FL {44,3 44.3 true} 2 true [rubber paint] [x y] no_room`},
		{"figure=a+lot&count=2.5", ` {a lot 0 false} 0 false [] [] `},
		{"count=99999999999999999999", ` { 0 false} 0 false [] [] `},
		{"count=-3&tick=", ` { 0 false} 0 false [] [] `},
		{"unknown.step=a&unknown[0]=1&part[7]=z&=", ` { 0 false} 0 false [] [] `},
	} {
		v, err := url.ParseQuery(c.sent)
		if err != nil {
			t.Fatal(err)
		}
		got := with(t, v, func(c fiber.Ctx) string {
			f := kit.Read[form](c)
			return fmt.Sprint(f.Step, " ", f.Figure, " ", f.Count.Value, " ", f.Tick, " ", f.Near, " ", f.Parts, " ", f.Code)
		})
		if got != c.want {
			t.Errorf("%s: %s, want %s", c.sent, got, c.want)
		}
	}
}

// What was typed comes back, but never what is secret.
func TestTypedKeepsNoSecret(t *testing.T) {
	v := url.Values{"reason": {"rusty"}, "pin": {"2401"}, "_csrf": {"token"}}
	got := with(t, v, func(c fiber.Ctx) string { return fmt.Sprint(kit.Typed(c), kit.Own(c)) })
	if got != "map[reason:rusty] true" {
		t.Error(got)
	}
	v.Set("_csrf", "another")
	if got := with(t, v, func(c fiber.Ctx) string { return fmt.Sprint(kit.Own(c)) }); got != "false" {
		t.Error("a form of another session is taken for this one's")
	}
}

// A record made without network brings the time it was made at, whatever that is: the job
// believes or refuses it, and nobody puts it at another time in silence.
func TestMetaOfAKeptRecord(t *testing.T) {
	for _, c := range []struct {
		kept string
		want time.Time
	}{
		{"", noon},
		{"2026-03-02T11:00:00Z", noon.Add(-time.Hour)},
		{"2026-03-02T12:00:30Z", noon.Add(30 * time.Second)}, // a clock a little fast
		{"2026-03-02T12:02:00Z", noon.Add(2 * time.Minute)},
		{"2026-02-01T12:00:00Z", time.Date(2026, 2, 1, 12, 0, 0, 0, time.UTC)},
		{"yesterday", time.Time{}},
	} {
		v := url.Values{"id": {"x"}, "seq": {"7"}, "kept_at": {c.kept}}
		got := with(t, v, func(f fiber.Ctx) string {
			m := kit.Meta(f, noon)
			return fmt.Sprintf("%s %d %s %v %v", m.ID, m.Seq, m.By, m.At.Equal(c.want), m.Sent.IsZero() == (c.kept == ""))
		})
		if got != "x 7 Technician Aro true true" {
			t.Errorf("%q: %s", c.kept, got)
		}
	}
}
