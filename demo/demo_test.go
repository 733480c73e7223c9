package demo

import (
	"context"
	"maps"
	"math"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"lugtak/core/forecast"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/release"
	"lugtak/demo/files"
	"lugtak/library"
	"lugtak/shop"
	"lugtak/store"
)

var (
	ctx = context.Background()
	now = time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
)

func opened(t testing.TB) (*shop.Shop, *library.Library, string) {
	t.Helper()
	lib, err := library.Load("", files.FS)
	if err != nil {
		t.Fatal(err)
	}
	path := filepath.Join(t.TempDir(), "demo.db")
	s, err := shop.Open(ctx, path, lib, shop.Options{Demo: true})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	if err := Fill(ctx, s, now); err != nil {
		t.Fatal(err)
	}
	return s, lib, path
}

// sound says what is wrong with a shop file of so many jobs.
func sound(t *testing.T, path string, jobs int) {
	t.Helper()
	r, err := store.Check(ctx, path)
	if err != nil || !r.OK() || r.Jobs != jobs {
		t.Errorf("%+v, %v", r, err)
	}
}

func TestFill(t *testing.T) {
	s, _, path := opened(t)
	st, err := s.Job(ctx, HalfDone)
	if err != nil {
		t.Fatal(err)
	}
	if got := st.Next(); got != "front-hub-unit.knuckle-1.FL" || st.Current(st.Plan.Step(got)) != "B" {
		t.Errorf("the half-done job stands at %s, fastener %s", got, st.Current(st.Plan.Step(got)))
	}
	if len(st.Owed()) != 14 {
		t.Errorf("%d owed", len(st.Owed()))
	}
	if err := Fill(ctx, s, now); err != nil { // a second time changes nothing
		t.Fatal(err)
	}
	sound(t, path, 5)
}

// The whole front hub job, from the first step to the signature.
func TestHubJobToTheSignature(t *testing.T) {
	s, lib, path := opened(t)
	h := Hand{Shop: s, Lib: lib, By: "Technician Bel", Now: now}
	if err := h.Work(ctx, Waiting, func(*job.State, *plan.Step) bool { return false }); err != nil {
		t.Fatal(err)
	}
	st, _ := s.Job(ctx, Waiting)
	for _, g := range st.Gates() {
		if !g.Met {
			t.Errorf("open: %s", g.Title)
		}
	}
	if err := h.Do(ctx, Waiting, job.Sign{}); err != nil {
		t.Fatal(err)
	}
	for _, j := range st.Plan.Joints {
		if !strings.Contains(j.ID, ".FR.") {
			t.Errorf("joint %s on a right-hand job", j.ID)
		}
	}
	sound(t, path, 5)
}

// What a tool has pulled is counted, and alike after reopening.
func TestToolPulls(t *testing.T) {
	s, lib, path := opened(t)
	counted := func(s *shop.Shop) map[string]int {
		t.Helper()
		if _, err := s.OpenJobs(ctx); err != nil { // lists are up to date, and so are counts
			t.Fatal(err)
		}
		n, err := s.ToolPulls(ctx)
		if err != nil {
			t.Fatal(err)
		}
		return n
	}
	before := counted(s)
	h := Hand{Shop: s, Lib: lib, By: "Technician Bel", Now: now}
	st, _ := s.Job(ctx, HalfDone)
	step := st.Plan.Step("front-hub-unit.knuckle-1.FL")
	for _, c := range h.Tighten(st, step) {
		if err := h.Do(ctx, HalfDone, c); err != nil {
			t.Fatal(err)
		}
	}
	st, _ = s.Job(ctx, HalfDone)
	tool := st.Pulls[st.PullOrder[len(st.PullOrder)-1]].Tool
	along := counted(s)
	s.Close()
	again, err := shop.Open(ctx, path, lib, shop.Options{Demo: true})
	if err != nil {
		t.Fatal(err)
	}
	defer again.Close()
	read := counted(again)
	if n := before[tool] + 1; along[tool] != n || read[tool] != n || n < 2 {
		t.Errorf("%d, then %d, after reopening %d", before[tool], along[tool], read[tool])
	}
	recalled(t, again, st, tool)
}

// recalled holds that a tool found to be out is told of every job it pulled in since it was right: by its last pull
// there, on the very moment too.
func recalled(t *testing.T, s *shop.Shop, st *job.State, tool string) {
	t.Helper()
	var last time.Time
	for _, p := range st.Pulls {
		if p.Tool == tool && p.At.After(last) {
			last = p.At
		}
	}
	for since, want := range map[time.Time]bool{
		last.Add(-time.Hour): true, last: true, last.Add(time.Millisecond): false,
	} {
		jobs, err := s.JobsWith(ctx, tool, since, 0, 100)
		if err != nil {
			t.Fatal(err)
		}
		is := func(x *job.State) bool { return x.ID == st.ID }
		if got := slices.ContainsFunc(jobs, is); got != want {
			t.Errorf("pulled last at %s, out since %s: told %v", last, since, got)
		}
	}
}

