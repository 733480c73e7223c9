package pull

import (
	"math"

	"lugtak/core/robust"
)

// What moved comes first: where the tool was loaded, where it was slack, where the
// fastener went on, stood, or came back. What it means is asked afterwards.

// Shares of the peak, and degrees, by which loads and turns are told from scatter.
const (
	loadShare  = 0.05 // of the peak: less is a tool that hangs on the nut
	tightShare = 0.15 // of the figure asked for: from here a nut turns only when driven
	reach      = 0.92 // of the last torque: a fastener at rest goes on from about there
	slackDeg   = 2.0  // what ratchet and socket play leave open
	backDeg    = 4.0  // more than play and wind-up: the fastener came back
	standsDeg  = 2.0  // less is no turn
)

// stroke is one load on: from taking hold to letting go.
type stroke struct {
	from, to int     // points of the track
	peak     float64 // N·m
	at       int     // point of the peak
	began    float64 // degrees of the fastener
	ended    float64
}

// motion is how the fastener went.
type motion struct {
	*track
	f       []float64 // degrees of the fastener at each point
	strokes []stroke  // since it was last turned back, all of them
	backs   []back
	lastOff float64 // degrees the tool ended behind the fastener, without a load
	loaded  float64 // N·m from which there is a load
}

// back is a turn back: which strokes came before it, how far it went.
type back struct {
	before int // strokes
	at     int // point
	deg    float64
}

// move follows the fastener through the trace. figure is the torque asked for.
func (tr *track) move(figure float64) *motion {
	m := &motion{
		track:  tr,
		f:      make([]float64, len(tr.p)),
		loaded: math.Max(loadShare*tr.peak, 4*tr.noise),
	}
	m.follow(figure)
	return m
}

// sign of the load at a point.
func (m *motion) sign(i int) int {
	switch {
	case m.y[i] > m.loaded:
		return 1
	case m.y[i] < -m.loaded:
		return -1
	}
	return 0
}

// span is points under one sign of load.
type span struct{ from, to, sign int }

func (m *motion) spans() []span {
	var out []span
	for i := range m.p {
		s := m.sign(i)
		if len(out) > 0 && out[len(out)-1].sign == s {
			out[len(out)-1].to = i
			continue
		}
		out = append(out, span{i, i, s})
	}
	// A tool hardly slack between two loads was never let go.
	var joined []span
	for k := 0; k < len(out); k++ {
		s := out[k]
		n := len(joined)
		brief := s.sign == 0 && m.p[s.to].T-m.p[s.from].T < overshoot && k+1 < len(out)
		if n > 0 && brief && joined[n-1].sign == out[k+1].sign {
			joined[n-1].to = out[k+1].to
			k++
			continue
		}
		joined = append(joined, s)
	}
	return joined
}

// follow lays down where the fastener stood at each point. A tight fastener moves only
// under a load, so that a tool swung back over its ratchet, or taken off and put on
// again, takes the count up where the fastener was: at the torque it was left at.
func (m *motion) follow(figure float64) {
	off := 0.0  // fastener = angle + off
	left := 0.0 // N·m at which the fastener was left
	at := m.p[0].Angle
	loose := true // turns by hand
	for _, s := range m.spans() {
		switch {
		case s.sign > 0:
			off, at = m.forward(s, off, left, at, loose)
			left = m.leftAt(m.strokes[len(m.strokes)-1], left)
			loose = left < tightShare*figure
		case s.sign < 0:
			at = m.backward(s, off, at)
			if n := len(m.backs); n > 0 && m.backs[n-1].at == s.to {
				left, loose = 0, true
			}
		case !loose:
			m.hold(s, at)
		case len(m.backs) > 0 && m.backs[len(m.backs)-1].at == s.from-1:
			off, at = m.comeOff(s, off, at)
		default:
			off, at = m.runOn(s, off, at)
		}
	}
	last := len(m.p) - 1
	if !loose {
		m.lastOff = m.p[last].Angle + off - at
	}
}

// forward is a load on. It gives the new offset and where the fastener stands.
func (m *motion) forward(s span, off, left, at float64, loose bool) (float64, float64) {
	start := s.from
	if !loose {
		for start < s.to && m.y[start] < reach*left {
			start++
		}
		if m.y[start] < reach*left {
			start = s.to + 1 // never got there: it stood
		} else if by := at - (m.crossing(start, reach*left) + off); math.Abs(by) > slackDeg+3*m.grain {
			off += by
		}
	}
	st := stroke{from: s.from, to: s.to, began: at, at: s.from}
	for i := s.from; i <= s.to; i++ {
		switch a := m.p[i].Angle + off; {
		case i < start:
		case a > at || loose:
			at = math.Max(at, a)
		}
		m.f[i] = at
		if m.y[i] > st.peak {
			st.peak = m.y[i]
			st.at = i
		}
	}
	st.ended = at
	// A tool that shows no sign: the nut came back under a load that reads as one on.
	if end := m.p[s.to].Angle + off; end < st.ended-mostWindUp && m.y[s.to] > toothMost*st.peak {
		st.ended = end
		m.strokes = append(m.strokes, st)
		m.backs = append(m.backs, back{len(m.strokes), s.to, at - end})
		return off, end
	}
	m.strokes = append(m.strokes, st)
	return off, at
}

