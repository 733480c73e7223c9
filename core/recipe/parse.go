package recipe

import (
	"fmt"
	"math"
	"slices"
	"strconv"
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
// the remedy. Two readings of one figure are refused with both spelled out, and, where
// they can be written, as Readings that parse.
func Parse(text string) (Recipe, error) {
	r, err := parse(text)
	if f := fault.As(err); f != nil {
		f.Readings = readable(f.Readings)
	}
	return r, err
}

// readable keeps the readings that are recipes, each once, as they are kept.
func readable(readings []string) []string {
	var out []string
	for _, text := range readings {
		r, err := parse(text)
		if err != nil {
			continue
		}
		if s := r.String(); !slices.Contains(out, s) {
			out = append(out, s)
		}
	}
	return out
}

func parse(text string) (Recipe, error) {
	if len(text) > MaxText {
		return Recipe{}, fault.New("too_long", "recipe", "That is longer than any recipe.", "Keep the stages only; remarks go elsewhere.")
	}
	p := &parser{scanner: newScanner(text)}
	p.sep = true
	for p.sign(";", ",") {
	}
	left := p.phrase("left hand thread", "left hand", "left", "lh thread", "lh", "lht")
	if left {
		p.sign(":", ",", ";")
	}
	p.numbered = p.isNumbered()
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
	for i := range p.out {
		p.out[i].Left = left
	}
	return Recipe{Stages: p.out}, nil
}

type parser struct {
	*scanner
	out      []Stage
	sep      bool  // a separator stood before this stage
	comma    bool  // and it was no more than a comma
	numbered bool  // the stages carry their numbers
	begins   []int // where each written stage begins
	at       int   // where the last figure stands
	before   int   // and the one before it
}

// isNumbered says that the text counts its stages, as in 1. 60 Nm 2. +90°: one number
// alone, 1. 60 Nm, may be a figure torn apart.
func (p *parser) isNumbered() bool {
	text := string(p.low)
	for _, mark := range []string{". ", ") ", ": ", ".) ", ")"} {
		first := strings.HasPrefix(strings.TrimLeft(text[min(p.pos, len(text)):], " ("), "1"+mark)
		if first && (mark == ") " || mark == ")" || mark == ": " || strings.Contains(text, "2"+mark)) {
			return true
		}
	}
	return false
}

// count takes the number of a stage: 2. or 2) or (2) before the second.
func (p *parser) count() bool {
	if !p.numbered {
		return false
	}
	mark := p.pos
	p.sign("(")
	if p.sign(strconv.Itoa(len(p.begins)+1)) && p.sign(".)", ".", ")", ":") {
		return true
	}
	p.pos = mark
	return false
}

// separator takes what parts two stages. A plus needs none before it.
func (p *parser) separator() error {
	p.sep = false
	p.comma = true
	for {
		mark := p.pos
		if p.count() { // the next stage reads its own number
			p.pos = mark
			p.sep = true
			return nil
		}
		switch {
		case p.sign(","):
		case p.sign("->", "=>", ";", ">>", "&") || p.stop() || p.phrase("and then", "followed by", "thereafter", "then", "and", "after that", "afterwards", "next"):
			p.comma = false
		default:
			if p.scanner.done() || p.sep {
				return nil
			}
			return p.unparted()
		}
		p.sep = true
		if p.matches("next slot") > 0 || p.matches("next castellation") > 0 {
			return nil
		}
	}
}

// stop takes a full stop: one before a digit belongs to a figure.
func (p *parser) stop() bool {
	mark := p.pos
	if p.sign(".") && (p.peek(0) < '0' || p.peek(0) > '9') {
		return true
	}
	p.pos = mark
	return false
}

// unparted is a stage that follows without a sign between.
func (p *parser) unparted() error {
	r := p.peek(0)
	if r == '+' || r == '>' || r == '≥' || p.matches("plus") > 0 || p.opensStage() {
		return nil
	}
	if p.matches("or") > 0 || r == '/' {
		return p.alternatives()
	}
	if p.saidAgain() {
		return p.separator()
	}
	f := p.fault(p.pos, "bad_recipe", "“"+p.word()+"” does not follow here.", "Part stages with a comma, a semicolon or “then”; put + before an angle.")
	f.Readings = p.joined()
	return f
}

// saidAgain takes a torque that stands twice with only a blank between, in two units
// that agree.
func (p *parser) saidAgain() bool {
	mark := p.pos
	n := len(p.out)
	if n > 0 && p.out[n-1].Kind == Torque {
		other, angle, err := p.figure(false)
		if err == nil && !angle && system(other.Unit) != system(p.out[n-1].Unit) && same(p.out[n-1], other) {
			return true
		}
	}
	p.pos = mark
	return false
}

// joined is what the text may mean with a sign between its stages, or with an upper
// bound behind its figure.
func (p *parser) joined() []string {
	head := strings.TrimSpace(string(p.src[:p.pos]))
	tail := strings.TrimSpace(string(p.src[p.pos:]))
	out := []string{head + " + " + tail, head + "; " + tail}
	n := len(p.out)
	if n == 0 || p.out[n-1].Kind != Torque || !p.ceiling() {
		return out
	}
	high, ok, err := p.number()
	last := p.out[n-1]
	if err != nil || !ok || high <= last.A {
		return out
	}
	return []string{p.with(p.begins[len(p.begins)-1], len(p.src), plain(last.A)+"–"+plain(high)+" "+last.Unit), head}
}

// opensStage: words that can only begin a stage.
func (p *parser) opensStage() bool {
	for _, w := range []string{"back", "backoff", "loosen", "slacken", "undo", "next slot", "to next slot", "to the next slot", "on to the next slot", "up to the next slot", "retorque", "re torque", "tighten", "turn"} {
		if p.matches(w) > 0 {
			return true
		}
	}
	return false
}

func (p *parser) stage() error {
	p.space()
	p.count()
	p.begins = append(p.begins, p.pos)
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
		if p.loose() {
			return p.fromLoose(start, "to a slot")
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
		"first stage", "second stage", "third stage", "first step", "second step", "third step", "1st stage", "2nd stage", "3rd stage", "secondly", "lastly",
		"pull to", "bring to", "do up to", "specified torque", "tightening torque", "tightening",
		"step", "stage", "again to", "to") {
		p.sign(":", ")", "=")
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
	if err := p.bracketed(st); err != nil {
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
	p.phrase("clockwise", "to the right", "tighter")
	if angle {
		if len(p.out) == 0 {
			return p.fault(start, "bad_recipe", "An angle starts from something.", "Put the torque before it, as in 60 Nm + 90°, or snug, + 1/4 turn.")
		}
		if p.loose() {
			return p.fromLoose(start, st.amount())
		}
		if err := p.bracketed(st); err != nil {
			return err
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
	if done, err := p.again(start, st); done || err != nil {
		return err
	}
	if err := p.equivalent(st); err != nil {
		return err
	}
	st.PlusDrag = p.drag()
	return p.repeat(start, st)
}

// drag reads that the measured drag of a locking nut comes on top.
func (p *parser) drag() bool {
	mark := p.pos
	if p.sign("+") || p.phrase("plus", "above", "over", "on top of") {
		if p.phrase("the prevailing torque", "prevailing torque", "the drag torque", "drag torque", "the running torque", "running torque",
			"the measured drag", "measured drag", "the drag", "drag") {
			return true
		}
	}
	p.pos = mark
	return false
}

// loose says that the fastener was backed off fully and nothing was reached since.
func (p *parser) loose() bool {
	n := len(p.out)
	return n > 0 && p.out[n-1].Kind == BackOff && p.out[n-1].Full
}

// fromLoose refuses a turn that starts from a fastener that is loose.
func (p *parser) fromLoose(start int, what string) error {
	f := p.fault(start, "two_readings", "After a full back-off there is nothing to turn from: "+what+" from where it is snug, or a torque is missing between.",
		"Write the torque before it, or snug.")
	before := strings.TrimRight(string(p.src[:start]), " ,;+")
	rest := strings.TrimLeft(string(p.src[start:]), " ,;")
	f.Readings = []string{before + "; snug; " + rest}
	for _, s := range p.out {
		if s.Kind == Torque {
			f.Readings = append(f.Readings, before+"; "+s.amount()+"; "+rest)
			break
		}
	}
	return f
}

// again takes a torque that says the one before it once more in another unit, with no
// more than a comma between. Two that do not agree are two readings.
func (p *parser) again(start int, st Stage) (done bool, err error) {
	n := len(p.out)
	if n == 0 || !p.comma || p.out[n-1].Kind != Torque || p.numbered {
		return false, nil
	}
	before := p.out[n-1]
	if system(before.Unit) == system(st.Unit) {
		return false, nil
	}
	if same(before, st) {
		return true, nil
	}
	f := fault.As(p.twoReadings(p.before, start, before, st))
	head := strings.TrimRight(string(p.src[:start]), " ,;")
	f.Readings = append(f.Readings, head+"; "+strings.TrimLeft(string(p.src[start:]), " ,;"))
	return false, f
}

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

// bracketed reads (60°) behind an angle and refuses it unless it says the same.
func (p *parser) bracketed(st Stage) error {
	mark := p.pos
	at := p.at
	if p.count() {
		p.pos = mark
		return nil
	}
	if !p.sign("(") {
		return nil
	}
	p.sign("=")
	other, angle, err := p.figure(true)
	if err != nil {
		return err
	}
	if !p.sign(")") {
		return p.fault(mark, "bad_recipe", "A bracket is opened and not closed.", "Close it, or leave the second figure out.")
	}
	if !angle || math.Abs(other.Target()-st.Target()) > 1 {
		return p.twoReadings(at, mark, st, other)
	}
	return nil
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
	case p.sign("<=", "≤", "<") || p.phrase("no more than", "not more than", "do not exceed", "not to exceed", "not exceeding", "at most", "maximum of", "maximum", "max"):
		return st, false, p.highest()
	}
	between := p.phrase("between", "from")
	p.space()
	col := p.pos
	p.before, p.at = p.at, col
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
	bare := p.bare && !words
	p.phrase("of a", "a")
	st.A = v
	u1, has1, err := p.takeUnit()
	if err != nil {
		return st, false, err
	}
	u := u1
	has := has1
	if err := p.torn(col, v, bare, u1, has1, bareDegrees); err != nil {
		return st, false, err
	}
	opened := p.sign("(")
	if opened && !p.tolerance() {
		p.pos-- // an equivalent, which the caller reads
		opened = false
	}
	plus, minus, u2, has2, err := p.unequal(st)
	if err != nil {
		return st, false, err
	}
	switch {
	case plus > 0 || minus > 0:
		st.Form, st.B, st.C = Unequal, plus, minus
		if !has {
			u, has = u2, has2
		}
	case st.Form == Minimum && p.ceiling():
		return p.upTo(col, st, v, u, has)
	case p.rangeSign(between):
		b, ok, err := p.number()
		if err != nil {
			return st, false, err
		}
		if !ok {
			return st, false, p.fault(p.pos, "missing", "The range has no end.", "Write both ends, as in 38–42 Nm.")
		}
		end := p.pos
		u2, has2, err := p.takeUnit()
		if err != nil {
			return st, false, err
		}
		if has1 && !u1.angle && (!has2 || u2.angle) {
			return st, false, p.dashed(col, end, v, b, u1)
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
	if opened && !p.sign(")") {
		return st, false, p.fault(p.pos, "bad_recipe", "A bracket is opened and not closed.", "Close it, or leave it out.")
	}
	if opened && !has {
		if u, has, err = p.takeUnit(); err != nil {
			return st, false, err
		}
	}
	if st.Form == Exact && p.phrase("minimum", "min", "or more", "at least") {
		st.Form = Minimum
	}
	if !has {
		if !bareDegrees {
			f := p.fault(col, "no_unit",
				fmt.Sprintf("The figure %s has no unit: %s N·m is %s ft·lb, and %s ft·lb is %s N·m.", plain(v), plain(v),
					unit.Number(unit.Torque(v).FtLb(), 1), plain(v), unit.Number((unit.Torque(v)*unit.PoundFoot).Nm(), 1)),
				"Write the unit of the sheet after it.")
			for _, unit := range []string{" Nm", " ft-lb"} {
				head := strings.TrimRight(string(p.src[:p.pos]), " ")
				f.Readings = append(f.Readings, head+unit+string(p.src[p.pos:]))
			}
			return st, false, f
		}
		u = spelled{name: "°", angle: true, degrees: 1}
	}
	return p.scaled(col, st, u)
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
	return st, u.angle, p.bounds(col, st, u)
}

// leastBare is the least number that reads as degrees without a sign: below it turns,
// flats and degrees are alike likely.
const leastBare = 10

// torn refuses a fraction that may be two figures, and a small number behind + or back
// off that may be turns, flats or degrees.
func (p *parser) torn(col int, v float64, bare bool, u spelled, has, bareDegrees bool) error {
	end := p.pos
	switch {
	case has && bare && !u.angle && p.over[0] > 0:
		over, under := plain(p.over[0]), plain(p.over[1])
		name := u.name
		f := p.fault(col, "two_readings", fmt.Sprintf("“%s/%s” reads as a range, as one figure after another, or as a fraction: %s %s.", over, under, plain(round9(v)), name),
			"Write the one that is meant: "+over+"–"+under+" "+name+", or the stages one by one.")
		lower := math.Min(p.over[0], p.over[1])
		upper := math.Max(p.over[0], p.over[1])
		f.Readings = []string{
			p.with(col, end, plain(lower)+"–"+plain(upper)+" "+name),
			p.with(col, end, over+" "+name+"; "+under+" "+name),
		}
		return f
	case has && u.turns && p.over[0] > p.over[1] && bare:
		over, under := plain(p.over[0]), plain(p.over[1])
		f := p.fault(col, "two_readings", "“"+over+"/"+under+"” is more than a whole: a blank may be missing in it.",
			"Write the whole apart, as in 1 1/2 turns, or degrees.")
		if n := len(over); n > 1 {
			f.Readings = append(f.Readings, p.with(col, end, over[:n-1]+" "+over[n-1:]+"/"+under+" turns"))
			if u.degrees < 360 {
				f.Readings[0] = p.with(col, end, over[:n-1]+" "+over[n-1:]+"/"+under+" flats")
			}
		}
		f.Readings = append(f.Readings, p.with(col, end, plain(round9(v*u.degrees))+"°"))
		return f
	case !has && bareDegrees && p.pointAhead():
		f := p.fault(col, "two_readings", "A point or comma behind "+plain(v)+" may belong to the figure or part two stages.", "Write ° after each angle.")
		f.Readings = []string{p.with(end, end, "°")}
		return f
	case has || !bareDegrees || (!bare && v >= leastBare):
		return nil
	}
	figure := plain(round9(v))
	f := p.fault(col, "two_readings", fmt.Sprintf("%s of what? %s turn is %s°, %s flat is %s°, or it means %s°.",
		figure, figure, plain(round9(360*v)), figure, plain(round9(60*v)), figure), "Write turn, flat or ° after it.")
	for _, unit := range []string{" turn", " flat", "°"} {
		written := strings.TrimSpace(string(p.src[col:end]))
		if unit == "°" {
			written = figure
		}
		f.Readings = append(f.Readings, p.with(col, end, written+unit))
	}
	return f
}

// pointAhead says that a point or comma comes next and then a digit.
func (p *parser) pointAhead() bool {
	mark := p.pos
	defer func() { p.pos = mark }()
	if !p.sign(".", ",") {
		return false
	}
	p.space()
	r := p.peek(0)
	return r >= '0' && r <= '9'
}

// dashed refuses “60 Nm – 90”: a range, or an angle behind a dash.
func (p *parser) dashed(col, end int, from, to float64, u spelled) error {
	f := p.fault(col, "two_readings", fmt.Sprintf("“%s” reads as the range %s–%s %s, or as %s %s and then %s°.",
		strings.TrimSpace(string(p.src[col:end])), plain(from), plain(to), u.name, plain(from), u.name, plain(to)), "Write the one that is meant.")
	for p.sign("°") {
	}
	if to > from {
		f.Readings = append(f.Readings, p.with(col, p.pos, plain(from)+"–"+plain(to)+" "+u.name))
	}
	f.Readings = append(f.Readings, p.with(col, p.pos, plain(from)+" "+u.name+" + "+plain(to)+"°"))
	return f
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

// unequal reads a tolerance that is not the same both ways, as in +10/−0.
func (p *parser) unequal(st Stage) (plus, minus float64, u spelled, has bool, err error) {
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
	first, ok, err := p.number()
	if err != nil || !ok {
		return none()
	}
	p.unit()
	if !p.sign("/", ",") && (!up || first > mostLoose*st.A) {
		return none()
	}
	second := "-"
	if !up {
		second = "+"
	}
	if !p.sign(second) {
		return none()
	}
	last, ok, err := p.number()
	if err != nil || !ok {
		return none()
	}
	u, has = p.unit()
	if u.angle || u.slip != "" {
		return none()
	}
	plus, minus = first, last
	if !up {
		plus, minus = last, first
	}
	if minus >= st.A {
		return 0, 0, u, has, p.fault(mark, "bad_recipe", "The tolerance is not smaller than the figure.", "Write it as 100 +10/−0 Nm.")
	}
	return plus, minus, u, has, nil
}

// ceiling reads that an upper bound follows a lower one.
func (p *parser) ceiling() bool {
	mark := p.pos
	p.sign(",", ";")
	p.phrase("and", "but")
	if p.sign("<=", "≤") || p.phrase("no more than", "not more than", "do not exceed", "not to exceed", "not exceeding", "at most", "maximum of", "maximum", "max", "up to") {
		p.sign(".", ":")
		return true
	}
	p.pos = mark
	return false
}

// upTo makes a range of a lower and an upper bound.
func (p *parser) upTo(col int, st Stage, low float64, u spelled, has bool) (Stage, bool, error) {
	high, ok, err := p.number()
	if err != nil {
		return st, false, err
	}
	if !ok {
		return st, false, p.fault(p.pos, "missing", "The upper bound is missing.", "Write both ends, as in 38–42 Nm.")
	}
	u2, has2, err := p.takeUnit()
	switch {
	case err != nil:
		return st, false, err
	case has && has2 && u != u2:
		return st, false, p.fault(col, "two_readings", "The bounds are in two units.", "Write both in one unit.")
	case has2:
		u, has = u2, true
	}
	if !has {
		return st, false, p.fault(col, "no_unit", "The bounds have no unit.", "Write the unit of the sheet after them.")
	}
	if high <= low {
		return st, false, p.fault(col, "bad_recipe", "The upper bound is not above the lower.", "Write it as 38–42 Nm.")
	}
	st.Form, st.A, st.B = Range, low, high
	return p.scaled(col, st, u)
}

// highest refuses an upper bound by itself. Behind a figure it may be a range.
func (p *parser) highest() error {
	f := p.fault(p.pos-1, "bad_recipe", "A highest figure alone does not say how tight.", "Give a range, as in 15–20 Nm.")
	p.sign(".", ":")
	n := len(p.out)
	high, ok, err := p.number()
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
		f := p.fault(col, "unknown_unit", "“"+strings.TrimSpace(word)+"” is not a torque.", "Did you mean "+u.slip+"?")
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
	at := p.at
	if p.count() { // the next stage, in a bracket of its own
		p.pos = mark
		return nil
	}
	paren := p.sign("(", "[")
	arrow := p.peek(0) == '=' && p.peek(1) == '>'
	if !paren && (arrow || !p.sign("/", "=", "≈")) {
		return p.orOther(st)
	}
	p.sign("=", "≈")
	other, angle, err := p.figure(false)
	if err != nil {
		return err
	}
	if paren && !p.sign(")", "]") {
		return p.fault(mark, "bad_recipe", "A bracket is opened and not closed.", "Close it, or leave the second figure out.")
	}
	if angle {
		f := fault.As(p.twoReadings(at, mark, st, other))
		f.Readings = []string{p.with(mark, mark+1, " + "), p.with(mark, p.pos, "")}
		return f
	}
	if !same(st, other) {
		return p.twoReadings(at, mark, st, other)
	}
	return nil
}

// orOther refuses "72 Nm or 72 ft-lb".
func (p *parser) orOther(st Stage) error {
	mark := p.pos
	at := p.at
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
	return p.twoReadings(at, mark, st, other)
}

func (p *parser) alternatives() error {
	return p.fault(p.pos, "two_readings", "Two readings stand here.", "Keep the one that belongs to the hardware in hand.")
}

// same: within 2.5 %, which forgives a figure rounded on the other scale.
func same(a, b Stage) bool {
	x, y := a.Target(), b.Target()
	return math.Abs(x-y) <= 0.025*math.Max(x, y)
}

// twoReadings refuses two figures for one: at is where the first of them stands.
func (p *parser) twoReadings(at, col int, a, b Stage) error {
	f := p.fault(col, "two_readings", "Two readings: "+reading(a)+", or "+reading(b)+".", "Find out which is meant and keep that one.")
	for _, s := range []Stage{a, b} {
		f.Readings = append(f.Readings, p.with(at, p.pos, s.amount()))
	}
	return f
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
	f := p.fault(col, "two_readings",
		fmt.Sprintf("Two readings: up to %s in all (%s), or %s on top of the %s before it, %s in all.",
			st.amount(), unit.Torque(st.Target()).Both(), st.amount(), unit.Torque(last), sum.Both()),
		"A wrench cannot add torque: write the figure it shall reach, as in “then 140 ft-lb”, or the angle.")
	head := strings.TrimRight(string(p.src[:col]), " ,;+")
	for _, total := range []string{st.amount(), plain(math.Round(10*sum.Nm())/10) + " Nm"} {
		f.Readings = append(f.Readings, head+"; "+total)
	}
	return f
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
