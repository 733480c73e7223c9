package schedule

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"lugtak/core/fault"
)

// Costs are the minutes of a change between two hands-on steps of one technician.
type Costs struct {
	Tool, Walk, Position float64
}

// Sides says how the two sides of a vehicle are worked.
type Sides string

// Both sides in step, or one after the other.
const (
	Together Sides = "together"
	OneByOne Sides = "one_by_one"
)

// Problem is what is to be put in order.
type Problem struct {
	Steps       []Step
	Costs       Costs
	Technicians int
	Sides       Sides
}

// Placed is a step with who does it and when. Steps that run by themselves have
// technician 0.
type Placed struct {
	ID         string
	Technician int
	Start, End float64
	ToolChange bool // another tool was fetched for it
}

// Solution is an order with what it costs and the least any order can take.
type Solution struct {
	Order           []Placed
	Makespan        float64
	Bound           float64 // proved: no order is shorter
	ToolChanges     int
	Walks           int
	PositionChanges int
}

// Bounds on a problem.
const (
	MaxSteps   = 600
	exactSteps = 14      // up to here every order worth trying is tried
	exactNodes = 400_000 // unless that takes too long
	shortPlan  = 24      // steps: a beam may be wide and follow every child
)

// ground is where every vehicle stands at first; a plan calls it on its wheels.
var ground = []string{"", "ground", "on its wheels"}

// solver holds a problem with names made numbers.
type solver struct {
	Problem
	needs          [][]int
	after          [][]int // steps that need this one
	tool, side, at []int   // 0 is not said
	uses           [][]int // numbers of what a step holds
	things         int     // there are to be held
	tail           []float64
	hands          int
}

// Solve puts the steps in order. One technician does one hands-on step at a time;
// one for two people holds both; what is used is held by one step at a time; what runs
// by itself starts when its needs have ended; a change of tool, side or position between
// two consecutive hands-on steps of a technician takes its minutes, from the end of the
// one before, also while a need is waited for. The first tool and side are free. The
// vehicle starts on the ground and has one position for all: it is moved when nobody
// works in the old one any more. Up to 14
// steps the order is the best there is; beyond, a beam of orders is followed and
// the proved bound says how far it can be off. Faults name the step.
func Solve(p Problem) (Solution, error) {
	s, err := newSolver(p)
	if err != nil {
		return Solution{}, err
	}
	if s.Sides == OneByOne {
		return s.oneByOne()
	}
	return s.solve(), nil
}

func newSolver(p Problem) (*solver, error) {
	n := len(p.Steps)
	p.Technicians, p.Sides = cmp.Or(p.Technicians, 1), cmp.Or(p.Sides, Together)
	switch {
	case n == 0 || n > MaxSteps:
		return nil, fault.New(fault.OutOfRange, "steps", fmt.Sprintf("%d steps are no plan.", n),
			fmt.Sprintf("Send 1 to %d.", MaxSteps))
	case p.Technicians < 1 || p.Technicians > 2:
		return nil, fault.New(fault.OutOfRange, "technicians", "One or two technicians work on a vehicle.", "Send 1 or 2.")
	case p.Sides != Together && p.Sides != OneByOne:
		return nil, fault.New(fault.BadChoice, "sides", "The sides go together or one by one.",
			"Send together or one_by_one.")
	}
	for field, v := range map[string]float64{"tool_change_min": p.Costs.Tool, "walk_min": p.Costs.Walk,
		"position_min": p.Costs.Position} {
		if !(v >= 0 && v <= 240) {
			return nil, fault.New(fault.OutOfRange, field, "No change takes that long.", "Give minutes, 0 to 240.")
		}
	}
	s := &solver{
		Problem: p,
		needs:   make([][]int, n),
		after:   make([][]int, n),
		tool:    make([]int, n),
		side:    make([]int, n),
		at:      make([]int, n),
		uses:    make([][]int, n),
	}
	index := map[string]int{}
	for i, x := range p.Steps {
		if _, twice := index[x.ID]; twice || x.ID == "" {
			return nil, fault.New(fault.BadStep, "steps", "Two steps are named “"+x.ID+"”, or one has no name.",
				"Give each its own id.")
		}
		if !(x.Minutes >= 0 && x.Minutes <= 1e5) {
			return nil, fault.New(fault.OutOfRange, "steps", "Step “"+x.ID+"” has no such time.", "Give minutes from zero up.")
		}
		index[x.ID] = i
	}
	things := map[string]int{}
	tools, sides, places := map[string]int{"": 0}, map[string]int{"": 0}, map[string]int{"": 0}
	for _, g := range ground[1:] {
		places[g] = 1
	}
	number := func(m map[string]int, name string, from int) int {
		if _, ok := m[name]; !ok {
			m[name] = len(m) + from
		}
		return m[name]
	}
	for i, x := range p.Steps {
		s.tool[i], s.side[i], s.at[i] = number(tools, x.Tool, 1), number(sides, x.Side, 1), number(places, x.Position, 1)
		for _, u := range x.Uses {
			if _, ok := things[u]; !ok {
				things[u] = len(things)
			}
			s.uses[i] = append(s.uses[i], things[u])
		}
		if x.Hands {
			s.hands++
		}
		for _, need := range x.Needs {
			j, ok := index[need]
			if !ok {
				return nil, fault.New(fault.BadStep, "steps",
					"Step “"+x.ID+"” needs “"+need+"”, which is no step.", "Name one of the steps.")
			}
			s.link(j, i)
		}
	}
	s.things = len(things)
	return s, s.close()
}

