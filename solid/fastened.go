package solid

import (
	"cmp"
	"fmt"
	"math"
	"slices"
)

// Done is what a hand does to one fastener of a joint.
type Done string

// What is done to fasteners.
const (
	Loosened  Done = "loosened"  // broken loose, by a bar
	TakenOut  Done = "out"       // turned out
	Started   Done = "started"   // turned in by hand
	Tightened Done = "tightened" // to its figure
)

// AllDone are all of them.
var AllDone = []Done{Loosened, TakenOut, Started, Tightened}

const (
	halfOut  = 0.6  // of its length a fastener stands out that is turned out or in
	turnRing = 0.62 // of its width the arrow's radius lies outside it
	ringGap  = 9    // mm more
	lifted   = 34   // mm a tool is drawn off the head, which it would hide
	wayFrom  = 26   // mm before the head an arrow begins that shows which way it goes
	wayLong  = 46
)

// Fastened is the scene of the k-th fastener of a joint while that is done to it; what stands in the joint's own
// scene holds for all of them. A left-hand thread turns the other way round.
func (s Scene) Fastened(k int, done Done, leftHand bool) Scene {
	out := s
	bolt := s.Bolts[k]
	out.Hand = []string{bolt}
	out.Plain = slices.Concat(s.Plain, s.Bolts)
	out.Uses, out.Moves, out.Marks = slices.Clone(s.Uses), slices.Clone(s.Moves), slices.Clone(s.Marks)
	if s.Near {
		out.Fit = out.Hand
	}
	sense := "tighten"
	if done == Loosened || done == TakenOut {
		sense = "loosen"
	}
	if leftHand {
		sense += " left"
	}
	out.Marks = append(out.Marks, Sign{Turn: bolt, Sense: sense, Round: true})
	switch done {
	case Loosened:
		out.Uses = append(out.Uses, Use{Is: s.Bar, On: bolt, Off: Vec{lifted}, Aside: true})
	case Tightened:
		out.Uses = append(out.Uses, Use{Is: s.Tool, On: bolt, Off: Vec{lifted}, Aside: true})
	case TakenOut:
		out.Moves = append(out.Moves, Move{What: []string{bolt}, Out: true, At: bolt})
		out.Marks = append(out.Marks, Sign{Arrow: bolt, From: wayFrom, Len: wayLong})
	case Started:
		out.Moves = append(out.Moves, Move{What: []string{bolt}, Out: true, At: bolt})
		out.Marks = append(out.Marks, Sign{Arrow: bolt, From: wayFrom + wayLong, Len: -wayLong})
	}
	return out
}

// All are the scenes drawn of one: itself, or each fastener of its joint in each state.
func (s Scene) All() []Scene {
	if len(s.Bolts) == 0 {
		return []Scene{s}
	}
	var out []Scene
	for k := range s.Bolts {
		for _, done := range AllDone {
			out = append(out, s.Fastened(k, done, false))
		}
	}
	return out
}

// The lever of a tool is tried in so many places round its fastener, and lies well where so many samples of it
// are seen.
const (
	leverTries = 12
	levelReach = 5000.0
)

// aside turns a tool about its fastener until most of it is seen and it hides no fastener, in the best place at
// which it passes through nothing; the first of equals, from where the scene says.
func (st *stage) aside(u Use, s Scene, cam Camera) error {
	f, err := st.frame(u.On)
	if err != nil {
		return err
	}
	tool := st.placed[u.name()]
	bare := slices.Clone(st.items)
	bare[tool].Mesh = &Mesh{}
	without := Solve(bare, cam, s.Cuts, 1)
	type try struct {
		worth float64
		at    Pose
	}
	from, tries := st.items[tool].Pose, []try{}
	for t := range leverTries {
		by := Turn(f.Axis, float64(t)*360/leverTries)
		by.At = f.At.Sub(by.Dir(f.At))
		it := st.items[tool]
		it.Pose = by.Of(from)
		seen, hides := 0, map[int]int{}
		alone := Solve([]Item{it}, cam, nil, 1)
		for k, is := range alone.Item {
			if is != 0 && alone.Depth[k] < without.Depth[k] {
				seen++
				hides[int(without.Item[k])-1]++
			}
		}
		worth := float64(seen)/levelReach - 0.01*float64(min(t, leverTries-t))
		for _, b := range s.Bolts {
			if free := without.count(st.placed[b]); free > 0 {
				worth -= 0.5 * float64(hides[st.placed[b]]) / float64(free)
			}
		}
		tries = append(tries, try{math.Round(worth*1e9) / 1e9, it.Pose})
	}
	slices.SortStableFunc(tries, func(a, b try) int { return cmp.Compare(b.worth, a.worth) })
	st.items[tool].Pose = tries[0].at
	for _, t := range tries {
		it := st.items[tool]
		it.Pose = t.at
		if st.clear(it) {
			st.items[tool].Pose = t.at
			break
		}
	}
	return nil
}

// count is how many samples show an item.
func (b *Buffer) count(item int) int {
	n := 0
	for _, id := range b.Item {
		if int(id) == item+1 {
			n++
		}
	}
	return n
}

