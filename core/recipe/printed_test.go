package recipe

import (
	_ "embed"
	"strings"
	"testing"
)

// Lines as manuals print them, written from memory of their style before the code that reads them was looked at, in
// three sets of 79, 75 and 60; their figures are invented. What they read as was written beside them, by hand; a ? is
// asked about. Of the plain ones the code as it stood read 60 of 77, 65 of 73 and 48 of 54.
//
//go:embed testdata/printed.tsv
var printed string

func TestPrintedLines(t *testing.T) {
	lines := strings.Split(strings.TrimSpace(printed), "\n")[1:]
	if len(lines) < 200 {
		t.Fatalf("%d lines", len(lines))
	}
	for _, line := range lines {
		text, want, _ := strings.Cut(line, "\t")
		pastes(t, strings.ReplaceAll(text, `\n`, "\n"), want)
	}
}

// pastes holds what a paragraph reads as against what it says: its recipes, or a ? where somebody is asked.
func pastes(t *testing.T, text, want string) {
	t.Helper()
	read, err := Paste(text, nil)
	if err != nil {
		t.Errorf("%q: %v", text, err)
		return
	}
	var got []string
	for _, l := range read {
		switch {
		case len(l.Asks) > 0:
			got = append(got, "?")
		case l.Recipe != "":
			got = append(got, l.Recipe)
		}
	}
	// A sentence that is asked about puts the whole paragraph before somebody.
	is := strings.Join(got, " | ")
	if want == "?" && strings.Contains(is, "?") {
		return
	}
	if is != want {
		t.Errorf("%q reads as %q, want %q", text, is, want)
	}
}

// A table has its units in its head. A second unit says the figure before it again; the same unit again is a stage
// where the head counts it, and may be another joint's or the other end of a window where it does not: that is asked.
func TestPasteReadsATable(t *testing.T) {
	const dash = "\n| --- | --- | --- | --- |\n"
	for text, want := range map[string]string{
		"Component\tNm\tft-lb\nCaliper bolts\t105\t77\nHub nut\t250\t184": "105 Nm | 250 Nm",
		"Component\tft-lb\tNm\nCaliper bolts\t77\t105":                    "77 ft-lb",
		"| Joint | Thread | Torque (N·m) | Angle (°) |" + dash + "| Arm | M12 | 60 | 90 |\n| Nut | M10 | 25–30 | — |": "" +
			"60 Nm + 90° | 25–30 Nm",
		"Joint | 1st Nm | 2nd Nm | 3rd °\nHub | 40 | 80 | 60":   "40 Nm; 80 Nm + 60°",
		"Joint | Stage 1 Nm | Stage 2 Nm\nHub | 40 | 80":        "40 Nm; 80 Nm",
		"Joint | Front Nm | Rear Nm\nCaliper | 80 | 105":        "?",
		"Joint | Min Nm | Max Nm\nCaliper | 80 | 105":           "?",
		"Joint | Nm | Nm\nCaliper | 80 | 105":                   "?",
		"Fastening   Torque N m   lbf ft\nDamper   1,200   885": "?",
		"Component\tNm\tft-lb\nCaliper bolts\t105\t177":         "?", // the two do not agree
		"Item\tTorque\nHub nut\t250 Nm":                         "250 Nm",
		"Item\tNm\nHub nut\t250\n\nWheel nuts\t110":             "250 Nm | 110 Nm",
		"Item\tNm\nHub nut\t250\nStrut:\nRod\t60\t12":           "250 Nm", // no row of that table
	} {
		pastes(t, text, want)
	}
}

// Sentences are one recipe only where the second goes on with the first: a torque by itself may be another joint's, and
// what ends backed off tells how it comes off.
func TestPasteJoinsStages(t *testing.T) {
	for text, want := range map[string]string{
		"Tighten to 100 Nm.\nLoosen 180°.\nTighten to 50 Nm.\nTurn 60°.": "100 Nm; back off 180°; 50 Nm + 60°",
		"Tighten the bolts to 20 Nm. Turn the bolts a further 90°.":      "20 Nm + 90°",
		"Tighten the bolts to 20 Nm. Turn the nuts a further 90°.":       "?",
		"25 Nm\n40 Nm":                                                    "25 Nm | 40 Nm",
		"Stage 1: 25 Nm\nStage 2: 40 Nm":                                  "25 Nm; 40 Nm",
		"Tighten to 25 Nm. Tighten to 40 Nm.":                             "25 Nm | 40 Nm",
		"Tighten to 25 Nm. Then tighten to 40 Nm.":                        "25 Nm; 40 Nm",
		"Strut nut: 25 Nm\nHub nut: then 40 Nm":                           "25 Nm | 40 Nm",
		"Tighten the bolts to 25 Nm. Then to 40 Nm. Loosen the bolts.":    "?",
		"Tighten the bolts to 25 Nm. Loosen the bolts. Tighten to 40 Nm.": "25 Nm; back off full; 40 Nm",
	} {
		pastes(t, text, want)
	}
}

// Words that change a figure are read or asked about, never passed over.
func TestPasteLosesNothing(t *testing.T) {
	for text, want := range map[string]string{
		"60 Nm, 1/2 turn at a time":               "60 Nm", // that is how
		"60 Nm + 90° at a time":                   "?",
		"60 Nm, then a further 45° at a time":     "?",
		"60 Nm; loosen to 0 Nm; 20 Nm":            "60 Nm; back off full; 20 Nm",
		"60 Nm; loosen to 0.5 turn":               "?",
		"35 Nm; loosen to the next hole":          "?",
		"35 Nm back off to align cotter pin":      "?",
		"40 Nm, turn on the nut to the next slot": "40 Nm; next slot",
		"40 Nm, turn on the nut 90°":              "?",
		"upper limit 60 Nm":                       "?",
		"60 Nm, tolerance ±5 Nm":                  "60 ± 5 Nm",
		"60 Nm, tolerance 5 Nm":                   "?",
		"60 Nm turning the hub 2 turns":           "60 Nm",
		"60 Nm turning the nut 2 turns":           "?",
		"60 Nm; if necessary tighten to 80 Nm":    "?",
		"Hub nut: 40 then 60 Nm":                  "?",
		"60 -5 Nm":                                "?",
	} {
		pastes(t, text, want)
	}
}
