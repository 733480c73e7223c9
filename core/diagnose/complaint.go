package diagnose

import (
	"cmp"
	"slices"
	"strings"
	"unicode"
)

// pointed is how much likelier a fault sits where a driver says than elsewhere: a driver is right three times of four
// (from memory, common practice).
const pointed = 3

func said(where string) corners {
	out := corners{1, 1, 1, 1, 1}
	for i, c := range Corners {
		if where != "" && (where == string(c) || where == c.Side() || where == c.Axle()) {
			out[i] = pointed
		}
	}
	return out
}

// Place is where the words of a complaint point: a corner, else a side or an axle, else nowhere. Words that point both
// ways point nowhere.
func Place(text string) string {
	words := places(fields(text))
	one := func(a, b string) string {
		has, other := slices.Contains(words, a), slices.Contains(words, b)
		switch {
		case has && !other:
			return a
		case other && !has:
			return b
		}
		return ""
	}
	axle, side := one("front", "rear"), one("left", "right")
	for _, c := range Corners {
		if c.Side() == side && c.Axle() == axle || slices.Contains(words, strings.ToLower(string(c))) {
			return string(c)
		}
	}
	return cmp.Or(side, axle)
}

// places are the words that may tell a place: not the side of a bend, nor the way something turns or pulls.
func places(words []string) []string {
	ways := []string{"bend", "bends", "turn", "turns", "curve", "curves", "corner", "corners", "lock"}
	acts := []string{"turning", "turn", "steering", "steers", "pulls", "pull", "drifts", "to"}
	near := func(i int, of []string) bool { return i >= 0 && i < len(words) && slices.Contains(of, words[i]) }
	var out []string
	for i, w := range words {
		side := w == "left" || w == "right"
		bend := near(i+1, ways) || near(i+1, []string{"hand", "handed"}) && near(i+2, ways)
		if side && (bend || near(i-1, acts) || near(i-1, []string{"the"}) && near(i-2, acts)) {
			continue
		}
		out = append(out, w)
	}
	return out
}

// fields are the words of what somebody wrote, in small letters.
func fields(text string) []string {
	return strings.FieldsFunc(strings.ToLower(text),
		func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
}

// Complaint gives the signs that the words of a complaint may mean, in the library's
// order: to be confirmed, not taken.
func (k *Knowledge) Complaint(text string) []string {
	words := fields(text)
	var out []string
	for _, e := range k.Evidence {
		if slices.ContainsFunc(e.Words, func(w string) bool { return spokenOf(words, fields(w)) }) {
			out = append(out, e.Key)
		}
	}
	return out
}

// Phrase is a part of a complaint as it was told, with the sign its words may mean.
type Phrase struct {
	Words string
	Sign  string // its key; empty where they mean none
	Means string // what a yes to it says
}

// Phrases parts a complaint at its stops, and says of each part which sign it may mean; each sign is meant once.
func (k *Knowledge) Phrases(text string) []Phrase {
	var out []Phrase
	meant := map[string]bool{}
	for part := range strings.FieldsFuncSeq(text, func(r rune) bool { return strings.ContainsRune(",.;:!?", r) }) {
		p := Phrase{Words: strings.TrimSpace(part)}
		if p.Words == "" {
			continue
		}
		for _, key := range k.Complaint(p.Words) {
			i := slices.IndexFunc(k.Evidence, func(e Evidence) bool { return e.Key == key })
			if i < 0 || meant[key] {
				continue
			}
			meant[key] = true
			p.Sign = key
			p.Means, _, _ = strings.Cut(k.Evidence[i].Reason, ";")
			break
		}
		out = append(out, p)
	}
	return out
}

// Untold is what a complaint, and the place that answers tell of what is suspected most, leave open of where it is:
// which wheel, front or rear, left or right; empty where both come to a corner.
func Untold(text, seen string) string {
	told := Place(text)
	var axle, side bool
	for _, c := range Corners {
		for _, where := range []string{told, seen} {
			axle = axle || where == c.Axle() || where == string(c)
			side = side || where == c.Side() || where == string(c)
		}
	}
	switch {
	case axle && side:
		return ""
	case side:
		return "front or rear"
	case axle:
		return "left or right"
	}
	return "which wheel"
}

// between is how many words may stand between those of one meaning: a pedal that goes very low.
const between = 2

// spokenOf says that all of the words begin a word of what was said, in any order and close together.
func spokenOf(said, words []string) bool {
	begins := func(near []string) bool {
		return !slices.ContainsFunc(words, func(w string) bool {
			return !slices.ContainsFunc(near, func(x string) bool { return strings.HasPrefix(x, w) })
		})
	}
	for i := range said {
		if begins(said[i:min(len(said), i+len(words)+between)]) {
			return true
		}
	}
	return false
}

// first puts before what gains most a minute what has to be asked again, what was said, to be confirmed, and what is
// asked first of that.
func (k *Knowledge) first(next []Next, complaint string, again []string) []Next {
	signs := k.Complaint(complaint)
	order := slices.Concat(again, signs)
	for _, e := range k.Evidence {
		if slices.Contains(signs, e.Key) {
			order = append(order, e.Then...)
		}
	}
	for i, n := range next {
		if n.Kind == "sign" && slices.Contains(signs, n.Key) && !slices.Contains(again, n.Key) {
			next[i].Said, next[i].Settles = true, "whether that is what was meant"
		}
	}
	at := func(n Next) int {
		if i := slices.Index(order, n.Key); i >= 0 {
			return i
		}
		return len(order)
	}
	slices.SortStableFunc(next, func(a, b Next) int { return at(a) - at(b) })
	return next
}
