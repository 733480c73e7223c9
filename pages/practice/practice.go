// Package practice is the pages of the practice bay, which is never taken for a job: its exercises, a run at its
// act, and what a run came to.
package practice

import (
	"embed"
	"fmt"
	"lugtak/core/listing"
	"lugtak/core/practice"
	"lugtak/core/unit"
	"lugtak/library"
	"lugtak/pages/kit"
)

//go:embed *.html *.css
var files embed.FS

var pages = kit.NewSet(files, nil)

// barMM is the bar that is swung in the practice bay, mm (common practice).
const barMM = 600

// bay is the list of exercises with how one has fared.
type bay struct {
	Exercises []Exercise
	Weak      []practice.Skilled
	Repeat    *Exercise // what trains the weakest skill
}

// Exercise is one, with how one has fared.
type Exercise struct {
	*practice.Exercise
	Last *listing.Run
}

// Stars are the levels there are, up to the exercise's own.
func (x Exercise) Stars() []bool { return []bool{true, x.Level > 1, x.Level > 2} }

// GoodSays is the time a good technician takes.
func (x Exercise) GoodSays() string { return unit.HoursMinutes(x.GoodMin) }

func exerciseAt(x *practice.Exercise, past []listing.Run) Exercise {
	row := Exercise{Exercise: x}
	for i := range past {
		if past[i].Exercise == x.ID {
			row.Last = &past[i]
			break
		}
	}
	return row
}

// pastOf is what somebody has practised, as the rules take it.
func pastOf(runs []listing.Run) []practice.Past {
	var out []practice.Past
	for _, r := range runs {
		out = append(out, practice.Past{Exercise: r.Exercise, Skills: r.Score.Skills})
	}
	return out
}

// practised is a run that has ended.
type practised struct {
	View
	practice.Score
	Skilled []practice.Skilled
	Repeat  *Exercise
}

// Headline is what would have left with the car.
func (v practised) Headline() string {
	switch v.Faults {
	case 0:
		return "It would have left sound"
	case 1:
		return "It would have left with one fault"
	}
	return fmt.Sprintf("It would have left with %d faults", v.Faults)
}

// repeat is the exercise that trains what is weakest; nil where nothing is.
func repeat(lib *library.Library, runs []listing.Run) *Exercise {
	id := practice.Repeat(pastOf(runs), func(exercise string) (float64, bool) {
		x, ok := lib.Exercise(exercise)
		if !ok {
			return 0, false
		}
		return x.GoodMin, true
	})
	x, ok := lib.Exercise(id)
	if !ok {
		return nil
	}
	row := exerciseAt(x, runs)
	return &row
}

// Bay lists the exercises, for somebody with such a past.
func Bay(lib *library.Library, past []listing.Run) kit.Page {
	v := bay{Weak: practice.Skills(pastOf(past)), Repeat: repeat(lib, past)}
	for i := range lib.Exercises {
		v.Exercises = append(v.Exercises, exerciseAt(&lib.Exercises[i], past))
	}
	return pages.Page("practice", "Practice bay", v)
}

// Practised is a run that has ended.
func Practised(lib *library.Library, x Shown, past []listing.Run) kit.Page {
	v := practised{
		View:    View{Run: x.Run, Kept: x.Kept, Fault: x.Fault, Typed: x.Typed},
		Score:   x.Run.Score(),
		Skilled: practice.Skills(pastOf(past)),
		Repeat:  repeat(lib, past),
	}
	return pages.Page("practised", "Practice: "+v.Title, v)
}
