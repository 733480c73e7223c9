package reckon

import (
	"strings"
	"testing"

	"lugtak/library"
)

// What stands on sheets, tyres and plates, and by what it is read. 45 ft·lb are 61.0 N·m, 1 200 lb are 544.3 kg (NIST
// SP 811); a tyre of 205/55R16 is 16 in + 2 · 0.55 · 205 mm across (ETRTO's marking).
func TestGuess(t *testing.T) {
	lib, err := library.Load("")
	if err != nil {
		t.Fatal(err)
	}
	for text, want := range map[string][2]string{
		"45 ft-lb + 90°":    {"recipe", "61"},
		"60 Nm":             {"convert", "44.25"},
		"1 200 lb":          {"convert", "544.3"},
		"2.4 bar":           {"convert", "240"},
		"12 mm":             {"convert", "0.472"},
		"30 in":             {"convert", "762"},
		"100 km/h":          {"convert", "62.1"},
		"80 °C":             {"convert", "176"},
		"500 N":             {"convert", "112.4"},
		"0.5 l":             {"convert", "500"},
		"205/55R16":         {"tyre", "631.9"},
		"M12x1.5 10.9":      {"twist-off", "N·m"},
		"11111111111111111": {"vin", "yes"},
		"1m8gdm9axkp042788": {"vin", "X"},
		"neither fish":      {"", ""},
		"":                  {"", ""},
		"<b>60":             {"", ""},
	} {
		g, ok := Guess(lib, text)
		var said strings.Builder
		for _, r := range g.Rows {
			said.WriteString(r.Value + " " + r.Also + " " + strings.Join(r.Lines, " ") + " ")
		}
		if ok != (want[0] != "") || g.Calc.Name != want[0] || !strings.Contains(said.String(), want[1]) {
			t.Errorf("%q is read by %q: %s", text, g.Calc.Name, said.String())
		}
	}
}

// Each calculation is asked of one thing in hand, in words of its own.
func TestEveryCalculationIsAsked(t *testing.T) {
	asked := map[string]string{}
	of := map[Thing]int{}
	for _, c := range All() {
		if c.Asks == "" || asked[c.Asks] != "" {
			t.Errorf("%s asks %q, as %s", c.Name, c.Asks, asked[c.Asks])
		}
		asked[c.Asks] = c.Name
		of[c.Of]++
	}
	for _, thing := range Things() {
		if of[thing] == 0 {
			t.Errorf("nothing is asked of %s", thing)
		}
		delete(of, thing)
	}
	if len(of) > 0 {
		t.Errorf("no such things: %v", of)
	}
}
