package plan

import (
	"math/bits"
	"slices"
)

// net is a partial order of steps, kept closed: what comes before what is one look.
type net struct {
	n, words int
	after    []uint64 // row by row: the steps known to come after this one
	before   []uint64
}

func newNet(n int) *net {
	w := (n + 63) / 64
	return &net{n: n, words: w, after: make([]uint64, n*w), before: make([]uint64, n*w)}
}

func (g *net) clone() *net {
	return &net{g.n, g.words, slices.Clone(g.after), slices.Clone(g.before)}
}

func (g *net) row(of []uint64, i int) []uint64 { return of[i*g.words : (i+1)*g.words] }

// less says that a is known to come before b.
func (g *net) less(a, b int) bool {
	return g.after[a*g.words+b/64]>>(b%64)&1 == 1
}

// add puts a before b; false where b already comes before a.
func (g *net) add(a, b int) bool {
	if a == b || g.less(b, a) {
		return false
	}
	if g.less(a, b) {
		return true
	}
	down := slices.Clone(g.row(g.after, b))
	down[b/64] |= 1 << (b % 64)
	up := slices.Clone(g.row(g.before, a))
	up[a/64] |= 1 << (a % 64)
	g.each(up, func(i int) { join(g.row(g.after, i), down) })
	g.each(down, func(i int) { join(g.row(g.before, i), up) })
	return true
}

func join(to, from []uint64) {
	for k, w := range from {
		to[k] |= w
	}
}

func (g *net) each(set []uint64, do func(int)) {
	for k, w := range set {
		for ; w != 0; w &= w - 1 {
			do(k*64 + bits.TrailingZeros64(w))
		}
	}
}

// direct lists the steps that come before i with nothing in between.
func (g *net) direct(i int) []int {
	var out []int
	g.each(g.row(g.before, i), func(a int) {
		for k, w := range g.row(g.after, a) {
			if w&g.before[i*g.words+k] != 0 {
				return
			}
		}
		out = append(out, a)
	})
	return out
}

// sorted is an order that keeps to the net, nearest to that of the numbers, with what
// runs by itself as early as it can be.
func (g *net) sorted(early func(int) bool) []int {
	placed := make([]uint64, g.words)
	out := make([]int, 0, g.n)
	for len(out) < g.n {
		next := -1
		for i := range g.n {
			if placed[i/64]>>(i%64)&1 == 1 || !g.within(i, placed) {
				continue
			}
			if early(i) {
				next = i
				break
			}
			if next < 0 {
				next = i
			}
		}
		placed[next/64] |= 1 << (next % 64)
		out = append(out, next)
	}
	return out
}

func (g *net) within(i int, placed []uint64) bool {
	for k, w := range g.row(g.before, i) {
		if w&^placed[k] != 0 {
			return false
		}
	}
	return true
}
