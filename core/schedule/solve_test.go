package schedule

import (
	"fmt"
	"maps"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"lugtak/core/fault"
)

// random makes a problem of n steps from a seed.
func random(seed uint64, n, technicians int) Problem {
	r := rand.New(rand.NewPCG(seed, 99))
	p := Problem{
		Technicians: technicians,
		Costs:       Costs{Tool: float64(r.IntN(5)) / 2, Walk: float64(r.IntN(3)), Position: float64(r.IntN(6))},
	}
	pick := func(v ...string) string { return v[r.IntN(len(v))] }
	for i := range n {
		s := Step{
			ID:       fmt.Sprint("s", i),
			Minutes:  float64(1 + r.IntN(9)),
			Hands:    r.IntN(5) > 0,
			Tool:     pick("", "a", "b", "c"),
			Side:     pick("", "left", "right"),
			Position: pick("", "", "ground", "raised"),
			People:   r.IntN(5) / 4 * 2,
		}
		for _, u := range []string{"press", "lamp"} {
			if r.IntN(4) == 0 {
				s.Uses = append(s.Uses, u)
			}
		}
		if !s.Hands {
			s.Minutes *= 2
		}
		for j := range i {
			if r.IntN(4) == 0 {
				s.Needs = append(s.Needs, fmt.Sprint("s", j))
			}
		}
		p.Steps = append(p.Steps, s)
	}
	return p
}

// brute reckons the best makespan by trying every sequence and every technician
// for each step, by the rules as they are written, sharing nothing with the solver.
func brute(p Problem) float64 {
	type tech struct {
		free       float64
		tool, side string
	}
	type car struct {
		at          string
		since, busy float64
	}
	best := math.Inf(1)
	vehicle := car{at: "ground"}
	held := map[string]float64{}
	end := map[string]float64{}
	var try func(ts []tech, left int)
	auto := func() []string {
		var set []string
		for again := true; again; {
			again = false
			for _, s := range p.Steps {
				if _, done := end[s.ID]; s.Hands || done {
					continue
				}
				ready, ok := 0.0, true
				for _, n := range s.Needs {
					e, done := end[n]
					ready, ok = math.Max(ready, e), ok && done
				}
				if ok {
					end[s.ID] = ready + s.Minutes
					set, again = append(set, s.ID), true
				}
			}
		}
		return set
	}
	try = func(ts []tech, left int) {
		set := auto()
		if left == 0 {
			span := 0.0
			for _, e := range end {
				span = math.Max(span, e)
			}
			best = math.Min(best, span)
		}
		for _, s := range p.Steps {
			if _, done := end[s.ID]; !s.Hands || done {
				continue
			}
			ready, ok := 0.0, true
			for _, n := range s.Needs {
				e, done := end[n]
				ready, ok = math.Max(ready, e), ok && done
			}
			if !ok {
				continue
			}
			for k := range ts {
				was := ts[k]
				t := &ts[k]
				c := 0.0
				if s.Tool != "" {
					if t.tool != "" && t.tool != s.Tool {
						c += p.Costs.Tool
					}
					t.tool = s.Tool
				}
				if s.Side != "" {
					if t.side != "" && t.side != s.Side {
						c += p.Costs.Walk
					}
					t.side = s.Side
				}
				stood, kept, all := vehicle, maps.Clone(held), slices.Clone(ts)
				start := 0.0
				if moved := s.Position != "" && s.Position != vehicle.at; moved {
					c += p.Costs.Position
					start = vehicle.busy + p.Costs.Position
				} else if s.Position != "" {
					start = vehicle.since
				}
				start = math.Max(start, math.Max(ready, t.free+c))
				if s.People == 2 && len(ts) == 2 {
					start = math.Max(start, ts[1-k].free)
				}
				for _, u := range s.Uses {
					start = math.Max(start, held[u])
				}
				t.free = start + s.Minutes
				if s.People == 2 && len(ts) == 2 {
					ts[1-k].free = t.free
				}
				if s.Position != "" && s.Position != vehicle.at {
					vehicle = car{s.Position, start, t.free}
				} else if s.Position != "" {
					vehicle.busy = math.Max(vehicle.busy, t.free)
				}
				for _, u := range s.Uses {
					held[u] = t.free
				}
				end[s.ID] = t.free
				try(ts, left-1)
				delete(end, s.ID)
				copy(ts, all)
				*t = was
				vehicle, held = stood, kept
			}
		}
		for _, id := range set {
			delete(end, id)
		}
	}
	hands := 0
	for _, s := range p.Steps {
		if s.Hands {
			hands++
		}
	}
	ts := make([]tech, max(1, p.Technicians))
	try(ts, hands)
	return best
}

