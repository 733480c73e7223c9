package web

import (
	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/pages/bench"
	"lugtak/web/kit"
)

// climbed is what the ladder's forms say, and its addresses, which show another case.
type climbed struct {
	Trouble string          `form:"trouble"`
	Seizure string          `form:"seizure"`
	Said    kit.Tick        `form:"said"` // what is near and kept was said, even if it is nothing
	Near    kit.List        `form:"near"`
	Keep    kit.List        `form:"keep"`
	Kept    kit.Tick        `form:"kept"` // and of what is kept, before what would hurt it
	Rung    string          `form:"rung"`
	Outcome string          `form:"outcome"`
	Became  job.TroubleCode `form:"became"`
	Broke   kit.Tick        `form:"broke"` // it is asked what it became
	Waist   kit.Figure      `form:"waist"` // the thinnest place that is seen, mm
}

func (s benchRoom) release(c fiber.Ctx) error { return s.showRelease(c, 200, nil) }

func (s benchRoom) showRelease(c fiber.Ctx, code int, f *fault.Fault) error {
	st, err := s.jobOf(c)
	if err != nil {
		return err
	}
	in := kit.Read[climbed](c)
	t := st.Trouble(in.Trouble)
	if t == nil || !t.Seized() {
		return kit.See(c, "/jobs/"+st.ID+"/bench")
	}
	if f == nil && in.Waist.Given() && (!in.Waist.OK || in.Waist.Value <= 0) {
		f = fault.New(fault.BadNumber, "waist", "That is no diameter.", "Write millimetres, as 8.4, or leave it empty.")
		code, in.Waist.Value = kit.Status(f), 0
	}
	past, err := s.Shop.ReleasePast(c.Context())
	if err != nil {
		return err
	}
	page, err := bench.ReleasePage(bench.Stuck{
		Job:     st,
		Library: s.Shop.Library(),
		Trouble: t,
		Past:    past,
		Now:     s.Shop.Now(),
		Fault:   f,
		Case: bench.Said{
			Seizure: in.Seizure,
			Said:    bool(in.Said),
			Near:    in.Near,
			Keep:    in.Keep,
			Kept:    bool(in.Kept),
			Rung:    in.Rung,
			Broke:   bool(in.Broke),
			Waist:   max(0, in.Waist.Value),
		},
	})
	if err != nil {
		return err
	}
	return s.show(c, code, page)
}

// soaks is what came of a try that works on by itself while another step is taken up.
const soaks = "soak"

// try records one try to free what is stuck, and goes on where it leads: to the step, to
// the next rung, to the extraction.
func (s benchRoom) try(c fiber.Ctx, st *job.State) error {
	past, err := s.Shop.ReleasePast(c.Context())
	if err != nil {
		return err
	}
	in := kit.Read[climbed](c)
	cmd := job.TryRelease{
		Know:    &s.Shop.Library().Release,
		Past:    past,
		Trouble: in.Trouble,
		Seizure: in.Seizure,
		Near:    in.Near,
		Keep:    in.Keep,
		Kept:    bool(in.Kept),
		Rung:    in.Rung,
		Outcome: in.Outcome,
		Became:  in.Became,
	}
	leaves := cmd.Outcome == soaks
	if leaves {
		cmd.Outcome = job.Held
	}
	t := st.Trouble(cmd.Trouble)
	_, err = s.record(c, cmd)
	if f := fault.As(err); f != nil {
		return s.showRelease(c, kit.Status(f), f)
	}
	if err != nil {
		return err
	}
	bench := "/jobs/" + st.ID + "/bench"
	if t != nil {
		bench += "?step=" + string(t.Step)
	}
	switch {
	case cmd.Outcome == job.Freed:
		return kit.Go(c, bench)
	case cmd.Outcome == job.Broke && cmd.Became == job.Sheared:
		return s.healed(c)
	case cmd.Outcome == job.Broke:
		return kit.Go(c, "/jobs/"+st.ID+"/release?trouble="+string(kit.Meta(c, s.Shop.Now()).ID))
	case leaves:
		return s.postponed(c, t)
	}
	return kit.Go(c, "/jobs/"+st.ID+"/release?trouble="+cmd.Trouble)
}

// postponed takes up another step while something soaks.
func (s benchRoom) postponed(c fiber.Ctx, t *job.Trouble) error {
	m := kit.Meta(c, s.Shop.Now())
	m.ID = m.ID.And("later")
	m.Seq = 0
	if t != nil {
		if _, err := s.recordAs(c, m, job.Postpone{Step: t.Step}); err != nil {
			return err
		}
	}
	return kit.Go(c, "/jobs/"+c.Params("job")+"/bench")
}

// healed plans anew round what broke, and shows what that changed.
func (s benchRoom) healed(c fiber.Ctx) error {
	st, err := s.jobOf(c)
	if err != nil {
		return err
	}
	m := kit.Meta(c, s.Shop.Now())
	m.ID = m.ID.And("heal")
	m.Seq = 0
	_, err = s.recordAs(c, m, s.Shop.Replan(st))
	if err != nil {
		return err
	}
	return kit.Go(c, "/jobs/"+st.ID+"/bench?healed=1")
}

// trouble records what went wrong, and leads on: to the ladder where something is stuck,
// to the healed plan where something broke, came apart or is not there.
func (s benchRoom) trouble(c fiber.Ctx) error {
	in := kit.Read[struct {
		acted
		What job.TroubleCode `form:"what"`
		Note string          `form:"note"`
	}](c)
	cmd := job.ReportTrouble{Step: in.Step, Letter: in.Letter, Code: in.What, Note: in.Note}
	if _, err := s.record(c, cmd); err != nil {
		return s.after(c, err)
	}
	id := string(kit.Meta(c, s.Shop.Now()).ID)
	st, err := s.jobOf(c)
	if err != nil {
		return err
	}
	switch t := st.Trouble(id); {
	case t != nil && st.Heals(*t):
		return s.healed(c)
	case t != nil && t.Seized():
		return kit.Go(c, "/jobs/"+st.ID+"/release?trouble="+id)
	case cmd.Code == job.PartMissing:
		return s.missing(c, cmd.Step)
	}
	return kit.Go(c, "/jobs/"+c.Params("job")+"/bench?step="+string(cmd.Step))
}

// missing marks the part a step needs as not there, and plans round it.
func (s benchRoom) missing(c fiber.Ctx, id operation.StepID) error {
	st, err := s.jobOf(c)
	if err != nil {
		return err
	}
	key := st.Needed(id)
	if key == "" {
		return s.after(c, nil)
	}
	m := kit.Meta(c, s.Shop.Now())
	m.ID = m.ID.And("missing")
	m.Seq = 0
	if _, err := s.recordAs(c, m, job.StockPart{Part: key, Status: job.Missing}); err != nil {
		return s.after(c, err)
	}
	return s.healed(c)
}
