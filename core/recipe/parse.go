package recipe

import (
	"slices"
	"strings"
	"unicode"

	"lugtak/core/fault"
)

// Bounds on a recipe: longer texts and larger figures are slips, not recipes.
const (
	MaxText   = 400
	maxStages = 12
	maxTorque = 5000 // N·m
	maxAngle  = 1080 // degrees
)

// Parse reads a recipe. Its error is a *fault.Fault that names the column and
// the remedy. Two readings of one figure are refused with both spelled out, and, where
// they can be written, as Readings that parse.
func Parse(text string) (Recipe, error) {
	r, _, err := read(text)
	return r, err
}

// read is Parse with the stretches that are no figure.
func read(text string) (Recipe, []span, error) {
	p := &parser{scanner: newScanner(text)}
	r, err := p.parse()
	if f := fault.As(err); f != nil {
		switch {
		case f.Code == fault.BadRecipe && p.stray.to > 0:
			f.Readings = append(f.Readings, without(text))
		case f.Code == fault.NoUnit:
			f.Readings = []string{filled(text, "Nm"), filled(text, "ft-lb")}
		}
		f.Readings = readable(f.Readings)
	}
	return r, p.spans, err
}

func parse(text string) (Recipe, error) {
	p := &parser{scanner: newScanner(text)}
	return p.parse()
}

func (p *parser) parse() (Recipe, error) {
	if len(string(p.src)) > MaxText {
		return Recipe{}, fault.New(fault.TooLong, "recipe", "That is longer than any recipe.",
			"Keep the stages only; remarks go elsewhere.")
	}
	p.sep = true
	for p.sign(";", ",", "=") {
	}
	p.unwrap()
	if err := p.leftHand(); err != nil {
		return Recipe{}, err
	}
	p.bullet = p.sign("-", "*")
	p.mark = p.counting()
	if p.scanner.done() {
		return Recipe{}, p.fault(0, fault.Missing, "No recipe given.",
			"Write it as 60 Nm, 60 Nm + 90° or 90 Nm; next slot.")
	}
	for !p.scanner.done() {
		if err := p.piece(); err != nil {
			return Recipe{}, err
		}
		if len(p.out) > maxStages {
			return Recipe{}, p.fault(p.pos, fault.TooLong, "More stages than any recipe has.", "Part it into two joints.")
		}
		if err := p.separator(); err != nil {
			return Recipe{}, err
		}
	}
	if len(p.out) == 0 {
		return Recipe{}, p.fault(0, fault.Missing, "No stage found.", "Write it as 60 Nm, 60 Nm + 90° or 90 Nm; next slot.")
	}
	if p.mark == "." && p.counted < 2 {
		return Recipe{}, p.fault(0, fault.TwoReadings, "A single 1. may count the stage or belong to its figure.",
			"Count every stage, or none.")
	}
	if err := p.joints(); err != nil {
		return Recipe{}, err
	}
	for i := range p.out {
		p.out[i].Left = p.left
	}
	return Recipe{Stages: p.out, Notes: p.notes()}, nil
}

// unwrap blanks the one bracket that holds the whole text.
func (p *parser) unwrap() {
	text := strings.TrimSpace(string(p.low))
	if strings.HasPrefix(text, "(") && strings.Index(text, ")") == len(text)-1 {
		p.low[strings.IndexRune(string(p.low), '(')] = ' '
		last := slices.Index(p.low, ')')
		p.low[last] = ' '
	}
}

// leftThread are the words for a thread that tightens to the left.
var leftThread = []string{
	"left hand threads", "left hand thread", "left handed thread", "lh threads", "lh thread",
	"l.h. threads", "l.h. thread", "lht",
}

// leftHand takes that the thread is left-handed. Left before the name of a part may be the side of the vehicle.
func (p *parser) leftHand() error {
	if p.phrase(leftThread...) {
		p.left = true
	} else if mark := p.pos; p.phrase("left hand", "left", "lh") {
		p.left = true
		p.space()
		if _, ok := passable(p.nextWord(0)); ok {
			f := p.fault(mark, fault.TwoReadings, "“Left” may be the thread, or the side of the vehicle.",
				"Write “left-hand thread”, or leave it out.")
			tail := string(p.src[p.pos:])
			f.Readings = []string{tail, "left " + without(tail)}
			return f
		}
	}
	if p.left {
		p.sign(":", ",", ";")
	}
	return nil
}

// piece reads a stage with the words beside it, or words alone.
func (p *parser) piece() error {
	n := len(p.out)
	p.told = false
	if err := p.stage(); err != nil {
		return err
	}
	before := p.subject
	p.trailing()
	switch {
	case len(p.out) > n:
		if p.out[n].Kind != Torque { // what stands behind a turn is a note on all of it
			p.subject = before
		}
		p.groups = append(p.groups, group{n, p.subject, p.told})
		if p.loneWords && p.out[n].Kind == Torque {
			p.apart = true
		}
		p.subject = nil
	case n > 0:
		p.loneWords = p.loneWords || len(p.subject) > 0
		p.subject = nil
	}
	return nil
}

