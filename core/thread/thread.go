// Package thread reckons what a bolt is and what it bears: metric and inch
// threads, strength classes, friction, preload, tightening torque, twist-off.
//
// Lengths are in millimetres, stresses in megapascals, forces in newtons and
// torques in newton metres unless a name says otherwise.
package thread

import (
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"lugtak/core/fault"
)

// Thread is one 60° screw thread.
type Thread struct {
	Name string  // as people write it: "M12x1.5", "1/2-13"
	D    float64 // nominal diameter, mm
	P    float64 // pitch, mm
	Inch bool
}

// pitches by nominal diameter in mm: the coarse one first, then the fine ones a bolt is
// made in (ISO 261, from memory).
var pitches = map[float64][]float64{
	3: {0.5, 0.35}, 3.5: {0.6, 0.35}, 4: {0.7, 0.5}, 4.5: {0.75, 0.5}, 5: {0.8, 0.5}, 6: {1, 0.75}, 7: {1, 0.75},
	8: {1.25, 1, 0.75}, 9: {1.25, 1, 0.75}, 10: {1.5, 1.25, 1, 0.75}, 11: {1.5, 1, 0.75}, 12: {1.75, 1.5, 1.25, 1},
	14: {2, 1.5, 1.25, 1}, 16: {2, 1.5, 1}, 18: {2.5, 2, 1.5, 1}, 20: {2.5, 2, 1.5, 1}, 22: {2.5, 2, 1.5, 1},
	24: {3, 2, 1.5, 1}, 27: {3, 2, 1.5, 1}, 30: {3.5, 3, 2, 1.5, 1}, 33: {3.5, 3, 2, 1.5}, 36: {4, 3, 2, 1.5},
	39: {4, 3, 2, 1.5}, 42: {4.5, 4, 3, 2, 1.5}, 45: {4.5, 4, 3, 2, 1.5}, 48: {5, 4, 3, 2, 1.5}, 52: {5, 4, 3, 2, 1.5},
	56: {5.5, 4, 3, 2, 1.5}, 60: {5.5, 4, 3, 2, 1.5}, 64: {6, 4, 3, 2, 1.5},
}

// finePitches are sizes that have no coarse pitch (ISO 261, from memory).
var finePitches = map[float64][]float64{
	15: {1.5, 1}, 17: {1.5, 1}, 25: {2, 1.5, 1}, 26: {1.5}, 28: {2, 1.5, 1}, 32: {2, 1.5}, 35: {1.5}, 38: {1.5},
	40: {3, 2, 1.5}, 50: {3, 2, 1.5}, 55: {4, 3, 2, 1.5}, 58: {4, 3, 2, 1.5}, 62: {4, 3, 2, 1.5},
}

// inchTPI are the threads per inch of a size: coarse, fine, then extra fine and the
// constant series in use (ASME B1.1, from memory).
var inchTPI = map[string][]float64{
	"1/4": {20, 28, 32}, "5/16": {18, 24, 32}, "3/8": {16, 24, 32}, "7/16": {14, 20, 28}, "1/2": {13, 20, 28},
	"9/16": {12, 18, 24},
	"5/8":  {11, 18, 24}, "3/4": {10, 16, 20}, "7/8": {9, 14, 20}, "1": {8, 12, 14, 20}, "1 1/8": {7, 12, 18, 8},
	"1 1/4": {7, 12, 18, 8},
	"#0":    {80, 80}, "#1": {64, 72}, "#2": {56, 64}, "#3": {48, 56}, "#4": {40, 48}, "#5": {40, 44}, "#6": {32, 40},
	"#8": {32, 36}, "#10": {24, 32}, "#12": {24, 28, 32},
	"1 3/8": {6, 12, 18, 8}, "1 1/2": {6, 12, 18, 8}, "1 3/4": {5, 12, 8}, "2": {4.5, 12, 8},
}

var (
	metricForm = regexp.MustCompile(`^[Mm] ?(\d{1,2}(?:[.,]\d)?)(?: ?[xX×*] ?(\d(?:[.,]\d{1,2})?))?$`)
	inchForm   = regexp.MustCompile(`^(?:(?:(\d)[ -])?(\d{1,2}/\d{1,2})|(#\d{1,2}|\d))(?: ?(?:"|IN))?` +
		`(?: ?- ?(\d{1,2}(?:\.5)?))?(?: ?(?:UN(C|F|EF|S|)))?$`)
)

// Parse reads a thread designation: "M10", "M12x1.5", "3/8-16", "7/16-20 UNF",
// "1/2 UNC". Only threads of the standard series are threads: metric from 3 to 64 mm,
// inch from #0 to 2 in.
func Parse(s string) (Thread, error) {
	t := strings.TrimSpace(s)
	if m := metricForm.FindStringSubmatch(t); m != nil {
		return metric(t, number(m[1]), m[2])
	}
	if m := inchForm.FindStringSubmatch(strings.ToUpper(t)); m != nil {
		return inchThread(t, m)
	}
	if len(t) > 24 {
		t = t[:24] + "…"
	}
	return Thread{}, fault.New(fault.BadThread, "thread", "“"+strings.ToValidUTF8(t, "?")+"” is not a thread.",
		"Write it as M12x1.5, M10, 3/8-16 or 1/2-20.")
}

