package report

import (
	"bytes"
	"fmt"
	"io"
	"math"

	"codeberg.org/go-pdf/fpdf"

	"lugtak/core/job"
	"lugtak/core/unit"
	"lugtak/draw"
	"lugtak/sign"
)

// Caution stands on every report.
const Caution = "Steering, suspension, wheel and brake work can kill when it is wrong. The vehicle maker's data, " +
	"local codes and licensed practice come before this paper."

// PDF writes the report: first for the owner, then for an inspector, last for whoever checks
// that the paper is true. The same job gives the same bytes.
func PDF(w io.Writer, src Source) error {
	r := New(src)
	p := newPaper()
	st := src.State
	p.SetCreationDate(st.Last)
	p.SetModificationDate(st.Last)
	p.SetLang("en")
	if src.Record != nil {
		p.SetAttachments([]fpdf.Attachment{{
			Content:     src.Record,
			Filename:    "job-" + st.ID + ".json",
			Description: "The record of this job, sealed and signed",
		}})
	}
	p.SetTitle("Report "+st.Vehicle.Fleet+" "+r.Title, true)
	p.owner(r)
	p.inspector(r)
	p.footers(r)
	return p.Output(w)
}

// head writes the top of the owner's page and says where it goes on.
func (p paper) head(r *Report) float64 {
	st := r.State
	p.AddPage()
	p.face(ink, "B", 11)
	shop := r.Shop
	if shop == "" {
		shop = "Report on a repair"
	}
	x := p.put(margin, 14, shop)
	p.face(steel, "", 9)
	p.put(x+4, 14, r.Contact)
	p.face(ink, "B", 11)
	p.put(margin+width-p.GetStringWidth("For the owner"), 14, "For the owner")
	p.rule(17, 0.5, ink)
	p.face(ink, "B", 20)
	y := p.para(margin, 26, width-62, 8, r.Title)
	p.tag(margin+width-56, 20, st.Vehicle.Fleet+" · "+st.Vehicle.Name)
	ready := "not signed"
	if st.Signature != nil {
		ready = instant(st.Signature.At)
	}
	cells := [][2]string{
		{"Plate", st.Vehicle.Plate},
		{"VIN", st.Vehicle.VIN},
		{"Odometer in", unit.Kilometres(st.OdometerKM)},
		{"Came in", instant(st.Started)},
		{"Ready", ready},
	}
	at := []float64{0, 32, 78, 110, 148}
	for i, c := range cells {
		p.face(steel, "", 8.5)
		p.put(margin+at[i], y, c[0])
		p.face(ink, "B", 9.5)
		value := c[1]
		if value == "" {
			value = "–"
		}
		p.put(margin+at[i], y+4.6, value)
	}
	return y + 9
}

// tag draws the hang tag with the vehicle's name.
func (p paper) tag(x, y float64, name string) {
	p.SetDrawColor(ink[0], ink[1], ink[2])
	p.SetLineWidth(0.4)
	p.Polygon(
		[]fpdf.PointType{
			{X: x, Y: y + 4},
			{X: x + 4, Y: y},
			{X: x + 56, Y: y},
			{X: x + 56, Y: y + 8},
			{X: x + 4, Y: y + 8},
		},
		"D",
	)
	p.Circle(x+4.2, y+4, 0.6, "D")
	size := 9.5
	for p.face(ink, "B", size); p.GetStringWidth(name) > 48 && size > 6; size -= 0.5 {
		p.face(ink, "B", size-0.5)
	}
	p.put(x+7, y+5.4, name)
}

// owner writes the first page.
func (p paper) owner(r *Report) {
	y := p.verdict(r, p.head(r))
	y = p.wrong(r, y)
	y = p.measured(r, y)
	y = p.columns(r, y)
	y = p.due(r, y)
	y = p.room(y, 12)
	p.face(ink, "", 9)
	p.put(margin, y+7, "Received, declined points read:")
	p.SetLineWidth(0.25)
	p.Line(margin+48, y+7.5, margin+134, y+7.5)
	p.put(margin+136, y+7, "name")
	p.Line(margin+146, y+7.5, margin+176, y+7.5)
	p.put(margin+178, y+7, "date")
}