// both says that a step holds both technicians.
func (s *solver) both(i int) bool { return s.Steps[i].People > 1 && s.Technicians > 1 }

func (s *solver) link(before, after int) {
	s.needs[after] = append(s.needs[after], before)
	s.after[before] = append(s.after[before], after)
}

// close finds rings and the longest way from each step to the end.
func (s *solver) close() error {
	n := len(s.Steps)
	s.tail = make([]float64, n)
	state := make([]int, n)
	var ring []string
	var visit func(i int) bool
	visit = func(i int) bool {
		if state[i] == 2 {
			return true
		}
		if state[i] == 1 {
			ring = append(ring, s.Steps[i].ID)
			return false
		}
		state[i] = 1
		for _, j := range s.after[i] {
			if !visit(j) {
				ring = append(ring, s.Steps[i].ID)
				return false
			}
			s.tail[i] = math.Max(s.tail[i], s.tail[j])
		}
		s.tail[i] += s.Steps[i].Minutes
		state[i] = 2
		return true
	}
	for i := range n {
		if !visit(i) {
			return fault.New(fault.BadStep, "steps",
				"These steps wait for one another in a ring: "+strings.Join(ring[:min(6, len(ring))], ", ")+".",
				"Take one of their needs away.")
		}
	}
	return nil
}

// oneByOne tries every order of the sides: the hands-on steps of one end before
// those of the next begin.
func (s *solver) oneByOne() (Solution, error) {
	bySide := map[int][]int{}
	for i, x := range s.Steps {
		if x.Hands && s.side[i] != 0 && x.Side != "both" {
			bySide[s.side[i]] = append(bySide[s.side[i]], i)
		}
	}
	var sides []int
	for k := range bySide {
		sides = append(sides, k)
	}
	slices.Sort(sides)
	if len(sides) > 4 {
		return Solution{}, fault.New(fault.OutOfRange, "steps", "A vehicle has not that many sides.",
			"Name the sides left and right.")
	}
	var best Solution
	found := false
	bound := math.Inf(1)
	for _, order := range permutations(sides) {
		t, err := newSolver(s.Problem)
		if err != nil {
			return Solution{}, err
		}
		for k := 1; k < len(order); k++ {
			for _, a := range bySide[order[k-1]] {
				for _, b := range bySide[order[k]] {
					t.link(a, b)
				}
			}
		}
		if t.close() != nil {
			continue // this order runs against a need
		}
		sol := t.solve()
		bound = math.Min(bound, sol.Bound)
		if !found || sol.Makespan < best.Makespan {
			best, found = sol, true
		}
	}
	if !found {
		return Solution{}, fault.New(fault.BadChoice, "sides",
			"The sides wait for one another: they cannot go one by one.", "Work them together.")
	}
	best.Bound = bound
	return best, nil
}

func permutations(v []int) [][]int {
	if len(v) < 2 {
		return [][]int{slices.Clone(v)}
	}
	var out [][]int
	for i := range v {
		rest := slices.Delete(slices.Clone(v), i, i+1)
		for _, p := range permutations(rest) {
			out = append(out, append([]int{v[i]}, p...))
		}
	}
	return out
}

// hand is one technician: free from a time, with tool and side.
type hand struct {
	free       float64
	tool, side int
}

// lift is how the vehicle stands: at a position since a time, worked on there until.
type lift struct {
	at          int
	since, busy float64
}

// state is an order half made.
type state struct {
	end   []float64 // of each step, NaN while not placed
	held  []float64 // until when each thing is held
	hands []hand
	lift  lift
	seq   []int32 // hands-on steps in the order placed
	who   []int8
	last  float64 // start of the step placed last
	left  int     // hands-on steps not placed
	span  float64
	bound float64
}

func (s *solver) begin() *state {
	st := s.fresh()
	st.bound = s.bound(st)
	return st
}

// fresh is a state with nothing placed but what needs nothing and runs by itself.
func (s *solver) fresh() *state {
	st := &state{
		end:   make([]float64, len(s.Steps)),
		held:  make([]float64, s.things),
		hands: make([]hand, s.Technicians),
		lift:  lift{at: 1},
		left:  s.hands,
	}
	for i := range st.end {
		st.end[i] = math.NaN()
	}
	for i, x := range s.Steps {
		if !x.Hands && len(s.needs[i]) == 0 {
			st.end[i] = x.Minutes
			st.span = math.Max(st.span, x.Minutes)
			s.follow(st, i)
		}
	}
	return st
}

