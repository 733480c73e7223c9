// Package crib is the pages of the tools: how each stands today, and what was tightened with it.
package crib

import (
	"embed"
	"fmt"
	"html/template"
	"slices"
	"strconv"
	"time"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/wrench"
	"lugtak/draw"
	"lugtak/library"
	"lugtak/pages/kit"
)

//go:embed *.html *.css
var files embed.FS

var pages = kit.NewSet(files, nil)

// View is the crib.
type View struct {
	Tools    []tool
	Adapters []adapter
	Sockets  []string
	Sets     []set
	Fault    *fault.Fault
	For      string // the tool the fault is about; newTool for one that is to be hung
	Typed    map[string]string
}

// NewTool stands for the tool that is to be hung.
const NewTool = "new"

// New names the tool that is to be hung, for the template.
func (View) New() string { return NewTool }

// Drives are the square drives a tool may have.
func (View) Drives() []string { return wrench.Drives }

// For whom a fault is, where it is about no tool.
const (
	OfSockets  = "sockets"
	OfAdapters = "adapters"
)

// set is sockets as they are bought, with those of it that hang here.
type set struct {
	wrench.SocketSet
	Singly []single
	Have   int
}

// single is one socket of a set.
type single struct {
	Own, Size string
	Have      bool
}

// Rows are the adapters as they are said, with room for more; what was typed before is kept.
func (v View) Rows() []adapterRow {
	const more = 3
	var out []adapterRow
	for i := range len(v.Adapters) + more {
		r := adapterRow{No: i}
		if i < len(v.Adapters) {
			a := v.Adapters[i]
			r.Name, r.Length, r.Angle = a.Name, draw.Plain(a.LengthMM), draw.Plain(a.AngleDeg)
			r.Flex = strconv.FormatFloat(a.Flex, 'f', -1, 64)
		}
		if v.For == OfAdapters {
			at := strconv.Itoa(i)
			r.Name, r.Length = v.Typed["name-"+at], v.Typed["length-"+at]
			r.Angle, r.Flex = v.Typed["angle-"+at], v.Typed["flex-"+at]
		}
		out = append(out, r)
	}
	return out
}

type adapterRow struct {
	No                        int
	Name, Length, Angle, Flex string
}

type tool struct {
	wrench.Tool
	Wired   bool   // to the shop: its stand-in plays it
	Refused string // why it may not be used today
	Due     time.Time
	Days    int
	Bar     template.HTML
	Clock   template.HTML
	Chart   template.HTML
	Last    *wrench.Logged
	Points  []float64 // what a calibration sets
	Log     []wrench.Logged
}

type adapter struct {
	wrench.Adapter
	Set     float64 // for 100 N·m on the longest wrench that clicks
	Wrench  string
	Drawing template.HTML
}

// logShown is how many lines of a tool's log are shown.
const logShown = 5

// New is the crib with its tools as they stand, and the log of all of them.
func New(lib *library.Library, tools []wrench.Tool, log []wrench.Logged, now time.Time) View {
	v := View{Sockets: lib.Sockets}
	for _, t := range tools {
		v.Tools = append(v.Tools, toolOf(t, log, now))
	}
	for _, s := range lib.SocketSets {
		x := set{SocketSet: s}
		for i, own := range s.Sockets() {
			have := slices.Contains(lib.Sockets, own)
			x.Singly = append(x.Singly, single{own, s.Sizes[i], have})
			if have {
				x.Have++
			}
		}
		v.Sets = append(v.Sets, x)
	}
	for _, a := range lib.Adapters {
		v.Adapters = append(v.Adapters, adapterOf(a, tools))
	}
	return v
}

// Page is the crib's.
func (v View) Page() kit.Page { return pages.Page("crib", "Tool crib", v) }

func toolOf(t wrench.Tool, log []wrench.Logged, now time.Time) tool {
	x := tool{
		Tool:    t,
		Due:     t.Due(),
		Days:    int(t.Due().Sub(now).Hours() / 24),
		Last:    wrench.LastCheck(t.ID, log),
		Refused: t.Unfit(now),
		Bar:     draw.RangeBar(t),
		Clock:   draw.CalibrationClock(t, now),
	}
	for _, share := range wrench.CheckShares {
		x.Points = append(x.Points, share*t.MaxNm)
	}
	for _, l := range slices.Backward(log) {
		if l.Tool == t.ID && len(x.Log) < logShown {
			x.Log = append(x.Log, l)
		}
	}
	if x.Last != nil {
		x.Chart = draw.CheckChart(x.Last.Points)
	}
	return x
}

// adapterOf shows what an adapter makes of a setting, on the longest wrench that clicks.
func adapterOf(a wrench.Adapter, tools []wrench.Tool) adapter {
	x := adapter{Adapter: a}
	longest := 0.0
	for _, t := range tools {
		set, _, err := wrench.Setting(100, t.LengthMM, a.LengthMM, a.AngleDeg)
		if err == nil && !t.Angle() && t.LengthMM > longest {
			longest = t.LengthMM
			x.Set, x.Wrench = set, fmt.Sprintf("%s, L %s mm", t.Name, draw.Plain(t.LengthMM))
		}
	}
	return x
}

// Token is a tool's token to send with, shown this once.
func Token(t wrench.Tool, secret string) kit.Page {
	return pages.Page("token", "Token of "+t.Name, struct {
		Tool   wrench.Tool
		Secret string
	}{t, secret})
}

// recall is what was tightened with a tool since its last good calibration.
type recall struct {
	Tool  wrench.Tool
	Since time.Time
	Jobs  []recalled

	Page, Prev, Next int // from 1; 0 where there is none
}

// RecallPage is how many jobs one page reads again.
const RecallPage = 50

// recalled is one job with what was tightened with the tool since.
type recalled struct {
	ID, Vehicle, Title string
	Signed             bool
	Joints             []string
}

// Recall lists what to look at again where a tool has failed its calibration: all that was tightened with it
// since it was last good. One job more than a page has tells that there are further ones.
func Recall(t wrench.Tool, jobs []*job.State, page int) kit.Page {
	v := recall{Tool: t, Since: t.Calibrated, Page: page, Prev: page - 1}
	if len(jobs) > RecallPage {
		jobs, v.Next = jobs[:RecallPage], page+1
	}
	for _, st := range jobs {
		x := recalled{ID: st.ID, Vehicle: st.Vehicle.Fleet, Title: st.Title(), Signed: st.Signature != nil}
		for _, j := range st.TightenedWith(t.Name, v.Since) {
			x.Joints = append(x.Joints, fmt.Sprintf("%d %s", j.Count, j.Title))
		}
		if len(x.Joints) > 0 {
			v.Jobs = append(v.Jobs, x)
		}
	}
	return pages.Page("recall", "Tightened with "+t.Name, v)
}
