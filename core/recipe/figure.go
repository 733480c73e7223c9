package recipe

import (
	"fmt"
	"math"
	"strings"
	"unicode"

	"lugtak/core/fault"
	"lugtak/core/unit"
)

// figure reads one figure with its form and unit. With bareDegrees a number
// without a unit is taken as degrees ("+ 90"); otherwise it is refused.
func (p *parser) figure(bareDegrees bool) (Stage, bool, error) {
	f := &figure{parser: p, st: Stage{Form: Exact}, bareDegrees: bareDegrees}
	for state := f.bound; state != nil; {
		next, err := state()
		if err != nil {
			return f.st, f.angle, err
		}
		state = next
	}
	return f.st, f.angle, nil
}

// figure is a figure while it is read, from left to right: each state takes what it is about, and gives the next.
type figure struct {
	*parser
	st          Stage
	angle       bool
	bareDegrees bool

	first    spelled // the unit, where it stands before its figure
	hasFirst bool
	between  bool // "between" or "from" stood before it
	col, end int  // where it begins, and where its unit ends
	bare     bool // it is a fraction that stands alone
	u1       spelled
	has1     bool // it has a unit of its own
	u        spelled
	has      bool // and by what stands behind it
	bracket  bool // round its tolerance
}

// reads is a state: what is read next. It is nil where the figure is whole.
type reads func() (reads, error)

// bound takes the words before a figure that say which side of it is meant.
func (f *figure) bound() (reads, error) {
	p := f.parser
	f.first, f.hasFirst = p.unitFirst()
	switch {
	case p.sign(">=", "≥", "⩾", ">") || p.phrase("more than", "no less than", "not less than", "not under", "at least",
		"minimum of", "minimum", "min"):
		f.st.Form = Minimum
		p.sign(".", ":")
	case p.sign("~", "≈") || p.phrase("approximately", "approx", "about", "around", "circa", "ca"):
		f.st.Form = About
		p.sign(".")
	case p.sign("<=", "≤", "<") || p.phrase("no more than", "not more than", "do not exceed", "not to exceed",
		"not exceeding", "at most", "maximum of", "maximum", "max"):
		return nil, p.highest()
	}
	f.between = p.phrase("between", "from")
	return f.value, nil
}

// value takes the number itself, in digits or in words.
func (f *figure) value() (reads, error) {
	p := f.parser
	p.space()
	f.col = p.pos
	p.before, p.at = p.at, f.col
	v, words := p.wordNumber()
	if !words {
		var ok bool
		var err error
		if v, ok, err = p.number(); err != nil {
			return nil, err
		}
		if !ok {
			return nil, f.missing()
		}
	}
	f.st.A, f.bare = v, p.bare && !words
	p.phrase("of a", "a")
	return f.unit, nil
}

// missing is the fault of a place where a figure is expected and none stands.
func (f *figure) missing() error {
	p := f.parser
	if p.space(); p.pos >= len(p.src) {
		return p.fault(p.pos, fault.Missing, "A figure is missing here.", "Write it with its unit, as in 60 Nm or 90°.")
	}
	p.strays()
	return p.fault(p.pos, fault.BadRecipe, "“"+p.word()+"” is not understood here.",
		"Write a figure with its unit, as in 60 Nm or 90°; snug; back off; or next slot.")
}

// unit takes the figure's own unit, and the same figure in a second one where that stands beside it.
func (f *figure) unit() (next reads, err error) {
	p := f.parser
	if f.u1, f.has1, err = p.takeUnit(); err != nil {
		return nil, err
	}
	if !f.has1 && f.hasFirst {
		f.u1, f.has1 = f.first, true
		if err := p.tornPoint(f.st.A, ""); err != nil {
			return nil, err
		}
	}
	f.u, f.has = f.u1, f.has1
	if p.pairOf(f.u1, f.has1) {
		f.bare, p.over = false, [2]float64{}
		f.st.A = p.paired
	}
	if err := p.torn(f.col, f.st.A, f.bare, f.u1, f.has1, f.bareDegrees); err != nil {
		return nil, err
	}
	f.end = p.pos
	if f.bracket = p.sign("("); f.bracket && !p.tolerance() {
		p.pos-- // an equivalent, which the caller reads
		f.bracket = false
	}
	return f.spread, nil
}

// spread takes what makes a window of the figure: unequal tolerances, a ceiling, a second end, ±.
func (f *figure) spread() (reads, error) {
	p := f.parser
	plus, minus, u2, has2, err := p.unequal(f.st, f.u.angle || !f.has && f.bareDegrees)
	if err != nil {
		return nil, err
	}
	switch {
	case plus > 0 || minus > 0:
		f.st.Form, f.st.B, f.st.C = Unequal, plus, minus
		if !f.has {
			f.u, f.has = u2, has2
		}
	case f.st.Form == Minimum && p.ceiling(), f.st.Form == Exact && p.letterBetween():
		return f.ceiled()
	case p.rangeSign(f.between):
		return f.upperEnd, nil
	case p.toleranceAhead():
		return f.tolerated, nil
	}
	return f.behind, nil
}