func (s *solver) ready(st *state, i int) (float64, bool) {
	ready := 0.0
	for _, j := range s.needs[i] {
		if math.IsNaN(st.end[j]) {
			return 0, false
		}
		ready = math.Max(ready, st.end[j])
	}
	return ready, true
}

// change is what it takes a technician to get to a step, with the vehicle as it stands.
func (s *solver) change(h hand, at, i int) (minutes float64, tool, walk, position bool) {
	if t := s.tool[i]; t != 0 && h.tool != 0 && t != h.tool {
		tool, minutes = true, minutes+s.Costs.Tool
	}
	if d := s.side[i]; d != 0 && h.side != 0 && d != h.side {
		walk, minutes = true, minutes+s.Costs.Walk
	}
	if p := s.at[i]; p != 0 && p != at {
		position, minutes = true, minutes+s.Costs.Position
	}
	return minutes, tool, walk, position
}

// start is when technician k can begin a step whose needs are placed.
func (s *solver) start(st *state, i, k int) (float64, bool) {
	ready, ok := s.ready(st, i)
	if !ok {
		return 0, false
	}
	m, _, _, moves := s.change(st.hands[k], st.lift.at, i)
	from := math.Max(ready, st.hands[k].free+m)
	switch {
	case moves:
		from = math.Max(from, st.lift.busy+s.Costs.Position)
	case s.at[i] != 0:
		from = math.Max(from, st.lift.since)
	}
	if s.both(i) {
		from = math.Max(from, st.hands[1-k].free)
	}
	for _, u := range s.uses[i] {
		from = math.Max(from, st.held[u])
	}
	return from, true
}

// take lets technician k do a step from a time on.
func (s *solver) take(st *state, i, k int, start float64) {
	end := start + s.Steps[i].Minutes
	h := &st.hands[k]
	h.free = end
	if s.both(i) {
		st.hands[1-k].free = end
	}
	h.tool = cmp.Or(s.tool[i], h.tool)
	h.side = cmp.Or(s.side[i], h.side)
	switch p := s.at[i]; {
	case p == 0:
	case p != st.lift.at:
		st.lift = lift{at: p, since: start, busy: end}
	default:
		st.lift.busy = math.Max(st.lift.busy, end)
	}
	for _, u := range s.uses[i] {
		st.held[u] = end
	}
	st.end[i] = end
	st.span = math.Max(st.span, end)
	st.left--
}

// place gives the state with one more step.
func (s *solver) place(st *state, i, k int, start float64) *state {
	n := &state{
		end:   slices.Clone(st.end),
		held:  slices.Clone(st.held),
		hands: slices.Clone(st.hands),
		lift:  st.lift,
		seq:   append(slices.Clip(st.seq), int32(i)),
		who:   append(slices.Clip(st.who), int8(k)),
		last:  start,
		left:  st.left,
		span:  st.span,
	}
	s.take(n, i, k, start)
	s.follow(n, i)
	n.bound = s.bound(n)
	return n
}

// inOrder lists the steps with what they need before them.
func (s *solver) inOrder() []int {
	out := make([]int, 0, len(s.Steps))
	seen := make([]bool, len(s.Steps))
	var visit func(int)
	visit = func(i int) {
		if seen[i] {
			return
		}
		seen[i] = true
		for _, j := range s.needs[i] {
			visit(j)
		}
		out = append(out, i)
	}
	for i := range s.Steps {
		visit(i)
	}
	return out
}

func (s *solver) solve() Solution {
	root := s.begin()
	best := s.beam(root, 48)
	if len(s.Steps) > exactSteps {
		best = s.improve(best)
	}
	bound := math.Max(root.bound, s.clusters())
	if len(s.Steps) <= exactSteps {
		e := exact{s: s, best: best, seen: map[string][][]float64{}}
		if e.search(root) {
			bound = e.best.span
		}
		best = e.best
	}
	return s.read(best, math.Min(bound, best.span))
}

// read replays an order into times and counts.
func (s *solver) read(st *state, bound float64) Solution {
	sol := Solution{Makespan: st.span, Bound: bound}
	again := s.fresh()
	for n, i := range st.seq {
		k := int(st.who[n])
		_, tool, walk, position := s.change(again.hands[k], again.lift.at, int(i))
		sol.ToolChanges += b2i(tool)
		sol.Walks += b2i(walk)
		sol.PositionChanges += b2i(position)
		s.take(again, int(i), k, st.end[i]-s.Steps[i].Minutes)
		sol.Order = append(sol.Order, Placed{s.Steps[i].ID, k + 1, st.end[i] - s.Steps[i].Minutes, st.end[i], tool})
	}
	for i, x := range s.Steps {
		if !x.Hands {
			sol.Order = append(sol.Order, Placed{ID: x.ID, Start: st.end[i] - x.Minutes, End: st.end[i]})
		}
	}
	slices.SortStableFunc(sol.Order, func(a, b Placed) int { return cmp.Compare(a.Start, b.Start) })
	return sol
}

func b2i(b bool) int {
	if b {
		return 1
	}
	return 0
}
