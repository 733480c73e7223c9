package inspect

import (
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"

	"lugtak/core/fault"
	"lugtak/core/unit"
)

// Rotor is what was measured on a brake rotor.
type Rotor struct {
	Thickness []float64 // at several points round, mm
	New       float64
	Discard   float64 // stamped on the part
	RunOut    float64 // at the wheel, mm
	Distance  float64 // km since it was new, 0 unknown
}

// RotorResult is what it means.
type RotorResult struct {
	Min       float64
	Variation float64
	Verdict   string // keep, machine, replace
	LifeKM    float64
	LifeLow   float64 // with the micrometer's error on both readings
	LifeHigh  float64
	Says      string
}

// Bounds on a rotor where its maker states none (common practice): thickness
// variation is felt above 0.025 mm, run-out at the wheel is good to 0.08 mm, a
// cut takes 0.3 mm a side, and a micrometer reads to ±0.01 mm.
const (
	variationMost = 0.025
	runOutMost    = 0.08
	cutBothSides  = 0.6
	micrometer    = 0.01
	soonKM        = 5000 // km left at the least, below which it is renewed soon
)

// Judge says keep, machine or replace, and how far the rotor goes on: the wear so
// far over its distance, carried on to the discard thickness.
func (r Rotor) Judge() (RotorResult, error) {
	if len(r.Thickness) == 0 || len(r.Thickness) > 64 {
		return RotorResult{}, fault.New(fault.Missing, "thickness_mm", "The rotor was not measured.",
			"Measure it at eight points round, in mm.")
	}
	err := fault.First(
		fault.InRange("discard_mm", r.Discard, 1, 100, "That is no discard thickness.",
			"Read it off the rotor's edge or hat, in mm."),
		fault.InRange("new_mm", r.New, 1, 100, "That is no rotor.", "Give the thickness of a new one, in mm."),
		fault.InRange("runout_mm", r.RunOut, 0, 5, "That is no run-out.", "Give the dial gauge's whole swing, in mm."),
		fault.InRange("distance_km", r.Distance, 0, 3e6, "That is no distance.",
			"Give km since the rotor was new, or leave it out."),
	)
	if err != nil {
		return RotorResult{}, err
	}
	if r.New <= r.Discard {
		return RotorResult{}, fault.New(fault.OutOfRange, "new_mm",
			"A new rotor is not thinner than its discard thickness.", "Swap them or read them again.")
	}
	res := RotorResult{Min: math.Inf(1)}
	most := math.Inf(-1)
	for i, t := range r.Thickness {
		if !(t > 0.3*r.Discard && t < 1.2*r.New) {
			return RotorResult{}, fault.New(fault.OutOfRange, "thickness_mm",
				fmt.Sprintf("Reading %d cannot be of this rotor.", i+1), "Measure that point again, in mm.")
		}
		res.Min, most = math.Min(res.Min, t), math.Max(most, t)
	}
	res.Variation = math.Round((most-res.Min)*1e6) / 1e6
	uneven := res.Variation > variationMost
	runsOut := r.RunOut > runOutMost
	cuttable := res.Min-cutBothSides > r.Discard
	left := res.Min - r.Discard
	switch {
	case left <= 0:
		res.Verdict, res.Says = "replace", "At or under its discard thickness."
	case left <= micrometer:
		res.Verdict, res.Says = "replace", "At its discard thickness as far as a micrometer tells: renew it, or measure "+
			"again with a better one."
	case uneven && cuttable:
		res.Verdict, res.Says = "machine", "Uneven in thickness, and thick enough to be cut."
	case uneven:
		res.Verdict, res.Says = "replace", "Uneven in thickness, and too thin to be cut."
	case runsOut && cuttable:
		res.Verdict, res.Says = "machine", "Even, but it runs out: clean both faces, turn it a hole on and measure again; "+
			"if it stays, cut it on the hub."
	case runsOut:
		res.Verdict, res.Says = "keep", "Even, but it runs out and is too thin to be cut: clean both faces, turn it a hole "+
			"on and measure again; if it stays, renew it."
	default:
		res.Verdict, res.Says = "keep", "Even and thick enough."
	}
	if wear := r.New - res.Min; r.Distance > 0 && wear > 2*micrometer && res.Verdict != "replace" {
		res.LifeKM = r.Distance * left / wear
		res.LifeLow = r.Distance * math.Max(0, left-micrometer) / (wear + micrometer)
		res.LifeHigh = r.Distance * (left + micrometer) / (wear - micrometer)
		if res.LifeLow < soonKM {
			res.Says += " Renew it soon."
		}
	}
	return res, nil
}

