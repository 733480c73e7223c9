// Package report is the pages that leave the shop with a vehicle: the report, and the label for its key.
package report

import (
	"embed"

	"lugtak/core/job"
	"lugtak/pages/kit"
	"lugtak/report"
)

//go:embed *.html *.css
var files embed.FS

var pages = kit.NewSet(files, nil)

// View is the report with what stands above every page of a job.
type View struct {
	*report.Report
	Job  *job.State
	Owed int
}

// Page is the report as a page: the same as on paper.
func Page(src report.Source) kit.Page {
	return pages.Page("report", "Report", View{report.New(src), src.State, len(src.State.Owed())})
}

// labelled is what goes on the wheel or the key.
type labelled struct {
	Job  *job.State
	Dues []job.Due
}

// Label is a label of what is due after a signature, to be printed.
func Label(st *job.State) kit.Page {
	v := labelled{Job: st}
	for _, d := range st.Dues() {
		if d.Closed == nil {
			v.Dues = append(v.Dues, d)
		}
	}
	return pages.Page("label", "Label "+st.Vehicle.Fleet, v)
}
