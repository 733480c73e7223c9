package web

import (
	"github.com/gofiber/fiber/v3"

	"lugtak/core/job"
	"lugtak/pages/office"
)

// officeRoom answers for people, scripts, lists, and how the shop does.
type officeRoom struct{ *Server }

func (s officeRoom) routes(at paths) {
	at.Post("/signout", s.signOut)
	at.get("/pin", s.pinPage)
	at.Post("/pin", s.changePIN)
	at.get("/notices", s.notices)
	at.get("/you", s.you)
	at.Post("/you", s.prefer)
	at.Post("/sessions/:session/end", s.revoke)
	at.get("/scripts", foreman("lets scripts in", s.scripts))
	at.Post("/scripts", foreman("lets scripts in", s.changeScripts))
	at.get("/acts", foreman("reads what was done in the shop", s.acts))
	at.get("/office", s.office)
	at.get("/imports", foreman("takes lists in", s.imports))
	at.Post("/imports", foreman("takes lists in", s.takeList))
	at.get("/people", foreman("looks after people", s.people))
	at.Post("/people", foreman("looks after people", s.addPerson))
	at.Post("/people/:person", foreman("looks after people", s.changePerson))
}

// mostOutcomes is how many jobs the office looks back on.
const mostOutcomes = 2000

// office shows how the shop does, and where its foreman goes on.
func (s officeRoom) office(c fiber.Ctx) (err error) {
	ctx, now := c.Context(), s.Shop.Now()
	x := office.Figures{Node: s.ReadOnly}
	if x.Outcomes, err = s.Shop.Outcomes(ctx, office.First(now).Add(-job.ComebackWithin), mostOutcomes); err != nil {
		return err
	}
	if x.Jobs, x.Owed, err = s.Shop.OpenSums(ctx); err != nil {
		return err
	}
	if x.Due, err = s.dues(c); err != nil {
		return err
	}
	if x.Tools, err = s.Shop.Tools(ctx); err != nil {
		return err
	}
	return s.show(c, 200, office.Office(x, now))
}