// Measure is the result as a limit and what was found against it: the discard
// thickness, the sign that the verdict answers, and the life left in words.
func (r Rotor) Measure(res RotorResult) (Limit, Finding) {
	l := Limit{
		Key:          RotorKey,
		Name:         "rotor thickness",
		Place:        "brake",
		Unit:         "mm",
		Least:        true,
		Value:        r.Discard,
		Gauge:        micrometer,
		Jurisdiction: "this rotor",
		Source:       "discard thickness as stamped",
	}
	f := Finding{Verdict: OK, Distance: res.Min - r.Discard, Advise: res.Verdict}
	switch {
	case res.Verdict == "replace" || res.Variation > variationMost:
		f.Verdict = Under
	case r.RunOut > runOutMost:
		f.Verdict = MeasureAgain
	}
	switch {
	case res.Variation > variationMost:
		l.Sign = "rotor-uneven"
	case res.Verdict == "replace":
		l.Sign = "rotor-lip"
	}
	f.Says = fmt.Sprintf("%s: %s Thinnest %s mm, varies by %s mm.",
		strings.ToUpper(res.Verdict[:1])+res.Verdict[1:], res.Says, unit.Number(res.Min, 2),
		unit.Number(res.Variation, 3))
	if res.LifeKM > 0 {
		km := func(v float64) string { return unit.Number(math.Round(v/100)*100, 0) }
		f.Says += fmt.Sprintf(" Some %s km left (%s to %s by the micrometer).", km(res.LifeKM), km(res.LifeLow),
			km(res.LifeHigh))
	}
	return l, f
}

// BushTwist is how far a bonded bush stands twisted when its bolt was clamped
// with the arm hanging: asin(droop/arm).
func BushTwist(armMM, droopMM float64) (float64, error) {
	err := fault.First(
		fault.InRange("arm_mm", armMM, 50, 2000, "No arm has that length.", "Measure from bush to ball joint, in mm."),
		fault.InRange("droop_mm", math.Abs(droopMM), 0, armMM, "The wheel cannot drop further than the arm is long.",
			"Measure how far the wheel hangs below ride height, in mm."),
	)
	if err != nil {
		return 0, err
	}
	return math.Abs(math.Asin(droopMM/armMM)) * 180 / math.Pi, nil
}

// Toe is what turns of a tie rod do to one wheel: the rod moves turns·pitch, the
// steering arm turns by atan(move/arm), the rim's edges part by rim·sin.
func Toe(turns, pitchMM, armMM, rimMM float64) (deg, mm float64, err error) {
	err = fault.First(
		fault.InRange("turns", math.Abs(turns), 0, 50, "Nobody turns a rod that far.", "Count whole turns and flats."),
		fault.InRange("pitch_mm", pitchMM, 0.5, 4, "No rod has that pitch.", "Give the thread's pitch, in mm."),
		fault.InRange("arm_mm", armMM, 50, 400, "No steering arm has that length.",
			"Measure from the steering axis to the rod end, in mm."),
		rimInRange(rimMM),
	)
	if err != nil {
		return 0, 0, err
	}
	a := math.Atan(turns * pitchMM / armMM)
	return a * 180 / math.Pi, rimMM * math.Sin(a), nil
}

func rimInRange(rimMM float64) error {
	return fault.InRange("rim_mm", rimMM, 200, 1300, "No rim has that diameter.",
		"Give the diameter at which the toe is measured, in mm.")
}

// ToneRing is what another number of teeth does to the speed the sensor reports,
// in per cent: the unit counts teeth and goes on dividing by the old number.
func ToneRing(old, new int) (float64, error) {
	for field, n := range map[string]int{"old_teeth": old, "new_teeth": new} {
		if n < 8 || n > 200 {
			return 0, fault.New(fault.OutOfRange, field, "No ring has that many teeth.", "Count them; 8 to 200.")
		}
	}
	return 100 * (float64(new)/float64(old) - 1), nil
}

