package job

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"lugtak/core/fault"
	"lugtak/core/record"
	"lugtak/core/unit"
)

// Told is what the owner was told, and what the owner said to it.
type Told struct {
	record.OwnerTold
	By string
	At time.Time
}

// Says is what the owner was told and answered, in a line.
func (t Told) Says() string {
	says := fmt.Sprintf("%s to %s", unit.HoursMinutes(t.LowMin), unit.HoursMinutes(t.HighMin))
	if t.PriceHigh > 0 { // where the shop has set what work costs
		says += fmt.Sprintf(", %.0f to %.0f %s", t.PriceLow, t.PriceHigh, t.Currency)
	}
	says += ": "
	if t.Agreed {
		says += "agreed"
	} else {
		says += "did not agree"
	}
	if t.Said != "" {
		says += ", “" + t.Said + "”"
	}
	return says
}

// WorkMin is the hands' time the kept steps took, minutes.
func (s *State) WorkMin() float64 {
	sum := 0.0
	for _, times := range s.Took() {
		for _, m := range times {
			sum += m
		}
	}
	return sum
}

// TellOwner keeps what the owner was told the work takes and costs, as the plan stood.
type TellOwner struct{ record.OwnerTold }

// maxSaid bounds what an owner said, in bytes.
const maxSaid = 400

func (s *State) decideTellOwner(_ Meta, b TellOwner) (record.Body, error) {
	t := b.OwnerTold
	t.Said = strings.TrimSpace(t.Said)
	switch {
	case !s.HasPlan():
		return nil, refuse(fault.Missing, "plan", "Nothing is planned yet, so there is nothing to tell.",
			"Plan the work first.")
	case len(t.Said) > maxSaid:
		return nil, refuse(fault.TooLong, "said", "That is more than fits.", "Say it in a line or two.")
	case !t.Agreed && t.Said == "":
		return nil, refuse(fault.Missing, "said", "The owner did not agree, and what the owner wants is not said.",
			"Write down what the owner said: leave out, wait, ask again.")
	case t.LowMin < 0 || t.LikelyMin < t.LowMin || t.HighMin < t.LikelyMin || t.PriceHigh < t.PriceLow:
		return nil, refuse(fault.BadChoice, "minutes", "The range is not from low to high.",
			"Reload the plan and tell it from there.")
	}
	return t, nil
}

func (s *State) applyOwnerTold(e Event, b record.OwnerTold) {
	s.Told = append(slices.Clip(s.Told), Told{b, e.By, e.At})
}
