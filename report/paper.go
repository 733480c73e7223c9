package report

import (
	_ "embed"
	"fmt"
	"math"
	"strings"

	"codeberg.org/go-pdf/fpdf"

	"lugtak/core/job"
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

// Colours of the house (the page's roles). A grey copy says the same: every state has its
// form and its word.
var (
	ink     = [3]int{0x1B, 0x22, 0x25}
	steel   = [3]int{0x55, 0x63, 0x6A}
	line    = [3]int{0xC6, 0xC5, 0xBB}
	lacquer = [3]int{0x1C, 0x8F, 0x4E}
	white   = [3]int{0xFF, 0xFF, 0xFF}
	debt    = [3]int{0xC9, 0x7A, 0x00}
	red     = [3]int{0xB3, 0x26, 0x1E}
)

// paper is a sheet with the house's type. Nothing on it is shortened: what is too wide is
// broken into lines.
type paper struct {
	*fpdf.Fpdf
}

const (
	margin = 12.0
	width  = 210 - 2*margin
	foot   = 276.0 // where the page ends
)

func newPaper() paper {
	p := paper{fpdf.New("P", "mm", "A4", "")}
	p.AddUTF8FontFromBytes("b", "", regular)
	p.AddUTF8FontFromBytes("b", "B", bold)
	p.AddUTF8FontFromBytes("s", "", spare)
	p.SetMargins(margin, 10, margin)
	p.SetAutoPageBreak(false, 0)
	p.SetCatalogSort(true)
	p.SetLang("en")
	return p
}

// face sets colour, weight and size, points.
func (p paper) face(c [3]int, style string, size float64) {
	p.SetTextColor(c[0], c[1], c[2])
	p.SetFont("b", style, size)
}

// wider takes the wider type for a line that has letters the house's type lacks, a name in
// another script for example.
func (p paper) wider(s string) (back func()) {
	odd := func(r rune) bool { return r > 0xFF && !strings.ContainsRune("–—‘’“”…", r) }
	if !strings.ContainsFunc(s, odd) {
		return func() {}
	}
	size, _ := p.GetFontSize()
	p.SetFont("s", "", size)
	return func() { p.SetFont("b", "", size) }
}

// spaces are those the paper's letters have: no thin one, but one no line is broken at either.
func spaces(s string) string { return strings.ReplaceAll(s, "\u202f", "\u00a0") }

// lines are a text broken to a width, at least one.
func (p paper) lines(s string, w float64) []string {
	s = spaces(s)
	defer p.wider(s)()
	var out []string
	for _, l := range p.SplitText(s, w) {
		out = append(out, strings.TrimSpace(l))
	}
	if len(out) == 0 {
		out = []string{""}
	}
	return out
}

// put writes one line at a place and says where it ends.
func (p paper) put(x, y float64, s string) float64 {
	s = spaces(s)
	defer p.wider(s)()
	p.Text(x, y, s)
	return x + p.GetStringWidth(s)
}

// para writes a text broken to a width, step millimetres from line to line, and says where
// the next line stands.
func (p paper) para(x, y, w, step float64, s string) float64 {
	for _, l := range p.lines(s, w) {
		p.put(x, y, l)
		y += step
	}
	return y
}

// rule draws a line across.
func (p paper) rule(y, thick float64, c [3]int) {
	p.SetDrawColor(c[0], c[1], c[2])
	p.SetLineWidth(thick)
	p.Line(margin, y, margin+width, y)
}

// simulated stands on every page of a job that a stand-in had a hand in.
const simulated = "Some of this record is SIMULATED: it was made by stand-ins."

// footers writes what stands on every page, once it is known how many there are.
func (p paper) footers(r *Report) {
	n := p.PageCount()
	for i := 1; i <= n; i++ {
		p.SetPage(i)
		if r.Simulated() {
			p.face(red, "B", 8.5)
			p.put(margin, 8, simulated)
		}
		p.rule(280, 0.25, ink)
		p.face(ink, "", 7.5)
		says := Caution
		if r.State.Plan.Invented {
			says += " Every vehicle, person and figure here is invented: for practice only."
		}
		p.para(margin, 284, width-34, 3.4, says)
		p.face(ink, "B", 8)
		where := fmt.Sprintf("%s · page %d of %d", r.State.ID, i, n)
		p.put(margin+width-p.GetStringWidth(where), 291, where)
	}
}

// sign draws a fastener sign at a place, k millimetres to its unit.
func (p paper) sign(x, y, k float64, drive string, m job.Mark) {
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
			c, w := map[string][3]int{"lacquer": lacquer, "broken": lacquer, "cross": red, "turn": debt,
				"halo": white}[s.Role], 0.5
			if s.Role == "halo" {
				w = 0.9
			}
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
