package intake

import (
	"context"
	"fmt"
	"strings"

	"lugtak/core/fault"
	"lugtak/shop"
)

// sheet reads what another shop has read of a model: each figure of a joint that is known here.
func (s Shop) sheet(ctx context.Context, p *Preview, text []byte) error {
	f, err := shop.ReadSheetFile(text)
	if fault.As(err) != nil {
		p.fault(0, err)
		return nil
	}
	if err != nil {
		return err
	}
	x, begins, err := s.SheetFor(ctx, f, s.By)
	if fault.As(err) != nil {
		p.fault(0, err)
		return nil
	}
	if err != nil {
		return err
	}
	trusted, _, err := s.Trusted(ctx, f.Key)
	if err != nil {
		return err
	}
	p.file = f
	p.Sheet = &SheetRead{Name: x.Name, Shop: f.Shop, Key: f.Fingerprint(), Trusted: trusted, Begins: begins}
	for i, o := range f.Figures {
		j, known := s.Library().JointOf(o.Joint)
		if !known {
			p.fault(0, fault.New(fault.Missing, fmt.Sprintf("figures.%d.joint", i+1),
				"No work here opens a joint “"+o.Joint+"”.", "Bring this program up to date, or have the figure left out."))
			continue
		}
		p.Sheet.Figures = append(p.Sheet.Figures,
			j.Title+": "+o.Recipe+", "+o.Source+", read by "+strings.Join(o.Readers, " and "))
	}
	return nil
}
