// Package demo makes the invented shop: the motor pool of Tarn Quay, with its
// people, vehicles, a job half done, one waiting and one on its walk-round. Nothing in it is real.
package demo

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image"
	"image/draw"
	"image/jpeg"
	"math"
	"math/rand/v2"
	"strings"
	"sync"
	"time"

	"lugtak/core/claim"
	"lugtak/core/inspect"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/part"
	"lugtak/core/plan"
	"lugtak/core/pull"
	"lugtak/core/recipe"
	"lugtak/core/record"
	"lugtak/core/vehicle"
	"lugtak/core/wrench"
	"lugtak/device/sim"
	"lugtak/library"
	"lugtak/shop"

	"golang.org/x/image/font"
	"golang.org/x/image/font/basicfont"
	"golang.org/x/image/math/fixed"
)

// Person is one of the invented people, with the PIN the sign-in page shows.
type Person struct {
	Name string
	Role job.Role
	PIN  string
}

// People are the three of the motor pool.
var People = []Person{
	{"Technician Aro", job.Technician, "2401"},
	{"Technician Bel", job.Technician, "3712"},
	{"Foreman Cass", job.Foreman, "5820"},
}

var vehicles = []vehicle.Vehicle{
	{ID: "demo-q14", Fleet: "Q-14", Plate: "TQ 0414", Pattern: "ostrel-c22", Name: "Ostrel C22 van", Bay: "bay 1"},
	{ID: "demo-q09", Fleet: "Q-09", Plate: "TQ 0409", Pattern: "ostrel-c22", Name: "Ostrel C22 van", Bay: "bay 2"},
	{ID: "demo-a3", Fleet: "A-3", Plate: "TQ 1103", Pattern: "lindar-s6", Name: "Lindar S6 ambulance", Bay: "yard"},
	{ID: "demo-s1", Fleet: "S-1", Plate: "TQ 2201", Pattern: "caldren-m9", Name: "Caldren M9 school minibus",
		Bay: "yard"},
	{ID: "demo-n7", Fleet: "N-7", Plate: "TQ 4407", Pattern: "norrvik-e3", Name: "Norrvik E3 estate", Bay: "yard"},
	{ID: "demo-p2", Fleet: "P-2", Plate: "TQ 3302", Pattern: "brask-t7", Name: "Brask T7 plough pickup", Bay: "bay 3"},
	{ID: "demo-h4", Fleet: "H-4", Plate: "TQ 5504", Pattern: "tessvik-h1", Name: "Tessvik H1 hatchback", Bay: "yard"},
	{ID: "demo-v2", Fleet: "V-2", Plate: "TQ 7702", Pattern: "varholt-p4", Name: "Varholt P4 shuttle bus", Bay: "yard"},
	{ID: "demo-r3", Fleet: "R-3", Plate: "TQ 8803", Pattern: "selmar-r2", Name: "Selmar R2 saloon", Bay: "yard"},
	{ID: "demo-u6", Fleet: "U-6", Plate: "TQ 9906", Pattern: "dorvik-u6", Name: "Dorvik U6 high estate", Bay: "yard"},
	{ID: "demo-d1", Fleet: "D-1", Plate: "TQ 6601", Pattern: "halvik-d9", Name: "Halvik D9 delivery van", Bay: "yard"},
}

// Jobs of the demo.
// The invented shop, as it stands on its papers.
const (
	ShopName    = "Tarn Quay Motor Pool"
	ShopContact = "Quay Road 4, Tarn Quay · call 000 214 00 (invented)"
)

// Jobs of the demo, by what they show.
const (
	HalfDone  = "demo-half-done" // a hub unit out, its nut loose
	Waiting   = "demo-waiting"   // planned, and not begun
	Complaint = "demo-complaint" // a walk-round under way
	Struts    = "demo-struts"    // two operations on both sides, not begun
	Done      = "demo-done"      // worked and signed some weeks ago
)

