package recipe

import (
	"math"
	"testing"

	"lugtak/core/fault"
	"lugtak/core/thread"
)

// Worked by hand with VDI 2230's formula for an M12 bolt (P 1.75, d2 10.863, D_Km/2 about
// 7.5 mm): the torque per force at μ 0.17 against μ 0.10 gives the factor; the clamp at the
// middle stays, the same figure greased clamps a quarter to a half harder (common practice).
func TestTreatKeepsTheClamp(t *testing.T) {
	th, err := thread.Parse("M12")
	if err != nil {
		t.Fatal(err)
	}
	cl, err := thread.ParseClass("10.9", th)
	if err != nil {
		t.Fatal(err)
	}
	r, err := Parse("90 Nm + 60°")
	if err != nil {
		t.Fatal(err)
	}
	f := Fastener{Thread: th, Class: cl, Treatment: thread.Dry}
	got, err := Treat(r, f, thread.AntiSeize)
	if err != nil {
		t.Fatal(err)
	}
	dry, _ := thread.Friction(thread.Dry)
	paste, _ := thread.Friction(thread.AntiSeize)
	perForce := func(mu float64) float64 { return 0.16*th.P + mu*(0.58*th.PitchDiameter()+7.5) }
	want := perForce(paste.Mid) / perForce(dry.Mid)
	if math.Abs(got.Factor-want) > 0.02 {
		t.Errorf("factor %.3f, by hand %.3f", got.Factor, want)
	}
	if math.Abs(got.Now.Mid/got.Was.Mid-1) > 0.01 {
		t.Errorf("clamp %.0f N, was %.0f N", got.Now.Mid, got.Was.Mid)
	}
	if harder := got.Same.Mid / got.Was.Mid; harder < 1.25 || harder > 2 {
		t.Errorf("the same figure greased clamps %.2f times as hard", harder)
	}
	if len(got.Recipe.Stages) != 2 || got.Recipe.Stages[1].A != 60 || got.Recipe.String() == r.String() {
		t.Errorf("recipe %s", got.Recipe)
	}
	// A range keeps both its ends.
	between, _ := Parse("90–110 Nm")
	if got, err = Treat(between, f, thread.AntiSeize); err != nil {
		t.Fatal(err)
	}
	if st := got.Recipe.Stages[0]; math.Abs(st.A-90*want) > 0.5 || math.Abs(st.B-110*want) > 0.6 {
		t.Errorf("90–110 N·m becomes %s, factor %.3f", got.Recipe, want)
	}
	for text, code := range map[string]fault.Code{"90 Nm": "bad_choice", "snug": "no_torque"} {
		r, err := Parse(text)
		if err != nil {
			t.Fatal(err)
		}
		to := thread.Dry
		if code == "no_torque" {
			to = thread.Oiled
		}
		if _, err := Treat(r, f, to); fault.As(err) == nil || fault.As(err).Code != code {
			t.Errorf("%s: %v", text, err)
		}
	}
	if _, err := Treat(r, f, thread.Rusted); fault.As(err) == nil || fault.As(err).Code != "bad_choice" {
		t.Errorf("rust is no treatment: %v", err)
	}
	// However it is written: rust stays rust, and what is on the thread is no other treatment.
	for _, to := range []thread.Treatment{"Rusted ", "RUSTED", "dry and clean"} {
		if _, err := Treat(r, f, to); fault.As(err) == nil || fault.As(err).Code != "bad_choice" {
			t.Errorf("%q on a dry thread: %v", to, err)
		}
	}
	// A figure written for paste near the strength of an M6 8.8, now put on dry: 12.8 N·m is
	// where ISO 898-7 has it twist off.
	small := Fastener{Treatment: thread.AntiSeize}
	small.Thread, _ = thread.Parse("M6")
	small.Class, _ = thread.ParseClass("8.8", small.Thread)
	near, _ := Parse("9 Nm")
	if _, err := Treat(near, small, thread.Dry); fault.As(err) == nil || fault.As(err).Code != "too_stiff" {
		t.Errorf("9 N·m on paste, dry: %v", err)
	}
	if _, err := Treat(r, f, "butter"); err == nil {
		t.Error("butter is no treatment")
	}
}
