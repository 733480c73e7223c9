package recipe

import (
	"math"
	"strings"
	"unicode"

	"lugtak/core/fault"
)

// again takes a torque that says the one before it once more in another unit, whatever parts them. Two that nearly
// agree, or have no more than a comma between, are two readings.
func (p *parser) again(start int, st Stage) (done bool, err error) {
	n := len(p.out)
	if n == 0 || p.out[n-1].Kind != Torque {
		return false, nil
	}
	before := p.out[n-1]
	if system(before.Unit) == system(st.Unit) {
		return false, nil
	}
	if same(before, st) {
		return true, p.equivalent(before)
	}
	mark, at := p.pos, p.before
	if err := p.equivalent(st); err == nil && p.pos > mark { // it says itself what it is in the other
		return false, nil
	}
	p.pos = mark
	if low, high := min(before.Target(), st.Target()), max(before.Target(), st.Target()); high > twice*low && !p.comma {
		return false, nil
	}
	f := fault.As(p.twoReadings(at, start, before, st))
	head := strings.TrimRight(string(p.src[:start]), " ,;")
	other := Stage{Kind: Torque, Form: Exact, Unit: "Nm", A: math.Round(10*st.Target()) / 10}
	f.Readings = append(f.Readings, head+"; "+other.amount()+string(p.src[p.pos:]))
	return false, f
}

// twice as much is no rounding of one figure on two scales, nor a slip of it.
const twice = 2

// system tells the units of one sheet from another's: N·m, pounds, kiloponds.
func system(unit string) string {
	switch unit {
	case "ft-lb", "in-lb":
		return "pound"
	case "kgf-m", "kgf-cm":
		return "kilopond"
	}
	return "newton"
}

// pairOf takes the second unit of two figures and two units, 60/44 N·m/ft·lb, where they say the same.
func (p *parser) pairOf(u spelled, has bool) bool {
	mark := p.pos
	if has && !u.angle && p.over[0] > 0 && p.sign("/") {
		other, ok := p.unit()
		a := Stage{Form: Exact, Unit: u.name, A: p.over[0]}
		b := Stage{Form: Exact, Unit: other.name, A: p.over[1]}
		if ok && !other.angle && other.slip == "" && system(u.name) != system(other.name) && same(a, b) {
			p.paired = p.over[0]
			return true
		}
	}
	p.pos = mark
	return false
}

// equivalent reads "(59 ft-lb)", "(1000 kgf·cm, 72 ft·lbf)" or "/ 59 ft-lb" after a torque and refuses it
// unless it says the same.
func (p *parser) equivalent(st Stage) error {
	for {
		mark := p.pos
		at := p.at
		if p.count() { // the next stage, in a bracket of its own
			p.pos = mark
			return nil
		}
		if p.words() {
			return nil
		}
		paren := p.sign("(")
		arrow := p.peek(0) == '=' && p.peek(1) == '>'
		if !paren && (arrow || !p.sign("/", "=", "≈")) {
			return p.orOther(st)
		}
		if p.sign("=", "≈"); p.sign(">") {
			return p.fault(mark, fault.TwoReadings, "An arrow that leads on, or an equals sign before a least figure.",
				"Write → before the next stage.")
		}
		if !paren && p.sign("+") {
			return p.strokes(mark)
		}
		for more := true; more; more = paren && p.sign(",", ";", "/") {
			if err := p.otherwise(st, at, mark); err != nil {
				return err
			}
		}
		if paren && !p.sign(")") {
			return p.fault(mark, fault.BadRecipe, "A bracket is opened and not closed.",
				"Close it, or leave the second figure out.")
		}
	}
}

// strokes refuses stages that stand with strokes between.
func (p *parser) strokes(mark int) error {
	f := p.fault(mark, fault.TwoReadings, "A stroke may part stages, or two ways of saying one.",
		"Part stages with a semicolon.")
	f.Readings = []string{strings.ReplaceAll(string(p.src), "/", "; ")}
	return f
}

// words says that the bracket ahead holds no figure: it is left to what comes behind the stage.
func (p *parser) words() bool {
	p.space()
	m := asideForm.FindStringSubmatch(string(p.low[p.pos:]))
	return m != nil && !figureForm.MatchString(m[1]) && strings.ContainsFunc(m[1], unicode.IsLetter)
}

// otherwise reads a figure that says the same as one before it.
func (p *parser) otherwise(st Stage, at, mark int) error {
	other, angle, err := p.figure(false)
	if err != nil {
		return err
	}
	if angle {
		p.sign(")")
		f := fault.As(p.twoReadings(at, mark, st, other))
		f.Readings = []string{p.with(mark, mark+1, " + "), p.with(mark, p.pos, "")}
		return f
	}
	if !same(st, other) {
		p.sign(")")
		f := fault.As(p.twoReadings(at, mark, st, other))
		f.Readings = append(f.Readings, strings.ReplaceAll(string(p.src), "/", "; "))
		return f
	}
	return nil
}

// orOther refuses "72 Nm or 72 ft-lb".
func (p *parser) orOther(st Stage) error {
	mark := p.pos
	at := p.at
	if p.matches("or more") > 0 || !p.phrase("or") {
		return nil
	}
	other, angle, err := p.figure(false)
	if err != nil {
		return err
	}
	if !angle && same(st, other) {
		return nil
	}
	return p.twoReadings(at, mark, st, other)
}

// same: within 2.5 %, or as much as rounding to the last place explains. A least figure
// says more than an exact one does.
func same(a, b Stage) bool {
	if b.Form == Minimum && a.Form != Minimum {
		return false
	}
	x, y := a.Target(), b.Target()
	most := math.Max(x, y)
	return math.Abs(x-y) <= math.Max(sameShare*most, math.Min(rounding*most, math.Max(a.half(), b.half())))
}

// rounding is the most by which a small figure may be off for being rounded to a whole.
const rounding = 0.06

// half is half a unit of the last place of a torque, N·m: what rounding it may have taken or given.
func (s Stage) half() float64 {
	place := 1.0
	for place > 0.01 && math.Abs(s.A/place-math.Round(s.A/place)) > 1e-6 {
		place /= 10
	}
	return place / 2 * torqueUnits[s.Unit].Nm()
}
