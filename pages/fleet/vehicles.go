package fleet

import (
	"cmp"
	"html/template"
	"math"
	"slices"
	"strings"
	"time"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/operation"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
	"lugtak/draw"
	"lugtak/library"
	"lugtak/pages/kit"
)

// ComesIn is a vehicle that comes to the shop: what stands on it, how it is built, and what it may be like.
type ComesIn struct {
	Typed     map[string]string
	Models    []Model
	Questions []question
	Known     *vehicle.Vehicle // the one of that number, where there is one
	Fault     *fault.Fault
}

// Model is a sheet a vehicle may belong to.
type Model struct {
	ID, Name string
	Own      bool // the shop itself began it
	Invented bool
	Figures  int    // that were read
	Because  string // why it may be this one
}

// question is how a vehicle is built, asked when it comes in.
type question struct {
	operation.Build
	Answers []answer
}

// answer is one thing one may see, drawn.
type answer struct {
	Key, Title string
	Drawn      []draw.Line
}

// Page is the form for it.
func (v ComesIn) Page(lib *library.Library) kit.Page {
	for _, b := range lib.Builds {
		if !b.Intake {
			continue
		}
		q := question{Build: b}
		for _, a := range b.Answers {
			q.Answers = append(q.Answers, answer{a.Key, a.Title, draw.Built(a.Shapes)})
		}
		v.Questions = append(v.Questions, q)
	}
	return pages.Page("vehicle", "A vehicle comes in", v)
}

// Like is what it may be like alone, to be put into the form while it is typed.
func (v ComesIn) Like() kit.Page { return pages.Page("like", "Like one of yours", v) }

// modelsShown is how many models are offered at once.
const modelsShown = 6

// Likely orders models by what is typed: those whose vehicles share the part of the VIN that describes the
// vehicle, then those with the words of the name, then the others.
func Likely(models []Model, describes map[string]bool, name string) []Model {
	rank := func(m Model) int {
		switch {
		case describes[m.ID]:
			return 0
		case name != "" && strings.Contains(unit.Fold(m.Name), unit.Fold(name)):
			return 1
		}
		return 2
	}
	out := slices.Clone(models)
	for i := range out {
		if rank(out[i]) == 0 {
			out[i].Because = "the same first eight of the VIN"
		}
	}
	slices.SortStableFunc(out, func(a, b Model) int { return rank(a) - rank(b) })
	return out[:min(modelsShown, len(out))]
}

// NewJob is a job that is begun, as it was typed.
type NewJob struct {
	ID        string
	Vehicle   string
	Next      string // walk or order: what comes after
	Complaint string
	Odometer  string // km
	WhyBack   string // why the odometer runs backwards
	Promised  string // when it is to be back, as a form gives day and time
	Vehicles  []vehicle.Vehicle
	Fault     *fault.Fault
}

// Page is the form for it.
func (v NewJob) Page() kit.Page { return pages.Page("newjob", "Start a job", v) }

// Fleet is a page of the shop's vehicles, with what is due and what wears.
type Fleet struct {
	kit.Paging
	Rows     []Row
	Find     string
	Vehicles int
}

// Row is a vehicle with what is due of it.
type Row struct {
	Vehicle vehicle.Vehicle
	Last    *listing.Job // nil where it was never here
	Due     []kit.Due
	Wears   []wear // those that reach a limit
}

// How many vehicles one page shows, how much of what is due of each, and how many measures its wear is carried
// on from: those of some five visits.
const (
	FleetPage  = 20
	FleetDues  = 4
	FleetTaken = 60
)

// RowOf is a vehicle in the fleet, with what is due of it and what was measured.
func RowOf(x vehicle.Vehicle, due []listing.FollowUp, taken []job.Taken, now time.Time) Row {
	row := Row{Vehicle: x, Due: kit.Dues(due, now)}
	for _, w := range wears(taken) {
		if w.Says != "" {
			row.Wears = append(row.Wears, w)
		}
	}
	slices.SortStableFunc(row.Wears, func(a, b wear) int { return cmp.Compare(a.at, b.at) })
	return row
}

// First is what is worn first on the vehicle, how far ahead, and its bar on the axis of all; nil where no
// measure leads to its limit.
func (r Row) First() *firstWorn {
	if len(r.Wears) == 0 || r.Last == nil {
		return nil
	}
	w := r.Wears[0]
	f, ok := w.of.Limit().Expect(w.of.Points, 0)
	if !ok {
		return nil
	}
	name, _, _ := strings.Cut(w.Name, ",")
	now := float64(r.Last.KM)
	out := firstWorn{Name: name, At: w.At, More: len(r.Wears) - 1, Ahead: "is over its limit"}
	out.Bar = draw.Ahead(f.LowKM-now, f.LikelyKM-now, f.HighKM-now)
	if f.LikelyKM > now {
		out.Ahead = "in some " + thousands(math.Max(1000, f.LikelyKM-now))
	}
	return &out
}

// firstWorn is what is worn first on a vehicle of the fleet.
type firstWorn struct {
	Name, At, Ahead string
	Bar             template.HTML
	More            int // measures that come later
}

// Listed lists the vehicles by fleet number.
func (v Fleet) Listed() kit.Page { return pages.Page("fleet", "Fleet", v) }

// Elsewhere is what the chain says of a vehicle. The page of the vehicle asks for it by itself.
type Elsewhere struct {
	Past  []listing.Elsewhere
	Fault *fault.Fault
}

// Page is to be put into the vehicle's.
func (v Elsewhere) Page() kit.Page { return pages.Page("elsewhere", "Other shops", v) }
