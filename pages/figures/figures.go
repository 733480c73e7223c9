// Package figures is the page of the figures a job needs: which, in which order they are wanted, and who has
// read them.
package figures

import (
	"embed"
	"html/template"
	"slices"
	"strings"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/recipe"
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
	Person  string          // who looks
	Alone   bool            // nobody else works in the shop
	Last    vehicle.Reading // of the sheet
	Open    string          // the sheet's joint that is typed
	Fault   *fault.Fault    // of that one
	Typed   map[string]string

	Pasted []recipe.Line // of the manual, read but not taken

	Elsewhere []vehicle.Elsewhere // what other shops have read of the sheet
}

// View is the figures of a job.
type View struct {
	Job    *job.State
	Owed   int
	Rows   []row
	Unread int // nobody has read
	Again  int // a second person reads
	Fault  *fault.Fault
	Typed  map[string]string
	Pasted []pasted
	Words  [3]int // of what was pasted: all, used, left
	May    []row  // figures a pasted line may be of
}

// pasted is a sentence of the manual, with the figure it may be.
type pasted struct {
	recipe.Line
	No    int    // from 1
	Sheet string // the joint it speaks of, where the job needs that; else empty
}

// row is one figure.
type row struct {
	job.Wanted
	Name     string
	Where    string // the corners it is at
	Count    int    // fasteners of one corner
	Says     string // what was read, for those who may see it
	Also     string // in the other unit
	Source   string
	Initials []string      // of who read it
	Lacks    bool          // a reader lacks
	Picture  template.HTML // the joint
	Asked    *kit.Asked    // the form to read it in
	Open     bool
}

// Page lists the figures a job needs.
func Page(x Shown) kit.Page {
	v := View{Job: x.Job, Owed: len(x.Job.Owed()), Fault: x.Fault, Typed: x.Typed}
	for _, w := range x.Job.WantedFigures() {
		v.Rows = append(v.Rows, rowOf(x, w))
	}
	open := func(r row) bool { return r.Asked != nil && r.Joints[0].Sheet == x.Open }
	i := slices.IndexFunc(v.Rows, open)
	if i < 0 {
		i = slices.IndexFunc(v.Rows, row.waits)
	}
	if i >= 0 {
		v.Rows[i].Open = true
	}
	v.Unread, v.Again = x.Job.ToRead()
	for _, r := range v.Rows {
		if r.Asked != nil && !r.Asked.Second {
			v.May = append(v.May, r)
		}
	}
	for i, l := range x.Pasted {
		p := pasted{Line: l, No: i + 1}
		for _, r := range v.May {
			if r.Name == l.Joint {
				p.Sheet = r.Joints[0].ID
			}
		}
		for _, w := range l.Words {
			v.Words[0]++
			if w.As == recipe.AsLeft {
				v.Words[2]++
			} else {
				v.Words[1]++
			}
		}
		v.Pasted = append(v.Pasted, p)
	}
	return pages.Page("figures", "Figures for "+x.Job.Vehicle.Fleet, v)
}

func rowOf(x Shown, w job.Wanted) row {
	j := w.Joints[0]
	r := row{Wanted: w, Name: j.Title, Count: len(j.Letters), Source: j.Source, Lacks: x.Job.WantsReader(j)}
	var where []string
	for _, other := range w.Joints {
		if other.Corner != "" {
			where = append(where, other.Corner.Axle()+" "+other.Corner.Side())
		}
	}
	r.Where = strings.Join(where, ", ")
	r.Asked = kit.AskedOf(x.Job, j, x.Person, x.Alone, x.Last, x.Elsewhere)
	for _, by := range j.Readers {
		r.Initials = append(r.Initials, kit.Initial(by))
	}
	if r.Asked == nil || !r.Asked.Second || r.Asked.Mine && !x.Alone { // a second reader does not see the first
		r.Says, r.Also = j.Says(), kit.PeakWords(j.Recipe)
	}
	r.Picture = kit.Joint(x.Library, x.Job.Plan, w.Step, j)
	return r
}

// waits says that whoever looks can read what the job waits for.
func (r row) waits() bool {
	return r.Asked != nil && r.Known != job.FigureByBolt && !(r.Asked.Second && r.Asked.Mine)
}

// State is the sign of how a figure is known.
func (r row) State() string {
	switch {
	case r.Known == job.FigureConflict:
		return "readings differ"
	case r.Known == job.FigureStruckOut:
		return "struck on its sheet"
	case r.Known == job.FigureUnknown:
		return "not read"
	case r.Known == job.FigureByBolt:
		return "by the bolt, not by the maker"
	case r.Known == job.FigureOfKit:
		return "of a kit’s leaflet"
	case r.Lacks:
		return "read once, lacks a second"
	case r.Known == job.FigureRead:
		return "read once"
	case len(r.Initials) > 1:
		return "read twice"
	}
	return "came with a file"
}
