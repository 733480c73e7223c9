package demo

import (
	"flag"
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/recipe"
	"lugtak/core/record"
	"lugtak/core/thread"
	"lugtak/core/vehicle"
	"lugtak/demo/files"
	"lugtak/library"
)

var walks = flag.Int("walks", 60, "seeded jobs the walker works")

// walker works a job without a shop file, and lets things happen on the way.
type walker struct {
	t       *testing.T
	job     string
	rng     *rand.Rand
	lib     *library.Library
	pattern vehicle.Pattern
	hand    Hand
	st      *job.State
	journal []job.Event
	n       int
	seen    map[string]int // what happened, and how often

	sheet    vehicle.Sheet // where the shop itself began it; else empty
	readings []vehicle.Reading
}

func (w *walker) do(c job.Command) error { return w.as(job.Meta{Role: job.Technician}, c) }

// byTwo does what a second person signs for too.
func (w *walker) byTwo(c job.Command) error {
	return w.as(job.Meta{Role: job.Technician, Second: People[2].Name}, c)
}

func (w *walker) as(m job.Meta, c job.Command) error {
	w.n++
	w.hand.Now = w.hand.Now.Add(2 * time.Minute)
	m.ID = record.EventID(fmt.Sprint(w.job, "/", w.n))
	m.By = w.hand.By
	m.At = w.hand.Now
	events, err := job.Decide(w.st, m, c)
	for _, e := range events {
		w.st = job.Apply(w.st, e)
		w.journal = append(w.journal, e)
	}
	return err
}

// happens is one thing that comes between: a step put off or moved, a bolt that shears, a
// second technician, another school, a vehicle built otherwise than thought.
func (w *walker) happens(step *plan.Step) {
	switch w.rng.IntN(14) {
	case 7:
		w.left(step)
	case 8:
		w.struck()
	case 9:
		w.slackened()
	case 10:
		w.corrected()
	case 11:
		w.brought(step)
	case 12:
		w.passed()
	case 0:
		if w.do(job.Postpone{Step: step.ID}) == nil {
			w.seen["later"]++
		}
	case 1:
		steps := w.st.Plan.Steps
		from := w.rng.IntN(len(steps))
		room := w.st.Plan.Room()[from]
		behind := steps[w.rng.IntN(len(steps))].ID
		if room[1] > room[0] { // where it could stand
			behind = steps[room[0]+w.rng.IntN(room[1]-room[0])].ID
		}
		if w.do(job.MoveStep{Step: steps[from].ID, Behind: behind}) == nil {
			w.seen["moved"]++
		}
	case 2:
		letter := w.st.Current(step)
		if letter == "" || step.Verb == operation.Start || w.seen["sheared in this job"] > 2 {
			return
		}
		if w.do(job.ReportTrouble{Step: step.ID, Letter: letter, Code: job.Sheared}) == nil {
			w.seen["sheared"]++
			w.seen["sheared in this job"]++
			w.must(job.Replan{Costs: w.lib.Costs(), Rescues: w.lib.Rescues, Technicians: max(1, w.st.Plan.Technicians)})
		}
	case 6:
		w.stuck(step)
	case 3:
		if w.do(job.Replan{Costs: w.lib.Costs(), Rescues: w.lib.Rescues, Technicians: 1 + w.rng.IntN(2)}) == nil {
			w.seen["hands"]++
		}
	case 4:
		joints := w.st.Plan.Joints
		if len(joints) == 0 {
			return
		}
		other := thread.Treatments()[w.rng.IntN(len(thread.Treatments()))]
		j := joints[w.rng.IntN(len(joints))].ID
		if w.do(job.Treat{Joint: j, Treatment: string(other), Reason: "as the shop has it"}) == nil {
			w.seen["treated"]++
		}
	case 5:
		w.hand.By = People[w.rng.IntN(2)].Name
		w.seen["handed over"]++
	default:
		w.rework()
	}
}

// left leaves the fastener at hand not measured.
func (w *walker) left(step *plan.Step) {
	letter := w.st.Current(step)
	if step.Verb != operation.Tighten || letter == "" {
		return
	}
	cause := job.Causes()[w.rng.IntN(len(job.Causes()))]
	if w.do(job.LeaveUnmeasured{Step: step.ID, Joint: step.Joint, Letter: letter, Cause: cause}) == nil {
		w.seen["not measured"]++
	}
}

// struck strikes some pull of the ledger.
func (w *walker) struck() {
	if n := len(w.st.PullOrder); n > 0 {
		if w.do(job.StrikePull{Pull: w.st.PullOrder[w.rng.IntN(n)], Reason: "the wrong nut"}) == nil {
			w.seen["struck"]++
		}
	}
}

