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
	if p.bullet {
		p.sign("-", "*")
	}
	p.space()
	start := p.pos
	passed := len(p.spans)
	if err := p.skipVerbs(); err != nil {
		return err
	}
	if p.space(); len(p.spans) > passed && (p.scanner.done() || strings.ContainsRune(",;.&", p.peek(0)) && !p.tenthsAhead() ||
		p.matches("and") > 0 || p.matches("then") > 0) {
		p.begins = p.begins[:len(p.begins)-1]
		return nil // words alone
	}
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

// slots are the words for turning on to where a cotter pin goes in.
var slots = []string{
	"advance to the next slot", "advance to next slot", "advance to the next castellation", "advance to next castellation",
	"on to the next slot",
	"onto the next slot", "up to the next slot", "to the next slot", "to next slot", "the next slot", "next slot",
	"turn on to the next cotter pin hole", "further to align the cotter pin hole", "to align the cotter pin hole",
	"to the next cotter pin hole", "to next cotter pin hole", "next cotter pin hole", "align the cotter pin hole",
	"align cotter pin hole", "next castellation", "align next hole", "align the next hole", "continue to the next slot",
	"align slot", "align the slot", "line up the slot", "slot",
}

// slot takes the words for the next slot; a plus may stand before them.
func (p *parser) slot() bool {
	mark := p.pos
	if !p.sign("+") {
		p.phrase("plus")
	}
	if p.phrase(slots...) {
		return true
	}
	p.pos = mark
	return false
}

// backs takes the words that begin a back-off; what is backed off may stand within: back the nut off.
func (p *parser) backs() bool {
	if p.phrase("back off", "backoff", "backed off", "back out", "loosen", "loosened", "slacken off", "slacken", "slackened",
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
		for n := 0; n < 4 && p.besides(); n++ {
		}
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
	{"snug", []string{"snug tight", "snugly", "until snug", "snug"}},
	{"hand", []string{
		"hand tight", "hand tighten", "hand tightened", "by hand", "finger tight", "finger tighten", "finger tightened",
		"hand",
	}},
	{"contact", []string{"until contact", "till contact", "to contact", "until it touches", "until it contacts", "initial contact", "contact"}},
}

var verbs = []string{
	"re tighten to", "retighten to", "re torque to", "retorque to", "retorque", "re torque",
	"retighten", "tighten to", "tighten at", "tighten", "torque to", "torque", "set to", "pre tighten to",
	"first stage", "second stage", "third stage", "final stage", "last stage",
	"first step", "second step", "third step", "final step", "last step",
	"1st stage", "2nd stage", "3rd stage", "final", "finally", "first", "initially", "secondly", "lastly",
	"pull to", "bring to", "do up to", "specified torque", "tightening torque", "tightening", "again to",
	"to a torque of", "with a torque of", "a torque of", "to a value of", "snug torque", "pre torque", "preload", "seat at",
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
		if p.within(r.phrases) {
			return p.addTimes(start, st, r.n)
		}
	}
	for _, r := range rising {
		n := r.n
		if !p.within(r.phrases) {
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
