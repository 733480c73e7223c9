package recipe

import (
	"regexp"
	"slices"
	"strings"
	"unicode"

	"lugtak/core/fault"
	"lugtak/core/thread"
)

// Bounds of a pasted paragraph, in bytes and words: more than a printed page.
const (
	MaxPaste = 6000
	maxWords = 800
)

// As is what a word of a pasted paragraph was taken for.
type As string

// What a word is taken for.
const (
	AsRecipe As = "recipe"
	AsThread As = "thread"
	AsClass  As = "class"
	AsJoint  As = "joint"
	AsNote   As = "note"     // it stands beside a figure and says nothing of it
	AsOrder  As = "sequence" // in which order fasteners come
	AsLeft   As = "left"     // nothing: whoever pasted it looks at it
)

// Word is one word of a paragraph with what it was taken for.
type Word struct {
	Text string `json:"text"`
	As   As     `json:"as"`
}

// Line is a sentence of a paragraph, word by word, with what was read in it.
type Line struct {
	Text   string   `json:"text"`
	Words  []Word   `json:"words"`
	Recipe string   `json:"recipe,omitempty"`
	Thread string   `json:"thread,omitempty"`
	Class  string   `json:"class,omitempty"`
	Joint  string   `json:"joint_hint,omitempty"` // one of the names that were given
	Notes  []string `json:"notes,omitempty"`      // what stands beside the figure: hints, as they were written
	Asks   []string `json:"asks"`                 // what a person has to decide
}

// longest is how many words a recipe has at most in a paragraph.
const longest = 26

// sentence ends a line of a paragraph: its end, or a full stop before a capital letter.
var sentence = regexp.MustCompile(`\r?\n|\. +(?:\p{Lu})`)

var (
	hasDigit  = regexp.MustCompile(`\d`)
	threadly  = regexp.MustCompile(`^M\d{1,2}(?:[.,]\d+)?(?:[x×X]\d(?:[.,]\d+)?)?$`)
	classes   = []string{"4.6", "4.8", "5.6", "5.8", "6.8", "8.8", "9.8", "10.9", "12.9"}
	beginning = []string{
		"left", "snug", "hand", "finger", "not", "no", "at", "between", "from", "lower",
		"min", "min.", "minimum", "max", "max.", "about", "approx.", ">=", "~", "≥",
	}
	edge = ".,;:()[]"
)

// Paste reads a paragraph of a manual sentence by sentence. Every word is accounted for: used as what, or left. Names
// are what joints are called; the one a sentence speaks of most is its hint. It refuses what is longer than a page.
func Paste(text string, names []string) ([]Line, error) {
	if len(text) > MaxPaste || len(strings.Fields(text)) > maxWords {
		return nil, fault.New(fault.TooLong, "text", "That is more than a page.", "Paste one paragraph at a time.")
	}
	var out []Line
	for _, part := range joined(sentences(tabled(text))) {
		fields := strings.Fields(part)
		switch {
		case len(fields) == 0:
		case head(part) != nil:
			out = append(out, headLine(fields))
		default:
			out = append(out, readLine(fields, names))
		}
	}
	return out, nil
}

func sentences(text string) []string {
	var out []string
	from := 0
	for _, at := range sentence.FindAllStringIndex(text, -1) {
		end := at[1]
		switch {
		case text[at[0]] == '.': // the capital begins the next one
			end = at[0] + 1
		case goesOn(text[from:at[0]], text[end:]):
			continue
		}
		out = append(out, text[from:end])
		from = end
	}
	return append(out, text[from:])
}

// goesOn says that a line was broken by its page alone: no figure stands in it yet, nothing ends it, and the next one
// begins small.
func goesOn(line, next string) bool {
	line, next = strings.TrimSpace(line), strings.TrimLeft(next, " \t")
	return line != "" && !hasDigit.MatchString(line) && !strings.ContainsAny(line[len(line)-1:], ".:;|") &&
		strings.IndexFunc(next, unicode.IsLower) == 0
}

// joined puts the sentences together that are one recipe: the next begins as a stage does and names nothing new.
func joined(parts []string) []string {
	var out []string
	for _, next := range parts {
		if n := len(out); n > 0 && goesOnAsStage(out[n-1], next) {
			out[n-1] += "\n" + next
			continue
		}
		out = append(out, next)
	}
	return out
}

// goesOnAsStage says that a sentence tells a further stage of the one before it. A torque alone may be another joint's.
func goesOnAsStage(before, next string) bool {
	first, err := parse(strings.Trim(before, edges))
	if err != nil {
		return false
	}
	both, err := parse(strings.TrimRight(before, edges) + "\n" + strings.Trim(next, edges))
	n := len(first.Stages)
	if err != nil || len(both.Stages) <= n || namesMore(before, next) {
		return false
	}
	return both.Stages[n].Kind != Torque || both.Stages[n-1].Kind == BackOff || countsOn(strings.TrimSpace(next))
}

