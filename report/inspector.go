package report

import (
	"fmt"
	"math"
	"strings"
)

// The columns of the inspector's table, millimetres from the margin.
const (
	atRecipe   = 42.0
	atWindow   = 66.0
	atSign     = 97.0
	atLetter   = 101.0
	atReading  = 106.0
	atEvidence = 141.0
	atTool     = 163.0
	atBy       = 171.0
)

var headings = []struct {
	at   float64
	says string
}{
	{0, "Joint, hardware, condition"},
	{atRecipe, "Recipe"},
	{atWindow, "Window"},
	{atSign - 2, "Sign"},
	{atReading, "Reading"},
	{atEvidence, "Evidence"},
	{atTool, "Tool"},
	{atBy, "By"},
}

// row of the table is as high as a line of it.
const rowHigh = 4.2

// inspector writes every fastener with what it was proved by, the tools, what was passed
// over and met, and last what a verifier needs. A joint is never split.
func (p paper) inspector(r *Report) {
	y := p.inspected(r)
	for _, j := range r.Joints {
		y = p.joint(r, j, y)
	}
	p.rule(y-2, 0.4, ink)
	y = p.toolTable(r, y+3)
	y = p.remarks(r, y)
	p.verifier(r, y)
}

// inspected begins an inspector's page and says where its table goes on.
func (p paper) inspected(r *Report) float64 {
	st := r.State
	p.AddPage()
	p.face(ink, "B", 10)
	x := p.put(margin, 14, st.ID)
	p.face(steel, "", 9)
	p.put(x+4, 14,
		strings.Join(nonEmpty(st.Vehicle.Fleet+" "+st.Vehicle.Name, st.Vehicle.Plate, st.Vehicle.VIN, day(st.Last)), " · "))
	p.face(ink, "B", 10)
	p.put(margin+width-p.GetStringWidth("For the inspector"), 14, "For the inspector")
	p.rule(16.5, 0.5, ink)
	p.face(ink, "B", 13)
	p.put(margin, 23, r.Head)
	p.face(steel, "", 8)
	for _, c := range headings {
		p.put(margin+c.at, 28.5, c.says)
	}
	p.rule(30, 0.4, ink)
	return 35
}

// tall is a block of lines in one column.
type tall struct {
	at, w float64
	style string
	size  float64
	text  []string
}

func (p paper) joint(r *Report, j JointBlock, y float64) float64 {
	blocks := []tall{
		{0, 40, "B", 8.8, []string{j.Title}},
		{0, 40, "", 8, j.About},
		{atRecipe, 23, "B", 8.5, j.Recipe},
		{atWindow, 29, "", 8, j.Window},
	}
	high := map[float64]int{}
	for i := range blocks {
		b := &blocks[i]
		p.face(ink, b.style, b.size)
		var broken []string
		for _, t := range b.text {
			broken = append(broken, p.lines(t, b.w)...)
		}
		b.text = broken
		high[b.at] += len(broken)
	}
	rows := make([][3][]string, len(j.Rows))
	sum := 0
	for i, f := range j.Rows {
		p.face(ink, "", 8)
		for _, t := range f.Readings {
			rows[i][0] = append(rows[i][0], p.lines(t, 34)...)
		}
		rows[i][1] = p.lines(f.Evidence, 21)
		rows[i][2] = p.lines(f.By, 15)
		sum += max(1, len(rows[i][0]), len(rows[i][1]), len(rows[i][2]))
	}
	need := rowHigh * float64(max(high[0], high[atRecipe], high[atWindow], sum))
	if y+need > foot {
		y = p.inspected(r)
	}
	p.rule(y-3.2, 0.15, line)
	used := map[float64]float64{}
	for _, b := range blocks {
		p.face(ink, b.style, b.size)
		for _, l := range b.text {
			p.put(margin+b.at, y+used[b.at], l)
			used[b.at] += rowHigh
		}
	}
	at := y
	for i, f := range j.Rows {
		p.sign(margin+atSign, at-1.1, 0.075, j.Drive, f.Mark)
		p.face(ink, "B", 8.5)
		p.put(margin+atLetter, at, f.Letter)
		p.face(ink, "", 8)
		p.put(margin+atTool, at, f.Tool)
		n := 1
		for c, x := range []float64{atReading, atEvidence, atBy} {
			for k, l := range rows[i][c] {
				p.put(margin+x, at+rowHigh*float64(k), l)
			}
			n = max(n, len(rows[i][c]))
		}
		at += rowHigh * float64(n)
	}
	return y + need + 2.4
}

