package pull

import (
	"math"

	"lugtak/core/recipe"
)

// angleError is what an encoder and the play of a socket leave open, degrees (common
// practice).
const angleError = 0.7

// stopShare is how far the torque falls, as a share, where a hand stopped.
const stopShare = 0.6

// stop is where a load ended: what it came to, where the fastener stood.
type stop struct {
	at  int
	nm  float64
	deg float64
}

// stops lists the ends of loads among points of the track.
func (m *motion) stops(from, to int) []stop {
	var out []stop
	top, low := from, from
	falling := false
	for i := from; i <= to; i++ {
		if falling {
			if m.y[i] < m.y[low] {
				low = i
			}
			if m.y[i] > m.y[low]+m.loaded {
				falling = false
				top = i
			}
			continue
		}
		if m.y[i] > m.y[top] {
			top = i
		}
		if m.y[top] > m.loaded && m.y[i] < stopShare*m.y[top] {
			out = append(out, stop{top, m.y[top], m.f[top]})
			falling = true
			low = i
		}
	}
	if !falling && m.y[top] > m.loaded {
		out = append(out, stop{top, m.y[top], m.f[top]})
	}
	return out
}

// block is the trace between two turns back.
type block struct{ from, to int }

func (m *motion) blocks() []block {
	var out []block
	from := 0
	for _, b := range m.backs {
		out = append(out, block{from, b.at})
		from = b.at
	}
	return append(out, block{from, len(m.p) - 1})
}

// groups parts stages at the turns back they ask for.
func groups(stages []recipe.Stage) [][]int {
	out := [][]int{nil}
	for i, s := range stages {
		if s.Kind == recipe.BackOff {
			out = append(out, nil)
			continue
		}
		n := len(out) - 1
		out[n] = append(out[n], i)
	}
	return out
}

// reading is what the stages came to, and where the last of them was pulled.
type reading struct {
	res   []StageResult
	last  block   // where the last group was pulled
	after bool    // the fastener was turned back after it
	owed  float64 // degrees left to turn; negative is too far
	angle bool    // it ends by an angle
}

// read walks the recipe along the trace. The blocks between turns back belong to the
// groups of stages between back-offs; where there are more blocks than groups, the
// last ones count: somebody began anew.
func (m *motion) read(stages []recipe.Stage, ex Expect) reading {
	out := reading{res: make([]StageResult, len(stages))}
	for i, s := range stages {
		out.res[i] = StageResult{Kind: s.Kind, Verdict: "ok"}
	}
	gs := groups(stages)
	bs := m.blocks()
	var pulled []block
	var offs []float64 // degrees back before each
	for i, b := range bs {
		if len(m.stops(b.from, b.to)) == 0 {
			continue
		}
		deg := 0.0
		if i > 0 {
			deg = m.backs[i-1].deg
		}
		pulled = append(pulled, b)
		offs = append(offs, deg)
	}
	trailing := len(bs) > 1 && len(m.stops(bs[len(bs)-1].from, bs[len(bs)-1].to)) == 0
	endsBack := len(gs[len(gs)-1]) == 0
	out.after = trailing && !endsBack
	skip := 0
	if endsBack && trailing {
		pulled = append(pulled, bs[len(bs)-1])
		offs = append(offs, m.backs[len(m.backs)-1].deg)
	}
	if len(pulled) > len(gs) {
		skip = len(pulled) - len(gs)
	}
	missing := len(gs) - len(pulled)
	backAt := 0
	for g, stagesOf := range gs {
		if g > 0 {
			backAt = backOffBefore(stages, stagesOf, backAt)
		}
		k := g + skip
		if missing > 0 { // a back-off was left out: what there is goes to the last figures
			k = g - missing
		}
		switch {
		case k < 0 && g == 0 && len(pulled) > 0:
			k = 0
		case k < 0:
			k = 0
			out.res[backAt].Verdict = "missing"
		case g > 0 && missing > 0 && k == 0:
			out.res[backAt].Verdict = "missing"
		case g > 0 && k < len(pulled):
			m.backed(&out.res[backAt], stages[backAt], offs[k])
		}
		if len(pulled) == 0 {
			for _, i := range stagesOf {
				out.res[i].Verdict = "missing"
			}
			continue
		}
		b := pulled[min(k, len(pulled)-1)]
		owed := m.group(stages, stagesOf, out.res, b, ex)
		if g == len(gs)-1 {
			out.last = b
			out.owed = owed
		}
	}
	for i := range out.res {
		out.res[i].TorqueNm = round(out.res[i].TorqueNm)
		out.res[i].AngleDeg = round(out.res[i].AngleDeg)
	}
	if n := len(stages); n > 0 {
		k := stages[n-1].Kind
		out.angle = k == recipe.Angle || k == recipe.NextSlot
	}
	return out
}

