package web

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/pull"
	"lugtak/core/unit"
)

// What the bench says, in words.

// healedView is a plan made anew, as the bench says it.
type healedView struct {
	Why, Says string
}

func healedBy(r job.Replanning) *healedView {
	says := fmt.Sprintf("%d new, %d earlier, %d later.", len(r.Change.New), len(r.Change.Earlier), len(r.Change.Later))
	if more := r.Change.Now - r.Change.Was; more > 0 {
		says += fmt.Sprintf(" %.0f minutes more.", more)
	}
	return &healedView{Why: strings.TrimSuffix(r.Why, "."), Says: says}
}

// PageTitle names the page by its vehicle and its step.
func (v *benchView) PageTitle() string {
	if v.Step == nil {
		return v.Job.Vehicle.Fleet + ": bench"
	}
	return v.Job.Vehicle.Fleet + ": " + v.What()
}

// Under is the line below the picture's title.
func (v *benchView) Under() string {
	var words []string
	if v.Joint != nil && v.Joint.Points != "" {
		words = append(words, v.Joint.Points)
	}
	if v.Act == "" && v.Letter != "" && v.Joint != nil && len(v.Joint.Letters) > 1 {
		words = append(words, "the ringed one is yours now")
	}
	return strings.Join(words, " · ")
}

// CardState is how the step's card shows that it goes no further, or is done.
func (v *benchView) CardState() string {
	switch {
	case v.Kept:
		return "kept"
	case v.Pull != nil && v.Pull.Blocks != pull.Nothing:
		return "rejected"
	case v.Refusal != nil:
		return "blocked"
	}
	return ""
}

// DriveOn says that the road test is kept, and what was left out of it may still be driven.
func (v *benchView) DriveOn() bool {
	return v.Kept && v.Step.Verb == operation.Drive && v.Job.Signature == nil && len(v.Job.LeftOut()) > 0
}

// Refused says that the step cannot be done now, for a reason of its own.
func (v *benchView) Refused() bool {
	return v.Refusal != nil && (v.Pull == nil || v.Pull.Blocks == pull.Nothing)
}

// Facts are the step's small print: the hardware, or place, tool and minutes.
func (v *benchView) Facts() string {
	if j := v.Joint; j != nil {
		words := []string{
			fmt.Sprintf("%d × %s", len(j.Letters), j.Thread),
			"class " + j.Class,
			strings.TrimSpace(j.Socket + " " + j.Drive),
			j.Treatment,
		}
		if j.Renew {
			words = append(words, "new")
		}
		return j.Title + ", " + strings.Join(words, " · ")
	}
	words := []string{v.Step.Place, v.Step.Tool, unit.Number(v.Step.Minutes, 0) + " min"}
	if v.Step.People > 1 {
		words = append(words, fmt.Sprintf("%d people", v.Step.People))
	}
	words = slices.DeleteFunc(words, func(w string) bool { return w == "" })
	return strings.Join(words, " · ")
}

// What is the act in one line, with what decides: which fastener, which side, which stage.
func (v *benchView) What() string {
	p := v.Pull
	if p == nil || v.Joint == nil {
		return v.Step.Title
	}
	does := map[string]string{"slot": "Turn on", "back_off": "Back off"}[p.Mode]
	if does == "" {
		does = "Tighten"
	}
	says := does + " " + v.Joint.One
	if len(v.Joint.Letters) > 1 {
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
func (v *benchView) KeptSays() string {
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
func (v *benchView) MayUndo() bool { return v.Step.MovesTo == "" && v.Step.Verb != operation.Tighten }

// SoakEnd is when the soak the step waits for has done its work.
func (v *benchView) SoakEnd() time.Time {
	var end time.Time
	for _, k := range v.Job.Soaks {
		if slices.Contains(v.Step.Needs, k.Step) && k.End.After(end) {
			end = k.End
		}
	}
	return end
}

// LeftSays is which fasteners are still to do, and how one is kept alone.
func (v *benchView) LeftSays() string {
	switch {
	case v.Joint == nil || len(v.Left) == 0 || len(v.Joint.Letters) < 2:
		return ""
	case v.One && !v.NewOnes:
		return "Only " + v.Letter + " is kept with this key."
	case v.NewOnes && len(v.Left) > 1:
		return "Still to do: " + strings.Join(v.Left, ", ") + ". One at a time: each new one is confirmed by who holds it."
	}
	return "Still to do: " + strings.Join(v.Left, ", ") + ". Touch one in the picture to keep it alone."
}

// FastenerName is what the fastener at hand is called: its letter where there are
// several.
func (v *benchView) FastenerName() string {
	if len(v.Joint.Letters) > 1 {
		return v.Letter
	}
	return "the " + v.Joint.One
}

// HandleWords is what the key says that cracks, removes or starts fasteners.
func (v *benchView) HandleWords() string {
	one := v.One || len(v.Left) == 1
	all := fmt.Sprintf("All %d", len(v.Left))
	tray := ""
	if v.Joint.Tray != "" {
		tray = ", tray " + v.Joint.Tray
	}
	switch v.Step.Verb {
	case operation.Crack:
		if one {
			return "Loose"
		}
		return all + " loose"
	case operation.Remove:
		if one {
			return "Out" + tray
		}
		return all + " out" + tray
	}
	if v.NewOnes && len(v.Joint.Letters) > 1 {
		return v.Letter + " started by hand"
	}
	if one {
		return "Started by hand"
	}
	return all + " started by hand"
}

// StepWords is what the key of any other step says.
func (v *benchView) StepWords() string {
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
