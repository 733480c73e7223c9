// Package walk is the page of the walk-round: the test that gains most, what is suspected and why, and what is
// proposed.
package walk

import (
	"embed"
	"html/template"
	"lugtak/core/diagnose"
	"lugtak/core/fault"
	"lugtak/core/inspect"
	"lugtak/core/job"
	"lugtak/core/plan"
	"lugtak/draw"
	"lugtak/library"
	"lugtak/pages/kit"
	"net/url"
	"slices"
	"strings"
)

//go:embed *.html *.css
var files embed.FS

var pages = kit.NewSet(files, template.FuncMap{
	"corners":  func() []diagnose.Corner { return diagnose.Corners },
	"atcorner": func(place string) bool { return slices.Contains(cornerPlaces, place) },
	"stands":   stands,
	"finer":    func(place string) string { return finer[place] },
	"upper":    strings.ToUpper,
	"share":    func(percent int) float64 { return 2.5 * float64(percent) }, // of a bar of 250
})

// Shown is what the page is made from.
type Shown struct {
	Job     *job.State
	Library *library.Library
	Weighed diagnose.Weighed
	Offers  []plan.Task // on the vehicle's sheet
	Plays   []string    // what a stand-in logger can play; empty where none is connected
	At      string      // how the vehicle stands
	Place   string      // in hand
	Ask     string      // the test that is asked for
	Measure string      // what is measured in its place
	Fault   *fault.Fault
	For     string
	Typed   map[string]string
}

// Page is the walk-round as it stands.
func Page(x Shown) (kit.Page, error) {
	st, k := x.Job, &x.Weighed.Know
	v := View{
		Plays:     x.Plays,
		Job:       st,
		Owed:      len(st.Owed()),
		Positions: diagnose.Positions,
		Position:  x.At,
		Place:     x.Place,
		Report:    x.Weighed.Report,
		Lash:      x.Library.Limits.Lash,
		Lining:    x.Library.Limits.Lining,
		Fault:     x.Fault,
		For:       x.For,
		Typed:     x.Typed,
	}
	v.Sure = v.Report.Suspects[0].Chance >= diagnose.Sure
	v.Healthy = int(100*v.Report.Healthy + 0.5)
	if !slices.Contains(diagnose.Positions, v.Position) {
		v.Position = "ground"
	}
	v.told(k)
	v.phrases(k)
	v.tests(x.Ask)
	if v.clashes(k); len(v.Clashes) > 0 {
		v.Ask = nil // they are settled first
	}
	if err := v.suspects(k, x.Weighed); err != nil {
		return kit.Page{}, err
	}
	v.placed(k)
	v.measuring(x.Library.Limits, x.Measure)
	v.questions(k)
	for _, l := range x.Library.Limits.Measures {
		if l.Place == v.Place && !l.OfMark() {
			v.Measures = append(v.Measures, l)
		}
	}
	v.recorded()
	v.Proposals = v.proposals(&x.Weighed, x.Offers)
	return pages.Page("walk", "Walk-round", v), nil
}

// questions lays out what was answered last, and what is asked at the place in hand.
func (v *View) questions(k *diagnose.Knowledge) {
	st := v.Job
	if n := len(st.Walk.Asked); n > 0 {
		sign, _ := job.AnswerOf(st.Walk.Asked[n-1])
		if i := slices.IndexFunc(k.Evidence, func(e diagnose.Evidence) bool { return e.Key == sign }); i >= 0 {
			q := answered(k.Evidence[i], st)
			v.Last = &q
		}
	}
	for _, e := range k.Evidence {
		q := answered(e, st)
		here := v.shows(e.Place) && (q.Answered || follows(e, st))
		if v.Place == "" && q.Answered || here {
			v.Questions = append(v.Questions, q)
		}
	}
}

// answered is a sign or test with what was answered to it.
func answered(e diagnose.Evidence, st *job.State) question {
	q := question{Evidence: e}
	q.Yes, q.Answered = st.Walk.Answers[e.Key]
	if !e.Corner {
		return q
	}
	for _, c := range diagnose.Corners {
		yes, ok := st.Walk.Answers[job.AnswerKey(e.Key, string(c))]
		q.Answered = q.Answered || ok
		q.Corners = append(q.Corners, corner{c, cornerNames[c], yes})
	}
	return q
}

// cornerNames are the corners in words.
var cornerNames = map[diagnose.Corner]string{
	"FL": "front left",
	"FR": "front right",
	"RL": "rear left",
	"RR": "rear right",
}

// follows says that what a question comes after was answered yes, somewhere.
func follows(e diagnose.Evidence, st *job.State) bool {
	if e.After == "" || st.Walk.Answers[e.After] {
		return true
	}
	return slices.ContainsFunc(diagnose.Corners, func(c diagnose.Corner) bool {
		return st.Walk.Answers[job.AnswerKey(e.After, string(c))]
	})
}

