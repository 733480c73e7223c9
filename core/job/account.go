package job

import (
	"fmt"
	"slices"
	"strings"

	"lugtak/core/pull"
)

// Grade is what a fastener that was touched stands at in the account. Each has one.
type Grade string

// The grades. Where several are true of a fastener, the worst counts.
const (
	GradeTraced      Grade = "traced"
	GradeClicked     Grade = "clicked"
	GradeMarked      Grade = "marked"
	GradePlay        Grade = "play"         // its figure seats it, and a gauge has found its play inside
	GradeStated      Grade = "stated"       // a reading that a hand has brought
	GradeByHand      Grade = "by_hand"      // tight as its recipe says, and the recipe names no figure
	GradeNotMeasured Grade = "not_measured" // tight without the figure its recipe names
	GradeDeviating   Grade = "deviating"    // left as it is, signed for by name
	GradeOwed        Grade = "owed"
)

// Grades lists them from the best to the worst, in the order they are told.
func Grades() []Grade {
	return []Grade{
		GradeTraced, GradeClicked, GradeMarked, GradePlay, GradeStated,
		GradeByHand, GradeNotMeasured, GradeDeviating, GradeOwed,
	}
}

var gradeWords = map[Grade]string{
	GradeTraced:      "traced",
	GradeClicked:     "clicked",
	GradeMarked:      "turned by a mark",
	GradePlay:        "proved by play",
	GradeStated:      "stated",
	GradeByHand:      "by hand, as asked",
	GradeNotMeasured: "not measured",
	GradeDeviating:   "by deviation",
	GradeOwed:        "owed",
}

// Words says a grade in the words of the bay.
func (g Grade) Words() string { return gradeWords[g] }

// Figured says that the fastener was tightened to a figure somebody knows.
func (g Grade) Figured() bool {
	return g == GradeTraced || g == GradeClicked || g == GradeMarked || g == GradePlay || g == GradeStated
}

// gradeOf is the grade a kind of evidence earns. Evidence that is not known proves nothing.
var gradeOf = map[pull.Evidence]Grade{
	pull.Traced:  GradeTraced,
	pull.Clicked: GradeClicked,
	pull.Marked:  GradeMarked,
	pull.Stated:  GradeStated,
}

// Accounted is one fastener of the account.
type Accounted struct {
	Fastener FastenerID
	Grade    Grade
	Renewed  bool // with new hardware
}

// Account is what a job comes to, counted once. Every page, paper, list and message shows this
// one and counts nothing itself.
type Account struct {
	Fasteners []Accounted // that were touched, in the order of the plan
}

// Account counts what the job comes to. Nothing was touched before the work is planned.
func (s *State) Account() Account {
	var a Account
	if s.Plan == nil {
		return a
	}
	for j, f := range s.all() {
		if f.Touched() {
			a.Fasteners = append(a.Fasteners, Accounted{f.FastenerID, s.grade(j.ID, f), f.Renewed})
		}
	}
	return a
}

// Touched says that the fastener was disturbed, or met with trouble.
func (f *Fastener) Touched() bool { return f.Phase != Rest || f.Trouble != "" }

func (s *State) grade(joint string, f *Fastener) Grade {
	grade, known := gradeOf[f.Evidence]
	switch {
	case f.Owed():
		return GradeOwed
	case f.Waived, s.Plan.Joint(joint).ByBolt:
		return GradeDeviating
	case f.Gauged:
		return GradePlay
	case !known:
		return GradeNotMeasured
	case !s.hasFigure(joint):
		return GradeByHand
	}
	return grade
}

// Of is the part of the account that belongs to some fasteners.
func (a Account) Of(belongs func(FastenerID) bool) Account {
	var part Account
	for _, x := range a.Fasteners {
		if belongs(x.Fastener) {
			part.Fasteners = append(part.Fasteners, x)
		}
	}
	return part
}

// Worst is the fastener that stands worst, the first of its like; none where none was touched.
func (a Account) Worst() (worst Accounted, touched bool) {
	rank := func(x Accounted) int { return slices.Index(Grades(), x.Grade) }
	for i, x := range a.Fasteners {
		if i == 0 || rank(x) > rank(worst) {
			worst = x
		}
	}
	return worst, len(a.Fasteners) > 0
}

// Opened is how many fasteners were touched.
func (a Account) Opened() int { return len(a.Fasteners) }

// Count is how many fasteners stand at one of the grades.
func (a Account) Count(grades ...Grade) int {
	return a.count(func(x Accounted) bool { return slices.Contains(grades, x.Grade) })
}

func (a Account) count(is func(Accounted) bool) (n int) {
	for _, x := range a.Fasteners {
		if is(x) {
			n++
		}
	}
	return n
}

// Figured is how many were tightened to a figure somebody knows.
func (a Account) Figured() int { return a.count(func(x Accounted) bool { return x.Grade.Figured() }) }

// Renewed is how many have new hardware.
func (a Account) Renewed() int { return a.count(func(x Accounted) bool { return x.Renewed }) }

// Grade is the grade of one fastener; empty where it was not touched.
func (a Account) Grade(id FastenerID) Grade {
	for _, x := range a.Fasteners {
		if x.Fastener == id {
			return x.Grade
		}
	}
	return ""
}

// Says is the account in a line: “9 traced, 2 clicked, 3 not measured”. It is empty where
// nothing was touched.
func (a Account) Says() string {
	var words []string
	for _, g := range Grades() {
		if n := a.Count(g); n > 0 {
			words = append(words, fmt.Sprintf("%d %s", n, g.Words()))
		}
	}
	return strings.Join(words, ", ")
}