// ceiled takes the highest a least figure may be: the figure is whole by it.
func (f *figure) ceiled() (_ reads, err error) {
	f.st, f.angle, err = f.upTo(f.col, f.st, f.st.A, f.u, f.has)
	return nil, err
}

// upperEnd takes the second end of a range.
func (f *figure) upperEnd() (reads, error) {
	p, v, u1 := f.parser, f.st.A, f.u1
	b, ok, err := p.beside()
	if err != nil {
		return nil, err
	}
	if !ok {
		return nil, p.fault(p.pos, fault.Missing, "The range has no end.", "Write both ends, as in 38–42 Nm.")
	}
	end := p.pos
	u2, has2, err := p.takeUnit()
	if err != nil {
		return nil, err
	}
	if f.has1 && !has2 && f.hasFirst {
		u2, has2 = u1, true
	}
	switch {
	case f.has1 && !u1.angle && (!has2 || u2.angle):
		return nil, p.dashed(f.col, end, v, b, u1)
	case !f.has1 && f.bare && has2 && u2.angle && !u2.turns: // 1/4 to 90°
		two := p.fault(f.col, fault.TwoReadings, "A fraction and degrees are no ends of one range.",
			"Write both in degrees, or both in turns.")
		two.Readings = []string{p.with(f.col, p.pos, plain(v)+" turn"), p.with(f.col, p.pos, plain(b)+"°")}
		return nil, two
	case f.has1 && has2 && u1 != u2:
		return nil, p.fault(f.col, fault.TwoReadings, "The ends of the range are in two units.", "Write both in one unit.")
	case f.st.Form != Exact || b <= v:
		return nil, p.fault(f.col, fault.BadRecipe, "A range runs from the lower to the higher figure.",
			"Write it as 38–42 Nm.")
	}
	if has2 {
		f.u, f.has = u2, true
	}
	f.st.Form, f.st.B = Range, b
	return f.behind, nil
}

// behind takes what stands after a figure and its window: the end of a bracket, and words that say which side is meant.
func (f *figure) behind() (next reads, err error) {
	p := f.parser
	if f.bracket && !p.sign(")") {
		return nil, p.fault(p.pos, fault.BadRecipe, "A bracket is opened and not closed.", "Close it, or leave it out.")
	}
	if f.bracket && !f.has {
		if f.u, f.has, err = p.takeUnit(); err != nil {
			return nil, err
		}
	}
	p.opened("minimum", "min")
	if f.st.Form == Exact && p.phrase("minimum", "min", "or more", "at least") {
		f.st.Form = Minimum
		if p.closed(); p.mostBehind() {
			return f.ceiled()
		}
	}
	p.opened("approximately", "approx")
	if f.st.Form == Exact && p.phrase("approximately", "approx") {
		f.st.Form = About
		p.closed()
	}
	return f.measured, nil
}

// measured gives a figure without a unit degrees, where those are meant, and puts it into the unit it is kept in.
func (f *figure) measured() (_ reads, err error) {
	p, v := f.parser, f.st.A
	if !f.has {
		if !f.bareDegrees {
			p.lacks = p.pos
			return nil, p.fault(f.col, fault.NoUnit,
				fmt.Sprintf("The figure %s has no unit: %s N·m is %s ft·lb, and %s ft·lb is %s N·m.", plain(v), plain(v),
					unit.Number(unit.Torque(v).FtLb(), 1), plain(v), unit.Number((unit.Torque(v)*unit.PoundFoot).Nm(), 1)),
				"Write the unit of the sheet after it.")
		}
		if err := p.ofWhat(f.col, f.end, v, f.bare, f.st.Form == Range); err != nil {
			return nil, err
		}
		f.u = spelled{name: "°", angle: true, degrees: 1}
	}
	if f.st, f.angle, err = p.scaled(f.col, f.st, f.u); err != nil {
		return nil, err
	}
	switch {
	case f.angle && !f.u.turns:
		p.phrase("turn") // a 45 degree turn
		return nil, p.tiny(f.col, f.st)
	case !f.angle:
		return nil, p.window(f.col, f.st)
	}
	return nil, nil
}