func (p paper) toolTable(r *Report, y float64) float64 {
	if len(r.Tools) == 0 {
		return y
	}
	if y+rowHigh*float64(len(r.Tools)+1) > foot {
		y = p.inspected(r)
	}
	at := []float64{0, 24, 50, 96, 122, 146, 162}
	p.face(steel, "", 8)
	for i, s := range []string{"Tool", "Kind", "Range used", "Calibrated", "Good until", "Pulls", "State"} {
		p.put(margin+at[i], y, s)
	}
	for _, t := range r.Tools {
		y += rowHigh
		for i, s := range []string{t.Name, t.Kind, t.Range, t.Calibrated, t.Until, t.Pulls, t.State} {
			style := ""
			if i == 0 || i == 6 {
				style = "B"
			}
			p.face(ink, style, 8)
			p.put(margin+at[i], y, s)
		}
	}
	y += 3
	p.rule(y, 0.4, ink)
	return y + 5
}

// remarks writes the numbered notes and what was driven and counted.
func (p paper) remarks(r *Report, y float64) float64 {
	notes := r.Notes
	if len(r.Driven) > 0 {
		notes = append(notes, Note{"Driven, answered and counted", strings.Join(r.Driven, ". ") + "."})
	}
	for _, n := range notes {
		p.face(ink, "", 8.5)
		text := p.lines(n.Text, width)
		if y+5+4*float64(len(text)) > foot {
			y = p.inspected(r)
		}
		p.face(ink, "B", 9.5)
		y = p.para(margin, y, width, 4.4, n.Title)
		p.face(ink, "", 8.5)
		for _, l := range text {
			p.put(margin, y, l)
			y += 4
		}
		y += 1.6
	}
	return y
}

// verifier writes what shows that the paper is true: how the journal ends, whose key signed
// that, and how to check both.
func (p paper) verifier(r *Report, y float64) {
	if y+qrSide+8 > foot {
		y = p.inspected(r)
	}
	p.rule(y-1, 0.4, ink)
	p.code(r, margin, y+2)
	x := margin + qrSide + 6
	p.face(ink, "B", 10)
	p.put(x, y+5, "For a verifier")
	p.face(ink, "", 8.2)
	at := y + 9.4
	at = p.para(x, at, 92, 3.9, r.Gates)
	at = p.para(x, at, 92, 3.9, fmt.Sprintf("Journal of %d events; its last hash, SHA-256:", r.State.Seq))
	for hash := r.Hash; hash != ""; {
		n := min(32, len(hash))
		p.put(x, at, spaced(hash[:n]))
		hash = hash[n:]
		at += 3.9
	}
	at = p.para(x, at, 92, 3.9, "Shop key, Ed25519, fingerprint "+spaced(r.Key)+": "+r.KeyWords())
	if r.FileAt != "" {
		at = p.para(x, at, 92, 3.9, "Head of the shop's file: "+r.FileAt)
	}
	at = p.para(x, at, 92, 3.9, "The job's file is attached. Check it: lugtak verify FILE HASH --trust KEY.")
	p.face(ink, "B", 10)
	p.put(margin+132, y+5, "Signed")
	p.face(ink, "", 8.2)
	side := y + 9.4
	for _, s := range r.Signed {
		side = p.para(margin+132, side, 52, 3.9, s)
	}
	word := "Nothing simulated in this job."
	if r.Simulated() {
		word = simulated
	}
	p.face(ink, "B", 8.2)
	p.para(margin+132, math.Max(side, at-3.9), 52, 3.9, word)
}

// spaced parts a hash into groups of four.
func spaced(hash string) string {
	var b strings.Builder
	for i, r := range hash {
		if i > 0 && i%4 == 0 {
			b.WriteByte(' ')
		}
		b.WriteRune(r)
	}
	return b.String()
}
