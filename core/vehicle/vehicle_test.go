package vehicle

import (
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
	for vin, want := range map[string]string{
		"": "", "11111111111111111": "", " 11111111111111111 ": "", "1111": "bad_vin", "1111111111111111O": "bad_vin", "1111111111111111\xff": "bad_vin",
	} {
		_, err := CheckVIN(vin)
		f := fault.As(err)
		if (f == nil) != (want == "") || (f != nil && f.Code != want) {
			t.Errorf("CheckVIN(%q): %v, want %q", vin, err, want)
		}
	}
	if remark, err := CheckVIN("11111111211111111"); err != nil || remark == "" {
		t.Errorf("a wrong check digit: %q, %v; want a remark and no error", remark, err)
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
