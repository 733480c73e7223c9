// Package ready is the page of one walk to the wall: all that a job needs in hand before its first bolt, in the order
// it hangs, with what is short and what stands in for it.
package ready

import (
	"embed"

	"lugtak/core/job"
	"lugtak/library"
	"lugtak/pages/kit"
)

//go:embed *.html *.css
var files embed.FS

var pages = kit.NewSet(files, nil)

// View is the list.
type View struct {
	Job    *job.State
	Owed   int
	Boards []library.Board
	Short  []library.Item // of all boards
	Count  int
}

// Page is the list for a job.
func Page(x library.Ready) kit.Page {
	v := View{Job: x.Job, Owed: len(x.Job.Owed()), Boards: x.Boards()}
	for _, b := range v.Boards {
		v.Count += len(b.Items)
		for _, i := range b.Items {
			if i.Lack != "" {
				v.Short = append(v.Short, i)
			}
		}
	}
	return pages.Page("ready", "Ready: "+x.Job.Vehicle.Fleet, v)
}