// What the shop's tries came to is summed as they are made, and alike when it is summed anew.
func TestReleasePast(t *testing.T) {
	s, lib, _ := opened(t)
	h := Hand{Shop: s, Lib: lib, By: "Technician Bel", Now: now}
	cracks := func(_ *job.State, step *plan.Step) bool { return step.Verb == operation.Crack }
	if err := h.Work(ctx, Struts, cracks); err != nil {
		t.Fatal(err)
	}
	st, err := s.Job(ctx, Struts)
	if err != nil {
		t.Fatal(err)
	}
	step := st.Plan.Step(st.Next())
	if err := h.Do(ctx, Struts, job.ReportTrouble{Step: step.ID, Letter: st.Current(step), Code: job.Stuck}); err != nil {
		t.Fatal(err)
	}
	want := release.Past{}
	same := func(when string) {
		t.Helper()
		if _, err := s.OpenJobs(ctx); err != nil { // the lists have followed
			t.Fatal(err)
		}
		got, err := s.ReleasePast(ctx)
		if err != nil || len(got) != len(want) {
			t.Fatalf("%s: %v, want %v, %v", when, got, want, err)
		}
		for at, o := range want {
			// kept to three places
			same := math.Abs(got[at].Said-o.Said) < 0.001 && math.Abs(got[at].Spread-o.Spread) < 0.001
			if got[at].N != o.N || got[at].Happened != o.Happened || !same {
				t.Errorf("%s, %v: %v, want %v", when, at, got[at], o)
			}
		}
	}
	kind := lib.Release.Kinds[0].Name
	for _, outcome := range []string{job.Held, job.Held, job.Freed} {
		st, _ = s.Job(ctx, Struts)
		trouble := st.OpenTroubles()[0]
		l, err := lib.Release.Climb(trouble.Case(kind, nil, nil, nil))
		if err != nil {
			t.Fatal(err)
		}
		rung := l.Rungs[0]
		err = h.Do(ctx, Struts, job.TryRelease{
			Know:    &lib.Release,
			Trouble: trouble.ID,
			Seizure: kind,
			Kept:    true,
			Rung:    rung.Key,
			Outcome: outcome,
		})
		if err != nil {
			t.Fatal(err)
		}
		at := release.Tries{Kind: kind, Rung: rung.Key}
		o := want[at]
		o.Add(forecast.Tally{N: 1, Said: rung.Odds, Spread: rung.Odds * (1 - rung.Odds)})
		if outcome == job.Freed {
			o.Happened++
		}
		want[at] = o
		same(outcome)
	}
	if err := s.Rebuild(ctx, nil); err != nil {
		t.Fatal(err)
	}
	same("anew")
}

// What was tightened with a tool is read again from a day on, a page at a time.
func TestJobsWith(t *testing.T) {
	s, _, _ := opened(t)
	for name, c := range map[string]struct {
		since time.Time
		from  int
		want  int
	}{
		"from the beginning": {time.Time{}, 0, 1},
		"the second page":    {time.Time{}, 1, 0},
		"since a year on":    {now.AddDate(1, 0, 0), 0, 0},
	} {
		jobs, err := s.JobsWith(ctx, "wrench 2", c.since, c.from, 50)
		if err != nil || len(jobs) != c.want {
			t.Errorf("%s: %d jobs, want %d, %v", name, len(jobs), c.want, err)
		}
	}
}

// A demo is worked on to a step by its words, and says where there is none.
func TestWorkOn(t *testing.T) {
	s, _, path := opened(t)
	if err := WorkOn(ctx, s, map[string]string{HalfDone: "Road test", Waiting: "Caliper bracket bolts"}); err != nil {
		t.Fatal(err)
	}
	for id, title := range map[string]string{HalfDone: "Road test", Waiting: "Caliper bracket bolts, right"} {
		st, err := s.Job(ctx, id)
		if err != nil {
			t.Fatal(err)
		}
		if step := st.Plan.Step(st.Next()); step == nil || step.Title != title || st.Last.After(now.Add(6*time.Hour)) {
			t.Errorf("%s: %+v at %s", id, step, st.Last)
		}
	}
	if err := WorkOn(ctx, s, map[string]string{Struts: "Wings on"}); err == nil ||
		!strings.Contains(err.Error(), "Wings on") {
		t.Error(err)
	}
	sound(t, path, 5)
}

// A part that was refused stays out while the rest is planned anew for two, goes in once the right
// one has come, and the job ends at its signature.
func TestARefusedPartWaits(t *testing.T) {
	s, lib, _ := opened(t)
	if err := WorkOn(ctx, s, map[string]string{Struts: "New strut beside the old"}); err != nil {
		t.Fatal(err)
	}
	load := func() *job.State {
		t.Helper()
		st, err := s.Job(ctx, Struts)
		if err != nil {
			t.Fatal(err)
		}
		return st
	}
	st := load()
	compared := st.Plan.Step(st.Next())
	h := Hand{Shop: s, Lib: lib, By: People[1].Name, Now: st.Last.Add(time.Minute), n: st.Seq}
	do := func(c job.Command) {
		t.Helper()
		if err := h.Do(ctx, Struts, c); err != nil {
			t.Fatal(err)
		}
	}
	kind, _ := st.Plan.Compared(compared)
	right := alike(compared, kind.Kind)
	wrong := right
	wrong.Accept, wrong.New = false, maps.Clone(right.New)
	wrong.New["studs"]++
	do(wrong)
	do(job.Replan{Costs: lib.Costs(), Rescues: lib.Rescues, Technicians: 2})
	st = load()
	if st.Next() == compared.ID || st.Plan.Technicians != 2 {
		t.Errorf("next is %s, for %d", st.Next(), st.Plan.Technicians)
	}
	do(right)
	if err := h.Work(ctx, Struts, func(*job.State, *plan.Step) bool { return false }); err != nil {
		t.Fatal(err)
	}
	do(job.Sign{})
	if load().Signature == nil {
		t.Error("it is not signed")
	}
}
