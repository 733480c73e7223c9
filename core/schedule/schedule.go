// Package schedule lays steps in time. Times are minutes from the start.
package schedule

// Step is what the clock needs to know of a step.
type Step struct {
	ID       string
	Minutes  float64
	Hands    bool
	Tool     string // empty keeps the last one
	Side     string // left, right or both; empty keeps the last one
	Position string // empty keeps the last one
	Needs    []string
}

// Slot is a step with its times.
type Slot struct {
	Step
	Start, End float64
	ToolChange bool
}

// Timeline is an order laid out for one technician.
type Timeline struct {
	Slots       []Slot
	Makespan    float64
	ToolChanges int
	Raises      int
}

// Lay times the steps in the given order for one technician: one hands-on step
// at a time, what runs by itself from when its needs are met, and toolChange
// minutes for each change of tool.
func Lay(steps []Step, toolChange float64) Timeline {
	var tl Timeline
	end := map[string]float64{}
	now, tool, pos := 0.0, "", ""
	for _, s := range steps {
		ready := 0.0
		for _, n := range s.Needs {
			ready = max(ready, end[n])
		}
		slot := Slot{Step: s}
		if s.Hands {
			if s.Tool != "" && s.Tool != tool {
				if tool != "" {
					now += toolChange
					tl.ToolChanges++
					slot.ToolChange = true
				}
				tool = s.Tool
			}
			if s.Position != "" && s.Position != pos {
				if s.Position == "raised" {
					tl.Raises++
				}
				pos = s.Position
			}
			slot.Start = max(now, ready)
			now = slot.Start + s.Minutes
		} else {
			slot.Start = ready
		}
		slot.End = slot.Start + s.Minutes
		end[s.ID] = slot.End
		tl.Makespan = max(tl.Makespan, slot.End)
		tl.Slots = append(tl.Slots, slot)
	}
	return tl
}
