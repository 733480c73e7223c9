package web

import (
	"context"
	"hash/fnv"
	"sync"

	"github.com/gofiber/fiber/v3"
	"github.com/google/uuid"

	"lugtak/core/claim"
	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/pull"
	"lugtak/core/recipe"
	"lugtak/core/record"
	"lugtak/core/unit"
	"lugtak/core/wrench"
	"lugtak/device"
	"lugtak/draw"
	"lugtak/web/kit"
)

// The page of a connected wrench. Only a server that was given a rack of devices has
// one: the demo and the practice bay, whose devices are stand-ins.

// outcomes is what the last pull of each tool came to, in words.
type outcomes struct {
	mu   sync.Mutex
	says map[string]string
}

func (o *outcomes) set(tool, says string) {
	o.mu.Lock()
	defer o.mu.Unlock()
	o.says[tool] = says
}

func (o *outcomes) get(tool string) string {
	o.mu.Lock()
	defer o.mu.Unlock()
	return o.says[tool]
}

// aim is what a claimed tool is on, for those who look at it.
type aim struct {
	claim.Claim
	Torque bool
	Target float64 // N·m or degrees
	Says   string
	on     device.Fastener
}

// aimOf says what a claim's tool is on; ok is false where it is nothing to be pulled.
func (s *Server) aimOf(c fiber.Ctx, k claim.Claim) (aim, bool) {
	st, err := s.Store.Job(c.Context(), k.Job)
	if err != nil || st.Plan == nil {
		return aim{}, false
	}
	j := st.Plan.Joint(k.Joint)
	f := st.Fastener(k.Joint, k.Letter)
	if j == nil || f == nil || f.Done >= f.Stages {
		return aim{}, false
	}
	stage := st.Stages(j.ID)[f.Done]
	a := aim{Claim: k, Torque: stage.Kind == recipe.Torque, Target: stage.Target()}
	a.Says = st.Vehicle.Fleet + ": " + j.One + " " + k.Letter + ", " + stage.Short()
	a.on = device.Fastener{
		Torque:   a.Torque,
		Target:   a.Target,
		Slope:    j.Slope(),
		Standing: standing(st, j, f, a),
		Seed:     seed(k.Job, k.Joint, k.Letter),
	}
	return a, true
}

// snugged is what a fastener stands at before its angle where no torque was recorded,
// N·m (common practice).
const snugged = 20

// standing is the torque a fastener was left at. One that was backed off, or is gone
// round again at a lower figure, stands loose.
func standing(st *job.State, j *plan.Joint, f *job.Fastener, a aim) float64 {
	left := 0.0
	for _, id := range f.Pulls {
		p := st.Pulls[id]
		if p.Counts() && p.Seq >= f.Since && p.Result.PeakNm > 0 {
			left = p.Result.PeakNm
		}
	}
	if !a.Torque && left == 0 {
		return snugged
	}
	if a.Torque && f.Done > 0 && left > a.Target*1.02 {
		return 0
	}
	return left
}

func seed(parts ...string) uint64 {
	h := fnv.New64a()
	for _, p := range parts {
		h.Write([]byte(p))
	}
	return h.Sum64()
}

type wrenchView struct {
	Tool      wrench.Tool
	Aim       aim
	Aimed     bool
	Mine      bool // the claim is of this very session
	Busy      bool
	Outcome   string
	Plays     []string
	Amount    string
	Fault     *fault.Fault
	Plot      draw.Plot
	Simulated bool
}

// connected is the wrench of the request, and the device that is connected for it.
func (s *Server) connected(c fiber.Ctx) (wrench.Tool, device.Wrench, error) {
	none := fault.New("not_found", "tool", "No such wrench is connected here.", "Choose one on the bench.")
	if s.Devices == nil {
		return wrench.Tool{}, nil, none
	}
	t, err := s.tool(c, c.Params("tool"))
	if err != nil || !t.Angle() {
		return t, nil, none
	}
	d := s.Devices.Wrench(t.ID)
	if d == nil {
		return t, nil, none
	}
	return t, d, nil
}

func (s *Server) wrenchPage(c fiber.Ctx) error { return s.showWrench(c, 200, "", nil) }

func (s *Server) showWrench(c fiber.Ctx, code int, amount string, f *fault.Fault) error {
	t, d, err := s.connected(c)
	if err != nil {
		return err
	}
	v := wrenchView{
		Tool:      t,
		Busy:      d.Busy(),
		Outcome:   s.outcomes.get(t.ID),
		Plays:     d.Plays(),
		Amount:    amount,
		Fault:     f,
		Simulated: s.Devices.Simulated(),
	}
	if k, ok := s.claims.on(t.ID, s.Now()); ok {
		v.Aim, v.Aimed = s.aimOf(c, k)
		v.Mine = k.Session == kit.Session(c).ID
	}
	if v.Aimed {
		v.Plot = draw.Trace(nil, v.Aim.Target*0.96, v.Aim.Target*1.04, v.Aim.Target, v.Aim.Torque)
	}
	return s.render(c, code, "wrench", unit.Capital(t.Name), v)
}

