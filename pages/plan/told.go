package plan

import (
	"cmp"
	"fmt"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/schedule"
	"lugtak/core/unit"
	"lugtak/draw"
	"lugtak/library"
	"math"
	"slices"
	"strings"
)

// widening is one thing that may make the job longer, as the rail says it.
type widening struct {
	What, Odds, Minutes, Class string
}

// stage is a stage of the work with its steps by side.
type stage struct {
	No       int
	Name, At string
	Count    int
	Done     int
	Open     bool
	Sided    bool
	Lists    []sideList
}

type sideList struct {
	Name  string
	Steps []step
}

// build is a question of how the vehicle is built, with its drawn answers.
type build struct {
	plan.BuildUsed
	Of      int
	Like    string   // what others of its kind were found to be
	Known   []string // what was seen of this one
	Assumed string
	Answers []drawnAnswer
}

type drawnAnswer struct {
	Key, Title string
	Drawn      []draw.Line
}

// shown is how many of the things that widen a job are named one by one.
const shown = 3

// railWidth is how wide the bar of the range is drawn.
const railWidth = 330.0

// howLong reckons the range of the job and what makes it wide.
func (v *View) howLong(lib *library.Library, opened map[string][2]int) {
	v.Range, v.Price = lib.HowLong(v.Job, v.Total, opened)
	k := railWidth / math.Max(1, v.Range.High)
	v.LikelyX = v.Range.Likely * k
	sure := math.Max(v.Range.Low, v.Total-v.Range.Spread)
	v.Parts90 = append(v.Parts90, draw.Bar{W: sure * k, Class: "work"})
	groups := grouped(v.Range.Widened)
	weight := 0.0
	for _, g := range groups {
		weight += g.weight
	}
	x := sure * k
	for i, g := range groups[:min(shown, len(groups))] {
		class := fmt.Sprint("w", i+1)
		w := (railWidth - sure*k) * g.weight / weight
		v.Parts90 = append(v.Parts90, draw.Bar{X: x, W: w, Class: class})
		x += w
		v.Widest = append(v.Widest, widening{
			What:    g.what,
			Odds:    fmt.Sprintf("%.0f in 10", 10*g.odds),
			Minutes: fmt.Sprintf("+ %.0f min", g.minutes),
			Class:   class,
		})
	}
	if n := len(groups) - shown; n > 0 {
		v.Widest = append(v.Widest, widening{What: fmt.Sprintf("%d more", n), Odds: "less likely", Class: "w4"})
	}
}

// changedPlan is the last time the plan was made anew, with what that did to it.
type changedPlan struct {
	job.Replanning
	Delta  string
	Counts []changeCount
	Before []job.Replanning
}

// changeCount is how many steps fared alike; those that are few are named.
type changeCount struct {
	N     int
	New   bool
	What  string
	Steps string
}

func changed(all []job.Replanning) *changedPlan {
	n := len(all) - 1
	if n < 0 {
		return nil
	}
	c := all[n].Change
	v := changedPlan{Replanning: all[n], Before: all[:n]}
	v.Delta = fmt.Sprintf("%s of work left, as before", unit.HoursMinutes(c.Now))
	if more := math.Round(c.Now - c.Was); more != 0 {
		v.Delta = fmt.Sprintf("%+.0f min of work: %s left, was %s", more, unit.HoursMinutes(c.Now), unit.HoursMinutes(c.Was))
	}
	for _, x := range []changeCount{
		{N: c.Done, What: "done, stay done"},
		{N: len(c.New), New: true, What: "new", Steps: few(c.New)},
		{N: len(c.Earlier), What: "earlier", Steps: few(c.Earlier)},
		{N: len(c.Later), What: "later", Steps: few(c.Later)},
		{N: c.Stood, What: "as they stood"},
		{N: len(c.Gone), What: "no longer needed", Steps: few(c.Gone)},
	} {
		if x.N > 0 {
			v.Counts = append(v.Counts, x)
		}
	}
	return &v
}

// few names some steps, or the first of many.
func few(titles []string) string {
	if n := len(titles); n > shown {
		return fmt.Sprintf("%s and %d more", titles[0], n-1)
	}
	return strings.Join(titles, "; ")
}

// group is several like things that may come between: the odds that at least one does.
type group struct {
	what                  string
	odds, minutes, weight float64
}

// grouped joins what has one name but for its corner, the heaviest first.
func grouped(all []plan.Widening) []group {
	var out []group
	for _, w := range all {
		what := w.What
		for _, c := range []string{" FL ", " FR ", " RL ", " RR "} {
			what = strings.Replace(what, c, " ", 1)
		}
		i := slices.IndexFunc(out, func(g group) bool { return g.what == what })
		if i < 0 {
			out = append(out, group{what: what, minutes: w.Minutes})
			i = len(out) - 1
		}
		out[i].odds = 1 - (1-out[i].odds)*(1-w.Odds)
		out[i].weight += w.Odds * w.Minutes
	}
	slices.SortStableFunc(out, func(a, b group) int { return cmp.Compare(b.weight, a.weight) })
	return out
}

