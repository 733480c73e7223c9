package web

import (
	"time"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/pages/office"
	"lugtak/shop"
	"lugtak/web/kit"
)

func (s officeRoom) signInPage(c fiber.Ctx) error { return s.showSignIn(c, 200, "", nil) }

func (s officeRoom) showSignIn(c fiber.Ctx, code int, name string, f *fault.Fault) error {
	kit.RetryAfter(c, f)
	people, err := s.Shop.People(c.Context())
	if err != nil {
		return err
	}
	v := office.SignIn{People: s.Demo, Name: name, NoPeople: len(people) == 0, Fault: f}
	for _, p := range people {
		if p.Active {
			v.Names = append(v.Names, p.Name)
		}
	}
	return s.show(c, code, v.Page())
}

// person is what the forms about people say.
type person struct {
	Name string   `form:"name"`
	PIN  string   `form:"pin"`
	Role job.Role `form:"role"`
	Do   string   `form:"do"`
}

// asker is where a PIN comes from.
func (s *Server) asker(c fiber.Ctx) shop.Asker {
	a := shop.Asker{Address: s.proxies.Address(c)}
	if x := kit.Session(c); x != nil {
		a.Person = x.Person.ID
	}
	return a
}

func (s officeRoom) signIn(c fiber.Ctx) error {
	if site := c.Get("Sec-Fetch-Site"); site != "" && site != "same-origin" && site != "none" {
		return fault.New(fault.Forbidden, "", "This form is from another site.", "Sign in from this shop's own page.")
	}
	in := kit.Read[person](c)
	p, err := s.Shop.Prove(c.Context(), in.Name, in.PIN, s.asker(c), s.Shop.Now())
	if f := fault.As(err); f != nil {
		return s.showSignIn(c, kit.Status(f), in.Name, f)
	} else if err != nil {
		return err
	}
	if err := s.Shop.SignOut(c.Context(), c.Cookies(cookieName)); err != nil { // whoever was in here
		return err
	}
	cookie, err := s.Shop.SignIn(c.Context(), p, c.Get("User-Agent"), s.Shop.Now())
	if err != nil {
		return err
	}
	c.Cookie(
		&fiber.Cookie{
			Name:     cookieName,
			Value:    cookie,
			Path:     "/",
			HTTPOnly: true,
			SameSite: "Strict",
			Secure:   c.Scheme() == "https",
			MaxAge:   int((14 * time.Hour).Seconds()),
		},
	)
	return kit.See(c, "/")
}

func (s officeRoom) signOut(c fiber.Ctx) error {
	if err := s.Shop.SignOut(c.Context(), c.Cookies(cookieName)); err != nil {
		return err
	}
	s.Shop.EndSession(kit.Session(c).ID)
	c.ClearCookie(cookieName)
	return kit.See(c, "/signin")
}

func (s officeRoom) pinPage(c fiber.Ctx) error { return s.show(c, 200, office.PIN{}.Page()) }

// changePIN gives oneself a new PIN, proved by the old one. It ends every session of one's
// own.
func (s officeRoom) changePIN(c fiber.Ctx) error {
	in := kit.Read[struct {
		Old string `form:"pin"`
		New string `form:"newpin"`
	}](c)
	me := kit.Session(c).Person
	_, err := s.Shop.Prove(c.Context(), me.Name, in.Old, s.asker(c), s.Shop.Now())
	if err == nil {
		err = s.Shop.SetPIN(c.Context(), me.ID, in.New, me.Name)
	}
	if f := fault.As(err); f != nil {
		return s.show(c, kit.Status(f), office.PIN{Fault: f}.Page())
	} else if err != nil {
		return err
	}
	s.Shop.EndPerson(me.Name)
	c.ClearCookie(cookieName)
	return kit.See(c, "/signin")
}

func (s officeRoom) people(c fiber.Ctx) error { return s.showPeople(c, 200, office.People{}) }

func (s officeRoom) showPeople(c fiber.Ctx, code int, v office.People) error {
	var err error
	if v.People, err = s.Shop.People(c.Context()); err != nil {
		return err
	}
	if v.In, err = s.sessions(c, ""); err != nil {
		return err
	}
	return s.show(c, code, v.Page())
}

func (s officeRoom) addPerson(c fiber.Ctx) error {
	in := kit.Read[person](c)
	v := office.People{Name: in.Name, Role: in.Role}
	if _, err := s.Shop.AddPerson(c.Context(), in.Name, in.Role, in.PIN, kit.Session(c).Person.Name); err != nil {
		if v.Fault = fault.As(err); v.Fault == nil {
			return err
		}
		return s.showPeople(c, kit.Status(v.Fault), v)
	}
	return kit.See(c, "/people")
}

func (s officeRoom) changePerson(c fiber.Ctx) error {
	id := c.Params("person")
	by := kit.Session(c).Person.Name
	var err error
	in := kit.Read[person](c)
	switch {
	case in.Do == "pin":
		err = s.Shop.SetPIN(c.Context(), id, in.PIN, by)
	case in.Do == "role":
		err = s.Shop.SetRole(c.Context(), id, in.Role, by)
	case in.Do != "off" && in.Do != "on":
		err = fault.New(fault.BadChoice, "do", "Nothing was chosen.", "Use one of the buttons.")
	case id == kit.Session(c).Person.ID:
		err = fault.New(fault.BadChoice, "do", "You cannot lock yourself out.", "Another foreman can.")
	default:
		err = s.Shop.SetActive(c.Context(), id, in.Do == "on", by)
	}
	if err == nil {
		err = s.endClaimsOf(c, id)
	}
	if f := fault.As(err); f != nil {
		return s.showPeople(c, kit.Status(f), office.People{Fault: f, Changed: id})
	} else if err != nil {
		return err
	}
	return kit.See(c, "/people")
}

// endClaimsOf ends what somebody holds whose sessions have just ended.
func (s officeRoom) endClaimsOf(c fiber.Ctx, person string) error {
	people, err := s.Shop.People(c.Context())
	for _, p := range people {
		if p.ID == person {
			s.Shop.EndPerson(p.Name)
		}
	}
	return err
}