// View is a walk-round at one place of the vehicle: what is asked there, and the suspects as they stand.
type View struct {
	Plays     []string // what a stand-in logger can play; none is connected where empty
	Job       *job.State
	Owed      int
	Report    diagnose.Report
	Ask       *nextTest // in hand; nil where nothing is left to ask
	Tests     []test
	Suspects  []suspect
	Last      *question  // answered last
	Told      []question // signs the words of the complaint may mean
	Phrases   []phrase   // of the complaint, each with what it may mean
	Untold    string     // what it and the answers leave open of where it is
	Clashes   []clash
	Struck    []job.Given  // answers taken back
	Measuring *measurement // in the question's place
	Gauged    string       // the key of what can be measured instead of the question
	Position  string
	Positions []string
	Place     string
	Map       draw.WalkPlan
	Near      []nearPlace // finer places at the one in hand
	Questions []question
	Measures  []inspect.Limit
	Lash      []inspect.LashRule
	Lining    []inspect.LiningRule
	Taken     []taken
	Drive     template.HTML
	Compared  template.HTML // the first drive and the last
	Drives    []job.Drive
	Proposals []proposal
	Fault     *fault.Fault
	For       string
	Typed     map[string]string
	Healthy   int
	Sure      bool // the leading suspect is as good as found
}

// At is the address of a place on the walk-round.
func (v View) At(place string) string {
	q := url.Values{"at": {v.Position}}
	if place != "" {
		q.Set("place", place)
	}
	return "/jobs/" + v.Job.ID + "/walk?" + q.Encode()
}

// To is the address of a test, with the place that is in hand.
func (v View) To(test string) string { return v.At(v.Place) + "&ask=" + url.QueryEscape(test) }

// Others is the address of the test after the one in hand, for whoever cannot tell; empty
// where there is none.
func (v View) Others() string {
	for i, t := range v.Tests {
		if t.Here && i+1 < len(v.Tests) {
			return v.To(v.Tests[i+1].Key)
		}
	}
	return ""
}

// test is a test worth doing, with what it gains a minute in five blocks.
type test struct {
	Key, Ask string
	Minutes  float64
	Blocks   [5]bool
	Here     bool
}

type question struct {
	diagnose.Evidence
	Answered, Yes bool
	Corners       []corner // where it is looked at corner by corner
}

// Says is the answer in a word: yes, no, or the corners it is so at.
func (q question) Says() string {
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

// nextTest is a test worth doing, and what it would settle.
type nextTest struct {
	Q       question
	Settles string
}

// corner is a corner a test was or can be found at.
type corner struct {
	Corner diagnose.Corner
	Name   string
	Yes    bool
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

// tests lays out the first three, the one asked for in hand.
func (v *View) tests(asked string) {
	next := diagnose.Allowed(v.Report.Next, v.Position)
	next = next[:min(3, len(next))]
	here := max(0, slices.IndexFunc(next, func(n diagnose.Next) bool { return n.Key == asked }))
	for i, n := range next {
		t := test{Key: n.Key, Ask: n.Ask, Minutes: n.Minutes, Here: i == here}
		for b := range t.Blocks {
			t.Blocks[b] = b == 0 || n.PerMinute >= float64(b+1)/5.5*next[0].PerMinute
		}
		v.Tests = append(v.Tests, t)
		if t.Here {
			v.Ask = &nextTest{answered(n.Evidence, v.Job), n.Settles}
		}
	}
	if asked == "" && v.Job.Failed() != nil && len(v.Told) > 0 {
		v.Ask = &nextTest{v.Told[0], "what the drive showed"}
	}
}

// phrase is a part of a complaint over what it may mean, and what became of that.
type phrase struct {
	diagnose.Phrase
	Answered, Yes bool
}

// phrases lays out the complaint, or what a drive that failed has shown.
func (v *View) phrases(k *diagnose.Knowledge) {
	for _, p := range k.Phrases(v.Job.Said()) {
		x := phrase{Phrase: p}
		if i := slices.IndexFunc(k.Evidence, func(e diagnose.Evidence) bool { return e.Key == p.Sign }); i >= 0 {
			q := answered(k.Evidence[i], v.Job)
			x.Answered, x.Yes = q.Answered, q.Yes || slices.ContainsFunc(q.Corners, func(c corner) bool { return c.Yes })
		}
		v.Phrases = append(v.Phrases, x)
	}
	seen := ""
	if all := v.Report.Suspects; len(all) > 0 {
		seen = all[0].Where
	}
	v.Untold = diagnose.Untold(v.Job.Said(), seen)
}

// Said is what signs are looked for in.
func (v View) Said() string { return v.Job.Said() }

// told lays out the signs that the complaint names, or the drive that failed, and nobody has
// answered since.
func (v *View) told(k *diagnose.Knowledge) {
	failed := v.Job.Failed()
	for _, key := range k.Complaint(v.Job.Said()) {
		for _, e := range k.Evidence {
			q := answered(e, v.Job)
			if e.Key == key && (!q.Answered || failed != nil && !v.Job.AnsweredSince(key, failed)) {
				v.Told = append(v.Told, q)
			}
		}
	}
}