// backOffBefore is the stage that turns back before a group.
func backOffBefore(stages []recipe.Stage, group []int, after int) int {
	to := len(stages)
	if len(group) > 0 {
		to = group[0]
	}
	for i := to - 1; i >= after; i-- {
		if stages[i].Kind == recipe.BackOff {
			return i
		}
	}
	return after
}

// halfBack is the share of an angle a turn back must reach to be one.
const halfBack = 0.5

func (m *motion) backed(r *StageResult, s recipe.Stage, deg float64) {
	r.AngleDeg = deg
	if !s.Full && deg < halfBack*s.Target() {
		r.Verdict = "missing"
	}
}

// edge is what is allowed at the edge of a torque window: the scatter of a middle.
func (m *motion) edge() float64 { return math.Min(0.5, 0.5*m.noise) }

// group reads the stages between two turns back. It gives the degrees left to turn.
func (m *motion) group(stages []recipe.Stage, ids []int, res []StageResult, b block, ex Expect) (owed float64) {
	stops := m.stops(b.from, b.to)
	at := b.from
	began := m.f[b.from]
	var angles []int
	for k, i := range ids {
		s := stages[i]
		r := &res[i]
		switch s.Kind {
		case recipe.Torque:
			rest := ids[k+1:]
			end := m.torqueEnd(stages, rest, s, stops, at, b.to, ex)
			r.TorqueNm = end.nm
			r.AngleDeg = end.deg - began
			m.judgeTorque(r, s, ex)
			at, began = end.at, end.deg
		case recipe.Angle:
			angles = append(angles, i)
		case recipe.NextSlot:
			end := m.furthest(at, b.to)
			r.AngleDeg = end.deg - began
			r.TorqueNm = end.nm
			if r.AngleDeg > slotDeg+angleError {
				r.Verdict = "long"
			}
		}
	}
	if len(angles) == 0 {
		return 0
	}
	return m.angles(stages, angles, res, began, at, b.to)
}

// slotDeg is the most a nut of six slots on a bolt with one hole goes on (geometry).
const slotDeg = 60

func (m *motion) judgeTorque(r *StageResult, s recipe.Stage, ex Expect) {
	low, high := window(s, ex)
	switch {
	case r.TorqueNm <= 0.02*s.Target():
		r.Verdict = "missing"
	case r.TorqueNm < low-m.edge():
		r.Verdict = "low"
	case r.TorqueNm > high+m.edge():
		r.Verdict = "high"
	}
}

// window is a stage's window, with the drag on top where the recipe says so.
func window(s recipe.Stage, ex Expect) (low, high float64) {
	return s.WithDrag(ex.DragNm).Window()
}

// furthest is the last place the fastener went to.
func (m *motion) furthest(from, to int) stop {
	out := stop{from, m.y[from], m.f[from]}
	for i := from; i <= to; i++ {
		if m.f[i] > out.deg {
			out.at = i
			out.deg = m.f[i]
		}
		out.nm = math.Max(out.nm, m.y[i])
	}
	return out
}