// unitFirst takes a unit that stands before its figure: N·m 60, (Nm): 60.
func (p *parser) unitFirst() (spelled, bool) {
	mark := p.pos
	paren := p.sign("(")
	u, ok := p.unit()
	if ok && !u.angle && u.slip == "" && (!paren || p.sign(")")) {
		p.sign(":", "=")
		if p.space(); unicode.IsDigit(p.peek(0)) {
			return u, true
		}
	}
	p.pos = mark
	return spelled{}, false
}

// letterBetween takes the letter of a window written as 100 Nm < T < 120 Nm.
func (p *parser) letterBetween() bool {
	mark := p.pos
	if p.sign("<=", "≤", "<") && p.phrase("torque", "ma", "t", "m") && p.sign("<=", "≤", "<") {
		return true
	}
	p.pos = mark
	return false
}

// mostBehind takes that the highest figure follows a least one: 55 Nm min / 65 Nm max.
func (p *parser) mostBehind() bool {
	mark := p.pos
	if p.sign("/", "-", ",", ";") {
		start := p.pos
		if _, ok, err := p.number(); ok && err == nil {
			p.unit()
			p.sign("(")
			if p.phrase("maximum", "max") {
				p.pos = start
				return true
			}
		}
	}
	p.pos = mark
	return false
}

// opened goes into a bracket that holds one of some words alone; closed leaves it.
func (p *parser) opened(words ...string) {
	mark := p.pos
	if p.sign("(") && p.phrase(words...) && (p.sign(")") || p.sign(".") && p.sign(")")) {
		p.pos = mark
		p.sign("(")
		return
	}
	p.pos = mark
}

func (p *parser) closed() {
	mark := p.pos
	if p.sign("."); !p.sign(")") {
		p.pos = mark
	}
}

// scaled puts a figure into the unit it is kept in.
func (p *parser) scaled(col int, st Stage, u spelled) (Stage, bool, error) {
	st.Unit = u.name
	k := 1.0
	switch {
	case u.angle:
		k = u.degrees
	case u.times > 0:
		k = u.times
	}
	st.A = round9(st.A * k)
	st.B = round9(st.B * k)
	st.C = round9(st.C * k)
	if st.narrow() {
		return st, false, p.fault(col, fault.BadRecipe, "The figure has no room to lie in.",
			"Write it as 110 ± 8 Nm or 38–42 Nm.")
	}
	return st, u.angle, p.bounds(col, st, u)
}

// beside takes the figure that stands beside the first: an end, a tolerance.
func (p *parser) beside() (float64, bool, error) {
	p.space()
	col := p.pos
	v, ok, err := p.number()
	if ok && p.lost {
		return 0, false, p.lostBlank(col)
	}
	return v, ok, err
}

// narrow says that a window was asked for, and rounds to none.
func (s Stage) narrow() bool {
	switch s.Form {
	case Tolerance:
		return s.B == 0
	case Unequal:
		return s.B+s.C == 0
	case Range:
		return s.B == s.A
	}
	return false
}

// tolerance says that what stands in a bracket is a tolerance.
func (p *parser) tolerance() bool {
	p.space()
	r := p.peek(0)
	return r == '+' || r == '-' || r == '±'
}

// mostLoose is the most a tolerance without a stroke may be, as a share: beyond it a
// number behind + may be an angle.
const mostLoose = 0.3

// unequal reads a tolerance that is not the same both ways, as in +10/−0. Behind an angle it
// has a stroke: without one it may be more angles.
func (p *parser) unequal(st Stage, angle bool) (plus, minus float64, u spelled, has bool, err error) {
	mark := p.pos
	none := func() (float64, float64, spelled, bool, error) {
		p.pos = mark
		return 0, 0, spelled{}, false, nil
	}
	if st.Form != Exact {
		return none()
	}
	up := p.sign("+")
	if !up && !p.sign("-") {
		return none()
	}
	first, ok, err := p.beside()
	if err != nil || !ok || p.bare { // a fraction is of a turn
		return none()
	}
	p.unit()
	stroke := p.sign("/")
	if !stroke && (angle || !p.sign(",") && (!up || first > mostLoose*st.A)) {
		return none()
	}
	second := "-"
	if !up {
		second = "+"
	}
	if !p.sign(second) && (!stroke || p.peek(0) != '0') { // +5/0
		return none()
	}
	last, ok, err := p.beside()
	if err != nil || !ok || p.bare {
		return none()
	}
	if u, has = p.unit(); !has {
		if err := p.tornPoint(last, ""); err != nil {
			return 0, 0, u, false, err
		}
	}
	if u.angle && !angle || u.slip != "" {
		return none()
	}
	plus, minus = first, last
	if !up {
		plus, minus = last, first
	}
	if minus >= st.A {
		return 0, 0, u, has, p.fault(mark, fault.BadRecipe, "The tolerance is not smaller than the figure.",
			"Write it as 100 +10/−0 Nm.")
	}
	return plus, minus, u, has, nil
}

