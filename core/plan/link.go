package plan

import (
	"slices"

	"lugtak/core/fact"
)

// asFound is the maker of what is so from the beginning.
const asFound = -1

// link is a want whose maker is not chosen yet.
type link struct {
	by     int // the step that wants
	want   int // of its wants
	makers []int
}

// either is a choice of order: a before b, or c before d.
type either struct{ a, b, c, d int }

// linker finds for every want what makes it, so that no step between the two undoes it.
type linker struct {
	nodes  []node
	makers map[fact.Fact][]maker
	rest   func(fact.Fact) fact.Value
	tries  int            // left
	failed map[[2]int]int // how often a want of a step could not be served
}

// maker is a step and what it makes of the fact at hand.
type maker struct {
	step  int
	value fact.Value
}

// knot is why no order was found: a step that wants what nothing can make in time.
type knot struct {
	by   int
	want fact.Want
	// between is a step that undoes it, where there is one.
	between int
}

// The choices tried before the search begins anew, each time half as many again, and how often it does. A plan that
// needs more hangs together wrongly.
const (
	firstTries = 300
	restarts   = 7
)

func newLinker(nodes []node, rest func(fact.Fact) fact.Value) *linker {
	l := &linker{nodes: nodes, makers: map[fact.Fact][]maker{}, rest: rest, failed: map[[2]int]int{}}
	for i := range nodes {
		for _, m := range nodes[i].Makes {
			l.makers[m.Fact] = append(l.makers[m.Fact], maker{i, m.Value})
		}
	}
	return l
}

// links lists the wants somebody touches. What nobody makes otherwise is so throughout.
func (l *linker) links() []link {
	var out []link
	for i := range l.nodes {
		if l.nodes[i].done {
			continue
		}
		for k, w := range l.nodes[i].Wants {
			touched := l.makers[w.Fact]
			rest := w.Values.Has(l.rest(w.Fact))
			if rest && !slices.ContainsFunc(touched, func(m maker) bool { return m.step != i && !w.Values.Has(m.value) }) {
				continue
			}
			x := link{by: i, want: k}
			if rest {
				x.makers = append(x.makers, asFound)
			}
			own := l.nodes[i].own[k]
			for _, m := range touched {
				if m.step != i && w.Values.Has(m.value) && (own == 0 || m.step == own-1) {
					x.makers = append(x.makers, m.step)
				}
			}
			out = append(out, x)
		}
	}
	return out
}

// prefer puts the likeliest maker first: what opens and measures wants things as they
// were found, what puts back wants them restored.
func (l *linker) prefer(g *net, x link) []int {
	late := l.nodes[x.by].late
	before := func(p int) int { // how many of the others are known to come before it
		n := 0
		for _, q := range x.makers {
			if q != p && p != asFound && (q == asFound || g.less(q, p)) {
				n++
			}
		}
		return n
	}
	out := slices.Clone(x.makers)
	slices.SortStableFunc(out, func(a, b int) int {
		if late {
			return before(b) - before(a)
		}
		return before(a) - before(b)
	})
	return out
}

// search solves, and where a choice made early was wrong begins anew with the wants that failed most (Boussemart and
// others, Boosting systematic search by weighting constraints, ECAI 2004).
func (l *linker) search(g *net, links []link, open []either) (*net, *knot) {
	links = slices.Clone(links)
	var last *knot
	for i, tries := 0, firstTries; i < restarts; i, tries = i+1, tries*3/2 {
		l.tries = tries
		done, k := l.solve(g.clone(), links, open)
		if k == nil {
			return done, nil
		}
		if last = k; l.tries > 0 {
			break // all was tried
		}
		slices.SortStableFunc(links, func(a, b link) int {
			return l.failed[[2]int{b.by, b.want}] - l.failed[[2]int{a.by, a.want}]
		})
	}
	return nil, last
}

// solve chooses makers and orders until every want is served. It gives the net, or the
// knot that could not be undone.
func (l *linker) solve(g *net, links []link, open []either) (*net, *knot) {
	links, open = slices.Clone(links), slices.Clone(open)
	for again := true; again; {
		again = false
		var k *knot
		if links, open, again, k = l.forced(g, links, open); k != nil {
			return nil, k
		}
	}
	if len(links) > 0 {
		return l.choose(g, links, open)
	}
	if len(open) > 0 {
		return l.part(g, open)
	}
	return g, nil
}

