package report

import (
	_ "embed"
	"fmt"
	"io"
	"math"
	"strings"

	"codeberg.org/go-pdf/fpdf"

	"lugtak/core/job"
	"lugtak/core/plan"
	"lugtak/core/pull"
	"lugtak/core/recipe"
	"lugtak/core/unit"
	"lugtak/sign"
)

var (
	//go:embed fonts/barlow-500.ttf
	regular []byte
	//go:embed fonts/barlow-700.ttf
	bold []byte
	//go:embed fonts/DejaVuSansCondensed.ttf
	spare []byte
)

// Colours of the house (the page's roles).
var (
	ink     = [3]int{0x1B, 0x22, 0x25}
	steel   = [3]int{0x55, 0x63, 0x6A}
	line    = [3]int{0xC6, 0xC5, 0xBB}
	deep    = [3]int{0x17, 0x36, 0x3C}
	lacquer = [3]int{0x1C, 0x8F, 0x4E}
	debt    = [3]int{0xC9, 0x7A, 0x00}
	red     = [3]int{0xB3, 0x26, 0x1E}
)

// Caution stands on every report.
const Caution = "Steering, suspension, wheel and brake work can kill when it is wrong. The vehicle maker's data, local codes and licensed practice come before anything in this report."

type page struct {
	*fpdf.Fpdf
}

const (
	margin = 14.0
	width  = 210 - 2*margin
)

// PDF writes the report of a job: what was done, every fastener with what it
// was proved by, what was passed over and by whom, what the owner should know,
// and the seal of the journal's last event.
func PDF(w io.Writer, st *job.State, seal string) error {
	p := page{fpdf.New("P", "mm", "A4", "")}
	p.AddUTF8FontFromBytes("b", "", regular)
	p.AddUTF8FontFromBytes("b", "B", bold)
	p.AddUTF8FontFromBytes("s", "", spare)
	p.SetMargins(margin, 12, margin)
	p.SetAutoPageBreak(true, 20)
	p.SetCatalogSort(true)
	p.SetCreationDate(st.Last)
	p.SetModificationDate(st.Last)
	p.SetTitle("Report "+st.Vehicle.Fleet+" "+st.Title(), true)
	p.SetLang("en")
	p.SetFooterFunc(func() {
		p.SetY(-16)
		p.text(steel, "", 7.5)
		p.multi(width, 3.4, fmt.Sprintf("%s Journal of %d events, sealed %s.", Caution, st.Seq, seal), "", "L", false)
		p.SetXY(margin, -7)
		p.cell(width, 3.4, fmt.Sprintf("page %d", p.PageNo()), "", 0, "R", false, 0, "")
	})
	p.AddPage()
	p.heading(st)
	p.summary(st)
	p.fasteners(st)
	p.remarks(st)
	p.signature(st)
	return p.Output(w)
}

func (p page) text(c [3]int, style string, size float64) {
	p.SetTextColor(c[0], c[1], c[2])
	p.SetFont("b", style, size)
}

// face takes the wider type for a line that has letters the house's type lacks,
// a name in another script for example.
func (p page) face(s string) (back func()) {
	if !strings.ContainsFunc(s, func(r rune) bool { return r > 0xFF && !strings.ContainsRune("–—‘’“”…", r) }) {
		return func() {}
	}
	size, _ := p.GetFontSize()
	p.SetFont("s", "", size)
	return func() { p.SetFont("b", "", size) }
}

func (p page) cell(w, h float64, s, border string, ln int, align string, fill bool, link int, linkStr string) {
	defer p.face(s)()
	p.CellFormat(w, h, s, border, ln, align, fill, link, linkStr)
}

func (p page) multi(w, h float64, s, border, align string, fill bool) {
	defer p.face(s)()
	p.MultiCell(w, h, s, border, align, fill)
}

