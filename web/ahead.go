package web

import (
	"fmt"
	"time"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/claim"
	"lugtak/core/job"
	"lugtak/core/plan"
	"lugtak/core/record"
	"lugtak/core/unit"
	"lugtak/pages/bench"
	"lugtak/web/kit"
)

// What a tablet needs to go on with the network gone: the bench as it will stand after
// each of the next acts, drawn beforehand.

// aheadPages is how many acts are drawn ahead, and aheadPace the time each is given.
const (
	aheadPages = 24
	aheadPace  = time.Minute
)

// aheadPage is the bench as it stands after an act, as its inner part, and the form that act is sent
// by: only a record that is that very act leads to the page.
type aheadPage struct {
	HTML string   `json:"html"`
	Act  sentForm `json:"act"`
}

// sentForm is a form of the bench: the last part of its address, and what decides in it.
type sentForm struct {
	Do     string            `json:"do"`
	Fields map[string]string `json:"fields"`
}

// ahead answers with the bench after each of the next acts.
// Where only the person knows what comes, or a tool must report, it ends.
func (s benchRoom) ahead(c fiber.Ctx, st *job.State) error {
	x := kit.Session(c)
	seq := st.Seq
	out := []aheadPage{}
	if st.HasPlan() && st.Signature == nil && x.Person.Role != job.Reader {
		c.Request().Header.Set("HX-Request", "true") // the inner part alone
		for range aheadPages {
			next, act := s.oneMore(c, st)
			if next == nil {
				break
			}
			st = next
			page, err := s.drawAhead(c, st)
			if err != nil {
				return err
			}
			out = append(out, aheadPage{page, act})
		}
	}
	return c.JSON(fiber.Map{"seq": seq, "person": x.Person.Name, "pages": out})
}

// oneMore is the job after one more act, with its form; nil where none can be expected.
func (s benchRoom) oneMore(c fiber.Ctx, st *job.State) (*job.State, sentForm) {
	x := kit.Session(c)
	step := st.Plan.Step(st.NextFor(x.Person.Name))
	if step == nil {
		return nil, sentForm{}
	}
	hands := job.Hands{By: x.Person.Name, Choose: s.Shop.Clicker(c.Context())}
	act := st.Expected(step, hands)
	if act == nil {
		act = job.Postpone{Step: step.ID}
		if st.Steps[step.ID].Postponed {
			return nil, sentForm{}
		}
	}
	m := job.Meta{
		ID:   record.EventID(fmt.Sprintf("ahead-%d", st.Seq+1)),
		By:   x.Person.Name,
		Role: x.Person.Role,
		At:   st.Last.Add(aheadPace),
	}
	events, err := job.Decide(st, m, act)
	if err != nil || len(events) == 0 {
		return nil, sentForm{}
	}
	for _, e := range events {
		st = job.Apply(st, e)
	}
	return st, formOf(act)
}

// formOf is the form the bench sends an expected act by.
func formOf(act job.Command) sentForm {
	switch a := act.(type) {
	case job.Postpone:
		return sentForm{"later", map[string]string{"step": string(a.Step)}}
	case job.KeepStep:
		return sentForm{"step", map[string]string{"step": string(a.Step), "choice": a.Choice}}
	case job.Handle:
		f := sentForm{"handle", map[string]string{"step": string(a.Step)}}
		if a.Renewed {
			f.Fields["letter"], f.Fields["renewed"] = a.Letters[0], "1"
		}
		return f
	case job.SetWrench:
		f := sentForm{"set", map[string]string{"step": string(a.Step), "joint": a.Joint, "letter": a.Letter}}
		if a.ToolID != "" {
			f.Fields["tool"], f.Fields["set"] = a.ToolID, unit.Number(a.SetNm, 1)
		}
		return f
	case job.Click:
		return sentForm{"click", map[string]string{
			"step":   string(a.Step),
			"joint":  a.Joint,
			"letter": a.Letter,
			"tool":   a.Claim.Tool,
		}}
	case job.ClickRound:
		return sentForm{"clicks", map[string]string{
			"step":  string(a.Step),
			"joint": a.Joint,
			"tool":  a.Claim.Tool,
		}}
	case job.Turn:
		f := sentForm{"turn", map[string]string{"step": string(a.Step), "joint": a.Joint, "letter": a.Letter}}
		if a.Means == job.ByMark {
			f.Fields["means"], f.Fields["mark"] = "mark", "on"
		}
		return f
	}
	return sentForm{}
}

// drawAhead is the bench of a job that is not there yet.
func (s benchRoom) drawAhead(c fiber.Ctx, st *job.State) (string, error) {
	step := st.Plan.Step(st.Next())
	on := claim.Claim{} // the tool in the person's hand
	if step != nil {
		if j := st.Plan.Joint(step.Joint); j != nil {
			if set, ok := st.Set(kit.Session(c).Person.Name, j.ID, stageAt(st, step, j)); ok {
				on = claim.Claim{ID: "ahead", Tool: set.Tool, By: kit.Session(c).Person.Name, Session: kit.Session(c).ID}
			}
		}
	}
	shown, err := s.benchOf(c, st)
	if err != nil {
		return "", err
	}
	shown.Ahead = &on
	page, err := bench.Page(shown).Lay(s.frame(c))
	if err != nil {
		return "", err
	}
	return page.HTML(kit.Session(c).CSRF), nil
}

func stageAt(st *job.State, step *plan.Step, j *plan.Joint) int {
	if f := st.Fastener(j.ID, st.Current(step)); f != nil {
		return f.Done
	}
	return 0
}

// token is the session's token and its person, for records that were kept without one.
func (s benchRoom) token(c fiber.Ctx) error {
	x := kit.Session(c)
	return c.JSON(fiber.Map{"token": x.CSRF, "person": x.Person.Name})
}