// replay holds an order against the rules, step by step.
func replay(t *testing.T, p Problem, s Solution) {
	t.Helper()
	end := map[string]Placed{}
	for _, x := range s.Order {
		end[x.ID] = x
	}
	if len(end) != len(p.Steps) {
		t.Fatalf("%d of %d steps placed", len(end), len(p.Steps))
	}
	last := map[int]Placed{}
	span := 0.0
	for _, x := range s.Order {
		i := slices.IndexFunc(p.Steps, func(y Step) bool { return y.ID == x.ID })
		st := p.Steps[i]
		if math.Abs(x.End-x.Start-st.Minutes) > 1e-9 {
			t.Errorf("%s takes %g", x.ID, x.End-x.Start)
		}
		for _, n := range st.Needs {
			if end[n].End > x.Start+1e-9 {
				t.Errorf("%s begins before %s ends", x.ID, n)
			}
		}
		if st.Hands {
			if l, ok := last[x.Technician]; ok && l.End > x.Start+1e-9 {
				t.Errorf("technician %d does %s and %s at once", x.Technician, l.ID, x.ID)
			}
			last[x.Technician] = x
			if st.People == 2 && p.Technicians == 2 {
				last[3-x.Technician] = x
			}
			for _, o := range s.Order {
				k := slices.IndexFunc(p.Steps, func(y Step) bool { return y.ID == o.ID })
				at := p.Steps[k]
				apart := o.End <= x.Start+1e-9 || x.End <= o.Start+1e-9
				if o.ID == x.ID || apart || !at.Hands {
					continue
				}
				if st.Position != "" && at.Position != "" && st.Position != at.Position {
					t.Errorf("%s is done %s while %s is done %s", x.ID, st.Position, o.ID, at.Position)
				}
				for _, u := range st.Uses {
					if slices.Contains(at.Uses, u) {
						t.Errorf("%s and %s both hold %s", x.ID, o.ID, u)
					}
				}
			}
		}
		span = math.Max(span, x.End)
	}
	if math.Abs(span-s.Makespan) > 1e-9 || s.Bound > s.Makespan+1e-9 {
		t.Errorf("makespan %g, said %g, bound %g", span, s.Makespan, s.Bound)
	}
}

// Every sequence tried by another program on small problems: the order found is
// the best, never better, and the bound is the same.
func TestSolveIsTheBest(t *testing.T) {
	for seed := range uint64(240) {
		n, tech := 4+int(seed%4), 1+int(seed/4%2)
		if tech == 2 {
			n = min(n, 6)
		}
		p := random(seed, n, tech)
		s, err := Solve(p)
		if err != nil {
			t.Fatal(err)
		}
		replay(t, p, s)
		if want := brute(p); math.Abs(s.Makespan-want) > 1e-9 || math.Abs(s.Bound-want) > 1e-9 {
			t.Errorf("seed %d, %d steps, %d technicians: %g, bound %g; the best is %g", seed, n, tech,
				s.Makespan, s.Bound, want)
		}
	}
}

// The search for long plans, held against the exact one on 200 problems of up to 12
// steps: within 3 %, and never shorter; the bound at the start is never above the best.
func TestSearchAgainstExact(t *testing.T) {
	worst := 1.0
	for seed := range uint64(200) {
		p := random(1000+seed, 8+int(seed%5), 1+int(seed/5%2))
		s, err := newSolver(p)
		if err != nil {
			t.Fatal(err)
		}
		root := s.begin()
		found := s.improve(s.beam(root, 48)).span
		best, _ := Solve(p)
		replay(t, p, best)
		if low := math.Max(root.bound, s.clusters()); low > best.Makespan+1e-9 || best.Bound > best.Makespan+1e-9 {
			t.Errorf("seed %d: bound %g above the best, %g", seed, low, best.Makespan)
		}
		ratio := found / best.Makespan
		worst = math.Max(worst, ratio)
		if ratio < 1-1e-9 || ratio > 1.03 {
			t.Errorf("seed %d: found %g, exact %g", seed, found, best.Makespan)
		}
	}
	t.Logf("worst %.4f", worst)
}

// Two technicians on 30 to 60 steps: within 3 % of a search apart from the solver's, which
// begins from 30 random orders and takes every single move that does not make it longer,
// cooling as it goes.
func TestTwoTechniciansAgainstAnnealing(t *testing.T) {
	worst := 1.0
	for seed := range uint64(6) {
		p := random(7000+seed, 30+6*int(seed), 2)
		sol, err := Solve(p)
		if err != nil {
			t.Fatal(err)
		}
		replay(t, p, sol)
		strong := annealed(t, p, seed)
		worst = math.Max(worst, sol.Makespan/strong)
		if sol.Makespan > 1.03*strong {
			t.Errorf("seed %d: %g, annealing finds %g", seed, sol.Makespan, strong)
		}
	}
	t.Logf("worst %.4f", worst)
}

func annealed(t *testing.T, p Problem, seed uint64) float64 {
	s, err := newSolver(p)
	if err != nil {
		t.Fatal(err)
	}
	rng := rand.New(rand.NewPCG(seed, 4))
	best := math.Inf(1)
	for range 4 {
		var seq []int32
		who := make([]int8, len(p.Steps))
		for i, x := range p.Steps {
			who[i] = -1
			if x.Hands {
				seq = append(seq, int32(i))
			}
		}
		now := s.decode(seq, who).span
		const rounds = 12000
		for n := range rounds {
			heat := 3 * float64(rounds-n) / rounds
			next, hands := slices.Clone(seq), slices.Clone(who)
			from, to := rng.IntN(len(seq)), rng.IntN(len(seq))
			if from != to && !s.against(seq, from, to) {
				next = slices.Insert(slices.Delete(next, from, from+1), to, seq[from])
			}
			if rng.IntN(2) == 0 {
				hands[rng.IntN(len(hands))] = int8(rng.IntN(3)) - 1
			}
			st := s.decode(next, hands)
			if st == nil || st.span > now && rng.Float64() > math.Exp((now-st.span)/heat) {
				continue
			}
			seq, who, now = next, hands, st.span
			best = math.Min(best, now)
		}
	}
	return best
}

