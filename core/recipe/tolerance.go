package recipe

import "lugtak/core/fault"

// A figure with as much to either side of it: 110 ± 8 Nm.

// toleranceAhead takes the sign of a tolerance, and the word before it.
func (p *parser) toleranceAhead() bool {
	mark := p.pos
	p.sign(",", ";")
	if !p.phrase("with a tolerance of", "tolerance of", "tolerance") {
		p.pos = mark
	}
	if p.sign("±", "+/-", "+-") || p.phrase("plus or minus") {
		return true
	}
	p.pos = mark
	return false
}

// tolerated takes what stands behind ±, in the figure's unit or in parts of a hundred.
func (f *figure) tolerated() (reads, error) {
	p, v := f.parser, f.st.A
	b, ok, err := p.beside()
	if err != nil {
		return nil, err
	}
	if !ok || f.st.Form != Exact {
		return nil, p.fault(p.pos, fault.Missing, "The tolerance is missing after ±.", "Write it as 110 ± 8 Nm.")
	}
	if p.sign("%", "percent", "per cent") {
		b = v * b / 100
		if !f.has {
			if f.u, f.has, err = p.takeUnit(); err != nil {
				return nil, err
			}
		}
	} else if err := f.ofTolerance(b); err != nil {
		return nil, err
	}
	if b >= v {
		return nil, p.fault(f.col, fault.BadRecipe, "The tolerance is not smaller than the figure.",
			"Write it as 110 ± 8 Nm.")
	}
	f.st.Form, f.st.B = Tolerance, b
	return f.behind, nil
}

// ofTolerance takes the unit of a tolerance, which is its figure's.
func (f *figure) ofTolerance(b float64) error {
	u2, has2, err := f.takeUnit()
	switch {
	case err != nil:
		return err
	case f.has1 && has2 && f.u1 != u2:
		return f.fault(f.col, fault.TwoReadings, "The figure and its tolerance are in two units.", "Write both in one unit.")
	case has2:
		f.u, f.has = u2, true
		return nil
	}
	return f.tornPoint(b, f.u.name)
}