// Dressed is the library as the demo's shop has it: with its name, its money and its prices, all invented.
func Dressed(lib *library.Library) *library.Library {
	out := *lib
	out.Shop.Name, out.Shop.Contact, out.Shop.Bays = ShopName, ShopContact, 9
	out.Shop.Currency, out.Shop.RatePerHour, out.Shop.Prices = "crowns", 96, prices
	return &out
}

// prices are by a part's key in the plan, without its side.
var prices = map[string]float64{
	"hub-unit": 148, "drive-axle": 210, "strut": 165, "rear-strut": 140, "control-arm": 120, "tension-arm": 118,
	"upper-joint": 64, "lower-joint": 72, "link": 24, "tie-rod-end": 38, "inner-rod": 52, "rear-shock": 74,
	"front-shock": 82, "pads": 66, "rotor": 58, "idler": 96, "support": 88, "mount": 54,
}

// Fill makes the young shop in an empty file, with a few jobs open and one signed; a file that has people is
// left alone.
func Fill(ctx context.Context, s *shop.Shop, now time.Time) error {
	people, err := s.People(ctx)
	if err != nil || len(people) > 0 {
		return err
	}
	if err := found(ctx, s, now, vehicles); err != nil {
		return err
	}
	if err := finish(ctx, s, now.AddDate(0, 0, -doneBefore)); err != nil {
		return err
	}
	return present(ctx, s, now)
}

// doneBefore is how many days ago the signed job of the young shop was.
const doneBefore = 23

// found gives an empty shop its people, vehicles and calibrated tools.
func found(ctx context.Context, s *shop.Shop, now time.Time, fleet []vehicle.Vehicle) error {
	added := make([]error, len(People))
	var all sync.WaitGroup // a PIN is slow to hash, on purpose
	for i, p := range People {
		all.Go(func() { _, added[i] = s.AddPerson(ctx, p.Name, p.Role, p.PIN, "the demo") })
	}
	all.Wait()
	if err := errors.Join(added...); err != nil {
		return err
	}
	for _, v := range fleet {
		if _, err := s.AddVehicle(ctx, v); err != nil {
			return err
		}
	}
	return calibrate(ctx, s, now)
}

// present are the jobs open now; the half-done one stands at the second knuckle bolt.
func present(ctx context.Context, s *shop.Shop, now time.Time) error {
	h := Hand{Shop: s, Lib: s.Library(), By: People[0].Name, Now: now.Add(-95 * time.Minute)}
	if err := h.Start(ctx, HalfDone, vehicles[0], "hums at speed, louder in right-hand bends", 148_230,
		Hub("FL")); err != nil {
		return err
	}
	err := h.Work(ctx, HalfDone, func(st *job.State, step *plan.Step) bool {
		return step.ID == "front-hub-unit.knuckle-1.FL" && st.Current(step) == "B"
	})
	if err != nil {
		return err
	}
	for _, c := range []job.Command{
		job.Find{Text: "Left front wheel arch: two cover screws missing, lead of the parking sensor chafed."},
		job.StockPart{Part: "hub-unit", Status: job.Have},
		job.StockPart{Part: "steering.front.pinch", Status: job.Ordered},
	} {
		if err := h.Do(ctx, HalfDone, c); err != nil {
			return err
		}
	}
	h.Now = now.Add(-30 * time.Minute)
	h.By = People[1].Name
	walk := []job.Command{job.Start{
		Job:        Complaint,
		Vehicle:    vehicles[2],
		Complaint:  "growls above 60, louder in left-hand bends",
		OdometerKM: 61_880,
		House:      s.Library().House(),
	}}
	for _, sign := range []string{"hum-with-speed", "hum-louder-left-bend", "growl-at-knuckle"} {
		for _, e := range s.Library().Signs.Evidence {
			if e.Key == sign {
				walk = append(walk, job.Answer{Sign: sign, Ask: e.Ask, Yes: true})
			}
		}
	}
	for i, c := range walk {
		id := record.EventID(Complaint).And(i)
		if i == 0 {
			id = "start:" + Complaint
		}
		if err := h.record(ctx, Complaint, id, c); err != nil {
			return err
		}
	}
	h.By = People[0].Name
	h.Now = now.Add(-20 * time.Minute)
	if err := h.Start(ctx, Waiting, vehicles[1], "play at the right front wheel, found at the inspection", 97_410,
		Hub("FR")); err != nil {
		return err
	}
	h.Now = now.Add(-10 * time.Minute)
	var tasks []plan.Task
	for _, op := range []string{"strut-front", "stabiliser-link"} {
		tasks = append(tasks, plan.Task{Operation: op, Corner: "FL"}, plan.Task{Operation: op, Corner: "FR"})
	}
	if err := h.Start(ctx, Struts, vehicles[4], "front dips and knocks over bumps, oil on the left damper", 183_020,
		tasks...); err != nil {
		return err
	}
	for part, status := range map[string]job.Stock{"strut.FL": job.Have, "strut.FR": job.Have,
		"suspension.front.strutbolt": job.Missing} {
		have := job.StockPart{Part: part, Status: status}
		if err := h.record(ctx, Struts, record.EventID(Struts).And(part), have); err != nil {
			return err
		}
	}
	return nil
}