// slackened begins some fastener again.
func (w *walker) slackened() {
	var tight []*job.Fastener
	for _, j := range w.st.Plan.Joints {
		for _, l := range j.Letters {
			if f := w.st.Fastener(j.ID, l); f.Done > 0 && f.Trouble == "" {
				tight = append(tight, f)
			}
		}
	}
	if len(tight) == 0 {
		return
	}
	f := tight[w.rng.IntN(len(tight))]
	again := job.Slacken{Joint: f.Joint, Letter: f.Letter, Reason: "looked at", Renewed: w.rng.IntN(2) == 0}
	if w.do(again) == nil {
		w.seen["slackened"]++
	}
}

// corrected strikes the figure of some joint on its sheet; the job takes the new one or refuses.
func (w *walker) corrected() {
	if len(w.st.Plan.Joints) == 0 {
		return
	}
	j := w.st.Plan.Joints[w.rng.IntN(len(w.st.Plan.Joints))]
	first := w.st.Stages(j.ID)[0]
	if first.Kind != recipe.Torque || first.PlusDrag {
		return
	}
	figure := fmt.Sprintf("%.0f Nm", first.Target()*(0.9+0.2*w.rng.Float64()))
	c := vehicle.Correction{Recipe: figure, Source: "page 9", Why: "misread"}
	if len(j.Variants) > 0 || w.do(job.StrikeFigure{Joint: j.ID, Correction: c, Act: "a"}) != nil {
		return
	}
	if w.st.StruckFigure(j.ID) == nil {
		return
	}
	w.must(job.AnswerFigure{Joint: j.ID, Take: w.rng.IntN(2) == 0, Reason: "read again"})
	w.seen["figure struck"]++
}

// brought takes a reading for the fastener at hand that a hand has brought as a file.
func (w *walker) brought(step *plan.Step) {
	letter := w.st.Current(step)
	if step.Verb != operation.Tighten || letter == "" {
		return
	}
	f := w.st.Fastener(step.Joint, letter)
	stages := w.st.Stages(step.Joint)
	if f.Done >= len(stages) || stages[f.Done].Kind != recipe.Torque || stages[f.Done].PlusDrag {
		return
	}
	if t, ok := w.hand.trace(w.st, step, letter, f.Done).(job.Trace); ok {
		t.File = true
		t.Simulated = false
		if w.do(t) == nil {
			w.seen["brought"]++
		}
	}
}

// passed has a debt signed for as it is.
func (w *walker) passed() {
	owed := slices.DeleteFunc(w.st.Owed(), func(f *job.Fastener) bool { return f.Phase != job.InHand })
	if len(owed) > 0 {
		f := owed[w.rng.IntN(len(owed))]
		if w.byTwo(job.Deviate{Gate: job.GateDebt.Key(f.String()), Reason: "as it is"}) == nil {
			w.seen["passed over"]++
		}
	}
}

func (w *walker) must(c job.Command) {
	w.t.Helper()
	if err := w.do(c); err != nil {
		w.t.Fatalf("%T %+v: %v", c, c, err)
	}
}

// rework answers a question of the build, or takes another school, in the middle of it.
func (w *walker) rework() {
	ask := library.AskOf(w.st.Plan)
	ask.Done, ask.Begun = w.st.DoneSteps()
	if schools := w.st.Plan.Schools; len(schools) > 0 && w.rng.IntN(2) == 0 {
		s := schools[w.rng.IntN(len(schools))]
		ask.Ways[s.Key] = s.Ways[w.rng.IntN(len(s.Ways))].Key
	} else if builds := w.st.Plan.Builds; len(builds) > 0 {
		b := builds[w.rng.IntN(len(builds))]
		ask.Built[b.Key] = b.Answers[w.rng.IntN(len(b.Answers))].Key
	}
	made, err := w.lib.Compile(w.pattern, ask)
	if err != nil {
		w.seen["rework refused"]++
		return
	}
	if err := w.do(job.Rework{Plan: made, Why: "as it turned out"}); err != nil {
		if f := fault.As(err); f == nil || f.Field != "built" {
			w.t.Errorf("%s: %v", w.pattern.ID, err)
		}
		w.seen["too late"]++
		return
	}
	w.seen["reworked"]++
}