// torqueEnd finds where a torque stage ended. The last stage of a group ends at the
// highest load. One with more behind it ends at a stop inside its window; else where
// the torque passed its figure on the way; else at the highest stop below.
func (m *motion) torqueEnd(
	stages []recipe.Stage,
	rest []int,
	s recipe.Stage,
	stops []stop,
	from, to int,
	ex Expect,
) stop {
	low, high := window(s, ex)
	var after []stop
	for _, x := range stops {
		if x.at >= from {
			after = append(after, x)
		}
	}
	if len(after) == 0 {
		return stop{from, 0, m.f[from]}
	}
	top := after[0]
	for _, x := range after {
		if x.nm > top.nm {
			top = x
		}
	}
	if len(rest) == 0 {
		return top
	}
	again := stages[rest[0]].Kind == recipe.Torque
	for k, x := range after {
		inside := x.nm >= low-m.edge() && x.nm <= high+m.edge()
		if inside && (!again || k < len(after)-1) {
			return x
		}
	}
	if again && top.nm <= high+m.edge() && top.nm >= low-m.edge() {
		return top // the one round there was; the next is missing
	}
	figure := (low + high) / 2
	if math.IsInf(high, 1) || s.Form == recipe.Minimum {
		figure = low
	}
	if math.Abs(s.Target()-figure) < high-low {
		figure = s.WithDrag(ex.DragNm).Target()
	}
	if top.nm < figure {
		return top
	}
	return m.passed(stages, rest, after, figure, from, to)
}

// passed is where the torque went through a figure on its way. Where a hand stopped
// above the figure and turned the angle from there, the stop is the end of the stage:
// the reading that leaves the angle nearer to what it should be.
func (m *motion) passed(stages []recipe.Stage, rest []int, after []stop, figure float64, from, to int) stop {
	through := after[len(after)-1]
	for i := from; i <= to; i++ {
		if m.y[i] >= figure && m.y[i] > m.loaded {
			through = stop{i, figure, m.f[i]}
			break
		}
	}
	asked := 0.0
	for _, i := range rest {
		if stages[i].Kind == recipe.Angle {
			asked += stages[i].Target()
		}
	}
	if asked == 0 {
		return through
	}
	end := m.furthest(through.at, to).deg
	best, miss := through, math.Abs(end-through.deg-asked)-angleTolerance
	for _, x := range after {
		if x.at <= through.at || x.nm > overshot*figure || x.deg >= end {
			continue
		}
		if off := math.Abs(end - x.deg - asked); miss > 0 && off < miss {
			best, miss = x, off
		}
	}
	return best
}

// overshot is how far above its figure a torque stage may have been stopped and still
// have been meant, as a share.
const overshot = 1.5

// angleTolerance is what a turn by a mark may be off, degrees (common practice).
const angleTolerance = 5

// angles reads the angle stages that follow one another. Made in one stroke they are
// judged by their sum.
func (m *motion) angles(
	stages []recipe.Stage,
	ids []int,
	res []StageResult,
	began float64,
	from, to int,
) (owed float64) {
	end := m.furthest(from, to)
	turned := end.deg - began
	asked, low, high := 0.0, 0.0, 0.0
	shortBy, longBy := 0.0, 0.0
	for _, i := range ids {
		a, b := stages[i].Window()
		t := stages[i].Target()
		asked += t
		low += a
		high += b
		shortBy = math.Hypot(shortBy, t-a)
		longBy = math.Hypot(longBy, b-t)
	}
	if len(ids) > 1 {
		low = math.Max(low, asked-shortBy)
		high = math.Min(high, asked+longBy)
	}
	done := 0.0
	for k, i := range ids {
		r := &res[i]
		r.AngleDeg = math.Max(0, math.Min(turned-done, stages[i].Target()))
		if k == len(ids)-1 {
			r.AngleDeg = turned - done
		}
		r.TorqueNm = end.nm
		done += r.AngleDeg
		if r.AngleDeg < 1 && stages[i].Target() > 2 {
			r.Verdict = "missing"
		} else if r.AngleDeg < stages[i].Target()-angleError && turned < low-angleError {
			r.Verdict = "short"
		}
	}
	last := &res[ids[len(ids)-1]]
	switch {
	case turned > high+angleError:
		last.Verdict = "long"
	case turned < low-angleError && last.Verdict == "ok":
		last.Verdict = "short"
	case turned >= low-angleError:
		for _, i := range ids {
			res[i].Verdict = "ok"
		}
	}
	return asked - turned
}
