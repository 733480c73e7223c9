package report

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"lugtak/core/inspect"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/pull"
	"lugtak/core/recipe"
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
}

// Report is what three readers are told: the owner, an inspector, and whoever checks that
// the paper is true. Page and paper are made from it.
type Report struct {
	Source
	Title    string
	Verdict  string
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
	Unit        string
	Source      string
	Comes       string // mended, kept, watch
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

// opened are the fasteners that were touched, by whether they were tightened to a figure.
func opened(st *job.State) (all, measured, unmeasured int) {
	for _, f := range st.Fasteners {
		if f.Phase == job.Rest {
			continue
		}
		all++
		switch f.Mark() {
		case job.Proved, job.Clicked, job.Turned:
			measured++
		case job.Unmeasured:
			unmeasured++
		}
	}
	return all, measured, unmeasured
}

func (r *Report) verdict() {
	st := r.State
	all, measured, by := opened(st)
	owed := len(st.Owed())
	r.Head = fmt.Sprintf("%s touched: %d measured, %d not measured, %d owed", count(all, "fastener"), measured, by, owed)
	switch {
	case st.Signature == nil:
		r.Verdict = "Must not be driven"
		r.Says = "The work is not signed. "
	case len(st.Deviations) > 0 || by > 0:
		r.Verdict = "May be driven, with what is signed for"
	default:
		r.Verdict = "May be driven"
		r.Whole = true
	}
	if all > 0 {
		r.Says += fmt.Sprintf("Of %s opened, %d were tightened to a known figure", count(all, "fastener"), measured)
		if by > 0 {
			r.Says += fmt.Sprintf("; %d by hand, without one", by)
		}
		if owed > 0 {
			r.Says += fmt.Sprintf("; %d are still owed", owed)
		}
		r.Says += "."
	}
	for _, f := range st.FollowUps() {
		if f.Kind == "wheel" && f.KM > 0 {
			r.Says += fmt.Sprintf(" Come back within %d km for the wheel fasteners.", f.KM)
			break
		}
	}
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

func (r *Report) measures() {
	at := map[string]int{}
	for _, m := range r.State.Walk.Measured {
		key := m.Key + "@" + m.Corner
		i, ok := at[key]
		if !ok {
			i = len(r.Measures)
			at[key] = i
			r.Measures = append(r.Measures, Measure{What: unit.Capital(m.Name), Where: strings.TrimSpace(m.Corner + " " + m.Place)})
		}
		x := &r.Measures[i]
		x.Limit, x.Least, x.Unit = m.Limit, m.Least, m.Unit
		x.Source = m.Source
		v := m.Value
		good := m.Verdict == string(inspect.OK)
		switch {
		case m.Step == "" && !good:
			x.Found, x.Comes = &v, "beyond its limit"
		case x.Found != nil:
			x.Now, x.Comes = &v, "mended"
		default:
			x.Now, x.Comes = &v, "kept"
		}
		if x.Now != nil && !good {
			x.Comes = "watch"
		}
	}
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
	if len(fresh) > 0 {
		r.Done = append(r.Done, "New: "+strings.Join(fresh, ", "))
	}
	for _, f := range st.Fluids {
		r.Done = append(r.Done, fmt.Sprintf("%s: %s out, %s in, %s", unit.Capital(f.Fluid), unit.Volume(f.OutMl), unit.Volume(f.InMl), f.Spec))
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
			when = append(when, fmt.Sprintf("%d km", d.AtKM))
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
		r.Signed = append(r.Signed, fmt.Sprintf("Reopened by %s, %s: “%s”; before that signed by %s", x.By, instant(x.At), x.Reason, x.SignedBy))
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
		r.Gates = fmt.Sprintf("Signed after %d gates: %d met, %d passed by name: %s.", len(gates), met, len(passed), strings.Join(passed, "; "))
	}
}

func (r *Report) joints() {
	st := r.State
	for i := range st.Plan.Joints {
		j := &st.Plan.Joints[i]
		b := JointBlock{Title: unit.Capital(j.Title), Drive: j.Drive, Recipe: []string{j.Recipe}}
		if j.Corner != "" {
			b.Title += ", " + string(j.Corner)
		}
		b.About = append(b.About, strings.Join(nonEmpty(string(j.Thread), j.Class, j.Treatment), " · "))
		if j.Hardware != "" {
			b.About = append(b.About, j.Hardware)
		}
		source := j.Source
		if source == "" {
			source = "no source"
		}
		b.About = append(b.About, strings.Join(nonEmpty(string(j.Condition), source), " · "))
		for _, s := range st.Stages(j.ID) {
			if w := window(s); len(w) > 0 && !slices.Contains(b.Window, w[0]) {
				b.Window = append(b.Window, w...)
			}
		}
		for _, l := range j.Letters {
			if f := st.Fastener(j.ID, l); f.Phase != job.Rest {
				b.Rows = append(b.Rows, r.row(f))
			}
		}
		if len(b.Rows) > 0 {
			r.Joints = append(r.Joints, b)
		}
	}
}

func nonEmpty(words ...string) []string {
	return slices.DeleteFunc(words, func(w string) bool { return w == "" })
}

// window is what a stage allows, in both units; nothing where it has no figure.
func window(s recipe.Stage) []string {
	low, high := s.Window()
	switch {
	case s.Kind == recipe.Angle:
		return []string{fmt.Sprintf("%s–%s°", unit.Number(low, 0), unit.Number(high, 0))}
	case s.Kind != recipe.Torque:
		return nil
	case high == 0 || high > 10*low:
		return []string{"from " + unit.Torque(low).String(), "from " + unit.Torque(low).FtLbString()}
	}
	return []string{
		unit.Number(low, 1) + "–" + unit.Torque(high).String(),
		unit.Number(unit.Torque(low).FtLb(), 1) + "–" + unit.Torque(high).FtLbString(),
	}
}

// row is a fastener with the readings that count; those that did not are counted.
func (r *Report) row(f *job.Fastener) FastenerRow {
	row := FastenerRow{Letter: f.Letter, Mark: f.Sign(), Evidence: f.Says()}
	var tools, all []string
	who := "" // and when; the name again only where it changes
	last := ""
	other := 0
	for _, id := range f.Pulls {
		p := r.State.Pulls[id]
		if !p.Counts() {
			other++
			continue
		}
		all = append(all, reading(p))
		if name := shortTool(p.Tool); name != "" && !slices.Contains(tools, name) {
			tools = append(tools, name)
		}
		if who != "" {
			who += ", "
		}
		if p.By != last {
			last = p.By
			who += strings.TrimPrefix(p.By, "Technician ") + " "
		}
		who += p.At.Format("15:04")
	}
	row.Readings = alike(all)
	if f.Renewed {
		row.Evidence += ", new"
	}
	if other > 0 {
		row.Evidence += fmt.Sprintf(", %d not counted", other)
	}
	row.Tool = strings.Join(tools, ", ")
	row.By = who
	return row
}

// alike puts lines that repeat one another into one, with how often.
func alike(lines []string) []string {
	var out []string
	for i := 0; i < len(lines); {
		n := 1
		for i+n < len(lines) && lines[i+n] == lines[i] {
			n++
		}
		says := lines[i]
		if n > 1 {
			says += fmt.Sprintf(", ×%d", n)
		}
		out = append(out, says)
		i += n
	}
	return out
}

// shortTool is a tool's name as a column has room for.
func shortTool(name string) string { return strings.Replace(name, "wrench ", "w", 1) }

// reading is what a pull came to: what was read, what was set, or what was turned.
func reading(p *job.Pull) string {
	var says string
	switch {
	case p.Evidence == pull.NotMeasured:
		says = "no figure: " + p.Cause.Words()
	case len(p.Result.Stages) == 0:
		says = "no stage"
	case p.Result.Stages[0].Kind == recipe.Torque:
		says = unit.Torque(p.Result.PeakNm).Both()
		if p.Evidence == pull.Clicked {
			says = "set " + says
		}
	case p.Result.Stages[0].Kind == recipe.BackOff:
		says = "backed off"
	case p.Result.Stages[0].Kind == recipe.Snug:
		says = "by hand, snug"
	case p.Result.Stages[0].Kind == recipe.NextSlot:
		says = "+" + unit.Number(p.Result.Stages[0].AngleDeg, 0) + "° on to the slot"
	default:
		says = "+" + unit.Number(p.Result.Stages[0].AngleDeg, 0) + "°"
	}
	if p.Simulated {
		says += " SIMULATED"
	}
	return says
}

func (r *Report) tools() {
	used := map[string]bool{}
	for _, p := range r.State.Pulls {
		used[p.Tool] = used[p.Tool] || p.Counts()
	}
	for _, t := range r.Source.Tools {
		if !used[t.Name] {
			continue
		}
		state := "in date"
		if t.Out != "" {
			state = "out of use: " + t.Out
		} else if t.Overdue(r.State.Last) {
			state = "overdue that day"
		}
		r.Tools = append(r.Tools, ToolLine{
			Name:       t.Name,
			Kind:       t.Kind,
			Range:      fmt.Sprintf("%s–%s", unit.Number(t.Least(), 0), unit.Torque(t.MaxNm).Both()),
			Calibrated: day(t.Calibrated),
			Until:      day(t.Due()),
			Pulls:      fmt.Sprint(t.Cycles),
			State:      state,
		})
	}
}

func (r *Report) notes() {
	st := r.State
	note := func(kind string, n int, title, text string) {
		r.Notes = append(r.Notes, Note{fmt.Sprintf("%s%d · %s", kind, n, title), text})
	}
	n := 0
	for _, id := range st.PullOrder {
		if p := st.Pulls[id]; p.Evidence == pull.NotMeasured && p.Counts() {
			n++
			j := st.Plan.Joint(p.Fastener.Joint)
			note("N", n, "Not measured: "+j.One+" "+p.Fastener.Letter, sentence(p.Cause.Words(), p.Note, p.By+", "+instant(p.At)))
		}
	}
	for i, d := range st.Deviations {
		second := ""
		if d.Second != "" {
			second = "second: " + d.Second
		}
		note("D", i+1, "Deviation: "+gateWords(st, d.Gate), sentence("“"+d.Reason+"”", d.By+", "+instant(d.At), second))
	}
	for i, t := range st.Troubles {
		text := t.Note
		for _, x := range t.Tries {
			text = sentence(text, x.At.Format("15:04")+" "+x.Rung+": "+x.Outcome)
		}
		if t.Cleared != nil {
			text = sentence(text, t.Cleared.How)
		}
		where := ""
		if j := st.Plan.Joint(t.Joint); j != nil {
			where = ": " + strings.TrimSpace(j.One+" "+t.Letter)
		}
		note("T", i+1, "Trouble: "+t.What+where, sentence(text, t.By+", "+instant(t.At)))
	}
	r.driven()
}

func (r *Report) driven() {
	st := r.State
	for _, t := range st.Trials {
		word := map[string]string{job.TrialPass: "passed", job.TrialAdvise: "passed, with advice", job.TrialFail: "failed"}[t.Result]
		says := fmt.Sprintf("Road test %s, %s, %s", word, instant(t.At), t.By)
		for _, f := range t.Felt {
			if f.Found != job.FeltSound {
				says += "; " + f.Do + ": " + f.Note
			}
		}
		r.Driven = append(r.Driven, says)
	}
	for _, x := range st.Plan.Steps {
		if n := st.Steps[x.ID].Strokes; n > 0 {
			r.Driven = append(r.Driven, fmt.Sprintf("Pedal firm after %s before it moved", count(n, "stroke")))
		}
		for _, c := range x.Answers {
			if c.Key == st.Steps[x.ID].Choice {
				r.Driven = append(r.Driven, x.Title+" "+c.Title)
			}
		}
		if x.Verb == operation.Act && x.Proves == "tools" && st.Steps[x.ID].Done {
			r.Driven = append(r.Driven, "Tools and supports counted out by "+st.Steps[x.ID].By)
		}
	}
	for _, m := range st.Matches {
		word := map[bool]string{true: "accepted", false: "refused"}[m.Accept]
		r.Driven = append(r.Driven, strings.Join(nonEmpty(unit.Capital(m.Title)+", new beside old: "+word, m.Why()), ", "))
	}
	for _, t := range st.Turns() {
		says := fmt.Sprintf("%s %s tie rod: %s turns off, %s on", unit.Capital(t.Corner.Axle()), t.Corner.Side(), unit.Number(t.Out, 2), unit.Number(t.In, 2))
		if t.Known {
			says += fmt.Sprintf("; toe of that wheel moves by %+.2f° (%+.1f mm)", t.ToeDeg, t.ToeMM)
		}
		r.Driven = append(r.Driven, says)
	}
	if st.Late > 0 {
		r.Driven = append(r.Driven, fmt.Sprintf("%d records were kept on a tablet without network; when each came is sealed with it", st.Late))
	}
}

func sentence(words ...string) string { return strings.Join(nonEmpty(words...), ". ") + "." }

// gateWords names a gate that was passed over.
func gateWords(st *job.State, key string) string {
	for _, g := range st.Gates() {
		if g.Key == key {
			return g.Title
		}
	}
	return key
}

// Caution is what stands on every report.
func (r *Report) Caution() string { return Caution }

// Simulated says that a stand-in made some of the record.
func (r *Report) Simulated() bool {
	for _, p := range r.State.Pulls {
		if p.Simulated {
			return true
		}
	}
	return slices.ContainsFunc(r.State.Walk.Measured, func(m job.Measurement) bool { return m.Simulated })
}
