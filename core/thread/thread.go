// Package thread reckons what a bolt is and what it bears: metric and inch
// threads, strength classes, friction, preload, tightening torque, twist-off.
//
// Lengths are in millimetres, stresses in megapascals, forces in newtons and
// torques in newton metres unless a name says otherwise.
package thread

import (
	"math"
	"regexp"
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

// Coarse pitches by nominal diameter (ISO 261; inch by ASME B1.1).
var coarse = map[float64]float64{
	3: 0.5, 4: 0.7, 5: 0.8, 6: 1, 7: 1, 8: 1.25, 10: 1.5, 12: 1.75, 14: 2, 16: 2,
	18: 2.5, 20: 2.5, 22: 2.5, 24: 3, 27: 3, 30: 3.5, 33: 3.5, 36: 4,
}

var (
	uncTPI = map[string]float64{"1/4": 20, "5/16": 18, "3/8": 16, "7/16": 14, "1/2": 13, "9/16": 12, "5/8": 11, "3/4": 10, "7/8": 9, "1": 8}
	unfTPI = map[string]float64{"1/4": 28, "5/16": 24, "3/8": 24, "7/16": 20, "1/2": 20, "9/16": 18, "5/8": 18, "3/4": 16, "7/8": 14, "1": 12}

	metricForm = regexp.MustCompile(`^[Mm] ?(\d{1,2}(?:[.,]\d)?)(?: ?[xX×*] ?(\d(?:[.,]\d{1,2})?))?$`)
	inchForm   = regexp.MustCompile(`^(?:(?:(\d)[ -])?(\d{1,2}/\d{1,2})|(\d))(?: ?(?:"|IN))?(?: ?- ?(\d{1,2}))?(?: ?(?:UN([CF])))?$`)
)

// Parse reads a thread designation: "M10", "M12x1.5", "3/8-16", "7/16-20 UNF",
// "1/2 UNC". Metric diameters run from 3 to 64 mm, inch from 1/4 to 2 in.
func Parse(s string) (Thread, error) {
	t := strings.TrimSpace(s)
	if m := metricForm.FindStringSubmatch(t); m != nil {
		d := number(m[1])
		p, std := coarse[d]
		if m[2] != "" {
			p = number(m[2])
		} else if !std {
			return Thread{}, fault.New("bad_thread", "thread", "“"+t+"” has no coarse pitch known here.", "Write the pitch too, as in M12x1.5.")
		}
		if d < 3 || d > 64 || p < 0.2 || p > d/3 {
			return Thread{}, fault.New("bad_thread", "thread", "“"+t+"” is not a thread a bolt has.", "Check diameter and pitch, as in M12x1.5.")
		}
		name := "M" + fmtNum(d)
		if p != coarse[d] {
			name += "x" + fmtNum(p)
		}
		return Thread{Name: name, D: d, P: p}, nil
	}
	if m := inchForm.FindStringSubmatch(strings.ToUpper(t)); m != nil {
		if th, ok := inchThread(m); ok {
			return th, nil
		}
	}
	if len(t) > 24 {
		t = t[:24] + "…"
	}
	return Thread{}, fault.New("bad_thread", "thread", "“"+strings.ToValidUTF8(t, "?")+"” is not a thread.", "Write it as M12x1.5, M10, 3/8-16 or 1/2-20.")
}

func inchThread(m []string) (Thread, bool) {
	size := m[2] + m[3]
	d := number(size)
	if a, b, ok := strings.Cut(size, "/"); ok {
		if number(b) == 0 {
			return Thread{}, false
		}
		d = number(a) / number(b)
	}
	if m[1] != "" {
		d += number(m[1])
		size = m[1] + " " + size
	}
	tpi := number(m[4])
	switch {
	case tpi > 0:
	case m[5] == "C":
		tpi = uncTPI[size]
	case m[5] == "F":
		tpi = unfTPI[size]
	}
	if tpi < 4 || tpi > 80 || d < 0.2 || d > 2 {
		return Thread{}, false
	}
	return Thread{Name: size + "-" + fmtNum(tpi), D: d * 25.4, P: 25.4 / tpi, Inch: true}, true
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
