package bench

import (
	"fmt"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/pull"
	"lugtak/core/unit"
	"slices"
	"strings"
	"time"
)

// healed is a plan made anew, as the bench says it.
type healed struct {
	Why, Says string
}

func healedBy(r job.Replanning) *healed {
	says := fmt.Sprintf("%d new, %d earlier, %d later.", len(r.Change.New), len(r.Change.Earlier), len(r.Change.Later))
	if more := r.Change.Now - r.Change.Was; more > 0 {
		says += fmt.Sprintf(" %.0f minutes more.", more)
	}
	return &healed{Why: strings.TrimSuffix(r.Why, "."), Says: says}
}

// PageTitle names the page by its vehicle and its step.
func (v *View) PageTitle() string {
	if v.Step == nil {
		return v.Job.Vehicle.Fleet + ": bench"
	}
	return v.Job.Vehicle.Fleet + ": " + v.What()
}

// Under is the line below the picture's title.
func (v *View) Under() string {
	var words []string
	if v.Joint != nil && v.Joint.Points != "" {
		words = append(words, v.Joint.Points)
	}
	if v.Corner && v.Letter != "" && v.Joint != nil && len(v.Joint.Letters) > 1 {
		words = append(words, "the ringed one is yours now")
	}
	return strings.Join(words, " · ")
}

// CardState is how the step's card shows that it goes no further, or is done.
func (v *View) CardState() string {
	switch {
	case v.Kept:
		return "kept"
	case v.blocked():
		return "rejected"
	case v.Refusal != nil:
		return "blocked"
	}
	return ""
}

// pull is what a tightening step shows of the stage at hand; nil where there is none.
func (v *View) pull() *pulled {
	if v.Tighten == nil {
		return nil
	}
	return v.Tighten.Pull
}

// blocked says that something must come before the next pull.
func (v *View) blocked() bool {
	p := v.pull()
	return p != nil && p.Blocks != pull.Nothing
}

// DriveOn says that the road test is kept, and what was left out of it may still be driven.
func (v *View) DriveOn() bool {
	return v.Kept && v.Step.Verb == operation.Drive && v.Job.DrivesOn()
}

// Refused says that the step cannot be done now, for a reason of its own.
func (v *View) Refused() bool {
	return v.Refusal != nil && !v.blocked()
}

// Facts are the step's small print: the hardware, or place, tool and minutes.
func (v *View) Facts() string {
	if j := v.Joint; j != nil {
		words := []string{
			strings.TrimSpace(fmt.Sprintf("%d × %s", len(j.Letters), j.Thread)),
			strings.TrimSpace(j.Socket + " " + j.Drive),
			string(j.Treatment),
		}
		if j.Thread == "" {
			words[0] = fmt.Sprintf("%d, thread not said yet", len(j.Letters))
		}
		if j.Class != "" {
			words = slices.Insert(words, 1, "class "+j.Class)
		}
		if j.Renew {
			words = append(words, "new")
		}
		return j.Title + ", " + said(words)
	}
	words := []string{v.Step.Place, v.Step.Tool, unit.Number(v.Step.Minutes, 0) + " min"}
	if v.Step.People > 1 {
		words = append(words, fmt.Sprintf("%d people", v.Step.People))
	}
	return said(words)
}

// said is small print in one line; what nobody said is left out.
func said(words []string) string {
	return strings.Join(slices.DeleteFunc(words, func(w string) bool { return w == "" }), " · ")
}

// Beside are the words that stand beside the joint's figure in its source, where the hardware goes in or is tightened.
// Who is asked to read it too sees nothing of the first reading.
func (v *View) Beside() string {
	asked := v.Tighten != nil && v.Tighten.Asked != nil
	if v.Joint == nil || asked || v.Step.Verb != operation.Start && v.Step.Verb != operation.Tighten {
		return ""
	}
	return v.Joint.Note
}

// What is the act in one line, with what decides: which fastener, which side, which stage.
func (v *View) What() string {
	p := v.pull()
	if p == nil || v.Joint == nil {
		return v.Step.Title
	}
	does := map[string]string{"slot": "Turn on", "back_off": "Back off"}[p.Mode]
	if does == "" {
		does = "Tighten"
	}
	says := does + " " + v.Joint.One
	switch {
	case len(p.Round) > 0:
		says = does + " " + v.Joint.Title
	case len(v.Joint.Letters) > 1:
		says += " " + v.Letter
	}
	if v.Joint.Corner != "" {
		says += ", " + v.Joint.Corner.Side()
	}
	if p.Of > 1 {
		says += fmt.Sprintf(", stage %d of %d", p.No, p.Of)
	}
	return says
}

// KeptSays tells who kept the step, and with which answer.
func (v *View) KeptSays() string {
	x := v.Job.Steps[v.Step.ID]
	says := "Kept"
	if x.By != "" {
		says += " by " + x.By
	}
	if x.Choice != "" {
		says += ": " + x.Choice
	}
	return says + "."
}

// MayUndo says that the step can be taken back.
func (v *View) MayUndo() bool { return v.Step.MovesTo == "" && v.Step.Verb != operation.Tighten }

// SoakEnd is when the soak the step waits for has done its work.
func (v *View) SoakEnd() time.Time {
	var end time.Time
	for _, k := range v.Job.Soaks {
		if slices.Contains(v.Step.Needs, k.Step) && k.End.After(end) {
			end = k.End
		}
	}
	return end
}

// FastenerName is what the fastener at hand is called: its letter where there are
// several.
func (v *View) FastenerName() string {
	if len(v.Joint.Letters) > 1 {
		return v.Letter
	}
	return "the " + v.Joint.One
}

// StepWords is what the key of any other step says.
func (v *View) StepWords() string {
	if v.Again {
		return "Done once more"
	}
	switch v.Step.Verb {
	case operation.Soak:
		return "Soak is running"
	case operation.Compare:
		return "All alike"
	case operation.Drive:
		return "Driven, all well"
	}
	return "Done"
}

// TurnsTyped is what was typed of the turns, else those a new rod end starts at.
func (v *View) TurnsTyped() string {
	_, start := v.Job.StartTurns(v.Step.Corner)
	if typed, ok := v.Typed["turns"]; ok || v.Step.Counts != "in" || start <= 0 {
		return typed
	}
	return unit.Number(start, 2)
}

// CameOff says where a new rod end starts, and why.
func (v *View) CameOff() string {
	off, start := v.Job.StartTurns(v.Step.Corner)
	switch {
	case v.Step.Counts != "in" || off <= 0:
		return ""
	case start == off:
		return unit.Number(off, 2) + " came off"
	}
	return fmt.Sprintf("%s came off; the new end’s length asks for %s", unit.Number(off, 2), unit.Number(start, 2))
}
