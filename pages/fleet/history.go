package fleet

import (
	"fmt"
	"html/template"
	"lugtak/core/diagnose"
	"lugtak/core/fault"
	"lugtak/core/inspect"
	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
	"lugtak/draw"
	"lugtak/pages/kit"
	"maps"
	"math"
	"slices"
	"strings"
	"time"
)

// History is everything that was done to a vehicle.
type History struct {
	Vehicle  vehicle.Vehicle
	Jobs     []pastJob
	Due      []listing.FollowUp
	Wears    []wear
	Corners  []atCorner // what wears there first
	Middle   []doneHere // at no corner
	Outline  draw.OutlineView
	Often    []cameBack
	Distance int // on the odometer when it was here last
	Find     string
	Count    int // of the jobs in this shop
	Outside  []outsideRow
	Parts    []diagnose.Suspect // that may have been renewed elsewhere
	Chain    bool               // other shops can be asked

	kit.Paging // of the jobs
	Fault      *fault.Fault
	Typed      map[string]string
}

// outsideRow is work of another shop, with the part that was renewed in words.
type outsideRow struct {
	listing.Outside
	Part string
}

// pastJob is a job in a few lines, the newest first.
type pastJob struct {
	ID, Title string
	At        time.Time
	KM        int
	By        string // who signed, empty where nobody has
	Lines     []string
}

// wear is a measure over the distance, with where it reaches its limit.
type wear struct {
	Name, At, Says string
	Taken          []string

	of job.Wear
	at float64 // km of its limit; +Inf where nothing leads there
}

// atCorner is what wears first at a corner, and what was done there.
type atCorner struct {
	Corner      vehicle.Corner
	Name, Limit string
	When        string // the limit is reached
	Chart       template.HTML
	Works       []doneHere // of the jobs listed, the newest first
}

// doneHere is a job at a corner with the sign of the fastener that stands worst there.
type doneHere struct {
	Job, Title string
	At         time.Time
	Sign       draw.Sign
	Name       string  // how that fastener is known
	X, Y       float64 // of its sign, on the outline with its nose up
}

// SignsAt are as many as the outline has room for beside a wheel.
const SignsAt = 2

// cameBack is work that was done more than once, with how far it lasted.
type cameBack struct{ Title, Says string }

// MostJobs of a vehicle are listed for its history and HistoryTaken of its measures read; the jobs of one page
// are read whole.
const (
	MostJobs     = 200
	HistoryPage  = 12
	HistoryTaken = 300
)

// Kept is what the shop has of a vehicle.
type Kept struct {
	Vehicle vehicle.Vehicle
	Rows    []listing.Job // of its jobs, the newest first
	Jobs    []*job.State  // of the page, those that are planned
	Due     []listing.FollowUp
	Outside []listing.Outside
	Taken   []job.Taken
	Chain   bool
}

// HistoryOf is everything that was done to a vehicle; parts are what may have been renewed.
func HistoryOf(x Kept, outline vehicle.Outline, parts []diagnose.Suspect) History {
	v := History{
		Vehicle: x.Vehicle,
		Chain:   x.Chain,
		Count:   len(x.Rows),
		Often:   again(x.Rows),
		Due:     x.Due,
		Parts:   parts,
		Wears:   wears(x.Taken),
	}
	for _, r := range x.Rows {
		v.Distance = max(v.Distance, r.KM)
	}
	for _, st := range x.Jobs {
		v.Jobs = append(v.Jobs, past(st))
	}
	v.Outline = draw.Outline(outline, nil)
	for i, c := range []vehicle.Corner{"FL", "FR", "RL", "RR"} {
		at := v.corner(c, x)
		at.Works = worksAt(x.Jobs, c)
		for k := range at.Works {
			at.Works[k].X, at.Works[k].Y = beside(v.Outline.Wheels[i], c, k)
		}
		v.Corners = append(v.Corners, at)
	}
	v.Middle = worksAt(x.Jobs, "")
	for _, o := range x.Outside {
		row := outsideRow{Outside: o}
		for _, p := range parts {
			if p.Key == o.Suspect {
				row.Part = p.Name
			}
		}
		v.Outside = append(v.Outside, row)
	}
	return v
}

// pace is when the vehicle reaches a distance, as it went on between its first job here and its last.
func (x Kept) pace(km float64) (time.Time, bool) {
	if len(x.Rows) == 0 {
		return time.Time{}, false
	}
	read := func(r listing.Job) inspect.Reading { return inspect.Reading{KM: float64(r.KM), At: r.Started} }
	return inspect.DayOf(km, read(x.Rows[len(x.Rows)-1]), read(x.Rows[0]))
}

// corner is what is shown beside one wheel.
func (v *History) corner(c vehicle.Corner, x Kept) atCorner {
	out := atCorner{Corner: c}
	first := math.Inf(1)
	for _, w := range v.Wears {
		if w.At != string(c) || out.Chart != "" && w.at >= first {
			continue
		}
		first = w.at
		l := w.of.Limit()
		out.Name = w.Name + ", " + w.of.Last.Unit
		out.Limit = unit.Number(l.Value, 1)
		out.Chart = draw.Wear(w.of.Points, l, float64(v.Distance), w.of.Last.Unit)
		out.When = ""
		if day, ok := x.pace(w.at); ok {
			out.When = "about " + day.Format("Jan 2006")
		} else if !math.IsInf(w.at, 1) {
			out.When = "about " + thousands(w.at)
		}
	}
	return out
}

