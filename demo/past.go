package demo

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"time"

	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/record"
	"lugtak/core/vehicle"
	"lugtak/library"
	"lugtak/shop"
)

// pastDays is how long the shop has been at work, and pastJobs what it signed in that time.
const (
	pastDays = 182
	pastJobs = 150
)

// fleet is the motor pool as it is now: those of the young shop, and what came since.
var fleet = append(placed(vehicles),
	another("demo-q03", "Q-03", "TQ 0403", "ostrel-c22", "out"),
	another("demo-q11", "Q-11", "TQ 0411", "ostrel-c22", "yard"),
	another("demo-a1", "A-1", "TQ 1101", "lindar-s6", "yard"),
	another("demo-s4", "S-4", "TQ 2204", "caldren-m9", "out"),
	another("demo-n3", "N-3", "TQ 4403", "norrvik-e3", "yard"),
	another("demo-h5", "H-5", "TQ 5505", "tessvik-h1", "yard"),
	another("demo-d2", "D-2", "TQ 6602", "halvik-d9", "out"),
	another("demo-v4", "V-4", "TQ 7704", "varholt-p4", "yard"),
	another("demo-p5", "P-5", "TQ 3305", "brask-t7", "yard"),
)

// another is one more vehicle of a sheet the young shop has one of.
func another(id, fleet, plate, pattern, bay string) vehicle.Vehicle {
	i := slices.IndexFunc(vehicles, func(v vehicle.Vehicle) bool { return v.Pattern == pattern })
	return vehicle.Vehicle{ID: id, Fleet: fleet, Plate: plate, Pattern: pattern, Name: vehicles[i].Name, Bay: bay}
}

// places are where vehicles of the young shop stand now.
var places = map[string]string{
	"demo-a3": "bay 4", "demo-s1": "bay 3", "demo-h4": "bay 6", "demo-r3": "bay 7", "demo-n7": "bay 8", "demo-u6": "bay 9",
	"demo-p2": "yard",
}

func placed(all []vehicle.Vehicle) []vehicle.Vehicle {
	out := slices.Clone(all)
	for i, v := range out {
		if at := places[v.ID]; at != "" {
			out[i].Bay = at
		}
	}
	return out
}

// complaints are what drivers of the motor pool say, by the work it came to (all invented).
var complaints = map[string]string{
	"pads-rotors":        "squeals when it stops, pedal longer than it was",
	"brake-caliper":      "pulls to one side when it stops, one wheel hot",
	"brake-hose":         "damp at the inside of a wheel",
	"brake-bleed":        "pedal soft in the morning",
	"drum-brakes":        "park brake takes many clicks",
	"stabiliser-link":    "knocks over small bumps",
	"tie-rod-outer":      "wanders on the quay road",
	"tie-rod-inner":      "play in the wheel, straight ahead",
	"front-hub-unit":     "hums above 60",
	"rear-hub-unit":      "growls from behind, louder with speed",
	"solid-axle-hub":     "rumble in front, plough on",
	"shock-eye":          "bounces behind, oil on the damper",
	"shock-stem":         "dips and rocks in front",
	"strut-front":        "dips when it stops, knocks",
	"coil-rear":          "hangs to one side when loaded",
	"coil-front":         "sits low in front",
	"leaf-spring":        "hangs behind, clunks when it starts",
	"control-arm":        "clunks when braking",
	"tension-arm":        "steering shakes under the brake",
	"lower-ball-joint":   "groans at full lock",
	"upper-ball-joint":   "squeaks over the kerb",
	"idler-arm":          "the wheel has a dead spot",
	"drive-axle-plugged": "clicks in tight bends",
	"joint-boot":         "grease thrown round a wheel",
	"wheel-stud":         "a wheel nut turns and does not tighten",
	"crossmember":        "clunks when it takes up the drive",
	"centre-support":     "drones at 80, felt in the seat",
	"park-cable":         "park brake holds on one side only",
	"air-spring":         "lies low behind after a night",
	"hat-shoes":          "park brake does not hold the yard's slope",
	"press-bearing":      "grinds in front, felt in the floor",
	"steering-rack":      "knocks from the rack over setts",
	"taper-bearing":      "rumbles behind, hub warm",
	"drive-axle-flanged": "shudders when it pulls away",
	"strut-rear":         "rattles behind over small bumps",
	"park-motor":         "brake lamp stays on, one motor silent",
}