// metric finds a thread of the standard series.
func metric(text string, d float64, pitch string) (Thread, error) {
	series := pitches[d]
	coarse := len(series) > 0
	if !coarse {
		series = finePitches[d]
	}
	if len(series) == 0 {
		return Thread{}, fault.New(fault.BadThread, "thread", "“"+text+"” is not a size of the standard series.",
			"Measure the diameter again: M10, M12, M14 are usual.")
	}
	if pitch == "" && !coarse {
		return Thread{}, fault.New(fault.BadThread, "thread", "“"+text+"” has no coarse pitch.",
			"Write the pitch too: "+list(series)+" mm.")
	}
	p := series[0]
	if pitch != "" {
		p = number(pitch)
	}
	if !slices.Contains(series, p) {
		return Thread{}, fault.New(fault.BadThread, "thread", "“"+text+"” is not a thread of the standard series.",
			"M"+fmtNum(d)+" has a pitch of "+list(series)+" mm: hold a thread gauge to it.")
	}
	name := "M" + fmtNum(d)
	if !coarse || p != series[0] {
		name += "x" + fmtNum(p)
	}
	return Thread{Name: name, D: d, P: p}, nil
}

func inchThread(text string, m []string) (Thread, error) {
	size := m[2] + m[3]
	if m[1] != "" {
		size = m[1] + " " + size
	}
	name := size
	series := inchTPI[size]
	tpi := number(m[4])
	switch {
	case len(series) == 0:
		return Thread{}, fault.New(fault.BadThread, "thread", "“"+text+"” is not a size of the standard series.",
			"Measure the diameter again: 3/8, 7/16, 1/2 are usual.")
	case tpi > 0:
	case m[5] == "C":
		tpi = series[0]
	case m[5] == "F":
		tpi = series[1]
	}
	if !slices.Contains(series, tpi) {
		return Thread{}, fault.New(fault.BadThread, "thread",
			"“"+text+"” is not a thread of the standard series.", size+" in has "+list(series)+" threads to the inch: hold a "+
				"thread gauge to it.")
	}
	d := 0.0
	if no, numbered := strings.CutPrefix(size, "#"); numbered {
		d, size = 0.060+0.013*number(no), "" // number sizes, inch (ASME B1.1)
	}
	for _, part := range strings.Fields(size) {
		over, under, ok := strings.Cut(part, "/")
		if !ok {
			d += number(part)
			continue
		}
		d += number(over) / number(under)
	}
	return Thread{Name: name + "-" + fmtNum(tpi), D: d * 25.4, P: 25.4 / tpi, Inch: true}, nil
}

// list is figures as a sentence has them.
func list(v []float64) string {
	words := make([]string, len(v))
	for i, x := range v {
		words[i] = fmtNum(x)
	}
	if n := len(words); n > 1 {
		return strings.Join(words[:n-1], ", ") + " or " + words[n-1]
	}
	return words[0]
}

func number(s string) float64 {
	v, _ := strconv.ParseFloat(strings.Replace(s, ",", ".", 1), 64)
	return v
}

func fmtNum(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }

// PitchDiameter is d2 (ISO 724).
func (t Thread) PitchDiameter() float64 { return t.D - 0.649519*t.P }

// RootDiameter is d3 (ISO 724).
func (t Thread) RootDiameter() float64 { return t.D - 1.226869*t.P }

// StressArea is As in mm² (ISO 898-1; for inch threads ASME B1.1,
// At = 0.7854·(D − 0.9743/n)²).
func (t Thread) StressArea() float64 {
	k := 0.9382
	if t.Inch {
		k = 0.9743
	}
	d := t.D - k*t.P
	return math.Pi / 4 * d * d
}

// minRoot is the least root diameter of tolerance class 6g: d3 less the
// allowance es, the pitch-diameter tolerance and the root radius of P/8
// (ISO 965-1, formulas for es and Td2; from memory).
func (t Thread) minRoot() float64 {
	es := (15 + 11*t.P) / 1000
	lo, hi := 0.99, 1.4
	for lo, hi = 0.99, 1.4; t.D > hi && hi < 180; {
		lo, hi = hi, hi*2
	}
	td2 := 0.090 * math.Pow(t.P, 0.4) * math.Pow(math.Sqrt(lo*hi), 0.1)
	height := math.Sqrt(3) / 2 * t.P
	return t.PitchDiameter() - es - td2 - 2*(height/2-t.P/8)
}

// headDiameters gives the bearing diameter of the head and the hole, mm
// (ISO 4014 d_w, ISO 273 medium), or good stand-ins off the table.
func (t Thread) headDiameters() (dw, dh float64) {
	for _, r := range heads {
		if math.Abs(r[0]-t.D) < 0.01 {
			return r[1], r[2]
		}
	}
	return 1.4 * t.D, 1.1 * t.D
}

var heads = [][3]float64{
	{5, 6.88, 5.5}, {6, 8.88, 6.6}, {8, 11.63, 9}, {10, 14.63, 11}, {12, 16.63, 13.5}, {14, 19.64, 15.5},
	{16, 22.49, 17.5}, {18, 25.34, 20}, {20, 28.19, 22}, {22, 31.71, 24}, {24, 33.61, 26},
}

// AdvancePer is how far a nut travels over the given angle in degrees, mm.
func (t Thread) AdvancePer(deg float64) float64 { return t.P * deg / 360 }
