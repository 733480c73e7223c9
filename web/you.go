package web

import (
	"cmp"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/pages/office"
	"lugtak/web/kit"
)

// sessions lists those of a person, or of all where none is named.
func (s officeRoom) sessions(c fiber.Ctx, person string) ([]office.Session, error) {
	rows, err := s.Shop.Sessions(c.Context(), person, s.Shop.Now())
	return office.SessionsOf(rows, kit.Session(c).ID), err
}

func (s officeRoom) you(c fiber.Ctx) error { return s.showYou(c, 200, kit.Session(c).Prefers, nil) }

func (s officeRoom) showYou(c fiber.Ctx, code int, p listing.Prefers, f *fault.Fault) error {
	in, err := s.sessions(c, kit.Session(c).Person.ID)
	if err != nil {
		return err
	}
	return s.show(c, code, office.You{Prefers: p, In: in, Fault: f}.Page())
}

// firstUnit is the unit of torque that stands first for whoever asks.
func (s *Server) firstUnit(c fiber.Ctx) string {
	return cmp.Or(kit.Session(c).Unit, s.Shop.Library().Shop.FirstUnit)
}

// prefer keeps how one wants pages shown.
func (s officeRoom) prefer(c fiber.Ctx) error {
	in := kit.Read[struct {
		Look  string    `form:"look"`
		Unit  string    `form:"unit"`
		Text  kit.Whole `form:"text"`
		Voice string    `form:"voice"`
		Pace  string    `form:"pace"`
	}](c)
	p := listing.Prefers{Look: in.Look, Unit: in.Unit, Text: in.Text.Value, Voice: in.Voice, Pace: in.Pace}
	if err := s.Shop.Prefer(c.Context(), kit.Session(c).Person.ID, p); err != nil {
		f := fault.As(err)
		if f == nil {
			return err
		}
		return s.showYou(c, kit.Status(f), p, f)
	}
	return kit.See(c, "/you")
}

// revoke ends a session: one's own, or as a foreman anybody's.
func (s officeRoom) revoke(c fiber.Ctx) error {
	me := kit.Session(c)
	back := "/you"
	whose := me.Person.ID
	if me.Person.Role == job.Foreman {
		whose = ""
	}
	rows, err := s.Shop.Sessions(c.Context(), whose, s.Shop.Now())
	if err != nil {
		return err
	}
	for _, r := range rows {
		if r.ID != c.Params("session") {
			continue
		}
		if r.Person != me.Person.ID {
			back = "/people"
		}
		if err := s.Shop.Revoke(c.Context(), r, me.Person.Name, s.Shop.Now()); err != nil {
			return err
		}
		s.Shop.EndSession(r.ID)
		return kit.See(c, back)
	}
	return fault.New(fault.NotFound, "session", "There is no such session, or it has ended.", "Reload the page.")
}