// verdict says whether it may be driven, beside what a driver stops for.
func (p paper) verdict(r *Report, y float64) float64 {
	p.face(ink, "", 9.5)
	says := p.lines(r.Says, 88)
	high := math.Max(14+4.4*float64(len(says)), 9+4.4*float64(len(r.StopIf)))
	p.SetDrawColor(ink[0], ink[1], ink[2])
	p.SetLineWidth(0.7)
	p.Rect(margin, y, width, high, "D")
	p.Line(margin+116, y, margin+116, y+high)
	mark := job.Proved
	switch {
	case r.Barred:
		mark = job.InTrouble
	case !r.Whole:
		mark = job.Excused
	}
	p.sign(margin+11, y+high/2, 0.24, sign.Drives[0], mark)
	p.face(ink, "B", 15)
	at := p.para(margin+22, y+7.5, 90, 6.4, r.Verdict)
	p.face(ink, "", 9.5)
	for i, l := range says {
		p.put(margin+22, at+4.4*float64(i), l)
	}
	p.face(ink, "B", 10)
	p.put(margin+119, y+6, "Stop and call us if")
	p.face(ink, "", 9)
	for i, s := range r.StopIf {
		p.put(margin+119, y+10.6+4.4*float64(i), "· "+s)
	}
	return y + high + 7
}

// room begins a new page where what comes does not fit.
func (p paper) room(y, needs float64) float64 {
	if y+needs <= foot {
		return y
	}
	p.AddPage()
	return 16
}

func (p paper) title(y float64, s string) float64 {
	p.face(ink, "B", 11.5)
	p.put(margin, y, s)
	return y + 5.2
}

// wrong says what was complained of, what was found and how that is known.
func (p paper) wrong(r *Report, y float64) float64 {
	y = p.title(y, "What was wrong")
	tell := func(head string, lines []string) {
		for i, l := range lines {
			if i == 0 {
				p.face(ink, "B", 9)
				p.put(margin, y, head)
			}
			p.face(ink, "", 9)
			y = p.para(margin+24, y, width-24, 4.2, l)
		}
	}
	tell("You told us", []string{r.State.Complaint})
	tell("We found", r.Found)
	tell("How we know", r.How)
	return y + 3
}

// measured draws each measure to its own scale against its limit.
func (p paper) measured(r *Report, y float64) float64 {
	if len(r.Measures) == 0 {
		return y
	}
	y = p.title(p.room(y, 20), "What was measured")
	p.face(steel, "", 8)
	p.put(margin+40, y, "found")
	p.put(margin+56, y, "now")
	p.put(margin+72, y, "to scale: hatched is not allowed")
	p.put(margin+128, y, "limit and its source")
	y += 2
	for _, m := range r.Measures {
		p.face(ink, "", 8.5)
		source := p.lines(m.Source, 36)
		high := math.Max(9, 5+3.6*float64(len(source)))
		y = p.room(y, high)
		p.rule(y, 0.15, line)
		p.face(ink, "B", 9)
		p.put(margin, y+4, m.What)
		p.face(steel, "", 8)
		p.put(margin, y+7.6, m.Where)
		p.face(ink, "", 9)
		p.put(margin+40, y+4, value(m.Found))
		p.face(ink, "B", 9)
		p.put(margin+56, y+4, value(m.Now))
		p.bar(m, margin+72, y+2, 50)
		p.put(margin+128, y+4, m.LimitSays())
		p.put(margin+width-p.GetStringWidth(m.Comes), y+4, m.Comes)
		p.face(steel, "", 8)
		for i, l := range source {
			p.put(margin+128, y+7.6+3.6*float64(i), l)
		}
		y += high
	}
	return y + 5
}

func value(v *float64) string {
	if v == nil {
		return "–"
	}
	return unit.Number(*v, 3)
}

// bar draws a measure: what is not allowed hatched, a diamond found, a dot now.
func (p paper) bar(m Measure, x, y, w float64) {
	most := 1.6 * m.Limit
	for _, v := range []*float64{m.Found, m.Now} {
		if v != nil {
			most = math.Max(most, 1.1**v)
		}
	}
	at := func(v float64) float64 { return x + w*v/most }
	from, to := at(m.Limit), x+w
	if m.Least {
		from, to = x, at(m.Limit)
	}
	p.SetDrawColor(steel[0], steel[1], steel[2])
	p.SetLineWidth(0.2)
	if m.Floor > 0 {
		p.Line(at(m.Floor), y-0.5, at(m.Floor), y+3.5)
	}
	for h := from; h < to; h += 1.6 {
		p.Line(h, y+3, math.Min(h+2, to), y)
	}
	p.Rect(x, y, w, 3, "D")
	p.SetDrawColor(ink[0], ink[1], ink[2])
	p.SetLineWidth(0.6)
	p.Line(at(m.Limit), y-1, at(m.Limit), y+4)
	if m.Found != nil {
		c := at(*m.Found)
		p.SetDrawColor(red[0], red[1], red[2])
		p.SetFillColor(255, 255, 255)
		p.SetLineWidth(0.4)
		p.Polygon(
			[]fpdf.PointType{{X: c - 2, Y: y + 1.5}, {X: c, Y: y - 0.5}, {X: c + 2, Y: y + 1.5}, {X: c, Y: y + 3.5}},
			"FD")
	}
	if m.Now != nil {
		p.SetFillColor(ink[0], ink[1], ink[2])
		p.Circle(at(*m.Now), y+1.5, 1.4, "F")
	}
}