// proof says what was proved of the plan, or what stands against it.
func (v *View) proof() {
	p := v.Job.Plan
	if p.World.Rest == nil {
		return
	}
	for _, s := range p.Steps {
		v.Wants += len(s.Wants)
	}
	laws := map[string]bool{}
	for _, l := range p.World.Laws {
		laws[l.ID] = true
	}
	v.Laws = len(laws)
	if err := p.Sound(); err != nil {
		v.Broken = err.Error()
		return
	}
	v.Proved = true
}

// stays says how long the plan leaves open what may not stay open for long; of like ones at several corners the
// longest.
func (v *View) stays(sol schedule.Solution) {
	said := map[string]bool{}
	all := v.Job.Plan.Stays(sol)
	slices.SortStableFunc(all, func(a, b plan.Stay) int { return cmp.Compare(b.Minutes, a.Minutes) })
	for _, s := range all {
		if s.Tended.Minutes == 0 || said[s.Fact.Subject] {
			continue
		}
		said[s.Fact.Subject] = true
		says := fmt.Sprintf("%s %.0f of %.0f minutes", v.Job.Plan.Names(s.Fact), s.Minutes, s.Tended.Minutes)
		if s.Long() {
			longest := v.Job.Plan.Step(s.Longest)
			if longest != nil {
				says += ", “" + longest.Title + "” lies between"
			}
			v.TooLong = append(v.TooLong, unit.Capital(says)+". "+s.Over)
			continue
		}
		v.Stays = append(v.Stays, says)
	}
}

// byStage lays the steps out by stage and side. The stage with the next step is open.
func (v *View) byStage(sol schedule.Solution) {
	next := v.Job.Next()
	for i, of := range v.Job.Plan.Stages() {
		x := stage{No: i + 1, Name: of.Name, Count: of.To - of.From}
		both, left, right := sideList{}, sideList{Name: "left"}, sideList{Name: "right"}
		for k, s := range v.Steps[of.From:of.To] {
			if k == 0 {
				x.At = draw.Hours(s.Start)
			}
			x.Open = x.Open || s.ID == next
			if s.Done {
				x.Done++
			}
			switch {
			case s.Corner == "":
				both.Steps = append(both.Steps, s)
			case s.Corner.Left():
				left.Steps = append(left.Steps, s)
			default:
				right.Steps = append(right.Steps, s)
			}
		}
		x.Sided = len(left.Steps) > 0 && len(right.Steps) > 0
		for _, l := range []sideList{both, left, right} {
			if len(l.Steps) > 0 {
				x.Lists = append(x.Lists, l)
			}
		}
		v.Stages = append(v.Stages, x)
	}
	if s := v.Job.Plan.Step(next); s != nil {
		v.First = s.Title
	}
}

// question is the first thing nobody has seen yet of how the vehicle is built; nil where all that matters to the
// plan is known.
func (x Shown) question() *build {
	var v *build
	var known []string
	open := 0
	for _, b := range x.Job.Plan.Builds {
		if b.Known {
			known = append(known, b.Question+" "+b.Answer()+".")
			continue
		}
		if open++; open == 1 {
			v = &build{BuildUsed: b, Assumed: b.Answer()}
		}
	}
	if v == nil {
		return nil
	}
	v.Of = open
	v.Known = known
	count := map[string]int{}
	for _, b := range x.Like {
		if b.Key == v.Key && b.Vehicle != x.Job.Vehicle.ID {
			count[b.Is]++
		}
	}
	var words []string
	for _, a := range v.Build.Answers {
		v.Answers = append(v.Answers, drawnAnswer{a.Key, a.Title, draw.Built(a.Shapes)})
		if n := count[a.Key]; n > 0 {
			words = append(words, fmt.Sprintf("%s (%d)", a.Title, n))
		}
	}
	v.Like = strings.Join(words, ", ")
	return v
}

// wayOut is one way of freeing what broke, as the healed plan offers it.
type wayOut struct {
	Step operation.StepID
	operation.Rescue
	InTen int // tries of ten that free it
	Taken bool
}

// waysOut are the ways of freeing what broke where its step is still to do; nothing where
// there is no choice.
func (x Shown) waysOut() []wayOut {
	for i := range x.Job.Plan.Steps {
		step := &x.Job.Plan.Steps[i]
		ways := x.Job.WaysOut(x.Library.Rescues, step)
		if len(ways) < 2 {
			continue
		}
		var out []wayOut
		for _, r := range ways {
			out = append(out, wayOut{step.ID, r, int(math.Round(10 * r.Odds)), r.Tool == step.Tool})
		}
		return out
	}
	return nil
}

// since is how far the likely end has moved since the owner was told last.
func since(all []job.Told, likely float64) string {
	if len(all) == 0 {
		return ""
	}
	more := math.Round(likely - all[len(all)-1].LikelyMin)
	if more == 0 {
		return ""
	}
	return fmt.Sprintf("%+.0f min since", more)
}
