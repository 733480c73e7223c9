// Package plan is the pages of a job's plan: its steps, parts and tools, how long it takes and why, other ways to
// work it, and the list of its parts.
package plan

import (
	"embed"
	"fmt"
	"html/template"
	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/recipe"
	"lugtak/core/schedule"
	"lugtak/core/unit"
	"lugtak/core/wrench"
	"lugtak/draw"
	"lugtak/library"
	"lugtak/pages/kit"
	"slices"
	"strings"
	"time"
)

//go:embed *.html *.css
var files embed.FS

var pages = kit.NewSet(files, template.FuncMap{
	"statuses": func() []job.Stock { return []job.Stock{job.Have, job.Ordered, job.Missing} },
})

// View is a plan as it is read before and between the work: its steps on the clock, parts, tools, what is owed.
type View struct {
	Job      *job.State
	Joints   []joint
	Parts    []part
	Tools    []tool
	Steps    []step
	Time     draw.TimelineView
	Total    float64
	Left     float64 // minutes of hands' work still to do
	Changes  int
	Raises   int
	Over     float64 // per cent above the proved least
	Warnings []string
	Owed     int
	Slow     *plan.Step // at hand for longer than reckoned
	Took     float64
	Waiting  []string // parts that are not there
	Unread   int      // figures to look up
	Again    int      // figures a second person is to read
	Begun    bool
	Cost     string // of the step just moved
	Turns    []job.RodTurns
	Trays    []job.Tray
	Changed  *changedPlan
	WaysOut  []wayOut
	Since    string // the owner was told
	Promised *kit.Promise
	Range    plan.Estimate
	Parts90  []draw.Bar // the range cut by what widens it
	LikelyX  float64
	Widest   []widening
	Price    library.Price
	Stages   []stage
	Question *build
	First    string // what is done first
	Proved   bool
	Broken   string   // what the proof says against it
	Stays    []string // what stands open or hangs meanwhile, for how long
	TooLong  []string // of that, what stays so for longer than it may, and what is done about it
	Wants    int
	Laws     int
	Fault    *fault.Fault
	For      string // form the fault belongs to
	Typed    map[string]string
}

// Shown is what the page is made from.
type Shown struct {
	Job     *job.State
	Library *library.Library
	Tools   []wrench.Tool
	Opened  map[string][2]int // how often joints were opened here, and stuck
	Like    []Found           // what was found of vehicles of the pattern
	Was     float64           // minutes before the last move; 0 where there was none
	WasTool int               // and its tool changes
	Now     time.Time
	Fault   *fault.Fault
	Typed   map[string]string
}

// Found is how a vehicle turned out to be built.
type Found struct{ Vehicle, Key, Is string }

// joint is a joint, or the like joints of several corners.
type joint struct {
	*plan.Joint
	Name    string // without its corner
	IDs     []string
	Where   []string
	Both    string // the highest torque in both units
	Count   int
	Words   []string
	Doubts  []recipe.Warning
	Preload string
	Kit     *job.Kit
}

type part struct {
	operation.Part
	Status job.Stock
	Step   operation.StepID // where it is compared
	Match  *job.Matching
}

type tool struct {
	Name, For string
	Wrench    bool // what torque is set or read on
	Steps     int
	Standin   string // what serves in its place
}

type step struct {
	*plan.Step
	No          int
	Start, End  float64
	Who         int
	Done, Begun bool
	Room        [2]int // numbers of the steps it could stand behind
	Joint       string
}

// wrenchFor is the torque wrench a step's first torque asks for, with its range.
func (x Shown) wrenchFor(step *plan.Step) string {
	if step.Verb != operation.Tighten {
		return ""
	}
	from, to := x.Job.Span(step)
	stages := x.Job.Stages(step.Joint)
	for no := from; no <= to && no < len(stages); no++ {
		if stages[no].Kind != recipe.Torque {
			continue
		}
		for _, c := range x.Job.Wrenches(x.Job.Plan.Joint(step.Joint), no, x.Tools, wrench.Adapter{}, x.Now) {
			if c.Refused == "" {
				return c.Tool.Name + ", to " + unit.Torque(c.Tool.MaxNm).Both()
			}
		}
	}
	return ""
}

func jointOf(j *plan.Joint) joint {
	r, _ := recipe.Parse(j.Recipe) // checked when it was compiled
	v := joint{
		Joint: j,
		Name:  strings.TrimSuffix(j.Title, " "+string(j.Corner)),
		IDs:   []string{j.ID},
		Count: len(j.Letters),
		Words: r.Explain(),
	}
	if j.Corner != "" {
		v.Where = []string{j.Corner.Axle() + " " + j.Corner.Side()}
	}
	if p := r.Peak(); p > 0 {
		v.Both = p.Both()
	}
	if f, ok := j.Fastener(); ok {
		v.Doubts, _ = recipe.Check(r, f)
	}
	v.Preload = kit.PreloadWords(j.Spec)
	return v
}

