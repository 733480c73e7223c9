package web

import (
	"hash/fnv"
	"sync"

	"github.com/gofiber/fiber/v3"
	"github.com/google/uuid"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/pull"
	"lugtak/core/thread"
	"lugtak/core/unit"
	"lugtak/core/wrench"
	"lugtak/device"
	"lugtak/store"
)

// crib holds the stand-in wrenches and what each is put on.
type crib struct {
	s       *Server
	mu      sync.Mutex
	wrench  map[string]*device.Wrench
	aims    map[string]aim
	outcome map[string]string
}

// aim is the fastener a wrench is on, as the bench last showed it.
type aim struct {
	Job, Fleet, Title   string
	Step, Joint, Letter string
	One                 string
	Torque              bool
	Target              float64 // N·m or degrees
	Slope               float64 // N·m per degree of the joint
	Standing            float64 // N·m it was left at
	Says                string
	Person              store.Person
	Tool                wrench.Tool
}

func newCrib(s *Server) *crib {
	return &crib{s: s, wrench: map[string]*device.Wrench{}, aims: map[string]aim{}, outcome: map[string]string{}}
}

func (c *crib) aim(tool string, a aim) {
	c.mu.Lock()
	changed := c.aims[tool] != a
	c.aims[tool] = a
	c.mu.Unlock()
	if changed {
		c.s.hub.send("tool:"+tool, "aim", map[string]string{"says": a.Says})
	}
}

func (c *crib) on(tool string) (aim, bool, string) {
	c.mu.Lock()
	defer c.mu.Unlock()
	a, ok := c.aims[tool]
	return a, ok, c.outcome[tool]
}

func (c *crib) take(tool string) *device.Wrench {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.wrench[tool] == nil {
		c.wrench[tool] = &device.Wrench{}
	}
	return c.wrench[tool]
}

func (c *crib) ended(tool, says string) {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.outcome[tool] = says
}

// aimOf says what the wrench would be put on.
func aimOf(st *job.State, step *operation.Step, j *operation.PlanJoint, letter string, p *pullView, who store.Person) aim {
	a := aim{Job: st.ID, Fleet: st.Vehicle.Fleet, Title: st.Plan.Title, Step: step.ID, Joint: j.ID, Letter: letter, One: j.One, Torque: p.Mode == "torque",
		Target: p.Target, Slope: 1.5, Says: st.Vehicle.Fleet + ": " + j.One + " " + letter + ", " + p.Stage.Short(), Person: who, Tool: p.Tool.Tool}
	if f, ok := j.Fastener(); ok {
		mu, _ := thread.Friction(f.Treatment)
		a.Slope = f.Thread.Stiffness().Mid * f.Thread.P / 360 * f.Thread.TorquePerForce(mu.Mid)
	}
	for _, id := range st.Fasteners[j.ID+"#"+letter].Pulls {
		if r := st.Pulls[id]; r.Kept && r.StruckWhy == "" && r.Result.PeakNm > 0 {
			a.Standing = r.Result.PeakNm
		}
	}
	if !a.Torque && a.Standing == 0 {
		a.Standing = 20
	}
	// A fastener backed off or gone round a second time stands as its stage says.
	if a.Torque && p.No > 1 && p.Stage.Kind == "torque" && a.Standing > a.Target*1.02 {
		a.Standing = 0
	}
	return a
}

type wrenchView struct {
	Tool    wrench.Tool
	Aim     aim
	Aimed   bool
	Busy    bool
	Outcome string
	Faults  []device.Fault
	Amount  string
	Fault   *fault.Fault
	Plot    plot
}

func (s *Server) wrenchPage(c fiber.Ctx) error { return s.showWrench(c, 200, "", nil) }

