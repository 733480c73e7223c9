package recipe

import (
	"slices"
	"strings"
	"unicode"

	"lugtak/core/fault"
)

// opensStage: words that can only begin a stage.
func (p *parser) opensStage() bool {
	for _, w := range []string{"back", "backoff", "loosen", "slacken", "undo", "next slot", "to next slot",
		"to the next slot", "on to the next slot", "up to the next slot", "retorque", "re torque", "tighten", "turn"} {
		if p.matches(w) > 0 {
			return true
		}
	}
	mark := p.pos
	defer func() { p.pos = mark }()
	return p.unlessAligned()
}

func (p *parser) stage() error {
	p.space()
	if p.count() {
		p.counted++
	}
	p.begins = append(p.begins, p.pos)
	if p.bullet {
		p.sign("-", "*")
	}
	p.space()
	start := p.pos
	passed := len(p.spans)
	if err := p.skipVerbs(); err != nil {
		return err
	}
	if p.space(); len(p.spans) > passed && (p.scanner.done() || strings.ContainsRune(",;.&", p.peek(0)) &&
		!p.tenthsAhead() ||
		p.matches("and") > 0 || p.matches("then") > 0) {
		p.begins = p.begins[:len(p.begins)-1]
		return nil // words alone
	}
	p.runs()
	switch {
	case p.backs():
		return p.backOff()
	case p.slot():
		if len(p.out) == 0 {
			return p.fault(start, fault.BadRecipe, "A slot comes after a torque.",
				"Write the torque first, as in 90 Nm; next slot.")
		}
		if p.loose() {
			return p.fromLoose(start, "to a slot")
		}
		return p.add(start, Stage{Kind: NextSlot})
	}
	for _, w := range snugs {
		if p.phrase(w.phrases...) {
			return p.add(start, Stage{Kind: Snug, Word: w.word})
		}
	}
	if p.sign("-") {
		if st, angle, err := p.figure(true); err == nil && angle {
			f := p.fault(start, fault.TwoReadings, "A dash before an angle may be a back-off, or a dash.",
				"Write back off before it, or +.")
			head := string(p.src[:start])
			tail := string(p.src[p.pos:])
			f.Readings = []string{head + "back off " + st.amount() + tail, head + "+" + st.amount() + tail}
			return f
		}
		p.pos = start
	}
	return p.measured(start)
}

// runs passes over how a fastener comes to a stage without a figure: turn the nut until contact.
func (p *parser) runs() {
	mark, spans, subject := p.pos, len(p.spans), p.subject
	if p.phrase("turn", "screw", "run") {
		for p.besides() {
		}
		p.phrase("down", "in", "on", "up")
		if p.snugAhead() {
			return
		}
	}
	p.pos, p.spans, p.subject = mark, p.spans[:spans], subject
}

// slots are the words for turning on to where a cotter pin goes in.
var slots = []string{
	"advance to the next slot", "advance to next slot", "advance to the next castellation", "advance to next castellation",
	"on to the next slot",
	"onto the next slot", "up to the next slot", "to the next slot", "to next slot", "the next slot", "next slot",
	"turn on to the next cotter pin hole", "further to align the cotter pin hole", "to align the cotter pin hole",
	"to the next cotter pin hole", "to next cotter pin hole", "next cotter pin hole", "align the cotter pin hole",
	"align cotter pin hole", "next castellation", "align next hole", "align the next hole", "continue to the next slot",
	"further to the next castellation", "further to the next slot", "further to the next hole", "to the next castellation",
	"to the next hole", "until the next slot lines up", "to next cotter pin slot", "to the next cotter pin slot",
	"to align the cotter pin", "to align cotter pin", "align slot",
	"align the slot", "line up the slot", "slot",
}

// slot takes the words for the next slot; a plus may stand before them.
func (p *parser) slot() bool {
	mark, spans, subject := p.pos, len(p.spans), p.subject
	if !p.sign("+") {
		p.phrase("plus")
	}
	if p.unlessAligned() {
		p.sign(",")
		p.phrase("tighten further", "turn further", "turn on", "tighten on", "tighten", "advance", "turn")
		for p.besides() {
		}
	}
	if p.phrase(slots...) {
		return true
	}
	if p.phrase("advance", "continue", "turn on", "go on", "carry on") {
		for p.besides() {
		}
		if p.phrase(slots...) {
			p.subject = subject // it is the fastener that was tightened
			return true
		}
	}
	p.pos, p.spans, p.subject = mark, p.spans[:spans], subject
	return false
}

