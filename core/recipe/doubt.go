package recipe

import (
	"fmt"
	"slices"
	"strings"

	"lugtak/core/fault"
)

// What is read and may still not be meant: asked about, with what else it may be.

// group is the stages of one piece of text, with what it says they are of.
type group struct {
	first   int
	subject []string
	told    bool // a verb stood before its words: they are what is tightened
}

// joints refuses figures that stand with different words: front 60 Nm, rear 80 Nm is of two joints, not two stages.
func (p *parser) joints() error {
	var of []string
	parted := p.apart
	for _, g := range p.groups {
		begins := !slices.ContainsFunc(p.out[:g.first], func(s Stage) bool { return s.Kind == Torque })
		switch {
		case len(g.subject) == 0:
		case len(of) == 0 && (begins || g.told):
			of = g.subject
		case !within(g.subject, of):
			parted = true
		}
	}
	if !parted {
		return nil
	}
	f := p.fault(0, fault.TwoReadings, "The figures stand with different words: they may be of different joints.",
		"Keep those of this joint, without the words.")
	for i, g := range p.groups {
		to := len(p.out)
		if i+1 < len(p.groups) {
			to = p.groups[i+1].first
		}
		f.Readings = append(f.Readings, Recipe{Stages: p.out[g.first:to]}.String())
	}
	f.Readings = append(f.Readings, Recipe{Stages: p.out}.String())
	return f
}

// window refuses one so wide that its ends may be two figures, or one of them a slip, unless it says that it is wide.
func (p *parser) window(col int, st Stage) error {
	wide := p.phrase("wide")
	low, _, high := st.figure()
	if st.Unit == "°" || high <= widest*low || st.Form == Minimum || st.Form == About || wide {
		return nil
	}
	f := p.fault(col, fault.TwoReadings, fmt.Sprintf("The window of %s to %s N·m is wider than a fastener is given.",
		plain(round9(low)), plain(round9(high))), "Check both ends; write “wide” behind it if it is so.")
	f.Readings = append(f.Readings, p.with(col, p.pos, st.amount()+" wide"))
	switch st.Form {
	case Range:
		f.Readings = append(f.Readings, p.with(col, p.pos, plain(st.A)+" "+st.Unit+"; "+plain(st.B)+" "+st.Unit))
	case Tolerance:
		if p.src[p.pos-1] == '%' {
			break
		}
		f.Readings = append(f.Readings, p.with(col, p.pos, plain(st.A)+" "+st.Unit+" + "+plain(st.B)+"°"))
	}
	return f
}

// widest is how many times its lower end a window's upper end is before it is asked about: half as much again is more
// than any joint is given (common practice).
const widest = 1.5

// leastAngle is the least angle a stage turns, in degrees: below it lies the error of an angle gauge, and a figure as
// small is a number of turns or flats (common practice).
const leastAngle = 5

// tiny refuses an angle in degrees that no gauge tells.
func (p *parser) tiny(col int, st Stage) error {
	if low, _, _ := st.figure(); low >= leastAngle {
		return nil
	}
	figure := plain(st.A)
	f := p.fault(col, fault.TwoReadings, figure+"° is less than a gauge tells: "+figure+" turns, flats, or a slip.",
		"Write turn or flat behind it, or check the sheet.")
	for _, unit := range []string{" turn", " flat"} {
		f.Readings = append(f.Readings, p.with(col, p.pos, figure+unit))
	}
	return f
}

// falls refuses a torque below the one before it, where nothing was backed off between: it does not move the fastener.
func (p *parser) falls(start int, st Stage) error {
	turned := false
	for _, s := range slices.Backward(p.out) {
		switch {
		case s.Kind == BackOff:
			return nil
		case s.Kind == Angle || s.Kind == NextSlot:
			turned = true
			continue
		case s.Kind != Torque:
			continue
		}
		low, was := st.Target(), s.Target()
		if low > was*(1+sameShare) && !(turned && p.out[len(p.out)-1].Kind == NextSlot) || !turned &&
			low >= was*(1-sameShare) {
			return nil
		}
		f := p.fault(start, fault.TwoReadings, fmt.Sprintf("%s does not turn what stands at %s already.", st.amount(),
			s.amount()), "Write the back-off between them, or keep the figure that is meant.")
		head := strings.TrimRight(string(p.src[:start]), " ,;")
		tail := string(p.src[start:])
		f.Readings = append(f.Readings, head+"; back off full; "+tail)
		if s.Unit == st.Unit && s.Form == Exact && st.Form == Exact && st.A < s.A && !turned {
			f.Readings = append(f.Readings, plain(st.A)+"–"+plain(s.A)+" "+s.Unit)
		}
		if p.mark == "" {
			f.Readings = append(f.Readings, head, tail)
		}
		return f
	}
	return nil
}

// sameShare is how far two figures on two scales may differ and still be one.
const sameShare = 0.025