// Page is the plan as it stands now.
func Page(x Shown) (kit.Page, error) {
	sol, err := x.Job.Plan.Clock(x.Library.Costs())
	if err != nil {
		return kit.Page{}, err
	}
	st := x.Job
	v := View{
		Job:      st,
		Warnings: st.Plan.Warnings,
		Owed:     len(st.Owed()),
		Fault:    x.Fault,
		Typed:    x.Typed,
		For:      x.Typed["form"],
		Begun:    st.Begun(),
		Turns:    st.Turns(),
		Raises:   st.Plan.Raises(),
		Time:     draw.Timeline(st, sol),
		Total:    sol.Makespan,
		Changes:  sol.ToolChanges,
		Over:     100 * (sol.Makespan/sol.Bound - 1),
		Changed:  changed(st.Replans),
	}
	v.Unread, v.Again = st.ToRead()
	v.Slow, v.Took = st.Overrun(x.Now)
	v.howLong(x.Library, x.Opened)
	v.WaysOut = x.waysOut()
	v.Since = since(st.Told, v.Range.Likely)
	if p := kit.PromiseOf(st, x.Now); !p.Until.IsZero() || p.First != "" {
		v.Promised = &p
	}
	v.proof()
	v.stays(sol)
	if x.Was > 0 {
		v.Cost = fmt.Sprintf("%+.1f minutes, %+d tool changes", sol.Makespan-x.Was, sol.ToolChanges-x.WasTool)
	}
	v.joints()
	v.parts()
	v.steps(sol)
	v.tools(x)
	for _, t := range st.Trays() {
		if t.Out > 0 || t.Joint.Points != "" || len(t.Joint.Stack) > 0 {
			v.Trays = append(v.Trays, t)
		}
	}
	v.byStage(sol)
	v.Question = x.question()
	return pages.Page("plan", "Plan", v), nil
}

// joints lists the joints, like ones of several corners as one.
func (v *View) joints() {
	for i := range v.Job.Plan.Joints {
		j := jointOf(&v.Job.Plan.Joints[i])
		if k, ok := v.Job.Kits[j.ID]; ok {
			j.Kit = &k
		}
		alike := func(o joint) bool {
			return o.Sheet == j.Sheet && o.Opening == j.Opening && o.Says() == j.Says() && o.Source == j.Source
		}
		if i := slices.IndexFunc(v.Joints, alike); i >= 0 {
			o := &v.Joints[i]
			o.IDs, o.Where, o.Count = append(o.IDs, j.ID), append(o.Where, j.Where...), o.Count+j.Count
			continue
		}
		v.Joints = append(v.Joints, j)
	}
}

// parts lists the parts, and those that are waited for.
func (v *View) parts() {
	for _, p := range v.Job.Plan.Parts {
		x := part{Part: p, Status: v.Job.Parts[p.Key], Match: v.Job.Match(p.Key)}
		for _, step := range v.Job.Plan.Steps {
			if step.Part == p.Key && p.Kind != "" {
				x.Step = step.ID
			}
		}
		if x.Status == job.Missing || x.Status == job.Ordered {
			v.Waiting = append(v.Waiting, p.Title)
		}
		v.Parts = append(v.Parts, x)
	}
}

// steps lays the steps along the clock.
func (v *View) steps(sol schedule.Solution) {
	p := v.Job.Plan
	at := map[string]int{}
	for i, x := range sol.Order {
		at[x.ID] = i
	}
	room := p.Room()
	for i := range p.Steps {
		slot := sol.Order[at[string(p.Steps[i].ID)]]
		x := step{
			Step:  &p.Steps[i],
			No:    i + 1,
			Start: slot.Start,
			End:   slot.End,
			Who:   slot.Technician,
			Room:  room[i],
			Done:  v.Job.StepDone(p.Steps[i].ID),
			Begun: len(v.Job.Steps[p.Steps[i].ID].Letters) > 0,
		}
		if !x.Done {
			v.Left += x.HandMinutes()
		}
		if j := p.Joint(x.Step.Joint); j != nil {
			x.Joint = j.Title
		}
		v.Steps = append(v.Steps, x)
	}
}

// tools lists what the steps are done with, each once.
func (v *View) tools(x Shown) {
	seen, seenWrench := map[string]int{}, map[string]bool{}
	for _, step := range v.Steps {
		if name := step.NeedsTool(); name != "" {
			if k, ok := seen[name]; ok {
				v.Tools[k].Steps++
			} else {
				seen[name] = len(v.Tools)
				v.Tools = append(v.Tools, tool{Name: name, For: step.Place, Steps: 1, Standin: x.Library.Short(name)})
			}
		}
		if name := x.wrenchFor(step.Step); name != "" && !seenWrench[name] {
			seenWrench[name] = true
			v.Tools = append(v.Tools, tool{Name: name, Wrench: true, Steps: 1})
		}
	}
}
