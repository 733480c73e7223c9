package recipe

import (
	"fmt"
	"math"
	"strings"

	"lugtak/core/fault"
	"lugtak/core/unit"
)

// Bounds on a recipe: longer texts and larger figures are slips, not recipes.
const (
	MaxText   = 240
	maxStages = 12
	maxTorque = 5000 // N·m
	maxAngle  = 1080 // degrees
)

// Parse reads a recipe. Its error is a *fault.Fault that names the column and
// the remedy. Two readings of one figure are refused with both spelled out.
func Parse(text string) (Recipe, error) {
	if len(text) > MaxText {
		return Recipe{}, fault.New("too_long", "recipe", "That is longer than any recipe.", "Keep the stages only; remarks go elsewhere.")
	}
	p := &parser{scanner: newScanner(text)}
	if p.scanner.done() {
		return Recipe{}, p.fault(0, "missing", "No recipe given.", "Write it as 60 Nm, 60 Nm + 90° or 90 Nm; next slot.")
	}
	for !p.scanner.done() {
		if err := p.stage(); err != nil {
			return Recipe{}, err
		}
		if len(p.out) > maxStages {
			return Recipe{}, p.fault(p.pos, "too_long", "More stages than any recipe has.", "Part it into two joints.")
		}
		if err := p.separator(); err != nil {
			return Recipe{}, err
		}
	}
	if len(p.out) == 0 {
		return Recipe{}, p.fault(0, "missing", "No stage found.", "Write it as 60 Nm, 60 Nm + 90° or 90 Nm; next slot.")
	}
	return Recipe{Stages: p.out}, nil
}

type parser struct {
	*scanner
	out []Stage
	sep bool // a separator stood before this stage
}

// separator takes what parts two stages. A plus needs none before it.
func (p *parser) separator() error {
	p.sep = false
	for p.sign(",", ";", ".") || p.phrase("and then", "followed by", "thereafter", "then", "and", "after that") {
		p.sep = true
	}
	if p.scanner.done() || p.sep {
		return nil
	}
	r := p.peek(0)
	if r == '+' || r == '>' || r == '≥' || p.matches("plus") > 0 || p.opensStage() {
		return nil
	}
	if p.matches("or") > 0 || r == '/' {
		return p.alternatives()
	}
	return p.fault(p.pos, "bad_recipe", "“"+p.word()+"” does not follow here.", "Part stages with a comma, a semicolon or “then”; put + before an angle.")
}

// opensStage: words that can only begin a stage.
func (p *parser) opensStage() bool {
	for _, w := range []string{"back", "backoff", "loosen", "slacken", "undo", "next slot", "to next slot", "to the next slot", "on to the next slot", "retorque", "re torque", "tighten", "turn"} {
		if p.matches(w) > 0 {
			return true
		}
	}
	return false
}

func (p *parser) stage() error {
	p.space()
	start := p.pos
	p.skipVerbs()
	switch {
	case p.phrase("back off", "backoff", "backed off", "loosen", "slacken off", "slacken", "slack off", "undo", "unscrew", "turn back", "release"):
		return p.backOff()
	case p.phrase("on to the next slot", "onto the next slot", "up to the next slot", "to the next slot", "to next slot", "the next slot", "next slot", "next castellation", "align slot", "align the slot", "line up the slot", "slot"):
		if len(p.out) == 0 {
			return p.fault(start, "bad_recipe", "A slot comes after a torque.", "Write the torque first, as in 90 Nm; next slot.")
		}
		return p.add(start, Stage{Kind: NextSlot})
	}
	for _, w := range []struct{ word, phrases string }{
		{"snug", "snug tight|snug"}, {"hand", "hand tight|by hand|finger tight|hand"},
		{"contact", "until contact|till contact|to contact|until it touches|contact"},
	} {
		if p.phrase(strings.Split(w.phrases, "|")...) {
			return p.add(start, Stage{Kind: Snug, Word: w.word})
		}
	}
	return p.measured(start)
}

// skipVerbs passes over words that carry no figure.
func (p *parser) skipVerbs() {
	for p.phrase("re tighten to", "retighten to", "re torque to", "retorque to", "retorque", "re torque", "retighten", "tighten to", "tighten", "torque to", "torque", "set to",
		"pre tighten to", "final", "finally", "first", "initially", "step 1", "step 2", "step 3", "step 4", "step 5", "stage 1", "stage 2", "stage 3", "stage 4", "stage 5",
		"step", "stage", "again to", "to") {
		p.sign(":", ")")
	}
}

