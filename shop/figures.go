package shop

import (
	"context"
	"slices"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/record"
	"lugtak/core/vehicle"
	"lugtak/store"
)

// Correct corrects figures of sheets, all or none, and tells the open jobs. Each is held against
// its sheet as those before it leave it, and one a life hangs on is read by two people of this
// shop. Faults name the field.
func (s *Shop) Correct(ctx context.Context, id record.EventID, list []vehicle.Correction) error {
	if done, err := s.Acted(ctx, id); err != nil {
		return err
	} else if !done { // a repeat is answered by the journal
		if err := s.check(ctx, list); err != nil {
			return err
		}
	}
	return s.Store.CorrectAll(ctx, id, list)
}

func (s *Shop) check(ctx context.Context, list []vehicle.Correction) error {
	people, err := s.People(ctx)
	if err != nil {
		return err
	}
	sheets := map[string]vehicle.Pattern{}
	for i := range list {
		c := &list[i]
		sheet, read := sheets[c.Pattern]
		if !read {
			if sheet, err = s.Pattern(ctx, c.Pattern); err != nil {
				return err
			}
		}
		if err := sheet.Correct(c); err != nil {
			return err
		}
		if s.Library().ByTwo(c.Joint) {
			if err := readByTwo(*c); err != nil {
				return err
			}
			if !writes(people, c.By) || !writes(people, c.Second) {
				return fault.New(fault.Role, "second", "Who reads a figure a life hangs on works in this shop.",
					"Have two people of the shop enter it.")
			}
		}
		sheets[c.Pattern] = sheet.With([]vehicle.Correction{*c})
	}
	return nil
}

// readByTwo refuses a figure a life hangs on that one person read, under however many names.
func readByTwo(c vehicle.Correction) error {
	return twoPeople(c.By, c.Second, "A life hangs on this figure: a second person reads it too.")
}

// twoPeople refuses what one person did where two are wanted.
func twoPeople(by, second, why string) error {
	switch {
	case second == "":
		return fault.New(fault.Missing, "second", why, "Have a colleague enter name and PIN.")
	case store.SameName(by, second):
		return errSameSecond
	}
	return nil
}

var errSameSecond = fault.New(fault.BadChoice, "second", "The second person is another person.",
	"Have a colleague enter name and PIN.")

// writes says that somebody of that name is in the shop and no reader.
func writes(people []listing.Person, name string) bool {
	return slices.ContainsFunc(people, func(p listing.Person) bool {
		return p.Name == name && p.Active && p.Role != job.Reader
	})
}

// TakeFigure takes a figure that another shop of the chain has corrected, and tells the open jobs that use it.
// It is refused where this shop's own rules would refuse it: a joint its sheet has not, a figure that cannot
// be read, one a life hangs on that a single person approved.
func (s *Shop) TakeFigure(ctx context.Context, id record.EventID, from Source, b record.FigureCorrected) error {
	p, err := s.Pattern(ctx, b.Pattern)
	if err != nil {
		return err
	}
	c := vehicle.Correction{
		Pattern: b.Pattern,
		Joint:   b.Joint,
		Variant: b.Variant,
		Recipe:  b.Recipe,
		Source:  b.Source,
		Why:     b.Why,
		Second:  b.Second,
		Shop:    from.From,
		By:      from.By,
		At:      from.At,
	}
	if err := p.Correct(&c); err != nil {
		return err
	}
	if s.Library().ByTwo(c.Joint) {
		if err := readByTwo(c); err != nil {
			return err
		}
	}
	c.By = nameOf(from)
	return s.Store.Correct(ctx, id, c)
}

// nameOf is somebody of another shop: nobody takes them for somebody of this one.
func nameOf(from Source) string { return from.By + ", " + from.From }
