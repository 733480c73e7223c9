package shop

import (
	"context"
	"fmt"

	"lugtak/core/fault"
	"lugtak/core/listing"
	"lugtak/core/record"
	"lugtak/core/vehicle"
)

// KeepAccess keeps what a joint of a job's vehicle took to reach, for whoever opens it next on such a vehicle.
func (s *Shop) KeepAccess(ctx context.Context, id record.EventID, a vehicle.Access) error {
	if !s.Library().Knows(a.Joint) {
		return fault.New(fault.Missing, "joint", "There is no such joint.", "Choose one of the plan.")
	}
	if err := a.Check(); err != nil {
		return err
	}
	return s.Store.KeepAccess(ctx, id, a)
}

// LastTime says what a joint of a sheet took: by the newest signed job that opened it, and in the words somebody added.
// It is empty where nobody knows. Job is left out, as it is the one at hand.
func (s *Shop) LastTime(ctx context.Context, sheet, joint, job string) (out []string, err error) {
	was, err := s.LastOpened(ctx, sheet, joint, job)
	if err != nil {
		return nil, err
	}
	if was != (listing.Opened{}) {
		out = append(out, openedWords(was))
	}
	said, err := s.Access(ctx, sheet)
	for i := len(said) - 1; i >= 0; i-- {
		if a := said[i]; a.Joint == joint {
			return append(out, fmt.Sprintf("%s (%s, %s)", a.Says(), a.By, a.At.Format("2 Jan 2006"))), err
		}
	}
	return out, err
}

func openedWords(o listing.Opened) string {
	says := fmt.Sprintf("%s, %s", o.Fleet, o.At.Format("2 Jan 2006"))
	if o.Minutes > 0 {
		says += fmt.Sprintf(": %.0f min", max(1, o.Minutes))
	}
	if o.Tool != "" {
		says += ", " + o.Tool
	}
	if o.Stuck != "" {
		says += ", " + o.Stuck
	}
	return says
}
