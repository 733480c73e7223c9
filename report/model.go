package report

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	"lugtak/core/inspect"
	"lugtak/core/job"
	"lugtak/core/plan"
	"lugtak/core/record"
	"lugtak/core/unit"
	"lugtak/core/wrench"
)

// Source is what a report is made from.
type Source struct {
	Shop    string // its name, and where an owner calls
	Contact string
	State   *job.State
	Tools   []wrench.Tool // of the crib, as they stand
	Photos  map[string][]byte
	Hash    string // of the last event
	Key     string // fingerprint of the shop's key
	FileAt  string // head of the shop's file with that event
	Record  []byte // the job's file, which goes along with the paper
}

// Report is what three readers are told: the owner, an inspector, and whoever checks that
// the paper is true. Page and paper are made from it.
type Report struct {
	Source
	Title    string
	Verdict  string
	Barred   bool // it must not be driven: not signed, or the record does not hold
	Whole    bool // all is proved; else something leaves by signed deviation, or does not leave
	Says     string
	StopIf   []string
	Found    []string
	How      []string
	Measures []Measure
	Done     []string
	Declined []string
	Seen     []Seen
	Due      []DueLine
	Signed   []string

	Head   string
	Joints []JointBlock
	Tools  []ToolLine
	Notes  []Note
	Driven []string
	Gates  string // how many were met, and which were passed over
}

// Measure is what was measured at one place: as it was found, and as it is now.
type Measure struct {
	What, Where string
	Found, Now  *float64
	Limit       float64
	Least       bool
	Floor       float64 // it may not be less either
	Unit        string
	Source      string
	Comes       string // kept, mended, watch, at its limit, beyond its limit, no limit known
}

// LimitSays is the limit in words.
func (m Measure) LimitSays() string {
	return inspect.Limit{Least: m.Least, Floor: m.Floor, Value: m.Limit, Unit: m.Unit}.Says()
}

// Bar is a measure drawn beside its limit, in per cent of the whole.
type Bar struct{ Now, Limit float64 }

// Share is how a measure stands to its limit as a bar; nil where one of both is not known.
func (m Measure) Share() *Bar {
	now := cmp.Or(m.Now, m.Found)
	if now == nil || !(m.Limit > 0) || !(*now >= 0) {
		return nil
	}
	whole := 1.25 * max(*now, m.Limit) / 100
	return &Bar{*now / whole, m.Limit / whole}
}

// Seen is something beside the work, for the owner to decide.
type Seen struct {
	Text  string
	Photo []byte // JPEG; nil where none was taken
}

// DueLine is what is owed after the vehicle has left.
type DueLine struct{ When, What, Why string }

// JointBlock is a joint with its fasteners, as an inspector reads it.
type JointBlock struct {
	Title  string
	About  []string // hardware, condition, source
	Recipe []string // in both units
	Window []string // of each stage with a figure
	Drive  string
	Rows   []FastenerRow
}

// FastenerRow is one fastener with what it was proved by.
type FastenerRow struct {
	Letter, Evidence, Tool, By string
	Mark                       job.Mark
	Readings                   []string
}

// ToolLine is a tool that was used, with its calibration.
type ToolLine struct{ Name, Kind, Range, Calibrated, Until, Pulls, State string }

// Note is a numbered remark of the inspector's page.
type Note struct{ Title, Text string }

// stopIf is what a driver stops for, by the systems that were worked on (common practice).
var stopIf = map[string][]string{
	"brake":      {"the brake pedal goes low or soft", "a brake or ABS lamp comes on", "it smells or smokes at a wheel"},
	"hub":        {"a hum rises with speed, or a wheel knocks"},
	"wheel":      {"a wheel shakes or knocks"},
	"steering":   {"the steering pulls, sticks or shakes"},
	"suspension": {"it knocks over bumps or leans"},
	"driveline":  {"it clicks or bangs when pulling away"},
}

// systems in the order they are told.
var systems = []string{"hub", "wheel", "brake", "steering", "suspension", "driveline"}

// New puts a report together. It decides nothing: what it says stands in the state.
func New(src Source) *Report {
	st := src.State
	r := &Report{Source: src, Title: st.Title()}
	r.verdict()
	for _, s := range systems {
		if slices.ContainsFunc(st.Plan.Joints, func(j plan.Joint) bool { return j.System == s }) {
			r.StopIf = append(r.StopIf, stopIf[s]...)
		}
	}
	r.findings()
	r.measures()
	r.work()
	r.due()
	r.signatures()
	r.joints()
	r.tools()
	r.notes()
	return r
}