// WorkOn works jobs on, each to the first step whose title begins with the words under its id:
// a demo of what comes then. It goes on from when each was left.
func WorkOn(ctx context.Context, s *shop.Shop, jobs map[string]string) error {
	for id, words := range jobs {
		st, err := s.Job(ctx, id)
		if err != nil {
			return err
		}
		h := Hand{Shop: s, Lib: s.Library(), By: People[0].Name, Now: st.Last, n: st.Seq}
		there := false
		err = h.Work(ctx, id, func(_ *job.State, step *plan.Step) bool {
			there = strings.HasPrefix(step.Title, words)
			return there
		})
		if err != nil {
			return err
		}
		if !there {
			return fmt.Errorf("%s has no step left that begins with “%s”; its plan lists them", id, words)
		}
	}
	return nil
}

// finish works a job to its signature, so that the shop has a past and step times
// of its own.
func finish(ctx context.Context, s *shop.Shop, day time.Time) error {
	h := Hand{Shop: s, Lib: s.Library(), By: People[1].Name, Now: day}
	if err := h.Start(ctx, Done, vehicles[5], "rumble at the right front wheel, plough on", 58_310,
		plan.Task{Operation: "solid-axle-hub", Corner: "FR"}); err != nil {
		return err
	}
	if err := h.Work(ctx, Done, func(*job.State, *plan.Step) bool { return false }); err != nil {
		return err
	}
	return h.Do(ctx, Done, job.Sign{})
}

// calibrate logs a calibration of every torque tool but the last, which is
// overdue. Days count back from now, so that the demo does not age.
func calibrate(ctx context.Context, s *shop.Shop, now time.Time) error {
	tools := s.Library().Tools
	for i, t := range tools {
		l := wrench.Logged{Tool: t.ID, Kind: wrench.LogCheck, By: People[2].Name, At: now.AddDate(0, 0, -40-45*i)}
		if i == len(tools)-1 {
			l.At = now.AddDate(-1, -1, -20)
		}
		l.Reference = "transducer R-1 (invented)"
		l.ReferenceUntil = l.At.AddDate(1, 0, 0)
		l.Certificate = fmt.Sprintf("R-1/%d (invented)", i+1)
		l.Second = People[1].Name
		for k, share := range wrench.CheckShares {
			p := wrench.CheckPoint{SetNm: share * t.MaxNm}
			for n := range wrench.CheckReadings {
				off := 1.4*math.Sin(float64(7*i+3*k+2*n)) + 0.9*float64(k-1) // per cent, invented
				p.Readings = append(p.Readings, math.Round(10*p.SetNm/(1+off/100))/10)
			}
			l.Points = append(l.Points, p)
		}
		paper, err := certificate(l.Certificate)
		if err != nil {
			return err
		}
		if err := s.LogTool(ctx, record.EventID("demo-"+t.ID), t, l, job.Technician, paper); err != nil {
			return err
		}
	}
	return nil
}

