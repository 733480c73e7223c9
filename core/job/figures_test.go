package job

import (
	"testing"

	"lugtak/core/vehicle"
)

// Who is told again what the sheet says of a treated joint, as after a plan made anew, or that a second person read
// it too, learns nothing that undoes the treatment; another figure does.
func TestTreatmentStandsWhereTheFigureDoes(t *testing.T) {
	const joint = "hub.FL.knuckle"
	read := func(text string, by ...string) Command {
		st := vehicle.Standing{Reading: vehicle.Reading{Recipe: text, Source: "book"}, Readers: by}
		return TakeFigure{Joint: joint, Standing: st, Act: "act"}
	}
	corrected := func(text string) Command {
		return StrikeFigure{Joint: joint, Correction: vehicle.Correction{Recipe: text, Source: "book 2"}, Act: "act"}
	}
	const was = "60 Nm + 90°"
	for name, c := range map[string]struct {
		told     Command
		treated  bool
		recorded bool
	}{
		"read by the same":      {read(was, "Aro"), true, false},
		"read by a second":      {read(was, "Aro", "Cass"), true, true},
		"read otherwise":        {read("70 Nm + 90°", "Aro"), false, true},
		"corrected to the same": {corrected(was), true, false},
		"corrected":             {corrected("70 Nm + 90°"), true, true}, // until somebody answers
	} {
		b := begin(t)
		b.must(read(was, "Aro"))
		b.must(Treat{Joint: joint, Treatment: "oiled", Reason: "as it comes"})
		b.must(Treat{Joint: joint, Treatment: "anti-seize", Reason: "rusts in this harbour"})
		treated, before := b.s.Plan.Joint(joint).Recipe, b.s.Seq
		b.must(c.told)
		if got := b.s.Seq > before; got != c.recorded {
			t.Errorf("%s: recorded %t", name, got)
		}
		_, still := b.s.Treated[joint]
		if j := b.s.Plan.Joint(joint); still != c.treated || (j.Recipe == treated) != c.treated {
			t.Errorf("%s: treated %t at %s", name, still, j.Recipe)
		}
		if f := b.s.Fastener(joint, "A"); f.Owed() && c.treated {
			t.Errorf("%s: owed anew", name)
		}
	}
}