// columns writes what was done beside what was declined and seen, with the photographs.
func (p paper) columns(r *Report, y float64) float64 {
	const half = width/2 - 4
	y = p.room(y, 24)
	left := p.list(margin, y, half, "Done and fitted", r.Done)
	right := y
	if len(r.Declined) > 0 {
		right = p.list(margin+half+8, y, half, "Offered, and declined by you", r.Declined) + 2
	}
	if len(r.Seen) > 0 {
		var texts []string
		for _, s := range r.Seen {
			texts = append(texts, s.Text)
		}
		right = p.list(margin+half+8, right, half, "Seen beside the work, for you to decide", texts)
		right = p.photos(margin+half+8, right, r.Seen)
	}
	return math.Max(left, right) + 3
}

func (p paper) list(x, y, w float64, title string, lines []string) float64 {
	p.face(ink, "B", 11.5)
	p.put(x, y, title)
	y += 5
	p.face(ink, "", 9)
	for _, l := range lines {
		p.put(x, y, "·")
		y = p.para(x+3, y, w-3, 4.2, l)
	}
	return y
}

// photos puts the photographs side by side, three at the most.
func (p paper) photos(x, y float64, seen []Seen) float64 {
	const wide, high = 27.0, 20.0
	n := 0
	for i, s := range seen {
		if s.Photo == nil || n == 3 {
			continue
		}
		name := fmt.Sprint("photo-", i)
		if info := p.RegisterImageOptionsReader(name, fpdf.ImageOptions{ImageType: "JPG"},
			bytes.NewReader(s.Photo)); info == nil ||
			p.Error() != nil {
			p.ClearError()
			continue
		}
		p.ImageOptions(name, x+float64(n)*(wide+2), y-2, wide, high, false, fpdf.ImageOptions{ImageType: "JPG"}, 0, "")
		n++
	}
	if n > 0 {
		y += high + 2
	}
	return y
}

// due lists what is owed after the vehicle has left, in a frame.
func (p paper) due(r *Report, y float64) float64 {
	if len(r.Due) == 0 {
		return y
	}
	y = p.title(p.room(y, 16), "Due") - 2
	for _, d := range r.Due {
		p.face(ink, "B", 9)
		when := p.lines(d.When, 44)
		p.face(ink, "", 9)
		what, why := p.lines(d.What, 82), p.lines(d.Why, 48)
		high := 2 + 4.2*float64(max(len(when), len(what), len(why)))
		y = p.room(y, high)
		p.SetDrawColor(ink[0], ink[1], ink[2])
		p.SetLineWidth(0.3)
		p.Rect(margin, y, width, high, "D")
		for _, col := range []struct {
			at    float64
			style string
			lines []string
		}{{2, "B", when}, {50, "", what}, {136, "", why}} {
			p.face(ink, col.style, 9)
			for n, l := range col.lines {
				p.put(margin+col.at, y+4+4.2*float64(n), l)
			}
		}
		y += high
	}
	return y + 4
}

// qrSide is the edge of the code, millimetres.
const qrSide = 26.0

// code draws what a verifier scans: the job, its end, and the key that signed it.
func (p paper) code(r *Report, x, y float64) {
	bits, err := draw.Dots(fmt.Sprintf("LUGTAK %s %d %s %s", r.State.ID, r.State.Seq, r.Hash, r.Key))
	if err != nil {
		return // more than a code holds: the words beside it say the same
	}
	k := qrSide / float64(len(bits))
	p.SetFillColor(0, 0, 0)
	for row, cells := range bits {
		for col, dark := range cells {
			if dark {
				p.Rect(x+k*float64(col), y+k*float64(row), k, k, "F")
			}
		}
	}
}