// Worked by hand: a wrench that a chain of needs parts into three runs is fetched three
// times, and so is the bar between; one fetch for each tool is too little.
func TestBoundCountsRuns(t *testing.T) {
	p := Problem{Costs: Costs{Tool: 1}}
	last := ""
	for i, tool := range []string{"wrench", "bar", "wrench", "bar", "wrench"} {
		x := Step{ID: fmt.Sprint(i), Minutes: 2, Hands: true, Tool: tool}
		if last != "" {
			x.Needs = []string{last}
		}
		p.Steps = append(p.Steps, x)
		last = x.ID
	}
	s, err := newSolver(p)
	if err != nil {
		t.Fatal(err)
	}
	if got := s.clusters(); got != 14 { // five steps of two minutes, four changes
		t.Errorf("least %g", got)
	}
}

func TestSides(t *testing.T) {
	p := Problem{Costs: Costs{Tool: 2, Walk: 1}, Steps: []Step{
		{ID: "l1", Minutes: 3, Hands: true, Tool: "bar", Side: "left"},
		{ID: "l2", Minutes: 3, Hands: true, Tool: "ratchet", Side: "left", Needs: []string{"l1"}},
		{ID: "r1", Minutes: 3, Hands: true, Tool: "bar", Side: "right"},
		{ID: "r2", Minutes: 3, Hands: true, Tool: "ratchet", Side: "right", Needs: []string{"r1"}},
	}}
	together, err := Solve(p)
	if err != nil {
		t.Fatal(err)
	}
	p.Sides = OneByOne
	apart, err := Solve(p)
	if err != nil {
		t.Fatal(err)
	}
	// Together: bar, walk, bar, ratchet, walk, ratchet; apart the bar is fetched twice.
	if together.ToolChanges != 1 || apart.ToolChanges != 3 || apart.Walks != 1 || together.Makespan >= apart.Makespan {
		t.Errorf("together %+v\napart %+v", together, apart)
	}
	p.Steps[0].Needs, p.Steps[2].Needs = []string{"r2"}, nil
	p.Steps = append(p.Steps, Step{ID: "r3", Minutes: 1, Hands: true, Side: "right", Needs: []string{"l1"}})
	if _, err := Solve(p); fault.As(err) == nil || !strings.Contains(err.Error(), "wait for one another") {
		t.Errorf("sides that wait for one another: %v", err)
	}
}

func TestSolveRefuses(t *testing.T) {
	one := Step{ID: "a", Minutes: 1, Hands: true}
	for _, c := range []struct {
		p    Problem
		says string
	}{
		{Problem{}, "no plan"},
		{Problem{Steps: []Step{one, one}}, "two steps are named"},
		{Problem{Steps: []Step{{ID: "a", Minutes: -1}}}, "no such time"},
		{Problem{Steps: []Step{{ID: "a", Needs: []string{"b"}}}}, "which is no step"},
		{Problem{Steps: []Step{{ID: "a", Needs: []string{"b"}}, {ID: "b", Needs: []string{"a"}}}}, "in a ring"},
		{Problem{Steps: []Step{one}, Technicians: 3}, "one or two technicians"},
		{Problem{Steps: []Step{one}, Costs: Costs{Tool: math.NaN()}}, "no change takes that long"},
	} {
		_, err := Solve(c.p)
		if f := fault.As(err); f == nil || f.Remedy == "" || !strings.Contains(strings.ToLower(f.Detail), c.says) {
			t.Errorf("%v, want %q", err, c.says)
		}
	}
}

// Four operations on both sides: some 230 steps.
func BenchmarkSolvePlan(b *testing.B) {
	p := Problem{Costs: Costs{Tool: 0.6, Walk: 0.5, Position: 3}}
	r := rand.New(rand.NewPCG(5, 6))
	for op := range 4 {
		for _, side := range []string{"left", "right"} {
			last := ""
			for i := range 29 {
				s := Step{
					ID:       fmt.Sprint(op, side, i),
					Minutes:  1 + float64(r.IntN(5)),
					Hands:    i != 9,
					Tool:     fmt.Sprint("t", r.IntN(9)),
					Side:     side,
					Position: "raised",
				}
				if last != "" && r.IntN(3) > 0 {
					s.Needs = []string{last}
				}
				p.Steps, last = append(p.Steps, s), s.ID
			}
		}
	}
	var s Solution
	for b.Loop() {
		var err error
		if s, err = Solve(p); err != nil {
			b.Fatal(err)
		}
	}
	b.ReportMetric(s.Makespan/s.Bound, "over-bound")
}
