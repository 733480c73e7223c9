package web

import (
	"fmt"
	_ "image/png" // photographs may be
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/diagnose"
	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/vehicle"
	"lugtak/draw"
	"lugtak/library"
)

// cornerPlaces are those that each corner of a vehicle has.
var cornerPlaces = []string{"wheel", "hub", "brake", "arm", "damper"}

func (s *Server) walk(c fiber.Ctx) error { return s.showWalk(c, 200, "", nil) }

func (s *Server) history(c fiber.Ctx, st *job.State) (diagnose.History, error) {
	h := diagnose.History{KM: float64(st.OdometerKM), Salt: s.lib().Shop.Salt, Renewed: map[string]diagnose.Renewal{}}
	past, err := s.Store.LastJobs(c.Context(), st.Vehicle.ID, 50)
	if err != nil {
		return h, err
	}
	for _, p := range past {
		if p.Signature == nil {
			continue
		}
		for _, x := range s.lib().Signs.Suspects {
			if slices.ContainsFunc(x.Operations, p.Plan.Does) {
				if _, newer := h.Renewed[x.Key]; !newer {
					h.Renewed[x.Key] = diagnose.Renewal{Years: s.Now().Sub(p.Signature.At).Hours() / 24 / 365}
				}
			}
		}
	}
	return h, nil
}