func (p *parser) backOff() error {
	start := p.pos
	p.phrase("by")
	if p.phrase("fully", "full", "completely", "all the way", "right off", "entirely") {
		return p.add(start, Stage{Kind: BackOff, Full: true})
	}
	if p.scanner.done() || strings.ContainsRune(",;.", p.peek(0)) || p.matches("then") > 0 || p.matches("and") > 0 {
		return p.add(start, Stage{Kind: BackOff, Full: true})
	}
	st, angle, err := p.figure(true)
	if err != nil {
		return err
	}
	if !angle {
		return p.fault(start, "bad_recipe", "A back-off is an angle or full, not a torque.", "Write back off 120° or back off full.")
	}
	st.Kind = BackOff
	return p.add(start, st)
}

// measured reads a stage that has a figure: a torque or an angle.
func (p *parser) measured(start int) error {
	plus := p.sign("+") || p.phrase("plus")
	more := p.phrase("an additional", "additional", "a further", "further", "another", "an extra", "extra")
	plus = p.phrase("turn by", "turn on by", "turn on", "turn", "rotate by", "rotate", "angle") || plus
	more = p.phrase("an additional", "additional", "a further", "further", "another", "an extra", "extra") || more
	p.phrase("by")
	times := p.times()
	st, angle, err := p.figure(plus)
	if err != nil {
		return err
	}
	more = p.phrase("more", "further") || more
	if angle {
		if len(p.out) == 0 {
			return p.fault(start, "bad_recipe", "An angle starts from something.", "Put the torque before it, as in 60 Nm + 90°, or snug, + 1/4 turn.")
		}
		st.Kind = Angle
		if times > 1 {
			return p.addTimes(start, st, times)
		}
		return p.repeat(start, st)
	}
	if times > 1 {
		return p.fault(start, "bad_recipe", "Only an angle is counted like this.", "Write the rounds behind the torque, as in 8 Nm ×2.")
	}
	if plus || more {
		return p.additional(start, st)
	}
	st.Kind = Torque
	if err := p.equivalent(st); err != nil {
		return err
	}
	return p.repeat(start, st)
}

// times reads "2 x" before an angle, as in 60 Nm + 2 × 45°; 1 if it is not there.
func (p *parser) times() int {
	p.space()
	n := int(p.peek(0) - '0')
	if n < 2 || n > 4 {
		return 1
	}
	mark := p.pos
	p.pos++
	if p.sign("×", "x", "*") && p.peek(0) != 0 && strings.ContainsRune(" 0123456789", p.peek(0)) {
		return n
	}
	p.pos = mark
	return 1
}

