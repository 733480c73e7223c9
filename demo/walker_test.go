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
	"lugtak/core/thread"
	"lugtak/core/vehicle"
	"lugtak/library"
)

var walks = flag.Int("walks", 60, "seeded jobs the walker works")

// walker works a job without a shop file, and lets things happen on the way.
type walker struct {
	t       *testing.T
	rng     *rand.Rand
	lib     *library.Library
	pattern vehicle.Pattern
	hand    Hand
	st      *job.State
	journal []job.Event
	n       int
	seen    map[string]int // what happened, and how often
}

func (w *walker) do(c job.Command) error {
	w.n++
	w.hand.Now = w.hand.Now.Add(2 * time.Minute)
	m := job.Meta{ID: fmt.Sprint("e", w.n), By: w.hand.By, Role: job.Technician, At: w.hand.Now}
	if w.n == 1 {
		m.ID = "start:walk"
	}
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
	switch w.rng.IntN(9) {
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
		try := job.TryRelease{Know: &w.lib.Release, Trouble: id, Seizure: kind, Rung: rung.Key, Outcome: job.Held}
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
		if step == nil {
			return
		}
		if w.rng.IntN(14) == 0 && w.n < 600 {
			w.happens(step)
			continue
		}
		for _, c := range w.hand.Next(w.st, step) {
			if err := w.do(c); err != nil {
				w.t.Fatalf("%s %v, at %s: %v", w.pattern.ID, w.st.Plan.Tasks, step.ID, err)
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
		if !g.Met && g.Key[:min(7, len(g.Key))] != "source:" {
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
	lib, err := library.Load("")
	if err != nil {
		t.Fatal(err)
	}
	seen := map[string]int{}
	for seed := range uint64(*walks) {
		rng := rand.New(rand.NewPCG(seed, 1126))
		p := lib.Patterns[rng.IntN(len(lib.Patterns))]
		offers := lib.Offers(p)
		var tasks []plan.Task
		for range 1 + rng.IntN(3) {
			if x := offers[rng.IntN(len(offers))]; !slices.Contains(tasks, x) {
				tasks = append(tasks, x)
			}
		}
		made, err := lib.Compile(p, library.Ask{Tasks: tasks})
		if err != nil {
			t.Fatalf("%s %v: %v", p.ID, tasks, err)
		}
		seen["sheared in this job"] = 0
		w := walker{t: t, rng: rng, lib: lib, pattern: p, st: job.Replay(nil), seen: seen}
		w.hand = Hand{Lib: lib, By: People[0].Name, Now: now}
		w.must(job.Start{
			Job:        "walk",
			House:      lib.House(),
			Vehicle:    vehicle.Vehicle{ID: "v", Fleet: "X", Pattern: p.ID},
			Complaint:  "all of it",
			OdometerKM: 1,
			Plan:       made,
		})
		w.work()
		w.ended()
		if t.Failed() {
			t.Fatalf("seed %d", seed)
		}
	}
	t.Log(seen)
	for _, what := range []string{"later", "moved", "sheared", "stuck", job.Freed, job.Held, "hands", "handed over", "reworked", "treated"} {
		if seen[what] == 0 {
			t.Errorf("never %s in %d jobs", what, *walks)
		}
	}
}