// unlessAligned takes the words for a slot that does not stand at its hole yet: where it does, nothing is turned on.
func (p *parser) unlessAligned() bool {
	if p.phrase("if necessary", "if needed", "if required") {
		return true
	}
	mark := p.pos
	if p.phrase("if the", "if") && p.phrase("slots", "slot", "holes", "hole", "castellations", "cotter pin hole") &&
		p.phrase("do not", "does not", "are not", "is not") && p.phrase("line up", "align", "aligned", "in line") {
		return true
	}
	p.pos = mark
	return false
}

// backs takes the words that begin a back-off; what is backed off may stand within: back the nut off.
func (p *parser) backs() bool {
	if p.phrase("back off", "backoff", "backed off", "back out", "loosen", "loosened", "slacken off", "slacken",
		"slackened",
		"slack off", "undo", "unscrew", "turn back", "turned back", "release") {
		return true
	}
	mark, spans := p.pos, len(p.spans)
	if p.phrase("back") {
		p.space()
		if _, glyph := glyphs[p.peek(0)]; glyph || unicode.IsDigit(p.peek(0)) {
			return true
		}
	}
	p.pos = mark
	if p.phrase("back", "turn", "slack") {
		subject := p.subject
		for n := 0; n < 4 && p.besides(); n++ {
		}
		p.subject = subject // it is the fastener that was tightened
		if p.phrase("off", "back") {
			return true
		}
	}
	p.pos, p.spans = mark, p.spans[:spans]
	return false
}

// skipVerbs passes over words that carry no figure.
func (p *parser) skipVerbs() error {
	for {
		label := true
		switch {
		case p.leftNote(), p.staged():
		case p.ordinal(), p.phrase("snug torque"), p.letterFor():
		case p.snugAhead():
			return nil
		case p.phrase(verbs...):
			p.told = true
		case p.phrase("step", "stage", "pass", "phase"):
			if err := p.numbered(); err != nil {
				return err
			}
			p.sign("-")
		case p.besides():
		default:
			label = false
		}
		if !label {
			return nil
		}
		p.sign(":", ")", "=")
		if n := len(leaderForm.FindString(p.rest())); n > 0 {
			p.pos += n
		}
		if mark := p.pos; p.sign(",") { // Torque, Nm: 60
			at := p.pos
			if _, ok := p.unitFirst(); ok {
				p.pos = at
			} else {
				p.pos = mark
			}
		}
		if mark := p.pos; p.afterWord() && p.sign("-") { // Caliper bolts - 110 Nm, and no angle to the other side
			if st, angle, err := p.figure(true); err == nil && angle && st.Kind == "" {
				p.pos = mark
				return nil
			}
			p.pos = mark
			p.sign("-")
		}
	}
}

// afterWord says that a word or a bracket ends here: behind a size a dash may belong to the figure.
func (p *parser) afterWord() bool {
	if n := len(p.spans); n > 0 && p.spans[n-1].as == AsClass {
		return true
	}
	before := []rune(strings.TrimRight(string(p.low[:p.pos]), " "))
	n := len(before)
	return n > 0 && (unicode.IsLetter(before[n-1]) || before[n-1] == ')')
}

// staged takes the words that say how many stages follow, with a colon behind them.
func (p *parser) staged() bool {
	mark := p.pos
	p.phrase("in")
	if p.phrase("two stages", "2 stages", "two steps", "2 steps", "three stages", "3 stages", "three steps", "3 steps",
		"stages", "steps") && p.sign(":") {
		p.spans = append(p.spans, span{mark, p.pos, AsNote})
		return true
	}
	p.pos = mark
	return false
}

// letterFor takes the letter of a torque with its sign, as in T = 60 Nm.
func (p *parser) letterFor() bool {
	mark := p.pos
	if p.phrase("t", "ma", "m") && p.sign("=", ":") {
		return true
	}
	p.pos = mark
	return false
}