// forced settles what can be only one way.
func (l *linker) forced(g *net, links []link, open []either) ([]link, []either, bool, *knot) {
	did := false
	left := links[:0]
	for _, x := range links {
		can := make([]int, 0, len(x.makers))
		for _, p := range x.makers {
			if l.possible(g, x, p) {
				can = append(can, p)
			}
		}
		switch len(can) {
		case 0:
			return nil, nil, false, l.knot(g, x)
		case 1:
			more, ok := l.commit(g, x, can[0])
			if !ok {
				return nil, nil, false, l.knot(g, x)
			}
			open = append(open, more...)
			did = true
		default:
			x.makers = can
			left = append(left, x)
		}
	}
	rest := open[:0]
	for _, e := range open {
		first, second := !g.less(e.b, e.a), !g.less(e.d, e.c)
		switch {
		case g.less(e.a, e.b) || g.less(e.c, e.d):
		case first && second:
			rest = append(rest, e)
		case first && g.add(e.a, e.b), second && g.add(e.c, e.d):
			did = true
		default:
			return nil, nil, false, &knot{by: e.c, between: e.d}
		}
	}
	return left, rest, did, nil
}

// choose tries the makers of the first open want in turn.
func (l *linker) choose(g *net, links []link, open []either) (*net, *knot) {
	x := links[0]
	var last *knot
	for _, p := range l.prefer(g, x) {
		if l.tries--; l.tries <= 0 {
			break
		}
		trial := g.clone()
		more, ok := l.commit(trial, x, p)
		if !ok {
			last = l.knot(g, x)
			continue
		}
		done, k := l.solve(trial, links[1:], slices.Concat(open, more))
		if k == nil {
			return done, nil
		}
		last = k
	}
	if last == nil {
		last = l.knot(g, x)
	}
	return nil, last
}

// part settles one open order, the one of the file first.
func (l *linker) part(g *net, open []either) (*net, *knot) {
	e := open[0]
	ways := [][2]int{{e.a, e.b}, {e.c, e.d}}
	if e.a > e.d {
		slices.Reverse(ways)
	}
	var last *knot
	for _, w := range ways {
		if l.tries--; l.tries <= 0 {
			break
		}
		trial := g.clone()
		if !trial.add(w[0], w[1]) {
			continue
		}
		done, k := l.solve(trial, nil, open[1:])
		if k == nil {
			return done, nil
		}
		last = k
	}
	if last == nil {
		last = &knot{by: e.c, between: e.d}
	}
	return nil, last
}

// possible says that a maker may still serve a want.
func (l *linker) possible(g *net, x link, p int) bool {
	if p != asFound && g.less(x.by, p) {
		return false
	}
	return !l.between(x, p, func(t int) bool {
		return g.less(t, x.by) && (p == asFound || g.less(p, t))
	})
}

// between says that a step undoing the want holds as told.
func (l *linker) between(x link, p int, is func(int) bool) bool {
	w := l.nodes[x.by].Wants[x.want]
	for _, m := range l.makers[w.Fact] {
		if m.step != x.by && m.step != p && !w.Values.Has(m.value) && is(m.step) {
			return true
		}
	}
	return false
}

// commit lets p serve the want: before it, and all who undo it elsewhere. Where they may
// go on either side, that stays open.
func (l *linker) commit(g *net, x link, p int) (open []either, ok bool) {
	if p != asFound && !g.add(p, x.by) {
		return nil, false
	}
	bad := l.between(x, p, func(t int) bool {
		switch {
		case p == asFound || g.less(p, t):
			return !g.add(x.by, t)
		case g.less(t, x.by):
			return !g.add(t, p)
		case g.less(x.by, t) || g.less(t, p):
			return false
		}
		open = append(open, either{t, p, x.by, t})
		return false
	})
	return open, !bad
}

func (l *linker) knot(g *net, x link) *knot {
	l.failed[[2]int{x.by, x.want}]++
	k := &knot{by: x.by, want: l.nodes[x.by].Wants[x.want], between: asFound}
	l.between(x, asFound, func(t int) bool {
		if g.less(t, x.by) {
			k.between = t
		}
		return false
	})
	return k
}