// Cardan is the speed ratio of one cross joint at an angle: between cos β and
// 1/cos β, twice a turn (textbook kinematics).
func Cardan(deg float64) (low, high, spreadPct float64, err error) {
	if err := fault.InRange("angle_deg", deg, 0, 60, "No cross joint runs at that angle.",
		"Give the angle between the shafts, 0 to 60°."); err != nil {
		return 0, 0, 0, err
	}
	low = math.Cos(deg * math.Pi / 180)
	high = 1 / low
	return low, high, 100 * (high - low), nil
}

// Tyre is a tyre's size.
type Tyre struct {
	Text    string
	WidthMM float64
	Aspect  float64 // height over width, per cent; 0 where the table tells the diameter
	RimMM   float64
	Tabled  float64 // outer diameter by the table, mm; 0 where the marking tells it
}

var (
	metricTyre    = regexp.MustCompile(`^(?:LT|P|ST)?(\d{3})/(\d{2,3})(?:ZR|R|D|B|-)?F?(\d{2}(?:\.5)?)C?$`)
	plainTyre     = regexp.MustCompile(`^(\d{3})(?:SR|HR|R|-)(\d{2})C?$`)
	inchTyre      = regexp.MustCompile(`^(\d{1,2}(?:\.\d{2})?)(?:R|-)(\d{2}(?:\.5)?)C?(?:LT)?$`)
	flotationTyre = regexp.MustCompile(`^(\d{2}(?:\.\d)?)X(\d{1,2}(?:\.\d{1,2})?)(?:R|-)(\d{2}(?:\.5)?)(?:LT)?$`)
	loadIndex     = regexp.MustCompile(`^\(?\d{2,3}(?:/\d{2,3})?[A-Z]\)?\d?$`)
)

// tabled are outer diameters, mm, of sizes whose marking does not tell their height
// (ETRTO standards manual, from memory, to about a centimetre).
var tabled = map[string]float64{
	"145R13": 566, "155R13": 578, "165R13": 596, "175R13": 608, "165R14": 622, "175R14": 634, "185R14": 650, "195R14": 666,
	"205R14": 686,
	"185R15": 674, "205R16": 736,
	"6.00R16": 728, "6.50R16": 742, "7.00R16": 778, "7.50R16": 805, "8.25R16": 860,
	"8.25R20": 974, "9.00R20": 1018, "10.00R20": 1052, "11.00R20": 1082, "12.00R20": 1122,
	"8R19.5": 859, "9R22.5": 974, "10R22.5": 1020, "11R22.5": 1050, "12R22.5": 1084, "13R22.5": 1124,
}

// ParseTyre reads 205/55R16, LT265/70R17, 185R14C, 7.50R16, 31x10.50R15, with or
// without spaces, load index and speed letter (marking by ETRTO and ISO 4000-1).
// A metric size without a ratio has 82 %, an inch size about 98 % (common
// practice).
func ParseTyre(text string) (Tyre, error) {
	t := Tyre{Text: strings.TrimSpace(text)}
	words := strings.Fields(strings.ToUpper(strings.ReplaceAll(t.Text, ",", ".")))
	for len(words) > 1 && (loadIndex.MatchString(words[len(words)-1]) || words[len(words)-1] == "M+S" ||
		words[len(words)-1] == "XL" || words[len(words)-1] == "TL") {
		words = words[:len(words)-1]
	}
	s := strings.NewReplacer("×", "X", "*", "X").Replace(strings.Join(words, ""))
	n := func(x string) float64 { v, _ := strconv.ParseFloat(x, 64); return v }
	switch {
	case len(t.Text) > 40:
	case metricTyre.MatchString(s):
		m := metricTyre.FindStringSubmatch(s)
		t.WidthMM, t.Aspect, t.RimMM = n(m[1]), n(m[2]), n(m[3])*25.4
	case plainTyre.MatchString(s):
		m := plainTyre.FindStringSubmatch(s)
		t.WidthMM, t.RimMM = n(m[1]), n(m[2])*25.4
		t.Tabled = tabled[m[1]+"R"+m[2]]
	case flotationTyre.MatchString(s):
		m := flotationTyre.FindStringSubmatch(s)
		t.WidthMM, t.RimMM = n(m[2])*25.4, n(m[3])*25.4
		t.Aspect = 100 * (n(m[1])*25.4 - t.RimMM) / 2 / t.WidthMM
	case inchTyre.MatchString(s):
		m := inchTyre.FindStringSubmatch(s)
		t.WidthMM, t.RimMM = n(m[1])*25.4, n(m[2])*25.4
		t.Tabled = tabled[m[1]+"R"+m[2]]
	}
	full := t.WidthMM > 0 && t.Aspect == 0
	switch {
	case full && t.Tabled == 0:
		return Tyre{}, fault.New(fault.NoTable, "size",
			"“"+t.Text+"” says nothing of its height, and no table here has it.",
			"Take its outer diameter from the maker's table, or measure the way of ten turns.")
	case full:
		t.Aspect = 100 * (t.Tabled - t.RimMM) / 2 / t.WidthMM
	}
	if t.WidthMM < 95 || t.WidthMM > 500 || t.Aspect < 20 || t.Aspect > 120 || t.RimMM < 8*25.4 || t.RimMM > 26*25.4 {
		if r := []rune(strings.ToValidUTF8(t.Text, "?")); len(r) > 24 {
			t.Text = string(r[:24]) + "…"
		}
		return Tyre{}, fault.New(fault.BadTyre, "size", "“"+strings.ToValidUTF8(t.Text, "?")+"” is not a tyre size.",
			"Read it off the sidewall, as in 205/55R16, 7.50R16 or 31x10.50R15.")
	}
	return t, nil
}

