package recipe

import (
	"flag"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
)

var (
	texts = flag.Int("texts", 20_000, "how many texts are made up")
	seed  = flag.Uint64("seed", 1, "and from which seed")
)

// pieces are what recipes, good ones and torn ones, are made of.
var pieces = strings.Split(
	"1|2|3|4|7|10|12|45|60|90|110|0|00|1.5|0,5|1,0010|0.0000001|1/2|3/4|10/1|½|¼|’000| 000|e|E5|"+
		" | | | |Nm|N·m|ft-lb|ftlb|in-lb|kgf-m|kgm|Nmm|daNm|N|m|k|lb|°|deg|turn|turns|flat|flats|%|"+
		"+|-|−|–|±|+/-|+-|/|(|)|[|]|.|,|;|:|->|=>|=|≈|&|>=|<=|≥|~|•|\n|\xff|×2|x2|*3|x|2 x|"+
		"then|and|to|or|min|minimum|max|about|up to|at least|between|plus|by|full|left|drag|+ drag|first|again|more|further|"+
		"snug|hand|next slot|back off|in two stages|in three stages|twice|stage|step 1|1.|2.|3.|1)|2)|(1)|(2)|"+
		"quarter|half a|one|a|of a|turn by|"+
		"bolts|nut|caliper|the|tighten|tighten the bolts to|M8|M10x1.25|10.9|(new bolts)|in "+
		"sequence|torque|loosen|past|beyond|"+
		"after|1st|second|second pass|step 2|phase|a)|b)|hand tighten|old|wide|T =|< T <|÷|\t|{|}|[|]|.5|70.|..|front|"+
		"counterclockwise|left-hand thread|Torque (Nm):|use|item 5|cotter pin hole|daN·m",
	"|",
)

// The law of FuzzParse on texts put together by chance, the same ones at each run: pieces in
// a row, and texts that were read with a piece more, a character less, or another's tail.
func TestTextsMadeUpHaveOneReading(t *testing.T) {
	rng := rand.New(rand.NewPCG(*seed, 0))
	pick := func(from []string) string { return from[rng.IntN(len(from))] }
	read := []string{"60 Nm + 90°", "110 ± 8 Nm; back off full; ~20 Nm ×2", "90 Nm; next slot"}
	for range *texts {
		var s string
		if rng.IntN(3) == 0 {
			s = pick([]string{"", "10 Nm"})
			for range 1 + rng.IntN(8) {
				s += pick(pieces)
			}
		} else {
			runes := []rune(pick(read))
			at := rng.IntN(len(runes))
			switch rng.IntN(3) {
			case 0:
				runes = slices.Delete(runes, at, at+1)
			case 1:
				runes = slices.Insert(runes, at, []rune(pick(pieces))...)
			default:
				tail := []rune(pick(read))
				runes = append(runes[:at], tail[rng.IntN(len(tail)):]...)
			}
			s = string(runes)
		}
		if len(s) > 60 {
			continue // which finds no more, and slowly
		}
		if wrong := unlawful(s); wrong != "" {
			t.Error(wrong)
		}
		if _, err := Parse(s); err == nil {
			read = append(read, s)
		}
	}
	if len(read) < *texts/20 {
		t.Errorf("%d of %d texts were read", len(read), *texts)
	}
}
