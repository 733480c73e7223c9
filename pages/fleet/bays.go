// Package fleet is the pages of the shop's vehicles: what stands in the bays, what was done to each, and how one
// is found.
package fleet

import (
	"embed"
	"fmt"
	"html/template"
	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/vehicle"
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
	"outlines": func() []vehicle.Outline { return vehicle.Outlines },
	"called":   called,
	"waitsign": func(waits string) string { return waitSigns[waits] },
})

// called is how people are called across a floor: by the last word of their names.
func called(who any) string {
	all, several := who.([]string)
	if !several {
		all = []string{fmt.Sprint(who)}
	}
	var out []string
	for _, name := range all {
		words := strings.Fields(name)
		if len(words) > 0 {
			out = append(out, words[len(words)-1])
		}
	}
	return strings.Join(out, ", ")
}

// waitSigns are small drawings of what is waited for, on 24 by 24.
var waitSigns = map[string]string{
	waitsHands:   "M12 3a9 9 0 1 0 .1 0M12 8a4 4 0 1 0 .1 0",
	waitsWalk:    "M12 3a9 9 0 1 0 .1 0M12 8a4 4 0 1 0 .1 0",
	waitsSoak:    "M12 3a9 9 0 1 0 .1 0M12 7v5l4 2",
	waitsPart:    "M4 8l8-4 8 4v9l-8 4-8-4zM4 8l8 4 8-4M12 12v9",
	waitsTrouble: "M12 4L2 20h20zM12 10v5M12 17.5v.5",
	waitsSign:    "M4 20h16M6 16L16 5l3 3L9 18l-4 1z",
	waitsRoad:    "M12 3a9 9 0 1 0 .1 0M12 10a2 2 0 1 0 .1 0M3.5 11h6.5M14 11h6.500M12 14v7",
}

type bay struct {
	Vehicle vehicle.Vehicle
	Outline draw.OutlineView
	Jobs    []bayJob
}

type bayJob struct {
	ID, Title string
	Corners   map[vehicle.Corner]int // owed, at each corner that is worked on
	Here      []string               // who has it open now
	Waits     string
	For       string // what it waits for, as bays are chosen by it
	Who       string
	When      time.Time
	SoakEnd   time.Time // what soaks has worked; zero where nothing does
	Open      string    // the page it goes on with
	Fresh     bool      // nothing done yet
	No, Of    int       // the step it is at, of all; 0 before the plan

	Handed *job.Handed // in whose hand it was put; nil where in nobody's

	Promise kit.Promise
}

// Bays is a page of the vehicles with a job open, as they were chosen.
type Bays struct {
	Broken []listing.Job // jobs whose record is not the one that was sealed
	Bays   []bay
	Idle   []bay
	Signed []listing.Job
	Due    []kit.Due
	Empty  bool
	People int // who works there, where it is empty
	Tools  int // torque tools that hang in its crib

	AtWork   int
	Owing    int
	Danger   int // promises late or close
	Free     []place
	Promises []promise

	kit.Paging
	Choice    Choice
	Many      bool // so many that they are chosen from
	Open      int  // vehicles with a job open
	Chosen    int  // of them
	MoreIdle  int  // vehicles without a job that are not shown here
	Fors, Bys []kit.Choice
}

// promise is one that was given, soonest first.
type promise struct {
	Fleet string
	bayJob
}

// Standing is how the shop stands now.
type Standing struct {
	Vehicles []vehicle.Vehicle
	Open     []listing.Job // as they are listed
	Jobs     map[string]*job.State
	Here     func(job string) []string // who has it open now
	Signed   []listing.Job             // the last
	Due      []kit.Due
	People   int // where there is no vehicle yet
	Tools    int // likewise, torque tools
}

// Floor are nine places, as an empty shop is drawn.
func (Bays) Floor() (out []struct{ X, Y, No int }) {
	for i := range wallBays {
		out = append(out, struct{ X, Y, No int }{14 + 96*(i%3), 20 + 116*(i/3), i + 1})
	}
	return out
}

// TheBays shows what stands in them, the chosen ones.
func TheBays(x Standing, lib *library.Library, choice Choice, now time.Time) kit.Page {
	v := baysOf(x, lib, now)
	v.Choice = choice
	v.show(v.Choice.choose(v.Bays))
	return pages.Page("bays", "Bays", v)
}