// countsOn says that a sentence begins as a further stage does, by its number or a word.
func countsOn(sentence string) bool {
	p := &parser{scanner: newScanner(sentence)}
	switch {
	case stageNumber.MatchString(sentence), p.countsInWords(), p.phrase("then", "finally"):
		return true
	case p.matches("tighten") > 0, p.matches("turn") > 0: // any first one may begin so
		return false
	}
	return p.opensStage()
}

var stageNumber = regexp.MustCompile(`^\(?[2-9][.):]`)

// namesMore says that a sentence speaks of something the one before it did not.
func namesMore(before, next string) bool {
	said := strings.Fields(strings.ToLower(before))
	next = strings.ReplaceAll(strings.ToLower(next), "line up", "align") // and no brake line
	return slices.ContainsFunc(strings.Fields(next), func(w string) bool {
		subject, _ := passable(strings.Trim(w, edge))
		return subject && !slices.ContainsFunc(said, func(s string) bool { return alikeWords(s, w) })
	})
}

// measures says that a word is a figure with its unit behind it, though it could be a class.
func measures(fields []string, i int) bool {
	if i+1 == len(fields) {
		return false
	}
	p := &parser{scanner: newScanner(strings.Trim(fields[i+1], edge))}
	_, ok := p.unit()
	return ok
}

// tells is what would change a figure, were it read: words that stand beside one and were left are asked about.
var tells = regexp.MustCompile(`(?i)\d\s*(?:°|º|deg|turn|flat|%)|\bturns?\b.*\b(?:further|more)\b|±|\+/-|` +
	`(?:^|\s)\d+(?:[.,]\d+)?\s*(?:[,;/&]|then|and)(?:\s|$)|` +
	`\b(?:back off|slacken|loosen|undo|advance|align|castellations?|slots?|holes?|equal|steps|stages|passes)\b|` +
	`\b(?:at least|less than|more than|exceed|max|maximum|min|minimum|limit|tolerance)\b`)

var bareNumber = regexp.MustCompile(`^\d+(?:[.,]\d+)?$`)

// unread asks about words that were left though they tell of a figure.
func (l *Line) unread(taken func(i int) bool) {
	var left []string
	ask := func(before As) {
		torn := before == AsRecipe && len(left) > 0 && bareNumber.MatchString(left[len(left)-1]) // 65 −5 Nm
		if text := strings.Join(left, " "); torn || tells.MatchString(text) ||
			l.Recipe == "" && figureForm.MatchString(strings.ToLower(text)) {
			l.Asks = append(l.Asks, "“"+text+"” was not read: does it change the figure?")
		}
		left = nil
	}
	for i, w := range l.Words {
		if w.As == AsLeft && !taken(i) {
			left = append(left, w.Text)
			continue
		}
		ask(w.As)
	}
	ask(AsLeft)
}

// headLine is the head of a table: what it says of figures is read with its rows.
func headLine(fields []string) Line {
	l := Line{Text: strings.Join(fields, " "), Words: make([]Word, len(fields)), Asks: []string{}}
	for i, f := range fields {
		l.Words[i] = Word{f, AsNote}
	}
	return l
}

func readLine(fields, names []string) Line {
	l := Line{Text: strings.Join(fields, " "), Words: make([]Word, len(fields)), Asks: []string{}}
	for i, f := range fields {
		l.Words[i] = Word{f, AsLeft}
		bare := strings.Trim(f, edge)
		switch {
		case threadly.MatchString(bare):
			if t, err := thread.Parse(strings.ReplaceAll(strings.ToLower(bare), "×", "x")); err == nil {
				l.Words[i].As, l.Thread = AsThread, t.Name
			}
		case slices.Contains(classes, bare) && !measures(fields, i):
			l.Words[i].As, l.Class = AsClass, bare
		}
	}
	from, to, asks := l.figure(fields)
	l.Asks = append(l.Asks, asks...)
	if to > from {
		l.take(fields, from, to)
		rest := Line{Words: l.Words}
		if i, j, _ := rest.figure(fields); j > i {
			second := strings.Join(fields[i:j], " ")
			l.Asks = append(l.Asks, "A second figure stands in it: “"+second+"”. Which is of which joint?")
		}
	}
	l.hint(names)
	if len(l.Asks) == 0 {
		l.unread(func(i int) bool { return i >= from && i < to }) // within, it was read or passed over
	}
	l.notes()
	return l
}