// verdict is the worst that is true, first whether it may be driven at all.
func (r *Report) verdict() {
	st := r.State
	a := st.Account()
	r.Head = count(a.Opened(), "fastener") + " touched"
	if a.Opened() > 0 {
		r.Head += ": " + a.Says()
	}
	owed := a.Count(job.GradeOwed)
	signedFor := len(st.Deviations) > 0 || a.Count(job.GradeNotMeasured, job.GradeDeviating) > 0 || len(st.LeftOut()) > 0
	r.Barred = st.Signature == nil || st.Broken != "" || owed > 0
	switch {
	case st.Broken != "":
		r.Verdict = "Must not be driven"
		r.Says = st.Broken + ". Nothing here proves the work. "
	case st.Signature == nil:
		r.Verdict = "Must not be driven"
		r.Says = "The work is not signed. "
	case owed > 0:
		r.Verdict = "Must not be driven"
	case len(st.DeclinedSafety()) > 0:
		r.Verdict = "Not safe as it leaves"
		r.Says = "What was found unsafe and declined stands below. "
	case signedFor:
		r.Verdict = "May be driven, with what is signed for"
	default:
		r.Verdict = "May be driven"
		r.Whole = len(st.Hasty) == 0
	}
	r.Says += accounted(a)
	if n := len(st.LeftOut()); n > 0 {
		r.Says += fmt.Sprintf(" Of the road test %s not driven.", were(n, "manoeuvre"))
	}
	if n := len(st.Hasty); n > 0 {
		r.Says += fmt.Sprintf(" %s kept quicker than hands are.", unit.Capital(were(n, "act")))
	}
	for _, f := range st.FollowUps() {
		if f.Kind == "wheel" && f.KM > 0 {
			r.Says += fmt.Sprintf(" Come back within %s for the wheel fasteners.", unit.Kilometres(f.KM))
			break
		}
	}
}

// accounted says in a sentence what became of what was opened. It says “all” by no word of its
// own: the counts do.
func accounted(a job.Account) string {
	if a.Opened() == 0 {
		return ""
	}
	says := fmt.Sprintf("Of %s opened, %d %s tightened to a known figure", count(a.Opened(), "fastener"), a.Figured(),
		isOrAre(a.Figured()))
	for _, x := range []struct {
		grade job.Grade
		says  string
	}{
		{job.GradeByHand, "by hand, as asked"},
		{job.GradeNotMeasured, "not measured"},
		{job.GradeDeviating, "left by a signed deviation"},
		{job.GradeOwed, "still owed"},
	} {
		if n := a.Count(x.grade); n > 0 {
			says += fmt.Sprintf("; %d %s", n, x.says)
		}
	}
	return says + "."
}

// isOrAre is the verb of so many that are done with.
func isOrAre(n int) string {
	if n == 1 {
		return "was"
	}
	return "were"
}

func were(n int, one string) string { return count(n, one) + " " + isOrAre(n) }

func was(n int, one string) string {
	if n == 1 {
		return count(n, one) + " was"
	}
	return count(n, one) + " were"
}

func count(n int, one string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %ss", n, one)
}

func (r *Report) findings() {
	w := r.State.Walk
	for _, p := range w.Proposals {
		says := unit.Capital(p.Name)
		if p.Side != "" {
			says += ", " + p.Side
		}
		if p.Accept {
			r.Found = append(r.Found, says)
			continue
		}
		if p.Safety {
			says += " (unsafe to leave)"
		}
		r.Declined = append(r.Declined, says+": “"+p.Reason+"”")
	}
	for _, key := range w.Asked {
		if g, ok := w.Given[key]; ok && g.Yes {
			at := ""
			if g.Corner != "" {
				at = g.Corner + ": "
			}
			r.How = append(r.How, at+g.Ask+" Yes.")
		}
	}
	for _, f := range r.State.Findings {
		r.Seen = append(r.Seen, Seen{f.Says(), r.Photos[f.ID]})
	}
	if f := r.State.Failed(); f != nil {
		for _, x := range f.Felt {
			if x.Found == job.FeltWrong {
				r.Found = append(r.Found, "On the road, "+x.Do+": "+x.Note)
			}
		}
	}
}

// measures puts what was taken at one place together: the last of the walk-round is what was
// found, the last of the bench is what it is now.
func (r *Report) measures() {
	type taken struct{ found, now *job.Measurement }
	at := map[string]*taken{}
	var order []*taken
	for i := range r.State.Walk.Measured {
		m := &r.State.Walk.Measured[i]
		key := m.Key + "@" + m.Corner
		x := at[key]
		if x == nil {
			x = &taken{}
			at[key] = x
			order = append(order, x)
		}
		if m.Step == "" {
			x.found = m
		} else {
			x.now = m
		}
	}
	for _, x := range order {
		r.Measures = append(r.Measures, measure(x.found, x.now))
	}
}

