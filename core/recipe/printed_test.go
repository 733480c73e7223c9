package recipe

import (
	_ "embed"
	"slices"
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
		read, err := Paste(strings.ReplaceAll(text, `\n`, "\n"), nil)
		if err != nil {
			t.Errorf("%q: %v", text, err)
			continue
		}
		var got []string
		asks := false
		for _, l := range read {
			asks = asks || len(l.Asks) > 0
			if l.Recipe != "" {
				got = append(got, l.Recipe)
			}
		}
		if asks {
			got = []string{"?"}
		}
		if is := strings.Join(got, " | "); is != want {
			t.Errorf("%q reads as %q, want %q", text, is, want)
		}
	}
}

// A table has its units in its head; a second unit says the figure before it again, and what does not fit is asked.
func TestPasteReadsATable(t *testing.T) {
	const dash = "\n| --- | --- | --- | --- |\n"
	for text, want := range map[string][]string{
		"Component\tNm\tft-lb\nCaliper bolts\t105\t77\nHub nut\t250\t184": {"", "105 Nm", "250 Nm"},
		"Component\tft-lb\tNm\nCaliper bolts\t77\t105":                    {"", "77 ft-lb"},
		"| Joint | Thread | Torque (N·m) | Angle (°) |" + dash + "| Arm | M12 | 60 | 90 |\n| Nut | M10 | 25–30 | — |": {
			"", "", "60 Nm + 90°", "25–30 Nm",
		},
		"Joint | 1st Nm | 2nd Nm | 3rd °\nHub | 40 | 80 | 60":   {"", "40 Nm; 80 Nm + 60°"},
		"Fastening   Torque N m   lbf ft\nDamper   1,200   885": {"", "?"},
		"Component\tNm\tft-lb\nCaliper bolts\t105\t177":         {"", "?"}, // the two do not agree
		"Item\tTorque\nHub nut\t250 Nm":                         {"", "250 Nm"},
		"Item\tNm\nHub nut\t250\nStrut:\nRod\t60\t12":           {"", "250 Nm", "", ""}, // no row of that table
	} {
		read, err := Paste(text, nil)
		if err != nil {
			t.Errorf("%q: %v", text, err)
			continue
		}
		var got []string
		for _, l := range read {
			if len(l.Asks) > 0 {
				l.Recipe = "?"
			}
			got = append(got, l.Recipe)
		}
		if !slices.Equal(got, want) {
			t.Errorf("%q reads as %q, want %q", text, got, want)
		}
	}
}

// Sentences are one recipe only where the second goes on with the first: a torque by itself may be another joint's.
func TestPasteJoinsStages(t *testing.T) {
	for text, want := range map[string]string{
		"Tighten to 100 Nm.\nLoosen 180°.\nTighten to 50 Nm.\nTurn 60°.": "100 Nm; back off 180°; 50 Nm + 60°",
		"Tighten the bolts to 20 Nm. Turn the bolts a further 90°.":      "20 Nm + 90°",
		"Tighten the bolts to 20 Nm. Turn the nuts a further 90°.":       "?",
		"25 Nm\n40 Nm":                             "25 Nm | 40 Nm",
		"Stage 1: 25 Nm\nStage 2: 40 Nm":           "25 Nm; 40 Nm",
		"Tighten to 25 Nm. Tighten to 40 Nm.":      "25 Nm | 40 Nm",
		"Tighten to 25 Nm. Then tighten to 40 Nm.": "25 Nm; 40 Nm",
		"Strut nut: 25 Nm\nHub nut: then 40 Nm":    "25 Nm | 40 Nm",
	} {
		read, err := Paste(text, nil)
		if err != nil {
			t.Errorf("%q: %v", text, err)
			continue
		}
		var got []string
		for _, l := range read {
			if len(l.Asks) > 0 {
				got = []string{"?"}
				break
			}
			if l.Recipe != "" {
				got = append(got, l.Recipe)
			}
		}
		if is := strings.Join(got, " | "); is != want {
			t.Errorf("%q reads as %q, want %q", text, is, want)
		}
	}
}
