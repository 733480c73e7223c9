package web

import (
	"html/template"
	_ "image/png" // photographs may be
	"net/url"
	"slices"
	"strings"

	"lugtak/core/diagnose"
	"lugtak/core/fault"
	"lugtak/core/inspect"
	"lugtak/core/job"
	"lugtak/core/vehicle"
	"lugtak/draw"
	"lugtak/shop"
)

type walkView struct {
	Plays     []string // what a stand-in logger can play; none is connected where empty
	Job       *job.State
	Owed      int
	Report    diagnose.Report
	Ask       *nextView // in hand; nil where nothing is left to ask
	Tests     []testView
	Suspects  []suspectView
	Last      *questionView  // answered last
	Told      []questionView // signs the words of the complaint may mean
	Clashes   []clashView
	Struck    []job.Given    // answers taken back
	Measuring *measuringView // in the question's place
	Gauged    string         // the key of what can be measured instead of the question
	Position  string
	Positions []string
	Place     string
	Map       draw.WalkPlan
	Near      []placeView // finer places at the one in hand
	Questions []questionView
	Measures  []inspect.Limit
	Lash      []inspect.LashRule
	Lining    []inspect.LiningRule
	Taken     []takenView
	Drive     template.HTML
	Compared  template.HTML // the first drive and the last
	Drives    []job.Drive
	Proposals []proposalView
	Fault     *fault.Fault
	For       string
	Typed     map[string]string
	Healthy   int
	Sure      bool // the leading suspect is as good as found
}

// At is the address of a place on the walk-round.
func (v walkView) At(place string) string {
	q := url.Values{"at": {v.Position}}
	if place != "" {
		q.Set("place", place)
	}
	return "/jobs/" + v.Job.ID + "/walk?" + q.Encode()
}

// To is the address of a test, with the place that is in hand.
func (v walkView) To(test string) string { return v.At(v.Place) + "&ask=" + url.QueryEscape(test) }

// Others is the address of the test after the one in hand, for whoever cannot tell; empty
// where there is none.
func (v walkView) Others() string {
	for i, t := range v.Tests {
		if t.Here && i+1 < len(v.Tests) {
			return v.To(v.Tests[i+1].Key)
		}
	}
	return ""
}

// placeView is a finer place at a part of the vehicle.
type placeView struct {
	Key, Name string
	Here      bool
}

// testView is a test worth doing, with what it gains a minute in five blocks.
type testView struct {
	Key, Ask string
	Minutes  float64
	Blocks   [5]bool
	Here     bool
}

// suspectView is a suspect with where the answer in hand would move it, in per cent.
type suspectView struct {
	diagnose.Weight
	Percent, Yes, No int
	Moves            bool     // an answer moves it
	For, Not         []string // what speaks for and against it, the first and shortest said
}

// reasons are the first of what was answered, without the question it was an answer to.
func reasons(all []string, most int) []string {
	var out []string
	for _, says := range all[:min(most, len(all))] {
		if _, why, yes := strings.Cut(says, "? Yes: "); yes {
			says = why
		}
		out = append(out, says)
	}
	return out
}

type questionView struct {
	diagnose.Evidence
	Answered, Yes bool
	Corners       []cornerView // where it is looked at corner by corner
}

// Says is the answer in a word: yes, no, or the corners it is so at.
func (q questionView) Says() string {
	var at []string
	for _, c := range q.Corners {
		if c.Yes {
			at = append(at, string(c.Corner))
		}
	}
	switch {
	case len(at) > 0:
		return strings.Join(at, ", ")
	case q.Yes:
		return "yes"
	}
	return "no"
}

// nextView is a test worth doing, and what it would settle.
type nextView struct {
	Q       questionView
	Settles string
}

// cornerView is a corner a test was or can be found at.
type cornerView struct {
	Corner diagnose.Corner
	Name   string
	Yes    bool
}

type takenView struct {
	job.Measurement
	Drawing template.HTML
}

// verdictWord is a verdict as one says it.
func verdictWord(verdict string) string {
	switch inspect.Verdict(verdict) {
	case inspect.OK:
		return "inside"
	case inspect.MeasureAgain:
		return "measure again"
	}
	return "beyond"
}

// stands is how the vehicle stands for a question, as one says it.
func stands(position string) string {
	switch position {
	case "drive":
		return "on the road"
	case "ground":
		return "on its wheels"
	}
	return position
}

type proposalView struct {
	diagnose.Weight
	Percent  int
	Decided  *job.Proposal
	CanPlan  bool
	Places   []vehicle.Corner // it can be replaced at
	Corner   vehicle.Corner   // of these the one the answers point to
	Measured []string
}

