package shop

import (
	"context"
	"fmt"
	"strings"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/plan"
	"lugtak/core/record"
	"lugtak/core/vehicle"
	"lugtak/library"
)

var errNoExercise = fault.New(fault.NotFound, "exercise", "There is no such exercise.",
	"Choose one of the practice bay.")

// layShelf lays the files the shop has added over the library. One that no longer fits is a fault on the
// Shelf and stops nothing.
func (s *Shop) layShelf(ctx context.Context) error {
	files, err := s.Files(ctx)
	if err != nil {
		return err
	}
	lib := s.Library()
	for _, f := range files {
		next, _, faults := lib.Take(f.Kind, f.Text)
		if len(faults) > 0 {
			lib = lib.With(faults)
			continue
		}
		lib = next
	}
	set, err := s.ShopSet(ctx)
	if err != nil {
		return err
	}
	if set != nil {
		lib = lib.As(*set)
	}
	stock, err := s.Stock(ctx)
	if err != nil {
		return err
	}
	for _, b := range stock {
		lib = lib.Stocked(b)
	}
	s.know(lib)
	return nil
}

// Bounds of what a shop says of itself.
const (
	maxShopName = 80
	maxContact  = 160
	maxCurrency = 12
	maxRate     = 1e6
)

// SetShop keeps what the shop decides for itself. Its fault names the field.
func (s *Shop) SetShop(ctx context.Context, id record.EventID, by string, role job.Role, b record.ShopSet) error {
	for _, text := range []*string{&b.Name, &b.Contact, &b.Currency} {
		*text = strings.TrimSpace(*text)
	}
	switch {
	case role != job.Foreman:
		return fault.New(fault.Role, "name", "Only a foreman decides for the shop.", "Ask the foreman.")
	case b.Name == "":
		return fault.New(fault.Missing, "name", "The shop has no name.", "Write what stands on its papers.")
	case len([]rune(b.Name)) > maxShopName || len([]rune(b.Contact)) > maxContact:
		return fault.New(fault.TooLong, "name", "That is too long for the head of a paper.", "Shorten name and contact.")
	case b.Unit != "Nm" && b.Unit != "ft-lb":
		return fault.New(fault.BadChoice, "unit", "It is not said which unit stands first.", "Choose N·m or ft·lb.")
	case len([]rune(b.Currency)) > maxCurrency:
		return fault.New(fault.TooLong, "currency", "That is no name of a currency.", "Write it as EUR or crowns.")
	case b.Rate < 0 || b.Rate > maxRate:
		return fault.New(fault.OutOfRange, "rate", "No hour costs that.", "Write what an hour of work costs.")
	case b.Rate > 0 && b.Currency == "":
		return fault.New(fault.Missing, "currency", "A price without its currency says nothing.",
			"Write the currency, or leave the rate out.")
	}
	if err := s.Store.SetShop(ctx, id, by, s.Now(), b); err != nil {
		return err
	}
	s.know(s.Library().As(b))
	return nil
}

// know works by a library from now on.
func (s *Shop) know(lib *library.Library) {
	s.known.Store(lib)
	s.offered.Clear()
}

// AddFile puts a file on the Shelf. Every figure of it is read by two, as each of them would be.
func (s *Shop) AddFile(ctx context.Context, id record.EventID, f File) error {
	if err := twoPeople(f.By, f.Second, "Every figure of the file counts: a second person reads it too."); err != nil {
		return err
	}
	next, _, faults := s.Library().Take(f.Kind, f.Text)
	if len(faults) > 0 {
		return fault.New(fault.BadFile, "text", faults[0].Detail, faults[0].Remedy)
	}
	if err := s.Store.AddFile(ctx, id, f); err != nil {
		return err
	}
	s.know(next)
	return nil
}

// TakeFile takes a file that another shop of the chain has put on its Shelf, where two people there did.
func (s *Shop) TakeFile(ctx context.Context, id record.EventID, from Source, b record.FileShelved) error {
	if err := twoPeople(from.By, b.Second, "No second person is named of the file."); err != nil {
		return err
	}
	if err := s.Store.TakeFile(ctx, id, nameOf(from), from.From, from.At, b); err != nil {
		return err
	}
	return s.layShelf(ctx)
}

// OffersOf is what can be ordered on the vehicle of a job, as it is built; pat is its sheet.
func (s *Shop) OffersOf(ctx context.Context, st *job.State, pat vehicle.Pattern) ([]plan.Task, error) {
	seen, err := s.Built(ctx, st)
	return s.Offers(pat.As(seen)), err
}

// Offers is what can be ordered on a pattern; it is reckoned once for each sheet and way it is built.
func (s *Shop) Offers(p vehicle.Pattern) []plan.Task {
	type key struct {
		id      string
		version int
		joints  int
		traits  string
	}
	k := key{p.ID, p.Version, len(p.Spec), fmt.Sprint(p.Traits)} // maps are told in the order of their keys
	if o, ok := s.offered.Load(k); ok {
		return o.([]plan.Task)
	}
	out := s.Library().Offers(p)
	s.offered.Store(k, out)
	return out
}