// figure reads one figure with its form and unit. With bareDegrees a number
// without a unit is taken as degrees ("+ 90"); otherwise it is refused.
func (p *parser) figure(bareDegrees bool) (Stage, bool, error) {
	st := Stage{Form: Exact}
	switch {
	case p.sign(">=", "≥", "⩾", ">") || p.phrase("no less than", "not less than", "not under", "at least", "minimum of", "minimum", "min"):
		st.Form = Minimum
		p.sign(".", ":")
	case p.sign("~", "≈") || p.phrase("approximately", "approx", "about", "around", "circa", "ca"):
		st.Form = About
		p.sign(".")
	case p.sign("<=", "≤", "<") || p.phrase("no more than", "not more than", "at most", "maximum of", "maximum", "max"):
		return st, false, p.fault(p.pos-1, "bad_recipe", "A highest figure alone does not say how tight.", "Give a range, as in 15–20 Nm.")
	}
	between := p.phrase("between", "from")
	col := p.pos
	v, words := p.wordNumber()
	ok := words
	var err error
	if !words {
		if v, ok, err = p.number(); err != nil {
			return st, false, err
		}
	}
	if !ok {
		p.space()
		if p.pos >= len(p.src) {
			return st, false, p.fault(p.pos, "missing", "A figure is missing here.", "Write it with its unit, as in 60 Nm or 90°.")
		}
		return st, false, p.fault(p.pos, "bad_recipe", "“"+p.word()+"” is not understood here.", "Write a figure with its unit, as in 60 Nm or 90°; snug; back off; or next slot.")
	}
	p.phrase("of a", "a")
	st.A = v
	u1, has1, err := p.takeUnit()
	if err != nil {
		return st, false, err
	}
	u := u1
	has := has1
	switch {
	case p.rangeSign(between):
		b, ok, err := p.number()
		if err != nil {
			return st, false, err
		}
		if !ok {
			return st, false, p.fault(p.pos, "missing", "The range has no end.", "Write both ends, as in 38–42 Nm.")
		}
		u2, has2, err := p.takeUnit()
		if err != nil {
			return st, false, err
		}
		if has1 && has2 && u1 != u2 {
			return st, false, p.fault(col, "two_readings", "The ends of the range are in two units.", "Write both in one unit.")
		}
		if has2 {
			u, has = u2, true
		}
		if st.Form != Exact || b <= v {
			return st, false, p.fault(col, "bad_recipe", "A range runs from the lower to the higher figure.", "Write it as 38–42 Nm.")
		}
		st.Form, st.B = Range, b
	case p.sign("±", "+/-", "+-"):
		b, ok, err := p.number()
		if err != nil {
			return st, false, err
		}
		if !ok || st.Form != Exact {
			return st, false, p.fault(p.pos, "missing", "The tolerance is missing after ±.", "Write it as 110 ± 8 Nm.")
		}
		if p.sign("%", "percent", "per cent") {
			b = v * b / 100
			if !has {
				if u, has, err = p.takeUnit(); err != nil {
					return st, false, err
				}
			}
		} else {
			u2, has2, err := p.takeUnit()
			if err != nil {
				return st, false, err
			}
			if has1 && has2 && u1 != u2 {
				return st, false, p.fault(col, "two_readings", "The figure and its tolerance are in two units.", "Write both in one unit.")
			}
			if has2 {
				u, has = u2, true
			}
		}
		if b <= 0 || b >= v {
			return st, false, p.fault(col, "bad_recipe", "The tolerance is not smaller than the figure.", "Write it as 110 ± 8 Nm.")
		}
		st.Form, st.B = Tolerance, b
	}
	if st.Form == Exact && p.phrase("minimum", "min", "or more", "at least") {
		st.Form = Minimum
	}
	if !has {
		if !bareDegrees {
			return st, false, p.fault(col, "no_unit",
				fmt.Sprintf("The figure %s has no unit: %s N·m is %s ft·lb, and %s ft·lb is %s N·m.", plain(v), plain(v),
					unit.Number(unit.Torque(v).FtLb(), 1), plain(v), unit.Number((unit.Torque(v)*unit.PoundFoot).Nm(), 1)),
				"Write the unit of the sheet after it.")
		}
		u = spelled{name: "°", angle: true, degrees: 1}
	}
	st.Unit = u.name
	if u.angle {
		st.A, st.B = st.A*u.degrees, st.B*u.degrees
	}
	st.A, st.B = round9(st.A), round9(st.B)
	return st, u.angle, p.bounds(col, st, u)
}

func (p *parser) bounds(col int, st Stage, u spelled) error {
	low, _, high := st.figure()
	top := st.A
	if !math.IsInf(high, 1) {
		top = high
	}
	switch {
	case low <= 0 || st.A <= 0:
		return p.fault(col, "out_of_range", "A figure of zero tightens nothing.", "Check the sheet.")
	case u.angle && top > maxAngle:
		return p.fault(col, "out_of_range", "More than three turns is not a tightening angle.", "Check the figure and its unit.")
	case !u.angle && top > maxTorque:
		return p.fault(col, "out_of_range", fmt.Sprintf("%s %s is beyond any hand tool.", plain(st.A), st.Unit), "Check the figure and its unit.")
	}
	return nil
}

func (p *parser) takeUnit() (spelled, bool, error) {
	col := p.pos
	p.space()
	word := p.word()
	u, ok := p.unit()
	if ok && u.slip != "" {
		if u.slip == "ft·lb" || u.slip == "N·m or in·lb" {
			word = strings.TrimSpace(word)
		}
		return u, false, p.fault(col, "unknown_unit", "“"+word+"” is not a torque.", "Did you mean "+u.slip+"?")
	}
	return u, ok, nil
}

// rangeSign: a dash or "to" between two figures. "to" needs a figure after it,
// a dash too, so that "60 Nm - then" stays an error of its own.
func (p *parser) rangeSign(between bool) bool {
	mark := p.pos
	if p.sign("-", "...", "…", "..") || p.phrase("to", "up to") || (between && p.phrase("and")) {
		p.space()
		if r := p.peek(0); r >= '0' && r <= '9' {
			return true
		}
		p.pos = mark
	}
	return false
}

