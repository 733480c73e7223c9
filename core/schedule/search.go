package schedule

import (
	"cmp"
	"math"
	"math/rand/v2"
	"slices"
)

// beam follows the most promising orders, step by step. On a long plan it looks
// at few children of few orders: those that begin soonest with least change and
// have the longest way before them.
func (s *solver) beam(root *state, wide int) *state {
	children, alike := math.MaxInt, max(1, wide/25)
	if len(s.Steps) > shortPlan {
		wide, children, alike = 5, 4, 1
	}
	type child struct {
		of           *state
		i, k         int
		start, spent float64
	}
	front := []*state{root}
	for range s.hands {
		var next []*state
		for _, st := range front {
			var all []child
			for i, x := range s.Steps {
				if !x.Hands || !math.IsNaN(st.end[i]) {
					continue
				}
				for k := range st.hands {
					if start, ok := s.start(st, i, k); ok {
						all = append(all, child{st, i, k, start, start - st.hands[k].free})
					}
				}
			}
			if len(all) > children {
				slices.SortFunc(all, func(a, b child) int {
					return cmp.Or(cmp.Compare(a.spent, b.spent), cmp.Compare(a.start, b.start),
						cmp.Compare(s.tail[b.i], s.tail[a.i]), a.i-b.i)
				})
				all = all[:children]
			}
			for _, c := range all {
				next = append(next, s.place(c.of, c.i, c.k, c.start))
			}
		}
		slices.SortStableFunc(next, func(a, b *state) int {
			return cmp.Or(cmp.Compare(a.bound, b.bound), cmp.Compare(busy(a), busy(b)), cmp.Compare(a.last, b.last))
		})
		front = front[:0]
		seen := map[string]int{}
		for _, st := range next {
			if len(front) == wide {
				break
			}
			if k := s.key(st); seen[k] < alike {
				seen[k]++
				front = append(front, st)
			}
		}
	}
	return front[0]
}

func busy(st *state) float64 {
	sum := 0.0
	for _, h := range st.hands {
		sum += h.free
	}
	return sum
}

// key names the steps placed and what the hands hold.
func (s *solver) key(st *state) string {
	b := make([]byte, 0, len(s.Steps)/8+12)
	var bits byte
	for i := range st.end {
		bits <<= 1
		if !math.IsNaN(st.end[i]) {
			bits |= 1
		}
		if i%8 == 7 {
			b = append(b, bits)
			bits = 0
		}
	}
	b = append(b, bits)
	for _, h := range st.hands {
		b = append(b, byte(h.tool), byte(h.tool>>8), byte(h.side))
	}
	b = append(b, byte(st.lift.at))
	return string(b)
}

// exact tries every order worth trying.
type exact struct {
	s     *solver
	best  *state
	seen  map[string][][]float64
	nodes int
}

// search says whether it got through; best is then the shortest order there is.
func (e *exact) search(st *state) bool {
	if e.nodes++; e.nodes > exactNodes {
		return false
	}
	const eps = 1e-9
	if st.left == 0 {
		if st.span < e.best.span-eps {
			e.best = st
		}
		return true
	}
	if st.bound >= e.best.span-eps || e.dominated(st) {
		return true
	}
	var next []*state
	for i, x := range e.s.Steps {
		if !x.Hands || !math.IsNaN(st.end[i]) {
			continue
		}
		for k := range st.hands {
			// Orders are tried by their starts, so that each is met once.
			if start, ok := e.s.start(st, i, k); ok && start >= st.last-eps {
				next = append(next, e.s.place(st, i, k, start))
			}
		}
	}
	slices.SortStableFunc(next, func(a, b *state) int {
		return cmp.Or(cmp.Compare(a.bound, b.bound), cmp.Compare(busy(a), busy(b)))
	})
	through := true
	for _, n := range next {
		through = e.search(n) && through
	}
	return through
}

// dominated: another order placed the same steps, left the hands with the same
// things, and was nowhere later.
func (e *exact) dominated(st *state) bool {
	v := make([]float64, 0, len(st.end)+len(st.held)+len(st.hands)+4)
	for _, h := range st.hands {
		v = append(v, h.free)
	}
	v = append(v, st.held...)
	v = append(v, st.lift.since, st.lift.busy)
	for i, t := range st.end {
		if math.IsNaN(t) {
			continue
		}
		for _, j := range e.s.after[i] {
			if math.IsNaN(st.end[j]) { // only what is still waited for matters
				v = append(v, t)
				break
			}
		}
	}
	v = append(v, st.last, st.span)
	key := e.s.key(st)
	for _, o := range e.seen[key] {
		later := false
		for i := range v {
			if o[i] > v[i]+1e-9 {
				later = true
				break
			}
		}
		if !later {
			return true
		}
	}
	e.seen[key] = append(e.seen[key], v)
	return false
}

