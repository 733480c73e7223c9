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
	"lugtak/core/vehicle"
	"lugtak/draw"
	"lugtak/library"
	"lugtak/web/kit"
)

// cornerPlaces are those that each corner of a vehicle has.
var cornerPlaces = []string{"wheel", "hub", "brake", "arm", "damper"}

// walked is what every form of the walk-round says: on what it acts, and what the page shows
// after.
type walked struct {
	Step    operation.StepID `form:"step"` // measured at the bench
	At      string           `form:"at"`
	Place   string           `form:"place"`
	Ask     string           `form:"ask"`     // the test in hand
	Measure string           `form:"measure"` // what is measured in its place
}

func (s *Server) walk(c fiber.Ctx) error { return s.showWalk(c, 200, "", nil) }

// wordsOf is what the owner complained of, or what the drive that failed showed since.
func wordsOf(st *job.State) string {
	if f := st.Failed(); f != nil {
		return f.Showed()
	}
	return st.Complaint
}

func (s *Server) showWalk(c fiber.Ctx, code int, forWhat string, f *fault.Fault) error {
	st, err := s.Shop.Job(c.Context(), c.Params("job"))
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
	}
	if f != nil {
		v.Typed = kit.Typed(c)
	}
	in := kit.Read[walked](c)
	k := &s.Shop.Library().Signs
	weighed, err := s.Shop.Weigh(c.Context(), st)
	if err != nil {
		return err
	}
	v.Report = weighed.Report
	v.Sure = v.Report.Suspects[0].Chance >= diagnose.Sure
	v.Healthy = int(100*v.Report.Healthy + 0.5)
	if v.Position = in.At; !slices.Contains(diagnose.Positions, v.Position) {
		v.Position = "ground"
	}
	v.told(k)
	v.tests(in.Ask)
	if v.clashes(k); len(v.Clashes) > 0 {
		v.Ask = nil // they are settled first
	}
	if err := s.suspects(&v, weighed); err != nil {
		return err
	}
	if n := len(st.Walk.Asked); n > 0 {
		sign, _ := job.AnswerOf(st.Walk.Asked[n-1])
		if i := slices.IndexFunc(k.Evidence, func(e diagnose.Evidence) bool { return e.Key == sign }); i >= 0 {
			q := answered(k.Evidence[i], st)
			v.Last = &q
		}
	}
	v.Place = in.Place
	p, _ := s.Shop.Library().Pattern(st.Vehicle.Pattern)
	s.placed(&v)
	s.measuring(&v, in.Measure)
	for _, e := range k.Evidence {
		q := answered(e, st)
		here := v.shows(e.Place) && (q.Answered || follows(e, st))
		if v.Place == "" && q.Answered || here {
			v.Questions = append(v.Questions, q)
		}
	}
	for _, l := range s.Shop.Library().Limits.Measures {
		if l.Place == v.Place {
			v.Measures = append(v.Measures, l)
		}
	}
	v.Lash, v.Lining = s.Shop.Library().Limits.Lash, s.Shop.Library().Limits.Lining
	for _, m := range slices.Backward(st.Walk.Measured) {
		v.Taken = append(v.Taken, takenView{m, draw.MeasureBar(m)})
	}
	if n := len(st.Walk.Drives); n > 0 {
		v.Drive, v.Drives = draw.Waterfall(st.Walk.Drives[n-1]), st.Walk.Drives
		if n > 1 {
			v.Compared = draw.Compared(st.Walk.Drives[0], st.Walk.Drives[n-1])
		}
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
var cornerNames = map[diagnose.Corner]string{
	"FL": "front left",
	"FR": "front right",
	"RL": "rear left",
	"RR": "rear right",
}

// follows says that what a question comes after was answered yes, somewhere.
func follows(e diagnose.Evidence, st *job.State) bool {
	if e.After == "" || st.Walk.Answers[e.After] {
		return true
	}
	return slices.ContainsFunc(diagnose.Corners, func(c diagnose.Corner) bool {
		return st.Walk.Answers[job.AnswerKey(e.After, string(c))]
	})
}

// proposals are the suspects likely enough to be worked on, and those decided.
func (s *Server) proposals(st *job.State, r diagnose.Report, p vehicle.Pattern) []proposalView {
	var out []proposalView
	offers := s.Shop.Offers(p)
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
	in := kit.Read[walked](c)
	if in.Step != "" {
		return s.after(c, err)
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

func (s *Server) answer(c fiber.Ctx) error {
	in := kit.Read[struct {
		Sign string `form:"sign"`
		Say  string `form:"say"` // yes, no or open, with a corner behind it where one is meant
	}](c)
	i := slices.IndexFunc(s.Shop.Library().Signs.Evidence, func(e diagnose.Evidence) bool { return e.Key == in.Sign })
	if i < 0 {
		return s.onWalk(
			c,
			"",
			fault.New("unknown_sign", "sign", "There is no such sign or test.", "Choose one of the walk-round."),
		)
	}
	cmd := job.Answer{Sign: in.Sign, Ask: s.Shop.Library().Signs.Evidence[i].Ask, Position: s.Shop.Library().Signs.Evidence[i].Position}
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
func (s *Server) decideOn(c fiber.Ctx) error {
	in := kit.Read[struct {
		Suspects []string `form:"suspect"`
		Say      string   `form:"say"`
		Plan     kit.Tick `form:"plan"`
		Reason   string   `form:"reason"`
	}](c)
	if len(in.Suspects) == 0 {
		return s.onWalk(c, "proposals",
			fault.New("missing", "suspect", "Nothing is ticked.", "Tick what is to be done, then accept it."))
	}
	of := kit.Typed(c)
	m := kit.Meta(c, s.Shop.Now())
	for n, key := range in.Suspects {
		i := slices.IndexFunc(s.Shop.Library().Signs.Suspects, func(x diagnose.Suspect) bool { return x.Key == key })
		if i < 0 {
			return s.onWalk(c, "proposals",
				fault.New("missing", "suspect", "There is no such proposal.", "Choose one of the walk-round."))
		}
		x := s.Shop.Library().Signs.Suspects[i]
		each := m
		if n > 0 {
			each.ID, each.Seq = m.ID.And(n), 0
		}
		_, err := s.recordAs(c, each, job.TakeProposal{
			Suspect: key,
			Name:    x.Name,
			Safety:  x.Safety,
			Accept:  in.Say == "accept",
			Side:    of["corner-"+key],
			Both:    of["both-"+key] != "",
			Reason:  in.Reason,
		})
		if err != nil {
			return s.onWalk(c, key, err)
		}
	}
	if in.Say == "accept" && bool(in.Plan) {
		return kit.See(c, "/jobs/"+c.Params("job")+"/order")
	}
	return s.onWalk(c, "proposals", nil)
}

// plays is what a stand-in logger can play; nothing where none is connected.
func (s *Server) plays() []string {
	if l := s.logger(); l != nil {
		return l.Plays()
	}
	return nil
}
