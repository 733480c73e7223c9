package plan

import (
	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/device"
	"lugtak/library"
	"lugtak/pages/kit"
	"slices"
)

// Ways are other ways to work a plan.
type Ways struct {
	Job       *job.State
	Questions []question
	Shown     int // questions shown at once; the others fold away
	Begun     bool
	Writes    bool
	Owed      int
}

type question struct {
	Title, Because string
	Ways           []library.Alternative
}

// Parts is the list of what a plan needs, to be ordered, printed or taken along.
type Parts struct {
	Job       *job.State
	Owed      int
	Supplier  string // empty where there is none
	Simulated bool
	Rows      []partRow
	Missing   int // that may be ordered
	Fault     *fault.Fault
	Asked     *fault.Fault // why the supplier said nothing
}

// partRow is a part, with what a supplier says of it.
type partRow struct {
	operation.Part
	Status   job.Stock
	Supplied *job.Supplied
	Offer    *device.Offer
}

// otherWays is how many questions stand open at once.
const otherWays = 2

// WaysPage shows the plan by every school beside the one it has; it is put into the plan's page.
func WaysPage(st *job.State, alts []library.Alternative, writes bool) kit.Page {
	v := Ways{Job: st, Owed: len(st.Owed()), Begun: st.Begun(), Writes: writes && st.Signature == nil}
	for _, a := range alts {
		if n := len(v.Questions); n == 0 || v.Questions[n-1].Title != a.Question {
			q := question{Title: a.Question}
			for _, x := range st.Plan.Schools {
				if x.Key == a.Key {
					q.Because = x.Because
				}
			}
			v.Questions = append(v.Questions, q)
		}
		q := &v.Questions[len(v.Questions)-1]
		q.Ways = append(q.Ways, a)
	}
	for v.Shown < min(otherWays, len(v.Questions)) {
		if v.Shown > 0 && v.Questions[v.Shown].Ways[0].Key != plan.SidesSchool {
			break
		}
		v.Shown++
	}
	return pages.Page("ways", "Ways to work it", v)
}

// With is the list with what a supplier offers, to be ordered, printed or taken along.
func (v Parts) With(offers []device.Offer) kit.Page {
	st := v.Job
	v.Owed = len(st.Owed())
	for _, p := range st.Plan.Parts {
		row := partRow{Part: p, Status: st.Parts[p.Key]}
		if from, known := st.Supplied[p.Key]; known {
			row.Supplied = &from
		}
		if i := slices.IndexFunc(offers, func(o device.Offer) bool { return o.Key == p.Key }); i >= 0 {
			row.Offer = &offers[i]
			if offers[i].Available {
				v.Missing++
			}
		}
		v.Rows = append(v.Rows, row)
	}
	return pages.Page("parts-list", "Parts for "+st.Vehicle.Fleet, v)
}