// baysOf is how the floor stands.
func baysOf(x Standing, lib *library.Library, now time.Time) Bays {
	v := Bays{
		Empty:  len(x.Vehicles) == 0,
		People: x.People,
		Tools:  x.Tools,
		Signed: x.Signed,
		Due:    x.Due,
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
	v.count()
	v.Free = free(v.Bays, idle, lib.Shop.Bays)
	v.Idle = idle[:min(len(idle), idleMost)]
	v.MoreIdle = len(idle) - len(v.Idle)
	return v
}

// place is a numbered one at which nobody works.
type place struct {
	Name  string
	Stood string // the vehicles without a job that were put there last; they may have left
}

// free are the places of a shop where no vehicle has a job open.
func free(atWork, idle []bay, places int) []place {
	taken := map[string]bool{}
	for _, b := range atWork {
		taken[b.Vehicle.Bay] = true
	}
	stood := map[string][]string{}
	for _, b := range idle {
		stood[b.Vehicle.Bay] = append(stood[b.Vehicle.Bay], b.Vehicle.Fleet)
	}
	var out []place
	for n := 1; n <= places; n++ {
		if name := fmt.Sprintf("bay %d", n); !taken[name] {
			out = append(out, place{name, strings.Join(stood[name], ", ")})
		}
	}
	return out
}

// count says how the floor stands: who works, what is owed and what is promised.
func (v *Bays) count() {
	for _, b := range v.Bays {
		v.AtWork++
		v.Owing += b.owed()
		for _, j := range b.Jobs {
			if j.Promise.Until.IsZero() {
				continue
			}
			v.Promises = append(v.Promises, promise{b.Vehicle.Fleet, j})
			if j.Promise.Danger != job.Kept {
				v.Danger++
			}
		}
	}
	slices.SortStableFunc(v.Promises, func(a, b promise) int { return a.Promise.Until.Compare(b.Promise.Until) })
	v.Promises = v.Promises[:min(len(v.Promises), promisesShown)]
}

// promisesShown is how many promises the floor lists.
const promisesShown = 8

// Number is what of a bay's name stands at its corner: 3, of bay 3.
func (b bay) Number() string { return strings.TrimPrefix(b.Vehicle.Bay, "bay ") }

// Edge is the colour of a bay's upper edge: what its first job waits for.
func (b bay) Edge() string {
	if len(b.Jobs) == 0 {
		return ""
	}
	if b.Jobs[0].Promise.Danger == job.Late {
		return waitsTrouble
	}
	return b.Jobs[0].For
}

// owed is what a bay's jobs owe together.
func (b bay) owed() int {
	n := 0
	for _, j := range b.Jobs {
		n += j.Owed()
	}
	return n
}

// Owed is what a job owes, at its corners and between them.
func (b bayJob) Owed() int {
	n := 0
	for _, owed := range b.Corners {
		n += owed
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
		Who:     st.LastHand(),
		When:    st.Last,
		Fresh:   st.HasPlan() && !st.Begun(),
	}
	for _, c := range st.Plan.Corners() {
		b.Corners[c] = 0
	}
	for _, f := range st.Owed() {
		b.Corners[st.Plan.Joint(f.Joint).Corner]++
	}
	b.Here = here
	for _, k := range st.Soaking() {
		if k.End.After(now) && k.End.After(b.SoakEnd) {
			b.SoakEnd = k.End
		}
	}
	b.Promise = kit.PromiseOf(st, now)
	next := st.Plan.Step(st.Next())
	if next != nil {
		b.Handed = st.HandedAt(next)
		b.Of = len(st.Plan.Steps)
		b.No = 1 + slices.IndexFunc(st.Plan.Steps, func(s plan.Step) bool { return s.ID == next.ID })
	}
	switch {
	case !st.HasPlan():
		b.Open, b.Waits, b.For = "walk", "walk-round: “"+st.Complaint+"”", waitsWalk
	case len(st.OpenTroubles()) > 0:
		b.Waits, b.For = st.OpenTroubles()[0].What, waitsTrouble
	case missing(st) != "":
		b.Waits, b.For = missing(st), waitsPart
	case next == nil:
		b.Waits, b.For = "the signature", waitsSign
	case next.Verb == operation.Drive:
		b.Waits, b.For = next.Title, waitsRoad
	case !b.SoakEnd.IsZero():
		b.Waits, b.For = next.Title, waitsSoak
	default:
		b.Waits, b.For = next.Title, waitsHands
	}
	if b.Fresh {
		b.Open = "plan"
	}
	return b
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
