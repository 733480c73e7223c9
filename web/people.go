package web

import (
	"time"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/store"
)

type signInView struct {
	People   []DemoPerson
	Names    []string // to choose from, where they are few
	Name     string
	NoPeople bool
	Fault    *fault.Fault
}

func (s *Server) signInPage(c fiber.Ctx) error { return s.showSignIn(c, 200, "", nil) }

func (s *Server) showSignIn(c fiber.Ctx, code int, name string, f *fault.Fault) error {
	people, err := s.Store.People(c.Context())
	if err != nil {
		return err
	}
	v := signInView{People: s.Demo, Name: name, NoPeople: len(people) == 0, Fault: f}
	for _, p := range people {
		if p.Active {
			v.Names = append(v.Names, p.Name)
		}
	}
	if len(v.Names) > fewNames {
		v.Names = nil
	}
	return s.render(c, code, "signin", "Sign in", v)
}

// fewNames is how many people are offered as keys; beyond, the name is typed.
const fewNames = 12

func (s *Server) signIn(c fiber.Ctx) error {
	if site := c.Get("Sec-Fetch-Site"); site != "" && site != "same-origin" && site != "none" {
		return fault.New("forbidden", "", "This form is from another site.", "Sign in from this shop's own page.")
	}
	name := c.FormValue("name")
	p, err := s.Store.Prove(c.Context(), name, c.FormValue("pin"), s.Now())
	if f := fault.As(err); f != nil {
		return s.showSignIn(c, status(f), name, f)
	} else if err != nil {
		return err
	}
	cookie, err := s.Store.SignIn(c.Context(), p, s.Now())
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
	return c.Redirect().Status(fiber.StatusSeeOther).To("/")
}

func (s *Server) signOut(c fiber.Ctx) error {
	if err := s.Store.SignOut(c.Context(), c.Cookies(cookieName)); err != nil {
		return err
	}
	s.endSession(session(c).ID)
	c.ClearCookie(cookieName)
	return c.Redirect().Status(fiber.StatusSeeOther).To("/signin")
}

type peopleView struct {
	People  []store.Person
	Name    string
	Role    job.Role
	Roles   []job.Role
	Fault   *fault.Fault
	Changed string // id of the person the fault is about
}

func (s *Server) people(c fiber.Ctx) error { return s.showPeople(c, 200, peopleView{}) }

func (s *Server) showPeople(c fiber.Ctx, code int, v peopleView) error {
	if session(c).Person.Role != job.Foreman {
		return fault.New(job.CodeRole, "", "Only a foreman looks after people.", "Ask the foreman.")
	}
	var err error
	if v.People, err = s.Store.People(c.Context()); err != nil {
		return err
	}
	v.Roles = []job.Role{job.Technician, job.Foreman, job.Reader}
	return s.render(c, code, "people", "People", v)
}

func (s *Server) addPerson(c fiber.Ctx) error {
	if session(c).Person.Role != job.Foreman {
		return s.showPeople(c, 403, peopleView{})
	}
	v := peopleView{Name: c.FormValue("name"), Role: job.Role(c.FormValue("role"))}
	if _, err := s.Store.AddPerson(c.Context(), v.Name, v.Role, c.FormValue("pin"), session(c).Person.Name); err != nil {
		if v.Fault = fault.As(err); v.Fault == nil {
			return err
		}
		return s.showPeople(c, status(v.Fault), v)
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/people")
}

func (s *Server) changePerson(c fiber.Ctx) error {
	id := c.Params("person")
	if session(c).Person.Role != job.Foreman {
		return s.showPeople(c, 403, peopleView{})
	}
	by := session(c).Person.Name
	var err error
	switch do := c.FormValue("do"); {
	case do == "pin":
		err = s.Store.SetPIN(c.Context(), id, c.FormValue("pin"), by)
	case do != "off" && do != "on":
		err = fault.New("bad_choice", "do", "Nothing was chosen.", "Use one of the buttons.")
	case id == session(c).Person.ID:
		err = fault.New("bad_choice", "do", "You cannot lock yourself out.", "Another foreman can.")
	default:
		err = s.Store.SetActive(c.Context(), id, do == "on", by)
	}
	if err == nil {
		err = s.endClaimsOf(c, id)
	}
	if f := fault.As(err); f != nil {
		return s.showPeople(c, status(f), peopleView{Fault: f, Changed: id})
	} else if err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/people")
}

// endClaimsOf ends what somebody holds whose sessions have just ended.
func (s *Server) endClaimsOf(c fiber.Ctx, person string) error {
	people, err := s.Store.People(c.Context())
	for _, p := range people {
		if p.ID == person {
			s.endPerson(p.Name)
		}
	}
	return err
}
