package recipe

import (
	_ "embed"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"lugtak/core/fault"
)

// Lines as manuals print them: what stands beside a figure and says nothing of it is passed over and kept as a note.

// lexicon is the words that may be passed over: subject words say what a figure is of, the others how it goes in. A
// word that is not here is asked about, since it may change the figure.
//
//go:embed lexicon.txt
var lexicon string

// known says of each word of the lexicon whether it is a subject word.
var known = func() map[string]bool {
	words := map[string]bool{}
	subject := false
	for _, line := range strings.Split(lexicon, "\n") {
		switch {
		case strings.HasPrefix(line, "#"):
		case strings.HasPrefix(line, "["):
			subject = line == "[subject]"
		default:
			for _, w := range strings.Fields(line) {
				words[w] = subject
			}
		}
	}
	return words
}()

// never are words that turn a figure into another: no reading of a text leaves one out.
var never = strings.Fields("not no never dont don do without if unless except before less minus or either " +
	"off back loosen loose slacken release remove undo unscrew ten twenty thirty forty fifty sixty seventy eighty " +
	"ninety " +
	"hundred half third quarter left two three four several stages steps passes " +
	"alternately alternatively check recheck")

// What a label says of a bolt beside its name: thread with pitch and length, class, how many, which item.
var (
	threadForm = regexp.MustCompile(`^(?:m\d{1,2}(?:[.,]\d{1,2})?(?: ?[x×] ?\d{1,3}(?:[.,]\d{1,2})?){0,2}` +
		`|\d/\d{1,2}-\d{2}(?: ?un[cf])?)`)
	classForm = regexp.MustCompile(`^(?:- ?)?(?:4\.6|4\.8|5\.6|5\.8|6\.8|8\.8|9\.8|10\.9|12\.9)`)
	gradeForm = regexp.MustCompile(`^(?:class|grade|cl\.) \d{1,2}(?:\.\d)?`)
	countForm = regexp.MustCompile(`^(?:\d{1,2}(?: ?[x×])?|two|three|four|five|six) `)
	itemForm  = regexp.MustCompile(`^(?:t\d{2}|\d{1,2} (?:off|pcs)|` +
		`(?:items?|page|fig(?:ure)?|ref|note|table|no)\.? *\d{1,3})`)
	qtyForm    = regexp.MustCompile(`^\(\d{1,2}\) ?:?`)
	leaderForm = regexp.MustCompile(`^(?: ?\.){2,} ?`)
	asideForm  = regexp.MustCompile(`^\(([^()]*)\)`)
	// While the hub is spun, and what is waited for, nothing is turned on.
	spinForm = regexp.MustCompile(`^(?:while |whilst )?(?:rotat(?:e|ing)|turning|spin(?:ning)?) (?:the )?` +
		`(?:hub|wheel|rotor|disc|disk|drum|bearing)(?: (?:forwards?|backwards?|both ways|in both directions))?` +
		`(?:,? (?:at least )?(?:\d{1,2}|several|a few|five|ten) (?:full )?(?:turns|times|revolutions))?`)
	waitForm   = regexp.MustCompile(`^wait (?:for )?(?:\d{1,3}|a few) (?:seconds?|sec|s|minutes?|min|hours?|h)`)
	footForm   = regexp.MustCompile(`^[*†‡¹²³]+`)
	figureForm = regexp.MustCompile(`\d *(?:°|º|%|n[ ·.*-]*m|da|deg|ft|foot|feet|in[ .-]|lb|turn|` +
		`flat|k[gp]|newton|pound|[x×])`)
	asideWords = regexp.MustCompile(`\pL[\pL'-]*|\S`)
)

// span is a stretch of the text that is no figure, with what it was taken for.
type span struct {
	from, to int
	as       As
}

// pass takes n runes for what they are.
func (p *parser) pass(n int, as As) {
	p.spans = append(p.spans, span{p.pos, p.pos + n, as})
	p.pos += n
}