// take says of each word of a recipe what it was read as. What says nothing of the figure may still name the joint.
func (l *Line) take(fields []string, from, to int) {
	text := strings.Join(fields[from:to], " ")
	lead := len([]rune(text)) - len([]rune(strings.TrimLeft(text, edges)))
	_, spans, _ := read(strings.Trim(text, edges))
	at := -lead
	for i := from; i < to; i++ {
		l.Words[i].As = AsRecipe
		end := at + len([]rune(fields[i]))
		bare := end - len([]rune(fields[i])) + len([]rune(strings.TrimRight(fields[i], edge)))
		for _, s := range spans {
			if s.from > at+1 || s.to < bare-1 || s.from >= end {
				continue
			}
			switch s.as {
			case AsNote:
				l.Words[i].As = AsLeft
			case AsThread:
				name := strings.ReplaceAll(strings.ToLower(strings.Trim(fields[i], edge)), "×", "x")
				if t, err := thread.Parse(name); err == nil {
					l.Words[i].As, l.Thread = AsThread, t.Name
				}
			case AsClass:
				l.Words[i].As, l.Class = AsClass, strings.Trim(fields[i], edge)
			}
		}
		at = end + 1
	}
}

// edges of a recipe within a sentence.
const edges = " .,;:"

// ordering are words of the sequence fasteners are tightened in.
var ordering = strings.Fields("sequence sequentially order pattern diagonal diagonally diametrically crosswise " +
	"criss-cross " +
	"crisscross star alternately evenly progressively gradually")

// notes are the words of a sentence that are known and say nothing of its figure; those beside each other are one note.
func (l *Line) notes() {
	before := -1
	for i := range l.Words {
		bare := strings.ToLower(strings.Trim(l.Words[i].Text, edge))
		joins := slices.Contains([]string{"to", "and", "by", "a", "then", "|"}, bare)
		if l.Words[i].As != AsLeft || !joins && !passableOnly(bare) {
			continue
		}
		l.Words[i].As = AsNote
		if slices.Contains(ordering, bare) {
			l.Words[i].As = AsOrder
		}
		if before == i-1 && len(l.Notes) > 0 {
			l.Notes[len(l.Notes)-1] += " " + bare
		} else {
			l.Notes = append(l.Notes, bare)
		}
		before = i
	}
}

// figure finds the longest stretch of words not taken yet that is a recipe, and reads it; where the longest one can be
// read in two ways it says so.
func (l *Line) figure(fields []string) (from, to int, asks []string) {
	free := func(i int) bool { return l.Words[i].As == AsLeft }
	if !slices.ContainsFunc(l.Words, func(w Word) bool { return w.As != AsLeft }) { // all of it, with its words
		if r, err := parse(strings.Trim(strings.Join(fields, " "), edges)); err == nil && r.measured() {
			l.Recipe = r.String()
			return 0, len(fields), loose(r)
		}
	}
	var ends []string
	for i := range fields {
		first := strings.ToLower(strings.Trim(fields[i], edge))
		if !free(i) || !hasDigit.MatchString(fields[i]) && !slices.Contains(beginning, first) {
			continue
		}
		for j := min(len(fields), i+longest); j > i+max(0, to-from); j-- {
			if !hasDigit.MatchString(strings.Join(fields[i:j], " ")) {
				break
			}
			if slices.ContainsFunc(l.Words[i:j], func(w Word) bool { return w.As != AsLeft }) {
				continue
			}
			text := strings.Trim(strings.Join(fields[i:j], " "), edges)
			r, err := parse(text) // of what is refused nobody asks the readings
			if err == nil && r.measured() {
				from, to, l.Recipe, ends = i, j, r.String(), loose(r)
				break
			}
			if f := fault.As(err); f != nil && f.Code == fault.TwoReadings {
				asks = []string{"“" + text + "”: " + f.Detail + " " + f.Remedy} // the shortest stretch that is in doubt
			}
		}
		if len(asks) > 0 { // what is in doubt goes on from what could be read: none of it is taken
			l.Recipe = ""
			return 0, 0, asks
		}
	}
	return from, to, ends
}

// loose asks of a recipe that leaves its fastener backed off all the way: how it comes off may stand behind how tight
// it is.
func loose(r Recipe) []string {
	if last := r.Stages[len(r.Stages)-1]; last.Kind != BackOff || !last.Full {
		return nil
	}
	return []string{"It ends backed off all the way: is a stage missing, or is that how it comes off?"}
}

// hint names the joint a sentence speaks of: the one of whose words it has the largest share.
func (l *Line) hint(names []string) {
	best := 0.0
	var used []int
	for _, name := range names {
		words := strings.Fields(strings.ToLower(name))
		var at []int
		for _, w := range words {
			i := slices.IndexFunc(l.Words, func(x Word) bool { return x.As == AsLeft && alikeWords(x.Text, w) })
			if i >= 0 && !slices.Contains(at, i) {
				at = append(at, i)
			}
		}
		share := float64(len(at)) / float64(max(1, len(words)))
		if share > best && share > half {
			best, used, l.Joint = share, at, name
		}
	}
	for _, i := range used {
		l.Words[i].As = AsJoint
	}
}

// half of a name's words is too little to go by.
const half = 0.5

// alikeWords says that two words are one, in one number or the other.
func alikeWords(a, b string) bool {
	bare := func(w string) string { return strings.TrimSuffix(strings.ToLower(strings.Trim(w, edge)), "s") }
	return bare(a) == bare(b)
}
