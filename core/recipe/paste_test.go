package recipe

import (
	"slices"
	"strings"
	"testing"
)

var joints = []string{"knuckle bolts", "caliper bracket bolts", "axle nut", "rotor screw", "wheel nuts"}

// A paragraph as manuals print it (invented): figures go to the joints they are of, and no word is lost.
func TestPaste(t *testing.T) {
	const text = `Fit a new axle nut (4) and tighten to 200 Nm, back off 90°, 120 Nm + 60°. Caliper bracket ` +
		`bolts M12x1.5 10.9: 115 Nm
with locking fluid. Rotor screw: 8 N·m. Wheel nuts 140 Nm + 1/4 and see page 47.`
	lines, err := Paste(text, joints)
	if err != nil {
		t.Fatal(err)
	}
	want := []struct{ joint, recipe, thread, class, asks string }{
		{"axle nut", "200 Nm; back off 90°; 120 Nm + 60°", "", "", ""},
		{"caliper bracket bolts", "115 Nm", "M12x1.5", "10.9", ""},
		{"", "", "", "", ""},
		{"rotor screw", "8 Nm", "", "", ""},
		{"wheel nuts", "", "", "", "1/4"},
	}
	if len(lines) != len(want) {
		t.Fatalf("%d lines: %+v", len(lines), lines)
	}
	for i, w := range want {
		l := lines[i]
		if l.Joint != w.joint || l.Recipe != w.recipe || l.Thread != w.thread || l.Class != w.class {
			t.Errorf("%q: %+v", l.Text, l)
		}
		if asks := strings.Join(l.Asks, " "); (asks != "") != (w.asks != "") || !strings.Contains(asks, w.asks) {
			t.Errorf("%q asks %q, want %q", l.Text, asks, w.asks)
		}
		var all []string
		for _, x := range l.Words {
			all = append(all, x.Text)
		}
		if strings.Join(all, " ") != l.Text {
			t.Errorf("%q lost a word: %q", l.Text, all)
		}
	}
	var words int
	for _, l := range lines {
		words += len(l.Words)
	}
	if words != len(strings.Fields(text)) {
		t.Errorf("%d words of %d", words, len(strings.Fields(text)))
	}
}

// Every word of a line says what it was read as.
func TestPasteAccountsForEveryWord(t *testing.T) {
	for text, want := range map[string]string{
		"Tighten the caliper bracket bolts M12x1.5 10.9 to 55 N.m (41 lb-ft), then turn an additional 90 degrees.": "" +
			"note note joint joint joint thread class note" + strings.Repeat(" recipe", 10),
		"Wheel nuts 120 Nm in a star pattern (new nuts only)": "joint joint recipe recipe recipe recipe sequence sequence " +
			"note note note",
		"Torque (Nm): 60":                          "recipe recipe recipe",
		"Rotor screw | 8 Nm":                       "joint joint recipe recipe recipe",
		"Clean the hub face.":                      "note note note left",
		"Axle nut, M22x1.5: 1st: 40 Nm; 2nd: +90°": "joint joint thread recipe recipe recipe recipe recipe",
	} {
		lines, err := Paste(text, joints)
		if err != nil || len(lines) != 1 {
			t.Fatalf("%q: %+v, %v", text, lines, err)
		}
		var as []string
		for _, w := range lines[0].Words {
			as = append(as, string(w.As))
		}
		if got := strings.Join(as, " "); got != want {
			t.Errorf("%q\n%s, want\n%s (%q)", text, got, want, lines[0].Recipe)
		}
	}
}

// Two figures in a sentence are asked about; what is too long is refused; nothing at all is nothing.
func TestPasteAsks(t *testing.T) {
	lines, err := Paste("Knuckle bolts 60 Nm and axle nut 200 Nm", joints)
	if err != nil || len(lines) != 1 || len(lines[0].Asks) != 1 {
		t.Errorf("%+v, %v", lines, err)
	}
	if _, err := Paste(strings.Repeat("a ", MaxPaste), joints); err == nil {
		t.Error("a book is taken")
	}
	for n, ok := range map[int]bool{maxWords: true, maxWords + 1: false} {
		if _, err := Paste(strings.Repeat("a ", n), joints); (err == nil) != ok {
			t.Errorf("%d words: %v", n, err)
		}
	}
	if lines, err := Paste(" \n\n ", joints); err != nil || len(lines) != 0 {
		t.Errorf("%+v, %v", lines, err)
	}
}

// Whatever is pasted, every word comes back once, in its order.
func FuzzPaste(f *testing.F) {
	for _, s := range []string{"60 Nm. Then 90°", "M8 8.8 25 Nm (6.)", "1/4 turn\nM8x\n+ + +", "٣ Nm . Ä"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, text string) {
		lines, err := Paste(text, joints)
		if err != nil {
			return
		}
		var all []string
		for _, l := range lines {
			for _, w := range l.Words {
				all = append(all, w.Text)
			}
		}
		if strings.Join(all, " ") != strings.Join(strings.Fields(text), " ") {
			t.Fatalf("%q became %q", text, all)
		}
	})
}

// A line that its page broke before any figure goes on in the next; one that has its figure, or ends, does not.
func TestPasteAcrossLines(t *testing.T) {
	for text, want := range map[string][]string{
		"Caliper bracket\nbolts: 115 Nm":                   {"Caliper bracket bolts: 115 Nm"},
		"Tighten the caliper\r\n bracket bolts\nto 115 Nm": {"Tighten the caliper bracket bolts to 115 Nm"},
		"knuckle bolts 60 Nm\naxle nut 200 Nm":             {"knuckle bolts 60 Nm", "axle nut 200 Nm"},
		"Front axle.\nknuckle bolts 60 Nm":                 {"Front axle.", "knuckle bolts 60 Nm"},
		"Front axle:\nknuckle bolts 60 Nm":                 {"Front axle:", "knuckle bolts 60 Nm"},
		"Caliper bracket bolts\n115 Nm":                    {"Caliper bracket bolts", "115 Nm"},
		"Caliper bracket bolts\nAxle nut 200 Nm":           {"Caliper bracket bolts", "Axle nut 200 Nm"},
	} {
		lines, err := Paste(text, joints)
		if err != nil {
			t.Fatal(err)
		}
		var got []string
		for _, l := range lines {
			got = append(got, l.Text)
		}
		if !slices.Equal(got, want) {
			t.Errorf("%q: %q, want %q", text, got, want)
		}
	}
	lines, _ := Paste("Caliper bracket\nbolts: 115 Nm", joints)
	if l := lines[0]; l.Joint != "caliper bracket bolts" || l.Recipe != "115 Nm" {
		t.Errorf("%+v", l)
	}
}
