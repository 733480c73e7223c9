// Package unit converts and prints the quantities of the trade.
//
// Factors are exact or those of NIST SP 811, appendix B.
package unit

import (
	"fmt"
	"math"
	"strconv"
	"strings"
	"unicode"

	"lugtak/core/fault"
)

// Torque is a moment in newton metres.
type Torque float64

// One of each unit of torque, in newton metres (NIST SP 811, appendix B).
const (
	NewtonMetre    Torque = 1
	PoundFoot      Torque = 1.3558179483314004 // lbf·ft
	PoundInch      Torque = PoundFoot / 12
	KilopondMetre  Torque = 9.80665 // kgf·m
	NewtonCentim   Torque = 0.01
	KilopondCentim Torque = KilopondMetre / 100
)

// FtLb is the torque in pound-force feet.
func (t Torque) FtLb() float64 { return float64(t / PoundFoot) }

// Nm is the torque in newton metres.
func (t Torque) Nm() float64 { return float64(t) }

// String prints newton metres as a wrench would show them: one decimal where
// it says something, never a bare number.
func (t Torque) String() string { return Number(t.Nm(), 1) + " N·m" }

// FtLbString prints pound-force feet with one decimal at most.
func (t Torque) FtLbString() string { return Number(t.FtLb(), 1) + " ft·lb" }

// Both prints both units side by side, newton metres first.
func (t Torque) Both() string { return t.String() + " (" + t.FtLbString() + ")" }

// Number prints v with at most the given decimals and no trailing zeros.
func Number(v float64, decimals int) string {
	s := strconv.FormatFloat(v, 'f', decimals, 64)
	if strings.Contains(s, ".") {
		s = strings.TrimRight(strings.TrimRight(s, "0"), ".")
	}
	if s == "-0" {
		s = "0"
	}
	return s
}

// Figure reads a figure as people type it: digits with a decimal point or comma,
// a sign and an exponent if need be, nothing else.
func Figure(text string) (float64, bool) {
	s := strings.Replace(strings.TrimSpace(text), ",", ".", 1)
	if strings.Trim(s, "0123456789.+-eE") != "" {
		return 0, false
	}
	v, err := strconv.ParseFloat(s, 64)
	return v, err == nil
}

// Dimension is what a unit measures.
type Dimension string

// The dimensions Lugtak converts within.
const (
	DimTorque      Dimension = "torque"
	DimForce       Dimension = "force"
	DimLength      Dimension = "length"
	DimMass        Dimension = "mass"
	DimAngle       Dimension = "angle"
	DimPressure    Dimension = "pressure"
	DimSpeed       Dimension = "speed"
	DimVolume      Dimension = "volume"
	DimTemperature Dimension = "temperature"
)

// Unit is one unit of measure: a value in it times Factor, plus Offset, is the
// value in the SI unit of its dimension (degree for angles).
type Unit struct {
	Symbol string
	Dim    Dimension
	Factor float64
	Offset float64
	names  string // spellings, separated by spaces, as fold leaves them
}

const (
	inch  = 0.0254
	pound = 0.45359237
	lbf   = pound * 9.80665
)

var units = []Unit{
	{"N·m", DimTorque, 1, 0, "nm newtonmeter newtonmetre newtonmeters newtonmetres"},
	{"ft·lb", DimTorque, float64(PoundFoot), 0,
		"ftlb ftlbs lbft lbsft ftlbf lbfft footpound footpounds poundfoot poundfeet poundsfeet"},
	{"in·lb", DimTorque, float64(PoundInch), 0,
		"inlb inlbs lbin lbsin inlbf lbfin inchpound inchpounds poundinch poundinches"},
	{"kgf·m", DimTorque, float64(KilopondMetre), 0, "kgfm mkgf mkg mkp kpm kgm kilopondmeter kilopondmetre"},
	{"N·cm", DimTorque, float64(NewtonCentim), 0, "ncm"},
	{"N·mm", DimTorque, 1e-3, 0, "nmm"},
	{"cN·m", DimTorque, 1e-2, 0, "cnm"},
	{"daN·m", DimTorque, 10, 0, "danm"},
	{"kN·m", DimTorque, 1e3, 0, "knm"},
	{"kgf·cm", DimTorque, float64(KilopondCentim), 0, "kgfcm kgcm cmkg"},
	{"N", DimForce, 1, 0, "n newton newtons"},
	{"kN", DimForce, 1e3, 0, "kn"},
	{"lbf", DimForce, lbf, 0, "lbf poundforce"},
	{"kgf", DimForce, 9.80665, 0, "kgf kp"},
	{"m", DimLength, 1, 0, "m meter metre meters metres"},
	{"mm", DimLength, 1e-3, 0, "mm millimeter millimetre millimeters millimetres"},
	{"cm", DimLength, 1e-2, 0, "cm"},
	{"µm", DimLength, 1e-6, 0, "µm um micron microns"},
	{"km", DimLength, 1e3, 0, "km kilometer kilometre kilometers kilometres"},
	{"in", DimLength, inch, 0, `in inch inches "`},
	{"ft", DimLength, 12 * inch, 0, "ft foot feet '"},
	{"mi", DimLength, 1609.344, 0, "mi mile miles"},
	{"kg", DimMass, 1, 0, "kg kilogram kilograms"},
	{"g", DimMass, 1e-3, 0, "g gram grams"},
	{"t", DimMass, 1e3, 0, "t tonne tonnes"},
	{"lb", DimMass, pound, 0, "lb lbs pound pounds"},
	{"°", DimAngle, 1, 0, "° deg degs degree degrees"},
	{"rad", DimAngle, 180 / math.Pi, 0, "rad radian radians"},
	{"turn", DimAngle, 360, 0, "turn turns rev revolution revolutions"},
	{"flat", DimAngle, 60, 0, "flat flats"},
	{"Pa", DimPressure, 1, 0, "pa"},
	{"kPa", DimPressure, 1e3, 0, "kpa"},
	{"MPa", DimPressure, 1e6, 0, "mpa n/mm2 n/mm²"},
	{"bar", DimPressure, 1e5, 0, "bar"},
	{"psi", DimPressure, lbf / (inch * inch), 0, "psi"},
	{"ksi", DimPressure, 1e3 * lbf / (inch * inch), 0, "ksi"},
	{"m/s", DimSpeed, 1, 0, "m/s"},
	{"km/h", DimSpeed, 1 / 3.6, 0, "km/h kmh kph"},
	{"mph", DimSpeed, 0.44704, 0, "mph mi/h"},
	{"l", DimVolume, 1e-3, 0, "l liter litre liters litres"},
	{"ml", DimVolume, 1e-6, 0, "ml"},
	{"K", DimTemperature, 1, 0, "k kelvin"},
	{"°C", DimTemperature, 1, 273.15, "°c c degc celsius"},
	{"°F", DimTemperature, 5.0 / 9, 459.67 * 5 / 9, "°f f degf fahrenheit"},
}

