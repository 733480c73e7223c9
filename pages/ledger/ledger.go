// Package ledger is the page of a job's ledger: what was done by whom, what stands before the signature, and what
// is owed after it.
package ledger

import (
	"embed"
	"fmt"
	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/pull"
	"lugtak/core/record"
	"lugtak/core/unit"
	"lugtak/draw"
	"lugtak/pages/kit"
	"slices"
	"strings"
	"text/template"
	"time"
)

//go:embed *.html *.css
var files embed.FS

var pages = kit.NewSet(files, template.FuncMap{
	"unsure":        func(sure float64) bool { return sure > 0 && sure < pull.Certain },
	"degrees":       func(deg float64) string { return fmt.Sprintf("%+.2f°", deg) },
	"pct":           func(v float64) float64 { return 100 * v },
	"evidencesigns": evidenceSigns,
})

// evidenceSigns are the signs of how a figure is known, with their words.
func evidenceSigns() []kit.TallySign {
	var out []kit.TallySign
	for _, x := range []struct {
		mark  job.Mark
		grade job.Grade
	}{
		{job.Proved, job.GradeTraced},
		{job.Clicked, job.GradeClicked},
		{job.Turned, job.GradeMarked},
		{job.Played, job.GradePlay},
		{job.Said, job.GradeStated},
		{job.Unmeasured, job.GradeNotMeasured},
		{job.Excused, job.GradeDeviating},
		{job.Between, job.GradeOwed},
	} {
		out = append(out, kit.TallySign{Sign: draw.Sign{Drive: "hexagon", Mark: x.mark}, Name: x.grade.Words()})
	}
	return out
}

// Shown is what the page is made from.
type Shown struct {
	Job    *job.State
	People []string        // who may sign second
	Origin *listing.Import // where the job came from; nil where it began here
	Fault  *fault.Fault
	For    string // key of the gate, pull or form the fault is about
	Typed  map[string]string
}

// Page is the ledger as it stands.
func Page(x Shown) kit.Page {
	st := x.Job
	v := View{
		Job:      st,
		Owed:     len(st.Owed()),
		Supports: st.SupportsIn(),
		Turns:    st.Turns(),
		Dues:     st.Dues(),
		Origin:   x.Origin,
		People:   x.People,
		Fault:    x.Fault,
		For:      x.For,
		Typed:    x.Typed,
	}
	for _, t := range st.Trays() {
		if t.Standing {
			v.Standing = append(v.Standing, t)
		}
	}
	gates := st.Gates()
	for _, g := range gates {
		if !g.Met && g.Deviation == nil {
			v.Open++
		}
	}
	v.order(st, groupGates(st, gates, x.For))
	v.CanSign = v.Open == 0 && st.Signature == nil
	if st.Signature == nil {
		v.FollowUps = st.FollowUps()
	}
	v.doubts(st)
	v.sides(st)
	v.stuck(st)
	v.answered(st)
	return pages.Page("ledger", "Ledger", v)
}

// answered lists what steps were answered and noted.
func (v *View) answered(st *job.State) {
	for _, x := range st.Plan.Steps {
		k := st.Steps[x.ID]
		for _, ch := range x.Answers {
			if ch.Key == k.Choice {
				v.Answers = append(v.Answers, answer{x.Title, ch.Title, k.By})
			}
		}
		if k.Note != "" {
			v.Answers = append(v.Answers, answer{x.Title, k.Note, k.By})
		}
	}
}

// View is what stands in a job's ledger: every fastener with its pulls, what differs from the plan, and the gates.
type View struct {
	Turns    []job.RodTurns
	Standing []job.Tray // trays that still hold something
	Job      *job.State
	Sides    []side
	Before   []gateGroup // the first that stand before the signature, in the order of the work
	Further  []gateGroup // and the rest of them
	Passed   []gateGroup // passed over, by name
	Met      []gateGroup
	Seized   []seized
	Open     int
	People   []string // who may sign second
	Owed     int
	Answers  []answer
	Supports map[string]int
	Fault    *fault.Fault
	For      string // key of the gate, pull or form the fault is about
	Typed    map[string]string
	CanSign  bool

	FollowUps []record.FollowUp // of an open job, as they would be signed for
	Dues      []job.Due
	Figures   []figureStruck // struck on the sheet, to be answered
	Origin    *listing.Import
	Hasty     []hasty
	Simulated bool // some of it was made by a stand-in
}

