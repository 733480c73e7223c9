package web

import (
	"cmp"
	"net/url"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/claim"
	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/operation"
	"lugtak/core/vehicle"
	"lugtak/pages/bench"
	pages "lugtak/pages/kit"
	"lugtak/web/kit"
)

// benchRoom answers for the bench: each act of a step, what is stuck, tools in hand.
type benchRoom struct{ *Server }

func (s benchRoom) routes(at paths) {
	at.get("/jobs/:job/match", s.match)
	at.Post("/jobs/:job/match", s.job(s.judgePart))
	at.get("/jobs/:job/bench", s.bench)
	at.Post("/jobs/:job/step", s.keepStep)
	at.Post("/jobs/:job/handle", s.handle)
	at.Post("/jobs/:job/hardware", s.seeHardware)
	at.Post("/jobs/:job/read", s.planned(s.read))
	at.Post("/jobs/:job/seen", s.planned(s.seeJoint))
	at.Post("/jobs/:job/lacking", s.lack)
	at.Post("/jobs/:job/otherwise", s.planned(s.otherwise))
	at.Post("/jobs/:job/access", s.planned(s.keepAccess))
	at.Post("/jobs/:job/claim", s.job(s.claim))
	at.Post("/jobs/:job/unclaim", s.unclaim)
	at.Post("/jobs/:job/set", s.setWrench)
	at.Post("/jobs/:job/click", s.click)
	at.Post("/jobs/:job/clicks", s.clickRound)
	at.Post("/jobs/:job/trace", s.traceFile)
	at.Post("/jobs/:job/turn", s.turn)
	at.Post("/jobs/:job/unmeasured", s.leave)
	at.Post("/jobs/:job/slacken", s.slacken)
	at.Post("/jobs/:job/photograph", s.photograph)
	at.Post("/jobs/:job/later", s.later)
	at.Post("/jobs/:job/handover", s.handOver)
	at.Post("/jobs/:job/trouble", s.trouble)
	at.Post("/jobs/:job/clear", s.clear)
	at.get("/jobs/:job/release", s.release)
	at.get("/jobs/:job/ahead", s.job(s.ahead))
	at.get("/token", s.token)
	at.Post("/jobs/:job/try", s.job(s.try))
	at.Post("/jobs/:job/undo", s.undo)
	at.Post("/jobs/:job/trial", s.job(s.trial))
	at.get("/jobs/:job/brief", s.planned(s.brief))
	at.Post("/jobs/:job/fluid", s.fluid)
	at.get("/wrench/:tool", s.wrenchPage)
	at.Post("/wrench/:tool/pull", s.wrenchPull)
	at.Post("/wrench/:tool/release", s.wrenchRelease)
	at.Get("/wrench/:tool/live", s.wrenchLive)
}

func (s benchRoom) bench(c fiber.Ctx) error { return s.showBench(c, 200, nil, nil) }

// benchKey is all that a bench page without a fault depends on. Whatever is missing here shows somebody a page that was
// true for another: a new thing on the bench is a new field.
type benchKey struct {
	job, session, step, letter, tool, adapter, panel string
	seq, claims, acts                                int
	partial, healed, each                            bool
	pull                                             string // that was just kept
}

// showBench draws the bench, or gives the page that was drawn for the same already: several tablets look at one job,
// and each event has all of them ask.
func (s benchRoom) showBench(c fiber.Ctx, code int, f *fault.Fault, typed map[string]string) error {
	st, err := s.jobOf(c)
	if err != nil {
		return err
	}
	if !st.HasPlan() {
		return c.Redirect().To("/jobs/" + st.ID + "/walk")
	}
	fill := func() (pages.Laid, error) {
		x, err := s.benchOf(c, st)
		if err != nil {
			return nil, err
		}
		x.Fault, x.Typed = f, typed
		return bench.Page(x).Lay(s.frame(c))
	}
	if f != nil || typed != nil { // one person's own words: nobody else is shown them
		page, err := fill()
		if err != nil {
			return err
		}
		return send(c, code, page)
	}
	in := kit.Read[tooled](c)
	acts, err := s.Shop.Acts(c.Context()) // sheets, tools and people are told of by them
	if err != nil {
		return err
	}
	page, err := s.laid.at(benchKey{
		job:     st.ID,
		session: kit.Session(c).ID,
		step:    c.Query("step"),
		letter:  c.Query("f"),
		tool:    cmp.Or(c.Query("tool"), in.Tool),
		adapter: cmp.Or(c.Query("adapter"), in.Adapter),
		panel:   c.Query("panel"),
		pull:    c.Query("pull"),
		healed:  c.Query("healed") != "",
		each:    c.Query("each") != "" || bool(in.Each),
		seq:     st.Seq,
		acts:    acts,
		claims:  s.Shop.HandsChanged(),
		partial: kit.Part(c),
	}, s.Shop.Now(), fill)
	if err != nil {
		return err
	}
	return send(c, code, page)
}