func (s *Server) showWalk(c fiber.Ctx, code int, forWhat string, f *fault.Fault) error {
	st, err := s.Store.Job(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	v := walkView{
		Plays:     s.plays(),
		Job:       st,
		Owed:      len(st.Owed()),
		Positions: diagnose.Positions,
		Fault:     f,
		For:       forWhat,
		Typed:     map[string]string{},
	}
	if f != nil {
		for _, k := range []string{"value", "limit", "source", "readings", "new", "discard", "runout", "distance", "text", "reason", "tyre", "ratio", "csv", "wheel"} {
			v.Typed[k] = c.FormValue(k)
		}
	}
	k := &s.lib().Signs
	h, err := s.history(c, st)
	if err != nil {
		return err
	}
	answers := s.answers(st)
	if v.Report, err = k.Weigh(answers, h); err != nil {
		return err
	}
	v.Sure = v.Report.Suspects[0].Chance >= diagnose.Sure
	v.Healthy = int(100*v.Report.Healthy + 0.5)
	if v.Position = c.Query("at", c.FormValue("at")); !slices.Contains(diagnose.Positions, v.Position) {
		v.Position = "ground"
	}
	v.tests(c.Query("ask"))
	if err := s.suspects(&v, answers, h); err != nil {
		return err
	}
	if n := len(st.Walk.Asked); n > 0 {
		sign, _ := job.AnswerOf(st.Walk.Asked[n-1])
		if i := slices.IndexFunc(k.Evidence, func(e diagnose.Evidence) bool { return e.Key == sign }); i >= 0 {
			q := answered(k.Evidence[i], st)
			v.Last = &q
		}
	}
	for _, key := range k.Complaint(st.Complaint) {
		for _, e := range k.Evidence {
			if q := answered(e, st); e.Key == key && !q.Answered {
				v.Told = append(v.Told, q)
			}
		}
	}
	v.Place = c.Query("place", c.FormValue("place"))
	p, _ := s.lib().Pattern(st.Vehicle.Pattern)
	s.placed(&v)
	for _, e := range k.Evidence {
		q := answered(e, st)
		here := v.shows(e.Place) && (q.Answered || follows(e, st))
		if v.Place == "" && q.Answered || here {
			v.Questions = append(v.Questions, q)
		}
	}
	for _, l := range s.lib().Limits.Measures {
		if l.Place == v.Place {
			v.Measures = append(v.Measures, l)
		}
	}
	v.Lash, v.Lining = s.lib().Limits.Lash, s.lib().Limits.Lining
	for _, m := range slices.Backward(st.Walk.Measured) {
		v.Taken = append(v.Taken, takenView{m, draw.MeasureBar(m)})
	}
	if n := len(st.Walk.Drives); n > 0 {
		v.Drive, v.Drives = draw.Waterfall(st.Walk.Drives[n-1]), st.Walk.Drives
	}
	v.Proposals = s.proposals(st, v.Report, p)
	return s.render(c, code, "walk", "Walk-round", v)
}

// answered is a sign or test with what was answered to it.
func answered(e diagnose.Evidence, st *job.State) questionView {
	q := questionView{Evidence: e}
	q.Yes, q.Answered = st.Walk.Answers[e.Key]
	if !e.Corner {
		return q
	}
	for _, c := range diagnose.Corners {
		yes, ok := st.Walk.Answers[job.AnswerKey(e.Key, string(c))]
		q.Answered = q.Answered || ok
		q.Corners = append(q.Corners, cornerView{c, cornerNames[c], yes})
	}
	return q
}

// cornerNames are the corners in words.
var cornerNames = map[diagnose.Corner]string{"FL": "front left", "FR": "front right", "RL": "rear left", "RR": "rear right"}

// follows says that what a question comes after was answered yes, somewhere.
func follows(e diagnose.Evidence, st *job.State) bool {
	if e.After == "" || st.Walk.Answers[e.After] {
		return true
	}
	return slices.ContainsFunc(diagnose.Corners, func(c diagnose.Corner) bool {
		return st.Walk.Answers[job.AnswerKey(e.After, string(c))]
	})
}

// answers are those of the job that the library still knows. A sign it no longer has stays
// in the journal and weighs nothing.
func (s *Server) answers(st *job.State) []diagnose.Answer {
	var out []diagnose.Answer
	for _, key := range st.Walk.Asked {
		sign, corner := job.AnswerOf(key)
		if slices.ContainsFunc(s.lib().Signs.Evidence, func(e diagnose.Evidence) bool { return e.Key == sign }) {
			out = append(out, diagnose.Answer{Key: sign, Yes: st.Walk.Answers[key], Corner: diagnose.Corner(corner)})
		}
	}
	return out
}

// proposals are the suspects likely enough to be worked on, and those decided.
func (s *Server) proposals(st *job.State, r diagnose.Report, p vehicle.Pattern) []proposalView {
	var out []proposalView
	offers := s.offers(p)
	for _, w := range r.Suspects {
		x := proposalView{Weight: w, Percent: int(100*w.Chance + 0.5)}
		for i := range st.Walk.Proposals {
			if st.Walk.Proposals[i].Suspect == w.Key {
				x.Decided = &st.Walk.Proposals[i]
			}
		}
		if x.Decided == nil && w.Chance < diagnose.Likely {
			continue
		}
		for _, corner := range []vehicle.Corner{"FL", "FR", "RL", "RR"} {
			t, ok := library.TaskFor(offers, w.Suspect, corner)
			if ok && !st.Begun() {
				x.CanPlan = true
				if t.Corner != "" {
					x.Places = append(x.Places, corner)
				}
			}
		}
		x.Corner = pointedAt(x.Places, w.Where)
		out = append(out, x)
	}
	return out
}

// pointedAt is the place the answers point to, a corner or a side; else the first.
func pointedAt(places []vehicle.Corner, where string) vehicle.Corner {
	for _, c := range places {
		if string(c) == where || c.Side() == where {
			return c
		}
	}
	if len(places) == 0 {
		return ""
	}
	return places[0]
}

// onWalk answers a write on the walk-round.
func (s *Server) onWalk(c fiber.Ctx, forWhat string, err error) error {
	if c.FormValue("step") != "" { // measured at the bench
		return s.after(c, err)
	}
	if f := fault.As(err); f != nil {
		return s.showWalk(c, status(f), forWhat, f)
	} else if err != nil {
		return err
	}
	if c.Get("HX-Request") == "true" {
		return s.showWalk(c, 200, "", nil)
	}
	return c.Redirect().Status(
		fiber.StatusSeeOther,
	).To(
		fmt.Sprintf(
			"/jobs/%s/walk?place=%s&at=%s",
			c.Params("job"),
			c.FormValue("place"),
			strings.ReplaceAll(c.FormValue("at"), " ", "+"),
		),
	)
}

func (s *Server) answer(c fiber.Ctx) error {
	key := c.FormValue("sign")
	i := slices.IndexFunc(s.lib().Signs.Evidence, func(e diagnose.Evidence) bool { return e.Key == key })
	if i < 0 {
		return s.onWalk(
			c,
			"",
			fault.New("unknown_sign", "sign", "There is no such sign or test.", "Choose one of the walk-round."),
		)
	}
	cmd := job.Answer{Sign: key, Ask: s.lib().Signs.Evidence[i].Ask}
	switch say, corner, _ := strings.Cut(c.FormValue("say"), " "); say {
	case "open": // takes it back
		cmd.Open = true
		cmd.Corner = corner
	case "yes":
		cmd.Yes = true
		cmd.Corner = corner
	}
	_, err := s.record(c, cmd)
	return s.onWalk(c, key, err)
}

// decideOn accepts or declines a proposal; accepting one the library can plan leads
// to the order, where it is ticked.
func (s *Server) decideOn(c fiber.Ctx) error {
	key := c.FormValue("suspect")
	i := slices.IndexFunc(s.lib().Signs.Suspects, func(x diagnose.Suspect) bool { return x.Key == key })
	if i < 0 {
		return s.onWalk(
			c,
			key,
			fault.New("missing", "suspect", "There is no such proposal.", "Choose one of the walk-round."),
		)
	}
	x := s.lib().Signs.Suspects[i]
	ch := job.TakeProposal{
		Suspect: key,
		Name:    x.Name,
		Safety:  x.Safety,
		Accept:  c.FormValue("say") == "accept",
		Side:    c.FormValue("corner"),
		Both:    c.FormValue("both") != "",
		Reason:  c.FormValue("reason"),
	}
	if _, err := s.record(c, ch); err != nil || !ch.Accept || c.FormValue("plan") == "" {
		return s.onWalk(c, key, err)
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/jobs/" + c.Params("job") + "/order")
}

// plays is what a stand-in logger can play; nothing where none is connected.
func (s *Server) plays() []string {
	if l := s.logger(); l != nil {
		return l.Plays()
	}
	return nil
}
