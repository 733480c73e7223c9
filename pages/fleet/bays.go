// Package fleet is the pages of the shop's vehicles: what stands in the bays, what was done to each, and how one
// is found.
package fleet

import (
	"cmp"
	"embed"
	"html/template"
	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/vehicle"
	"lugtak/draw"
	"lugtak/library"
	"lugtak/pages/kit"
	"time"
)

//go:embed *.html *.css
var files embed.FS

var pages = kit.NewSet(files, template.FuncMap{
	"outlines": func() []vehicle.Outline { return vehicle.Outlines },
})

type bay struct {
	Vehicle vehicle.Vehicle
	Outline draw.OutlineView
	Jobs    []bayJob
}

type bayJob struct {
	ID, Title string
	Corners   map[vehicle.Corner]int // owed, at each corner that is worked on
	Owed      []owedJoint
	Here      []string // who has it open now
	Waits     string
	For       string // what it waits for, as bays are chosen by it
	Who       string
	When      time.Time
	Soak      time.Duration
	SoakEnd   time.Time
	Open      string // the page it goes on with
	Fresh     bool   // nothing done yet
}

// owedJoint is what is owed of one kind of joint.
type owedJoint struct {
	Title string
	Signs []draw.Sign
}

// Bays is a page of the vehicles with a job open, as they were chosen.
type Bays struct {
	Broken []listing.Job // jobs whose record is not the one that was sealed
	Bays   []bay
	Idle   []bay
	Signed []listing.Job
	Due    []kit.Due
	Empty  bool

	kit.Paging
	Choice    Choice
	Many      bool // so many that they are chosen from
	Open      int  // vehicles with a job open
	Chosen    int  // of them
	MoreIdle  int  // vehicles without a job that are not shown here
	Fors, Bys []kit.Choice
}

// Standing is how the shop stands now.
type Standing struct {
	Vehicles []vehicle.Vehicle
	Open     []listing.Job // as they are listed
	Jobs     map[string]*job.State
	Here     func(job string) []string // who has it open now
	Signed   []listing.Job             // the last
	Due      []kit.Due
}

// TheBays shows what stands in them, the chosen ones.
func TheBays(x Standing, lib *library.Library, choice Choice, now time.Time) kit.Page {
	v := Bays{
		Empty:  len(x.Vehicles) == 0,
		Signed: x.Signed,
		Due:    x.Due,
		Choice: choice,
		Fors:   bayFors,
		Bys:    bayBys,
	}
	jobs := map[string][]bayJob{}
	for _, r := range x.Open {
		st := x.Jobs[r.ID]
		if r.Broken != "" || st.Broken != "" {
			v.Broken = append(v.Broken, listing.Job{ID: r.ID, Title: r.Title, Broken: st.Broken})
			continue
		}
		jobs[r.Vehicle] = append(jobs[r.Vehicle], bayJobOf(st, x.Here(st.ID), now))
	}
	var idle []bay
	for _, veh := range x.Vehicles {
		p, _ := lib.Pattern(veh.Pattern)
		b := bay{Vehicle: veh, Jobs: jobs[veh.ID]}
		if len(b.Jobs) > 0 || len(idle) < idleMost {
			b.Outline = draw.Outline(p.Outline, worked(b.Jobs))
		}
		if len(b.Jobs) > 0 {
			v.Bays = append(v.Bays, b)
		} else {
			idle = append(idle, b)
		}
	}
	v.show(v.Choice.choose(v.Bays))
	v.Idle = idle[:min(len(idle), idleMost)]
	v.MoreIdle = len(idle) - len(v.Idle)
	return pages.Page("bays", "Bays", v)
}

// owed is what a bay's jobs owe together.
func (b bay) owed() int {
	n := 0
	for _, j := range b.Jobs {
		for _, owed := range j.Corners {
			n += owed
		}
	}
	return n
}

// touched is when somebody did something to any of its jobs last.
func (b bay) touched() time.Time {
	var last time.Time
	for _, j := range b.Jobs {
		if j.When.After(last) {
			last = j.When
		}
	}
	return last
}

// show puts a page of the chosen bays in the place of all.
func (v *Bays) show(chosen []bay) {
	v.Open, v.Chosen = len(v.Bays), len(chosen)
	v.Many = v.Open > manyBays
	v.Paging = kit.PageOf(v.Choice.Page, v.Chosen, baysPage)
	v.Bays = kit.Of(v.Paging, chosen, baysPage)
}

// worked is what each job owes at each corner.
func worked(jobs []bayJob) []map[vehicle.Corner]int {
	var out []map[vehicle.Corner]int
	for _, j := range jobs {
		out = append(out, j.Corners)
	}
	return out
}

func bayJobOf(st *job.State, here []string, now time.Time) bayJob {
	b := bayJob{
		ID:      st.ID,
		Title:   st.Title(),
		Open:    "bench",
		Corners: map[vehicle.Corner]int{},
		Who:     st.LastBy,
		When:    st.Last,
		Fresh:   st.HasPlan() && !st.Begun(),
	}
	for _, c := range st.Plan.Corners() {
		b.Corners[c] = 0
	}
	for _, f := range st.Owed() {
		j := st.Plan.Joint(f.Joint)
		b.owe(j.Title, draw.Sign{Drive: j.Drive, Mark: f.Sign()})
		b.Corners[j.Corner]++
	}
	b.Here = here
	for _, k := range st.Soaking() {
		if left := k.End.Sub(now); left > b.Soak {
			b.Soak, b.SoakEnd = left, k.End
		}
	}
	switch next := st.Plan.Step(st.Next()); {
	case !st.HasPlan():
		b.Open, b.Waits, b.For = "walk", "the walk-round: "+st.Complaint, waitsWalk
	case len(st.OpenTroubles()) > 0:
		b.Waits, b.For = "a trouble to be cleared: "+st.OpenTroubles()[0].What, waitsTrouble
	case missing(st) != "":
		b.Waits, b.For = "a part: "+missing(st), waitsPart
	case next == nil:
		b.Waits, b.For = "signature", waitsSign
	default:
		b.Waits, b.For = next.Title, waitsHands
	}
	if b.Fresh {
		b.Open = "plan"
	}
	return b
}

// owe adds a fastener to its joint's.
func (b *bayJob) owe(title string, sign draw.Sign) {
	for i := range b.Owed {
		if b.Owed[i].Title == title {
			b.Owed[i].Signs = append(b.Owed[i].Signs, sign)
			return
		}
	}
	b.Owed = append(b.Owed, owedJoint{title, []draw.Sign{sign}})
}

// OpenSays is what the key says that opens the job where it goes on.
func (b bayJob) OpenSays() string {
	switch b.Open {
	case "plan":
		return "Open the plan"
	case "walk":
		return "To the walk-round"
	}
	return "To the bench"
}

// missing names the first part that is on order or missing.
func missing(st *job.State) string {
	for _, p := range st.Plan.Parts {
		if k := st.Parts[p.Key]; k == job.Ordered || k == job.Missing {
			return p.Title
		}
	}
	return ""
}

// Heading is the bay's name where a group of it begins.
func (v Bays) Heading(i int) string {
	if v.Choice.By != byBay || i > 0 && v.Bays[i].Vehicle.Bay == v.Bays[i-1].Vehicle.Bay {
		return ""
	}
	return cmp.Or(v.Bays[i].Vehicle.Bay, "no bay")
}
