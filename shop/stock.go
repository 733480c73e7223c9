package shop

import (
	"context"
	"slices"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/record"
	"lugtak/core/unit"
	"lugtak/core/wrench"
)

// Bounds of what a shop says it has.
const (
	maxSockets  = 400
	maxAdapters = 60
	maxPrice    = 1e6
)

// KeepStock keeps one list of what the shop has in place of the one before: its sockets, its adapters, what parts cost.
// Its faults name the field and, of a list, the row, from 1.
func (s *Shop) KeepStock(ctx context.Context, id record.EventID, by string, role job.Role, b record.StockKept) error {
	if role != job.Foreman {
		return fault.New(fault.Role, "what", "Only a foreman says what the shop has.", "Ask the foreman.")
	}
	b, wrong := s.CheckStock(b)
	for _, err := range wrong {
		if err != nil {
			return err
		}
	}
	if err := s.Store.KeepStock(ctx, id, by, s.Now(), b); err != nil {
		return err
	}
	s.know(s.Library().Stocked(b))
	return nil
}

// CheckStock writes a list in one form, and says of each row what is wrong with it; nil where nothing is.
func (s *Shop) CheckStock(b record.StockKept) (record.StockKept, []error) {
	var wrong []error
	row := func(err error) { wrong = append(wrong, err) }
	switch b.What {
	case record.StockSockets:
		var out []string
		for _, text := range b.Sockets {
			o, err := wrench.ParseOwn(text)
			row(err)
			if is := o.String(); err == nil && !slices.Contains(out, is) {
				out = append(out, is)
			}
		}
		b.Sockets = out
		if len(out) > maxSockets {
			row(fault.New(fault.TooLong, "sockets", "That is more than one crib holds.", "Leave out what nobody uses."))
		}
	case record.StockAdapters:
		names := map[string]bool{}
		b.Adapters = slices.Clone(b.Adapters)
		for i := range b.Adapters {
			a := wrench.Adapter(b.Adapters[i])
			err := wrench.CheckAdapter(&a)
			if err == nil && names[unit.Fold(a.Name)] {
				err = fault.New(fault.Exists, "name", "Two adapters are called "+a.Name+".", "Add what tells them apart.")
			}
			names[unit.Fold(a.Name)] = true
			a.ID = "a-" + unit.Fold(a.Name)
			b.Adapters[i] = record.Adapter(a)
			row(err)
		}
		if len(b.Adapters) > maxAdapters {
			row(fault.New(fault.TooLong, "adapters", "That is more than one crib holds.", "Leave out what nobody uses."))
		}
	case record.StockPrices:
		known := s.Library().PartKeys()
		seen := map[string]bool{}
		for _, p := range b.Prices {
			switch {
			case known[p.Part] == "":
				row(fault.New(fault.UnknownPart, "part", "No work of the library asks for a part “"+p.Part+"”.",
					"Take its key from the list of the parts."))
			case seen[p.Part]:
				row(fault.New(fault.Exists, "part", "The part “"+p.Part+"” is priced twice.", "Leave one out."))
			case !(p.Price >= 0 && p.Price <= maxPrice):
				row(fault.New(fault.OutOfRange, "price", "No part costs that.", "Write what it costs in the shop's money."))
			default:
				row(nil)
			}
			seen[p.Part] = true
		}
	default:
		row(fault.New(fault.BadChoice, "what", "There is no list of that kind.", "Say sockets, adapters or prices."))
	}
	return b, wrong
}
