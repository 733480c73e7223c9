package recipe

import (
	"strconv"
	"strings"

	"lugtak/core/fault"
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

func parse(text string) (Recipe, error) {
	if len(text) > MaxText {
		return Recipe{}, fault.New(fault.TooLong, "recipe", "That is longer than any recipe.",
			"Keep the stages only; remarks go elsewhere.")
	}
	p := &parser{scanner: newScanner(text)}
	p.sep = true
	for p.sign(";", ",") {
	}
	left := p.phrase("left hand thread", "left hand", "left", "lh thread", "lh", "lht")
	if left {
		p.sign(":", ",", ";")
	}
	p.mark = p.counting()
	if p.scanner.done() {
		return Recipe{}, p.fault(0, fault.Missing, "No recipe given.",
			"Write it as 60 Nm, 60 Nm + 90° or 90 Nm; next slot.")
	}
	for !p.scanner.done() {
		if err := p.stage(); err != nil {
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
	for i := range p.out {
		p.out[i].Left = left
	}
	return Recipe{Stages: p.out}, nil
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
}

// counting is the mark by which the text counts its stages, as in 1. 60 Nm 2. +90°; empty
// where it does not. One number alone, 1. 60 Nm, may be a figure torn apart.
func (p *parser) counting() string {
	text := string(p.low)
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
	if p.sign(strconv.Itoa(len(p.begins)+1)) && (p.mark == "." && p.stop() || p.mark != "." && p.sign(p.mark)) {
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
	if r == '+' || r == '>' || r == '≥' || p.matches("plus") > 0 || p.opensStage() {
		return nil
	}
	if p.matches("or") > 0 || r == '/' {
		return p.alternatives()
	}
	if p.saidAgain() {
		return p.separator()
	}
	f := p.fault(p.pos, fault.BadRecipe, "“"+p.word()+"” does not follow here.",
		"Part stages with a comma, a semicolon or “then”; put + before an angle.")
	f.Readings = p.joined()
	return f
}

// opensStage: words that can only begin a stage.
func (p *parser) opensStage() bool {
	for _, w := range []string{"back", "backoff", "loosen", "slacken", "undo", "next slot", "to next slot",
		"to the next slot", "on to the next slot", "up to the next slot", "retorque", "re torque", "tighten", "turn"} {
		if p.matches(w) > 0 {
			return true
		}
	}
	return false
}

func (p *parser) stage() error {
	p.space()
	if p.count() {
		p.counted++
	}
	p.begins = append(p.begins, p.pos)
	p.space()
	start := p.pos
	if err := p.skipVerbs(); err != nil {
		return err
	}
	switch {
	case p.phrase("back off", "backoff", "backed off", "loosen", "slacken off", "slacken", "slack off", "undo",
		"unscrew", "turn back", "release"):
		return p.backOff()
	case p.phrase("on to the next slot", "onto the next slot", "up to the next slot", "to the next slot",
		"to next slot", "the next slot", "next slot", "next castellation", "align slot", "align the slot",
		"line up the slot", "slot"):
		if len(p.out) == 0 {
			return p.fault(start, fault.BadRecipe, "A slot comes after a torque.",
				"Write the torque first, as in 90 Nm; next slot.")
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
func (p *parser) skipVerbs() error {
	for {
		switch {
		case p.phrase(verbs...):
		case p.phrase("step", "stage"):
			if err := p.numbered(); err != nil {
				return err
			}
		default:
			return nil
		}
		p.sign(":", ")", "=")
	}
}

var verbs = []string{
	"re tighten to", "retighten to", "re torque to", "retorque to", "retorque", "re torque",
	"retighten", "tighten to", "tighten", "torque to", "torque", "set to", "pre tighten to",
	"first stage", "second stage", "third stage", "final stage", "last stage",
	"first step", "second step", "third step", "final step", "last step",
	"1st stage", "2nd stage", "3rd stage", "final", "finally", "first", "initially", "secondly", "lastly",
	"pull to", "bring to", "do up to", "specified torque", "tightening torque", "tightening", "again to", "to",
}

// numbered takes the one digit behind step or stage. More of them are a figure that may
// begin with it.
func (p *parser) numbered() error {
	p.space()
	isDigit := func(r rune) bool { return r >= '0' && r <= '9' }
	switch {
	case !isDigit(p.peek(0)):
		return nil
	case isDigit(p.peek(1)) || p.peek(1) == '.' || p.peek(1) == ',' || p.peek(1) == '/':
		f := p.fault(p.pos, fault.TwoReadings, "The number of the stage may be part of this figure.",
			"Write it as stage 1: 60 Nm.")
		begin := p.begins[len(p.begins)-1]
		f.Readings = []string{p.with(begin, p.pos, ""), p.with(begin, p.pos+1, "")}
		return f
	}
	p.pos++
	return nil
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
		return p.fault(start, fault.BadRecipe, "A back-off is an angle or full, not a torque.",
			"Write back off 120° or back off full.")
	}
	st.Kind = BackOff
	return p.add(start, st)
}

// loose says that the fastener was backed off fully and nothing was reached since.
func (p *parser) loose() bool {
	n := len(p.out)
	return n > 0 && p.out[n-1].Kind == BackOff && p.out[n-1].Full
}

type multiple struct {
	n       int
	phrases []string
}

var rising = []multiple{
	{2, []string{"in two stages", "in 2 stages", "in two steps", "in 2 steps", "in two passes", "in 2 passes"}},
	{3, []string{"in three stages", "in 3 stages", "in three steps", "in 3 steps", "in three passes", "in 3 passes"}},
}

// mostRounds is as many as are read behind one figure.
const mostRounds = 3

var rounds = []multiple{
	{
		2,
		[]string{
			"×2", "× 2", "x2", "x 2", "*2", "twice", "two times", "2 times", "in two rounds",
			"in 2 rounds", "two rounds", "2 rounds",
		},
	},
	{
		mostRounds,
		[]string{
			"×3", "× 3", "x3", "x 3", "*3", "three times", "3 times", "in three rounds", "in 3 rounds",
			"three rounds", "3 rounds",
		},
	},
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
			st.A, st.B, st.C = round9(st.A/float64(n)), round9(st.B/float64(n)), round9(st.C/float64(n))
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
		return p.fault(start, fault.BadRecipe, "A recipe cannot begin by backing off.",
			"Write the torque before it, as in 50 Nm; back off 120°; 50 Nm.")
	}
	p.out = append(p.out, st)
	return nil
}
