package web

import (
	"cmp"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/claim"
	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/pages/bench"
	pages "lugtak/pages/kit"
	"lugtak/web/kit"
)

func (s *Server) bench(c fiber.Ctx) error { return s.showBench(c, 200, nil, nil) }

// benchKey is all that a bench page without a fault depends on.
type benchKey struct {
	job, session, step, letter, tool, adapter, panel string
	seq, claims                                      int
	partial, healed                                  bool
}

func (s *Server) showBench(c fiber.Ctx, code int, f *fault.Fault, typed map[string]string) error {
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
	if f != nil || typed != nil {
		page, err := fill()
		if err != nil {
			return err
		}
		return send(c, code, page)
	}
	in := kit.Read[tooled](c)
	page, err := s.laid.at(benchKey{
		job:     st.ID,
		session: kit.Session(c).ID,
		step:    c.Query("step"),
		letter:  c.Query("f"),
		tool:    cmp.Or(c.Query("tool"), in.Tool),
		adapter: cmp.Or(c.Query("adapter"), in.Adapter),
		panel:   c.Query("panel"),
		healed:  c.Query("healed") != "",
		seq:     st.Seq,
		claims:  s.Shop.HandsChanged(),
		partial: kit.Part(c),
	}, s.Shop.Now(), fill)
	if err != nil {
		return err
	}
	return send(c, code, page)
}

// benchOf gathers what the bench of a job is made from, for whoever asks.
func (s *Server) benchOf(c fiber.Ctx, st *job.State) (x bench.Shown, err error) {
	me, in := kit.Session(c), kit.Read[tooled](c)
	x = bench.Shown{
		Job:     st,
		Library: s.Shop.Library(),
		Now:     s.Shop.Now(),
		Person:  me.Person.Name,
		Session: me.ID,
		Unit:    s.firstUnit(c),
		Devices: s.Shop.Devices,
		Asked:   operation.StepID(c.Query("step")),
		Letter:  c.Query("f"),
		Tool:    c.Query("tool"),
		InHand:  in.Tool,
		Adapt:   cmp.Or(c.Query("adapter"), in.Adapter),
		Panel:   c.Query("panel"),
		Healed:  c.Query("healed") != "",
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
	x.Tools, err = s.Shop.Tools(c.Context())
	return x, err
}