// certificate is a picture of a certificate, by its number.
func certificate(number string) ([]byte, error) {
	paper := image.NewGray(image.Rect(0, 0, 320, 200))
	draw.Draw(paper, paper.Bounds(), image.White, image.Point{}, draw.Src)
	pen := font.Drawer{Dst: paper, Src: image.Black, Face: basicfont.Face7x13, Dot: fixed.P(20, 60)}
	pen.DrawString("Certificate " + number)
	var b bytes.Buffer
	err := jpeg.Encode(&b, paper, nil)
	return b.Bytes(), err
}

// Hand works a job as a technician would, step by step, with clean pulls.
type Hand struct {
	Shop *shop.Shop
	Lib  *library.Library
	By   string
	Now  time.Time
	n    int

	rng *rand.Rand // by which it meets what is stuck; nil: it meets nothing

	missed bool // what is renewed was not the fault, which the drive shows
}

// Hub is the task of the demo's jobs.
func Hub(c vehicle.Corner) plan.Task {
	return plan.Task{Operation: "front-hub-unit", Corner: c}
}

// Start opens a job with its work planned.
func (h *Hand) Start(
	ctx context.Context,
	id string,
	v vehicle.Vehicle,
	complaint string,
	km int,
	tasks ...plan.Task,
) error {
	plan, err := h.Lib.Plan(v.Pattern, library.Ask{Tasks: tasks})
	if err != nil {
		return err
	}
	return h.record(ctx, id, record.EventID("start:"+id), job.Start{
		Job:        id,
		Vehicle:    v,
		Complaint:  complaint,
		OdometerKM: km,
		Plan:       plan,
		House:      h.Lib.House(),
	})
}

// Do records one command, a breath later than the last.
func (h *Hand) Do(ctx context.Context, id string, c job.Command) error {
	h.n++
	h.Now = h.Now.Add(breath)
	return h.record(ctx, id, record.EventID(fmt.Sprintf("%s/%s/%d", id, strings.ReplaceAll(h.By, " ", "-"), h.n)), c)
}

// breath is the least a hand takes from one act to the next.
const breath = 4 * time.Second

func (h *Hand) record(ctx context.Context, id string, eventID record.EventID, c job.Command) error {
	m := job.Meta{ID: eventID, By: h.By, Role: job.Technician, At: h.Now}
	if _, passes := c.(job.Deviate); passes {
		m.Second = People[2].Name
	}
	_, _, err := h.Shop.Record(ctx, id, m, c)
	return err
}

// Work goes through the steps until stop says so or nothing is left.
func (h *Hand) Work(ctx context.Context, id string, stop func(*job.State, *plan.Step) bool) error {
	for {
		st, err := h.Shop.Job(ctx, id)
		if err != nil {
			return err
		}
		step := st.Plan.Step(st.Next())
		if step == nil || stop(st, step) {
			return nil
		}
		if met, err := h.stuck(ctx, id, st, step); err != nil {
			return fmt.Errorf("step %s: %w", step.ID, err)
		} else if met {
			continue
		}
		if err := h.shows(ctx, id, st, step); err != nil {
			return fmt.Errorf("step %s: %w", step.ID, err)
		}
		if step.Verb != operation.Soak {
			h.Now = h.Now.Add(time.Duration(h.pace() * step.Minutes * float64(time.Minute)))
		}
		for _, c := range h.Next(st, step) {
			if err := h.Do(ctx, id, c); err != nil {
				return fmt.Errorf("step %s: %w", step.ID, err)
			}
		}
	}
}

// pace is the share of a step's minutes a hand takes before its first act.
func (h *Hand) pace() float64 {
	if h.rng == nil {
		return 0.5
	}
	return 0.6 + 0.6*h.rng.Float64()
}

