package recipe

import (
	"regexp"
	"strconv"
	"strings"
	"unicode"

	"lugtak/core/fault"
)

// scanner walks the text rune by rune; columns are counted in runes from one.
type scanner struct {
	src []rune // as typed, for messages
	low []rune // lower case, dashes and spaces made one kind
	pos int

	bare bool       // the last number was a fraction without a whole
	over [2]float64 // and what stood over and under its stroke; zero for ½
	lost bool       // which may have lost the blank behind its whole
}

func newScanner(text string) *scanner {
	src := []rune(text)
	low := make([]rune, len(src))
	for i, r := range src {
		switch {
		case strings.ContainsRune("•●", r) && between(src, i, unicode.IsLetter):
			r = '·' // of a unit
		case r == '|' || r == '\t':
			r = cell(src, i)
		case r == '[' || r == '{':
			r = '('
		case r == ']' || r == '}':
			r = ')'
		case strings.ContainsRune("‐‑‒–—−", r):
			r = '-'
		case strings.ContainsRune("\n\r\u2028\u2192\u21d2\u27a1\u279c•●", r):
			r = ';' // a new line, an arrow, a bullet part stages
		case unicode.IsSpace(r):
			r = ' '
		case r >= fullWidth && r <= fullWidthEnd:
			r -= fullWidth - '!'
		}
		low[i] = plainLetter(unicode.ToLower(r))
	}
	return &scanner{src: src, low: low}
}

// cell is what the edge of a table's cell parts: stages, or a figure from its unit.
func cell(src []rune, i int) rune {
	before, after := nearest(src, i)
	if unicode.IsDigit(before) && unicode.IsLetter(after) {
		return ' '
	}
	return ';'
}

// between says that the nearest signs on both sides are of a kind.
func between(src []rune, i int, kind func(rune) bool) bool {
	before, after := nearest(src, i)
	return kind(before) && kind(after)
}

// nearest are the signs beside one, blanks left out; zero at the ends.
func nearest(src []rune, i int) (before, after rune) {
	blank := func(r rune) bool { return r != '\n' && r != '\r' && unicode.IsSpace(r) }
	for k := i - 1; k >= 0 && before == 0; k-- {
		if !blank(src[k]) {
			before = src[k]
		}
	}
	for k := i + 1; k < len(src) && after == 0; k++ {
		if !blank(src[k]) {
			after = src[k]
		}
	}
	return before, after
}

// Letters, digits and signs of East Asian width stand in the order of the plain ones.
const (
	fullWidth    = '！'
	fullWidthEnd = '～'
)

// cyrillic letters that spell units, as the plain ones that do (GOST 8.417: Н·м, кгс·м).
var cyrillic = map[rune]rune{'н': 'n', 'м': 'm', 'к': 'k', 'г': 'g', 'с': 'f', 'д': 'd', 'а': 'a'}

func plainLetter(r rune) rune {
	if p, ok := cyrillic[r]; ok {
		return p
	}
	return r
}

func (s *scanner) space() {
	for s.pos < len(s.low) && s.low[s.pos] == ' ' {
		s.pos++
	}
}

func (s *scanner) done() bool { s.space(); return s.pos >= len(s.low) }

func (s *scanner) peek(off int) rune {
	if s.pos+off < len(s.low) {
		return s.low[s.pos+off]
	}
	return 0
}

// rest is what lies ahead, cut short: no form of the notation is longer.
func (s *scanner) rest() string {
	end := min(len(s.low), s.pos+48)
	return string(s.low[s.pos:end])
}

// sign takes one of the given signs.
func (s *scanner) sign(signs ...string) bool {
	s.space()
	for _, g := range signs {
		i := s.pos
		for _, r := range g {
			if i >= len(s.low) || s.low[i] != r {
				i = -1
				break
			}
			i++
		}
		if i >= 0 {
			s.pos = i
			return true
		}
	}
	return false
}

// phrase takes one of the given phrases: words parted by spaces or hyphens,
// ending where a word ends. List longer phrases first.
func (s *scanner) phrase(phrases ...string) bool {
	for _, p := range phrases {
		if n := s.matches(p); n > 0 {
			s.pos += n
			return true
		}
	}
	return false
}

