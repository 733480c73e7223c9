package shop

import (
	"context"
	"lugtak/core/claim"
	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/pull"
	"lugtak/core/recipe"
	"lugtak/core/record"
	"lugtak/core/wrench"
	"lugtak/device"
	"sync"

	"github.com/google/uuid"
)

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

// Aim is what a claimed tool is on, for those who look at it.
type Aim struct {
	claim.Claim
	Torque bool
	Target float64 // N·m or degrees
	Says   string
	on     device.Fastener
}

// AimOf says what a claim's tool is on; ok is false where it is nothing to be pulled.
func (s *Shop) AimOf(ctx context.Context, k claim.Claim) (Aim, bool) {
	st, err := s.Job(ctx, k.Job)
	if err != nil || st.Plan == nil {
		return Aim{}, false
	}
	j := st.Plan.Joint(k.Joint)
	f := st.Fastener(k.Joint, k.Letter)
	if j == nil || f == nil || f.Done >= f.Stages {
		return Aim{}, false
	}
	stage := st.Stages(j.ID)[f.Done]
	a := Aim{Claim: k, Torque: stage.Kind == recipe.Torque, Target: stage.Target()}
	a.Says = st.Vehicle.Fleet + ": " + j.One + " " + k.Letter + ", " + stage.Short()
	a.on = device.Fastener{
		Torque:   a.Torque,
		Target:   a.Target,
		Slope:    j.Slope(),
		Standing: standing(st, j, f, a),
		Seed:     device.Seed(k.Job, k.Joint, k.Letter),
	}
	return a, true
}

// standing is the torque a fastener was left at. One that was backed off, or is gone
// round again at a lower figure, stands loose.
func standing(st *job.State, j *plan.Joint, f *job.Fastener, a Aim) float64 {
	left := 0.0
	for _, id := range f.Pulls {
		p := st.Pulls[id]
		if st.Stands(p) && p.Result.PeakNm > 0 {
			left = p.Result.PeakNm
		}
	}
	if !a.Torque && left == 0 {
		return device.Snugged
	}
	if a.Torque && f.Done > 0 && left > a.Target*1.02 {
		return 0
	}
	return left
}

// Outcome is what the last pull of a tool came to, in words.
func (s *Shop) Outcome(tool string) string { return s.outcomes.get(tool) }

// Pull starts a pull of a connected wrench under its claim. It goes on by itself; what it came to is recorded
// when the wrench is let go, whoever has a page open.
func (s *Shop) Pull(t wrench.Tool, d device.Wrench, a Aim, act device.Act) error {
	var err error
	s.hands.use(func(b *claim.Book) { _, err = b.Begin(a.ID, t.ID, s.Now()) })
	if err != nil {
		return err
	}
	s.Go(func(ctx context.Context) { s.runPull(ctx, t, d, a, act) })
	return nil
}

func (s *Shop) runPull(ctx context.Context, t wrench.Tool, d device.Wrench, a Aim, act device.Act) {
	topics := []string{ToolTopic(t.ID), JobTopic(a.Job)}
	tell := func(event string, what any) {
		for _, topic := range topics {
			s.Hub.Send(topic, event, what)
		}
	}
	tell("begin", map[string]string{"step": a.Step, "letter": a.Letter})
	all := d.Pull(ctx, a.on, act, func(r []device.Reading) { tell("samples", r) })
	defer s.Used(a.Claim)
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
	st, id, err := s.RecordClaimed(uuid.NewString(), a.Claim, cmd)
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
	tell("end", map[string]any{"says": says, "good": good, "pull": id})
}

// RecordClaimed records what a tool has read under the name of the one who took it,
// as long as that session has not ended.
func (s *Shop) RecordClaimed(id string, k claim.Claim, cmd job.Trace) (*job.State, string, error) {
	ctx := context.WithoutCancel(s.ctx) // also while the server ends
	if !s.Store.SessionLives(ctx, k.Session, s.Now()) {
		return nil, id, fault.New(fault.Claim, "claim", k.By+" is signed out: the tool is in nobody's hand.",
			"Sign in, take it on the bench, then pull.")
	}
	m := job.Meta{ID: record.EventID(id), By: k.By, Role: job.Technician, At: s.Now()}
	st, _, err := s.Store.Record(ctx, k.Job, m, cmd)
	return st, id, err
}
