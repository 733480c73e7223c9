// Package order is the pages on which work is chosen: what can be replaced where, and what it would take.
package order

import (
	"cmp"
	"embed"
	"slices"
	"strings"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
	"lugtak/library"
	"lugtak/pages/kit"
)

//go:embed *.html *.css
var files embed.FS

var pages = kit.NewSet(files, nil)

// View is what can be ordered for a job, with what is ticked.
type View struct {
	Job         *job.State
	Corners     []corner
	Schools     []plan.SchoolUsed
	Technicians int
	Owed        int
	Fault       *fault.Fault
}

// corner is what can be replaced at one place of the vehicle.
type corner struct {
	Key, Name string
	Places    []place
}

type place struct {
	Task, Name, Sign string
	Ticked           bool
}

// corners lists the places in the order one reads a vehicle from above.
var corners = []struct {
	corner vehicle.Corner
	name   string
}{
	{"FL", "front left"},
	{"FR", "front right"},
	{"", "in the middle"},
	{"RL", "rear left"},
	{"RR", "rear right"},
}

// Page is the order: what is offered on the vehicle's sheet, with what is asked ticked.
func Page(st *job.State, lib *library.Library, offers []plan.Task, ask library.Ask, f *fault.Fault) kit.Page {
	v := View{Job: st, Owed: len(st.Owed()), Fault: f, Technicians: ask.Technicians}
	for _, at := range corners {
		g := corner{Key: "middle", Name: at.name}
		if at.corner != "" {
			g.Key = string(at.corner)
		}
		for _, op := range lib.Operations {
			t := plan.Task{Operation: op.ID, Corner: at.corner}
			if slices.Contains(offers, t) {
				ticked := slices.Contains(ask.Tasks, t)
				g.Places = append(g.Places, place{t.String(), shortName(op.Title), signOf(op), ticked})
			}
		}
		g.tellApart(lib)
		if len(g.Places) > 0 {
			v.Corners = append(v.Corners, g)
		}
	}
	for _, x := range lib.Schools {
		way := cmp.Or(ask.Ways[x.Key], x.Default)
		v.Schools = append(v.Schools, plan.SchoolUsed{School: x, Way: way})
	}
	return pages.Page("order", "Choose the work", v)
}

// tellApart gives parts of one name at one place their whole one.
func (g *corner) tellApart(lib *library.Library) {
	said := map[string]int{}
	for _, p := range g.Places {
		said[p.Name]++
	}
	for i, p := range g.Places {
		if said[p.Name] > 1 {
			id, _, _ := strings.Cut(p.Task, "@")
			op, _ := lib.Operation(id)
			_, how, _ := strings.Cut(op.Title, ", ")
			g.Places[i].Name += ", " + how
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

// partSigns are small drawings of what is replaced, by the kind of its part, on 48 by 48.
var partSigns = map[string]string{
	"hub unit":       "M24 6a18 18 0 1 0 .1 0M24 18a6 6 0 1 0 .1 0M24 9v5M24 34v5M9 24h5M34 24h5",
	"drive axle":     "M4 24h10M34 24h10M14 16l6 8-6 8zM34 16l-6 8 6 8zM20 24h8",
	"strut":          "M24 4v6M24 38v6M16 12l16 4-16 4 16 4-16 4 16 4-16 4",
	"damper":         "M24 4v14M17 18h14v18H17zM24 36v8M17 24h14",
	"ball joint":     "M24 6v16M24 22a9 9 0 1 0 .1 0M10 44h28",
	"tie rod":        "M6 24h24M36 17a7 7 0 1 0 .1 0",
	"control arm":    "M8 12l30 12L8 36M8 8v8M8 32v8M38 20a4 4 0 1 0 .1 0",
	"link":           "M12 12a5 5 0 1 0 .1 0M36 36a5 5 0 1 0 .1 0M15 20l18 14",
	"rotor":          "M24 6a18 18 0 1 0 .1 0M24 16a8 8 0 1 0 .1 0",
	"pads":           "M12 10q-8 14 0 28M20 10q-6 14 0 28h6V10zM34 14v20",
	"idler arm":      "M10 36L36 14M10 31a5 5 0 1 0 .1 0M36 9a5 5 0 1 0 .1 0",
	"mount":          "M8 34h32v6H8zM14 34V22h20v12M24 22V10",
	"centre support": "M6 30h36v8H6zM24 10a10 10 0 1 0 .1 0",

	"shoes":           "M18 6q-20 18 0 36M30 6q20 18 0 36M18 10q-12 14 0 28M30 10q12 14 0 28M18 6h12M18 42h12",
	"caliper":         "M10 16h28v16H26v-6h-4v6H10zM24 36v8",
	"hose":            "M4 14h8v8H4zM12 18c12 0 6 14 18 14M30 28h8v8h-8zM38 32h6",
	"cable":           "M8 40a4 4 0 1 0 .1 0M12 38c10-6 2-20 14-24h6M32 10h10v8H32z",
	"spring":          "M12 6h24M12 42h24M14 10l20 6-20 6 20 6-20 6 20 6",
	"leaf":            "M4 26q20-16 40 0M12 30q12-10 24 0M24 14v22",
	"stud":            "M10 12h6v24h-6zM16 18h24v12H16M22 18v12M28 18v12M34 18v12",
	"rack":            "M4 30h8M36 30h8M12 24h24v12H12zM28 24V12l6-4M16 24v6M22 24v6",
	"brake motor":     "M8 16h24v16H8zM32 20h8v8h-8zM14 16v-6h10v6M20 32v8",
	"steering coil":   "M24 6a18 18 0 1 0 .1 0M24 14a10 10 0 1 0 8 16M24 20a4 4 0 1 0 .1 0M40 30l4 8",
	"centre bolt":     "M18 6h12v8H18zM21 14h6v28h-6zM10 24h28M10 30h28",
	"cross":           "M20 4h8v14h14v12H28v14h-8V30H6V18h14z",
	"outer joint":     "M4 24h12M16 24a10 10 0 1 0 20 0a10 10 0 1 0 -20 0M36 24h8M20 14l-6-6M20 34l-6 6",
	"taper bearing":   "M8 10l32 6v4L8 16zM8 38l32-6v-4L8 32zM14 20h20v8H14z",
	"pressed bearing": "M24 4a20 20 0 1 0 .1 0M24 14a10 10 0 1 0 .1 0M24 6v6M24 36v6M6 24h6M36 24h6",
	"air spring":      "M12 6h24v4H12zM14 10q-10 7 0 14q-10 7 0 14h20q10-7 0-14q10-7 0-14M12 38h24v4H12z",
}

// anySign stands for work without a part of a kind: a spanner.
const anySign = "M8 40l18-18M24 24a10 10 0 0 1 12-15l-6 6 1 4 4 1 6-6a10 10 0 0 1-15 12"

// signOf is the drawing of an operation's first part that has one.
func signOf(op operation.Operation) string {
	for _, p := range op.Parts {
		if d := partSigns[p.Kind]; d != "" {
			return d
		}
	}
	return anySign
}
