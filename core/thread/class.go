package thread

import (
	"strings"

	"lugtak/core/fault"
)

const ksi = 6.894757293 // MPa

// Class is a bolt's strength at a given diameter, all in MPa.
type Class struct {
	Name   string
	Rm     float64 // tensile strength
	Re     float64 // yield, Rp0.2 where there is no yield point
	Proof  float64
	TwistX float64 // ISO 898-7 factor X for twist-off
}

// classes by name: what applies up to MaxD (mm, 0 is any), first match wins.
// ISO 898-1 table 3 and SAE J429, written down from memory.
var classes = []struct {
	name           string
	maxD           float64
	rm, re, proof  float64
	twist          float64
	poundPerInchSq bool
}{
	{"4.6", 0, 400, 240, 225, 0.9, false},
	{"4.8", 0, 420, 340, 310, 0.9, false},
	{"5.6", 0, 500, 300, 280, 0.9, false},
	{"5.8", 0, 520, 420, 380, 0.88, false},
	{"6.8", 0, 600, 480, 440, 0.86, false},
	{"8.8", 16, 800, 640, 580, 0.84, false},
	{"8.8", 0, 830, 660, 600, 0.84, false},
	{"9.8", 16, 900, 720, 650, 0.815, false},
	{"10.9", 0, 1040, 940, 830, 0.79, false},
	{"12.9", 0, 1220, 1100, 970, 0.75, false},
	{"grade 2", 19.1, 74, 57, 55, 0.88, true},
	{"grade 2", 38.2, 60, 36, 33, 0.88, true},
	{"grade 5", 25.5, 120, 92, 85, 0.84, true},
	{"grade 5", 38.2, 105, 81, 74, 0.84, true},
	{"grade 8", 38.2, 150, 130, 120, 0.79, true},
}

// ParseClass finds the strength of a class ("10.9") or grade ("grade 5", "gr8",
// "5") for a thread's diameter.
func ParseClass(name string, t Thread) (Class, error) {
	n := strings.ToLower(strings.TrimSpace(name))
	n = strings.TrimPrefix(n, "class ")
	for _, p := range []string{"sae grade", "grade", "gr."} {
		n = strings.Replace(n, p, "gr", 1)
	}
	if rest, ok := strings.CutPrefix(n, "gr"); ok {
		n = "grade " + strings.TrimSpace(rest)
	} else if len(n) == 1 {
		n = "grade " + n
	}
	if strings.HasPrefix(n, "grade") && !t.Inch {
		return Class{}, fault.New(
			fault.BadClass,
			"class",
			"A metric bolt has no "+n+".",
			"The head of a metric bolt shows two numbers, as 8.8 or 10.9; one number alone is a nut's. Grades belong to inch "+
				"bolts.",
		)
	}
	if !strings.HasPrefix(n, "grade") && t.Inch && strings.Contains(n, ".") {
		return Class{}, fault.New(fault.BadClass, "class", "An inch bolt has no class "+n+".",
			"Its head shows marks for grade 2, 5 or 8.")
	}
	known := false
	for _, c := range classes {
		if c.name != n {
			continue
		}
		known = true
		if c.maxD != 0 && t.D > c.maxD {
			continue
		}
		k := 1.0
		if c.poundPerInchSq {
			k = ksi
		}
		return Class{Name: c.name, Rm: c.rm * k, Re: c.re * k, Proof: c.proof * k, TwistX: c.twist}, nil
	}
	if known {
		return Class{}, fault.New(fault.BadClass, "class", "“"+n+"” is not made in "+t.Name+".",
			"Read the mark on the head again.")
	}
	if len(n) > 16 {
		n = n[:16] + "…"
	}
	return Class{}, fault.New(fault.BadClass, "class", "“"+strings.ToValidUTF8(n, "?")+"” is not a strength class.",
		"Known are 4.6, 4.8, 5.6, 5.8, 6.8, 8.8, 9.8, 10.9, 12.9 and grades 2, 5, 8.")
}

// Treatment is what is on the thread.
type Treatment string

// The treatments Lugtak knows.
const (
	AsDelivered Treatment = "as delivered"
	Dry         Treatment = "dry"
	Oiled       Treatment = "oiled"
	AntiSeize   Treatment = "anti-seize"
	Locker      Treatment = "medium locker"
	LockerHigh  Treatment = "high-strength locker"
	Sealant     Treatment = "sealant"
	Rusted      Treatment = "rusted"
)

// Band is a range of friction numbers with its usual middle.
type Band struct{ Low, Mid, High float64 }

// Friction bands: VDI 2230 part 1 table A5 classes assigned to treatments from
// memory (anti-seize A–B, as delivered and locker B, oiled B–C, dry C, rusted D).
var frictions = map[Treatment]Band{
	AsDelivered: {0.08, 0.12, 0.16},
	Dry:         {0.14, 0.17, 0.24},
	Oiled:       {0.10, 0.13, 0.18},
	AntiSeize:   {0.06, 0.09, 0.13},
	Locker:      {0.10, 0.13, 0.17},
	LockerHigh:  {0.10, 0.14, 0.18},
	Sealant:     {0.10, 0.13, 0.18},
	Rusted:      {0.20, 0.27, 0.35},
}

// Treatments lists the treatments in the order a shop meets them.
func Treatments() []Treatment {
	return []Treatment{AsDelivered, Dry, Oiled, AntiSeize, Locker, LockerHigh, Sealant, Rusted}
}

// ParseTreatment reads a treatment as people write it. An empty one is as delivered.
func ParseTreatment(text string) (Treatment, error) {
	n := Treatment(strings.ToLower(strings.TrimSpace(strings.ReplaceAll(text, "_", " "))))
	switch n {
	case "":
		n = AsDelivered
	case "antiseize", "anti seize", "grease", "greased":
		n = AntiSeize
	case "locker", "threadlocker", "thread-locker":
		n = Locker
	case "dry and clean", "clean":
		n = Dry
	case "oil":
		n = Oiled
	}
	if _, ok := frictions[n]; !ok {
		return "", fault.New(fault.BadTreatment, "treatment", "That treatment is not known.",
			"Known are as delivered, dry, oiled, anti-seize, medium locker, high-strength locker, sealant, rusted.")
	}
	return n, nil
}

// Friction gives the band of a treatment, however it is written.
func Friction(t Treatment) (Band, error) {
	n, err := ParseTreatment(string(t))
	return frictions[n], err
}