// ahead is the length of a form that stands next and ends where a word or a figure ends.
func (p *parser) ahead(form *regexp.Regexp) int {
	p.space()
	n := len([]rune(form.FindString(p.rest())))
	next := p.peek(n)
	if unicode.IsLetter(next) || unicode.IsDigit(next) || next == '/' ||
		(next == '.' || next == ',') && unicode.IsDigit(p.peek(n+1)) {
		return 0
	}
	return n
}

// nextWord is the letters ahead from some runes on, with the hyphens within.
func (p *parser) nextWord(off int) string {
	i := p.pos + off
	for ; i < len(p.low); i++ {
		r := p.low[i]
		inner := r == '-' && i > p.pos+off && i+1 < len(p.low) && unicode.IsLetter(p.low[i+1])
		if !unicode.IsLetter(r) && !inner {
			break
		}
	}
	return string(p.low[p.pos+off : i])
}

// passable says that a word may be passed over, and whether it says what a figure is of. One with hyphens is as its
// parts are.
func passable(word string) (subject, ok bool) {
	if len(word) < 2 {
		return false, false
	}
	if of, whole := known[word]; whole {
		return of, true
	}
	for part := range strings.SplitSeq(word, "-") {
		of, known := known[part]
		if !known {
			return false, false
		}
		subject = subject || of
	}
	return subject, true
}

// besides passes over one thing that stands beside a figure.
func (p *parser) besides() bool {
	p.space()
	if n := p.ahead(itemForm); n > 0 {
		mark := p.pos
		p.pass(n, AsNote)
		if p.space(); p.pos >= len(p.low) || strings.ContainsRune(":)", p.peek(0)) {
			return true
		}
		p.pos, p.spans = mark, p.spans[:len(p.spans)-1]
	}
	for _, f := range []struct {
		form *regexp.Regexp
		as   As
	}{{gradeForm, AsClass}, {threadForm, AsThread}} {
		if n := p.ahead(f.form); n > 0 {
			p.of(string(p.low[p.pos : p.pos+n]))
			p.pass(n, f.as)
			if f.as == AsThread {
				p.sign(",", ";")
				if n := p.ahead(classForm); n > 0 {
					p.pass(n, AsClass)
				}
			}
			return true
		}
	}
	for _, form := range []*regexp.Regexp{spinForm, waitForm} {
		if n := p.ahead(form); n > 0 {
			p.pass(n, AsNote)
			return true
		}
	}
	if p.lent() {
		return true
	}
	word := p.nextWord(0)
	if word == "a" || word == "an" { // a new nut, and no quarter
		mark := p.pos
		p.pos += len(word)
		p.space()
		if word = p.nextWord(0); word == "full" || !passableOnly(word) {
			p.pos = mark
			return false
		}
	}
	if subject, ok := passable(word); ok {
		if subject {
			p.of(word)
		}
		p.pass(len([]rune(word)), AsNote)
		if p.peek(0) == '.' && len(word) <= shortened && !unicode.IsDigit(p.peek(1)) {
			p.pos++
		}
		return true
	}
	if n := p.ahead(footForm); n > 0 && len(p.subject) > 0 {
		p.pass(n, AsNote)
		return true
	}
	return p.counts() || p.aside()
}

// lent passes over a preposition before a word that says nothing of the figure: in sequence, with the locker.
func (p *parser) lent() bool {
	mark := p.pos
	if p.phrase("a little at a time") {
		p.spans = append(p.spans, span{mark, p.pos, AsNote})
		return true
	}
	if p.phrase("in a", "in the", "in", "at", "with", "for", "of") {
		p.space()
		if !p.verbAhead() && passableOnly(p.nextWord(0)) {
			p.spans = append(p.spans, span{mark, p.pos, AsNote})
			return true
		}
	}
	p.pos = mark
	return false
}