// DiameterMM is the outer diameter unloaded, of a new one.
func (t Tyre) DiameterMM() float64 {
	if t.Tabled > 0 {
		return t.Tabled
	}
	return t.RimMM + 2*t.WidthMM*t.Aspect/100
}

// A tyre rolls less than it measures round: a radial 3.05 times its diameter at 60 km/h
// (ETRTO, from memory), some 1 % more when cold and hard, and less by its tread when worn:
// some 6.5 mm all round (common practice).
const (
	rolling    = 3.05
	hardShare  = 1.01
	treadTwice = 13.0 // mm
)

// CircumferenceM is the way of one turn on the road.
func (t Tyre) CircumferenceM() float64 { return rolling * t.DiameterMM() / 1000 }

// CircumferenceBand is the way of one turn of a worn tyre, and of a hard new one, m.
func (t Tyre) CircumferenceBand() (low, high float64) {
	return rolling * (t.DiameterMM() - treadTwice) / 1000, hardShare * t.CircumferenceM()
}

// TurnsPerSecond at a speed in km/h.
func (t Tyre) TurnsPerSecond(kmh float64) float64 { return kmh / 3.6 / t.CircumferenceM() }

// Order is a source of vibration at so many times a wheel's turn.
type Order struct {
	Source      string
	Order       float64 // of its own shaft
	PerTurn     float64 // per wheel turn
	FrequencyHz float64
	ErrorPct    float64
	Sign        string // the sign it answers
}

// Orders lists what turns and how often, for a wheel at a speed, a drive shaft
// behind an axle ratio (0 has none) and an engine speed (0 not known).
func Orders(turnsPerSecond, axleRatio, engineRPM float64) []Order {
	var out []Order
	add := func(source string, order, perTurn float64, sign string) {
		out = append(out,
			Order{Source: source, Order: order, PerTurn: perTurn, FrequencyHz: perTurn * turnsPerSecond, Sign: sign})
	}
	add("wheel", 1, 1, "vib-wheel-1")
	add("wheel", 2, 2, "vib-wheel-2")
	add("wheel", 3, 3, "")
	if axleRatio > 0 {
		add("drive shaft", 1, axleRatio, "vib-shaft-1")
		add("drive shaft", 2, 2*axleRatio, "vib-shaft-2")
	}
	if engineRPM > 0 && turnsPerSecond > 0 {
		e := engineRPM / 60 / turnsPerSecond
		for _, k := range []float64{0.5, 1, 2, 3} {
			add("engine", k, k*e, "")
		}
	}
	return out
}

// Match ranks the orders by how near they come to a frequency, those within 15 %.
func Match(orders []Order, hz float64) []Order {
	var out []Order
	for _, o := range orders {
		o.ErrorPct = 100 * (o.FrequencyHz/hz - 1)
		if math.Abs(o.ErrorPct) <= 15 {
			out = append(out, o)
		}
	}
	for i := range out {
		for j := i; j > 0 && math.Abs(out[j].ErrorPct) < math.Abs(out[j-1].ErrorPct); j-- {
			out[j], out[j-1] = out[j-1], out[j]
		}
	}
	return out
}
