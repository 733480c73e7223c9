// Package shop is the shop in use: what it knows, and the rules by which that changes, for
// pages, scripts, lists, the chain and the command line alike.
package shop

import (
	"context"
	"slices"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/record"
	"lugtak/core/vehicle"
	"lugtak/library"
	"lugtak/store"
)

// Shop is a shop's file with the library it works by.
type Shop struct {
	Store   *store.Store
	Library *library.Library // with what was put on the Shelf
}

// Pattern is a sheet with the figures the shop has corrected.
func (s Shop) Pattern(ctx context.Context, id string) (vehicle.Pattern, error) {
	p, ok := s.Library.Pattern(id)
	if !ok {
		return p, fault.New("not_found", "pattern", "There is no pattern “"+id+"”.", "Choose one of the Shelf.")
	}
	done, err := s.Store.Corrections(ctx, id)
	return p.With(done), err
}

// Correct corrects figures of sheets, all or none, and tells the open jobs. Each is held against
// its sheet as those before it leave it, and one a life hangs on is read by two people of this
// shop. Faults name the field.
func (s Shop) Correct(ctx context.Context, id record.EventID, list []vehicle.Correction) error {
	if done, err := s.Store.Acted(ctx, id); err != nil {
		return err
	} else if !done { // a repeat is answered by the journal
		if err := s.check(ctx, list); err != nil {
			return err
		}
	}
	return s.Store.CorrectAll(ctx, id, list)
}

func (s Shop) check(ctx context.Context, list []vehicle.Correction) error {
	people, err := s.Store.People(ctx)
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
		if s.Library.ByTwo(c.Joint) {
			if err := readByTwo(*c); err != nil {
				return err
			}
			if !writes(people, c.By) || !writes(people, c.Second) {
				return fault.New(job.CodeRole, "second", "Who reads a figure a life hangs on works in this shop.",
					"Have two people of the shop enter it.")
			}
		}
		sheets[c.Pattern] = sheet.With([]vehicle.Correction{*c})
	}
	return nil
}

// readByTwo refuses a figure a life hangs on that one person read, under however many names.
func readByTwo(c vehicle.Correction) error {
	switch {
	case c.Second == "":
		return fault.New(job.CodeMissing, "second", "A life hangs on this figure: a second person reads it too.",
			"Have a colleague enter name and PIN.")
	case store.SameName(c.By, c.Second):
		return errSameSecond
	}
	return nil
}

var errSameSecond = fault.New(job.CodeChoice, "second", "The second person is another person.",
	"Have a colleague enter name and PIN.")

// writes says that somebody of that name is in the shop and no reader.
func writes(people []listing.Person, name string) bool {
	return slices.ContainsFunc(people, func(p listing.Person) bool {
		return p.Name == name && p.Active && p.Role != job.Reader
	})
}

// CheckFigure refuses a figure of another shop of the chain that this shop's own rules would.
func (s Shop) CheckFigure(ctx context.Context, c vehicle.Correction) error {
	p, err := s.Pattern(ctx, c.Pattern)
	if err != nil {
		return err
	}
	if err := p.Correct(&c); err != nil {
		return err
	}
	if s.Library.ByTwo(c.Joint) {
		return readByTwo(c)
	}
	return nil
}