// finer are places of the questions, with what one calls them.
var finer = map[string]string{
	"road": "on the road", "engine": "engine bay", "steering": "steering linkage", "rack": "rack", "rod": "tie rods",
	"wheel": "wheel", "hub": "hub", "brake": "brake", "arm": "arms", "damper": "dampers", "link": "stabiliser",
	"cab": "cab", "shaft": "shafts",
}

// walkPlace is a place on the drawn vehicle with the finer ones it has.
type walkPlace struct {
	key, name string
	has       []string
}

func (p walkPlace) corner() bool { return slices.Contains(diagnose.Corners, diagnose.Corner(p.key)) }

// walkPlaces are those of every vehicle.
var walkPlaces = []walkPlace{
	{"road", "Road", []string{"road"}},
	{"engine", "Engine bay", []string{"engine"}},
	{"steering", "Steering", []string{"steering", "rack", "rod"}},
	{"cab", "Cab", []string{"cab"}},
	{"shaft", "Middle", []string{"shaft"}},
	{"FL", "FL", atCorner},
	{"FR", "FR", atCorner},
	{"RL", "RL", atCorner},
	{"RR", "RR", atCorner},
}

var atCorner = []string{"wheel", "hub", "brake", "arm", "damper", "link"}

// tests lays out the three that gain most a minute, the one asked for in hand.
func (v *walkView) tests(asked string) {
	next := diagnose.Allowed(v.Report.Next, v.Position)
	next = next[:min(3, len(next))]
	here := max(0, slices.IndexFunc(next, func(n diagnose.Next) bool { return n.Key == asked }))
	for i, n := range next {
		t := testView{Key: n.Key, Ask: n.Ask, Minutes: n.Minutes, Here: i == here}
		for b := range t.Blocks {
			t.Blocks[b] = b == 0 || n.PerMinute >= float64(b+1)/5.5*next[0].PerMinute
		}
		v.Tests = append(v.Tests, t)
		if t.Here {
			v.Ask = &nextView{answered(n.Evidence, v.Job), n.Settles}
		}
	}
	if asked == "" && v.Job.Failed() != nil && len(v.Told) > 0 {
		v.Ask = &nextView{v.Told[0], "what the drive showed"}
	}
}

// Said is what signs are looked for in.
func (v walkView) Said() string { return wordsOf(v.Job) }

// told lays out the signs that the complaint names, or the drive that failed, and nobody has
// answered since.
func (v *walkView) told(k *diagnose.Knowledge) {
	failed := v.Job.Failed()
	for _, key := range k.Complaint(wordsOf(v.Job)) {
		for _, e := range k.Evidence {
			q := answered(e, v.Job)
			if e.Key == key && (!q.Answered || failed != nil && !v.Job.AnsweredSince(key, failed)) {
				v.Told = append(v.Told, q)
			}
		}
	}
}

// leading is how many suspects stand in sight, and moved the change in per cent points from
// which an answer is said to move one.
const (
	leading = 3
	moved   = 2
)

// suspects lays out the leading ones, with where a yes and a no to the test in hand would
// move them.
func (s *Server) suspects(v *walkView, w shop.Weighed) error {
	yes, no := v.Report, v.Report
	if v.Ask != nil {
		var err error
		if yes, no, err = s.Shop.Library().Signs.Ahead(v.Report, v.Ask.Q.Key, w.Answers, w.History); err != nil {
			return err
		}
	}
	percent := func(chance float64) int { return int(100*chance + 0.5) }
	for _, w := range v.Report.Suspects[:min(leading, len(v.Report.Suspects))] {
		x := suspectView{Weight: w, Percent: percent(w.Chance)}
		x.Yes, x.No = percent(yes.Chance(w.Key)), percent(no.Chance(w.Key))
		x.For, x.Not = reasons(w.Because, 2), reasons(w.Against, 1)
		x.Moves = v.Ask != nil && max(x.Yes, x.Percent, x.No)-min(x.Yes, x.Percent, x.No) >= moved
		v.Suspects = append(v.Suspects, x)
	}
	return nil
}

// clashView is two answers that cannot both be, side by side.
type clashView [2]clashing

// clashing is one of two answers that cannot both be.
type clashing struct {
	job.Given
	Position string
}

// Word is the answer in a word.
func (x clashing) Word() string {
	switch {
	case x.Yes && x.Corner != "":
		return "yes, " + x.Corner
	case x.Yes:
		return "yes"
	}
	return "no"
}

