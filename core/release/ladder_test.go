package release

import (
	"math"
	"testing"
)

// ladderOf is a kind with two rungs, of one chance each at every grade but the two light ones.
func ladderOf(held ByGrade) *ladder {
	return &ladder{
		kind: Kind{Held: held, BreakMin: 30, GiveUp: 20},
		held: held,
		rungs: []*rung{
			{Rung: Rung{Key: "tap", Minutes: 4}, try: Try{
				Rung: "tap", Frees: ByGrade{0.8, 0.2, 0.2, 0.2}, Harms: ByGrade{0.1, 0.1, 0.1, 0.1},
			}},
			{Rung: Rung{Key: "cut", Minutes: 10}, try: Try{
				Rung: "cut", Frees: ByGrade{0.9, 0.9, 0.9, 0.9}, GivesUp: true,
			}},
		},
		tried: make([]int, 2),
	}
}

// A try in vain speaks for a harder hold: half and half, freed by four in five and by one in
// five, broken by one in ten, is one to seven after it (Bayes' rule by hand: 0.5·0.1 to 0.5·0.7).
func TestATryInVainSpeaksForAHarderHold(t *testing.T) {
	l := ladderOf(ByGrade{0.5, 0.5})
	l.failed(0)
	if got := l.held[1] / l.held[0]; math.Abs(got-7) > 1e-9 {
		t.Errorf("one to %v", got)
	}
	// Each chance is that of the grades as they stand now: (0.1·0.8 + 0.7·0.2)/0.8, and
	// half of it the second time.
	if got := l.over(l.rungs[0].try.Frees); math.Abs(got-0.275) > 1e-9 {
		t.Errorf("freed next by %v", got)
	}
}

// The expected minutes of an order, by hand. Tap: 4 + 0.1·30. What is left, 0.7: cut, 10 and
// 20 for what is given up; what is left of that, a tenth: 30 for what breaks and 45 stranded.
func TestCostByHand(t *testing.T) {
	l := ladderOf(ByGrade{0, 1})
	want := 4 + 0.1*30 + 0.7*(10+20) + 0.7*0.1*(30+45)
	if got := l.cost([]int{0, 1}); math.Abs(got-want) > 1e-9 {
		t.Errorf("%v minutes, by hand %v", got, want)
	}
	if got := l.cost(nil); got != 30+45 {
		t.Errorf("nothing tried: %v", got)
	}
	if l.tried[0] != 0 || l.held != (ByGrade{0, 1}) {
		t.Error("reckoning a cost left a trace")
	}
}