func (s *scanner) matches(phrase string) int {
	s.space()
	i := s.pos
	if i >= len(s.low) || phrase[0] < 0x80 && s.low[i] != rune(phrase[0]) {
		return 0
	}
	for _, r := range phrase {
		if r == ' ' {
			for i < len(s.low) && (s.low[i] == ' ' || s.low[i] == '-') {
				i++
			}
			continue
		}
		if i >= len(s.low) || s.low[i] != r {
			return 0
		}
		i++
	}
	if i < len(s.low) && (unicode.IsLetter(s.low[i])) {
		return 0
	}
	return i - s.pos
}

// word is the run of letters ahead, as typed, for messages.
func (s *scanner) word() string {
	s.space()
	i := s.pos
	for i < len(s.src) && i < s.pos+20 && (unicode.IsLetter(s.src[i]) || strings.ContainsRune("·°%", s.src[i])) {
		i++
	}
	if i == s.pos && i < len(s.src) {
		i++
	}
	return string(s.src[s.pos:i])
}

func (s *scanner) fault(col int, code fault.Code, detail, remedy string) *fault.Fault {
	return &fault.Fault{Code: code, Field: "recipe", Detail: detail, Remedy: remedy, Column: col + 1}
}

var (
	fractionForm = regexp.MustCompile(`^(?:(\d{1,2}) )?(\d{1,2})/(\d{1,2})`)
	thousandForm = regexp.MustCompile(`^[1-9]\d{0,2}([,.]\d{3})+$`)
	glyphs       = map[rune]float64{'½': 0.5, '¼': 0.25, '¾': 0.75, '⅓': 1.0 / 3, '⅔': 2.0 / 3, '⅛': 0.125}
)

// fraction matches 1/2 or 1 1/2; most figures have no stroke and cost nothing.
func fraction(s string) []string {
	if !strings.Contains(s, "/") {
		return nil
	}
	return fractionForm.FindStringSubmatch(s)
}

// decimal is the figure a text begins with: digits, and behind one point or comma
// more digits.
func decimal(s string) string {
	i := digits(s)
	if i < len(s) && (s[i] == '.' || s[i] == ',') {
		if n := digits(s[i+1:]); n > 0 {
			i += 1 + n
		}
	}
	return s[:i]
}

func digits(s string) int {
	i := 0
	for i < len(s) && s[i] >= '0' && s[i] <= '9' {
		i++
	}
	return i
}

// begins says that the text or what follows a label begins here: elsewhere a point may end what was before.
func (s *scanner) begins() bool {
	before := strings.TrimRight(string(s.low[:s.pos]), " ")
	return before == "" || strings.HasSuffix(before, ":") || strings.HasSuffix(before, "=")
}

// number takes a figure: 72, 72.5, 72,5, 1/2, 1 1/2, ½. It returns ok false
// and moves nothing if there is none. A fraction without a whole before it is told.
func (s *scanner) number() (v float64, ok bool, err error) {
	s.space()
	s.bare, s.lost = false, false
	s.over = [2]float64{}
	if g, ok := glyphs[s.peek(0)]; ok {
		s.pos++
		s.bare = true
		return g, true, nil
	}
	rest := s.rest()
	if m := tenths.FindString(rest); m != "" && s.begins() { // .5
		s.pos += len(m)
		v, _ = strconv.ParseFloat("0"+m, 64)
		return v, true, nil
	}
	if r := s.peek(0); r < '0' || r > '9' {
		return 0, false, nil
	}
	if m := fraction(rest); m != nil && m[3] != "0" && m[3] != "00" {
		s.pos += len(m[0])
		w, _ := strconv.ParseFloat("0"+m[1], 64)
		a, _ := strconv.ParseFloat(m[2], 64)
		b, _ := strconv.ParseFloat(m[3], 64)
		if m[1] != "" && (a == 0 || a >= b) {
			return 0, false, s.fault(s.pos-len(m[0]), fault.TwoReadings,
				"“"+m[0]+"” is no whole with a part of one: a blank may stand in a figure.", "Write it as 1 1/2, or as 1.5.")
		}
		s.bare = m[1] == ""
		s.over = [2]float64{a, b}
		s.lost = s.bare && (a > b || a >= 10)
		return w + a/b, true, nil
	}
	m := decimal(rest)
	col := s.pos
	if g := gappedForm.FindString(rest); g != "" && digits(rest[len(g):]) == 0 { // 1 200, one to nine thousand
		s.pos += len([]rune(g))
		v, _ = strconv.ParseFloat(strings.NewReplacer(" ", "", "'", "", "’", "").Replace(g), 64)
		return v, true, nil
	}
	if g := grouped(rest); g != "" {
		f := s.fault(col, fault.TwoReadings, "“"+g+"” reads as two figures or as one, "+strings.NewReplacer(" ", "", "'",
			"",
			"’", "").Replace(g)+".", "Write it without a gap.")
		f.Readings = []string{s.with(col, col+len([]rune(g)), strings.NewReplacer(" ", "", "'", "", "’", "").Replace(g))}
		return 0, false, f
	}
	if thousandForm.MatchString(m) {
		return 0, false, s.thousand(col, m)
	}
	if len(m) > 12 {
		return 0, false, s.fault(col, fault.BadNumber, "That figure has too many digits.",
			"Write it as on the sheet, as in 72.5.")
	}
	s.pos += len(m)
	v, _ = strconv.ParseFloat(strings.Replace(m, ",", ".", 1), 64)
	if g, ok := glyphs[s.peek(0)]; ok { // 1½
		s.pos++
		v += g
	}
	if pointForm.MatchString(s.rest()) { // 70. Nm
		s.pos++
	}
	return v, true, nil
}