// equivalent reads "(59 ft-lb)" or "/ 59 ft-lb" after a torque and refuses it
// unless it says the same.
func (p *parser) equivalent(st Stage) error {
	mark := p.pos
	paren := p.sign("(")
	if !paren && !p.sign("/") {
		return p.orOther(st)
	}
	p.sign("=")
	other, angle, err := p.figure(false)
	if err != nil {
		return err
	}
	if paren && !p.sign(")") {
		return p.fault(mark, "bad_recipe", "A bracket is opened and not closed.", "Close it, or leave the second figure out.")
	}
	if angle || !same(st, other) {
		return p.twoReadings(mark, st, other)
	}
	return nil
}

// orOther refuses "72 Nm or 72 ft-lb".
func (p *parser) orOther(st Stage) error {
	mark := p.pos
	if !p.phrase("or") {
		return nil
	}
	other, angle, err := p.figure(false)
	if err != nil {
		return err
	}
	if !angle && same(st, other) {
		return nil
	}
	return p.twoReadings(mark, st, other)
}

func (p *parser) alternatives() error {
	return p.fault(p.pos, "two_readings", "Two readings stand here.", "Keep the one that belongs to the hardware in hand.")
}

// same: within 2.5 %, which forgives a figure rounded on the other scale.
func same(a, b Stage) bool {
	x, y := a.Target(), b.Target()
	return math.Abs(x-y) <= 0.025*math.Max(x, y)
}

func (p *parser) twoReadings(col int, a, b Stage) error {
	return p.fault(col, "two_readings", "Two readings: "+reading(a)+", or "+reading(b)+".", "Find out which is meant and keep that one.")
}

func reading(s Stage) string {
	if s.Unit == "°" {
		return s.amount()
	}
	return s.amount() + " = " + unit.Torque(s.Target()).Both()
}

// additional refuses a torque "on top": it may be meant as absolute.
func (p *parser) additional(col int, st Stage) error {
	last := 0.0
	for _, s := range p.out {
		if s.Kind == Torque {
			last = s.Target()
		}
	}
	sum := unit.Torque(last + st.Target())
	return p.fault(col, "two_readings",
		fmt.Sprintf("Two readings: up to %s in all (%s), or %s on top of the %s before it, %s in all.",
			st.amount(), unit.Torque(st.Target()).Both(), st.amount(), unit.Torque(last), sum.Both()),
		"A wrench cannot add torque: write the figure it shall reach, as in “then 140 ft-lb”, or the angle.")
}

type multiple struct {
	n       int
	phrases []string
}

var rising = []multiple{
	{2, []string{"in two stages", "in 2 stages", "in two steps", "in 2 steps", "in two passes", "in 2 passes"}},
	{3, []string{"in three stages", "in 3 stages", "in three steps", "in 3 steps", "in three passes", "in 3 passes"}},
}

var rounds = []multiple{
	{2, []string{"×2", "× 2", "x2", "x 2", "*2", "twice", "two times", "2 times", "in two rounds", "in 2 rounds", "two rounds", "2 rounds"}},
	{3, []string{"×3", "× 3", "x3", "x 3", "*3", "three times", "3 times", "in three rounds", "in 3 rounds", "three rounds", "3 rounds"}},
}

// repeat reads what multiplies a stage: rounds at one figure, or rising stages.
func (p *parser) repeat(start int, st Stage) error {
	p.phrase("again")
	for _, r := range rounds {
		if p.phrase(r.phrases...) {
			return p.addTimes(start, st, r.n)
		}
	}
	for _, r := range rising {
		n := r.n
		if !p.phrase(r.phrases...) {
			continue
		}
		if st.Kind == Angle {
			st.A, st.B = round9(st.A/float64(n)), round9(st.B/float64(n))
			return p.addTimes(start, st, n)
		}
		// Rising passes in equal shares are common practice; the shares before
		// the last are approximate.
		for i := 1; i < n; i++ {
			share := Stage{Kind: Torque, Form: About, Unit: st.Unit, A: round9(st.A * float64(i) / float64(n))}
			if err := p.add(start, share); err != nil {
				return err
			}
		}
	}
	return p.add(start, st)
}

func (p *parser) addTimes(start int, st Stage, n int) error {
	for range n {
		if err := p.add(start, st); err != nil {
			return err
		}
	}
	return nil
}

func (p *parser) add(start int, st Stage) error {
	if len(p.out) == 0 && (st.Kind == BackOff) {
		return p.fault(start, "bad_recipe", "A recipe cannot begin by backing off.", "Write the torque before it, as in 50 Nm; back off 120°; 50 Nm.")
	}
	p.out = append(p.out, st)
	return nil
}
