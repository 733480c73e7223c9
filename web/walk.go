package web

import (
	_ "image/png" // photographs may be
	"net/url"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/diagnose"
	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/pages/walk"
	"lugtak/web/kit"
)

// walkRoom answers for the walk-round.
type walkRoom struct{ *Server }

func (s walkRoom) routes(at paths) {
	at.get("/jobs/:job/walk", s.walk)
	at.Post("/jobs/:job/answer", s.answer)
	at.Post("/jobs/:job/measure", s.job(s.measure))
	at.Post("/jobs/:job/rotor", s.rotor)
	at.Post("/jobs/:job/lash", s.lash)
	at.Post("/jobs/:job/lining", s.lining)
	at.Post("/jobs/:job/road", s.road)
	at.Post("/jobs/:job/find", s.find)
	at.Post("/jobs/:job/decide", s.decideOn)
	at.get("/jobs/:job/photo/:event", s.photo)
}

// walked is what every form of the walk-round says: on what it acts, and what the page shows
// after.
type walked struct {
	Step    operation.StepID `form:"step"` // measured at the bench
	At      string           `form:"at"`
	Place   string           `form:"place"`
	Ask     string           `form:"ask"`     // the test in hand
	Measure string           `form:"measure"` // what is measured in its place
}

func (s walkRoom) walk(c fiber.Ctx) error { return s.showWalk(c, 200, "", nil) }

func (s walkRoom) showWalk(c fiber.Ctx, code int, forWhat string, f *fault.Fault) error {
	st, err := s.jobOf(c)
	if err != nil {
		return err
	}
	in := kit.Read[walked](c)
	x := walk.Shown{
		Job:     st,
		Library: s.Shop.Library(),
		Plays:   s.plays(),
		At:      in.At,
		Place:   in.Place,
		Ask:     in.Ask,
		Measure: in.Measure,
		Fault:   f,
		For:     forWhat,
	}
	if f != nil {
		x.Typed = kit.Typed(c)
	}
	if x.Weighed, err = s.Shop.Weigh(c.Context(), st); err != nil {
		return err
	}
	p, err := s.Shop.Pattern(c.Context(), st.Vehicle.Pattern)
	if fault.As(err) == nil && err != nil {
		return err
	}
	if err == nil {
		if x.Offers, err = s.Shop.OffersOf(c.Context(), st, p); err != nil {
			return err
		}
	}
	page, err := walk.Page(x)
	if err != nil {
		return err
	}
	return s.show(c, code, page)
}

// onWalk answers a write on the walk-round.
func (s walkRoom) onWalk(c fiber.Ctx, forWhat string, err error) error {
	in := kit.Read[walked](c)
	if in.Step != "" {
		return benchRoom(s).after(c, err)
	}
	if f := fault.As(err); f != nil {
		return s.showWalk(c, kit.Status(f), forWhat, f)
	} else if err != nil {
		return err
	}
	if kit.Part(c) {
		return s.showWalk(c, 200, "", nil)
	}
	to := "/jobs/" + c.Params("job") + "/walk?" + url.Values{"place": {in.Place}, "at": {in.At}}.Encode()
	return kit.See(c, to)
}

func (s walkRoom) answer(c fiber.Ctx) error {
	in := kit.Read[struct {
		Sign string `form:"sign"`
		Say  string `form:"say"` // yes, no or open, with a corner behind it where one is meant
	}](c)
	i := slices.IndexFunc(s.Shop.Library().Signs.Evidence, func(e diagnose.Evidence) bool { return e.Key == in.Sign })
	if i < 0 {
		return s.onWalk(
			c,
			"",
			fault.New(fault.UnknownSign, "sign", "There is no such sign or test.", "Choose one of the walk-round."),
		)
	}
	cmd := job.Answer{Sign: in.Sign, Ask: s.Shop.Library().Signs.Evidence[i].Ask,
		Position: s.Shop.Library().Signs.Evidence[i].Position}
	switch say, corner, _ := strings.Cut(in.Say, " "); say {
	case "open": // takes it back
		cmd.Open = true
		cmd.Corner = corner
	case "yes":
		cmd.Yes = true
		cmd.Corner = corner
	}
	_, err := s.record(c, cmd)
	return s.onWalk(c, in.Sign, err)
}

// decideOn accepts proposals, or declines one; accepting what the library can plan leads to
// the order, where it is ticked.
func (s walkRoom) decideOn(c fiber.Ctx) error {
	in := kit.Read[struct {
		Suspects []string `form:"suspect"`
		Say      string   `form:"say"`
		Plan     kit.Tick `form:"plan"`
		Reason   string   `form:"reason"`
	}](c)
	if len(in.Suspects) == 0 {
		return s.onWalk(c, "proposals",
			fault.New(fault.Missing, "suspect", "Nothing is ticked.", "Tick what is to be done, then accept it."))
	}
	st, err := s.jobOf(c)
	if err != nil {
		return err
	}
	of := kit.Typed(c)
	var all []job.TakeProposal
	for _, key := range in.Suspects {
		x, known := s.Shop.Library().Signs.Suspect(key)
		if !known {
			return s.onWalk(c, "proposals",
				fault.New(fault.Missing, "suspect", "There is no such proposal.", "Choose one of the walk-round."))
		}
		all = append(all, job.TakeProposal{
			Suspect: key,
			Name:    x.Name,
			Safety:  x.Safety,
			Accept:  in.Say == "accept",
			Side:    of["corner-"+key],
			Both:    of["both-"+key] != "",
			Reason:  in.Reason,
		})
	}
	if err := s.Shop.Propose(c.Context(), st, all); err != nil {
		return err
	}
	m := kit.Meta(c, s.Shop.Now())
	for n, take := range all {
		each := m
		if n > 0 {
			each.ID, each.Seq = m.ID.And(n), 0
		}
		if _, err := s.recordAs(c, each, take); err != nil {
			return s.onWalk(c, take.Suspect, err)
		}
	}
	if in.Say == "accept" && bool(in.Plan) {
		return kit.Go(c, "/jobs/"+c.Params("job")+"/order")
	}
	return s.onWalk(c, "proposals", nil)
}

// plays is what a stand-in logger can play; nothing where none is connected.
func (s walkRoom) plays() []string {
	if l := s.logger(); l != nil {
		return l.Plays()
	}
	return nil
}
