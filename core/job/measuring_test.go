package job

import (
	"strings"
	"testing"

	"lugtak/core/fault"
	"lugtak/core/inspect"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/record"
)

func runOut(step string) Measure {
	l := inspect.Limit{
		Key:    "rotor-runout",
		Name:   "rotor run-out",
		Unit:   "mm",
		Value:  0.08,
		Gauge:  0.01,
		Source: "common practice",
	}
	m := Measure{Limit: l, Value: 0.03}
	if step != "" {
		m.Step = "raise"
	}
	return m
}

// atMeasure is a job whose first step that is nobody's joint asks for a run-out.
func atMeasure(t *testing.T, anew bool) (*bench, *plan.Step) {
	b := begin(t)
	b.step("crack")
	st := b.s.Plan.Step("raise")
	st.Measures = []string{"rotor-runout"}
	st.Anew = anew
	return b, st
}

// A measurement says in a line where it was taken and whether it was a stand-in's.
func TestLineOfAMeasurement(t *testing.T) {
	m := Measurement{Measured: record.Measured{Name: "run-out", Value: 0.03, Unit: "mm", Says: "Good."}}
	if is := m.Line(); is != "run-out: 0.03 mm. Good." {
		t.Error(is)
	}
	m.Corner, m.Simulated = "FL", true
	if is := m.Line(); is != "FL, run-out: 0.03 mm, simulated. Good." {
		t.Error(is)
	}
}

// A step that says measure is not kept before it is measured, nor over its limit
// without a word; what was measured on the walk-round comes along.
func TestMeasuredAtTheStep(t *testing.T) {
	b, st := atMeasure(t, false)
	b.refused(KeepStep{Step: "raise"}, fault.Missing, "The rotor runout is not measured")
	other := runOut("raise")
	other.Limit.Key = "hub-runout"
	b.refused(other, fault.BadChoice, "Nothing of the kind")
	over := runOut("raise")
	over.Value = 0.2
	b.must(over)
	b.refused(KeepStep{Step: "raise"}, fault.Missing, "beyond the limit")
	b.must(runOut("raise"))
	if m := b.s.MeasuredFor(st, "rotor-runout"); m == nil || m.Value != 0.03 ||
		!strings.Contains(m.Line(), "rotor run-out: 0.03 mm") {
		t.Errorf("%+v", m)
	}
	b.must(KeepStep{Step: "raise"})
}

func TestOverTheLimitWithAWord(t *testing.T) {
	b, _ := atMeasure(t, false)
	over := runOut("raise")
	over.Value = 0.2
	b.must(over)
	b.must(KeepStep{Step: "raise", Note: "turned a hole on, renewed with the next pads"})
}

// What was kept beyond its limit stands before the signature until it is measured inside, or two
// people sign for it; another corner's measure does not help it.
func TestBeyondItsLimitStandsBeforeTheSignature(t *testing.T) {
	b, st := atMeasure(t, false)
	gate := func() *Gate {
		for _, g := range b.s.Gates() {
			if strings.HasPrefix(g.Key, "limit:") {
				return &g
			}
		}
		return nil
	}
	if g := gate(); g != nil {
		t.Errorf("before anything was measured: %+v", g)
	}
	over := runOut("raise")
	over.Value = 0.2
	b.must(over)
	beyond := func() {
		t.Helper()
		g := gate()
		if g == nil || g.Met || !g.Passable || !g.Second || g.Step != st.ID ||
			!strings.Contains(g.Title, "beyond its limit") {
			t.Errorf("%+v", g)
		}
	}
	beyond() // also where its step is passed over
	b.must(KeepStep{Step: "raise", Note: "with the next pads"})
	beyond()
	laxer := over
	laxer.Limit.Value = 0.5
	b.must(laxer)
	beyond()
	laxer.Value = 0.6
	b.must(laxer) // beyond that one too, and then inside it
	laxer.Value = 0.4
	b.must(laxer)
	beyond()
	elsewhere := runOut("")
	elsewhere.Corner = string(st.Corner.Opposite())
	b.must(elsewhere)
	beyond()
	b.must(runOut("raise"))
	if g := gate(); g == nil || !g.Met {
		t.Errorf("measured again, inside: %+v", g)
	}
	b.must(over)
	beyond()
	key := gate().Key
	b.refused(Deviate{Gate: key, Reason: "the owner declines"}, fault.Missing, "second person")
}

func TestTheWalkRoundComesAlong(t *testing.T) {
	for _, anew := range []bool{false, true} {
		b, st := atMeasure(t, anew)
		walked := runOut("")
		walked.Corner = "RR"
		b.must(walked)
		if m := b.s.MeasuredFor(st, "rotor-runout"); m != nil {
			t.Error("another corner's measure counts")
		}
		walked.Corner = string(st.Corner)
		b.must(walked)
		err := fault.As(b.s.Lacks(st))
		if anew == (err == nil) {
			t.Errorf("wanted anew %v: %v", anew, err)
		}
	}
	b, _ := atMeasure(t, false)
	walked := runOut("")
	walked.Corner = "up"
	b.refused(walked, fault.BadChoice, "no corner")
}