// figureStruck is a figure of the job that was struck on its sheet.
type figureStruck struct {
	*job.Figure
	Title string
}

// hasty is an act kept quicker than hands are.
type hasty struct {
	job.Hasty
	Title string
}

type joint struct {
	*plan.Joint
	Rows      []row
	Owed      bool
	Untouched bool
}

// Lines are the rows with those on one line that no pull parts and that stand alike.
func (j joint) Lines() []row {
	var out []row
	for _, r := range j.Rows {
		n := len(out) - 1
		if n >= 0 && out[n].like(r) {
			out[n].Letter += " " + r.Letter
			continue
		}
		out = append(out, r)
	}
	return out
}

// like says that two fasteners without a pull stand alike.
func (r row) like(o row) bool {
	alike := r.Says == o.Says && r.Renewed == o.Renewed && r.Check == o.Check
	return alike && len(r.Pulls) == 0 && len(o.Pulls) == 0
}

// side is one side of the vehicle, or its middle.
type side struct {
	Name    string
	Joints  []joint
	account job.Account
	all     int
}

// Says is the side in counts.
func (d side) Says() string {
	says := kit.Counted(d.all, "fastener")
	if d.account.Opened() > 0 {
		says += " · " + d.account.Says()
	}
	return says
}

// seized is something that was stuck, with what came of it.
type seized struct {
	What, Says, By string
	At             time.Time
}

// firstGates is how many things that stand before the signature are shown at once.
const firstGates = 5

type row struct {
	draw.Sign
	Letter  string
	Renewed bool
	Says    string
	Check   bool // control without check
	Pulls   []*job.Pull
}

// gateGroup is open gates of one kind under one line, or a gate alone.
type gateGroup struct {
	Title string // of more than one
	Step  operation.StepID
	Gates []job.Gate
	Here  bool // the fault is about one of them
}

// groupGates puts the debts of one joint under one line.
func groupGates(st *job.State, gates []job.Gate, key string) []gateGroup {
	type line struct {
		joint string
		met   bool
	}
	var out []gateGroup
	at := map[line]int{}
	for _, g := range gates {
		id, ok := g.Fastener()
		kind, _ := job.ParseGateKey(g.Key)
		if !ok || kind != job.GateDebt || g.Deviation != nil {
			out = append(out, gateGroup{Gates: []job.Gate{g}, Here: g.Key == key})
			continue
		}
		k := line{id.Joint, g.Met}
		i, begun := at[k]
		if !begun {
			i = len(out)
			at[k] = i
			out = append(out, gateGroup{Step: g.Step})
		}
		out[i].Gates = append(out[i].Gates, g)
		out[i].Here = out[i].Here || g.Key == key
	}
	for k, i := range at {
		if n := len(out[i].Gates); n > 1 {
			out[i].Title = debtsTitle(st, k.joint, n, k.met)
		}
	}
	return out
}

// debtsTitle is what several debts of a joint are called: owed, or how they were paid.
func debtsTitle(st *job.State, joint string, n int, met bool) string {
	title := joint
	if j := st.Plan.Joint(joint); j != nil {
		title = unit.Capital(j.Title)
	}
	if !met {
		return fmt.Sprintf("%s: %d owed", title, n)
	}
	paid := st.Account().Of(func(id job.FastenerID) bool { return id.Joint == joint })
	return title + ": " + paid.Says()
}

// answer is a step that was answered or noted.
type answer struct{ Title, Says, By string }

// order puts what stands before the signature in the order of the work.
func (v *View) order(st *job.State, groups []gateGroup) {
	place := map[operation.StepID]int{}
	for i, x := range st.Plan.Steps {
		place[x.ID] = i
	}
	at := func(g gateGroup) int {
		step := g.Step
		if step == "" {
			step = g.Gates[0].Step
		}
		if i, ok := place[step]; ok {
			return i
		}
		return len(place)
	}
	var open []gateGroup
	for _, g := range groups {
		switch first := g.Gates[0]; {
		case first.Deviation != nil:
			v.Passed = append(v.Passed, g)
		case first.Met:
			v.Met = append(v.Met, g)
		default:
			open = append(open, g)
		}
	}
	slices.SortStableFunc(open, func(a, b gateGroup) int { return at(a) - at(b) })
	n := min(firstGates, len(open))
	for i, g := range open { // what a fault is about is never folded away
		if g.Here {
			n = max(n, i+1)
		}
	}
	v.Before, v.Further = open[:n], open[n:]
}