var byName = func() map[string]*Unit {
	m := map[string]*Unit{}
	for i := range units {
		for _, n := range strings.Fields(units[i].names) {
			m[n] = &units[i]
		}
	}
	return m
}()

var folder = strings.NewReplacer(" ", "", "·", "", "⋅", "", "∙", "", "•", "", ".", "", "*", "", "-", "", "_",
	"", "\u00a0", "", "\u202f", "")

// Fold reduces a spelling of a unit to letters: "N·m", "n.m." and "N m" alike.
func Fold(s string) string { return folder.Replace(strings.ToLower(s)) }

// Lookup finds a unit by any of its spellings.
func Lookup(name string) (Unit, bool) {
	u, ok := byName[Fold(name)]
	if !ok {
		return Unit{}, false
	}
	return *u, true
}

// Units lists every unit, in the order of their dimensions.
func Units() []Unit { return append([]Unit(nil), units...) }

// Convert carries value from one unit to another of the same dimension. It
// refuses unknown units, units of different dimensions, values that are not
// finite and temperatures below absolute zero.
func Convert(value float64, from, to string) (float64, error) {
	if math.IsNaN(value) || math.IsInf(value, 0) {
		return 0, fault.New(fault.BadNumber, "value", "The value is not a finite number.", "Give a plain number.")
	}
	a, ok := Lookup(from)
	if !ok {
		return 0, unknownUnit("from", from)
	}
	b, ok := Lookup(to)
	if !ok {
		return 0, unknownUnit("to", to)
	}
	if a.Dim != b.Dim {
		return 0, fault.New(fault.UnitMismatch, "to",
			a.Symbol+" measures "+string(a.Dim)+", "+b.Symbol+" measures "+string(b.Dim)+".",
			"Choose two units of one kind.")
	}
	si := value*a.Factor + a.Offset
	if a.Dim == DimTemperature && si < 0 {
		return 0, fault.New(fault.OutOfRange, "value", "That is below absolute zero.", "Check the figure and its sign.")
	}
	if a.Factor == b.Factor && a.Offset == b.Offset {
		return value, nil
	}
	return (si - b.Offset) / b.Factor, nil
}

func unknownUnit(field, name string) error {
	remedy := "Known are N·m, ft·lb, in·lb, kgf·m, mm, in, kN, lbf, MPa, psi, kg, lb, °, turn, flat, km/h, mph and others."
	if Fold(name) == "" {
		return fault.New(fault.Missing, field, "No unit given.", remedy)
	}
	return fault.New(fault.UnknownUnit, field, "“"+clip(name)+"” is not a unit known here.", remedy)
}

func clip(s string) string {
	r := []rune(s)
	if len(r) > 24 {
		return string(r[:24]) + "…"
	}
	return s
}

// Capital begins a text with a capital letter.
func Capital(s string) string {
	runes := []rune(s)
	if len(runes) > 0 {
		runes[0] = unicode.ToUpper(runes[0])
	}
	return string(runes)
}

// Quart is a US liquid quart in millilitres (NIST SP 811, appendix B).
const Quart = 946.352946

// Volume is millilitres in litres and US quarts, or in millilitres where it is little.
func Volume(ml float64) string {
	if ml < 1000 {
		return fmt.Sprintf("%.0f ml (%s qt)", ml, Number(ml/Quart, 2))
	}
	return fmt.Sprintf("%s l (%s qt)", Number(ml/1000, 2), Number(ml/Quart, 2))
}

// Kilometres is a distance in whole kilometres, its thousands apart.
func Kilometres[N int | float64](km N) string {
	return Whole(int(math.Round(float64(km)))) + " km"
}

// Whole is a whole number, its thousands apart by a thin space that does not break.
func Whole(n int) string {
	if n < 0 {
		return "−" + Whole(-n)
	}
	if n < 1000 {
		return strconv.Itoa(n)
	}
	return fmt.Sprintf("%s\u202f%03d", Whole(n/1000), n%1000)
}

// HoursMinutes is minutes as people say them: "55 min", to the nearest five beyond the
// first hour "2 h 05".
func HoursMinutes(minutes float64) string {
	n := int(math.Round(minutes))
	if n < 60 {
		return fmt.Sprintf("%d min", n)
	}
	n = 5 * int(math.Round(minutes/5))
	return fmt.Sprintf("%d h %02d", n/60, n%60)
}