// tries bounds the orders improve looks at: on a short plan it goes on from where the
// single moves end, on a long one they are all there is time for.
const (
	tries      = 4000
	triesShort = 9000
	restless   = 80 // steps: up to here it is shaken and improved again
	shakes     = 6  // moves of a shake
)

// improver moves steps of an order to and fro as long as that helps.
type improver struct {
	*solver
	best *state
	who  []int8 // by step, the technician asked for; -1 is whoever begins first
	left int
}

func better(a, b *state) bool {
	return a != nil && (a.span < b.span-1e-9 || a.span < b.span+1e-9 && busy(a) < busy(b)-1e-9)
}

// improve begins with the better of an order and that of the list itself.
func (s *solver) improve(best *state) *state {
	var listed []int32
	who := make([]int8, len(s.Steps))
	for i, x := range s.Steps {
		who[i] = -1
		if x.Hands {
			listed = append(listed, int32(i))
		}
	}
	m := improver{solver: s, best: best, who: who, left: tries}
	if st := s.decode(listed, who); better(st, best) {
		m.best = st
	}
	m.best = m.descend(m.best, who)
	if len(listed) > restless {
		return m.best
	}
	m.left += triesShort - tries
	for rng := rand.New(rand.NewPCG(uint64(len(listed)), 1)); m.left > 0; {
		seq, w := m.shake(rng)
		m.left--
		if st := s.decode(seq, w); st != nil {
			if st = m.descend(st, w); better(st, m.best) {
				m.best = st
				m.who = w
			}
		}
	}
	return m.best
}

// shake makes a few moves that nobody asked for, and gives steps to the other hand.
func (m *improver) shake(rng *rand.Rand) ([]int32, []int8) {
	seq, who := slices.Clone(m.best.seq), slices.Clone(m.who)
	for range shakes {
		from, to := rng.IntN(len(seq)), rng.IntN(len(seq))
		if from != to && !m.against(seq, from, to) {
			x := seq[from]
			seq = slices.Insert(slices.Delete(seq, from, from+1), to, x)
		}
		if m.Technicians > 1 {
			who[seq[from]] = int8(rng.IntN(m.Technicians+1)) - 1
		}
	}
	return seq, who
}

// descend moves single steps as long as that helps.
func (m *improver) descend(best *state, who []int8) *state {
	for again := true; again && m.left > 0; {
		again = false
		for from := 0; from < len(best.seq) && m.left > 0; from++ {
			for _, by := range []int{-1, 1, -2, 2, -3, 3, -5, 5, -8, 8, -13, 13, -21, 21} {
				to := from + by
				if to < 0 || to >= len(best.seq) || m.against(best.seq, from, to) {
					continue
				}
				seq := slices.Delete(slices.Clone(best.seq), from, from+1)
				seq = slices.Insert(seq, to, best.seq[from])
				m.left--
				if st := m.decode(seq, who); better(st, best) {
					best, again = st, true
					break
				}
			}
		}
	}
	return best
}

// against says that moving a step would take it past one it needs or that needs it.
func (s *solver) against(seq []int32, from, to int) bool {
	i := int(seq[from])
	for k := min(from, to); k <= max(from, to); k++ {
		j := int(seq[k])
		if k != from && (to < from && slices.Contains(s.needs[i], j) || to > from && slices.Contains(s.needs[j], i)) {
			return true
		}
	}
	return false
}

// decode places steps in a given order, each with the technician asked for, else with
// the one who begins it first; nil where the order runs against a need.
func (s *solver) decode(seq []int32, asked []int8) *state {
	st := s.fresh()
	st.seq, st.who = make([]int32, 0, len(seq)), make([]int8, 0, len(seq))
	for _, n := range seq {
		i, who, at := int(n), -1, math.Inf(1)
		for k := range st.hands {
			if asked[i] >= 0 && int(asked[i]) != k {
				continue
			}
			if start, ok := s.start(st, i, k); ok && start < at-1e-9 {
				who, at = k, start
			}
		}
		if who < 0 {
			return nil
		}
		s.take(st, i, who, at)
		st.seq = append(st.seq, n)
		st.who = append(st.who, int8(who))
		s.follow(st, i)
	}
	return st
}

// follow starts what runs by itself behind one step.
func (s *solver) follow(st *state, i int) {
	for _, j := range s.after[i] {
		if s.Steps[j].Hands || !math.IsNaN(st.end[j]) {
			continue
		}
		if ready, ok := s.ready(st, j); ok {
			st.end[j] = ready + s.Steps[j].Minutes
			st.span = math.Max(st.span, st.end[j])
			s.follow(st, j)
		}
	}
}
