package schedule

import (
	"math"
	"slices"
)

// bound is the least the finished order can take: the hands' work and the changes
// it is sure to need, shared by all hands; and the longest chain still to come.
func (s *solver) bound(st *state) float64 {
	low := st.span
	work, first := 0.0, math.Inf(1)
	var tools, sides, places [MaxSteps + 4]bool
	for _, h := range st.hands {
		first = math.Min(first, h.free)
		work += h.free
		tools[h.tool], sides[h.side] = true, true
	}
	places[st.lift.at] = true
	freeTool, freeSide := 0, 0
	for _, h := range st.hands {
		if h.tool == 0 {
			freeTool++
		}
		if h.side == 0 {
			freeSide++
		}
	}
	tools[0], sides[0], places[0] = true, true, true
	newTools, newSides, newPlaces := 0, 0, 0
	for i, x := range s.Steps {
		if !math.IsNaN(st.end[i]) {
			continue
		}
		ready := 0.0
		if x.Hands {
			ready = first
		}
		for _, j := range s.needs[i] {
			if !math.IsNaN(st.end[j]) {
				ready = math.Max(ready, st.end[j])
			}
		}
		low = math.Max(low, ready+s.tail[i])
		if !x.Hands {
			continue
		}
		work += x.Minutes
		if s.both(i) {
			work += x.Minutes
		}
		if !tools[s.tool[i]] {
			tools[s.tool[i]] = true
			newTools++
		}
		if !sides[s.side[i]] {
			sides[s.side[i]] = true
			newSides++
		}
		if !places[s.at[i]] {
			places[s.at[i]] = true
			newPlaces++
		}
	}
	if st.left > 0 {
		work += s.Costs.Tool*float64(max(0, newTools-freeTool)) + s.Costs.Walk*float64(
			max(0, newSides-freeSide)) + s.Costs.Position*float64(
			newPlaces,
		)
		low = math.Max(low, work/float64(len(st.hands)))
	}
	return low
}

// clusters is the least one technician takes: all the work, with a change of tool and of
// side for each run of steps that some chain of needs parts from the others. A tool whose
// steps are parted so into three runs is fetched three times, however the rest is
// ordered.
func (s *solver) clusters() float64 {
	if s.Technicians > 1 {
		return 0
	}
	work := 0.0
	for _, x := range s.Steps {
		if x.Hands {
			work += x.Minutes
		}
	}
	changes := float64(max(0, s.runs(s.tool)-1)) * s.Costs.Tool
	walks := float64(max(0, s.runs(s.side)-1)) * s.Costs.Walk
	return work + changes + walks
}

// runs adds up, over all values of what a step asks for, the runs a chain of needs parts
// its steps into.
func (s *solver) runs(of []int) int {
	total := 0
	order := s.inOrder()
	for _, value := range slices.Compact(slices.Sorted(slices.Values(of))) {
		if value == 0 {
			continue
		}
		most := 0
		in := make([]int, len(of))  // runs on the longest chain to here that ends in one
		out := make([]int, len(of)) // and on one that ends in another value
		for _, i := range order {
			for _, j := range s.needs[i] {
				in[i] = max(in[i], in[j])
				out[i] = max(out[i], out[j])
			}
			switch {
			case !s.Steps[i].Hands || of[i] == 0:
			case of[i] == value:
				in[i] = max(in[i], out[i]+1)
			default:
				out[i] = max(out[i], in[i])
			}
			most = max(most, in[i], out[i])
		}
		total += most
	}
	return total
}
