package shop

import (
	"cmp"
	"context"
	"slices"

	"github.com/google/uuid"

	"lugtak/core/fault"
	"lugtak/core/record"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
	"lugtak/store"
)

// SheetOut is a sheet the shop itself began as a file that leaves it: how it is built, and the figures that stand, each
// with who read it. What readings differ on stays here. Where it is meant for a chain its other shops are offered it.
func (s *Shop) SheetOut(ctx context.Context, act record.EventID, id, by string, chain bool) ([]byte, error) {
	x, own, err := s.Sheet(ctx, id)
	if err != nil {
		return nil, err
	}
	if !own {
		return nil, fault.New(fault.BadChoice, "sheet", "Only a sheet the shop itself began leaves it.",
			"Take out one of your own; the others are files already.")
	}
	p, err := s.Pattern(ctx, id)
	if err != nil {
		return nil, err
	}
	jobs, err := s.Tightened(ctx, id)
	if err != nil {
		return nil, err
	}
	lib := s.Library()
	c := store.SheetContent{
		Shop: cmp.Or(lib.Shop.Name, "another shop"), Name: x.Name, Outline: x.Outline, Built: x.Built,
		Figures: []record.FigureOffered{},
	}
	for _, j := range lib.JointsOf(p) {
		sp := p.Spec[j.Spec]
		if sp.Unread() || len(sp.Differs) > 0 || len(sp.Readers) == 0 || sp.Source == "" {
			continue
		}
		c.Figures = append(c.Figures, record.FigureOffered{
			Joint:   j.Spec,
			Recipe:  sp.Recipe,
			Thread:  sp.Thread,
			Class:   sp.Class,
			Source:  sp.Source,
			Readers: sp.Readers,
			Jobs:    jobs[j.Spec],
		})
	}
	return s.SendSheet(ctx, act, id, c, by, s.Now(), chain)
}

// SheetFor is the model a sheet file is of here: the shop's own of that name, or one that begins with it. Its faults
// name the field.
func (s *Shop) SheetFor(ctx context.Context, f *store.SheetFile, by string) (x vehicle.Sheet, begins bool, err error) {
	all, err := s.Sheets(ctx)
	if err != nil {
		return x, false, err
	}
	i := slices.IndexFunc(all, func(o vehicle.Sheet) bool { return unit.Fold(o.Name) == unit.Fold(f.Name) })
	if i >= 0 {
		return all[i], false, nil
	}
	x = vehicle.Sheet{
		ID:      uuid.NewSHA1(uuid.Nil, []byte("sheet of "+f.Hash())).String(),
		Name:    f.Name,
		Outline: f.Outline,
		Built:   f.Built,
		By:      by,
		At:      s.Now(),
	}
	return x, true, s.mayBegin(ctx, &x)
}

// TakeSheet keeps what another shop has read of a model. It is offered where its joints are read, and nobody pulls by
// it before somebody has read it here. Shop is what that one is called here; empty for what it calls itself.
func (s *Shop) TakeSheet(ctx context.Context, id record.EventID, f *store.SheetFile, src Source, shop string) error {
	if done, err := s.Acted(ctx, id); err != nil || done {
		return err
	}
	x, begins, err := s.SheetFor(ctx, f, src.By)
	if err != nil {
		return err
	}
	return s.Store.TakeSheet(ctx, id, f, x, begins, src, cmp.Or(shop, f.Shop))
}