// Next are the commands that carry a step one act further.
func (h *Hand) Next(st *job.State, step *plan.Step) []job.Command {
	switch step.Verb {
	case operation.Crack, operation.Remove:
		return []job.Command{job.Handle{Step: step.ID}}
	case operation.Start:
		j := st.Plan.Joint(step.Joint)
		one := st.Together(step, j)
		fresh := len(one) > 0 && st.AsksNew(j, st.Fastener(j.ID, one[0]))
		if fresh { // new hardware is confirmed piece by piece
			one = one[:1]
		}
		return []job.Command{job.Handle{Step: step.ID, Letters: one, Renewed: fresh}}
	case operation.Tighten:
		if j := st.Plan.Joint(step.Joint); st.AsksVariant(j) {
			return []job.Command{job.SeeHardware{Joint: j.ID, Variant: j.Variants[0].Key}}
		}
		if f := st.Fastener(step.Joint, st.Current(step)); f != nil && f.Blocks != pull.Nothing {
			again := job.Slacken{Joint: f.Joint, Letter: f.Letter, Reason: "begun again", Renewed: f.Blocks == pull.Renew}
			return []job.Command{again}
		}
		if h.rng != nil && h.rng.Float64() < noRoom {
			return []job.Command{job.LeaveUnmeasured{
				Step: step.ID, Joint: step.Joint, Letter: st.Current(step), Cause: job.NoRoom,
			}}
		}
		return h.Tighten(st, step)
	}
	if step.Verb == operation.Drive {
		return []job.Command{h.drive(st, step)}
	}
	done := job.KeepStep{Step: step.ID}
	if step.Proves == "pedal" {
		done.Strokes = 6
	}
	if st.AsksOil(step) {
		done.TempC = 42
	}
	if step.Counts != "" {
		done.Turns = 17.5
	}
	if len(step.Answers) > 0 {
		done.Choice = step.Answers[0].Key
	}
	p, compared := st.Plan.Compared(step)
	if m := st.Match(step.Part); compared && (m == nil || !m.Accept) {
		return []job.Command{alike(step, p.Kind), done}
	}
	before := h.measured(st, step)
	if step.Books != "" && st.FluidAt(step.ID) == nil {
		before = append(before, job.BookFluid{FluidBooked: record.FluidBooked{
			Step:   string(step.ID),
			Spec:   "as the maker asks for (invented)",
			OutMl:  140,
			InMl:   150,
			Colour: "amber",
		}})
	}
	return append(before, done)
}

// drive is a road test at which all was as it should be; where the work missed the fault, not at the first time.
func (h *Hand) drive(st *job.State, step *plan.Step) job.Command {
	t := job.RoadTest{Step: step.ID}
	for _, m := range st.Manoeuvres() {
		f := record.Felt{Do: m.Do, Found: job.FeltSound}
		if st.WasWrong(m.Do) != "" {
			f.Note = "a tyre was worn in steps, changed front to rear"
		} else if h.missed && len(st.Trials) == 0 && m.Listen == "gone" {
			f.Found, f.Note = job.FeltWrong, "still there, a little less"
		}
		t.Felt = append(t.Felt, f)
	}
	return t
}

// measured is what a step asks to be measured, with invented figures of a part that is
// sound.
func (h *Hand) measured(st *job.State, step *plan.Step) []job.Command {
	var out []job.Command
	for _, key := range step.Measures {
		if st.MeasuredFor(step, key) != nil {
			continue
		}
		cmd := job.Measure{Step: step.ID}
		switch key {
		case inspect.RotorKey:
			r := inspect.Rotor{Thickness: []float64{26.41, 26.40, 26.41}, New: 28, Discard: 25}
			res, err := r.Judge()
			if err != nil {
				return nil
			}
			l, f := r.Measure(res)
			cmd.Limit, cmd.Value, cmd.Readings, cmd.Judged = l, res.Min, r.Thickness, &f
		case inspect.LashKey:
			cmd.Limit, _ = h.Lib.Limits.Lash[0].Measure(400, true)
			cmd.Value = 20
		default:
			cmd.Limit, _ = h.Lib.Limits.Measure(key)
			cmd.Value = st.LimitAt(cmd.Limit, string(step.Corner)).Usual()
		}
		out = append(out, cmd)
	}
	return out
}