// visit is a job of the past: on which day, what for.
type visit struct {
	vehicle int
	day     int // before now
	tasks   []plan.Task
	says    string
}

// odometer is what a vehicle of the pool has now and makes a month, km.
type odometer struct{ km, month int }

// reads are the odometers of vehicles whose open jobs tell of them.
var reads = map[string]odometer{
	"demo-q14": {148_230, 1900}, "demo-q09": {97_410, 1600}, "demo-a3": {61_880, 1500}, "demo-n7": {183_020, 1300},
	"demo-p2": {59_000, 900},
}

func odometerOf(v vehicle.Vehicle) odometer {
	if o, ok := reads[v.ID]; ok {
		return o
	}
	sum := 0
	for _, r := range v.ID {
		sum = sum*31 + int(r)
	}
	sum &= 0xffff
	return odometer{km: 60_000 + 700*(sum%170), month: 900 + 100*(sum%17)}
}

func (o odometer) before(days int) int { return o.km - o.month*days/30 }

// offered are the tasks of each sheet that drivers complain of, by its key: each is compiled to see whether it
// can be done.
func offered(lib *library.Library) map[string][]plan.Task {
	out := map[string][]plan.Task{}
	for _, p := range lib.Patterns {
		for _, t := range lib.Offers(p) {
			if complaints[t.Operation] != "" {
				out[p.ID] = append(out[p.ID], t)
			}
		}
	}
	return out
}

// visits lays out the past: of each vehicle what its sheet offers, one thing after the other, some of it coming back.
func visits(lib *library.Library, of map[string][]plan.Task, rng *rand.Rand) []visit {
	var out []visit
	for i, v := range fleet {
		offers := slices.Clone(of[v.Pattern])
		rng.Shuffle(len(offers), func(a, b int) { offers[a], offers[b] = offers[b], offers[a] })
		done := map[string]bool{} // what goes on an axle once does not go on it again within half a year
		offers = slices.DeleteFunc(offers, func(t plan.Task) bool {
			op, _ := lib.Operation(t.Operation)
			key := t.Operation + t.Corner.Axle()
			was := done[key]
			done[key] = true
			return was && op.Pairs != ""
		})
		n := pastJobs/len(fleet) + min(1, i%2)
		for k := range min(n, len(offers)) {
			t := offers[k]
			day := pastDays - (k*pastDays+rng.IntN(pastDays))/n
			x := visit{vehicle: i, day: max(day, 4), tasks: []plan.Task{t}, says: complaints[t.Operation]}
			if op, known := lib.Operation(t.Operation); known && op.Pairs != "" && t.Corner != "" {
				x.tasks = append(x.tasks, plan.Task{Operation: t.Operation, Corner: t.Corner.Opposite()})
			}
			out = append(out, x)
			if rng.IntN(18) == 0 && x.day > 30 { // it comes back
				again := x
				again.day, again.says = x.day-9-rng.IntN(14), "the same as last time: "+x.says
				again.tasks = x.tasks[:1]
				out = append(out, again)
			}
		}
	}
	slices.SortStableFunc(out, func(a, b visit) int { return b.day - a.day })
	return out
}

