// Package office is the pages of the shop's own affairs: how it does, its people, scripts, lists, what was done,
// signing in, and what is one's own.
package office

import (
	"cmp"
	"embed"
	"html/template"
	"slices"
	"strings"
	"time"

	"lugtak/core/job"
	"lugtak/core/unit"
	"lugtak/core/wrench"
	"lugtak/draw"
	"lugtak/pages/kit"
)

//go:embed *.html *.css
var files embed.FS

var pages = kit.NewSet(files, template.FuncMap{
	"spoken": func(kind string) string { return strings.ReplaceAll(kind, "_", " ") },
	"fields": fieldsOf,
	"device": deviceWords,
	"pinpad": func() []string { return strings.Split("1 2 3 4 5 6 7 8 9 ⌫ 0", " ") },
})

// View is how the shop does: its last quarter in figures.
type View struct {
	Jobs, Owed int // open now
	Due        []kit.Due
	Signed     int
	Longer     int // of the signed, those that took longer than planned
	Times      template.HTML
	Weeks      template.HTML
	Comebacks  []comeback
	Again      int           // comebacks beyond those shown
	Stuck      []stuckJoint  // what sits fast here, most often first
	Reckoned   float64       // odds the shop reckons with where it has no past
	Tools      []wrench.Tool // due soon or overdue
	Now        time.Time
	Node       bool // of a chain
	Chained    bool
	Lines      int // of the record
	Words      string
	Kept       []kept
}

// stuckJoint is a joint of a sheet that was stuck here, with how often it was opened.
type stuckJoint struct {
	Title         string
	Opened, Stuck int
	Share         float64
}

// mostStuck is how many of them are listed.
const mostStuck = 7

// stuckOf are the joints that were stuck, the most often first, of those the more opened.
func stuckOf(opened map[string][2]int, title func(joint string) string) []stuckJoint {
	var out []stuckJoint
	for joint, n := range opened {
		if n[1] > 0 {
			name := unit.Capital(title(joint))
			if at := strings.Split(joint, "."); len(at) > 1 {
				name += ", " + at[1]
			}
			out = append(out, stuckJoint{name, n[0], n[1], float64(n[1]) / float64(max(n[0], 1))})
		}
	}
	slices.SortFunc(out, func(a, b stuckJoint) int {
		return cmp.Or(b.Stuck-a.Stuck, a.Opened-b.Opened, strings.Compare(a.Title, b.Title))
	})
	return out[:min(len(out), mostStuck)]
}

type comeback struct {
	job.Comeback
	Title string
	Days  int
}

// What the office looks back on and ahead to.
const (
	weeksBack  = 13
	dots       = 120 // jobs, the last
	mostAgain  = 12  // comebacks, the last
	toolsAhead = 30 * 24 * time.Hour
)

// First is the day the page looks back to.
func First(now time.Time) time.Time { return monday(now.Local()).AddDate(0, 0, -7*(weeksBack-1)) }

// Figures are what the page is made of: what the jobs since First came to, what is open and due, and the tools.
type Figures struct {
	Outcomes   []job.Outcome
	Jobs, Owed int
	Due        []kit.Due
	Tools      []wrench.Tool
	Node       bool
	Keeping    Keeping
	Title      func(task string) string // of work, as hub-unit@FL
	Opened     map[string][2]int        // by joint of the sheet, how often it was opened, and stuck
	Joint      func(joint string) string
	SeizedOdds float64 // the shop reckons with
}

// Office shows how the shop does, and where its foreman goes on.
func Office(x Figures, now time.Time) kit.Page {
	v := View{Jobs: x.Jobs, Owed: x.Owed, Due: x.Due, Now: now, Node: x.Node, Chained: x.Keeping.Chained}
	v.look(x, First(now))
	v.Lines, v.Words, v.Kept = x.Keeping.Lines, x.Keeping.Words, x.Keeping.lines(now)
	v.Stuck, v.Reckoned = stuckOf(x.Opened, x.Joint), x.SeizedOdds
	for _, t := range x.Tools {
		if t.Due().Before(now.Add(toolsAhead)) || t.Cycles >= wrench.Recalibrate {
			v.Tools = append(v.Tools, t)
		}
	}
	slices.SortFunc(v.Tools, func(a, b wrench.Tool) int { return cmp.Compare(a.Due().Unix(), b.Due().Unix()) })
	return pages.Page("office", "Office", v)
}

// look draws the weeks since the first, from what the jobs came to.
func (v *View) look(x Figures, first time.Time) {
	weeks := make([]draw.Week, weeksBack)
	for i := range weeks {
		weeks[i] = draw.Week{From: first.AddDate(0, 0, 7*i), Counts: make([]int, 3)}
	}
	var timed []job.Outcome
	for _, o := range x.Outcomes {
		at := int(o.Signed.Sub(first).Hours() / (7 * 24))
		if o.Signed.Before(first) || at >= weeksBack {
			continue
		}
		v.Signed++
		weeks[at].Counts[0]++
		weeks[at].Counts[1] += o.Deviations
		weeks[at].Counts[2] += o.Unmeasured
		if o.PlannedMin > 0 && len(timed) < dots {
			timed = append(timed, o)
		}
		if o.PlannedMin > 0 && o.TookMin > o.PlannedMin {
			v.Longer++
		}
	}
	v.Times = draw.TimesPlot(timed)
	v.Weeks = draw.WeekBars("By week", []string{"signed", "deviations", "not measured"}, weeks)
	for _, b := range job.Comebacks(x.Outcomes) {
		if b.Again.Started.Before(first) {
			continue
		}
		if len(v.Comebacks) == mostAgain {
			v.Again++
			continue
		}
		days := int(b.Again.Started.Sub(b.First.Signed).Hours() / 24)
		v.Comebacks = append(v.Comebacks, comeback{b, x.Title(b.Task), days})
	}
}

// monday is the beginning of a day's week.
func monday(t time.Time) time.Time {
	day := (int(t.Weekday()) + 6) % 7
	return time.Date(t.Year(), t.Month(), t.Day()-day, 0, 0, 0, 0, t.Location())
}