type parser struct {
	*scanner
	out     []Stage
	sep     bool   // a separator stood before this stage
	comma   bool   // and it was no more than a comma
	mark    string // stands behind the numbers of the stages, where they carry some
	counted int    // how many did
	begins  []int  // where each written stage begins
	at      int    // where the last figure stands
	before  int    // and the one before it

	left      bool     // of a left-hand thread
	bullet    bool     // every stage begins with a dash or a star
	letters   bool     // stages are counted a), b), c)
	told      bool     // a verb stood in this piece
	subject   []string // what the piece in hand says it is of
	groups    []group  // the pieces that had stages
	loneWords bool     // words that name something stood alone behind a figure
	apart     bool     // and a torque came behind them
	spans     []span   // what is no figure
	stray     span     // a word nobody knows
	lacks     int      // where a unit is missing
	paired    float64  // the first of two figures that stand before their two units
}

// counting is the mark by which the text counts its stages, as in 1. 60 Nm 2. +90°; empty
// where it does not. One number alone, 1. 60 Nm, may be a figure torn apart.
func (p *parser) counting() string {
	text := string(p.low)
	if strings.HasPrefix(strings.TrimLeft(text[min(len(string(p.low[:p.pos])), len(text)):], " ("), "a)") {
		p.letters = true
		return ")"
	}
	for _, mark := range []string{". ", ".) ", ")", ": "} {
		first := strings.HasPrefix(strings.TrimLeft(text[min(p.pos, len(text)):], " ("), "1"+mark)
		if first && (mark != ". " || strings.Contains(text, "2"+mark)) {
			return strings.TrimSpace(mark)
		}
	}
	return ""
}

// count takes the number of a stage: 2. or 2) or (2) before the second, by one mark
// throughout; any other may belong to a figure.
func (p *parser) count() bool {
	if p.mark == "" {
		return false
	}
	mark := p.pos
	p.sign("(")
	if p.sign(p.label(len(p.begins)+1)) && (p.mark == "." && p.stop() || p.mark != "." && p.sign(p.mark)) {
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
		case p.stop():
			p.saidAgain() // as behind the point of an abbreviated unit
			p.comma = false
		case p.sign("->", "=>", ";", ">>", "&") || p.phrase("and then", "followed by", "thereafter", "then", "and",
			"after that", "afterwards", "next"):
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

// countsInWords says that the next stage begins with its number in words, as in step 2, second.
func (p *parser) countsInWords() bool {
	mark := p.pos
	defer func() { p.pos = mark }()
	if p.ordinal() {
		return true
	}
	if !p.phrase("step", "stage", "pass", "phase") {
		return false
	}
	p.space()
	return unicode.IsDigit(p.peek(0)) || p.phrase("one", "two", "three", "four")
}

// stop takes a full stop: one before a digit belongs to a figure, one before another to a dash.
func (p *parser) stop() bool {
	mark := p.pos
	if p.sign(".") && (p.peek(0) < '0' || p.peek(0) > '9') {
		end := p.pos
		if !p.sign(".") {
			p.pos = end
			return true
		}
	}
	p.pos = mark
	return false
}

// unparted is a stage that follows without a sign between.
func (p *parser) unparted() error {
	r := p.peek(0)
	if r == '+' || r == '>' && p.peek(1) == '=' || r == '≥' || p.matches("plus") > 0 || p.opensStage() {
		return nil
	}
	if p.countsInWords() {
		return nil
	}
	if r == '>' {
		f := p.fault(p.pos, fault.TwoReadings, "“>” may be an arrow, or a least figure.", "Write → or >=.")
		head := string(p.src[:p.pos])
		tail := strings.ReplaceAll(string(p.src[p.pos:]), ">", ";")
		f.Readings = []string{head + tail, head + "; >= " + strings.TrimPrefix(tail, ";")}
		return f
	}
	if p.matches("or") > 0 || r == '/' {
		return p.alternatives()
	}
	if p.saidAgain() {
		return p.separator()
	}
	p.strays()
	f := p.fault(p.pos, fault.BadRecipe, "“"+p.word()+"” does not follow here.",
		"Part stages with a comma, a semicolon or “then”; put + before an angle.")
	f.Readings = p.joined()
	return f
}

// within takes one of some phrases, alone or in a bracket.
func (p *parser) within(phrases []string) bool {
	mark := p.pos
	paren := p.sign("(")
	if p.phrase(phrases...) && (!paren || p.sign(")")) {
		return true
	}
	p.pos = mark
	return false
}