// Past fills an empty shop with its people, its vehicles and half a year of signed work, by the commands a hand would
// give; done is told of each job. Nothing in it is real.
func Past(ctx context.Context, s *shop.Shop, now time.Time, done func(n, of int)) error {
	if err := found(ctx, s, now, fleet); err != nil {
		return err
	}
	rng := rand.New(rand.NewPCG(2026, pastDays))
	all, worn := visits(s.Library(), offered(s.Library()), rng), linings{}
	for n, x := range all {
		if x.day < doneBefore && (n == 0 || all[n-1].day >= doneBefore) {
			if err := finish(ctx, s, now.AddDate(0, 0, -doneBefore)); err != nil {
				return err
			}
		}
		if err := x.work(ctx, s, now, n, rng, worn); err != nil {
			return fmt.Errorf("the past, job %d: %w", n+1, err)
		}
		done(n+1, len(all))
	}
	return nil
}

// Live are the jobs open now in a shop that has a past: nine places on its floor, each in another state.
func Live(ctx context.Context, s *shop.Shop, now time.Time) error {
	if jobs, err := s.OpenJobs(ctx); err != nil || len(jobs) > 0 {
		return err
	}
	if err := present(ctx, s, now); err != nil {
		return err
	}
	for i, b := range busy {
		if err := b.begin(ctx, s, now, i); err != nil {
			return fmt.Errorf("bay of %s: %w", b.vehicle, err)
		}
	}
	for id, in := range promises {
		st, err := s.Job(ctx, id)
		if err != nil {
			return err
		}
		h := Hand{Shop: s, Lib: s.Library(), By: st.LastBy, Now: now.Add(-time.Minute)}
		until := now.Add(in).Truncate(15 * time.Minute)
		if err := h.record(ctx, id, record.EventID("promise:"+id), job.Promise{Until: until}); err != nil {
			return err
		}
	}
	return nil
}

// promises are when vehicles at work were promised, from now.
var promises = map[string]time.Duration{
	HalfDone: 3 * time.Hour, Waiting: 8 * time.Hour, Struts: 150 * time.Minute, "demo-busy-1": 5 * time.Hour,
	"demo-busy-2": 50 * time.Minute, "demo-busy-3": 45 * time.Minute, "demo-busy-4": 2 * time.Hour,
}

// busy are the jobs at work beside those of the young shop, each worked until its hand stops.
var busy = []bayWork{
	{"demo-s1", "squeals when it stops", "pads-rotors", "FL", func(_ *job.State, x *plan.Step) bool {
		return x.Verb == operation.Tighten
	}, job.ReportTrouble{Code: job.Sheared}},
	{"demo-h4", "wanders on the quay road", "tie-rod-outer", "FR", func(_ *job.State, x *plan.Step) bool {
		return x.Verb == operation.Soak
	}, nil},
	{"demo-r3", "pedal longer than it was", "pads-rotors", "FL", func(_ *job.State, x *plan.Step) bool {
		return x.Verb == operation.Drive
	}, nil},
	{"demo-u6", "groans at full lock", "lower-ball-joint", "FL", func(*job.State, *plan.Step) bool { return false }, nil},
}

// bayWork is a job of busy: what it ends with is done at the step its hand stops at.
type bayWork struct {
	vehicle, says, operation string
	corner                   vehicle.Corner
	stop                     func(*job.State, *plan.Step) bool
	ends                     job.Command
}

func (b bayWork) begin(ctx context.Context, s *shop.Shop, now time.Time, i int) error {
	k := slices.IndexFunc(fleet, func(v vehicle.Vehicle) bool { return v.ID == b.vehicle })
	id := fmt.Sprintf("demo-busy-%d", i+1)
	h := Hand{Shop: s, Lib: s.Library(), By: People[i%2].Name, Now: now.Add(-100 * time.Minute)}
	task := plan.Task{Operation: b.operation, Corner: b.corner}
	if err := h.Start(ctx, id, fleet[k], b.says, odometerOf(fleet[k]).km, task); err != nil {
		return err
	}
	if err := h.Work(ctx, id, b.stop); err != nil {
		return err
	}
	st, err := s.Job(ctx, id)
	if err != nil {
		return err
	}
	step := st.Plan.Step(st.Next())
	switch end := b.ends.(type) {
	case job.ReportTrouble:
		end.Step, end.Letter = step.ID, st.Current(step)
		return h.Do(ctx, id, end)
	case nil:
		if step != nil && step.Verb == operation.Soak { // it soaks now
			h.Now = now.Add(-2 * time.Minute)
			return h.Do(ctx, id, job.KeepStep{Step: step.ID})
		}
	}
	return nil
}

