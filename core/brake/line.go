package brake

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"lugtak/core/fault"
)

// Line is what a pedal does through its fluid: pressure in MPa, clamp in N of all pistons on one side.
func Line(pedalN, ratio, masterMM, pistonMM float64, pistons int) (pressure, clamp float64, err error) {
	const again = "Measure it again, in newtons or millimetres."
	err = fault.First(
		fault.InRange("pedal_n", pedalN, 1, 5000, "No foot presses so.", again),
		fault.InRange("ratio", ratio, 0.5, 12, "No pedal has that ratio.", again),
		fault.InRange("master_mm", masterMM, 5, 80, "No master cylinder has that bore.", again),
		fault.InRange("piston_mm", pistonMM, 5, 150, "No caliper has that piston.", again),
		fault.InRange("pistons", float64(pistons), 1, 12, "No caliper has so many pistons on one side.", again),
	)
	if err != nil {
		return 0, 0, err
	}
	area := func(d float64) float64 { return math.Pi / 4 * d * d }
	pressure = pedalN * ratio / area(masterMM)
	return pressure, pressure * area(pistonMM) * float64(pistons), nil
}

const inch = 25.4

// Chamber is an air brake chamber of the clamp type.
type Chamber struct {
	Name  string
	Limit float64 // mm: the push rod travels no further, cold, at test pressure
	Full  float64 // mm: its whole stroke
}

// chambers by the area of their diaphragm in square inches; long stroke ones are marked so on their body (49 CFR
// 393.47, table of 393.47(e), limits and whole strokes written down from memory).
var chambers = []Chamber{
	{"6", 1.25 * inch, 1.625 * inch},
	{"9", 1.375 * inch, 1.75 * inch},
	{"12", 1.375 * inch, 1.75 * inch},
	{"12 long", 1.75 * inch, 2.25 * inch},
	{"16", 1.75 * inch, 2.25 * inch},
	{"16 long", 2 * inch, 2.5 * inch},
	{"20", 1.75 * inch, 2.25 * inch},
	{"20 long", 2 * inch, 2.5 * inch},
	{"24", 1.75 * inch, 2.25 * inch},
	{"24 long", 2 * inch, 2.5 * inch},
	{"30", 2 * inch, 2.5 * inch},
	{"30 long", 2.5 * inch, 3 * inch},
	{"36", 2.25 * inch, 3 * inch},
}

// Pressures at which the stroke is measured, kPa: 90 to 100 psi in the reservoir (49 CFR 393.47(e)).
const (
	leastTest = 620
	mostTest  = 690
)

// PushRod judges the stroke of a push rod. It refuses a stroke no such chamber has, and a pressure at which it tells
// nothing.
func PushRod(chamber string, strokeMM, pressureKPa float64) (c Chamber, ok bool, err error) {
	i := slices.IndexFunc(chambers, func(c Chamber) bool { return c.Name == strings.TrimSpace(chamber) })
	if i < 0 {
		var names []string
		for _, c := range chambers {
			names = append(names, c.Name)
		}
		return c, false, fault.New(fault.BadChoice, "chamber", "No chamber is marked so.",
			"Read it off its body: "+strings.Join(names, ", ")+".")
	}
	c = chambers[i]
	err = fault.First(
		fault.InRange("stroke_mm", strokeMM, 0, c.Full+0.5,
			fmt.Sprintf("A chamber %s has a stroke of %.0f mm: it cannot have gone that far.", c.Name, c.Full),
			"Mark the rod at rest and at full pressure, and measure between the marks."),
		fault.InRange("pressure_kpa", pressureKPa, leastTest, mostTest, "At that pressure the stroke tells nothing.",
			"Measure it with the engine off and 620 to 690 kPa (90 to 100 psi) in the reservoir, the pedal down."),
	)
	return c, strokeMM <= c.Limit+0.05, err
}
