package job

import (
	"fmt"
	"math"

	"lugtak/core/fault"
	"lugtak/core/plan"
	"lugtak/core/recipe"
	"lugtak/core/record"
	"lugtak/core/thread"
	"lugtak/core/unit"
)

// What is done where no figure of the maker's is to be had: by the bolt, as a deviation.

// By the bolt a joint is tightened to this share of the yield strength of its bolt, at this friction, rounded down to
// whole newton metres. VDI 2230 goes to 0.9 for a bolt that was reckoned; who knows nothing of the joint stays well
// below (common practice).
const (
	boltShare    = 0.6
	boltFriction = 0.12
)

// ByBolt is what a bolt of a thread and class is tightened to where nothing else is known of its joint, in N·m. Its
// fault names the field.
func ByBolt(th, class string) (unit.Torque, error) {
	t, err := thread.Parse(th)
	if err != nil {
		return 0, err
	}
	c, err := thread.ParseClass(class, t)
	if err != nil {
		return 0, err
	}
	_, torque := t.Tightening(c, boltFriction, boltShare)
	return unit.Torque(math.Floor(torque)), nil
}

// LackFigure tightens a joint by its bolt, because the maker's figure is not to be had.
type LackFigure struct {
	Joint, Thread, Class string
	Looked               string // where the maker's figure was looked for
}

func (s *State) decideLackFigure(m Meta, b LackFigure) (record.Body, error) {
	j := s.Plan.Joint(b.Joint)
	switch {
	case j == nil:
		return nil, refuse(fault.Missing, "joint", "The plan has no such joint.", "Choose one from the plan.")
	case len(j.Differs) > 0 || !j.Unread():
		return nil, refuse(fault.Order, "joint", "There is a figure for the "+j.Title+".", "Tighten them to that.")
	case j.MakerOnly:
		return nil, refuse(fault.NoFigure, "joint",
			"No table of bolts knows what the "+j.Title+" bear: it is a slot, a preload, rubber or a light thread.",
			"Ask the maker, or leave the vehicle where it stands.")
	case s.Critical(j) && m.Second == "":
		return nil, refuse(fault.Missing, "second", "A life hangs on the "+j.Title+": two sign for this.",
			"Have a colleague enter name and PIN.")
	}
	if err := reason("looked", &b.Looked); err != nil {
		return nil, err
	}
	torque, err := ByBolt(b.Thread, b.Class)
	if err != nil {
		return nil, err
	}
	if torque < 1 {
		return nil, refuse(fault.OutOfRange, "thread",
			"Such a small screw is tightened by its maker's word.", "Ask the maker.")
	}
	if err := otherBolt(j, b); err != nil {
		return nil, err
	}
	r, err := recipe.Parse(fmt.Sprintf("%.0f Nm", torque.Nm()))
	if err != nil {
		return nil, err
	}
	return record.FigureLacking{
		Joint:  j.ID,
		Thread: b.Thread,
		Class:  b.Class,
		Recipe: r.String(),
		Stages: toStages(r.Stages),
		Looked: b.Looked,
		Second: m.Second,
	}, nil
}

// otherBolt refuses a bolt that is not the one the joint is known to have.
func otherBolt(j *plan.Joint, b LackFigure) error {
	const remedy = "Look at the bolt; where this vehicle has another, say so at the bench first."
	known, err := thread.Parse(j.Thread)
	if now, nowErr := thread.Parse(b.Thread); err == nil && nowErr == nil && now.Name != known.Name {
		return refuse(fault.Differ, "thread", "The "+j.Title+" are known to be "+known.Name+".", remedy)
	}
	if j.Class != "" && j.Class != b.Class {
		return refuse(fault.Differ, "class", "The "+j.Title+" are known to be class "+j.Class+".", remedy)
	}
	return nil
}

func (s *State) applyFigureLacking(e Event, b record.FigureLacking) {
	s.respec(b.Joint, e.Seq, func(j *plan.Joint) {
		source := fmt.Sprintf("by the bolt, %s class %s, not by the maker; looked for in: %s", b.Thread, b.Class, b.Looked)
		j.Figured(b.Recipe, fromStages(b.Stages), source)
		j.Thread, j.Class = b.Thread, b.Class
		j.ByBolt = true
	})
}

// byBolt asks for the signatures under what was tightened by the bolt.
func byBolt(s *State) []Gate {
	var out []Gate
	for i := range s.Plan.Joints {
		j := &s.Plan.Joints[i]
		if !j.ByBolt {
			continue
		}
		out = append(out, Gate{
			Key:      gateByBolt.Key(j.ID),
			Title:    unit.Capital(j.Title) + " tightened by the bolt, not by the maker: " + j.Recipe,
			Remedy:   "Look up the maker's figure, or sign for this one.",
			Passable: true,
			Second:   s.Critical(j),
		})
	}
	return out
}
