package job

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"lugtak/core/fault"
	"lugtak/core/inspect"
	"lugtak/core/record"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
)

// Due is what is owed after the signature: when, and whether it was closed.
type Due struct {
	record.FollowUp
	No     int       // in the list that was signed for
	AtKM   int       // on the odometer; 0 where no distance is set
	At     time.Time // zero where no day is set
	Closed *ClosedDue
}

// ClosedDue is the small record a follow-up ends with.
type ClosedDue struct {
	record.FollowUpClosed
	By string
	At time.Time
}

// Overdue says that a day has come; none is never.
func Overdue(day, now time.Time) bool { return !day.IsZero() && !now.Before(day) }

// Dues lists what is owed after the signature; nothing of an open job.
func (s *State) Dues() []Due {
	if s.Signature == nil {
		return nil
	}
	var out []Due
	for i, f := range s.FollowUps() {
		d := Due{FollowUp: f, No: i + 1}
		if f.KM > 0 {
			d.AtKM = s.OdometerKM + f.KM
		}
		if f.Days > 0 {
			d.At = s.Signature.At.AddDate(0, 0, f.Days)
		}
		for k := range s.ClosedDues {
			if s.ClosedDues[k].No == d.No {
				d.Closed = &s.ClosedDues[k]
			}
		}
		out = append(out, d)
	}
	return out
}

// CloseFollowUp ends one with its own small record: done with what was found, or dropped
// with why.
type CloseFollowUp struct {
	No         int
	OdometerKM int
	Found      string // the figure, what was seen; or why it is dropped
	Dropped    bool
	Sheet      string // of an alignment: wheel, angle, before, after
}

// alignmentDue is the kind of what is owed with an alignment sheet.
const alignmentDue = "alignment"

// Aligns says that an alignment sheet comes with it.
func (d Due) Aligns() bool { return d.Kind == alignmentDue }

func (s *State) decideCloseFollowUp(_ Meta, b CloseFollowUp) (record.Body, error) {
	i := slices.IndexFunc(s.Dues(), func(d Due) bool { return d.No == b.No })
	if i < 0 {
		return nil, refuse(fault.Missing, "no", "Nothing like that is owed.", "Open the list of what is due again.")
	}
	d := s.Dues()[i]
	if d.Closed != nil {
		return nil, refuse(fault.Order, "no", "That was closed by "+d.Closed.By+" already.", "Nothing to do.")
	}
	if !b.Dropped && b.OdometerKM < s.OdometerKM {
		return nil, refuse(fault.OutOfRange, "odometer", "The odometer shows less than when the job began.",
			"Read it again, in km.")
	}
	if b.OdometerKM < 0 || b.OdometerKM > maxOdometer {
		return nil, refuse(fault.OutOfRange, "odometer", "No vehicle has gone that far.", "Read it again, in km.")
	}
	sheet, err := inspect.ReadSheet(b.Sheet)
	switch {
	case err != nil:
		return nil, err
	case len(sheet) > 0 && !d.Aligns():
		return nil, refuse(fault.BadChoice, "sheet", "No alignment is owed there.", "Put the sheet to the alignment.")
	case len(sheet) == 0 && d.Aligns() && !b.Dropped:
		return nil, refuse(fault.Missing, "sheet", "The alignment has no sheet.",
			"Write its angles before and after, or drop it with the reason.")
	case d.Aligns() && !b.Dropped && !slices.ContainsFunc(sheet, func(a inspect.Angle) bool { return a.What == "toe" }):
		return nil, refuse(fault.Missing, "sheet", "The sheet has no toe: what was moved is not on it.",
			"Write toe before and after for each wheel that was set.")
	case len(sheet) > 0 && trimmed(b.Found) == "":
		b.Found = fmt.Sprintf("sheet of %d angles", len(sheet))
	}
	if err := reason("found", &b.Found); err != nil {
		return nil, err
	}
	if err := d.looked(s.OdometerKM, b); err != nil {
		return nil, err
	}
	return record.FollowUpClosed{
		No:         b.No,
		Title:      d.Title,
		OdometerKM: b.OdometerKM,
		Found:      b.Found,
		Dropped:    b.Dropped,
		Sheet:      each(sheet, func(a inspect.Angle) record.Angle { return record.Angle(a) }),
	}, nil
}

// ToeFound is what turns and lengths foretold of one wheel's toe, beside what the sheet found
// before anything was set: against where it was set, which is where it stood before the work
// if it had been aligned then.
type ToeFound struct {
	Corner         vehicle.Corner
	Foretold, Sure float64 // degrees, and one standard error
	Found          float64
}

// twice is how many standard errors apart two figures may lie by chance.
const twice = 2

// Agrees says that the sheet found what was foretold.
func (f ToeFound) Agrees() bool { return math.Abs(f.Found-f.Foretold) <= twice*f.Sure }

// ToesFound holds an alignment sheet against what was counted on the tie rods.
func (s *State) ToesFound(sheet []record.Angle) []ToeFound {
	var out []ToeFound
	for _, t := range s.Turns() {
		if !t.Known {
			continue
		}
		for _, a := range sheet {
			if a.What == "toe" && a.Wheel == string(t.Corner) {
				out = append(out, ToeFound{t.Corner, t.ToeDeg, t.ToeSure, a.Before - a.After})
			}
		}
	}
	return out
}

// settled is the share of its distance after which what settles has mostly done so (common
// practice: within the first fifty of a hundred kilometres).
const settled = 0.5

// looked refuses to close what is owed for a distance before most of it was driven, or
// without a figure: nobody would know later what was looked at.
func (d Due) looked(start int, b CloseFollowUp) error {
	switch gone := b.OdometerKM - start; {
	case b.Dropped || d.KM == 0:
		return nil
	case float64(gone) < settled*float64(d.KM):
		return refuse(fault.Order, "odometer",
			fmt.Sprintf("It has not gone far enough: %s of %s.", unit.Whole(gone), unit.Kilometres(d.KM)),
			"Look when it has settled, or drop it with the reason.")
	case !strings.ContainsAny(b.Found, "0123456789"):
		return refuse(fault.Missing, "found", "There is no figure in what was found.",
			"Write what the tool stood at, and what moved.")
	}
	return nil
}

func (s *State) applyFollowUpClosed(e Event, b record.FollowUpClosed) {
	s.ClosedDues = append(slices.Clip(s.ClosedDues), ClosedDue{b, e.By, e.At})
}