// benchOf gathers what the bench of a job is made from, for whoever asks.
func (s benchRoom) benchOf(c fiber.Ctx, st *job.State) (x bench.Shown, err error) {
	me, in := kit.Session(c), kit.Read[tooled](c)
	x = bench.Shown{
		Job:     st,
		Library: s.Shop.Library(),
		Now:     s.Shop.Now(),
		Person:  me.Person.Name,
		Session: me.ID,
		Unit:    s.firstUnit(c),
		Devices: s.Shop.Devices,
		Pull:    c.Query("pull"),
		Wait:    me.Pace == listing.PaceWait,
		Asked:   operation.StepID(c.Query("step")),
		Letter:  c.Query("f"),
		Tool:    c.Query("tool"),
		InHand:  in.Tool,
		Adapt:   cmp.Or(c.Query("adapter"), in.Adapter),
		Panel:   c.Query("panel"),
		Healed:  c.Query("healed") != "",
		Each:    c.Query("each") != "" || bool(in.Each),
		Holds: func(joint, letter string) (claim.Claim, bool) {
			return s.Shop.InHand(st.ID, joint, letter)
		},
		Trace: func(pull string) [][3]float64 {
			samples, _ := s.Shop.Trace(c.Context(), st.ID, pull) // without it the frame stays empty
			return samples
		},
	}
	if x.Hands, err = s.hands(c); err != nil {
		return x, err
	}
	if x.Alone, err = s.Shop.Alone(c.Context(), x.Person); err != nil {
		return x, err
	}
	if x.LastRead, err = s.Shop.LastRead(c.Context(), st.Vehicle.Pattern); err != nil {
		return x, err
	}
	if x.Elsewhere, err = s.Shop.Elsewhere(c.Context(), st.Vehicle.Pattern); err != nil {
		return x, err
	}
	if err := s.before(c, st, &x); err != nil {
		return x, err
	}
	if x.Panel == "trouble" || x.Panel == "hand" { // the sheet is asked for where it is shown alone
		if x.Sheet, err = s.Shop.Pattern(c.Context(), st.Vehicle.Pattern); err != nil {
			return x, err
		}
	}
	x.Tools, err = s.Shop.Tools(c.Context())
	return x, err
}

// before fills in what is known of the place at hand from the jobs before.
func (s benchRoom) before(c fiber.Ctx, st *job.State, x *bench.Shown) (err error) {
	step := st.Plan.Step(x.AtHand())
	if step == nil {
		return nil
	}
	for _, place := range st.PlacesOf(step) {
		photos, err := s.Shop.PhotosBefore(c.Context(), st.Vehicle.ID, place, st.ID)
		if err != nil {
			return err
		}
		x.Photos = append(x.Photos, photos...)
	}
	if j := st.Plan.Joint(step.Joint); j != nil {
		x.LastTime, err = s.Shop.LastTime(c.Context(), st.Vehicle.Pattern, j.Sheet, st.ID)
	}
	return err
}

// photograph keeps how something was before it was opened.
func (s benchRoom) photograph(c fiber.Ctx) error {
	in := kit.Read[acted](c)
	photo, err := photoOf(c)
	if err == nil {
		_, err = s.record(c, job.Photograph{Step: in.Step, Photo: photo})
	}
	if err == nil { // the step is still to be done
		return kit.Go(c, "/jobs/"+c.Params("job")+"/bench?step="+url.QueryEscape(string(in.Step)))
	}
	return s.after(c, err)
}

// keepAccess keeps what a joint took to reach, for whoever comes next.
func (s benchRoom) keepAccess(c fiber.Ctx, st *job.State) error {
	in := kit.Read[struct {
		acted
		Socket    string `form:"socket"`
		Drive     string `form:"drive"`
		Extension string `form:"extension"`
		Blocked   string `form:"blocked"`
	}](c)
	j := st.Plan.Joint(in.Joint)
	if j == nil {
		return s.after(c, fault.New(fault.Missing, "joint", "The plan has no such joint.", "Choose one from the plan."))
	}
	// It is the shop's knowledge and no event of the job: whoever opens that joint on the next vehicle is told.
	m := kit.Meta(c, s.Shop.Now())
	err := s.Shop.KeepAccess(c.Context(), m.ID, vehicle.Access{
		Sheet:     st.Vehicle.Pattern,
		Joint:     j.Sheet,
		Socket:    in.Socket,
		Drive:     in.Drive,
		Extension: in.Extension,
		Blocked:   in.Blocked,
		By:        m.By,
		At:        m.At,
	})
	if err != nil {
		return s.after(c, err)
	}
	return kit.See(c, "/jobs/"+st.ID+"/bench?step="+url.QueryEscape(string(in.Step))) // it is still at hand
}