// span is how far an item reaches along a direction, and the widest it is across it, mm.
func (it Item) span(way Vec) (long, wide float64) {
	m, axis := it.Mesh, it.Pose.within(way)
	lo, hi := math.Inf(1), math.Inf(-1)
	for _, p := range m.Points {
		d := p.Dot(axis)
		lo, hi = math.Min(lo, d), math.Max(hi, d)
	}
	var mid Vec
	for _, p := range m.Points {
		mid = mid.Add(p.Mul(1 / float64(len(m.Points))))
	}
	for _, p := range m.Points {
		wide = math.Max(wide, 2*p.Sub(mid).across(axis).Len())
	}
	return hi - lo, wide
}

// Where a sign and its letter stand beside a fastener, px.
const (
	signSize = 80.0
	signWide = signSize + 46
	signNear = 84.0  // its middle from the fastener's
	signFar  = 260.0 // and no farther
)

// fasteners lays a sign and a letter beside each fastener of a joint of several, away from their middle. What
// they show is the job's: whoever shows the picture puts both in.
func (v shown) fasteners(over *page) error {
	if len(v.scene.Bolts) < 2 {
		return nil
	}
	at := make([][2]float64, len(v.scene.Bolts))
	var mid [2]float64
	for k, b := range v.scene.Bolts {
		x, y, err := v.at(b, Vec{})
		if err != nil {
			return err
		}
		at[k] = [2]float64{x, y}
		mid[0] += x / float64(len(at))
		mid[1] += y / float64(len(at))
	}
	over.rounds(at)
	for k, p := range at {
		if v.scene.Near && (p[0] < 0 || p[0] > Width || p[1] < 0 || p[1] > Height) {
			continue
		}
		b, ok := v.beside(p, math.Atan2(p[1]-mid[1], p[0]-mid[0]), over)
		if !ok {
			over.lacks = append(over.lacks, fmt.Sprintf("no room for the sign of “%s”", v.scene.Bolts[k]))
			continue
		}
		over.bolt(k, b, p[0], p[1])
	}
	return nil
}

// beside is room for a sign near a fastener, best where it points away from the others: over nothing in hand, no
// tool, no arrow and no fastener; over a tool only where there is no other room.
func (v shown) beside(p [2]float64, away float64, over *page) (box, bool) {
	for _, overTool := range []bool{false, true} {
		for far := signNear; far <= signFar; far += 16 {
			for _, turn := range []float64{0, 25, -25, 50, -50, 75, -75, 100, -100, 130, -130, 160, -160} {
				sin, cos := math.Sincos(away + turn*math.Pi/180)
				b := box{p[0] + far*cos - signWide/2, p[1] + far*sin - signSize/2, signWide, signSize}
				ex, ey := b.edge(p[0], p[1])
				inside := b.x > 8 && b.y > 8 && b.x+b.w < Width-8 && b.y+b.h < Height-8
				if inside && !over.clashes(b, &line{ex, ey, p[0], p[1]}) && !v.covers(b.wider(6, 6), overTool) {
					return b, true
				}
			}
		}
	}
	return box{}, false
}

// covers says that a box lies on what must be seen.
func (v shown) covers(b box, overTool bool) bool {
	for y := int(b.y); y < int(b.y+b.h); y += 6 {
		for x := int(b.x) - v.x0; x < int(b.x+b.w)-v.x0; x += 6 {
			px, py := x*v.buf.Samples, y*v.buf.Samples
			if px < 0 || py < 0 || px >= v.buf.W || py >= v.buf.H {
				continue
			}
			id := v.buf.Item[py*v.buf.W+px]
			if id == 0 {
				continue
			}
			switch it := v.stage.items[id-1]; {
			case it.Role == Hand || it.Role == Arrow || it.Role == Tool && !overTool || named(v.scene.Bolts, it.Name):
				return true
			}
		}
	}
	return false
}

// bolt writes a fastener's sign and letter, which may be touched.
func (p *page) bolt(k int, at box, x, y float64) {
	ex, ey := at.edge(x, y)
	for _, class := range []string{"o-halo", "o-lead"} {
		fmt.Fprintf(&p.svg, `<path class="%s" d="M%.0f %.0fL%.0f %.0f"/>`, class, ex, ey, x, y)
	}
	touch := at.wider(20, 20)
	fmt.Fprintf(&p.svg, `<a data-bolt="%d"><rect class="o-touch" x="%.0f" y="%.0f" width="%.0f" height="%.0f"/>`, k,
		touch.x, touch.y, touch.w, touch.h)
	fmt.Fprintf(&p.svg, `<use href="#bolt-%d" x="%.0f" y="%.0f" width="%.0f" height="%.0f"/>`, k, at.x, at.y, signSize,
		signSize)
	fmt.Fprintf(&p.svg, `<text class="o-words" x="%.0f" y="%.0f">bolt-%d</text></a>`, at.x+signSize+6, at.y+signSize*0.82,
		k)
	p.taken = append(p.taken, at)
	p.lines = append(p.lines, line{ex, ey, x, y})
}