// ceiling reads that an upper bound follows a lower one.
func (p *parser) ceiling() bool {
	mark := p.pos
	p.sign(",", ";")
	p.phrase("and", "but")
	if p.sign("<=", "≤") ||
		p.phrase("no more than", "not more than", "do not exceed", "not to exceed", "not exceeding", "at most",
			"maximum of", "maximum", "max", "up to") {
		p.sign(".", ":")
		return true
	}
	p.pos = mark
	return false
}

// upTo makes a range of a lower and an upper bound.
func (p *parser) upTo(col int, st Stage, low float64, u spelled, has bool) (Stage, bool, error) {
	high, ok, err := p.beside()
	if err != nil {
		return st, false, err
	}
	if !ok {
		return st, false, p.fault(p.pos, fault.Missing, "The upper bound is missing.", "Write both ends, as in 38–42 Nm.")
	}
	u2, has2, err := p.takeUnit()
	switch {
	case err != nil:
		return st, false, err
	case has && has2 && u != u2:
		return st, false, p.fault(col, fault.TwoReadings, "The bounds are in two units.", "Write both in one unit.")
	case has2:
		u, has = u2, true
	}
	if !has {
		return st, false, p.fault(col, fault.NoUnit, "The bounds have no unit.", "Write the unit of the sheet after them.")
	}
	if high <= low {
		return st, false, p.fault(col, fault.BadRecipe, "The upper bound is not above the lower.", "Write it as 38–42 Nm.")
	}
	p.opened("maximum", "max")
	if p.phrase("maximum", "max") {
		p.closed()
	}
	p.phrase("wide")
	st.Form, st.A, st.B = Range, low, high
	st, angle, err := p.scaled(col, st, u)
	if err == nil && angle {
		err = p.tiny(col, st)
	}
	return st, angle, err
}

// highest refuses an upper bound by itself. Behind a figure it may be a range.
func (p *parser) highest() error {
	f := p.fault(p.pos-1, fault.BadRecipe, "A highest figure alone does not say how tight.",
		"Give a range, as in 15–20 Nm.")
	p.sign(".", ":")
	n := len(p.out)
	high, ok, err := p.beside()
	if n == 0 || p.out[n-1].Kind != Torque || err != nil || !ok {
		return f
	}
	last := p.out[n-1]
	begin := p.begins[max(0, len(p.begins)-2)]
	f.Readings = []string{
		p.with(begin, len(p.src), plain(last.A)+"–"+plain(high)+" "+last.Unit),
		p.with(begin, len(p.src), last.amount()),
	}
	return f
}

func (p *parser) bounds(col int, st Stage, u spelled) error {
	low, _, high := st.figure()
	top := st.A
	if !math.IsInf(high, 1) {
		top = high
	}
	switch {
	case low <= 0 || st.A <= 0:
		return p.fault(col, fault.OutOfRange, "A figure of zero tightens nothing.", "Check the sheet.")
	case u.angle && top > maxAngle:
		return p.fault(col, fault.OutOfRange, "More than three turns is not a tightening angle.",
			"Check the figure and its unit.")
	case !u.angle && top > maxTorque:
		return p.fault(col, fault.OutOfRange, fmt.Sprintf("%s %s is beyond any hand tool.", plain(st.A), st.Unit),
			"Check the figure and its unit.")
	}
	return nil
}

func (p *parser) takeUnit() (spelled, bool, error) {
	col := p.pos
	p.space()
	word := p.word()
	u, ok := p.unit()
	if !ok && p.sign("(") { // 60 (Nm)
		if u, ok = p.unit(); !ok || u.slip != "" || !p.sign(")") {
			p.pos = col
			return spelled{}, false, nil
		}
	}
	if ok && u.slip != "" {
		f := p.fault(col, fault.UnknownUnit, "“"+strings.TrimSpace(word)+"” is not a torque.", "Did you mean "+u.slip+"?")
		for _, meant := range strings.Split(u.slip, " or ") {
			f.Readings = append(f.Readings, p.with(col, p.pos, " "+meant))
		}
		return u, false, f
	}
	return u, ok, nil
}

// rangeSign: a dash or "to" between two figures. "to" needs a figure after it,
// a dash too, so that "60 Nm - then" stays an error of its own.
func (p *parser) rangeSign(between bool) bool {
	mark := p.pos
	if p.sign("-", "...", "…", "..", "~", "÷") || p.phrase("to", "up to") || (between && p.phrase("and")) {
		p.space()
		if r := p.peek(0); r >= '0' && r <= '9' {
			return true
		}
		p.pos = mark
	}
	return false
}
