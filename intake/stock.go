package intake

import (
	"context"
	"strings"

	"lugtak/core/fault"
	"lugtak/core/record"
	"lugtak/core/unit"
	"lugtak/core/wrench"
)

// tools reads torque tools; they hang without a calibration, and are used once one is logged.
func (s Shop) tools(ctx context.Context, p *Preview) error {
	for _, r := range p.Rows {
		max, err1 := figure("max_nm", r.Cells[2])
		step, err2 := figure("step_nm", r.Cells[3])
		length, err3 := figure("length_mm", r.Cells[5])
		for _, err := range []error{err1, err2, err3} {
			if err != nil {
				p.fault(r.Line, err)
			}
		}
		p.Tools = append(p.Tools, wrench.Tool{
			Name:     r.Cells[0],
			Kind:     r.Cells[1],
			MaxNm:    max,
			StepNm:   step,
			Drive:    strings.TrimSuffix(r.Cells[4], " in"),
			LengthMM: length,
			Serial:   r.Cells[6],
		})
	}
	if !p.OK() {
		return nil
	}
	wrong, err := s.Shop.CheckTools(ctx, p.Tools)
	for i, w := range wrong {
		if w != nil {
			p.fault(p.Rows[i].Line, w)
		}
	}
	return err
}

// stock reads a list of what the shop has; it takes the place of the one before.
func (s Shop) stock(p *Preview) {
	b := record.StockKept{What: string(p.Kind)}
	for _, r := range p.Rows {
		switch p.Kind {
		case Sockets:
			o := wrench.Own{Size: r.Cells[0], Drive: strings.TrimSuffix(r.Cells[1], " in"), Kind: r.Cells[2]}
			b.Sockets = append(b.Sockets, o.String())
		case Adapters:
			a := record.Adapter{Name: r.Cells[0]}
			for i, to := range map[int]*float64{1: &a.LengthMM, 2: &a.AngleDeg, 3: &a.Flex} {
				v, err := figure(p.Columns[i], r.Cells[i])
				if err != nil && (r.Cells[i] != "" || i == 1) {
					p.fault(r.Line, err)
				}
				*to = v
			}
			b.Adapters = append(b.Adapters, a)
		case Prices:
			v, err := figure("price", r.Cells[1])
			if err != nil {
				p.fault(r.Line, err)
			}
			b.Prices = append(b.Prices, record.Price{Part: r.Cells[0], Price: v})
		}
	}
	var wrong []error
	p.Stock, wrong = s.Shop.CheckStock(b)
	for i, w := range wrong {
		if w != nil {
			p.fault(p.Rows[min(i, len(p.Rows)-1)].Line, w)
		}
	}
}

func figure(field, text string) (float64, error) {
	v, ok := unit.Figure(text)
	if !ok {
		return 0, fault.New(fault.BadNumber, field, "“"+text+"” is no figure.", "Write it as 25 or 0.5.")
	}
	return v, nil
}