// Bounds of a pull asked for on the page.
const (
	overRange = 1.5 // of the tool's maximum
	mostTurn  = 720 // degrees
)

// wrenchPull starts a pull under the claim of the one who asks. It goes on by itself;
// what it came to is recorded when the wrench is let go, whoever has a page open.
func (s *Server) wrenchPull(c fiber.Ctx) error {
	t, d, err := s.connected(c)
	if err != nil {
		return err
	}
	k, ok := s.claims.on(t.ID, s.Now())
	a, aimed := s.aimOf(c, k)
	if !ok || !aimed || k.Session != kit.Session(c).ID {
		return s.showWrench(c, 422, "", fault.New(job.CodeClaim, "", "You have not taken this wrench for a fastener.",
			"Open a tightening step on the bench and take it there."))
	}
	in := kit.Read[struct {
		Plays  string     `form:"plays"`
		Amount kit.Figure `form:"amount"`
		Quick  kit.Figure `form:"quick"` // none given is as in life
		Hold   kit.Tick   `form:"hold"`
	}](c)
	limit := overRange * t.MaxNm
	if !a.Torque {
		limit = mostTurn
	}
	if !in.Amount.OK || in.Amount.Value <= 0 || in.Amount.Value > limit {
		return s.showWrench(c, 422, in.Amount.Text, fault.New("out_of_range", "amount", "Nobody pulls that far.",
			"Give newton metres, or degrees for an angle stage."))
	}
	act := device.Act{Plays: in.Plays, Amount: in.Amount.Value, Quick: in.Quick.Value, Hold: bool(in.Hold)}
	s.claims.use(func(b *claim.Book) { k, err = b.Begin(k.ID, t.ID, s.Now()) })
	if err != nil {
		return s.showWrench(c, 409, in.Amount.Text, fault.As(err))
	}
	s.pulls.Go(func() { s.runPull(t, d, a, act) })
	return kit.See(c, "/wrench/"+t.ID)
}

func (s *Server) runPull(t wrench.Tool, d device.Wrench, a aim, act device.Act) {
	topics := []string{"tool:" + t.ID, "job:" + a.Job}
	tell := func(event string, what any) {
		for _, topic := range topics {
			s.hub.Send(topic, event, what)
		}
	}
	tell("begin", map[string]string{"step": a.Step, "letter": a.Letter})
	all := d.Pull(s.ctx, a.on, act, func(r []device.Reading) { tell("samples", r) })
	defer s.claims.use(func(b *claim.Book) { b.End(a.ID, t.ID) })
	if all == nil {
		return
	}
	cmd := job.Trace{
		Step:      operation.StepID(a.Step),
		Joint:     a.Joint,
		Letter:    a.Letter,
		Tool:      t,
		ToolID:    t.ID,
		Claim:     a.Claim,
		Simulated: s.Devices.Simulated(),
	}
	for _, r := range all {
		cmd.Samples = append(cmd.Samples, pull.Sample(r))
	}
	st, id, err := s.recordClaimed(uuid.NewString(), a.Claim, cmd)
	says := "Not recorded"
	good := false
	if err != nil {
		s.Log.Warn("pull not recorded", "tool", t.ID, "error", err)
		says += ": " + err.Error()
	} else {
		r := st.Pulls[id].Result
		says = r.Reasons[0].Message
		good = r.Verdict == pull.Keep
	}
	s.outcomes.set(t.ID, says)
	tell("end", map[string]any{"says": says, "good": good})
}

// recordClaimed records what a tool has read under the name of the one who took it,
// as long as that session has not ended.
func (s *Server) recordClaimed(id string, k claim.Claim, cmd job.Trace) (*job.State, string, error) {
	ctx := context.WithoutCancel(s.ctx) // also while the server ends
	if !s.Store.SessionLives(ctx, k.Session, s.Now()) {
		return nil, id, fault.New(job.CodeClaim, "claim", k.By+" is signed out: the tool is in nobody's hand.",
			"Sign in, take it on the bench, then pull.")
	}
	m := job.Meta{ID: record.EventID(id), By: k.By, Role: job.Technician, At: s.Now()}
	st, _, err := s.Store.Record(ctx, k.Job, m, cmd)
	return st, id, err
}

func (s *Server) wrenchRelease(c fiber.Ctx) error {
	t, d, err := s.connected(c)
	if err != nil {
		return err
	}
	d.Release()
	return kit.See(c, "/wrench/"+t.ID)
}

func (s *Server) wrenchLive(c fiber.Ctx) error {
	if _, _, err := s.connected(c); err != nil {
		return err
	}
	first := func() (kit.Message, error) { return kit.Message{Event: "here", Data: []byte("{}")}, nil }
	return s.hub.Stream(s.ctx, c, "tool:"+c.Params("tool"), first, s.lives(c), func() {})
}