// work does the visit from its complaint to the signature. A job whose gates stay open, as where a figure has no
// source, is left to another shop: it is not begun.
func (x visit) work(ctx context.Context, s *shop.Shop, now time.Time, n int, rng *rand.Rand, worn linings) error {
	lib, v := s.Library(), fleet[x.vehicle]
	made, err := lib.Plan(v.Pattern, library.Ask{Tasks: x.tasks})
	if err != nil || slices.ContainsFunc(made.Joints, func(j plan.Joint) bool { return j.Source == "" }) {
		return err
	}
	day := now.AddDate(0, 0, -x.day)
	day = time.Date(day.Year(), day.Month(), day.Day(), 7+rng.IntN(5), rng.IntN(60), 0, 0, day.Location())
	h := Hand{Shop: s, Lib: lib, By: People[n%2].Name, Now: day, rng: rng}
	id := fmt.Sprintf("demo-past-%03d", n+1)
	km := odometerOf(v).before(x.day)
	start := job.Start{Job: id, Vehicle: v, Complaint: x.says, OdometerKM: km, Plan: made, House: lib.House()}
	if err := h.record(ctx, id, record.EventID("start:"+id), start); err != nil {
		return err
	}
	for _, c := range worn.looked(x, lib) {
		if err := h.Do(ctx, id, c); err != nil {
			return err
		}
	}
	if err := h.asked(ctx, id, x, rand.New(rand.NewPCG(pastDays, uint64(n)))); err != nil {
		return err
	}
	if err := h.Work(ctx, id, func(*job.State, *plan.Step) bool { return false }); err != nil {
		return err
	}
	if err := h.passOver(ctx, id); err != nil {
		return err
	}
	if err := h.Do(ctx, id, job.Sign{}); err != nil {
		return err
	}
	worn.renewed(x)
	return h.settle(ctx, id, x)
}

// linings are how the pool's brakes wear: where each corner's lining was new last, by vehicle and corner.
type linings map[string]int // km

// newLining is how thick one is new, mm, and how thick those of the pool were when its record began.
const (
	newLining = 11.0
	oldLining = 9.4
)

// at is the lining of a corner on the day of a visit, mm: worn evenly with the distance, the rear ones half as fast.
func (l linings) at(x visit, c vehicle.Corner) float64 {
	o := odometerOf(fleet[x.vehicle])
	each := 1.05 + 0.25*float64((x.vehicle+int(c[1]))%4) // mm in ten thousand km
	if c[0] == 'R' {
		each *= 0.45
	}
	was, from := oldLining-0.35*float64(x.vehicle%5), o.before(pastDays)
	if km, renewed := l[fleet[x.vehicle].ID+string(c)]; renewed {
		was, from = newLining, km
	}
	return math.Round(10*math.Max(was-each*float64(o.before(x.day)-from)/10_000, 1.8)) / 10
}

// renewed notes what a visit put in.
func (l linings) renewed(x visit) {
	for _, t := range x.tasks {
		if t.Operation == "pads-rotors" || t.Operation == "drum-brakes" {
			l[fleet[x.vehicle].ID+string(t.Corner)] = odometerOf(fleet[x.vehicle]).before(x.day)
		}
	}
}

// looked is what is measured as a vehicle comes in: the lining at every wheel.
func (l linings) looked(x visit, lib *library.Library) []job.Command {
	rule, err := lib.Limits.LiningRule("", "hydraulic")
	if err != nil {
		return nil
	}
	var out []job.Command
	for _, c := range []vehicle.Corner{"FL", "FR", "RL", "RR"} {
		out = append(out, job.Measure{Limit: rule.Measure(), Corner: string(c), Value: l.at(x, c)})
	}
	return out
}