// measure is a place that was measured before the work, after it, or both.
func measure(found, now *job.Measurement) Measure {
	good := func(m *job.Measurement) bool { return m != nil && m.Verdict == string(inspect.OK) }
	last := cmp.Or(now, found)
	m := Measure{
		What:   unit.Capital(last.Name),
		Where:  strings.TrimSpace(last.Corner + " " + last.Place),
		Limit:  last.Limit,
		Least:  last.Least,
		Floor:  last.Floor,
		Unit:   last.Unit,
		Source: last.Source,
	}
	if found != nil {
		m.Found = &found.Value
	}
	if now != nil {
		m.Now = &now.Value
	}
	switch {
	case now == nil && good(found):
		m.Found, m.Now, m.Comes = nil, m.Found, "kept"
	case now == nil && found.Verdict == string(inspect.MeasureAgain):
		m.Comes = "at its limit"
	case now == nil && found.Verdict == string(inspect.NoLimit):
		m.Comes = "no limit known"
	case now == nil:
		m.Comes = "beyond its limit"
	case !good(now):
		m.Comes = "watch"
	case found != nil && !good(found):
		m.Comes = "mended"
	default:
		m.Comes = "kept"
	}
	return m
}

func (r *Report) work() {
	st := r.State
	for _, t := range strings.Split(st.Plan.Title, " · ") {
		if t != "" {
			r.Done = append(r.Done, t)
		}
	}
	renewed := map[string]int{}
	for _, f := range st.Fasteners {
		if f.Renewed {
			renewed[st.Plan.Joint(f.Joint).Title]++
		}
	}
	var fresh []string
	for _, j := range st.Plan.Joints {
		if n := renewed[j.Title]; n > 0 {
			fresh = append(fresh, fmt.Sprintf("%d %s", n, j.Title))
			delete(renewed, j.Title)
		}
	}
	if free := st.Plan.Free; free != nil {
		for i, a := range free.Acts {
			fitted := slices.ContainsFunc(st.Plan.Steps, func(x plan.Step) bool {
				return free.Of(x.ID, i) && x.Part != "" && st.StepDone(x.ID)
			})
			if fitted {
				fresh = append(fresh, "1 "+a.Title)
			}
		}
	}
	if len(fresh) > 0 {
		r.Done = append(r.Done, "New: "+strings.Join(fresh, ", "))
	}
	for _, f := range st.Fluids {
		r.Done = append(r.Done,
			fmt.Sprintf("%s: %s out, %s in, %s", unit.Capital(f.Fluid), unit.Volume(f.OutMl), unit.Volume(f.InMl), f.Spec))
	}
	if n := len(st.Told); n > 0 {
		t := st.Told[n-1]
		r.Done = append(r.Done, fmt.Sprintf("Time: told %s to %s, taken %s of hands' work",
			unit.HoursMinutes(t.LowMin), unit.HoursMinutes(t.HighMin), unit.HoursMinutes(st.WorkMin())))
	}
}

// why says what a follow-up is owed for.
var why = map[string]string{
	"wheel":        "always after a wheel was off",
	"not_measured": "done by hand, without a figure",
	"alignment":    "something that sets it was opened",
	"advice":       "advised today",
}

func (r *Report) due() {
	dues := r.State.Dues()
	if r.State.Signature == nil {
		for _, f := range r.State.FollowUps() {
			dues = append(dues, job.Due{FollowUp: f})
		}
	}
	for _, d := range dues {
		var when []string
		if d.AtKM > 0 {
			when = append(when, unit.Kilometres(d.AtKM))
		}
		if !d.At.IsZero() {
			when = append(when, day(d.At))
		}
		line := DueLine{strings.Join(when, " or "), unit.Capital(d.Title), why[d.Kind]}
		if d.Closed != nil {
			line.When, line.Why = "done", d.Closed.Found
		}
		r.Due = append(r.Due, line)
	}
}

func day(t time.Time) string     { return t.Format("2 Jan 2006") }
func instant(t time.Time) string { return t.Format("2 Jan 2006, 15:04") }

func (r *Report) signatures() {
	st := r.State
	if s := st.Signature; s != nil {
		r.Signed = append(r.Signed, fmt.Sprintf("%s (%s), %s", s.By, s.Role, instant(s.At)))
	}
	for _, d := range st.Deviations {
		if d.Second != "" {
			r.Signed = append(r.Signed, d.Second+", second for a deviation, "+instant(d.At))
		}
	}
	for _, x := range st.Reopenings {
		r.Signed = append(r.Signed,
			fmt.Sprintf("Reopened by %s, %s: “%s”; before that signed by %s", x.By, instant(x.At), x.Reason, x.SignedBy))
	}
	var gates []record.Gate
	if st.Signature != nil {
		gates = st.Signature.Gates
	}
	met := 0
	var passed []string
	for _, g := range gates {
		if g.Met {
			met++
		} else {
			passed = append(passed, g.Title+" ("+g.Passed+")")
		}
	}
	switch {
	case st.Signature == nil:
		r.Gates = "Not signed."
	case len(passed) == 0:
		r.Gates = fmt.Sprintf("Signed after %d gates, all met.", met)
	default:
		r.Gates = fmt.Sprintf("Signed after %d gates: %d met, %d passed by name: %s.", len(gates), met,
			len(passed), strings.Join(passed, "; "))
	}
}

// Caution is what stands on every report.
func (r *Report) Caution() string { return Caution }

// Simulated says that a stand-in made some of the record.
func (r *Report) Simulated() bool { return r.State.Simulated() }
