package recipe

import (
	"math"
	"strings"
	"unicode"

	"lugtak/core/fault"
)

// measured reads a stage that has a figure: a torque or an angle.
func (p *parser) measured(start int) error {
	signed := p.sign("+") || p.phrase("plus")
	plus := signed
	more := p.phrase("an additional", "additional", "a further", "further", "another", "an extra", "extra")
	if p.phrase(turns...) {
		plus = true
		p.sign(":")
	}
	for p.besides() {
	}
	p.phrase("through")
	if mark := p.pos; p.phrase("a") { // a 45 degree turn
		if p.space(); !unicode.IsDigit(p.peek(0)) {
			p.pos = mark
		}
	}
	more = p.phrase("an additional", "additional", "a further", "further", "another", "an extra", "extra") || more
	p.phrase("by")
	times := p.times()
	st, angle, err := p.figure(plus)
	if err != nil {
		return err
	}
	if angle && p.phrase("at a time") { // how it is turned, and not how far
		if signed || more {
			return p.fault(start, fault.TwoReadings, "It is turned by so much at a time, or by so much in all.",
				"Write how far it is turned in all.")
		}
		p.spans = append(p.spans, span{start, p.pos, AsNote})
		p.begins = p.begins[:len(p.begins)-1]
		return nil
	}
	more = p.phrase("more", "further") || more
	if angle && p.phrase(loosening...) {
		return p.loosened(start, st, signed || more)
	}
	p.phrase("clockwise", "to the right", "tighter")
	p.phrase("angle tightening", "tightening angle", "of rotation", "rotation", "angle")
	if angle {
		if base := p.past(); base != nil {
			if err := p.fromBase(start, *base); err != nil {
				return err
			}
		}
		if len(p.out) == 0 {
			return p.fault(start, fault.BadRecipe, "An angle starts from something.",
				"Put the torque before it, as in 60 Nm + 90°, or snug, + 1/4 turn.")
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
		return p.fault(start, fault.BadRecipe, "Only an angle is counted like this.",
			"Write the rounds behind the torque, as in 8 Nm ×2.")
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
	if st.Form == Exact && p.phrase("or more", "minimum", "min") { // behind what it is in another unit
		st.Form = Minimum
	}
	st.PlusDrag = p.drag()
	return p.repeat(start, st)
}

// turns are the words before an angle.
var turns = []string{
	"turn by", "turn on by", "turn on", "turn", "rotate by", "rotate", "angle torque", "torque angle", "turning angle of",
	"turning angle", "angle tighten", "angular tightening of", "angular tightening", "angular torque of", "angular torque",
	"rotation angle of", "rotation angle", "tightening angle of", "tightening angle", "angle of", "angle",
}

// loosened is a turn whose word stands behind it. With a sign of turning on before it, it says two things.
func (p *parser) loosened(start int, st Stage, on bool) error {
	if on || p.left {
		f := p.fault(start, fault.TwoReadings, "It is turned on, or back off: both stand there.",
			"Keep the one that is meant.")
		head := strings.TrimRight(string(p.src[:start]), " ,;+")
		tail := string(p.src[p.pos:])
		f.Readings = []string{
			head + "; back off " + st.amount() + tail,
			head + " + " + st.amount() + tail,
			head + " + " + st.amount() + "; back off full" + tail,
		}
		return f
	}
	st.Kind = BackOff
	return p.add(start, st)
}

// past takes what an angle starts from where it stands behind it: 90° past 60 Nm, 1/2 turn after contact. Nil where
// there is none.
func (p *parser) past() *Stage {
	mark := p.pos
	if !p.phrase("past", "beyond", "after", "above") {
		return nil
	}
	for _, w := range snugs {
		if p.phrase(w.phrases...) {
			return &Stage{Kind: Snug, Word: w.word}
		}
	}
	st, angle, err := p.figure(false)
	if err == nil && !angle && p.equivalent(st) == nil {
		st.Kind = Torque
		return &st
	}
	p.pos = mark
	return nil
}

// fromBase adds what an angle starts from, unless it was reached by then.
func (p *parser) fromBase(start int, base Stage) error {
	if n := len(p.out); n > 0 && p.out[n-1].Kind == base.Kind && (base.Kind == Snug || same(p.out[n-1], base)) {
		return nil
	}
	return p.add(start, base)
}

// drag reads that the measured drag of a locking nut comes on top.
func (p *parser) drag() bool {
	mark := p.pos
	if p.sign("+") || p.phrase("plus", "above", "over", "on top of", "in addition to") {
		if p.phrase("the prevailing torque", "prevailing torque", "the drag torque", "drag torque",
			"the running torque", "running torque", "the measured drag", "measured drag", "the drag", "drag") {
			return true
		}
	}
	p.pos = mark
	return false
}

// bracketed reads (60°) behind an angle and refuses it unless it says the same.
func (p *parser) bracketed(st Stage) error {
	mark := p.pos
	at := p.at
	if p.count() {
		p.pos = mark
		return nil
	}
	if p.words() || !p.sign("(") {
		return nil
	}
	p.sign("=")
	other, angle, err := p.figure(true)
	if err != nil {
		return err
	}
	if !p.sign(")") {
		return p.fault(mark, fault.BadRecipe, "A bracket is opened and not closed.",
			"Close it, or leave the second figure out.")
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