// alike is a new part that measures as the old one does, with invented figures.
func alike(step *plan.Step, kind string) job.Compare {
	measured := map[string]float64{}
	for i, field := range part.Deciding(kind) {
		measured[field] = float64(12 + 7*i)
	}
	return job.Compare{Step: step.ID, Old: measured, New: measured, Accept: true}
}

// Tighten is a clean pull with click wrench and mark on the step's exact next
// fastener: the setting, where it is not stated yet, then the click.
func (h *Hand) Tighten(st *job.State, step *plan.Step) []job.Command {
	joint, letter := step.Joint, st.Current(step)
	no := st.Fastener(joint, letter).Done
	stage := st.Stages(joint)[no]
	_, stated := st.Set(h.By, joint, no)
	var out []job.Command
	switch stage.Kind {
	case recipe.Torque:
		c, ok := h.tool(st, step, no, false)
		if !ok {
			return []job.Command{h.trace(st, step, letter, no)}
		}
		if !stated {
			out = append(out, job.SetWrench{
				Step:   step.ID,
				Joint:  joint,
				Letter: letter,
				Tool:   c.Tool,
				ToolID: c.Tool.ID,
				SetNm:  c.SetNm,
			})
		}
		on := h.claims(st, c.Tool, joint, letter)
		return append(out, job.Click{Step: step.ID, Joint: joint, Letter: letter, Claim: on})
	case recipe.Angle:
		if !stated {
			out = append(out, job.SetWrench{Step: step.ID, Joint: joint, Letter: letter})
		}
		return append(out, job.Turn{Step: step.ID, Joint: joint, Letter: letter, Means: job.ByMark})
	case recipe.NextSlot:
		return []job.Command{job.Turn{Step: step.ID, Joint: joint, Letter: letter, HoleDeg: 25}}
	}
	return []job.Command{job.Turn{Step: step.ID, Joint: joint, Letter: letter}}
}

func (h *Hand) claims(st *job.State, tool wrench.Tool, joint, letter string) claim.Claim {
	return claim.Claim{
		ID:     "demo",
		Tool:   tool.ID,
		Job:    st.ID,
		Joint:  joint,
		Letter: letter,
		By:     h.By,
		At:     h.Now,
	}
}

// tool is the best wrench for a stage, of those that trace or those that click; ok is
// false where none will do.
func (h *Hand) tool(st *job.State, step *plan.Step, no int, traces bool) (wrench.Choice, bool) {
	joint := st.Plan.Joint(step.Joint)
	for _, c := range st.Wrenches(joint, no, h.Lib.Tools, wrench.Adapter{}, h.Now) {
		if c.Tool.Angle() == traces && c.Refused == "" {
			return c, true
		}
	}
	return wrench.Choice{}, false
}

// trace is a clean pull with the stand-in of a wrench that traces; where the shop has
// none that will do, the fastener is left not measured.
func (h *Hand) trace(st *job.State, step *plan.Step, letter string, no int) job.Command {
	c, ok := h.tool(st, step, no, true)
	if !ok {
		return job.LeaveUnmeasured{Step: step.ID, Joint: step.Joint, Letter: letter, Cause: job.NoRoom}
	}
	joint := st.Plan.Joint(step.Joint)
	target := st.Stages(step.Joint)[no].Target()
	bolt := sim.NewBolt(sim.Sound, target, joint.Slope(), 0, uint64(len(st.PullOrder)))
	t := job.Trace{
		Step:      step.ID,
		Joint:     step.Joint,
		Letter:    letter,
		Tool:      c.Tool,
		ToolID:    c.Tool.ID,
		Claim:     h.claims(st, c.Tool, step.Joint, letter),
		Simulated: true,
	}
	for _, r := range bolt.To(target) {
		t.Samples = append(t.Samples, pull.Sample(r))
	}
	return t
}
