package web

import (
	"fmt"
	"html/template"
	"net/url"
	"slices"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/release"
	"lugtak/core/unit"
	"lugtak/draw"
	"lugtak/web/kit"
)

// releaseView is a seizure with its ladder.
type releaseView struct {
	Job     *job.State
	Owed    int
	Trouble *job.Trouble
	What    string // what sits fast, and where
	Kinds   []release.Kind
	Ladder  release.Ladder
	Rungs   []rungView
	Refused []rungView
	Now     *rungView // tried next
	Near    []thingView
	Keep    []thingView
	Pull    template.HTML
	Picture template.HTML
	Worse   []job.TroubleCode
	Stop    []string
	Fault   *fault.Fault
	Back    string // to the bench, at its step
	Broke   bool   // what broke is asked
	Spent   time.Duration
}

type rungView struct {
	release.Rated
	No     int
	InTen  string
	Tenths int
	Here   bool
	To     string // the page with this one taken
}

// Said lists what of some things is so.
func (v *releaseView) Said(things []thingView) string {
	var on []string
	for _, t := range things {
		if t.On {
			on = append(on, t.Name)
		}
	}
	if len(on) == 0 {
		return "nothing said"
	}
	return strings.Join(on, ", ")
}

// Head is what is the matter, and where.
func (v *releaseView) Head() string { return unit.Capital(v.Trouble.What) + ": " + v.What }

// TriesSay is how often and how long it was tried.
func (v *releaseView) TriesSay() string {
	n := len(v.Trouble.Tries)
	tries := fmt.Sprintf("%d tries", n)
	if n == 1 {
		tries = "1 try"
	}
	return fmt.Sprintf("%s, %d minutes since it was met", tries, int(v.Spent.Minutes()))
}

// thingView is something that may be near or kept; To is the page with it changed.
type thingView struct {
	Name string
	On   bool
	To   string
}

// climbed is what the ladder's forms say, and its addresses, which show another case.
type climbed struct {
	Trouble string          `form:"trouble"`
	Seizure string          `form:"seizure"`
	Said    kit.Tick        `form:"said"` // what is near and kept was said, even if it is nothing
	Near    kit.List        `form:"near"`
	Keep    kit.List        `form:"keep"`
	Rung    string          `form:"rung"`
	Outcome string          `form:"outcome"`
	Became  job.TroubleCode `form:"became"`
	Broke   kit.Tick        `form:"broke"` // it is asked what it became
}

// seizure is the case as it is said, as it was at the last try, or as is usual.
func (s *Server) seizure(c fiber.Ctx, in climbed, st *job.State, t *job.Trouble) (release.Case, []release.Kind) {
	know := &s.Shop.Library().Release
	m := st.Met(t)
	kinds := know.KindsOf(m)
	kind := kinds[0].Name
	near, keep := know.UsualAt(kind, m)
	if n := len(t.Tries); n > 0 {
		near, keep = t.Tries[n-1].Near, t.Tries[n-1].Keep
		kind = t.Tries[n-1].Seizure
	}
	if in.Seizure != "" {
		kind = in.Seizure
	}
	if in.Said {
		near, keep = in.Near, in.Keep
	}
	past, err := s.Shop.ReleasePast(c.Context())
	if err != nil {
		s.Shop.Log.Warn("the shop's own tries cannot be read", "error", err)
	}
	return t.Case(kind, near, keep, past), kinds
}

func (s *Server) release(c fiber.Ctx) error { return s.showRelease(c, 200, nil) }