var (
	tenths     = regexp.MustCompile(`^\.\d{1,6}`)
	gappedForm = regexp.MustCompile(`^[1-9][ '’]\d{3}`)
	pointForm  = regexp.MustCompile(`^\. ?n[ ·.*-]*m`)
)

var groupedForm = regexp.MustCompile(`^[1-9]\d{0,2}([ '’]\d{3})+`)

// grouped is a figure whose thousands stand apart: 1 200.
func grouped(s string) string {
	g := groupedForm.FindString(s)
	if next := s[len(g):]; g == "" || digits(next) > 0 {
		return ""
	}
	return g
}

// thousand refuses a point or comma before three digits: it parts thousands or tenths.
func (s *scanner) thousand(col int, m string) error {
	tenths, _ := strconv.ParseFloat(strings.Replace(m, ",", ".", 1), 64)
	small := plain(tenths)
	large := strings.NewReplacer(",", "", ".", "").Replace(m)
	f := s.fault(col, fault.TwoReadings, "“"+m+"” reads as "+small+" or as "+large+".",
		"Write "+small+" or "+large+".")
	for _, v := range []string{small, large} {
		f.Readings = append(f.Readings, s.with(col, col+len([]rune(m)), v))
	}
	return f
}

// with is the text with another piece between two columns.
func (s *scanner) with(from, to int, piece string) string {
	to = min(max(to, from), len(s.src))
	return strings.TrimSpace(string(s.src[:from]) + piece + string(s.src[to:]))
}

var parts = []struct {
	name string
	v    float64
}{
	{"one and a half", 1.5}, {"three quarters", 0.75}, {"three quarter", 0.75}, {"two thirds", 2.0 / 3},
	{"one quarter", 0.25}, {"a quarter", 0.25},
	{"quarter", 0.25}, {"one half", 0.5}, {"a half", 0.5}, {"half", 0.5},
	{"one third", 1.0 / 3}, {"a third", 1.0 / 3}, {"third", 1.0 / 3},
	{"one sixth", 1.0 / 6}, {"a sixth", 1.0 / 6}, {"one eighth", 0.125}, {"an eighth", 0.125}, {"eighth", 0.125},
	{"one full", 1}, {"a full", 1}, {"full", 1}, {"one", 1},
	{"two", 2}, {"three", 3}, {"four", 4}, {"five", 5}, {"six", 6}, {"a", 1},
}

// wordNumber takes "half a", "quarter", "one" where turns or flats follow.
func (s *scanner) wordNumber() (float64, bool) {
	s.space()
	start := s.pos
	if !unicode.IsLetter(s.peek(0)) {
		return 0, false
	}
	for _, p := range parts {
		if !s.phrase(p.name) {
			continue
		}
		mark := s.pos
		s.phrase("of a", "a")
		if u, ok := s.unit(); ok && u.turns {
			s.pos = mark
			s.phrase("of a", "a")
			return p.v, true
		}
		s.pos = start
	}
	return 0, false
}

// spelled is a unit as spelled in a recipe.
type spelled struct {
	name    string  // canonical
	angle   bool    // an angle, Degrees per unit
	degrees float64 //
	turns   bool    // turns or flats: counted, not measured
	times   float64 // a decimal multiple of the unit it is named by; 0 is one
	slip    string  // not a torque: what may be meant
}