func (p page) heading(st *job.State) {
	p.SetFillColor(deep[0], deep[1], deep[2])
	p.Rect(0, 0, 210, 22, "F")
	p.SetXY(margin, 6)
	p.SetTextColor(255, 255, 255)
	p.SetFont("b", "B", 17)
	p.cell(width*0.7, 8, st.Vehicle.Fleet+" · "+st.Vehicle.Name, "", 0, "L", false, 0, "")
	p.SetFont("b", "", 10)
	p.cell(width*0.3, 8, st.Vehicle.Plate, "", 0, "R", false, 0, "")
	p.SetXY(margin, 13)
	p.cell(width, 5, "Report on a repair", "", 0, "L", false, 0, "")
	p.SetY(27)
	rows := [][2]string{
		{"Work", st.Plan.Title},
		{"Complaint", st.Complaint},
		{"Odometer", fmt.Sprintf("%d km on %s", st.OdometerKM, st.Started.Format("2 January 2006"))},
		{"Sources", strings.Join(st.Plan.Sources, "; ")},
	}
	if st.Vehicle.VIN != "" {
		rows = append(rows, [2]string{"VIN", st.Vehicle.VIN})
	}
	for _, r := range rows {
		p.text(steel, "", 9)
		p.cell(24, 5, r[0], "", 0, "L", false, 0, "")
		p.text(ink, "", 10)
		p.multi(width-24, 5, r[1], "", "L", false)
	}
	if st.Plan.Invented {
		p.text(red, "B", 10)
		p.cell(width, 6, "Every figure here is invented, for practice only.", "", 1, "L", false, 0, "")
	}
}

func (p page) summary(st *job.State) {
	opened, proved, waived := 0, 0, 0
	for _, f := range st.Fasteners {
		if f.Phase != job.Rest {
			opened++
		}
		switch f.Mark() {
		case job.Proved:
			proved++
		case job.Excused:
			waived++
		}
	}
	p.Ln(2)
	says := fmt.Sprintf("%d fasteners were opened; %d are proved tight", opened, proved)
	if waived > 0 {
		says += fmt.Sprintf(", %d are passed over by a signed deviation", waived)
	}
	c := lacquer
	if owed := len(st.Owed()); owed > 0 {
		says += fmt.Sprintf(", %d are still owed", owed)
		c = debt
	}
	if st.Signature == nil {
		says += ". Not signed: the vehicle must not leave on this"
		c = red
	}
	p.text(c, "B", 12)
	p.multi(width, 6, says+".", "", "L", false)
	p.Ln(1)
}

var columns = []float64{10, 9, 40, 38, 34, 51}

func (p page) fasteners(st *job.State) {
	for i := range st.Plan.Joints {
		j := &st.Plan.Joints[i]
		if p.GetY() > 258 {
			p.AddPage()
		}
		p.SetDrawColor(line[0], line[1], line[2])
		p.Line(margin, p.GetY(), margin+width, p.GetY())
		p.text(ink, "B", 10)
		p.cell(46, 5.6, unit.Capital(j.Title), "", 0, "L", false, 0, "")
		p.text(ink, "", 9)
		src := j.Source
		if src == "" {
			src = "no source"
		}
		p.cell(
			width-46,
			5.6,
			fmt.Sprintf("%s · %s %s · %s · %s", j.Says(), j.Thread, j.Class, j.Treatment, src),
			"",
			1,
			"R",
			false,
			0,
			"",
		)
		for _, l := range j.Letters {
			p.fastener(st, j, st.Fastener(j.ID, l))
		}
	}
	p.Line(margin, p.GetY(), margin+width, p.GetY())
}

func (p page) fastener(st *job.State, j *plan.Joint, f *job.Fastener) {
	y := p.GetY()
	if y > 268 {
		p.AddPage()
		y = p.GetY()
	}
	p.sign(margin+4, y+2.4, 0.085, j.Drive, f.Sign())
	p.SetX(margin + columns[0])
	p.text(ink, "B", 9)
	p.cell(columns[1], 4.8, f.Letter, "", 0, "L", false, 0, "")
	p.text(ink, "", 9)
	state := f.Says()
	if f.Renewed {
		state += ", new"
	}
	p.cell(columns[2], 4.8, state, "", 0, "L", false, 0, "")
	var figures []string
	who, evidence := "", ""
	struck := 0
	for _, id := range f.Pulls {
		r := st.Pulls[id]
		if r.StruckWhy != "" {
			struck++
			continue
		}
		if !r.Counts() {
			continue
		}
		figures = append(figures, pullFigure(r))
		who = r.By + ", " + r.At.Format("2 Jan 15:04")
		evidence = evidenceSays(r)
	}
	if bad := len(f.Pulls) - len(figures) - struck; bad > 0 {
		evidence += fmt.Sprintf(", %d not counted", bad)
	}
	if struck > 0 {
		evidence += fmt.Sprintf(", %d struck", struck)
	}
	p.cell(columns[3], 4.8, fit(p, strings.Join(figures, ", "), columns[3]), "", 0, "L", false, 0, "")
	p.text(steel, "", 8.5)
	p.cell(columns[4], 4.8, fit(p, evidence, columns[4]), "", 0, "L", false, 0, "")
	p.cell(columns[5], 4.8, fit(p, who, columns[5]), "", 1, "R", false, 0, "")
}