// settle closes what a signed job left to look at again, some days and kilometres later; the last ones are still
// owed.
func (h *Hand) settle(ctx context.Context, id string, x visit) error {
	if x.day < stillOwed {
		return nil
	}
	st, err := h.Shop.Job(ctx, id)
	if err != nil {
		return err
	}
	h.Now = h.Now.AddDate(0, 0, 6)
	for _, d := range st.Dues() {
		done := job.CloseFollowUp{No: d.No, OdometerKM: st.OdometerKM + max(120, d.KM), Found: "120 N·m, none moved"}
		if d.Aligns() {
			done.Sheet = "FL, toe, 0.22, 0.08\nFR, toe, 0.19, 0.08"
		}
		if err := h.Do(ctx, id, done); err != nil {
			return err
		}
	}
	return nil
}

// How often a hand of the past finds no room for a torque wrench, and takes a picture before it opens something.
const (
	noRoom = 0.004
	shown  = 0.02
)

// shows takes a picture of how it is, now and then, before a step opens it.
func (h *Hand) shows(ctx context.Context, id string, st *job.State, step *plan.Step) error {
	if h.rng == nil || step.Corner == "" || st.Opens(step) == "" || h.rng.Float64() > shown {
		return nil
	}
	picture, err := photograph(h.rng)
	if err != nil {
		return err
	}
	return h.Do(ctx, id, job.Photograph{Step: step.ID, Photo: picture})
}

// passOver has two people sign for what could not be measured.
func (h *Hand) passOver(ctx context.Context, id string) error {
	st, err := h.Shop.Job(ctx, id)
	if err != nil {
		return err
	}
	for _, g := range st.Gates() {
		if g.Met || !g.Passable {
			continue
		}
		c := job.Deviate{Gate: g.Key, Reason: "tightened by feel and marked; no torque wrench goes on there"}
		if err := h.Do(ctx, id, c); err != nil {
			return fmt.Errorf("%s: %w", g.Title, err)
		}
	}
	return nil
}

// stillOwed is from how many days ago on what was left to look at again is still owed.
const stillOwed = 17

// stuck is what a hand meets now and then at a joint that seizes: penetrant and a tap first, and it comes; the shop's
// ladder learns from it. The rest is left to its walk.
func (h *Hand) stuck(ctx context.Context, id string, st *job.State, step *plan.Step) (bool, error) {
	j := st.Plan.Joint(step.Joint)
	if h.rng == nil || step.Verb != operation.Crack || j == nil || !j.Seizes || h.rng.Float64() > 0.16 {
		return false, nil
	}
	if slices.ContainsFunc(st.Troubles, func(t job.Trouble) bool { return t.Joint == j.ID }) {
		return false, nil
	}
	report := job.ReportTrouble{Step: step.ID, Letter: st.Current(step), Code: job.Stuck}
	if err := h.Do(ctx, id, report); err != nil {
		return false, err
	}
	kind := h.Lib.Release.Kinds[0].Name
	for tries := range 5 {
		st, err := h.Shop.Job(ctx, id)
		if err != nil {
			return false, err
		}
		open := st.OpenTroubles()
		if len(open) == 0 {
			return true, nil
		}
		t := st.Trouble(open[len(open)-1].ID)
		ladder, err := h.Lib.Release.Climb(t.Case(kind, nil, nil, nil))
		if err != nil {
			return false, err
		}
		rung := ladder.Rungs[0]
		h.Now = h.Now.Add(time.Duration(rung.Minutes * float64(time.Minute)))
		try := job.TryRelease{Know: &h.Lib.Release, Trouble: t.ID, Seizure: kind, Kept: true, Rung: rung.Key,
			Outcome: job.Held}
		if tries == 4 || h.rng.Float64() < rung.Odds {
			try.Outcome = job.Freed
		}
		if err := h.Do(ctx, id, try); err != nil {
			return false, err
		}
	}
	return true, nil
}
