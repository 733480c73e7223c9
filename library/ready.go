package library

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/recipe"
	"lugtak/core/unit"
	"lugtak/core/wrench"
)

// Ready is what a job needs in hand before its first bolt.
type Ready struct {
	Job     *job.State
	Library *Library
	Tools   []wrench.Tool
	Now     time.Time
}

// Board is what hangs or lies together.
type Board struct {
	Title string
	Items []Item
}

// Item is one thing to have in hand.
type Item struct {
	Name string
	For  []string
	Lack string // why it is short, and what stands in for it; empty where it is there
	Open bool   // not known yet: nobody said, or nobody read
}

// ForSays is what it is for.
func (i Item) ForSays() string { return strings.Join(i.For, ", ") }

// Boards are all that what is left of the job needs, in the order it hangs: what is short says what stands in for
// it, and what nobody knows is asked, not taken for there.
func (x Ready) Boards() []Board {
	return slices.DeleteFunc([]Board{
		{"torque tools", x.wrenches()}, {"sockets and keys", x.sockets()}, {"spanners, pullers, the rest", x.others()},
		{"floor", x.floor()}, {"shelf", x.shelf()}, {"cabinet", x.cabinet()},
	}, func(b Board) bool { return len(b.Items) == 0 })
}

// items gathers things by their names, in the order they come up.
type items struct{ list []Item }

func (l *items) add(i Item, use string) {
	k := slices.IndexFunc(l.list, func(o Item) bool { return o.Name == i.Name })
	if k < 0 {
		l.list, k = append(l.list, i), len(l.list)
	}
	if use != "" && !slices.Contains(l.list[k].For, use) {
		l.list[k].For = append(l.list[k].For, use)
	}
}

// left are the steps still to do.
func (x Ready) left() []*plan.Step {
	var out []*plan.Step
	for i := range x.Job.Plan.Steps {
		if s := &x.Job.Plan.Steps[i]; !x.Job.StepDone(s.ID) {
			out = append(out, s)
		}
	}
	return out
}

// wrenches are the torque tools that read what is tightened, each the first that may.
func (x Ready) wrenches() []Item {
	var l items
	for _, s := range x.left() {
		j := x.Job.Plan.Joint(s.Joint)
		if j == nil || s.Verb != operation.Tighten {
			continue
		}
		if j.Unread() {
			l.add(Item{Name: "not known yet", Open: true, Lack: "Nobody has read these figures: look them up first."}, j.Title)
			continue
		}
		from, to := x.Job.Span(s)
		stages := x.Job.Stages(j.ID)
		for no := from; no <= to && no < len(stages); no++ {
			switch stages[no].Kind {
			case recipe.Torque:
				l.add(x.wrenchOf(j, no, stages[no]), j.Title)
			case recipe.Angle:
				l.add(Item{Name: "angle gauge, or a mark"}, j.Title)
			}
		}
	}
	return l.list
}

func (x Ready) wrenchOf(j *plan.Joint, no int, st recipe.Stage) Item {
	all := x.Job.Wrenches(j, no, x.Tools, wrench.Adapter{}, x.Now)
	for _, c := range all {
		if c.Refused == "" {
			return Item{Name: fmt.Sprintf("%s · %s square", c.Tool.Name, c.Tool.Drive)}
		}
	}
	why := "none hangs in the crib"
	if len(all) > 0 {
		why = all[0].Tool.Name + ": " + all[0].Refused
	}
	asks := unit.Torque(st.Target()).Both()
	return Item{Name: "for " + asks, Lack: "No tool here may read " + asks + " (" + why + "): hang or calibrate one."}
}

// sockets are what the heads are turned by; what nobody said is asked.
func (x Ready) sockets() []Item {
	var l items
	for _, s := range x.left() {
		j := x.Job.Plan.Joint(s.Joint)
		if j == nil || s.Verb == operation.Start {
			continue
		}
		if j.Socket == "" {
			l.add(Item{Name: "size not known yet", Open: true}, j.Title)
			continue
		}
		own, socket := wrench.IsSocket(s.Tool)
		if !socket {
			continue
		}
		i := Item{Name: own.Says()}
		if squares := x.squares(own); len(squares) > 0 {
			i.Name += " · " + strings.Join(squares, " or ") + " square"
		}
		i.Lack = unit.Capital(x.Library.Short(s.Tool))
		l.add(i, j.Title)
	}
	return l.list
}

// squares are the drives in which such a socket hangs here.
func (x Ready) squares(own wrench.Own) []string {
	var out []string
	for _, text := range x.Library.Sockets {
		o, err := wrench.ParseOwn(text)
		if err == nil && o.Size == own.Size && o.Kind == own.Kind && o.Drive != "" {
			out = append(out, o.Drive)
		}
	}
	return out
}

// room is what a step may hold that nobody fetches.
const room = "floor"

// others are the tools that are no sockets.
func (x Ready) others() []Item {
	var l items
	for _, s := range x.left() {
		for _, name := range append([]string{s.NeedsTool()}, s.Uses...) {
			if _, socket := wrench.IsSocket(name); name != "" && name != room && !socket && name != x.socketOf(s) {
				l.add(Item{Name: name}, cmp.Or(s.Place, s.Title))
			}
		}
	}
	return l.list
}

func (x Ready) socketOf(s *plan.Step) string {
	if j := x.Job.Plan.Joint(s.Joint); j != nil {
		return j.Socket
	}
	return ""
}

// floor is what carries and holds.
func (x Ready) floor() []Item {
	var l items
	for _, s := range x.left() {
		for _, name := range s.Puts {
			l.add(Item{Name: name}, s.Place)
		}
	}
	return l.list
}

// shelf is what goes in new.
func (x Ready) shelf() []Item {
	var l items
	for _, p := range x.Job.Plan.Parts {
		if p.Used {
			continue
		}
		i := Item{Name: fmt.Sprintf("%s ×%d", p.Title, max(1, p.Count))}
		switch x.Job.Parts[p.Key] {
		case job.Missing:
			i.Lack = "Missing: order it, or plan without it."
		case job.Ordered:
			i.Lack = "Ordered, and not here yet."
		}
		use := ""
		if p.OneUse {
			use = "once only"
		}
		l.add(i, use)
	}
	return l.list
}

func (x Ready) opens(joint string) bool {
	return slices.ContainsFunc(x.left(), func(s *plan.Step) bool { return s.Joint == joint && s.Verb == operation.Start })
}

// cabinet is what is used up.
func (x Ready) cabinet() []Item {
	var l items
	for _, p := range x.Job.Plan.Parts {
		if p.Used {
			l.add(Item{Name: p.Title}, "")
		}
	}
	for _, j := range x.Job.Plan.Joints {
		if t := string(j.Treatment); t != "" && t != "dry" && x.opens(j.ID) {
			l.add(Item{Name: "for threads: " + t}, j.Title)
		}
	}
	return l.list
}