func (s *Server) showWrench(c fiber.Ctx, code int, amount string, f *fault.Fault) error {
	t, err := s.tool(c, c.Params("tool"))
	if err != nil || !t.Angle() {
		return fault.New("not_found", "tool", "The shop has no such torque–angle wrench.", "Choose one on the bench.")
	}
	v := wrenchView{Tool: t, Busy: s.crib.take(t.ID).Busy(), Faults: device.Faults(), Amount: amount, Fault: f}
	v.Aim, v.Aimed, v.Outcome = s.crib.on(t.ID)
	if v.Aimed {
		if amount == "" {
			v.Amount = unit.Number(v.Aim.Target, 1)
		}
		v.Plot = tracePlot(nil, v.Aim.Target*0.96, v.Aim.Target*1.04, v.Aim.Target, v.Aim.Torque)
	}
	return s.render(c, code, "wrench", unit.Capital(t.Name), v)
}

// wrenchPull starts a pull. It goes on by itself; what it came to is recorded
// when the wrench is let go, whoever has a page open.
func (s *Server) wrenchPull(c fiber.Ctx) error {
	tool := c.Params("tool")
	a, ok, _ := s.crib.on(tool)
	if !ok {
		return s.showWrench(c, 422, "", fault.New("missing", "", "The wrench is on no fastener.", "Open a tightening step on the bench and choose this wrench."))
	}
	amount, ok := unit.Figure(c.FormValue("amount"))
	limit := 1.5 * a.Tool.MaxNm
	if !a.Torque {
		limit = 720
	}
	if !ok || amount <= 0 || amount > limit {
		return s.showWrench(c, 422, c.FormValue("amount"), fault.New("out_of_range", "amount", "Nobody pulls that far.", "Give newton metres, or degrees for an angle stage."))
	}
	seed := fnv.New64a()
	seed.Write([]byte(a.Job + a.Joint + a.Letter))
	b := device.NewBolt(device.Fault(c.FormValue("fault", string(device.Sound))), aimTorque(a), a.Slope, a.Standing, seed.Sum64())
	h := device.Hand{Rate: 100, Noise: 0.15, ToNm: amount}
	if !a.Torque {
		h.ToNm, h.TurnDeg = 0, amount
	}
	quick, ok := unit.Figure(c.FormValue("quick"))
	if !ok || quick < 1 || quick > 50 {
		quick = 1
	}
	go s.runPull(tool, a, b, h, quick, c.FormValue("hold") == "")
	return c.Redirect().Status(fiber.StatusSeeOther).To("/wrench/" + tool)
}

// aimTorque is the torque the simulated bolt's faults are placed by.
func aimTorque(a aim) float64 {
	if a.Torque {
		return a.Target
	}
	return a.Standing
}

func (s *Server) runPull(tool string, a aim, b *device.Bolt, h device.Hand, quick float64, letGo bool) {
	topics := []string{"tool:" + tool, "job:" + a.Job}
	for _, t := range topics {
		s.hub.send(t, "begin", map[string]string{"step": a.Step, "letter": a.Letter})
	}
	all := s.crib.take(tool).Pull(s.ctx, b, h, quick, letGo, func(r []device.Reading) {
		for _, t := range topics {
			s.hub.send(t, "samples", r)
		}
	})
	if all == nil {
		return
	}
	cmd := job.Pull{Step: a.Step, Joint: a.Joint, Letter: a.Letter, Tool: a.Tool}
	for _, r := range all {
		cmd.Trace = append(cmd.Trace, pull.Sample(r))
	}
	m := job.Meta{ID: uuid.NewString(), By: a.Person.Name, Role: a.Person.Role, At: s.Now()}
	st, _, err := s.Store.Record(s.ctx, a.Job, m, cmd)
	says := "not recorded"
	if err != nil {
		s.Log.Warn("pull not recorded", "tool", tool, "error", err)
		says = "Not recorded: " + err.Error()
	} else {
		r := st.Pulls[m.ID].Result
		says = string(r.Reasons[0].Message)
	}
	s.crib.ended(tool, says)
	for _, t := range topics {
		s.hub.send(t, "end", map[string]any{"says": says, "good": err == nil && st.Pulls[m.ID].Result.Verdict == pull.Keep})
	}
}

func (s *Server) wrenchRelease(c fiber.Ctx) error {
	s.crib.take(c.Params("tool")).Release()
	return c.Redirect().Status(fiber.StatusSeeOther).To("/wrench/" + c.Params("tool"))
}