// worksAt is the work at a corner, of jobs the newest first.
func worksAt(jobs []*job.State, c vehicle.Corner) []doneHere {
	var out []doneHere
	for _, st := range jobs {
		if len(out) == SignsAt {
			break
		}
		if !slices.Contains(st.Plan.Corners(), c) {
			continue
		}
		w := doneHere{Job: st.ID, Title: st.Title(), At: st.Started, Sign: draw.Sign{Mark: job.Rest}, Name: "nothing opened"}
		here := st.Account().Of(func(id job.FastenerID) bool { return st.Plan.Joint(id.Joint).Corner == c })
		if worst, touched := here.Worst(); touched {
			w.Sign = draw.Sign{Drive: st.Plan.Joint(worst.Fastener.Joint).Drive, Mark: st.Fasteners[worst.Fastener].Sign()}
			w.Name = worst.Grade.Words()
		}
		out = append(out, w)
	}
	return out
}

// beside is the middle of the k-th sign outside a wheel, on the outline turned nose up.
func beside(w draw.WheelView, c vehicle.Corner, k int) (x, y float64) {
	const apart, out = 27, 17
	x = draw.OutlineH - w.Y - w.H - out
	if c.Side() == "right" {
		x = draw.OutlineH - w.Y + out
	}
	return x, w.X + w.W/2 + apart*float64(k)
}

// Told is the vehicle's page.
func (v History) Told() kit.Page { return pages.Page("history", "History of "+v.Vehicle.Fleet, v) }

// past is a job in a few lines: what was done, by whom, and what stayed open of it.
func past(st *job.State) pastJob {
	p := pastJob{ID: st.ID, Title: st.Title(), At: st.Started, KM: st.OdometerKM}
	if st.Signature != nil {
		p.By = st.Signature.By
	}
	add := func(format string, args ...any) { p.Lines = append(p.Lines, fmt.Sprintf(format, args...)) }
	if st.Complaint != "" {
		add("complaint: “%s”", st.Complaint)
	}
	treated := map[string]bool{}
	for _, j := range st.Plan.Joints {
		if f := st.Fastener(j.ID, j.Letters[0]); f != nil && f.Phase != job.Rest && j.Treatment != "dry" &&
			j.Treatment != "" {
			treated[j.Title+" "+j.Treatment] = true
		}
	}
	for _, t := range st.Troubles {
		add("trouble: %s", t.What)
	}
	for _, d := range st.Deviations {
		add("deviation: %s (%s)", d.Reason, d.By)
	}
	for _, f := range st.Findings {
		add("seen: %s", f.Says())
	}
	for _, f := range st.Fluids {
		add("%s: %s in, %s", f.Fluid, unit.Volume(f.InMl), f.Spec)
	}
	for _, what := range slices.Sorted(maps.Keys(treated)) {
		add("%s", what)
	}
	tools := map[string]bool{}
	for _, x := range st.Pulls {
		if x.Counts() && x.Tool != "" {
			tools[x.Tool] = true
		}
	}
	if len(tools) > 0 {
		add("tightened with %s", strings.Join(slices.Sorted(maps.Keys(tools)), ", "))
	}
	return p
}

// wears says of each measure what it was, and where it reaches its limit.
func wears(taken []job.Taken) []wear {
	var out []wear
	for _, w := range job.Wears(taken) {
		v := wear{Name: unit.Capital(w.Last.Name), At: w.Last.Corner, of: w, at: math.Inf(1)}
		for _, p := range w.Points {
			v.Taken = append(v.Taken, fmt.Sprintf("%s %s at %s", unit.Number(p.Value, 3), w.Last.Unit, unit.Kilometres(p.KM)))
		}
		if f, ok := w.Limit().Expect(w.Points, 0); ok {
			v.at = f.LikelyKM
			v.Says = "reaches its limit at some " + thousands(f.LikelyKM)
			if math.IsInf(f.HighKM, 1) {
				v.Says += fmt.Sprintf(", not before %s", thousands(f.LowKM))
			} else {
				v.Says += fmt.Sprintf(" (%s to %s)", thousands(f.LowKM), thousands(f.HighKM))
			}
		}
		out = append(out, v)
	}
	return out
}

// thousands is a distance as a forecast may say it.
func thousands(km float64) string { return unit.Kilometres(1000 * math.Round(km/1000)) }

// again is work that came back, with the distance between, of jobs the newest first.
func again(jobs []listing.Job) []cameBack {
	at := map[string][]int{}
	for _, r := range slices.Backward(jobs) {
		for _, title := range strings.Split(r.Title, " · ") {
			if r.Signed && r.Broken == "" {
				at[title] = append(at[title], r.KM)
			}
		}
	}
	var out []cameBack
	for _, title := range slices.Sorted(maps.Keys(at)) {
		kms := at[title]
		if len(kms) < 2 {
			continue
		}
		var lasted []string
		for i := 1; i < len(kms); i++ {
			lasted = append(lasted, unit.Kilometres(kms[i]-kms[i-1]))
		}
		out = append(out, cameBack{title, "lasted " + strings.Join(lasted, ", then ")})
	}
	return out
}
