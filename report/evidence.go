package report

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strings"

	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/pull"
	"lugtak/core/recipe"
	"lugtak/core/unit"
)

func (r *Report) joints() {
	st := r.State
	for i := range st.Plan.Joints {
		j := &st.Plan.Joints[i]
		b := JointBlock{Title: unit.Capital(j.Title), Drive: j.Drive, Recipe: []string{cmp.Or(j.Recipe, "no figure yet")}}
		if j.Corner != "" {
			b.Title += ", " + string(j.Corner)
		}
		b.About = append(b.About, strings.Join(nonEmpty(string(j.Thread), j.Class, j.Treatment), " · "))
		if j.Hardware != "" {
			b.About = append(b.About, j.Hardware)
		}
		source := cmp.Or(j.From(), "no source")
		b.About = append(b.About, strings.Join(nonEmpty(string(j.Condition), source), " · "))
		if j.Note != "" {
			b.About = append(b.About, "beside it: "+j.Note)
		}
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

// short is the last word of a name, where nobody else who pulled at the job has it too.
func (r *Report) short(name string) string {
	last := func(name string) string { return name[strings.LastIndexByte(name, ' ')+1:] }
	for _, p := range r.State.Pulls {
		if p.By != name && last(p.By) == last(name) {
			return name
		}
	}
	return last(name)
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
			who += r.short(p.By) + " "
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
		says = "+" + unit.Number(p.TurnedDeg(), 0) + "° on to the slot"
	default:
		says = "+" + unit.Number(p.TurnedDeg(), 0) + "°"
	}
	if p.ErrDeg > 0 {
		says += " ± " + unit.Number(p.ErrDeg, 1) + "°"
	}
	if p.Together {
		says += ", stated together"
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
		delete(used, t.Name)
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
	for _, name := range slices.Sorted(maps.Keys(used)) {
		if used[name] && name != "" {
			r.Tools = append(r.Tools, ToolLine{Name: name, State: "not in the crib"})
		}
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
			note("N", n, "Not measured: "+j.One+" "+p.Fastener.Letter,
				sentence(p.Cause.Words(), p.Note, p.By+", "+instant(p.At)))
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
		if len(t.Said) > 0 {
			text = sentence(text, "said before: "+strings.Join(t.Said, ", "))
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
	for i, title := range st.Plan.Without {
		note("L", i+1, "Left out of the plan: "+title, "Such a vehicle was said to have none; its sheet names who said so.")
	}
	if free := st.Plan.Free; free != nil {
		note("F", 1, "Free work: "+free.Title, "No operation of the library knows it. Its order is that of who did it, "+
			"held by the laws of the vehicle alone.")
	}
	for i, x := range st.Replans {
		note("P", i+1, "Planned anew: "+x.Why, x.By+", "+instant(x.At))
	}
	r.driven()
}

func (r *Report) driven() {
	st := r.State
	for _, t := range st.Trials {
		says := fmt.Sprintf("Road test %s, %s, %s", trialWord(t), instant(t.At), t.By)
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
		if t := st.Steps[x.ID].TempC; t > 0 {
			r.Driven = append(r.Driven, fmt.Sprintf("Gearbox level read at %s °C", unit.Number(t, 1)))
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
		says := fmt.Sprintf("%s %s tie rod: %s turns off, %s on", unit.Capital(t.Corner.Axle()),
			t.Corner.Side(), unit.Number(t.Out, 2), unit.Number(t.In, 2))
		if t.Known {
			says += fmt.Sprintf("; toe of that wheel moves by %+.2f° (%+.1f mm)", t.ToeDeg, t.ToeMM)
		}
		r.Driven = append(r.Driven, says)
	}
	if n := len(st.Hasty); n > 0 {
		first := st.Hasty[0]
		r.Driven = append(r.Driven, fmt.Sprintf("%s kept quicker than hands are, the first by %s at %s",
			unit.Capital(were(n, "act")), first.By, instant(first.At)))
	}
	if st.Late > 0 {
		r.Driven = append(r.Driven,
			was(st.Late, "record")+" kept on a tablet without network; when each came is sealed with it")
	}
}

// trialWord is what a road test came to; what was left out was not passed.
func trialWord(t job.Trial) string {
	left := len(t.LeftOut())
	switch {
	case t.Result == job.TrialFail:
		return "failed"
	case left > 0 && left == len(t.Felt):
		return "not driven"
	case left > 0:
		return fmt.Sprintf("driven in part, %d of %s left out", left, count(len(t.Felt), "manoeuvre"))
	case t.Result == job.TrialAdvise:
		return "passed, with advice"
	}
	return "passed"
}

func sentence(words ...string) string {
	said := nonEmpty(words...)
	for i, w := range said {
		said[i] = strings.TrimSuffix(w, ".")
	}
	return strings.Join(said, ". ") + "."
}

// gateWords names a gate that was passed over.
func gateWords(st *job.State, key string) string {
	for _, g := range st.Gates() {
		if g.Key == key {
			return g.Title
		}
	}
	return key
}
