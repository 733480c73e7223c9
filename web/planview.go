package web

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/job"
	"lugtak/core/plan"
	"lugtak/core/schedule"
	"lugtak/core/unit"
	"lugtak/draw"
)

// widening is one thing that may make the job longer, as the rail says it.
type widening struct {
	What, Odds, Minutes, Class string
}

// planStage is a stage of the work with its steps by side.
type planStage struct {
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
	Steps []planStep
}

// buildView is a question of how the vehicle is built, with its drawn answers.
type buildView struct {
	plan.BuildUsed
	Of      int
	Like    string   // what others of its kind were found to be
	Known   []string // what was seen of this one
	Assumed string
	Answers []answerView
}

type answerView struct {
	Key, Title string
	Drawn      []draw.Line
}

// shown is how many of the things that widen a job are named one by one.
const shown = 3

// railWidth is how wide the bar of the range is drawn.
const railWidth = 330.0

// howLong reckons the range of the job and what makes it wide.
func (s *Server) howLong(v *planView) {
	shop := s.Shop.Library().Shop
	e := plan.Expect{SeizedOdds: shop.SeizedOdds, SeizedMin: shop.SeizedMin}
	for _, p := range v.Job.Plan.Parts {
		if v.Job.Parts[p.Key] == job.Ordered {
			e.Late = append(e.Late, plan.Widening{What: p.Title + " late", Odds: shop.LateOdds, Minutes: shop.LateMin})
		}
	}
	v.Range = v.Job.Plan.Reckon(v.Total, e)
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
	s.price(v)
	if n := len(groups) - shown; n > 0 {
		v.Widest = append(v.Widest, widening{What: fmt.Sprintf("%d more", n), Odds: "less likely", Class: "w4"})
	}
}

// changedView is the last time the plan was made anew, with what that did to it.
type changedView struct {
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

func changed(all []job.Replanning) *changedView {
	n := len(all) - 1
	if n < 0 {
		return nil
	}
	c := all[n].Change
	v := changedView{Replanning: all[n], Before: all[:n]}
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

// priceView is what the work costs by the shop's own list, as a range.
type priceView struct {
	Low, High     float64
	Labour, Parts float64
	Currency      string
	Unpriced      int // parts the list does not know
}

// price reckons labour by the range of the time and parts by the shop's list; what is
// used up or comes with a bolt is in the rate.
func (s *Server) price(v *planView) {
	shop := s.Shop.Library().Shop
	v.Price = priceView{Currency: shop.Currency, Labour: v.Range.Likely / 60 * shop.RatePerHour}
	for _, p := range v.Job.Plan.Parts {
		key, _, _ := strings.Cut(p.Key, ".")
		price, known := shop.Prices[key]
		switch {
		case known:
			v.Price.Parts += price * float64(p.Count)
		case p.Kind != "":
			v.Price.Unpriced++
		}
	}
	v.Price.Low = v.Range.Low/60*shop.RatePerHour + v.Price.Parts
	v.Price.High = v.Range.High/60*shop.RatePerHour + v.Price.Parts
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
func (v *planView) proof() {
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

// byStage lays the steps out by stage and side. The stage with the next step is open.
func (v *planView) byStage(sol schedule.Solution) {
	next := v.Job.Next()
	for i, stage := range v.Job.Plan.Stages() {
		x := planStage{No: i + 1, Name: stage.Name, Count: stage.To - stage.From}
		both, left, right := sideList{}, sideList{Name: "left"}, sideList{Name: "right"}
		for k, s := range v.Steps[stage.From:stage.To] {
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

// question is the first thing nobody has seen yet of how the vehicle is built; nil where
// all that matters to the plan is known.
func (s *Server) question(c fiber.Ctx, st *job.State) (*buildView, error) {
	var v *buildView
	var known []string
	open := 0
	for _, b := range st.Plan.Builds {
		if b.Known {
			known = append(known, b.Question+" "+b.Answer()+".")
			continue
		}
		if open++; open == 1 {
			v = &buildView{BuildUsed: b, Assumed: b.Answer()}
		}
	}
	if v == nil {
		return nil, nil
	}
	v.Of = open
	v.Known = known
	for _, a := range v.Build.Answers {
		v.Answers = append(v.Answers, answerView{a.Key, a.Title, draw.Built(a.Shapes)})
	}
	like, err := s.Shop.BuiltLike(c.Context(), st.Vehicle.Pattern)
	count := map[string]int{}
	for _, b := range like {
		if b.Key == v.Key && b.Vehicle != st.Vehicle.ID {
			count[b.Is]++
		}
	}
	var words []string
	for _, a := range v.Build.Answers {
		if n := count[a.Key]; n > 0 {
			words = append(words, fmt.Sprintf("%s (%d)", a.Title, n))
		}
	}
	v.Like = strings.Join(words, ", ")
	return v, err
}