func passableOnly(word string) bool { _, ok := passable(word); return ok }

// leftNote takes that the thread is left-handed where it stands behind the figure.
func (p *parser) leftNote() bool {
	mark := p.pos
	paren := p.sign("(")
	if p.phrase(leftThread...) && (!paren || p.sign(")")) {
		p.left = true
		p.spans = append(p.spans, span{mark, p.pos, AsNote})
		return true
	}
	p.pos = mark
	return false
}

// shortened words may carry a point: fig., spec., diff.
const shortened = 4

// of keeps what the next figure is of, in the singular.
func (p *parser) of(word string) { p.subject = append(p.subject, strings.TrimSuffix(word, "s")) }

// counts passes over how many there are of what is named next: 2 bolts, 4 × M8.
func (p *parser) counts() bool {
	n := len([]rune(countForm.FindString(p.rest())))
	if n == 0 {
		return false
	}
	mark := p.pos
	p.pos += n
	p.space()
	if subject, _ := passable(p.nextWord(0)); !subject && p.ahead(threadForm) == 0 {
		p.pos = mark
		return false
	}
	p.of(string(p.low[mark:p.pos]))
	p.spans = append(p.spans, span{mark, p.pos, AsNote})
	return true
}

// aside passes over a bracket that holds words alone.
func (p *parser) aside() bool {
	p.space()
	if p.peek(0) != '(' {
		return false
	}
	if n := len([]rune(qtyForm.FindString(p.rest()))); n > 0 && p.mark == "" && len(p.subject) > 0 {
		p.pass(n, AsNote)
		return true
	}
	text := string(p.low[p.pos:])
	if n := len([]rune(asideForm.FindString(text))); n > 0 && threadForm.FindString(text[1:]) == text[1:n-1] {
		p.of(text[1 : n-1])
		p.pass(n, AsThread)
		return true
	}
	m := asideForm.FindStringSubmatch(text)
	if m == nil || figureForm.MatchString(m[1]) {
		return false
	}
	var of []string
	words := asideWords.FindAllString(m[1], -1)
	letters := false
	for i, w := range words {
		r := []rune(w)[0]
		subject, ok := passable(w)
		switch {
		case ok:
			letters = true
			if subject {
				of = append(of, w)
			}
		case unicode.IsDigit(r):
			if i == 0 {
				return false
			}
		case unicode.IsLetter(r) && !slices.Contains([]string{"m", "a", "and", "for", "to", "tighten", "in", "at"}, w):
			return false
		}
	}
	if !letters {
		return false
	}
	for _, w := range of {
		p.of(w)
	}
	p.pass(len([]rune(m[0])), AsNote)
	return true
}

// trailing passes over what stands behind a figure and says nothing of it.
func (p *parser) trailing() {
	for !p.scanner.done() {
		mark := p.pos
		switch {
		case p.count():
			p.pos = mark
			return
		case p.aside(), p.leftNote():
			continue
		case p.phrase("of torque", "torque"):
			if p.space(); p.scanner.done() || strings.ContainsRune(",;.(", p.peek(0)) {
				continue
			}
			p.pos = mark
			return
		}
		if n := p.ahead(footForm); n > 0 {
			p.pass(n, AsNote)
			continue
		}
		p.sign("-") // 45 Nm – renew
		p.phrase("in a", "in the", "in", "at", "with", "for", "of", "as", "by")
		p.space()
		if word := p.nextWord(0); word == "" || p.verbAhead() || p.countsInWords() || !p.besides() {
			p.pos = mark
			return
		}
	}
}

// verbAhead says that the next word begins a stage, though it may be passed over elsewhere.
func (p *parser) verbAhead() bool {
	return slices.ContainsFunc(verbs, func(v string) bool { return p.matches(v) > 0 }) || p.ordinalAhead()
}

var ordinals = strings.Fields("1st 2nd 3rd 4th first second third fourth final last initial")