// leftAt is the torque a stroke left the fastener at: what it last turned on under. One
// that did not turn leaves it as it was.
func (m *motion) leftAt(st stroke, before float64) float64 {
	if st.ended-st.began < standsDeg && st.peak <= before {
		return before
	}
	if st.ended < st.began-backDeg {
		return 0
	}
	last := st.at
	for i := st.at; i <= st.to; i++ {
		if m.f[i] > m.f[last]+0.2+2*m.grain {
			last = i
		}
	}
	return m.y[last]
}

// crossing is the angle at which the torque reaches a level just before a point.
func (m *motion) crossing(i int, level float64) float64 {
	if i == 0 || m.y[i] <= m.y[i-1] {
		return m.p[i].Angle
	}
	share := (level - m.y[i-1]) / (m.y[i] - m.y[i-1])
	share = math.Min(1, math.Max(0, share))
	return m.p[i-1].Angle + share*(m.p[i].Angle-m.p[i-1].Angle)
}

// backward is a load off. It goes on from a turn back that had none between.
func (m *motion) backward(s span, off, at float64) float64 {
	began := at
	for i := s.from; i <= s.to; i++ {
		at = math.Min(at, m.p[i].Angle+off)
		m.f[i] = at
	}
	if n := len(m.backs); n > 0 && m.backs[n-1].before == len(m.strokes) {
		b := &m.backs[n-1]
		b.deg += math.Max(0, m.f[b.at]-at)
		b.at = s.to
		return at
	}
	if began-at >= backDeg {
		m.backs = append(m.backs, back{len(m.strokes), s.to, began - at})
	}
	return at
}

// hold is a tool without a load on a tight fastener: it stays.
func (m *motion) hold(s span, at float64) {
	for i := s.from; i <= s.to; i++ {
		m.f[i] = at
	}
}

// comeOff is a fastener that was broken loose: it goes where the tool goes, until that
// goes on again.
func (m *motion) comeOff(s span, off, at float64) (float64, float64) {
	b := &m.backs[len(m.backs)-1]
	turns := slackDeg + 3*m.grain
	top := at + b.deg
	for i := s.from; i <= s.to; i++ {
		a := m.p[i].Angle + off
		if a > at+turns {
			return m.runOn(span{i, s.to, 0}, off, at)
		}
		if a < at {
			at = a
			b.at = i
		}
		m.f[i] = at
		b.deg = math.Max(b.deg, top-at)
	}
	return off, at
}

// runOn is a loose fastener run on. A tool that swings back over its ratchet takes the
// count up again where it turns.
func (m *motion) runOn(s span, off, at float64) (float64, float64) {
	turns := slackDeg + 3*m.grain
	low := math.Inf(1)
	for i := s.from; i <= s.to; i++ {
		a := m.p[i].Angle + off
		if a < at {
			low = math.Min(low, a)
		}
		if low < at-turns && a > low+turns/2 {
			off += at - low
			a += at - low
		}
		if a >= at {
			at = a
			low = math.Inf(1)
		}
		m.f[i] = at
	}
	if low < at-turns {
		off += at - low
	}
	return off, at
}

// point is the torque it took to turn the fastener on at an angle.
type point struct {
	deg, nm  float64
	from, to int
}

// A torque that falls at once by more than this share while the angle creeps on is a
// hand that lets the load down, until it has crept on by so many degrees.
const (
	letDown  = 0.85
	creepDeg = 3.0
)

// curve is the torque over the turn while it went on, from a point of the track on.
func (m *motion) curve(from int) []point {
	low, high := math.Inf(1), math.Inf(-1)
	for _, a := range m.f[from:] {
		low = math.Min(low, a)
		high = math.Max(high, a)
	}
	width := math.Max(math.Max(0.4, 2*m.grain), (high-low)/700)
	var out []point
	var held []float64
	top := math.Inf(-1)
	edge := low
	last := 0.0 // N·m of the point before
	flush := func() {
		if len(held) > 0 {
			last = robust.Median(held)
			out[len(out)-1].nm = last
			held = held[:0]
		}
	}
	for i := from; i < len(m.f); i++ {
		a := m.f[i]
		if a <= top || m.y[i] < -m.loaded {
			continue
		}
		if last > m.loaded && m.y[i] < letDown*last && a < top+creepDeg {
			continue
		}
		top = a
		if len(out) == 0 || a >= edge {
			flush()
			out = append(out, point{deg: a, from: i, to: i})
			edge = a + width
		}
		held = append(held, m.y[i])
		p := &out[len(out)-1]
		p.deg = (p.deg + a) / 2
		p.to = i
	}
	flush()
	return out
}
