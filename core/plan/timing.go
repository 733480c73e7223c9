package plan

import (
	"math"
	"slices"

	"lugtak/core/fact"
	"lugtak/core/robust"
	"lugtak/core/schedule"
)

// The schools that no step asks for: how two sides are worked, whether one side is done
// or always both, whether parts are renewed by distance, and where in a range a torque is
// set.
const (
	SidesSchool      = "sides"
	pairsSchool      = "pairs"
	preventiveSchool = "preventive"
	aimSchool        = "torque-range"
)

// The ways of SidesSchool: tool by tool, or one side left until the other is done.
const (
	together = "together"
	oneByOne = "one-by-one"
)

// Timing is what a step takes in this shop, in minutes.
type Timing struct {
	Minutes, Low, High float64
	Jobs               int // it was timed on
}

// trust is how many jobs the library's figure counts for beside the shop's own.
const trust = 4

// Learn pulls the median of the shop's own times toward the library's figure,
// less so the more jobs there are. The spread is the median distance from the
// median, scaled to a standard deviation by 1.4826 (normal distribution).
func Learn(library float64, seen []float64) Timing {
	n := len(seen)
	if n == 0 {
		return Timing{Minutes: library, Low: library, High: library}
	}
	mid := robust.Median(slices.Clone(seen))
	off := make([]float64, n)
	for i, x := range seen {
		off[i] = math.Abs(x - mid)
	}
	m := (trust*library + float64(n)*mid) / (trust + float64(n))
	spread := robust.Normal * robust.Median(off)
	return Timing{Minutes: m, Low: max(0, m-spread), High: m + spread, Jobs: n}
}

// Problem is the plan as the scheduler takes it. A step that asks for a position
// comes after the move that brings the vehicle there and before the next move.
func (p *Plan) Problem(costs schedule.Costs, technicians int) schedule.Problem {
	out := p.placed(costs, technicians)
	if p.Way(SidesSchool) == oneByOne {
		p.oneByOne(&out)
	}
	return out
}

// placed is the plan with nothing but its needs and the positions its steps ask for.
func (p *Plan) placed(costs schedule.Costs, technicians int) schedule.Problem {
	out := schedule.Problem{Costs: costs, Technicians: technicians, Sides: schedule.Together}
	moved := ""        // the last move
	var since []string // steps that hold the vehicle where it is
	for _, s := range p.Steps {
		x := s.clock()
		if s.MovesTo != "" {
			x.Needs = append(x.Needs, since...)
			since = nil
		}
		if (s.Position != "" || s.MovesTo != "") && moved != "" {
			x.Needs = append(x.Needs, moved)
		}
		if s.Position != "" {
			since = append(since, string(s.ID))
		}
		if s.MovesTo != "" {
			moved, since = string(s.ID), []string{string(s.ID)}
		}
		out.Steps = append(out.Steps, x)
	}
	return out
}

// oneByOne lets a corner's steps wait for those of the corner before it, as long as
// the vehicle stands the same: raised and lowered it is once for all. Steps that rest
// on the other side themselves, as after a pedal both calipers are needed for, go on
// together.
func (p *Plan) oneByOne(out *schedule.Problem) {
	phase, phases := 0, make([]int, len(p.Steps))
	at := make(map[string]int, len(p.Steps))
	for i, s := range p.Steps {
		if s.MovesTo != "" {
			phase++
		}
		phases[i], at[string(s.ID)] = phase, i
	}
	corners := p.Corners()
	for ph := 0; ph <= phase; ph++ {
		for c := 1; c < len(corners); c++ {
			var first, second []int
			for i, s := range p.Steps {
				if phases[i] == ph && s.Corner == corners[c-1] && s.Corner != "" && s.Hands() {
					first = append(first, i)
				}
				if phases[i] == ph && s.Corner == corners[c] && s.Corner != "" && s.Hands() {
					second = append(second, i)
				}
			}
			rests := make([]bool, len(p.Steps)) // on a step of the second corner
			for i := range p.Steps {            // in order, so what it needs is settled
				for _, n := range out.Steps[i].Needs {
					rests[i] = rests[i] || rests[at[n]] || slices.Contains(second, at[n])
				}
			}
			for _, b := range second {
				for _, a := range first {
					if !rests[a] {
						out.Steps[b].Needs = append(out.Steps[b].Needs, string(p.Steps[a].ID))
					}
				}
			}
		}
	}
}