func (s *Server) showRelease(c fiber.Ctx, code int, f *fault.Fault) error {
	st, err := s.Shop.Job(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
	in := kit.Read[climbed](c)
	t := st.Trouble(in.Trouble)
	if t == nil || !t.Seized() {
		return kit.See(c, "/jobs/"+st.ID+"/bench")
	}
	v := &releaseView{
		Job:     st,
		Owed:    len(st.Owed()),
		Trouble: t,
		Fault:   f,
		Stop:    s.Shop.Library().Release.Stop,
		Back:    "/jobs/" + st.ID + "/bench?step=" + string(t.Step),
		Broke:   bool(in.Broke),
		Spent:   s.Shop.Now().Sub(t.At),
	}
	for _, w := range []job.TroubleCode{job.Rounded, job.ThreadDamaged, job.Sheared} {
		if t.MayBecome(w) {
			v.Worse = append(v.Worse, w)
		}
	}
	if err := s.climb(c, in, st, v); err != nil {
		return err
	}
	return s.render(c, code, "release", "Stuck: "+v.What, v)
}

// climb fills in the ladder with what may be changed about it.
func (s *Server) climb(c fiber.Ctx, in climbed, st *job.State, v *releaseView) error {
	t := v.Trouble
	v.What = whatIsStuck(st, t)
	at, kinds := s.seizure(c, in, st, t)
	v.Kinds = kinds
	ladder, err := s.Shop.Library().Release.Climb(at)
	if err != nil {
		return err
	}
	v.Ladder = ladder
	page := func(near, keep []string, rung string) string {
		q := url.Values{
			"trouble": {t.ID},
			"said":    {"1"},
			"seizure": {ladder.Kind.Name},
			"near":    {strings.Join(near, ",")},
			"keep":    {strings.Join(keep, ",")},
			"rung":    {rung},
		}
		return "?" + q.Encode()
	}
	chosen := in.Rung
	if r := ladder.Find(chosen); r == nil || r.Refused != "" {
		chosen = ladder.Rungs[0].Key
	}
	for i, r := range ladder.Rungs {
		x := rungView{Rated: r, No: i + 1, Tenths: int(10*r.Odds + 0.5), To: page(at.Near, at.Keep, r.Key)}
		x.InTen = inTen(r.Odds)
		if r.Refused != "" {
			v.Refused = append(v.Refused, x)
			continue
		}
		x.Here = r.Key == chosen
		v.Rungs = append(v.Rungs, x)
		if x.Here {
			v.Now = &v.Rungs[len(v.Rungs)-1]
		}
	}
	for _, name := range s.Shop.Library().Release.ThingNames() {
		near := thingView{Name: name, On: slices.Contains(at.Near, name)}
		near.To = page(toggled(at.Near, name), at.Keep, chosen)
		keep := thingView{Name: name, On: slices.Contains(at.Keep, name)}
		keep.To = page(at.Near, toggled(at.Keep, name), chosen)
		if ladder.Refuses(name) {
			v.Near = append(v.Near, near)
		}
		if ladder.Spoils(name) {
			v.Keep = append(v.Keep, keep)
		}
	}
	if j := st.Plan.Joint(t.Joint); j != nil {
		v.Pull = safePull(j)
	}
	if v.Now != nil {
		v.Picture = s.rungPicture(st, t, ladder, v.Now)
	}
	return nil
}

// whatIsStuck names the fastener, or the step where a part sits fast.
func whatIsStuck(st *job.State, t *job.Trouble) string {
	step := st.Plan.Step(t.Step)
	j := st.Plan.Joint(t.Joint)
	if j == nil && step != nil {
		return step.Title
	}
	if j == nil {
		return t.What
	}
	name := j.One
	if len(j.Letters) > 1 {
		name += " " + t.Letter
	}
	if j.Corner == "" {
		return name
	}
	return name + ", " + j.Corner.Axle() + " " + j.Corner.Side()
}

// safePull is the pull on the bar where the sheet says what bolt it is.
func safePull(j *plan.Joint) template.HTML {
	f, ok := j.Fastener()
	if !ok {
		return ""
	}
	return draw.SafePull(release.SafePull(f.Thread, f.Class, ""), release.UsualBarMM)
}

// rungPicture is the act of the rung at hand, at this kind of seizure where it has its own.
func (s *Server) rungPicture(st *job.State, t *job.Trouble, l release.Ladder, now *rungView) template.HTML {
	step := st.Plan.Step(t.Step)
	mirror := step != nil && step.Mirrored()
	acts := &s.Shop.Library().Acts
	for _, name := range []string{"release." + now.Key + "-" + l.Kind.Slug(), "release." + now.Key} {
		if a, ok := acts.For(name, now.Tool, nil); ok {
			return draw.Act(a, acts, mirror)
		}
	}
	return ""
}

func toggled(list []string, name string) []string {
	if i := slices.Index(list, name); i >= 0 {
		return slices.Delete(slices.Clone(list), i, i+1)
	}
	return append(slices.Clone(list), name)
}

// inTen says a chance as one says it in the bay.
func inTen(p float64) string {
	switch {
	case p > 0.945:
		return "nearly sure"
	case p < 0.05:
		return "hardly"
	}
	return draw.Plain(float64(int(10*p+0.5))) + " in 10"
}

// soaks is what came of a try that works on by itself while another step is taken up.
const soaks = "soak"

// try records one try to free what is stuck, and goes on where it leads: to the step, to
// the next rung, to the extraction.
func (s *Server) try(c fiber.Ctx) error {
	st, err := s.Shop.Job(c.Context(), c.Params("job"))
	if err != nil {
		return err
	}
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
func (s *Server) postponed(c fiber.Ctx, t *job.Trouble) error {
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
func (s *Server) healed(c fiber.Ctx) error {
	st, err := s.Shop.Job(c.Context(), c.Params("job"))
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
// to the healed plan where something sheared or is not there.
func (s *Server) trouble(c fiber.Ctx) error {
	in := kit.Read[struct {
		acted
		What job.TroubleCode `form:"what"`
		Note string          `form:"note"`
	}](c)
	cmd := job.ReportTrouble{Step: in.Step, Letter: in.Letter, Code: in.What, Note: in.Note}
	if _, err := s.record(c, cmd); err != nil {
		return s.after(c, err)
	}
	switch cmd.Code {
	case job.Stuck, job.Rounded, job.ThreadDamaged:
		return kit.Go(c, "/jobs/"+c.Params("job")+"/release?trouble="+string(kit.Meta(c, s.Shop.Now()).ID))
	case job.Sheared:
		return s.healed(c)
	case job.PartMissing:
		return s.missing(c, cmd.Step)
	}
	return kit.Go(c, "/jobs/"+c.Params("job")+"/bench?step="+string(cmd.Step))
}

// missing marks the part a step needs as not there, and plans round it.
func (s *Server) missing(c fiber.Ctx, id operation.StepID) error {
	st, err := s.Shop.Job(c.Context(), c.Params("job"))
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