const (
	gap  = `[ ·⋅∙•.*×\-/]*`
	feet = `(?:feet|foot|ft)`
	lbs  = `(?:lbs?f?|pounds?(?:[ -]?force)?)`
	inch = `(?:inches|inch|in)`
	kilo = `(?:kgf|kg|kp|kilopond|kilogram(?:s|-force)?)`
	long = `(?:met(?:re|er)s?|m)`
)

var unitForms = []struct {
	form *regexp.Regexp
	u    spelled
}{
	{regexp.MustCompile(`^(?:da` + gap + `n` + gap + `m)\.?`), spelled{name: "Nm", times: 10}},
	{regexp.MustCompile(`^(?:k` + gap + `n` + gap + `m)\.?`), spelled{name: "Nm", times: 1000}},
	{regexp.MustCompile(`^(?:cn` + gap + `m)\.?`), spelled{name: "Nm", times: 0.01}},
	{regexp.MustCompile(`^(?:n` + gap + `mm)\.?`), spelled{name: "Nm", times: 0.001}},
	{regexp.MustCompile(`^(?:n` + gap + `m|n x m|newton[ \-·.]*met(?:re|er)s?)\.?`), spelled{name: "Nm"}},
	{regexp.MustCompile(`^(?:n` + gap + `cm)`), spelled{name: "N-cm"}},
	{regexp.MustCompile(`^(?:` + feet + gap + lbs + `f?\.?|` + lbs + gap + feet + `\.?)`), spelled{name: "ft-lb"}},
	{regexp.MustCompile(`^(?:` + inch + gap + lbs + `f?\.?|` + lbs + gap + inch + `\.?)`), spelled{name: "in-lb"}},
	{regexp.MustCompile(`^(?:` + kilo + gap + `cm|cm` + gap + kilo + `)`), spelled{name: "kgf-cm"}},
	{regexp.MustCompile(`^(?:` + kilo + gap + long + `|m` + gap + kilo + `)`), spelled{name: "kgf-m"}},
	{regexp.MustCompile(`^(?:°|º|deg(?:rees?|s)?\.?)`), spelled{name: "°", angle: true, degrees: 1}},
	{regexp.MustCompile(`^(?:turns?|revolutions?|revs?\.?)`), spelled{name: "°", angle: true, degrees: 360, turns: true}},
	{regexp.MustCompile(`^flats?`), spelled{name: "°", angle: true, degrees: 60, turns: true}},
	{regexp.MustCompile(`^kilos?`), spelled{slip: "kgf·m"}},
	{regexp.MustCompile(`^(?:kgf|kg|kp)`), spelled{slip: "kgf·m"}},
	{regexp.MustCompile(`^(?:lbs?f?|pounds?)`), spelled{slip: "ft·lb or in·lb"}},
	{regexp.MustCompile(`^(?:ft|foot|feet)`), spelled{slip: "ft·lb"}},
	{regexp.MustCompile(`^(?:kn|n|newtons?)`), spelled{slip: "N·m"}},
	{regexp.MustCompile(`^(?:mm|cm|m|in|inch|inches)`), spelled{slip: "N·m or in·lb"}},
}

// unit takes a unit; the caller refuses one that has a slip.
func (s *scanner) unit() (spelled, bool) {
	s.space()
	if s.peek(0) == '-' && strings.HasPrefix(s.rest(), "-deg") { // a 45-degree turn
		s.pos++
	}
	if r := s.peek(0); r != '°' && !unicode.IsLetter(r) { // º is a letter
		return spelled{}, false
	}
	if s.peek(0) == '°' {
		s.pos++
		return spelled{name: "°", angle: true, degrees: 1}, true
	}
	rest := s.rest()
	for _, f := range unitForms {
		m := f.form.FindString(rest)
		if m == "" {
			continue
		}
		n := len([]rune(m))
		if next := s.peek(n); unicode.IsLetter(next) || (unicode.IsDigit(next) && f.u.name != "°") {
			continue
		}
		s.pos += n
		if strings.HasSuffix(m, ".") && strings.HasPrefix(strings.TrimLeft(s.rest(), " "), ".") {
			s.pos-- // two points are a dash
		}
		return f.u, true
	}
	return spelled{}, false
}