// ordinalAhead says that the text counts its stages in words.
func (p *parser) ordinalAhead() bool {
	return slices.ContainsFunc(ordinals, func(o string) bool { return p.matches(o) > 0 })
}

// ordinal passes over 1st, second pass, third: where no turn can be meant.
func (p *parser) ordinal() bool {
	mark := p.pos
	p.phrase("a")
	for _, o := range ordinals {
		if !p.phrase(o) {
			continue
		}
		if p.phrase("stage", "step", "pass", "phase", "torque", "tightening") || unicode.IsDigit([]rune(o)[0]) {
			return true
		}
		if p.space(); strings.ContainsRune(":=-", p.peek(0)) {
			return true
		}
	}
	p.pos = mark
	return false
}

// within says that all words are among others.
func within(words, of []string) bool {
	return !slices.ContainsFunc(words, func(w string) bool { return !slices.Contains(of, w) })
}

// notes are the words that were passed over, as they were written; those that follow each other are one note.
func (p *parser) notes() []string {
	var out []string
	end := -1
	for _, s := range p.spans {
		if s.as != AsNote {
			continue
		}
		text := strings.Trim(string(p.src[s.from:s.to]), "() :[]{}")
		if end >= 0 && strings.TrimSpace(string(p.src[end:s.from])) == "" {
			out[len(out)-1] += " " + text
		} else {
			out = append(out, text)
		}
		end = s.to
	}
	return out
}

// without is a text less the words nobody knows, where no one of them turns a figure; empty where that is no recipe.
func without(text string) string {
	for range strayWords {
		p := &parser{scanner: newScanner(text)}
		r, err := p.parse()
		if err == nil {
			return r.String()
		}
		word := string(p.low[p.stray.from:p.stray.to])
		if word == "" || slices.ContainsFunc(strings.Split(word, "-"), func(w string) bool {
			return slices.Contains(never, w)
		}) {
			return ""
		}
		text = string(p.src[:p.stray.from]) + " " + string(p.src[p.stray.to:])
	}
	return ""
}

// filled is a text with a unit put where one is missing; empty where that is no recipe.
func filled(text, unit string) string {
	for range maxStages {
		p := &parser{scanner: newScanner(text)}
		_, err := p.parse()
		if err == nil {
			return text
		}
		if other := map[string]string{"Nm": "pound", "ft-lb": "newton"}[unit]; p.names(other) ||
			fault.As(err).Code != fault.NoUnit {
			return ""
		}
		text = strings.TrimRight(string(p.src[:p.lacks]), " ") + " " + unit + " " + string(p.src[p.lacks:])
	}
	return ""
}

// names says that a unit of some system stands in the text: what has none is likely in that one.
func (p *parser) names(of string) bool {
	rest := &scanner{src: p.src, low: p.low}
	for rest.pos = range p.low {
		if rest.pos > 0 && unicode.IsLetter(p.low[rest.pos-1]) {
			continue
		}
		if u, ok := rest.unit(); ok && !u.angle && u.slip == "" && system(u.name) == of {
			return true
		}
	}
	return false
}

// strayWords is how many unknown words are left out to offer a reading.
const strayWords = 6

// strays keeps where an unknown word stands.
func (p *parser) strays() {
	p.space()
	if n := len([]rune(p.nextWord(0))); n > 1 {
		p.stray = span{from: p.pos, to: p.pos + n}
	}
}

// loosening words behind a turn make it a back-off.
var loosening = []string{
	"back off", "backoff", "backed off", "back", "backwards", "loosen", "loosened", "loosening", "slacken", "slackened",
	"undo", "undone", "counter clockwise", "counterclockwise", "anti clockwise", "anticlockwise", "release", "released",
}

// number of a stage as the text counts it.
func (p *parser) label(n int) string {
	if p.letters {
		return string(rune('a' + n - 1))
	}
	return strconv.Itoa(n)
}
