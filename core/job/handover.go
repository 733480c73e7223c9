package job

import (
	"slices"
	"strings"
	"time"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/record"
	"lugtak/core/vehicle"
)

// Handed is a corner, or the whole job, in somebody's hand.
type Handed struct {
	record.HandedOver
	By string
	At time.Time
}

// HandOver gives a corner, or the whole job where none is named, to somebody else.
type HandOver struct{ record.HandedOver }

// maxHandNote bounds what is told with a hand-over, in bytes.
const maxHandNote = 400

func (s *State) decideHandOver(_ Meta, b HandOver) (record.Body, error) {
	h := b.HandedOver
	h.To, h.Note = strings.TrimSpace(h.To), strings.TrimSpace(h.Note)
	switch {
	case !s.HasPlan():
		return nil, refuse(fault.Missing, "plan", "Nothing is planned yet, so there is nothing to hand over.",
			"Plan the work first.")
	case h.To == "" || len(h.To) > maxSign:
		return nil, refuse(fault.Missing, "to", "It is not said who takes it over.", "Choose one of the shop.")
	case len(h.Note) > maxHandNote:
		return nil, refuse(fault.TooLong, "note", "That is more than fits.", "Tell it in a line or two.")
	case h.Corner != "" && !slices.Contains(s.Plan.Corners(), vehicle.Corner(h.Corner)):
		return nil, refuse(fault.BadChoice, "corner", "No step of the plan is done there.",
			"Choose a corner of the plan, or the whole job.")
	}
	if err := s.attended("stands"); err != nil && !h.Stands {
		return nil, err
	}
	return h, nil
}

func (s *State) applyHandedOver(e Event, b record.HandedOver) {
	at := vehicle.Corner(b.Corner)
	others := slices.DeleteFunc(slices.Clone(s.Handed), func(h Handed) bool {
		return at == "" || vehicle.Corner(h.Corner) == at
	})
	s.Handed = append(others, Handed{b, e.By, e.At})
}

// HandedAt is in whose hand a step is: its corner's, else the whole job's; nil where nothing
// was handed over.
func (s *State) HandedAt(step *plan.Step) *Handed {
	var whole *Handed
	for i := range s.Handed {
		h := &s.Handed[i]
		switch {
		case h.Corner == "":
			whole = h
		case vehicle.Corner(h.Corner) == step.Corner:
			return h
		}
	}
	return whole
}

// NextFor is the step for one person to do now: as Next, but what is in another's hand comes
// only when nothing else is left.
func (s *State) NextFor(who string) operation.StepID {
	return s.next(func(step *plan.Step) bool {
		h := s.HandedAt(step)
		return h != nil && h.To != who
	})
}
