// Package free is the page of work no operation knows: what was opened, in its order, and how it is closed.
package free

import (
	"embed"
	"fmt"
	"html/template"
	"slices"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/vehicle"
	"lugtak/library"
	"lugtak/pages/kit"
)

//go:embed *.html *.css
var files embed.FS

var pages = kit.NewSet(files, nil)

// Shown is what the page is made from.
type Shown struct {
	Job     *job.State
	Library *library.Library
	Anew    bool   // what was begun with nothing said of it is named once more
	File    string // the work as an operation for the Shelf; empty before the signature
	Fault   *fault.Fault
	Typed   map[string]string
}

// View is the free work of a job; without a draft it asks what the work is.
type View struct {
	Job     *job.State
	Owed    int
	Draft   *operation.Draft
	Rows    []row
	Done    bool // the work itself
	Closing bool
	Picture template.HTML // of the corner, with what is opened there
	Title   string        // of the picture
	Next    *plan.Step
	File    string
	Fault   *fault.Fault
	Typed   map[string]string
}

// row is one act, with how it is closed.
type row struct {
	operation.DraftAct
	No     int
	Opened bool
	Closed bool
	Says   string // how far it is
	Figure string // what it is tightened to
	Bolts  bool
}

// Page is the free work of a job.
func Page(x Shown) kit.Page {
	v := View{Job: x.Job, Fault: x.Fault, Typed: x.Typed, File: x.File}
	if !x.Job.HasPlan() || x.Job.Plan.Free == nil || x.Anew && len(x.Job.Plan.Free.Acts) == 0 {
		return pages.Page("free", "Free work", v)
	}
	st := x.Job
	v.Draft, v.Owed, v.Closing = st.Plan.Free, len(st.Owed()), st.FreeClosing()
	for i, a := range v.Draft.Acts {
		v.Rows = append(v.Rows, rowOf(st, v.Draft, i, a))
	}
	if next := st.Plan.Step(st.Next()); next != nil {
		v.Next = next
	}
	i := slices.IndexFunc(st.Plan.Steps, func(s plan.Step) bool { return v.Draft.IsWork(s.ID) })
	if i >= 0 {
		v.Picture, v.Title = kit.Corner(x.Library, st, &st.Plan.Steps[i], "", false, nil)
	}
	return pages.Page("free", "Free work: "+v.Draft.Title, v)
}

func rowOf(st *job.State, d *operation.Draft, i int, a operation.DraftAct) row {
	r := row{DraftAct: a, No: i + 1, Opened: true, Closed: true}
	closing := false // all is opened before the work itself, and closed behind it
	for _, s := range st.Plan.Steps {
		closing = closing || d.IsWork(s.ID)
		if !d.Of(s.ID, i) {
			continue
		}
		done := st.StepDone(s.ID)
		r.Opened = r.Opened && (done || closing)
		r.Closed = r.Closed && done
		if j := st.Plan.Joint(s.Joint); j != nil && s.Verb == operation.Tighten {
			r.Bolts, r.Figure = true, j.Says()
		}
	}
	switch {
	case r.Closed:
		r.Says = "closed"
	case !r.Opened:
		r.Says = "to do"
	case a.Do == operation.DeedCarry:
		r.Says = "carried"
	default:
		r.Says = "open"
	}
	return r
}

// Opening says the act in words.
func (r row) Opening() string {
	switch r.Do {
	case operation.DeedCarry:
		return "The " + r.Title + " carried"
	case operation.DeedOff:
		return r.Title + " off"
	case operation.DeedLoosen:
		return r.Title + " loosened"
	}
	return r.Title + " out"
}

// Back says how it is closed.
func (r row) Back() string {
	switch r.Do {
	case operation.DeedCarry:
		return "support away, when what held it is fast"
	case operation.DeedOff:
		if r.New {
			return "the new one on, held against the old"
		}
		return r.Title + " on"
	}
	return "by hand, then tight"
}

// At is a touched place in the picture of free work; ok is false where there is no such place.
func At(p *plan.Plan, cell int) (at operation.Point, ok bool) {
	i := slices.IndexFunc(p.Steps, func(s plan.Step) bool { return p.Free != nil && p.Free.IsWork(s.ID) })
	if i < 0 {
		return at, false
	}
	return kit.At(&p.Steps[i], cell)
}

// Corners are where free work may be.
func (v View) Corners() []vehicle.Corner { return []vehicle.Corner{"FL", "FR", "RL", "RR"} }

// Stances are how the vehicle may have to be.
func (v View) Stances() []operation.Stance { return operation.Stances() }

// Systems are what a fastener may belong to.
func (v View) Systems() []string { return operation.Systems() }

// Carried is what may have to be carried.
func (v View) Carried() []string { return operation.Carried() }

// Beside says that the job has other work: without that, free work is not taken out.
func (v View) Beside() bool { return len(v.Job.Plan.Tasks) > 1 }

// Now is the number of the act that comes next; 0 where all of them are open.
func (v View) Now() int {
	for _, r := range v.Rows {
		if !r.Opened {
			return r.No
		}
	}
	return 0
}

// NextSays is where the key leads.
func (v View) NextSays() string {
	if v.Next == nil {
		return "To the ledger"
	}
	return fmt.Sprintf("To the bench: %s", v.Next.Title)
}
