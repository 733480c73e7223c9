package inspect

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"

	"lugtak/core/fault"
)

// Angle is one line of an alignment sheet, degrees.
type Angle struct {
	Wheel  string // FL, FR, RL, RR
	What   string // toe, camber, caster
	Before float64
	After  float64
}

var (
	sheetWheels = []string{"FL", "FR", "RL", "RR"}
	sheetAngles = map[string]float64{"toe": 5, "camber": 10, "caster": 20} // and what none of a road vehicle exceeds
)

const sheetForm = "Write one line for each angle: FL, toe, before, after, in degrees as 0.35 or 0°21'."

// ReadSheet reads an alignment sheet: wheel, angle, before, after, parted by commas, or by
// semicolons with decimal commas; degrees as decimals, or as degrees and minutes. A line of
// headings is passed over. Its faults are about the field "sheet" and name the line.
func ReadSheet(text string) ([]Angle, error) {
	r := csv.NewReader(strings.NewReader(strings.TrimPrefix(text, "\ufeff")))
	r.FieldsPerRecord = -1
	r.TrimLeadingSpace = true
	r.LazyQuotes = true
	if strings.Contains(text, ";") {
		r.Comma = ';'
	}
	var out []Angle
	for {
		cells, err := r.Read()
		if errors.Is(err, io.EOF) {
			return out, nil
		}
		line, _ := r.FieldPos(0)
		wrong := func(detail string) error {
			return fault.New(fault.BadSheet, "sheet", fmt.Sprintf("Line %d: %s", line, detail), sheetForm)
		}
		switch {
		case err != nil || len(cells) != 4:
			return nil, wrong("that is not four cells.")
		case line == 1 && strings.EqualFold(strings.TrimSpace(cells[0]), "wheel"):
			continue
		}
		a := Angle{Wheel: strings.ToUpper(strings.TrimSpace(cells[0])), What: strings.ToLower(strings.TrimSpace(cells[1]))}
		most, known := sheetAngles[a.What]
		var good [2]bool
		a.Before, good[0] = degrees(cells[2])
		a.After, good[1] = degrees(cells[3])
		same := func(o Angle) bool { return o.Wheel == a.Wheel && o.What == a.What }
		switch {
		case !slices.Contains(sheetWheels, a.Wheel):
			return nil, wrong("“" + cells[0] + "” is no wheel: FL, FR, RL or RR.")
		case !known:
			return nil, wrong("“" + cells[1] + "” is no angle: toe, camber or caster.")
		case !good[0] || !good[1]:
			return nil, wrong("before and after are not both degrees.")
		case math.Abs(a.Before) > most || math.Abs(a.After) > most:
			return nil, wrong(fmt.Sprintf("no %s is beyond %.0f°.", a.What, most))
		case slices.ContainsFunc(out, same):
			return nil, wrong(a.What + " of " + a.Wheel + " stands twice.")
		}
		out = append(out, a)
	}
}

// degrees reads 0.35, 0,35 or -0°21'.
func degrees(text string) (float64, bool) {
	text = strings.NewReplacer(",", ".", "−", "-", "’", "'", "′", "'").Replace(strings.TrimSpace(text))
	whole, minutes, parted := strings.Cut(text, "°")
	v, err := strconv.ParseFloat(strings.TrimSpace(whole), 64)
	minutes = strings.TrimSuffix(strings.TrimSpace(minutes), "'")
	if err != nil || math.IsInf(v, 0) || math.IsNaN(v) || !parted || minutes == "" {
		return v, err == nil && !math.IsInf(v, 0) && !math.IsNaN(v)
	}
	m, err := strconv.ParseFloat(minutes, 64)
	if err != nil || m < 0 || m >= 60 {
		return 0, false
	}
	if strings.HasPrefix(whole, "-") {
		m = -m
	}
	return v + m/60, true
}

// How well turns and lengths are known (common practice): a count to an eighth of a turn, a
// rod end's length to half a millimetre, both out and in, old and new.
const (
	countedTurns = 0.125
	measuredMM   = 0.5
)

// ToeChange is what turns counted out and in, and the difference in length of the new rod end
// to the old (mm, 0 where it was not measured), do to one wheel's toe: degrees, and how far off
// that may be (one standard error of the four readings, root of squares). Each turn further on
// makes the rod a pitch shorter, so an end that is longer is set as many turns further on.
func ToeChange(out, in, longerMM, pitchMM, armMM, rimMM float64) (deg, sure float64, err error) {
	if deg, _, err = Toe(in-out-longerMM/pitchMM, pitchMM, armMM, rimMM); err != nil {
		return 0, 0, err
	}
	off := math.Sqrt2 * countedTurns * pitchMM
	if longerMM != 0 {
		off = math.Hypot(off, math.Sqrt2*measuredMM)
	}
	return deg, math.Atan(off/armMM) * 180 / math.Pi, nil
}