// FurtherFrom is the number of the first thing folded away.
func (v View) FurtherFrom() int { return len(v.Before) + 1 }

// OpenSays is how much stands before the signature.
func (v View) OpenSays() string {
	n := len(v.Before) + len(v.Further)
	if n == 1 {
		return "1 thing, then you sign"
	}
	return fmt.Sprintf("%d things, then you sign", n)
}

// MetSays is how many gates are met.
func (v View) MetSays() string {
	met := 0
	for _, g := range v.Met {
		met += len(g.Gates)
	}
	if met == 1 {
		return "1 more is met"
	}
	return fmt.Sprintf("%d more are met", met)
}

// sides lays the fasteners out as they sit: left on the left, right on the right, what is
// owed first.
func (v *View) sides(st *job.State) {
	all := []side{{Name: "Left"}, {Name: "Right"}, {Name: "Underneath"}}
	account := st.Account()
	for i := range st.Plan.Joints {
		j := &st.Plan.Joints[i]
		at := &all[2]
		if j.Corner != "" {
			at = &all[1]
			if j.Corner.Left() {
				at = &all[0]
			}
		}
		at.add(st, j)
	}
	for _, d := range all {
		d.account = account.Of(d.has)
		slices.SortStableFunc(d.Joints, func(a, b joint) int { return rank(a) - rank(b) })
		if len(d.Joints) > 0 {
			v.Sides = append(v.Sides, d)
		}
	}
}

func rank(j joint) int {
	switch {
	case j.Owed:
		return 0
	case j.Untouched:
		return 2
	}
	return 1
}

// has says that a fastener is of this side.
func (d *side) has(id job.FastenerID) bool {
	return slices.ContainsFunc(d.Joints, func(j joint) bool { return j.ID == id.Joint })
}

func (d *side) add(st *job.State, j *plan.Joint) {
	lj := joint{Joint: j, Untouched: true}
	for _, l := range j.Letters {
		fa := st.Fastener(j.ID, l)
		r := row{
			Sign:    draw.Sign{Drive: j.Drive, Mark: fa.Sign()},
			Letter:  l,
			Renewed: fa.Renewed,
			Says:    fa.Says(),
			Check:   st.Unchecked(j, fa),
		}
		for _, id := range fa.Pulls {
			r.Pulls = append(r.Pulls, st.Pulls[id])
		}
		lj.Rows = append(lj.Rows, r)
		lj.Untouched = lj.Untouched && fa.Mark() == job.Rest
		d.all++
		lj.Owed = lj.Owed || fa.Owed()
	}
	d.Joints = append(d.Joints, lj)
}

// stuck lists what was stuck, what was tried and what came of it.
func (v *View) stuck(st *job.State) {
	for i := range st.Troubles {
		t := &st.Troubles[i]
		var words []string
		for _, x := range t.Tries {
			words = append(words, x.Name+": "+x.Outcome)
		}
		if len(t.Said) > 0 {
			words = append(words, "said before: "+strings.Join(t.Said, ", "))
		}
		switch {
		case t.Became != "":
			words = append(words, "it became worse")
		case t.Cleared != nil:
			words = append(words, t.Cleared.How)
		default:
			words = append(words, "still open")
		}
		v.Seized = append(v.Seized, seized{
			What: unit.Capital(t.What) + ", " + st.WhatIsStuck(t),
			Says: strings.Join(words, "; "),
			By:   t.By,
			At:   t.At,
		})
	}
}

// doubts gathers what a reader of the record should know.
func (v *View) doubts(st *job.State) {
	for i := range st.Figures {
		f := &st.Figures[i]
		if st.StruckFigure(f.Joint) == f {
			v.Figures = append(v.Figures, figureStruck{f, st.Plan.Joint(f.Joint).Title})
		}
	}
	for _, h := range st.Hasty {
		if x := st.Plan.Step(h.Step); x != nil {
			v.Hasty = append(v.Hasty, hasty{h, x.Title})
		}
	}
	for _, p := range st.Pulls {
		v.Simulated = v.Simulated || p.Simulated
	}
	for _, d := range st.Walk.Drives {
		v.Simulated = v.Simulated || d.Simulated
	}
}