// stuck meets a fastener that does not move, and climbs the ladder until it is free, or
// breaks and is drilled out.
func (w *walker) stuck(step *plan.Step) {
	letter := w.st.Current(step)
	takesOut := step.Verb == operation.Crack || step.Verb == operation.Remove
	if letter == "" || !takesOut || w.do(job.ReportTrouble{Step: step.ID, Letter: letter, Code: job.Stuck}) != nil {
		return
	}
	w.seen["stuck"]++
	id := w.st.OpenTroubles()[len(w.st.OpenTroubles())-1].ID
	for {
		t := w.st.Trouble(id)
		kind := w.lib.Release.Kinds[0].Name
		l, err := w.lib.Release.Climb(t.Case(kind, nil, nil, nil))
		if err != nil {
			w.t.Fatal(err)
		}
		rung := l.Rungs[0]
		try := job.TryRelease{Know: &w.lib.Release, Trouble: id, Seizure: kind, Kept: true, Rung: rung.Key, Outcome: job.Held}
		switch chance := w.rng.Float64(); {
		case chance < rung.Odds:
			try.Outcome = job.Freed
		case chance < rung.Odds+rung.Risk:
			try.Outcome, try.Became = job.Broke, job.Sheared
		}
		w.must(try)
		w.seen[try.Outcome]++
		if try.Outcome == job.Broke {
			w.must(job.Replan{Costs: w.lib.Costs(), Rescues: w.lib.Rescues, Technicians: max(1, w.st.Plan.Technicians)})
		}
		if try.Outcome != job.Held {
			return
		}
	}
}

// clear drills out what sheared once its step is done.
func (w *walker) clear() {
	for _, t := range w.st.OpenTroubles() {
		id := operation.StepID("extract." + t.Joint + "." + t.Letter)
		if x := w.st.Plan.Step(id); x == nil || w.st.StepDone(id) {
			w.must(job.ClearTrouble{Trouble: t.ID, How: "drilled and extracted", Renewed: true})
		}
	}
}

// work goes on until nothing is left, or something cannot go on.
func (w *walker) work() {
	for range 4000 {
		w.clear()
		step := w.st.Plan.Step(w.st.Next())
		if step == nil && w.readOut() || w.says(step) {
			continue
		}
		if step == nil {
			return
		}
		if w.rng.IntN(14) == 0 && w.n < 600 {
			w.happens(step)
			continue
		}
		if step.Verb == operation.Tighten {
			before := w.st.Seq
			if w.lookUp(step); w.st.Seq != before {
				continue // the plan may have followed
			}
		}
		for _, c := range w.hand.Next(w.st, step) {
			if drive, ok := c.(job.RoadTest); ok && w.rng.IntN(4) == 0 {
				i := w.rng.IntN(len(drive.Felt))
				drive.Felt[i].Found, drive.Felt[i].Note = job.FeltLeftOut, "no time"
				w.seen["not driven"]++
			}
			if err := w.do(c); err != nil {
				w.t.Fatalf("%s, %s %v, at %s: %v", w.job, w.pattern.ID, w.st.Plan.Tasks, step.ID, err)
			}
		}
	}
	w.t.Fatalf("%s %v: no end", w.pattern.ID, w.st.Plan.Tasks)
}

// ended holds the job against what must be true when nothing is left to do.
func (w *walker) ended() {
	name := fmt.Sprint(w.pattern.ID, " ", w.st.Plan.Tasks)
	if owed := w.st.Owed(); len(owed) > 0 {
		w.t.Errorf("%s: owed %v", name, owed)
	}
	for _, g := range w.st.Gates() {
		kind, _ := job.ParseGateKey(g.Key)
		unsaid := kind == "free" && !slices.ContainsFunc(w.st.Plan.Free.Acts, func(a operation.DraftAct) bool {
			return a.Do != operation.DeedCarry
		}) // this time nothing had to be opened
		told := unsaid || kind == "source" || kind == job.GateUnmeasured || kind == "undriven" || kind == "renew" ||
			kind == "by_bolt"
		if !g.Closed() && !told {
			w.t.Errorf("%s: %s: %s", name, g.Title, g.Remedy)
		}
	}
	world := w.st.Plan.World
	for f, is := range w.st.Facts {
		may, said := world.End[f]
		if is != world.Rest[f] && !may.Has(is) && !(said && may == nil) {
			w.t.Errorf("%s: %s is left %s", name, f, is)
		}
	}
	if in := w.st.SupportsIn(); len(in) > 0 {
		w.t.Errorf("%s: left in: %v", name, in)
	}
	again := job.Replay(w.journal)
	if a, b := digest(again), digest(w.st); a != b {
		w.t.Errorf("%s: read back it is another job:\n%s\n%s", name, a, b)
	}
}