// clock is what the clock needs to know of the step.
func (s Step) clock() schedule.Step {
	x := schedule.Step{
		ID:      string(s.ID),
		Minutes: s.Minutes,
		Hands:   s.Hands(),
		Tool:    s.NeedsTool(),
		Side:    string(s.Corner),
		People:  s.People,
		Uses:    slices.Clone(s.Uses),
	}
	if x.Tool != "" && x.Hands { // there is one of each, in one hand at a time
		x.Uses = append(x.Uses, x.Tool)
	}
	for _, n := range s.Needs {
		x.Needs = append(x.Needs, string(n))
	}
	return x
}

// Clock lays the plan in time as its steps stand.
func (p *Plan) Clock(costs schedule.Costs) (schedule.Solution, error) {
	return schedule.Follow(p.placed(costs, max(1, p.Technicians)))
}

// TakeTimes gives the steps a plan shares with another the other's minutes, so that
// the two can be held against one another.
func (p *Plan) TakeTimes(other *Plan) {
	for i := range p.Steps {
		s := &p.Steps[i]
		if o := other.Step(s.ID); o != nil {
			s.Minutes, s.Low, s.High, s.Timed = o.Minutes, o.Low, o.High, o.Timed
		}
	}
}

// Raises counts how often the vehicle is raised.
func (p *Plan) Raises() int {
	n := 0
	for _, s := range p.Steps {
		if s.MovesTo == Raised && s.Position == Ground {
			n++
		}
	}
	return n
}

// InOrder is the plan with its steps in the best order found, and what that takes.
func (p Plan) InOrder(costs schedule.Costs, technicians int) (Plan, schedule.Solution, error) {
	sol, err := schedule.Solve(p.Problem(costs, technicians))
	if err != nil {
		return p, sol, err
	}
	at := make(map[string]int, len(p.Steps))
	for i, s := range p.Steps {
		at[string(s.ID)] = i
	}
	steps := make([]Step, 0, len(p.Steps))
	for _, x := range sol.Order {
		steps = append(steps, p.Steps[at[x.ID]])
	}
	p.Steps, p.Technicians = steps, technicians
	if technicians > 1 || !p.waited(costs) {
		return p, sol, p.Sound()
	}
	bound := sol.Bound
	sol, err = p.Clock(costs)
	if err != nil {
		return p, sol, err
	}
	sol.Bound = bound
	return p, sol, p.Sound()
}

// A plan of one technician may take longer than the scheduler alone would for its steps: what is tended is kept short
// first, a spring is not left pressed for the sake of a soak.
//
// waited takes out of the time somebody waits, a foot on the brake, or something stays that may not for long, an open
// bleeder, what can as well be done before or after. It says whether anything was moved.
func (p *Plan) waited(costs schedule.Costs) bool {
	moved := false
	var rest [][]bool // as long as the order stays
	opens := p.opens()
	for _, s := range slices.Clone(p.Steps) {
		if !s.Waits && !opens[s.ID] {
			continue
		}
		from := slices.IndexFunc(p.Steps, func(x Step) bool { return x.ID == s.ID })
		to := p.letGo(from)
		if rest == nil {
			rest = p.resting(costs)
		}
		var before, during, after []Step
		for k := from; k <= to; k++ {
			switch x := p.Steps[k]; {
			case k != from && !rest[from][k]:
				before = append(before, x)
			case k != to && !rest[k][to]:
				after = append(after, x)
			default:
				during = append(during, x)
			}
		}
		if len(during) == to-from+1 {
			continue
		}
		q := *p
		q.Steps = slices.Concat(p.Steps[:from], before, during, after, p.Steps[to+1:])
		if q.Sound() == nil {
			p.Steps, moved, rest = q.Steps, true, nil
		}
	}
	return moved
}

// letGo is the step that ends what another began: where it makes each of its facts as they
// were.
func (p *Plan) letGo(from int) int {
	for k := from + 1; k < len(p.Steps); k++ {
		for _, m := range p.Steps[k].Makes {
			began := slices.ContainsFunc(p.Steps[from].Makes, func(b fact.Make) bool { return b.Fact == m.Fact })
			if began && p.World.Rest[m.Fact] == m.Value {
				return k
			}
		}
	}
	return from
}

// resting tells of each step which later ones rest on it, by what they need.
func (p *Plan) resting(costs schedule.Costs) [][]bool {
	q := p.Problem(costs, 1)
	at := make(map[string]int, len(q.Steps))
	out := make([][]bool, len(q.Steps))
	for k, s := range q.Steps {
		at[s.ID] = k
		out[k] = make([]bool, len(q.Steps))
		for _, n := range s.Needs {
			for i := range k {
				out[i][k] = out[i][k] || i == at[n] || out[i][at[n]]
			}
		}
	}
	return out
}