// fit shortens a text to a width in mm.
func fit(p page, s string, w float64) string {
	for r := []rune(s); p.GetStringWidth(s) > w-1 && len(r) > 1; {
		r = r[:len(r)-1]
		s = string(r) + "…"
	}
	return s
}

// evidenceSays is how a pull is known; what a stand-in made says so.
func evidenceSays(r *job.Pull) string {
	says := r.Evidence.Words()
	if r.Evidence == pull.NotMeasured {
		says += ": " + r.Cause.Words()
	}
	if r.Simulated {
		says += ", SIMULATED"
	}
	return says
}

func pullFigure(r *job.Pull) string {
	if r.Evidence == pull.NotMeasured {
		return "no figure"
	}
	switch r.Result.Stages[0].Kind {
	case recipe.Torque:
		return unit.Torque(r.Result.PeakNm).String()
	case recipe.BackOff:
		return "backed off"
	case recipe.Snug:
		return "by hand"
	case recipe.NextSlot:
		return "slot +" + unit.Number(r.Result.Stages[0].AngleDeg, 0) + "°"
	}
	return "+" + unit.Number(r.Result.Stages[0].AngleDeg, 0) + "°"
}

func (p page) remarks(st *job.State) {
	p.Ln(3)
	block := func(title string, c [3]int, lines []string) {
		if len(lines) == 0 {
			return
		}
		p.text(c, "B", 10.5)
		p.cell(width, 5.6, title, "", 1, "L", false, 0, "")
		p.text(ink, "", 9.5)
		for _, l := range lines {
			p.multi(width, 4.7, "– "+l, "", "L", false)
		}
		p.Ln(1.5)
	}
	var deviations, advice, trouble, answers []string
	for _, d := range st.Deviations {
		s := fmt.Sprintf("%s: %s (%s", gateWords(st, d.Gate), d.Reason, d.By)
		if d.Second != "" {
			s += ", seconded by " + d.Second
		}
		deviations = append(deviations, s+", "+d.At.Format("2 Jan 15:04")+")")
	}
	if st.Late > 0 {
		advice = append(advice, fmt.Sprintf("%d records were kept on a tablet without network; when each came is sealed with it.", st.Late))
	}
	for _, f := range st.Findings {
		says := f.Says()
		if f.Photo {
			says += " (photograph in the job file)"
		}
		advice = append(advice, says)
	}
	for _, c := range st.DeclinedSafety() {
		advice = append(
			advice,
			fmt.Sprintf("SAFETY, declined: %s. Reason: %s (%s, %s)", c.Name, c.Reason, c.By, c.At.Format("2 Jan 15:04")),
		)
	}
	for _, t := range st.Troubles {
		s := t.What
		if t.Letter != "" {
			if j := st.Plan.Joint(t.Joint); j != nil {
				s = unit.Capital(j.One) + " " + t.Letter + ": " + s
			}
		}
		if t.Cleared != nil {
			s += "; " + t.Cleared.How
		}
		trouble = append(trouble, s)
	}
	for _, x := range st.Plan.Steps {
		for _, c := range x.Answers {
			if c.Key == st.Steps[x.ID].Choice {
				answers = append(answers, x.Title+" "+c.Title+".")
			}
		}
	}
	var measured []string
	for _, m := range st.Walk.Measured {
		measured = append(measured, fmt.Sprintf("%s (%s, %s)", m.Line(), m.By, m.At.Format("2 Jan 15:04")))
	}
	var parts []string
	for _, m := range st.Matches {
		verdict := map[bool]string{true: "accepted", false: "refused"}[m.Accept]
		if why := m.Why(); why != "" {
			verdict += ": " + why
		}
		parts = append(parts, fmt.Sprintf("%s, new beside old: %s (%s)", unit.Capital(m.Title), verdict, m.By))
	}
	for _, t := range st.Turns() {
		line := fmt.Sprintf(
			"%s %s tie rod: %s turns off, %s on",
			unit.Capital(t.Corner.Axle()),
			t.Corner.Side(),
			unit.Number(t.Out, 2),
			unit.Number(t.In, 2),
		)
		if t.Known {
			line += fmt.Sprintf("; the toe of that wheel moves by %+.2f° (%+.1f mm)", t.ToeDeg, t.ToeMM)
		}
		parts = append(parts, line)
	}
	for _, r := range st.Replans {
		parts = append(parts, "Re-planned: "+r.Why)
	}
	var told []string
	for _, t := range st.Told {
		told = append(told, fmt.Sprintf("%s (%s, %s)", t.Says(), t.By, t.At.Format("2 Jan 15:04")))
	}
	if len(told) > 0 {
		told = append(told, "Hands' work on the record: "+unit.HoursMinutes(st.WorkMin()))
	}
	block("Told to the owner", ink, told)
	block("Passed over by signature", red, deviations)
	block("Parts, turns and the plan", ink, parts)
	block("Measured", ink, measured)
	block("For the owner to decide", ink, advice)
	block("Met on the way", ink, trouble)
	block("Answered", ink, answers)
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

func (p page) signature(st *job.State) {
	if p.GetY() > 250 {
		p.AddPage()
	}
	p.Ln(1)
	if st.Signature == nil {
		p.text(red, "B", 11)
		p.cell(width, 6, "Not signed", "", 1, "L", false, 0, "")
		return
	}
	s := st.Signature
	p.text(ink, "B", 11)
	p.cell(
		width,
		6,
		fmt.Sprintf("Signed by %s (%s) on %s", s.By, s.Role, s.At.Format("2 January 2006 at 15:04 MST")),
		"",
		1,
		"L",
		false,
		0,
		"",
	)
	if s.Note != "" {
		p.text(ink, "", 9.5)
		p.multi(width, 4.7, s.Note, "", "L", false)
	}
}

// sign draws a fastener sign at a place, k millimetres to its unit.
func (p page) sign(x, y, k float64, drive string, m job.Mark) {
	p.SetLineWidth(0.25)
	for _, s := range sign.Shapes(drive, m) {
		p.SetDrawColor(ink[0], ink[1], ink[2])
		p.SetFillColor(255, 255, 255)
		style := "FD"
		switch s.Role {
		case "head":
			if sign.Dark(m) {
				p.SetFillColor(0x3b, 0x46, 0x49)
			}
		case "hole", "recess":
			p.SetFillColor(0x2b, 0x33, 0x36)
			style = "F"
		case "rim":
			style = "D"
		case "dashed":
			style = "D"
			p.SetDashPattern([]float64{0.6, 0.5}, 0)
		case "fill":
			p.SetFillColor(debt[0], debt[1], debt[2])
			style = "F"
		}
		switch s.Kind {
		case "circle":
			p.Circle(x, y, s.Radius*k, style)
			p.SetDashPattern(nil, 0)
		case "polygon":
			p.Polygon(at(s.Points, x, y, k), style)
		case "wedge":
			pts := []fpdf.PointType{{X: x, Y: y}}
			for d := 0.0; d <= s.Deg; d += 10 {
				sin, cos := math.Sincos(d * math.Pi / 180)
				pts = append(pts, fpdf.PointType{X: x + s.Radius*k*sin, Y: y - s.Radius*k*cos})
			}
			p.Polygon(pts, style)
		default:
			c, w := map[string][3]int{"lacquer": lacquer, "broken": lacquer, "cross": red, "turn": debt}[s.Role], 0.5
			p.SetDrawColor(c[0], c[1], c[2])
			p.SetLineWidth(w)
			if s.Role == "broken" {
				p.SetDashPattern([]float64{0.6, 0.6}, 0)
			}
			pts := at(s.Points, x, y, k)
			for i := 1; i < len(pts); i++ {
				p.Line(pts[i-1].X, pts[i-1].Y, pts[i].X, pts[i].Y)
			}
			p.SetDashPattern(nil, 0)
			p.SetLineWidth(0.25)
		}
	}
	p.SetDrawColor(line[0], line[1], line[2])
}

func at(pts [][2]float64, x, y, k float64) []fpdf.PointType {
	out := make([]fpdf.PointType, len(pts))
	for i, q := range pts {
		out[i] = fpdf.PointType{X: x + q[0]*k, Y: y + q[1]*k}
	}
	return out
}
