// Package order is the pages on which work is chosen: what can be replaced where, and what it would take.
package order

import (
	"cmp"
	"embed"
	"html/template"
	"slices"
	"strconv"
	"strings"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
	"lugtak/draw"
	"lugtak/library"
	"lugtak/pages/kit"
	"lugtak/solid"
)

//go:embed *.html *.css
var files embed.FS

var pages = kit.NewSet(files, nil)

// View is what can be ordered for a job, with what is ticked.
type View struct {
	Job         *job.State
	Axles       []axle
	Schools     []plan.SchoolUsed
	Technicians int
	Owed        int
	Fault       *fault.Fault
}

// axle is what can be replaced at one axle, or in the vehicle's middle.
type axle struct {
	Key, Name string
	Open      bool
	Rows      []row
	Sides     []side
}

// Ticked is how many are.
func (a axle) Ticked() int {
	n := 0
	for _, r := range a.Rows {
		for _, t := range r.Tasks {
			if t != nil && t.Ticked {
				n++
			}
		}
	}
	return n
}

// row is one operation, at its left and right, or the one in the middle.
type row struct {
	No    int
	Name  string
	Pairs string // why both sides are done; empty where by wear
	Tasks []*task
}

// task is an operation at one place.
type task struct {
	Task   string
	Side   string // L or R; empty in the middle
	At     string // “front left”
	Ticked bool
}

// side is the picture of one corner, with the number of each row where its part is touched.
type side struct {
	Name    string
	Picture template.HTML
	Dots    []dot
	Wide    bool // the whole picture: it has one pane
}

type dot struct {
	No   int
	X, Y float64
	*task
}

// dotSize is how wide and high a number is, px of the picture.
const dotSize = 80

// Left and Top are where its room begins.
func (d dot) Left() string { return strconv.Itoa(int(d.X) - dotSize/2) }
func (d dot) Top() string  { return strconv.Itoa(int(d.Y) - dotSize/2) }

// ID is what the field of a task is called by.
func (t *task) ID() string { return "t-" + strings.NewReplacer("@", "-", ".", "-").Replace(t.Task) }

// axles are the places in the order one reads a vehicle from above.
var axles = []struct {
	key, name string
	corners   []vehicle.Corner
}{
	{"front", "Front axle", []vehicle.Corner{"FL", "FR"}},
	{"rear", "Rear axle", []vehicle.Corner{"RL", "RR"}},
	{"under", "In the middle", []vehicle.Corner{""}},
}

// Page is the order: what is offered on the vehicle's sheet, with what is asked ticked.
func Page(st *job.State, lib *library.Library, offers []plan.Task, ask library.Ask, f *fault.Fault) kit.Page {
	v := View{Job: st, Owed: len(st.Owed()), Fault: f, Technicians: ask.Technicians}
	pattern, _ := lib.Pattern(st.Vehicle.Pattern)
	v.Axles = axlesOf(pattern, lib, offers, ask)
	v.open()
	for _, x := range lib.Schools {
		way := cmp.Or(ask.Ways[x.Key], x.Default)
		v.Schools = append(v.Schools, plan.SchoolUsed{School: x, Way: way})
	}
	return pages.Page("order", "Choose the work", v)
}