// Why is the likely reason that the two do not agree.
func (v clashView) Why() string {
	a, b := v[0], v[1]
	switch {
	case a.By != b.By:
		return "Two people looked: look together."
	case a.Position != b.Position:
		return "The vehicle stood otherwise: " + stands(a.Position) + " the first time, " + stands(
			b.Position) + " the second."
	case a.Sign == b.Sign:
		return "Found at a corner, and nowhere: one of them was a slip."
	}
	return "The same hand, the vehicle alike: one of them was a slip."
}

// clashes lays out the answers that cannot both be.
func (v *walkView) clashes(k *diagnose.Knowledge) {
	side := func(a diagnose.Answer) clashing {
		x := clashing{Given: v.Job.Walk.Given[job.AnswerKey(a.Key, string(a.Corner))]}
		for _, e := range k.Evidence {
			if e.Key == a.Key {
				x.Sign, x.Ask, x.Position = e.Key, e.Ask, e.Position
			}
		}
		x.Yes, x.Corner = a.Yes, string(a.Corner)
		return x
	}
	for _, c := range v.Report.Clashes {
		v.Clashes = append(v.Clashes, clashView{side(c.First), side(c.Second)})
	}
	v.Struck = v.Job.Walk.Struck
}

// measuringView is a measurement that has taken the question's place.
type measuringView struct {
	inspect.Limit
	Others []inspect.Limit // to measure at the same place
	Taken  []takenView     // of it so far, the newest first: one side beside the other
}

// measuring puts a measurement in the question's place: the one asked for, else it says which
// would answer the question in hand, or is at the place in hand.
func (s *Server) measuring(v *walkView, key string) {
	for _, l := range s.Shop.Library().Limits.Measures {
		answers := v.Ask != nil && l.Sign == v.Ask.Q.Key
		if answers || v.Gauged == "" && l.Place == v.Place {
			v.Gauged = l.Key
		}
	}
	l, ok := s.Shop.Library().Limits.Measure(key)
	if !ok {
		return
	}
	v.Measuring = &measuringView{Limit: l}
	for _, l := range s.Shop.Library().Limits.Measures {
		if l.Place == v.Measuring.Place && l.Key != key {
			v.Measuring.Others = append(v.Measuring.Others, l)
		}
	}
	for _, m := range slices.Backward(v.Job.Walk.Measured) {
		if m.Key == key && len(v.Measuring.Taken) < 2 {
			v.Measuring.Taken = append(v.Measuring.Taken, takenView{m, draw.MeasureBar(m)})
		}
	}
}

// Measure is the address with a measurement in the question's place.
func (v walkView) Measure(key string) string {
	return v.At(v.Place) + "&measure=" + url.QueryEscape(key)
}

// Open is how many proposals are still to be decided.
func (v walkView) Open() (n int) {
	for _, p := range v.Proposals {
		if p.Decided == nil {
			n++
		}
	}
	return n
}

// Plans says that something proposed can be planned.
func (v walkView) Plans() bool {
	return slices.ContainsFunc(v.Proposals, func(p proposalView) bool { return p.Decided == nil && p.CanPlan })
}

// placed draws the places, each with what is left to try there and its suspicion.
func (s *Server) placed(v *walkView) {
	var places []draw.WalkPlace
	for _, x := range walkPlaces {
		p := draw.WalkPlace{Key: x.key, Name: x.name, Corner: x.corner()}
		p.Here = v.Place == x.key || !p.Corner && slices.Contains(x.has, v.Place)
		for _, e := range s.Shop.Library().Signs.Evidence {
			if slices.Contains(x.has, e.Place) && !answered(e, v.Job).Answered && follows(e, v.Job) {
				p.Open++
			}
		}
		for _, w := range v.Report.Suspects {
			if w.Where == x.key || p.Corner && w.Where == vehicle.Corner(x.key).Side() {
				p.Chance = max(p.Chance, w.Chance)
			}
		}
		places = append(places, p)
		if (v.Place == x.key || slices.Contains(x.has, v.Place)) && len(x.has) > 1 && v.Near == nil {
			for _, key := range x.has {
				v.Near = append(v.Near, placeView{key, finer[key], key == v.Place})
			}
		}
	}
	v.Map = draw.Walk(places)
}

// shows says that the questions of a finer place stand on the page: it is in hand, or the
// whole part of the vehicle is.
func (v *walkView) shows(finer string) bool {
	if v.Place == finer {
		return true
	}
	return slices.ContainsFunc(walkPlaces, func(x walkPlace) bool {
		return x.key == v.Place && x.corner() && slices.Contains(x.has, finer)
	})
}