// snugAhead says that a stage without a figure stands next: its words begin as verbs do.
func (p *parser) snugAhead() bool {
	return slices.ContainsFunc(snugs, func(s snugWord) bool {
		return slices.ContainsFunc(s.phrases, func(w string) bool { return p.matches(w) > 0 })
	})
}

// tenthsAhead says that the point ahead belongs to a figure.
func (p *parser) tenthsAhead() bool { return p.peek(0) == '.' && unicode.IsDigit(p.peek(1)) }

type snugWord struct {
	word    string
	phrases []string
}

// snugs are the stages that have no figure.
var snugs = []snugWord{
	{"snug", []string{
		"snug tight", "snugly", "until snug", "snug", "until fully seated", "until seated", "until it seats", "fully home",
		"right home", "until home", "home",
	}},
	{"hand", []string{
		"hand tight", "hand tighten", "hand tightened", "by hand", "finger tight", "finger tighten", "finger tightened",
		"hand",
	}},
	{
		"contact",
		[]string{
			"until contact", "till contact", "to contact", "until it touches", "until it contacts", "initial contact", "contact",
		},
	},
}

var verbs = []string{
	"re tighten to", "retighten to", "re torque to", "retorque to", "retorque", "re torque",
	"retighten", "tighten to", "tighten at", "tighten", "torque to", "torque", "set to", "pre tighten to",
	"first stage", "second stage", "third stage", "final stage", "last stage",
	"first step", "second step", "third step", "final step", "last step",
	"1st stage", "2nd stage", "3rd stage", "final", "finally", "first", "initially", "secondly", "lastly",
	"pull to", "pull down to", "pull up to", "draw down to", "draw up to", "bring to", "do up to", "nominally", "nominal",
	"specified torque", "tightening torque", "tightening", "again to",
	"to a torque of", "with a torque of", "a torque of", "to a value of", "snug torque", "pre torque", "preload",
	"seat at", "seat the bearings", "seat the bearing", "seat bearings", "seat bearing",
	"initial torque", "final torque", "initial", "to",
}

// numbered takes the one digit behind step or stage. More of them are a figure that may
// begin with it.
func (p *parser) numbered() error {
	p.space()
	isDigit := func(r rune) bool { return r >= '0' && r <= '9' }
	switch {
	case !isDigit(p.peek(0)):
		p.phrase("one", "two", "three", "four")
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
	for p.besides() || p.phrase("by") {
	}
	if p.phrase("fully", "full", "completely", "all the way", "right off", "entirely", "until loose", "until free") {
		return p.add(start, Stage{Kind: BackOff, Full: true})
	}
	if p.toZero() {
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

// toZero takes that nothing holds the fastener any more: to 0 Nm, and no 0.5 turn.
func (p *parser) toZero() bool {
	mark := p.pos
	if p.phrase("to zero", "to 0") && !unicode.IsDigit(p.peek(0)) && !strings.ContainsRune(".,", p.peek(0)) {
		p.unit()
		return true
	}
	p.pos = mark
	return false
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
	{2, []string{
		"in two equal stages", "in two equal steps", "in two stages", "in 2 stages", "in two steps", "in 2 steps",
		"in two passes", "in 2 passes",
	}},
	{3, []string{
		"in three equal stages", "in three equal steps", "in three stages", "in 3 stages", "in three steps", "in 3 steps",
		"in three passes", "in 3 passes",
	}},
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
		if p.within(r.phrases) {
			return p.addTimes(start, st, r.n)
		}
	}
	for _, r := range rising {
		n := r.n
		if !p.within(r.phrases) {
			continue
		}
		p.sharesOf(st, n)
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

// sharesOf takes what each part of a figure comes to, where that is said and true: 90° in two stages of 45°.
func (p *parser) sharesOf(st Stage, n int) {
	mark := p.pos
	if p.phrase("of") {
		share, _, err := p.figure(true)
		if err == nil && round9(share.A*float64(n)) == round9(st.A) && share.Unit == st.Unit {
			return
		}
	}
	p.pos = mark
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
	if st.Kind == Torque {
		if err := p.falls(start, st); err != nil {
			return err
		}
	}
	p.out = append(p.out, st)
	return nil
}