// axlesOf are the axles at which something is offered, with what is asked ticked.
func axlesOf(pattern vehicle.Pattern, lib *library.Library, offers []plan.Task, ask library.Ask) []axle {
	var out []axle
	for _, at := range axles {
		a := axle{Key: at.key, Name: at.name}
		touches := make([]map[string]solid.Seat, len(at.corners))
		for k, c := range at.corners {
			x := side{Name: "from below, the front at the top", Wide: c == ""}
			if c != "" {
				x.Name = c.Side()
			}
			picture, seats := kit.Touches(lib, at.key, kit.Built(lib, pattern), c != "" && c.Left())
			if picture != "" {
				x.Picture = draw.Bare(picture)
			}
			touches[k] = map[string]solid.Seat{}
			for _, s := range seats {
				touches[k][s.Of] = s
			}
			a.Sides = append(a.Sides, x)
		}
		for _, op := range fromAbove(lib.Operations, touches[0]) {
			r := row{No: len(a.Rows) + 1, Name: shortName(op.Title), Pairs: op.Pairs}
			offered := false
			for k, c := range at.corners {
				t := plan.Task{Operation: op.ID, Corner: c}
				if !slices.Contains(offers, t) {
					r.Tasks = append(r.Tasks, nil)
					continue
				}
				x := &task{Task: t.String(), At: "in the middle", Ticked: slices.Contains(ask.Tasks, t)}
				if c != "" {
					x.At, x.Side = c.Axle()+" "+c.Side(), strings.ToUpper(c.Side()[:1])
				}
				offered = true
				r.Tasks = append(r.Tasks, x)
				if s, ok := touches[k][op.ID]; ok {
					a.Sides[k].Dots = append(a.Sides[k].Dots, dot{r.No, s.X, s.Y, x})
				}
			}
			if offered {
				a.Rows = append(a.Rows, r)
			}
		}
		if len(a.Rows) == 0 {
			continue
		}
		a.tellApart(lib)
		for _, s := range a.Sides {
			keepApart(s.Dots)
		}
		out = append(out, a)
	}
	return out
}

// open opens the first axle at which something is ticked, else the first.
func (v *View) open() {
	i := slices.IndexFunc(v.Axles, func(a axle) bool { return a.Ticked() > 0 })
	if len(v.Axles) > 0 {
		v.Axles[max(i, 0)].Open = true
	}
}

// fromAbove orders operations as their parts lie in the picture, from its top down; those that have none there
// come last.
func fromAbove(ops []operation.Operation, at map[string]solid.Seat) []operation.Operation {
	y := func(op operation.Operation) float64 {
		if s, ok := at[op.ID]; ok {
			return s.Y
		}
		return solid.Height
	}
	return slices.SortedStableFunc(slices.Values(ops), func(a,
		b operation.Operation) int {
		return cmp.Compare(y(a), y(b))
	})
}

// dotsApart is how far the middles of two numbers lie from one another at least, px of the picture.
const dotsApart = 88

// keepApart moves numbers off one another.
func keepApart(dots []dot) {
	at := make([][2]float64, len(dots))
	for i, d := range dots {
		at[i] = [2]float64{d.X, d.Y}
	}
	draw.Apart(at, dotsApart, dotSize/2)
	for i := range dots {
		dots[i].X, dots[i].Y = at[i][0], at[i][1]
	}
}

// tellApart gives operations of one name at one axle their whole one.
func (a *axle) tellApart(lib *library.Library) {
	said := map[string]int{}
	for _, r := range a.Rows {
		said[r.Name]++
	}
	for i, r := range a.Rows {
		if said[r.Name] > 1 {
			t := r.Tasks[slices.IndexFunc(r.Tasks, func(t *task) bool { return t != nil })]
			id, _, _ := strings.Cut(t.Task, "@")
			op, _ := lib.Operation(id)
			_, how, _ := strings.Cut(op.Title, ", ")
			a.Rows[i].Name += ", " + how
		}
	}
}

// weighed is what the ticked work takes; the fault says why it cannot be reckoned.
type weighed struct {
	library.Weighed
	Fault *fault.Fault
}

// Weighed is what the ticked work takes, and what the other side would add.
func Weighed(w library.Weighed, f *fault.Fault) kit.Page {
	return pages.Page("weigh", "What the work takes", weighed{w, f})
}

// shortName is an operation where its place is plain: “Front hub unit” is a hub unit there.
func shortName(title string) string {
	name, _, _ := strings.Cut(title, ",")
	for _, axle := range []string{"{axle} ", "Front ", "Rear "} {
		name = strings.TrimPrefix(name, axle)
	}
	return unit.Capital(name)
}
