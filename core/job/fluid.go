package job

import (
	"fmt"
	"slices"
	"time"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/record"
	"lugtak/core/unit"
)

// FluidColours are what may be seen in the bottle, as the journal keeps them.
var FluidColours = []string{"clear", "amber", "dark", "milky"}

// Booked is what came out and went in at one place.
type Booked struct {
	record.FluidBooked
	By string
	At time.Time
}

// BookFluid writes down what came out, what went in and how it looked.
type BookFluid struct{ record.FluidBooked }

const (
	mostFluidMl = 20_000 // more than any brake or gearbox of a road vehicle holds
	lostMl      = 20     // what a hose, a rag and the eye at the measure lose
)

func (s *State) decideBookFluid(m Meta, b BookFluid) (record.Body, error) {
	f := b.FluidBooked
	st, err := s.openStep(m, operation.StepID(f.Step))
	if err != nil {
		return nil, err
	}
	f.Fluid, f.Spec = st.Books, trimmed(f.Spec)
	inside := func(ml float64) bool { return ml >= 0 && ml <= mostFluidMl }
	switch {
	case st.Books == "":
		return nil, refuse(fault.BadChoice, "step", "No fluid leaves at that step.", "Write it down where it is asked for.")
	case s.Steps[st.ID].Done:
		return nil, refuse(fault.Order, "step", "That step is kept with its account.",
			"Take the step back with a reason to write another.")
	}
	if err := s.Ready(st); err != nil {
		return nil, err
	}
	switch {
	case f.OutMl == 0:
		return nil, refuse(fault.BadNumber, "out", "Nothing came out: then nothing was bled or drained.",
			"Read the bottle, in millilitres or quarts.")
	case !inside(f.OutMl):
		return nil, refuse(fault.BadNumber, "out", "That much does not come out.",
			"Read the bottle, in millilitres or quarts.")
	case !inside(f.InMl):
		return nil, refuse(fault.BadNumber, "in", "That much does not go in.", "Read the bottle, in millilitres or quarts.")
	case f.InMl+lostMl < f.OutMl:
		return nil, refuse(fault.Order, "in",
			fmt.Sprintf("%s came out and only %s went in.", unit.Volume(f.OutMl), unit.Volume(f.InMl)),
			"Fill up what has left, then write down both.")
	case f.Spec == "" || len(f.Spec) > maxSign:
		return nil, refuse(fault.Missing, "spec", "It is not said what went in.",
			"Write what stands on the can, as the maker asks for it.")
	case !slices.Contains(FluidColours, f.Colour):
		return nil, refuse(fault.Missing, "colour", "It is not said how it looked.", "Choose what the bottle shows.")
	}
	return f, nil
}

func (s *State) applyFluidBooked(e Event, b record.FluidBooked) {
	s.Fluids = append(slices.Clip(s.Fluids), Booked{b, e.By, e.At})
}

// FluidAt is what was booked last at a step; nil where nothing was.
func (s *State) FluidAt(id operation.StepID) *Booked {
	for i := range slices.Backward(s.Fluids) {
		if s.Fluids[i].Step == string(id) {
			return &s.Fluids[i]
		}
	}
	return nil
}

// darkFluids advises the change of each fluid that looked spent, once.
func (s *State) darkFluids() []record.FollowUp {
	var out []record.FollowUp
	for _, f := range s.Fluids {
		advice := record.FollowUp{Kind: "advice", Title: unit.Capital(f.Fluid) + " was " + f.Colour + ": change it all"}
		if spent := f.Colour == "dark" || f.Colour == "milky"; spent && !slices.Contains(out, advice) {
			out = append(out, advice)
		}
	}
	return out
}

// booked asks for the account of a step at which fluid leaves. A stream that still has its
// bubbles is not the end of bleeding.
func (s *State) booked(st *plan.Step) error {
	if st.Books == "" {
		return nil
	}
	switch f := s.FluidAt(st.ID); {
	case f == nil:
		return refuse(fault.Missing, "out", "It is not written down what came out and what went in.",
			"Read the bottle and the can, and write down both.")
	case f.Air:
		return refuse(
			fault.Order,
			"air",
			"The stream still had bubbles.",
			"Bleed on until it is steady, and write down what more came out. One that keeps its bubbles: bleed the whole "+
				"system.",
		)
	}
	return nil
}

// maxStrokes of a pedal are more than anybody pumps before looking for the fault.
const maxStrokes = 60

// pumped asks for the strokes a pedal took until it was firm.
func (s *State) pumped(st *plan.Step, strokes int) error {
	if st.Proves != operation.ProvesPedal {
		return nil
	}
	if strokes < 1 || strokes > maxStrokes {
		return refuse(fault.Missing, "strokes", "The strokes are not counted.",
			fmt.Sprintf("Pump until it is high and firm, and say how many strokes that took, 1 to %d.", maxStrokes))
	}
	return nil
}

// AsksOil says that a step reads a level that means something at a temperature only.
func (s *State) AsksOil(st *plan.Step) bool {
	return st.Proves == operation.ProvesOilLevel && !s.Plan.GearOil.Any()
}

// inWindow asks for the temperature at which a level was read: outside its window the oil
// stands higher or lower than it will.
func (s *State) inWindow(st *plan.Step, tempC float64) error {
	if !s.AsksOil(st) {
		return nil
	}
	w := s.Plan.GearOil
	between := fmt.Sprintf("%g to %g °C", w.LowC, w.HighC)
	switch {
	case tempC == 0:
		return refuse(fault.Missing, "temp", "The temperature of the oil is not said.",
			"Read it at the pan: the level counts at "+between+".")
	case tempC < w.LowC:
		return refuse(fault.Order, "temp", "The oil is too cold: its level counts at "+between+".",
			"Let the engine run on, and read it again.")
	case tempC > w.HighC:
		return refuse(fault.Order, "temp", "The oil is too warm: its level counts at "+between+".",
			"Close the plug, let it cool, and read it again.")
	}
	return nil
}