// What is held beside a figure of before is judged by the window about the last one at its corner, and refused without.
func TestHeldBesideWhatWasMeasured(t *testing.T) {
	b, st := atMeasure(t, false)
	st.Corner = "FL"
	st.Measures = []string{"mark-height", "mark-met"}
	mark := inspect.Limit{
		Key: "mark-height", Name: "mark", Unit: "mm", Value: 1200, Floor: 200, Noted: true, Gauge: 1,
		Source: "common practice",
	}
	met := inspect.Limit{
		Key: "mark-met", Name: "at the mark", Unit: "mm", Value: 5, Beside: "mark-height", Gauge: 1,
		Source: "common practice",
	}
	b.refused(Measure{Limit: met, Value: 412, Step: "raise"},
		fault.Missing, "mark height it is held beside is not measured")
	b.must(Measure{Limit: mark, Value: 398, Corner: "FR"})
	b.refused(Measure{Limit: met, Value: 398, Step: "raise"}, fault.Missing, "is not measured")
	b.must(Measure{Limit: mark, Value: 412, Corner: "FL"}) // along the walk-round: nobody saw it stand as the step wants
	b.refused(Measure{Limit: met, Value: 412, Step: "raise"}, fault.Missing, "is not measured")
	as := st.Position
	st.Position = plan.Raised
	b.refused(Measure{Limit: mark, Value: 412, Step: "raise"}, fault.Order, "does not stand as this is measured")
	st.Position = as
	b.must(Measure{Limit: mark, Value: 380, Step: "raise"})
	b.must(Measure{Limit: mark, Value: 412, Step: "raise"})
	for value, want := range map[float64]inspect.Verdict{
		412: inspect.OK, 409: inspect.OK, 405: inspect.Under, 419: inspect.Over, 417: inspect.MeasureAgain,
	} {
		b.must(Measure{Limit: met, Value: value, Step: "raise"})
		if m := b.s.MeasuredFor(st, "mark-met"); m.Verdict != string(want) || m.Floor != 407 || m.Limit != 417 {
			t.Errorf("%v: %s of %v to %v", value, m.Verdict, m.Floor, m.Limit)
		}
	}
}

// A play proves its nut at the bench alone, once the nut was pulled to its end, and inside the strictest limit it was
// held against; a limit that leaves no play is none.
func TestPlayIsProvedAtItsStep(t *testing.T) {
	play := func(step string, value, limit float64) Measure {
		l := inspect.Limit{
			Key: "end-play", Name: "end play", Unit: "mm", Value: limit, Floor: 0.03, Gauge: 0.01, Source: "the maker",
		}
		return Measure{Limit: l, Value: value, Step: operation.StepID(step)}
	}
	for name, c := range map[string]struct {
		owed  bool
		takes []Measure
		want  bool
	}{
		"inside":                         {false, []Measure{play("raise", 0.07, 0.13)}, true},
		"over":                           {false, []Measure{play("raise", 0.3, 0.13)}, false},
		"nil":                            {false, []Measure{play("raise", 0, 0.13)}, false},
		"before the nut was pulled":      {true, []Measure{play("raise", 0.07, 0.13)}, false},
		"on the walk-round":              {false, []Measure{play("", 0.07, 0.13)}, false},
		"over, then by a laxer limit":    {false, []Measure{play("raise", 0.3, 0.13), play("raise", 0.3, 0.5)}, false},
		"over, then set and gauged anew": {false, []Measure{play("raise", 0.3, 0.13), play("raise", 0.08, 0.13)}, true},
		"inside, then over":              {false, []Measure{play("raise", 0.08, 0.13), play("raise", 0.3, 0.13)}, false},
	} {
		b, st := atMeasure(t, true)
		st.Measures = []string{"end-play"}
		st.Corner = b.s.Plan.Joints[0].Corner
		played := 0
		for j, f := range b.s.all() {
			if j.Corner == st.Corner {
				j.Play = "end-play"
				played++
				f.Done = f.Stages
				if c.owed {
					f.Done = 0
				}
			}
		}
		if played == 0 {
			t.Fatalf("%s: nothing is proved by play", name)
		}
		for _, m := range c.takes {
			if m.Step == "" {
				m.Corner = string(st.Corner)
			}
			b.must(m)
		}
		for j, f := range b.s.all() {
			if want := c.want && j.Play != ""; f.Gauged != want {
				t.Errorf("%s: %s gauged is %v", name, f.FastenerID, f.Gauged)
			}
		}
		b.refused(play("raise", 0.01, 0.02), fault.OutOfRange, "no play at all")
	}
}
