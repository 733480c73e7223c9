package vehicle

import (
	"strings"
	"testing"

	"lugtak/core/fault"
)

// Source: 49 CFR 565.15(c), whose rule makes seventeen ones valid.
func TestCheckDigit(t *testing.T) {
	if d, ok := CheckDigit("11111111111111111"); !ok || d != '1' {
		t.Errorf("seventeen ones: %c %v", d, ok)
	}
	// Changing one character changes the digit unless its weight is zero.
	if d, _ := CheckDigit("11111111111111112"); d == '1' {
		t.Error("a changed last digit kept the check digit")
	}
	if d, _ := CheckDigit("11111111911111111"); d != '1' {
		t.Error("the check digit's own place counts")
	}
}

func TestCheckVIN(t *testing.T) {
	for vin, want := range map[string]fault.Code{
		"": "", "11111111111111111": "", " 11111111111111111 ": "", "1111": "bad_vin", "1111111111111111O": "bad_vin",
		"1111111111111111\xff": "bad_vin",
	} {
		err := CheckVIN(vin)
		f := fault.As(err)
		if (f == nil) != (want == "") || (f != nil && f.Code != want) {
			t.Errorf("CheckVIN(%q): %v, want %q", vin, err, want)
		}
	}
}

// ISO 3779, 49 CFR 565.15(c): the check digit binds in North America only.
func TestInspectVIN(t *testing.T) {
	for _, c := range []struct {
		vin   string
		valid bool
		digit string
		says  string
	}{
		{"11111111111111111", true, "1", ""},
		{"11111111211111111", false, "1", "Place 9 is 2 and would be 1"},
		{"W1111111211111111", true, "", "does not bind here"},
		{"1111111111111111O", false, "", "Place 17 is O"},
		{"111", false, "", "3 characters"},
		{"1111-111111111111", false, "", "Place 5"},
	} {
		v := InspectVIN(c.vin)
		if v.Valid != c.valid || c.digit != "" && v.CheckDigit != c.digit ||
			!strings.Contains(strings.Join(v.Problems, " "), c.says) {
			t.Errorf("%s: %+v", c.vin, v)
		}
	}
}

func TestCorner(t *testing.T) {
	c, err := ParseCorner("fl")
	if err != nil || !c.Left() || c.Axle() != "front" || c.Side() != "left" {
		t.Errorf("fl: %v %v %v %v", c, err, c.Axle(), c.Side())
	}
	if _, err := ParseCorner("LF"); fault.As(err) == nil {
		t.Error("LF was accepted")
	}
}
