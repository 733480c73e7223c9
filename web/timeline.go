package web

import (
	"fmt"
	"math"
	"strings"

	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/schedule"
)

// timelineView is the plan laid out in time.
type timelineView struct {
	W, H  float64
	Foot  float64 // where the hour lines end
	Hours []tick
	Bars  []bar
	Bands []bar
	Lanes []tick
	Turns [][2]float64 // tool changes
}

type bar struct {
	X, Y, W, H float64
	Class      string
	Text, Full string
	Step       operation.StepID
	Who        int // technician, where there are two
	Says       string
}

const laneGap = 56.0

// lanes of the timeline: the sides, what is for both or neither, and what runs by
// itself.
var laneNames = []string{"left", "both", "right", "by itself"}

func lane(s *plan.Step) int {
	switch {
	case s.Verb == operation.Soak:
		return 3
	case s.Corner == "":
		return 1
	case s.Corner.Left():
		return 0
	}
	return 2
}

// timeline draws the plan as it is clocked: a lane for each side, soaks below, a
// triangle for a tool change, the vehicle's position along the foot. What is done is
// faint.
func timeline(st *job.State, sol schedule.Solution) timelineView {
	work := st.Plan
	v := timelineView{W: 1220, H: 40 + 4*laneGap + 28}
	v.Foot = 24 + 4*laneGap
	left := 92.0
	k := (v.W - left - 10) / math.Max(1, sol.Makespan)
	every := 15.0
	for sol.Makespan/every > 16 {
		every *= 2
	}
	for m := 0.0; m <= sol.Makespan; m += every {
		v.Hours = append(v.Hours, tick{left + m*k, fmt.Sprintf("%d:%02d", int(m)/60, int(m)%60)})
	}
	for i, l := range laneNames {
		v.Lanes = append(v.Lanes, tick{44 + laneGap*float64(i), l})
	}
	pos, from := plan.Ground, 0.0
	lastSoak := -1.0
	for _, x := range sol.Order {
		step := work.Step(operation.StepID(x.ID))
		class := "bar"
		switch step.Verb {
		case operation.Tighten:
			class = "bar bar-owed"
		case operation.Soak:
			class = "bar bar-soak"
		case operation.Compare, operation.Drive:
			class = "bar bar-check"
		}
		b := bar{
			X:     left + x.Start*k,
			Y:     28 + laneGap*float64(lane(step)),
			W:     math.Max(3, (x.End-x.Start)*k-1.5),
			H:     40,
			Class: class,
			Full:  step.Title,
			Step:  step.ID,
			Says: strings.TrimSpace(
				fmt.Sprintf(
					"%s, %d:%02d to %d:%02d. %s",
					step.Title,
					int(x.Start)/60,
					int(x.Start)%60,
					int(x.End)/60,
					int(x.End)%60,
					step.Because,
				),
			),
		}
		if st.StepDone(step.ID) {
			b.Class += " done"
		}
		if work.Technicians > 1 && step.Verb != operation.Soak {
			b.Who = x.Technician
			b.H = 19
			b.Y += 21 * float64(x.Technician-1)
		}
		if step.Verb == operation.Soak {
			if x.Start < lastSoak { // a second one runs beside the first
				b.Class, b.Y, b.H = "bar bar-soak second", b.Y+41, 9
			}
			lastSoak = math.Max(lastSoak, x.End)
		}
		if word := shortest(step); b.H > 15 && 6.4*float64(len(word)) < b.W-8 {
			b.Text = word
		}
		v.Bars = append(v.Bars, b)
		if x.ToolChange {
			v.Turns = append(v.Turns, [2]float64{left + x.Start*k, b.Y - 1})
		}
		if step.MovesTo != "" && step.MovesTo != pos {
			v.Bands = append(v.Bands, band(left+from*k, left+x.End*k, v.Foot+4, pos))
			pos, from = step.MovesTo, x.End
		}
	}
	v.Bands = append(v.Bands, band(left+from*k, left+sol.Makespan*k, v.Foot+4, pos))
	return v
}

func band(x, end, y float64, pos plan.Position) bar {
	b := bar{
		X:     x,
		Y:     y,
		W:     math.Max(2, end-x-2),
		H:     22,
		Class: "band band-" + strings.ReplaceAll(string(pos), " ", "-"),
		Full:  string(pos),
	}
	if 7*float64(len(pos)) < b.W {
		b.Text = string(pos)
	}
	return b
}
