package draw

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/schedule"
)

// timelineView is the plan laid out in time, a column for each stage of the work.
type TimelineView struct {
	W, H   float64
	Foot   float64 // where the lines of the stages end
	Stages []StageColumn
	Bars   []Bar
	Holds  []Bar // who has a tool that both want
	Bands  []Bar
	Lanes  []Tick
	Turns  [][2]float64 // tool changes
}

// stageColumn is where a stage begins, never narrower than its name.
type StageColumn struct {
	X, W     float64
	No       int
	Name, At string
	From, To float64 // minutes
}

// Bar is a step, or how the vehicle stands, from its start to its end.
type Bar struct {
	X, Y, W, H float64
	Class      string
	Text, Full string
	Step       operation.StepID
	Who        int // technician, where there are two
	Says       string
}

// Measures of the timeline, in its own units.
const (
	laneGap   = 40.0
	laneTop   = 42.0 // below the names of the stages
	laneLeft  = 84.0
	timeWidth = 850.0
	letter    = 8.2 // of a stage's name
	toolGap   = 20.0
)

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

// columns gives each stage the room its name needs, and shares the rest by time.
func columns(st *job.State, sol schedule.Solution) []StageColumn {
	starts := map[string]float64{}
	for _, x := range sol.Order {
		starts[x.ID] = x.Start
	}
	var out []StageColumn
	for i, s := range st.Plan.Stages() {
		at := starts[string(st.Plan.Steps[s.From].ID)]
		out = append(out, StageColumn{No: i + 1, Name: s.Name, At: Hours(at), From: at})
	}
	least := 0.0
	for i := range out {
		out[i].To = sol.Makespan
		if i+1 < len(out) {
			out[i].To = math.Max(out[i].From, out[i+1].From)
		}
		out[i].W = letter*float64(len(out[i].Name)) + 14
		least += out[i].W
	}
	x, share := laneLeft, math.Max(0, timeWidth-laneLeft-least)/math.Max(1, sol.Makespan)
	for i := range out {
		out[i].X = x
		out[i].W += share * (out[i].To - out[i].From)
		x += out[i].W
	}
	return out
}

// at is where a minute lies.
func (v *TimelineView) at(minute float64) float64 {
	for i := len(v.Stages) - 1; i >= 0; i-- {
		if s := v.Stages[i]; minute >= s.From-1e-9 {
			return s.X + s.W*math.Min(1, (minute-s.From)/math.Max(1e-9, s.To-s.From))
		}
	}
	return laneLeft
}

// mostContested is how many tools that both technicians want have a row of their own.
const mostContested = 3

// contested are the tools that two technicians both use, the ones used longest first.
func contested(work *plan.Plan, sol schedule.Solution) []string {
	if work.Technicians < 2 {
		return nil
	}
	hands := map[string]map[int]bool{}
	minutes := map[string]float64{}
	for _, x := range sol.Order {
		tool := work.Step(operation.StepID(x.ID)).NeedsTool()
		if tool == "" {
			continue
		}
		if hands[tool] == nil {
			hands[tool] = map[int]bool{}
		}
		hands[tool][x.Technician] = true
		minutes[tool] += x.End - x.Start
	}
	var out []string
	for tool, by := range hands {
		if len(by) > 1 {
			out = append(out, tool)
		}
	}
	slices.SortFunc(out, func(a, b string) int {
		return cmp.Or(cmp.Compare(minutes[b], minutes[a]), cmp.Compare(a, b))
	})
	return out[:min(mostContested, len(out))]
}

// Timeline draws the plan as it is clocked: a column a stage, a lane for each side, soaks
// below, a triangle for a tool change, the vehicle's position along the foot. What is done
// is faint.
func Timeline(st *job.State, sol schedule.Solution) TimelineView {
	work := st.Plan
	v := TimelineView{W: timeWidth, Stages: columns(st, sol)}
	v.Foot = laneTop + 4*laneGap
	for i, l := range laneNames {
		v.Lanes = append(v.Lanes, Tick{laneTop + laneGap*float64(i), l})
	}
	row := map[string]float64{} // of each contested tool
	for _, tool := range contested(work, sol) {
		row[tool] = v.Foot
		v.Lanes = append(v.Lanes, Tick{v.Foot - 4, strings.TrimSuffix(tool, " six-point")})
		v.Foot += toolGap
	}
	v.H = v.Foot + 26
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
		wide := v.at(x.End) - v.at(x.Start) // the shortest reach their end, and not into the next
		b := Bar{
			X:     v.at(x.Start),
			Y:     laneTop + 3 + laneGap*float64(lane(step)),
			W:     math.Max(math.Min(3, wide), wide-1.5),
			H:     30,
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
			b.H = 14
			b.Y += 16 * float64(x.Technician-1)
		}
		if step.Verb == operation.Soak {
			if x.Start < lastSoak { // a second one runs beside the first
				b.Class, b.Y, b.H = "bar bar-soak second", b.Y+31, 6
			}
			lastSoak = math.Max(lastSoak, x.End)
		}
		if word := shortest(step); b.H > 13 && 6.4*float64(len(word)) < b.W-8 {
			b.Text = word
		}
		v.Bars = append(v.Bars, b)
		if y, ok := row[step.NeedsTool()]; ok {
			v.Holds = append(v.Holds, Bar{
				X:     b.X,
				Y:     y + 2,
				W:     b.W,
				H:     toolGap - 5,
				Class: fmt.Sprintf("hold hold-%d", x.Technician),
				Full:  fmt.Sprintf("technician %d has the %s: %s", x.Technician, step.NeedsTool(), step.Title),
				Who:   x.Technician,
			})
		}
		if x.ToolChange {
			v.Turns = append(v.Turns, [2]float64{b.X, b.Y - 1})
		}
		if step.MovesTo != "" && step.MovesTo != pos {
			v.Bands = append(v.Bands, band(v.at(from), v.at(x.End), v.Foot+2, pos))
			pos, from = step.MovesTo, x.End
		}
	}
	v.Bands = append(v.Bands, band(v.at(from), v.at(sol.Makespan), v.Foot+2, pos))
	return v
}

func band(x, end, y float64, pos plan.Position) Bar {
	b := Bar{
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

// Hours is minutes as hours and minutes.
func Hours(minutes float64) string {
	return fmt.Sprintf("%d:%02d", int(minutes)/60, int(minutes)%60)
}

// shortest is what a bar can bear of a step's title.
func shortest(st *plan.Step) string {
	words := strings.FieldsFunc(st.Title, func(r rune) bool { return r == ' ' || r == ',' || r == ':' })
	if len(words) > 2 {
		words = words[:2]
	}
	return strings.ToLower(strings.Join(words, " "))
}
