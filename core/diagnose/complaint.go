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
	line := " " + strings.Join(fields(text), " ")
	var out []string
	for _, e := range k.Evidence {
		if slices.ContainsFunc(e.Words, func(w string) bool { return strings.Contains(line, " "+w) }) {
			out = append(out, e.Key)
		}
	}
	return out
}

// first puts what is asked first of a complaint before what gains most a minute, in its order. What has to be asked
// again stays before all.
func (k *Knowledge) first(next []Next, complaint string, again []string) []Next {
	order, signs := slices.Clone(again), k.Complaint(complaint)
	for _, e := range k.Evidence {
		if slices.Contains(signs, e.Key) {
			order = append(order, e.Then...)
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