// sign passes over by two what may be, and signs; now and then the job is reopened, something is
// done over, and it is signed once more.
func (w *walker) sign() {
	for again := w.rng.IntN(4) == 0; ; again = false {
		for _, g := range w.st.Gates() {
			if !g.Closed() && g.Passable {
				over := job.Deviate{Gate: g.Key, Reason: "as it is"}
				if g.LongestMM > 0 {
					over.LengthsMM = slices.Repeat([]float64{g.LongestMM - 0.2}, g.Lengths)
				}
				if err := w.byTwo(over); err != nil {
					w.t.Fatalf("%s: %v", g.Key, err)
				}
			}
		}
		w.must(job.Sign{})
		if !again {
			return
		}
		if err := w.as(job.Meta{Role: job.Foreman}, job.Reopen{Reason: "one more look"}); err != nil {
			w.t.Fatal(err)
		}
		w.seen["reopened"]++
		w.struck()
		w.slackened()
		w.work()
	}
}

func digest(st *job.State) string {
	facts := make([]string, 0, len(st.Facts))
	for f, v := range st.Facts {
		facts = append(facts, f.String()+"="+string(v))
	}
	slices.Sort(facts)
	return fmt.Sprint(st.Seq, st.Plan.StepIDs(), facts, st.Owed(), len(st.PullOrder), st.Position)
}

// Seeded jobs with trouble, steps put off and moved, people that change and vehicles that
// turn out otherwise: no dead end, no law broken, no debt lost, and read back the same.
func TestSeededJobs(t *testing.T) {
	lib, err := library.Load("", files.FS)
	if err != nil {
		t.Fatal(err)
	}
	seen := map[string]int{}
	for seed := range uint64(*walks) {
		walk(t, lib, seed, seen)
	}
	met(t, seen, mishaps...)
}

// mishaps are what happens on the way.
var mishaps = []string{
	"later", "moved", "sheared", "stuck", job.Freed, job.Held, "hands", "handed over", "reworked", "treated",
	"not measured", "struck", "slackened", "figure struck", "brought", "passed over", "reopened", "not driven",
}

// walk works one seeded job to its signature.
func walk(t *testing.T, lib *library.Library, seed uint64, seen map[string]int) *walker {
	t.Helper()
	return walkOn(t, lib, seed, vehicle.Sheet{}, false, seen)
}

// walkOn is walk on a sheet that the shop itself began, or on one of the library where that has no id; with free work
// beside what operations know, or alone.
func walkOn(
	t *testing.T, lib *library.Library, seed uint64, own vehicle.Sheet, free bool, seen map[string]int,
) *walker {
	t.Helper()
	rng := rand.New(rand.NewPCG(seed, 1126))
	p := lib.Patterns[rng.IntN(len(lib.Patterns))]
	if own.ID != "" {
		p = lib.Grown(own)
	}
	offers := lib.Offers(p)
	var tasks []plan.Task
	for range 1 + rng.IntN(3) {
		if x := offers[rng.IntN(len(offers))]; !slices.Contains(tasks, x) {
			tasks = append(tasks, x)
		}
	}
	ask := library.Ask{Tasks: tasks}
	if free {
		ask = freely(rng, ask)
	}
	made, err := lib.Compile(p, ask)
	if err != nil {
		t.Fatalf("%s %v: %v", p.ID, ask.Tasks, err)
	}
	seen["sheared in this job"] = 0
	w := &walker{
		t:       t,
		job:     fmt.Sprint("walk-", seed),
		rng:     rng,
		lib:     lib,
		pattern: p,
		st:      job.Replay(nil),
		seen:    seen,
		sheet:   own,
	}
	w.hand = Hand{Lib: lib, By: People[0].Name, Now: now}
	w.must(job.Start{
		Job:        w.job,
		House:      lib.House(),
		Vehicle:    vehicle.Vehicle{ID: "v-" + w.job, Fleet: w.job, Pattern: p.ID, Name: p.Name},
		Complaint:  "all of it",
		OdometerKM: 1,
		Plan:       made,
	})
	w.work()
	w.ended()
	if !t.Failed() {
		w.sign()
		w.recounted()
	}
	if t.Failed() {
		t.Fatalf("seed %d", seed)
	}
	return w
}

// met says which mishaps came up, and that each of those that have to did.
func met(t *testing.T, seen map[string]int, all ...string) {
	t.Helper()
	t.Log(seen)
	for _, what := range all {
		if seen[what] == 0 {
			t.Errorf("never %s in %d jobs", what, *walks)
		}
	}
}
