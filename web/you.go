package web

import (
	"cmp"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/web/kit"
)

// youView is what is one's own: how pages are shown, and where one is signed in.
type youView struct {
	Prefers listing.Prefers
	In      []sessionView
	Looks   []choice
	Units   []choice
	Texts   []int
	Fault   *fault.Fault
}

// choice is one of a list, with what it is called.
type choice struct{ Value, Name string }

var (
	lookNames = map[string]string{"": "as this device has it", "light": "light", "dark": "dark"}
	unitNames = map[string]string{"": "as the shop has it", "Nm": "N·m", "ft-lb": "ft·lb"}
)

func choices(values []string, names map[string]string) []choice {
	var out []choice
	for _, v := range values {
		out = append(out, choice{v, names[v]})
	}
	return out
}

// sessionView is a session as it is listed, with what tells it apart.
type sessionView struct {
	listing.Session
	Here bool // it is the one that asks
}

// sessions lists those of a person, or of all where none is named.
func (s *Server) sessions(c fiber.Ctx, person string) ([]sessionView, error) {
	rows, err := s.Shop.Sessions(c.Context(), person, s.Shop.Now())
	var out []sessionView
	for _, r := range rows {
		out = append(out, sessionView{r, r.ID == kit.Session(c).ID})
	}
	return out, err
}

func (s *Server) you(c fiber.Ctx) error { return s.showYou(c, 200, kit.Session(c).Prefers, nil) }

func (s *Server) showYou(c fiber.Ctx, code int, p listing.Prefers, f *fault.Fault) error {
	in, err := s.sessions(c, kit.Session(c).Person.ID)
	if err != nil {
		return err
	}
	return s.render(c, code, "you", "You", youView{
		Prefers: p,
		In:      in,
		Looks:   choices(listing.Looks, lookNames),
		Units:   choices(listing.Units, unitNames),
		Texts:   listing.Texts,
		Fault:   f,
	})
}

// firstUnit is the unit of torque that stands first for whoever asks.
func (s *Server) firstUnit(c fiber.Ctx) string {
	return cmp.Or(kit.Session(c).Unit, s.Shop.Library().Shop.FirstUnit)
}

// prefer keeps how one wants pages shown.
func (s *Server) prefer(c fiber.Ctx) error {
	in := kit.Read[struct {
		Look string    `form:"look"`
		Unit string    `form:"unit"`
		Text kit.Whole `form:"text"`
	}](c)
	p := listing.Prefers{Look: in.Look, Unit: in.Unit, Text: in.Text.Value}
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
func (s *Server) revoke(c fiber.Ctx) error {
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
	return fault.New("not_found", "session", "There is no such session, or it has ended.", "Reload the page.")
}
